import { axisInputOf, loopModel, triedAxis, triedRoles, type AxisDocument } from '@kavrid/contract';
import { valueOf } from '@kavrid/core/sheet';
import { evaluateAxis } from '@kavrid/core/chain';
import {
  decibels,
  logarithmic,
  loopResponses,
  marginsOfModel,
  notchFor,
  phases,
  stepResponse,
  suggestGains,
  type LoopModel,
  type Margins,
  type SuggestedGains,
} from '@kavrid/core/tuning';

/** Hz and what is drawn over it, one point after the other. */
export interface LoopCurves {
  /** dB and degrees of the open speed loop, dB of the closed position loop, over Hz as its logarithm. */
  readonly openGain: Float64Array;
  readonly openPhase: Float64Array;
  readonly closedGain: Float64Array;
  /** A small step of the position: s and its share. */
  readonly step: Float64Array;
}

export interface LoopSide {
  readonly curves: LoopCurves;
  readonly speed: Margins;
  readonly position: Margins;
}

export interface TuningPlan {
  /** Why there is no model. */
  readonly because?: string;
  readonly planned?: LoopSide;
  /** Of the gains of a trial, where some are entered that are not planned. */
  readonly trial?: LoopSide;
  readonly suggested?: LoopSide & { readonly gains: SuggestedGains; readonly inertiaRatio: number };
  /** With a notch of the drive at its resonance, Hz: rad/s that would keep the margins. */
  readonly withNotch?: { readonly hertz: number; readonly bandwidth: number } | undefined;
  /** Nothing keeps the margins. */
  readonly isHopeless: boolean;
}

/** Hz over which loops are drawn. */
export const drawnHertz = [1, 1000] as const;
const drawnPoints = 400;
/** s of the step that is drawn. */
export const stepSeconds = 0.25;
/** rad/s that are tried where no bandwidth is asked for: more than a drive has. */
const anyBandwidth = 3000;

/** The loops as planned, and gains that keep their margins. */
export function planTuning(axis: AxisDocument): TuningPlan {
  const results = evaluateAxis(axisInputOf(axis).input);
  const model = loopModel(axis, results);
  if (model.state === 'unknown') return { because: model.because, isHopeless: false };
  const gains = suggestGains(model.value, axis.tuning.wantedBandwidth ?? anyBandwidth);
  const tried = triedRoles(axis).length > 0 ? valueOf(loopModel(triedAxis(axis), results)) : undefined;
  // Where one is planned, the suggestion is made with it.
  const notch = model.value.notch ? undefined : notchFor(model.value);
  const notched =
    notch && gains?.limitedBy === 'the resonance'
      ? suggestGains({ ...model.value, notch }, axis.tuning.wantedBandwidth ?? anyBandwidth)
      : undefined;
  return {
    withNotch: notch && notched && { hertz: notch.frequency / (2 * Math.PI), bandwidth: notched.bandwidth },
    planned: sideOf(model.value),
    ...(tried ? { trial: sideOf(tried) } : {}),
    isHopeless: gains === undefined,
    ...(gains
      ? {
          suggested: {
            ...sideOf({ ...model.value, ...gains }),
            gains,
            inertiaRatio: model.value.loadInertia / model.value.motorInertia,
          },
        }
      : {}),
  };
}

function sideOf(model: LoopModel): LoopSide {
  const frequencies = logarithmic(2 * Math.PI * drawnHertz[0], 2 * Math.PI * drawnHertz[1], drawnPoints);
  const { speedOpen, positionClosed } = loopResponses(model, frequencies);
  const over = (values: Float64Array) => {
    const points = new Float64Array(2 * values.length);
    values.forEach((value, k) => points.set([Math.log10((frequencies[k] ?? 1) / (2 * Math.PI)), value], 2 * k));
    return points;
  };
  return {
    curves: {
      openGain: over(decibels(speedOpen)),
      openPhase: over(phases(speedOpen)),
      closedGain: over(decibels(positionClosed)),
      step: stepOf(model),
    },
    ...marginsOfModel(model),
  };
}

/** s and the position after a small step of its demand. */
function stepOf(model: LoopModel): Float64Array {
  const values = stepResponse(model, stepSeconds, drawnPoints);
  const points = new Float64Array(2 * drawnPoints);
  values.forEach((value, k) => points.set([(k * stepSeconds) / (drawnPoints - 1), value], 2 * k));
  return points;
}
