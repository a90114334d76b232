import {
  axisScale,
  readAxis,
  spindleChannels,
  traceChannels,
  type AxisTrace,
  type MemberDocument,
  type SpindleTrace,
  type Trace,
  type TraceChannel,
} from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { ProblemError } from '../problem.ts';

/** Raw samples lie one after the other, eight numbers each. */
const width = 8;

const channelOf = (samples: Int32Array, index: number, factor: number): number[] =>
  Array.from(
    { length: Math.floor(samples.length / width) },
    (_, k) => Math.round((samples[k * width + index] ?? 0) * factor * 1e5) / 1e5,
  );

/** What a drive recorded, in the units of the axis or spindle that it was recorded with. @param period s */
export const recordedTrace = (document: MemberDocument, samples: Int32Array, period: number): Trace =>
  document.kind === 'axis' ? axisTrace(document, samples, period) : spindleTrace(samples, period);

function axisTrace(
  document: Extract<MemberDocument, { kind: 'axis' }>,
  samples: Int32Array,
  period: number,
): AxisTrace {
  const { input } = readAxis(document);
  const scaling = axisScale(input, evaluateAxis(input));
  if ('because' in scaling) throw new ProblemError(422, `The run cannot be kept, because ${scaling.because}.`);
  const { unitsPerCount, sign } = scaling;
  const factors: Readonly<Record<TraceChannel, number>> = {
    demandPosition: unitsPerCount,
    actualPosition: unitsPerCount,
    demandSpeed: unitsPerCount,
    actualSpeed: unitsPerCount,
    followingError: unitsPerCount,
    torque: 0.1 * sign,
    inputs: 1,
    statusword: 1,
  };
  const channels = traceChannels.map((name, index) => [name, channelOf(samples, index, factors[name])]);
  return { period, channels: Object.fromEntries(channels) as AxisTrace['channels'] };
}

/** 0.01 Hz, 0.1 rpm, 0.01 A, 0.01 N·m, 0.1 V: as the register map says of the trace memory. */
const spindleScales = { hertz: 0.01, speed: 0.1, current: 0.01, torque: 0.01, busVolts: 0.1 } as const;

function spindleTrace(samples: Int32Array, period: number): SpindleTrace {
  const channels = spindleChannels.map((name, index) => [name, channelOf(samples, index, spindleScales[name])]);
  return { period, channels: Object.fromEntries(channels) as SpindleTrace['channels'] };
}
