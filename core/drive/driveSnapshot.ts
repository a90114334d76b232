import type { DriveReading, RawValues } from './compareValues.ts';
import type { DriveParameter } from './driveProfile.ts';

/** All values of a drive as they were read at one time, kept under a name. */
export interface DriveSnapshot {
  readonly name: string;
  /** ISO */
  readonly takenAt: string;
  /** Mark of the device's identity. */
  readonly identity: string;
  /** Name of the register map it was read by. */
  readonly map: string;
  readonly reading: DriveReading;
}

/** What a drive would be given by a snapshot: the values that were to be in effect after the next restart. */
export const valuesOf = ({ reading }: Pick<DriveSnapshot, 'reading'>): RawValues => ({
  ...reading.running,
  ...reading.written,
});

const ownRoles: readonly string[] = ['rotationSense', 'homeOffset', 'signalOffset', 'rawOffset'];
/** CiA 402: home offset, polarity; CiA 301 has no object for the station address. */
const ownObjects: readonly string[] = ['0x607C', '0x607E'];
const ownWords = /\b(address|station|commutation|absolute|trim|baud|serial)\b/i;

/**
 * Whether a value belongs to one drive with its motor and its place, and is not copied to a second one: communication address,
 * sense, home and absolute offsets, commutation, trims of the analog input. Told by role and object; where a map gives neither,
 * by the words of its label.
 */
export const belongsToOneDrive = ({ role, object, label }: DriveParameter): boolean =>
  (role !== undefined && ownRoles.includes(role)) ||
  (object !== undefined && ownObjects.includes(object.slice(0, 6))) ||
  (role === undefined && ownWords.test(label));

/** What a second drive of the kind is given. */
export const valuesForClone = (parameters: readonly DriveParameter[], values: RawValues): RawValues => {
  const kept = new Set(parameters.filter(belongsToOneDrive).map(({ key }) => key));
  return Object.fromEntries(Object.entries(values).filter(([key]) => !kept.has(key)));
};

/** Where values of a snapshot would go. */
export interface CloneTarget {
  readonly memberId: string;
  /** Mark of the device that is connected. */
  readonly identity: string;
  readonly map: string;
}

/** What a drive may be given by a snapshot; or why nothing. Of another axis, only what does not belong to its drive alone. */
export function valuesToWrite(
  snapshot: Pick<DriveSnapshot, 'identity' | 'map' | 'reading'> & { readonly memberId: string },
  parameters: readonly DriveParameter[],
  to: CloneTarget,
): { readonly values: RawValues; readonly isClone: boolean } | { readonly because: string } {
  const kindOf = (mark: string) => mark.slice(0, mark.indexOf(':'));
  if (kindOf(snapshot.identity) !== kindOf(to.identity)) return { because: 'It is of another kind of drive.' };
  const isClone = snapshot.memberId !== to.memberId;
  if (isClone && snapshot.map !== to.map) return { because: `It was read by another register map, ${snapshot.map}.` };
  const values = valuesOf(snapshot);
  return { isClone, values: isClone ? valuesForClone(parameters, values) : values };
}
