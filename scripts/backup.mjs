// `npm run backup -- FILE` and `npm run restore -- FILE`: the whole database to one file and back, whether the app runs or not.
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { freePort, privateDatabase } from './database.mjs';
import { endLeftovers, runningState, runTypeScript } from './processes.mjs';
import { giveUp, main, setUp, varFolder } from './setup.mjs';

const [what, ...words] = process.argv.slice(2);
const given = words.find((word, k) => !word.startsWith('--') && words[k - 1] !== '--digest');
const options = words.filter((word) => word !== given);
let own;

await main(
  async () => {
    const day = new Date().toISOString().slice(0, 19).replace(/:/g, '-');
    if (what === 'restore' && !given) giveUp('no file was named', 'npm run restore -- FILE');
    const file = resolve(given ?? join(varFolder, `backup-${day}.gz`));
    if (what === 'restore' && !existsSync(file))
      giveUp(`there is no file ${file}`, 'name the file that “npm run backup” wrote');
    setUp();

    let url = process.env.DATABASE_URL;
    if (!url) {
      const running = runningState();
      if (!running) await endLeftovers();
      const database = await privateDatabase(running?.databasePort ?? (await freePort()));
      url = database.url;
      if (!running) {
        own = database.start();
        await database.ready(own);
      }
    }
    const code = await new Promise((done) =>
      runTypeScript('server/backup/main.ts', { DATABASE_URL: url, KAVRID_VAR: varFolder }, 'inherit', [
        what,
        file,
        ...options,
      ]).on('exit', done),
    );
    if (own) {
      const gone = new Promise((done) => own.once('exit', done));
      own.kill('SIGTERM');
      await gone;
    }
    process.exit(code ?? 1);
  },
  () => own?.kill('SIGTERM'),
);
