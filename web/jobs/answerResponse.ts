import {
  axisInputOf,
  channelValues,
  feedforwardOf,
  loopModel,
  unitsPerRadian,
  type AxisDocument,
  type Trace,
} from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { valueOf } from '@kavrid/core/sheet';
import {
  decibels,
  demandedSpeedResponse,
  frequencyResponse,
  logarithmic,
  phases,
  plantResponse,
  resonanceIn,
  withoutDryFriction,
  type FoundResonance,
  type MeasuredResponse,
  type Response,
} from '@kavrid/core/tuning';
import { fetchTrace, type RunToFetch } from './fetchTrace.ts';

/** A recording with an excitation, and the settings that it was made with. */
export interface ResponseWork {
  readonly axis: AxisDocument;
  readonly run: RunToFetch;
}

/** Gain in dB and phase in degrees over the logarithm of Hz, one point after the other. */
export interface BodeCurves {
  readonly gain: Float64Array;
  readonly phase: Float64Array;
}

export interface ResponseAnswer {
  /** Why nothing is drawn. */
  readonly because?: string;
  readonly measured?: { readonly plant: BodeCurves; readonly closed: BodeCurves };
  /** Absent: there is no model. */
  readonly model?: { readonly plant: BodeCurves; readonly closed: BodeCurves };
  readonly resonance?: FoundResonance | undefined;
  readonly points: number;
  readonly leftOut: number;
  /** % of rated torque that was taken away as dry friction */
  readonly friction: number;
  /** Hz */
  readonly range: readonly [number, number];
}

const nothing = (because: string): ResponseAnswer => ({
  because,
  points: 0,
  leftOut: 0,
  friction: 0,
  range: [1, 1000],
});

/** Hz from which on is looked where no sweep is planned. */
const lowest = 2;

export const answerResponse = async ({ axis, run }: ResponseWork): Promise<ResponseAnswer> =>
  measuredResponse(axis, await fetchTrace(run));

/** The response of the mechanics and of the speed loop from a recording, over the model's. */
export function measuredResponse(axis: AxisDocument, trace: Trace): ResponseAnswer {
  const { period } = trace.header;
  const reference = speedOf(trace, 'demandSpeed', 'demandPosition');
  const speed = speedOf(trace, 'actualSpeed', 'actualPosition');
  const torque = channelValues(trace, 'torque');
  if (!reference || !speed || !torque)
    return nothing('a response needs the channels demand speed or position, actual speed or position, and torque');
  const { from, to } = axis.tuning.sweep;
  const freed = withoutDryFriction(torque, speed, period);
  const found = frequencyResponse(
    { reference, speed, torque: freed.torque },
    period,
    from ?? lowest,
    to ?? 0.45 / period,
  );
  if (!found) return nothing('the recording holds no excitation that speed and torque follow');
  const { hertz } = found.plant;
  const range = [hertz[0] ?? 1, hertz.at(-1) ?? 1000] as const;
  return {
    measured: { plant: curvesOf(found.plant), closed: curvesOf(found.closed) },
    ...modelOf(axis, range),
    resonance: resonanceIn(found.plant),
    points: hertz.length,
    leftOut: found.leftOut,
    friction: freed.friction,
    range,
  };
}

/** A speed as it was recorded, or from the position by differences. */
function speedOf(trace: Trace, speed: string, position: string): Float64Array | undefined {
  const recorded = channelValues(trace, speed);
  if (recorded) return recorded;
  const { period } = trace.header;
  return channelValues(trace, position)?.map(
    (each, k, all) => ((all[k + 1] ?? each) - (all[k - 1] ?? each)) / (2 * period),
  );
}

const curvesOf = ({ hertz, gain, phase }: MeasuredResponse): BodeCurves => ({
  gain: over(
    hertz,
    gain.map((each) => 20 * Math.log10(each)),
  ),
  phase: over(hertz, phase),
});

const over = (hertz: Float64Array, values: Float64Array): Float64Array => {
  const points = new Float64Array(2 * hertz.length);
  hertz.forEach((each, k) => points.set([Math.log10(each), values[k] ?? NaN], 2 * k));
  return points;
};

/** Points of a curve of the model. */
const modelPoints = 200;

/** The same of the model: the mechanics in axis units/s for 1 % of rated torque, and the speed over its demand. */
function modelOf(axis: AxisDocument, [from, to]: readonly [number, number]): Pick<ResponseAnswer, 'model'> {
  const results = evaluateAxis(axisInputOf(axis).input);
  const model = loopModel(axis, results);
  const [rated, perRadian] = [valueOf(results.ratedTorque), unitsPerRadian(results)];
  if (model.state === 'unknown' || !rated || !perRadian) return {};
  const frequencies = logarithmic(2 * Math.PI * from, 2 * Math.PI * to, modelPoints);
  const hertz = frequencies.map((each) => each / (2 * Math.PI));
  const lift = 20 * Math.log10((rated / 100) * perRadian);
  const bode = (response: Response, by: number): BodeCurves => ({
    gain: over(
      hertz,
      decibels(response).map((each) => each + by),
    ),
    phase: over(hertz, phases(response)),
  });
  return {
    model: {
      plant: bode(plantResponse(model.value, frequencies), lift),
      closed: bode(demandedSpeedResponse(model.value, feedforwardOf(axis, model.value), frequencies), 0),
    },
  };
}
