import {
  axisScale,
  choicePattern,
  missingSample,
  wayUnitOf,
  channelsOf,
  packSamples,
  axisInputOf,
  byKind,
  type Channel,
  type MemberDocument,
  type RawScale,
  type Trace,
} from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { traceChannelCount as width } from '@kavrid/core/drive';
import type { RawRun } from '../port/dataService.ts';
import { ProblemError } from '../problem.ts';

/**
 * What a drive recorded, described in the units of the axis or spindle that it was recorded with; the samples stay as raw as
 * they came. @param samples one after the other, a number for each channel
 */
export function recordedTrace(
  document: MemberDocument,
  samples: Int32Array,
  { period, before, choiceBits, identity }: Pick<RawRun, 'period' | 'before' | 'choiceBits' | 'identity'>,
): Trace {
  const scale = scaleOf(document);
  const axisUnit = wayUnitOf(document);
  const recorded = Object.entries(channelsOf[document.kind]).map(([id, facts]): Channel => ({
    id,
    label: facts.label,
    unit: facts.unit.replace('{u}', axisUnit),
    scale: facts.scale(scale),
    format: 'int32',
  }));
  const count = Math.floor(samples.length / width);
  const recordedPlanes = recorded.map((_, index) =>
    Int32Array.from({ length: count }, (__, k) => samples[k * width + index] ?? 0),
  );
  const picked = pickedBy(document, choiceBits);
  const inputs = recordedPlanes[recorded.findIndex(({ id }) => id === 'inputs')];
  const [channels, planes] =
    picked.length > 0 && inputs
      ? [
          [...recorded, choicePattern],
          [...recordedPlanes, inputs.map((word) => patternOf(word, picked))],
        ]
      : [recorded, recordedPlanes];
  const header = {
    period,
    count,
    channels,
    // A recording that broke off before its trigger has fewer than were to come.
    ...(before > 0 ? { before: Math.min(before, count) } : {}),
    ...(identity === '' ? {} : { identity }),
  };
  return { header, samples: packSamples(channels, planes) };
}

/** The inputs whose pattern picks a move; none: they pick none, or their bits are not known. */
const pickedBy = (document: MemberDocument, choiceBits: readonly number[]): readonly number[] => {
  const wanted = document.kind === 'axis' && document.command.kind === 'choice' ? document.command.inputs.length : 0;
  return choiceBits.length < wanted ? [] : choiceBits.slice(0, wanted);
};

/** The first input is the lowest bit. */
const patternOf = (word: number, bits: readonly number[]): number =>
  word === missingSample ? word : bits.reduce((sum, bit, k) => sum + (((word >> bit) & 1) << k), 0);

const scaleOf = (member: MemberDocument): RawScale =>
  byKind<RawScale>(member, {
    spindle: () => ({ unitsPerCount: 1, sign: 1 }),
    axis: (axis) => {
      const { input } = axisInputOf(axis);
      const scaling = axisScale(input, evaluateAxis(input));
      if ('because' in scaling) throw new ProblemError(422, `The run cannot be kept, because ${scaling.because}.`);
      return scaling;
    },
  });
