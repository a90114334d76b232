import {
  isFields,
  upgradeAxis1,
  upgradeAxis2,
  upgradeAxis3,
  upgradeEntry2,
  upgradeEntry4,
  upgradeEntry5,
  upgradeEntry8,
  upgradeMachine1,
  upgradeMember4,
  upgradeMember5,
  upgradeMember6,
  upgradeMember7,
  upgradeMember10,
  upgradeMember11,
  upgradeMember12,
  upgradeMember9,
  type Fields,
} from '../upgrades.ts';
import { fileVersion } from './machineFile.ts';

export type Upgrade =
  { readonly kind: 'current'; readonly file: unknown } | { readonly kind: 'refused'; readonly because: string };

/** An axis in a file, with the states it had at its saves. */
const upgradeKeptAxis = (axis: unknown, upgrade: (document: unknown) => unknown): unknown =>
  isFields(axis)
    ? {
        ...axis,
        document: upgrade(axis.document),
        ...(Array.isArray(axis.revisions)
          ? {
              revisions: axis.revisions.map((each) =>
                isFields(each) ? { ...each, document: upgrade(each.document) } : each,
              ),
            }
          : {}),
      }
    : axis;

/** Its checksum was that of the file as it stood, and is checked before. */
const upgradedTo =
  (formatVersion: number, upgradeMember: (document: unknown) => unknown, upgradeEntry?: (item: unknown) => unknown) =>
  ({ sha256: _, ...file }: Fields): Fields => ({
    ...file,
    formatVersion,
    axes: Array.isArray(file.axes) ? file.axes.map((axis) => upgradeKeptAxis(axis, upgradeMember)) : file.axes,
    ...(upgradeEntry && Array.isArray(file.library)
      ? { library: file.library.map((each) => (isFields(each) ? { ...each, item: upgradeEntry(each.item) } : each)) }
      : {}),
  });

/** Up to format version 11 a run had neither a name nor notes. */
const withNamedRuns = (axes: unknown): unknown =>
  Array.isArray(axes)
    ? axes.map((axis: unknown) =>
        isFields(axis) && Array.isArray(axis.runs)
          ? { ...axis, runs: axis.runs.map((run: unknown) => (isFields(run) ? { name: '', notes: '', ...run } : run)) }
          : axis,
      )
    : axes;

/** What turns a file of a version into the next one. */
const steps: Readonly<Record<number, (file: Fields) => Fields>> = {
  1: (file) => ({
    ...file,
    formatVersion: 2,
    machine: { document: upgradeMachine1(file.machine) },
    axes: Array.isArray(file.axes) ? file.axes.map((axis) => ({ document: upgradeAxis1(axis) })) : file.axes,
  }),
  2: upgradedTo(3, upgradeAxis2, upgradeEntry2),
  3: upgradedTo(4, upgradeAxis3),
  4: upgradedTo(5, upgradeMember4, upgradeEntry4),
  5: upgradedTo(6, upgradeMember5, upgradeEntry5),
  6: upgradedTo(7, upgradeMember6),
  7: upgradedTo(8, upgradeMember7),
  8: upgradedTo(9, (member) => member, upgradeEntry8),
  9: upgradedTo(10, upgradeMember9),
  10: upgradedTo(11, upgradeMember10),
  11: (file) => upgradedTo(12, upgradeMember11)({ ...file, axes: withNamedRuns(file.axes) }),
  12: upgradedTo(13, upgradeMember12),
  13: upgradedTo(14, (member) => member),
};

/** Brings a file of an older version to the present one; refuses other files and versions that are not known yet. */
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
