import { createHash } from 'node:crypto';
import { createReadStream, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { connectDatabase } from '../database/connectDatabase.ts';
import { BackupError, restoreBackup, writeBackup } from './backupFile.ts';
import { checkDigest } from './checkDigest.ts';

const [what, path, ...options] = process.argv.slice(2);
const { DATABASE_URL, KAVRID_VAR } = process.env;
if (!DATABASE_URL || !path || (what !== 'write' && what !== 'restore')) {
  console.error('Use “npm run backup -- FILE” and “npm run restore -- FILE [--digest SHA256 | --unverified]”.');
  process.exit(2);
}

/** Digests of the backups that this copy of Kavrid has written. */
const digestFile = join(KAVRID_VAR ?? 'var', 'backup-digests');
const knownDigests = (): readonly string[] =>
  existsSync(digestFile)
    ? readFileSync(digestFile, 'utf8')
        .split('\n')
        .map((line) => line.split(' ')[0] ?? '')
    : [];

async function digestOf(file: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
}

const source = await connectDatabase(DATABASE_URL);
try {
  if (what === 'write') {
    const rows = await writeBackup(source, path);
    const digest = await digestOf(path);
    writeFileSync(digestFile, `${digest} ${new Date().toISOString()} ${path}\n`, { flag: 'a', mode: 0o600 });
    console.log(`  ${rows} rows written to ${path}\n  sha256 ${digest}`);
  } else {
    checkDigest(await digestOf(path), options, knownDigests());
    console.log(`  ${await restoreBackup(source, DATABASE_URL, path)} rows restored from ${path}; reload open windows`);
  }
} catch (error) {
  console.error(
    `\n${error instanceof BackupError ? error.message : `It failed: ${String(error)}`}\nNothing has been changed.`,
  );
  process.exitCode = 1;
} finally {
  await source.destroy();
}
