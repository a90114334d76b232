import { brokenText, brokenTextWords } from '../brokenText.ts';
import { canonicalJson, machineFileSchema, type MachineFile } from './machineFile.ts';
import { upgradeFile } from './upgradeFile.ts';

export type FileReading =
  | { readonly kind: 'file'; readonly file: MachineFile }
  | { readonly kind: 'refused'; readonly problems: readonly { readonly pointer: string; readonly detail: string }[] };

const refused = (detail: string, pointer = ''): FileReading => ({ kind: 'refused', problems: [{ pointer, detail }] });

/**
 * Reads the JSON of a machine file of any known version. A file that is wrong gets the list of what is wrong, with places.
 * @param sha256 hexadecimal digest of a text
 */
export function readMachineFile(bytes: Uint8Array, sha256: (text: string) => string): FileReading {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return refused('The file is not in UTF-8.');
  }
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return refused(
      `The file is not JSON: ${error instanceof Error ? error.message.slice(0, 200) : 'it cannot be read'}.`,
    );
  }
  const broken = brokenText(value);
  if (broken !== undefined) return refused(brokenTextWords, broken);
  const upgrade = upgradeFile(value);
  if (upgrade.kind === 'refused') return refused(upgrade.because, '/formatVersion');
  const { sha256: claimed, ...rest } = value as { readonly sha256?: unknown };
  if (claimed !== undefined && claimed !== sha256(canonicalJson(rest)))
    return refused(
      'The contents are not those that were exported: the file is damaged, or was edited. If you edited it yourself, remove its line “sha256”.',
      '/sha256',
    );
  const parsed = machineFileSchema.safeParse(upgrade.file);
  if (parsed.success) return { kind: 'file', file: parsed.data };
  return {
    kind: 'refused',
    problems: parsed.error.issues
      .slice(0, 100)
      .map((issue) => ({ pointer: `/${issue.path.join('/')}`, detail: issue.message })),
  };
}
