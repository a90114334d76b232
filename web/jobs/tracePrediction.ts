import {
  byKind,
  packSamples,
  type AxisDocument,
  type Channel,
  type MemberDocument,
  type Trace,
} from '@kavrid/contract';
import { prepareMoves } from './moveJob.ts';
import { runSpindleTest } from './spindleRunJob.ts';

export const predictionId = 'prediction';

/** A prediction as a source of traces, or why there is none. */
export type TracePrediction =
  { readonly id: typeof predictionId; readonly trace: Trace } | { readonly because: string };

interface Predicted {
  readonly isWhole: boolean;
  /** It is the planned test: the test move of an axis, the run test of a spindle. */
  readonly isTestMove: boolean;
}

/** What the model records in place of the device: of an axis the moves that were measured, of a spindle its run test. */
export const tracePrediction = (
  member: MemberDocument,
  measured: Trace | undefined,
  options: Predicted,
): TracePrediction =>
  byKind<TracePrediction>(member, {
    axis: (axis) => axisPrediction(axis, measured, options),
    spindle: (spindle) => {
      if (!options.isTestMove) return { because: 'only the run test is predicted' };
      const result = runSpindleTest({ spindle });
      if (result.kind === 'unknown') return result;
      const { period, ...planes } = result.recording;
      return sourceOf(period, planes, 0);
    },
  });

function axisPrediction(axis: AxisDocument, measured: Trace | undefined, options: Predicted): TracePrediction {
  const { predicted, because, tripped } = prepareMoves({ axis, measured, ...options });
  if (!predicted) return { because: because ?? 'it cannot be worked out' };
  if (tripped) return { because: 'it trips on following error: these settings cannot follow this move' };
  const { period, ...planes } = predicted;
  return sourceOf(period, planes, measured?.header.before ?? 0);
}

/** A recording of the plant. Its channels are known by their ids. */
function sourceOf(period: number, planes: Readonly<Record<string, Float64Array>>, before: number): TracePrediction {
  const channels = Object.keys(planes).map((id): Channel => ({ id, label: id, unit: '', scale: 1, format: 'float64' }));
  const count = Object.values(planes)[0]?.length ?? 0;
  const header = { period, count, channels, before };
  return { id: predictionId, trace: { header, samples: packSamples(channels, Object.values(planes)) } };
}
