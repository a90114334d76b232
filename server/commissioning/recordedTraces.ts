import { spindleChannels, traceChannels, type AxisTrace, type SpindleTrace, type TraceChannel } from '@kavrid/contract';
import type { AxisScaling } from './axisScaling.ts';
import type { TraceCapture } from './traceCapture.ts';

type Recorded = ReturnType<TraceCapture['finish']>;

const channelOf = ({ samples }: Recorded, index: number, factor: number): number[] =>
  samples.map((sample) => Math.round((sample[index] ?? 0) * factor * 1e5) / 1e5);

/** What a servo drive recorded, in axis units. */
export function axisTrace(recorded: Recorded, scaling: AxisScaling): AxisTrace {
  const { unitsPerCount } = scaling;
  const factors: Readonly<Record<TraceChannel, number>> = {
    demandPosition: unitsPerCount,
    actualPosition: unitsPerCount,
    demandSpeed: unitsPerCount,
    actualSpeed: unitsPerCount,
    followingError: unitsPerCount,
    torque: 0.1 * scaling.sign,
    inputs: 1,
    statusword: 1,
  };
  const channels = traceChannels.map((name, index) => [name, channelOf(recorded, index, factors[name])]);
  return { period: recorded.period, channels: Object.fromEntries(channels) as AxisTrace['channels'] };
}

/** 0.01 Hz, 0.1 rpm, 0.01 A, 0.01 N·m, 0.1 V: as the register map says of the trace memory. */
const spindleScales = { hertz: 0.01, speed: 0.1, current: 0.01, torque: 0.01, busVolts: 0.1 } as const;

/** What a spindle drive recorded, in Hz, rpm, A, N·m and V. */
export function spindleTrace(recorded: Recorded): SpindleTrace {
  const channels = spindleChannels.map((name, index) => [name, channelOf(recorded, index, spindleScales[name])]);
  return { period: recorded.period, channels: Object.fromEntries(channels) as SpindleTrace['channels'] };
}
