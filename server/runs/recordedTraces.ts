import {
  axisScale,
  axisUnitOf,
  channelsOf,
  packSamples,
  axisInputOf,
  type Channel,
  type MemberDocument,
  type RawScale,
  type Trace,
} from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { traceChannelCount as width } from '@kavrid/core/drive';
import { ProblemError } from '../problem.ts';

/**
 * What a drive recorded, described in the units of the axis or spindle that it was recorded with; the samples stay as raw as
 * they came. @param samples one after the other, a number for each channel @param period s
 */
export function recordedTrace(document: MemberDocument, samples: Int32Array, period: number): Trace {
  const scale = scaleOf(document);
  const axisUnit = document.kind === 'axis' ? axisUnitOf(document) : '';
  const channels = Object.entries(channelsOf[document.kind]).map(([id, facts]): Channel => ({
    id,
    label: facts.label,
    unit: facts.unit.replace('{u}', axisUnit),
    scale: facts.scale(scale),
    format: 'int32',
  }));
  const count = Math.floor(samples.length / width);
  const planes = channels.map((_, index) =>
    Int32Array.from({ length: count }, (__, k) => samples[k * width + index] ?? 0),
  );
  return { header: { period, count, channels }, samples: packSamples(channels, planes) };
}

function scaleOf(document: MemberDocument): RawScale {
  if (document.kind === 'spindle') return { unitsPerCount: 1, sign: 1 };
  const { input } = axisInputOf(document);
  const scaling = axisScale(input, evaluateAxis(input));
  if ('because' in scaling) throw new ProblemError(422, `The run cannot be kept, because ${scaling.because}.`);
  return scaling;
}
