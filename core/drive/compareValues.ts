import type { DriveParameter, DriveProfile } from './driveProfile.ts';
import { isInRange, toRaw } from './driveProfile.ts';

/** Raw register values by parameter key. */
export type RawValues = Readonly<Record<string, number>>;

/** What was read from a drive at one time. */
export interface DriveReading {
  /** As last written; differs from `running` where a value waits for a restart. */
  readonly written: RawValues;
  readonly running: RawValues;
  /** Only of parameters whose stored or factory copy can be read. */
  readonly stored: RawValues;
  readonly factory: RawValues;
}

export type ParameterStanding =
  /** Nothing is planned; the drive keeps what it has. */
  | 'not planned'
  /** Planned, running and stored agree. */
  | 'proven'
  | 'differs'
  /** Written as planned, but lost at the next restart. */
  | 'not stored'
  /** Stored as planned, but only a restart brings it into effect. */
  | 'needs restart'
  /** The planned value cannot be keyed in. */
  | 'cannot be written'
  /** Nothing has been read yet. */
  | 'not read';

export interface ParameterComparison {
  readonly parameter: DriveParameter;
  /** Raw; undefined when not planned or not possible. */
  readonly planned?: number | undefined;
  readonly written?: number | undefined;
  readonly running?: number | undefined;
  readonly stored?: number | undefined;
  readonly factory?: number | undefined;
  readonly standing: ParameterStanding;
  readonly because?: string;
}

/** Planned values by parameter key, in the parameter's unit. */
export type PlannedValues = Readonly<Record<string, number>>;

/**
 * Sets planned values beside what was read.
 * @param survived raw values that this device is known to have had after a restart, with nothing written to them since: they
 * prove what is stored where the stored copy cannot be read
 */
export function compareValues(
  profile: DriveProfile,
  planned: PlannedValues,
  reading: DriveReading | undefined,
  survived: RawValues = {},
): readonly ParameterComparison[] {
  return profile.parameters.map((parameter) => {
    const { key } = parameter;
    const read = reading && {
      written: reading.written[key],
      running: reading.running[key],
      stored: reading.stored[key],
      factory: reading.factory[key],
    };
    const value = planned[key];
    if (value === undefined) return { parameter, ...read, standing: 'not planned' };
    const raw = toRaw(parameter, value);
    if ('because' in raw) return { parameter, ...read, standing: 'cannot be written', because: raw.because };
    const comparison = { parameter, planned: raw.raw, ...read };
    if (!read || read.written === undefined) return { ...comparison, standing: 'not read' };
    if (read.written !== raw.raw) return { ...comparison, standing: 'differs' };
    const isStored = (read.stored ?? (read.running === raw.raw ? survived[key] : undefined)) === raw.raw;
    if (!isStored) return { ...comparison, standing: 'not stored' };
    if (read.running !== raw.raw) return { ...comparison, standing: 'needs restart' };
    return { ...comparison, standing: 'proven' };
  });
}

/** A parameter whose value lies outside its own range: the word order or the map is wrong, and nothing may be written by it. */
export const outOfRange = (profile: DriveProfile, { written, running }: DriveReading): DriveParameter | undefined =>
  profile.parameters.find((parameter) =>
    [written[parameter.key], running[parameter.key]].some((raw) => raw !== undefined && !isInRange(parameter, raw)),
  );

/** The parameters to write: planned, possible, and not yet written. */
export const differences = (comparisons: readonly ParameterComparison[]): readonly ParameterComparison[] =>
  comparisons.filter((each) => each.standing === 'differs');
