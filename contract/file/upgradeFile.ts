import { fileVersion } from './machineFile.ts';

type Fields = Readonly<Record<string, unknown>>;
const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

export type Upgrade =
  { readonly kind: 'current'; readonly file: unknown } | { readonly kind: 'refused'; readonly because: string };

/** An axis of format version 1 knew nothing of library entries. */
export const upgradeAxis1 = (axis: unknown): unknown => {
  if (!isFields(axis)) return axis;
  const withOrigin = (part: unknown) => (isFields(part) ? { ...part, entry: null } : part);
  const { motor, drive, controller } = axis;
  return { ...axis, motor: withOrigin(motor), drive: withOrigin(drive), controller: withOrigin(controller) };
};

/** A machine of format version 1 had neither tags nor an archive. */
export const upgradeMachine1 = (machine: unknown): unknown =>
  isFields(machine) ? { ...machine, tags: [], archived: false } : machine;

/** What turns a file of a version into the next one. */
const steps: Readonly<Record<number, (file: Fields) => Fields>> = {
  1: (file) => ({
    ...file,
    formatVersion: 2,
    machine: { document: upgradeMachine1(file.machine) },
    axes: Array.isArray(file.axes) ? file.axes.map((axis) => ({ document: upgradeAxis1(axis) })) : file.axes,
  }),
};

/** Brings a file of an older version to the present one; refuses what is no machine file and versions not known yet. */
export function upgradeFile(value: unknown): Upgrade {
  if (!isFields(value) || value.format !== 'kavrid machine')
    return { kind: 'refused', because: 'This is not a machine file: its “format” should say “kavrid machine”.' };
  let file: Fields = value;
  const { formatVersion } = value;
  if (typeof formatVersion !== 'number' || !Number.isInteger(formatVersion) || formatVersion < 1)
    return { kind: 'refused', because: `Its “formatVersion” should be a whole number from 1 to ${fileVersion}.` };
  if (formatVersion > fileVersion)
    return {
      kind: 'refused',
      because: `The file is of format version ${formatVersion}; this Kavrid knows versions 1 to ${fileVersion}. Open it with a newer Kavrid, or export it there for this one.`,
    };
  for (let version = formatVersion; version < fileVersion; version++) file = steps[version]?.(file) ?? file;
  return { kind: 'current', file };
}
