import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createReadStream, createWriteStream, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { setTimeout as pause } from 'node:timers/promises';
import { axesAmong, machineFileSchema, type AxisRecord, type ImportState } from '../../contract/index.ts';
import { axisChannels, packSamples, type Channel } from '../../contract/trace/index.ts';
import { connectDatabase } from '../../server/database/connectDatabase.ts';
import { Store } from '../../server/database/store.ts';

// The server under load, as a process of its own on a database of its own: rows of the benchmark's table.

const root = join(import.meta.dirname, '..', '..');
const folder = join(root, 'var', 'benchmark-api');
rmSync(folder, { recursive: true, force: true });
process.env.KAVRID_VAR = folder;
const { freePort, privateDatabase } = (await import(join(root, 'scripts/database.mjs'))) as {
  freePort: () => Promise<number>;
  privateDatabase: (port: number) => Promise<{
    readonly url: string;
    readonly start: () => ReturnType<typeof spawn>;
    readonly ready: (child: ReturnType<typeof spawn>) => Promise<void>;
  }>;
};
const database = await privateDatabase(await freePort());
const databaseProcess = database.start();
process.on('exit', () => databaseProcess.kill());
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(1));
await database.ready(databaseProcess);
const port = await freePort();
const sockets = mkdtempSync(join(tmpdir(), 'kavrid-benchmark-'));
async function run(file: string) {
  const child = spawn(process.execPath, ['--import', 'tsx', file], {
    cwd: root,
    env: {
      ...process.env,
      DATABASE_URL: database.url,
      PORT: String(port),
      PUBLIC_SOCKET: join(sockets, 'data'),
      INTERNAL_SOCKET: join(sockets, 'internal'),
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  process.on('exit', () => child.kill());
  for await (const chunk of child.stdout) if (String(chunk).includes('listening')) break;
  child.stdout.resume();
  return child;
}
const front = await run('server/main.ts');
const server = await run('server/dataMain.ts');

const agent = new Agent({ keepAlive: true, maxSockets: 64 });
function ask(
  method: string,
  path: string,
  body?: unknown,
): Promise<{ readonly status: number; readonly text: string }> {
  return new Promise((resolve, reject) => {
    const json = body === undefined ? undefined : JSON.stringify(body);
    const sent = request(
      {
        agent,
        method,
        port,
        host: '127.0.0.1',
        path: `/api${path}`,
        headers: json ? { 'content-type': 'application/json', 'content-length': Buffer.byteLength(json) } : {},
      },
      (answer) => {
        let text = '';
        answer.setEncoding('utf8').on('data', (chunk: string) => (text += chunk));
        answer.on('end', () => resolve({ status: answer.statusCode ?? 0, text }));
      },
    );
    sent.on('error', reject);
    sent.end(json);
  });
}
const row = (what: string, budget: string, got: string) => console.log(`| ${what} | ${budget} | ${got} |`);
const memory = () => Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))?.[1] ?? 0) / 1000;

const demo = machineFileSchema.parse(JSON.parse(readFileSync(join(root, 'demo/tile-glazing-cell.json'), 'utf8')));
const [axis] = axesAmong(demo.axes);
if (!axis) throw new Error('the demo has no axis');
const source = await connectDatabase(database.url);
const many = 10_000;
for (let from = 0; from < many; from += 500) {
  const numbers = Array.from({ length: 500 }, (_, k) => from + k);
  const at = (k: number) => new Date(Date.UTC(2026, 0, 1) + k * 60_000);
  const machine = (k: number) =>
    JSON.stringify({ name: `Machine ${k}`, notes: `in hall ${k % 40}`, tags: [`hall-${k % 40}`], archived: false });
  await source.query('INSERT INTO machine (id, name, archived, search, document, version, updated_at) VALUES ?', [
    numbers.map((k) => [`m${k}`, `Machine ${k}`, 0, `machine ${k}\ncarriage\nin hall ${k % 40}`, machine(k), 1, at(k)]),
  ]);
  await source.query('INSERT INTO machine_tag (tag, machine_id) VALUES ?', [
    numbers.map((k) => [`hall-${k % 40}`, `m${k}`]),
  ]);
  const document = JSON.stringify(axis);
  await source.query(
    'INSERT INTO axis (id, machine_id, position, name, removed, document, version, updated_at) VALUES ?',
    [numbers.map((k) => [`a${k}`, `m${k}`, 0, axis.name, 0, document, 1, at(k)])],
  );
  await source.query('INSERT INTO revision (subject_id, version, saved_at, author, summary, name, document) VALUES ?', [
    numbers.map((k) => [`a${k}`, 1, at(k), '', 'made', '', document]),
  ]);
}

const versions = new Map<string, number>();
/** Every save changes something: no axis has so high a jog speed to begin with. */
let saved = 1000;
/** Asks at a steady rate, whether answers are quick or not, so that a stall is seen by all that wait behind it. */
async function load(
  seconds: number,
  rate: number,
): Promise<{ readonly reads: number[]; readonly saves: number[]; readonly failed: number }> {
  const [reads, saves]: [number[], number[]] = [[], []];
  let failed = 0;
  const pending: Promise<void>[] = [];
  const began = performance.now();
  for (let k = 0; k < seconds * rate; k++) {
    const due = began + (k * 1000) / rate;
    const wait = due - performance.now();
    if (wait > 0) await pause(wait);
    const id = (k * 7919) % many;
    const isSave = k % 10 === 0;
    const version = versions.get(`a${id}`) ?? 1;
    const paths = [
      `/machines?page=${k % 100}`,
      `/machines/m${id}`,
      `/axes/a${id}`,
      `/machines?search=hall%20${k % 40}&sort=name&order=ascending`,
      `/axes/a${id}/revisions`,
    ];
    const asked = isSave
      ? ask('PUT', `/axes/a${id}`, { version, author: 'b', document: { ...axis, jogSpeed: ++saved } })
      : ask('GET', paths[k % paths.length] ?? '/health');
    if (isSave) versions.set(`a${id}`, version + 1);
    pending.push(
      asked.then(({ status }) => {
        if (status !== 200) failed++;
        (isSave ? saves : reads).push(performance.now() - due);
      }),
    );
  }
  await Promise.all(pending);
  return { reads, saves, failed };
}
const percentile = (values: readonly number[], share: number) =>
  [...values].sort((a, b) => a - b)[Math.floor(share * values.length)] ?? NaN;
await load(5, 200);
for (const [rate, budget] of [
  [200, 15],
  [600, 50],
] as const) {
  const { reads, saves, failed } = await load(20, rate);
  const both = [...reads, ...saves];
  row(
    `API, ${many} machines, ${rate} requests/s, 90 % reads, saves durable`,
    `p99 ${budget} ms`,
    `p99 ${percentile(both, 0.99).toFixed(0)} ms (median ${percentile(both, 0.5).toFixed(1)} ms; saves median ${percentile(saves, 0.5).toFixed(1)} ms; ${failed} failed)`,
  );
}

// A machine of 200 MB, most of it traces.
const record = JSON.parse((await ask('GET', '/axes/a0')).text) as AxisRecord;
const count = 200_000;
const channels = Object.entries(axisChannels).map(([id, { label, unit }]): Channel => ({
  id,
  label,
  unit: unit.replace('{u}', 'mm'),
  scale: 0.001,
  format: 'int32',
}));
const wave = Int32Array.from({ length: count }, (_, k) => Math.round(1e6 * Math.sin(k / 700)));
const trace = {
  header: { period: 0.001, count, channels },
  samples: packSamples(
    channels,
    channels.map(() => wave),
  ),
};
const runs = Math.ceil(200e6 / trace.samples.length);
const store = new Store(source);
for (let k = 0; k < runs; k++)
  await store.runs.add(
    {
      memberId: record.id,
      kind: 'test move',
      end: 'finished',
      because: '',
      startedAt: new Date(),
      seconds: 200,
      axisVersion: record.version,
    },
    trace,
  );
const before = memory();
const path = join(folder, 'big.zip');
let began = performance.now();
const answer = await new Promise<NodeJS.ReadableStream>((resolve, reject) =>
  request({ port, host: '127.0.0.1', path: '/api/machines/m0/export?runs=1&revisions=1' }, resolve)
    .on('error', reject)
    .end(),
);
await pipeline(answer, createWriteStream(path));
const size = (runs * trace.samples.length) / 1e6;
row(
  `export of a machine of ${size.toFixed(0)} MB (${(statSync(path).size / 1e6).toFixed(0)} MB packed)`,
  'bounded memory',
  `${((performance.now() - began) / 1000).toFixed(1)} s; server at most ${memory().toFixed(0)} MB (${before.toFixed(0)} MB before)`,
);

began = performance.now();
const started = await new Promise<ImportState>((resolve, reject) => {
  const sent = request(
    {
      method: 'POST',
      port,
      host: '127.0.0.1',
      path: '/api/imports',
      headers: { 'content-type': 'application/octet-stream' },
    },
    (reply) => {
      let text = '';
      reply.on('data', (chunk) => (text += String(chunk)));
      reply.on('end', () => resolve(JSON.parse(text) as ImportState));
    },
  );
  sent.on('error', reject);
  createReadStream(path).pipe(sent);
});
const settled = async () => {
  for (;;) {
    const state = JSON.parse((await ask('GET', `/imports/${started.id}`)).text) as ImportState;
    if (state.phase !== 'reading' && state.phase !== 'taking in') return state;
    await pause(50);
  }
};
const ready = await settled();
const checkedIn = (performance.now() - began) / 1000;
await ask('POST', `/imports/${started.id}/take`, { author: 'b', how: 'keep both' });
const taken = await settled();
row(
  `import of the same: check every number, take in`,
  'bounded memory',
  `${checkedIn.toFixed(1)} s + ${((performance.now() - began) / 1000 - checkedIn).toFixed(1)} s; server at most ${memory().toFixed(0)} MB; ${ready.phase}, ${taken.phase}`,
);

await source.destroy();
for (const child of [front, server, databaseProcess]) {
  const gone = once(child, 'exit');
  child.kill('SIGTERM');
  await gone;
}
process.exit(0);
