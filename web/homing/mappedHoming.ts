import type { LiveState } from '@kavrid/contract';
import type { CheckedHoming } from '@kavrid/core/findings';
import type { HomingMethod } from '@kavrid/core/homing';
import { useMemo } from 'react';
import { useAppSelector } from '../store/store.ts';

export type MappedHoming = NonNullable<LiveState['homing']>;

/** What the register map of the drive says of its homing; the same object as long as it says the same. */
export function useMappedHoming(): MappedHoming | undefined {
  const text = useAppSelector(({ live: { live } }) =>
    live?.kind === 'axis' && live.homing ? JSON.stringify(live.homing) : undefined,
  );
  return useMemo(() => (text === undefined ? undefined : (JSON.parse(text) as MappedHoming)), [text]);
}

/** A method as the drive has it. */
export const driveHoming = (
  { methods, homeOffset, softLimitsFrom, switches }: MappedHoming,
  method: HomingMethod,
): CheckedHoming['drive'] => ({
  hasMethod: methods === undefined || methods[method] !== undefined,
  hasInput: (input) => switches.length === 0 || switches.includes(input),
  saysOffset: homeOffset !== undefined,
  saysSoftLimits: softLimitsFrom !== undefined,
});
