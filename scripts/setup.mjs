// Installs what is missing, with nothing but Node's own modules: Debian's database server (and Chromium for tests) and the npm packages.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { accessSync, constants, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
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

/** Says plainly what failed and what to do, and ends. */
export function giveUp(what, remedy) {
  console.error(`\nKavrid cannot go on: ${what}\nWhat to do: ${remedy}`);
  process.exit(1);
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
  if (forTests && !findProgram('chromium')) missing.push('chromium');
  if (missing.length > 0) installPackages(missing);
  installNpmPackages();
  mkdirSync(varFolder, { recursive: true });
}
