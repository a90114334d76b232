import { connectDatabase } from '../database/connectDatabase.ts';
import { BackupError, restoreBackup, writeBackup } from './backupFile.ts';

const [what, path] = process.argv.slice(2);
const { DATABASE_URL } = process.env;
if (!DATABASE_URL || !path || (what !== 'write' && what !== 'restore')) {
  console.error('Use “npm run backup -- FILE” and “npm run restore -- FILE”.');
  process.exit(2);
}
const source = await connectDatabase(DATABASE_URL);
try {
  const rows = what === 'write' ? await writeBackup(source, path) : await restoreBackup(source, path);
  console.log(
    what === 'write'
      ? `  ${rows} rows written to ${path}`
      : `  ${rows} rows restored from ${path}; reload open windows`,
  );
} catch (error) {
  console.error(
    `\n${error instanceof BackupError ? error.message : `It failed: ${String(error)}`}\nNothing has been changed.`,
  );
  process.exitCode = 1;
} finally {
  await source.destroy();
}
