import { BackupError } from './backupFile.ts';

/**
 * Whether a backup may be restored: this copy of Kavrid wrote it, its digest is named, or it is taken as it is on purpose.
 *
 * @param digest SHA-256 of the file, in lower-case hex
 * @param options words after the file: `--digest SHA256` or `--unverified`
 * @param known digests of the backups that this copy of Kavrid has written
 * @throws BackupError for a file that may not be the one that was written
 */
export function checkDigest(digest: string, options: readonly string[], known: readonly string[]): void {
  if (options.includes('--unverified')) return;
  const at = options.indexOf('--digest');
  if (at < 0) {
    if (known.includes(digest)) return;
    throw new BackupError(
      'This copy of Kavrid did not write that backup. Name its digest, which was printed when it was written: --digest SHA256; or take it as it is: --unverified.',
    );
  }
  const named = options[at + 1];
  if (named === undefined)
    throw new BackupError('No digest follows --digest. Name the one that was printed when the backup was written.');
  if (named.toLowerCase() !== digest)
    throw new BackupError(`The backup is another one, or has been changed: its digest is ${digest}.`);
}
