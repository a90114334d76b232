import { expect, it } from 'vitest';
import { BackupError } from './backupFile.ts';
import { checkDigest } from './checkDigest.ts';

// SHA-256 of "abc" and of nothing (FIPS 180-2, appendix B.1; the second is widely published, from memory).
const written = 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad';
const other = 'e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855';

it.each<[string, readonly string[], readonly string[]]>([
  ['a backup that this copy wrote', [], [other, written]],
  ['a backup whose digest is named', ['--digest', written], []],
  ['a digest in capitals', ['--digest', written.toUpperCase()], []],
  ['a backup taken as it is', ['--unverified'], []],
])('restores %s', (_, options, known) => {
  expect(() => checkDigest(written, options, known)).not.toThrow();
});

it.each<[string, readonly string[], readonly string[], RegExp]>([
  ['an unknown backup', [], [other], /did not write that backup/],
  ['another digest, even of a backup that this copy wrote', ['--digest', other], [written], new RegExp(written)],
  ['a missing digest', ['--digest'], [written], /No digest follows/],
])('refuses %s', (_, options, known, why) => {
  expect(() => checkDigest(written, options, known)).toThrow(BackupError);
  expect(() => checkDigest(written, options, known)).toThrow(why);
});
