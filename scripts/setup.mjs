// Installs what is missing, with nothing but Node's own modules: Debian's database server (and Chromium for tests) and the npm packages.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { accessSync, constants, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { delimiter, join, resolve } from 'node:path';

export const root = join(import.meta.dirname, '..');
export const varFolder = process.env.KAVRID_VAR ? resolve(process.env.KAVRID_VAR) : join(root, 'var');

/** @returns the full path of a program, or undefined. */
export function findProgram(name) {
  for (const folder of [...(process.env.PATH ?? '').split(delimiter), '/usr/sbin', '/usr/local/sbin', '/usr/bin']) {
    const path = join(folder, name);
    try {
      accessSync(path, constants.X_OK);
      return path;
    } catch {
      continue;
    }
  }
  return undefined;
}

export function say(text) {
  console.log(`  ${text}`);
}

/** Something that Kavrid cannot go on with, and what to do about it. */
export class GivenUp extends Error {
  constructor(what, remedy) {
    super(what);
    this.remedy = remedy;
  }
}

/** Ends what was begun, by an error that {@link main} tells in a sentence. */
export function giveUp(what, remedy) {
  throw new GivenUp(what, remedy);
}

/** Runs a script; what it gives up for is told plainly, and what it has started ends with it. */
export async function main(work, end = () => undefined) {
  try {
    await work();
  } catch (error) {
    console.error(`\nKavrid cannot go on: ${error.message}`);
    if (error instanceof GivenUp) console.error(`What to do: ${error.remedy}`);
    await end();
    process.exit(1);
  }
}

/** A port from the settings. */
export function portOf(name, standard) {
  const text = process.env[name] || String(standard);
  const port = Number(text);
  if (!/^\d+$/.test(text) || port < 1 || port > 65535)
    giveUp(`${name} is “${text}”`, `choose a whole number from 1 to 65535, such as ${name}=${standard}`);
  return port;
}

/** What a JSON file keeps; undefined when it is not there, or was cut off while it was written. */
export function readJson(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return undefined;
  }
}

/** Makes a folder that can be written in. */
export function writableFolder(folder, options = {}) {
  try {
    mkdirSync(folder, { recursive: true, ...options });
    const probe = join(folder, `.probe-${process.pid}`);
    writeFileSync(probe, '');
    rmSync(probe);
  } catch (error) {
    giveUp(
      `the folder ${folder} cannot be written (${error.code ?? error.message})`,
      'make it writable, or choose another one: KAVRID_VAR=FOLDER npm start',
    );
  }
}

/** What the bench's serial line needs: without it there is none, and everything else works. */
function installSocat() {
  if (findProgram('socat')) return;
  const asRoot = process.getuid?.() === 0;
  if (!asRoot || !findProgram('apt-get')) return;
  say('Installing socat from Debian’s packages, for the serial line of the bench (this happens once) …');
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const install = () =>
    spawnSync('apt-get', ['install', '-y', '--no-install-recommends', 'socat'], { env: environment, stdio: 'ignore' });
  if (install().status === 0) return;
  spawnSync('apt-get', ['update'], { env: environment, stdio: 'ignore' });
  if (install().status !== 0)
    say('socat could not be installed: the bench has no serial line (apt-get install socat).');
}

function installPackages(packages) {
  const asRoot = process.getuid?.() === 0;
  const sudo = asRoot ? undefined : findProgram('sudo');
  const byHand = `install them by hand: apt-get install ${packages.join(' ')}`;
  if (!findProgram('apt-get'))
    giveUp(
      `${packages.join(', ')} missing, and this is not a Debian system`,
      'install MariaDB server (and Chromium for tests) with your own package manager',
    );
  if (!asRoot && !sudo) giveUp(`${packages.join(', ')} missing, and neither root nor sudo is at hand`, byHand);
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...words) => {
    const [program, ...rest] = sudo
      ? [sudo, 'DEBIAN_FRONTEND=noninteractive', 'apt-get', ...words]
      : ['apt-get', ...words];
    return spawnSync(program, rest, { env: environment, encoding: 'utf8', stdio: ['inherit', 'pipe', 'pipe'] });
  };
  say(`Installing ${packages.join(', ')} from Debian’s packages (this happens once) …`);
  let result = apt('install', '-y', '--no-install-recommends', ...packages);
  if (result.status !== 0) {
    apt('update');
    result = apt('install', '-y', '--no-install-recommends', ...packages);
  }
  if (result.status !== 0)
    giveUp(
      `apt-get could not install ${packages.join(', ')}:\n${result.stderr.trim().split('\n').slice(-3).join('\n')}`,
      byHand,
    );
}

function installNpmPackages() {
  const lock = readFileSync(join(root, 'package-lock.json'));
  const mark = join(root, 'node_modules', '.kavrid-installed');
  const wanted = createHash('sha256').update(lock).digest('hex');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === wanted) return;
  say('Installing npm packages (npm ci) …');
  const result = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  if (result.status !== 0)
    giveUp(
      `npm ci failed:\n${(result.stderr || result.stdout).trim().split('\n').slice(-5).join('\n')}`,
      'check the network and the npm registry, then start again',
    );
  writeFileSync(mark, wanted);
}

/** Everything needed to start; with `forTests` also a browser. */
export function setUp({ forTests = false } = {}) {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 11))
    giveUp(`Node.js ${process.versions.node} is too old`, 'install Node.js 20.19 or newer');
  const missing = [];
  if (!process.env.DATABASE_URL) {
    if (!findProgram('mariadbd')) missing.push('mariadb-server-core');
    // mariadb-install-db calls my_print_defaults, which Debian ships with the client.
    if (!findProgram('my_print_defaults')) missing.push('mariadb-client-core');
  }
  if (forTests && !findProgram('chromium-headless-shell')) missing.push('chromium-headless-shell');
  if (forTests && !findProgram('socat')) missing.push('socat');
  if (missing.length > 0) installPackages(missing);
  installSocat();
  installNpmPackages();
  writableFolder(varFolder);
}
