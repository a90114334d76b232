import type { LiveChannel, LiveReadings } from '@kavrid/contract';
import type { DriveRegister } from '@kavrid/core/drive';
import type { SessionState } from '@kavrid/core/procedure';

/** What a reading is worked out from: a register in its unit, and the axis units of a count. */
interface Source {
  readonly scaled: (register: string) => number | undefined;
  readonly counts: (register: string) => number | undefined;
  readonly sign: 1 | -1;
}

interface Reading extends LiveChannel {
  readonly of: (source: Source) => number | undefined;
}

/** Readings that every drive of a kind of member may have, by what its map calls the register. */
const readings: Readonly<Record<'axis' | 'spindle', readonly Reading[]>> = {
  axis: [
    { id: 'speed', label: 'Speed', unit: '{u}/s', decimals: 1, of: ({ counts }) => counts('velocityCounts') },
    {
      id: 'followingError',
      label: 'Following error',
      unit: '{u}',
      decimals: 3,
      of: ({ counts }) => counts('followingErrorCounts'),
    },
    {
      id: 'torque',
      label: 'Torque',
      unit: '%',
      decimals: 1,
      of: ({ scaled, sign }) => {
        const torque = scaled('torque');
        return torque === undefined ? undefined : sign * torque;
      },
    },
  ],
  spindle: [
    { id: 'hertz', label: 'Output', unit: 'Hz', decimals: 2, of: ({ scaled }) => scaled('outputHertz') },
    { id: 'motorSpeed', label: 'Motor', unit: 'rpm', decimals: 0, of: ({ scaled }) => scaled('actualMotorSpeed') },
    { id: 'current', label: 'Current', unit: 'A', decimals: 2, of: ({ scaled }) => scaled('motorCurrent') },
    { id: 'torque', label: 'Torque', unit: 'N·m', decimals: 2, of: ({ scaled }) => scaled('motorTorque') },
    { id: 'busVolts', label: 'DC bus', unit: 'V', decimals: 0, of: ({ scaled }) => scaled('busVolts') },
  ],
};

/** A reading that the device brings: a register of its map that has a label. */
const ownReading = ({ key, label = key, unit, scale }: DriveRegister): Reading => ({
  id: key,
  label,
  unit,
  decimals: Math.min(6, Math.max(0, Math.ceil(-Math.log10(Math.abs(scale))))),
  of: ({ scaled }) => scaled(key),
});

/**
 * The readings of a device with what they are, as far as its map has them.
 * @param values raw, by register; undefined when they are too old to be believed
 */
export function liveReadings(
  { plan, profile }: SessionState,
  values: Readonly<Record<string, number>> | undefined,
): LiveReadings {
  const motion = plan?.motion.kind === 'axis' ? plan.motion : undefined;
  const scaled = (key: string) => {
    const raw = values?.[key];
    return raw === undefined ? undefined : raw * (profile?.registers[key]?.scale ?? 1);
  };
  const source: Source = {
    scaled,
    counts: (key) => {
      const raw = values?.[key];
      return raw === undefined || !motion ? undefined : raw * motion.unitsPerCount;
    },
    sign: motion?.sign ?? 1,
  };
  const own = Object.values(profile?.registers ?? {}).filter(({ label }) => label !== undefined);
  const all = [...readings[plan?.memberKind ?? 'axis'], ...own.map(ownReading)];
  const known = all.flatMap((reading) => {
    const value = reading.of(source);
    return value === undefined ? [] : [[reading.id, value] as const];
  });
  return {
    channels: all.map(({ id, label, unit, decimals }) => ({ id, label, unit, decimals })),
    values: Object.fromEntries(known),
  };
}
