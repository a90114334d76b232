import { controlword, operationMode, type DriveProfile } from '../../drive/index.ts';
import type { SpindleEvent } from '../../plant/index.ts';
import { recorded } from './axisScripts.ts';
import { spindleRoles } from './planChecks.ts';
import type { Step } from './step.ts';
import { reverseBit } from './stopping.ts';

/** Steps of 0.5 ms between two samples. */
const traceSteps = 40;

const write = (register: string, raw: number, isMotion = false): Step => ({ do: 'write', register, raw, isMotion });

/** Counts of the speed reference for a frequency; undefined when they do not fit its 16 bits. */
export function referenceCounts({ registers }: DriveProfile, hertz: number): number | undefined {
  const raw = Math.round(hertz / (registers.speedReference?.scale ?? 1));
  return raw <= 0xffff ? raw : undefined;
}

/** Starts a spindle, or gives one that runs another speed. */
export function runSpindleSteps(counts: number, isReverse: boolean, isRunning: boolean): readonly Step[] {
  const bits = isReverse ? reverseBit : 0;
  return [
    { do: 'check', roles: spindleRoles },
    ...(isRunning
      ? [write('speedReference', counts, true), write('controlword', controlword.enableOperation | bits, true)]
      : ([
          write('modeOfOperation', operationMode.velocity),
          write('speedReference', counts, true),
          { do: 'remember motor' },
          { do: 'enable', bits },
        ] as const)),
    { do: 'hold' },
  ];
}

/** Carries out the run test, as far as the drive can be commanded to. */
export function runTestSteps(
  { registers }: DriveProfile,
  events: readonly SpindleEvent[],
  duration: number,
): readonly Step[] {
  const noLoad = registers.benchLoad ? [write('benchLoad', 0)] : [];
  return [
    { do: 'tell', progress: 'Run test' },
    { do: 'check', roles: spindleRoles },
    write('modeOfOperation', operationMode.velocity),
    write('speedReference', 0),
    ...noLoad,
    { do: 'remember motor' },
    { do: 'enable', bits: 0 },
    ...recorded('run test', traceSteps),
    { do: 'play', events, duration, period: traceSteps * (registers.tracePeriod?.scale ?? 0.0005) },
    ...noLoad,
  ];
}
