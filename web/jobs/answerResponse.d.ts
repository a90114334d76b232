import { type AxisDocument, type Trace } from '@kavrid/contract';
import { type FoundResonance } from '@kavrid/core/tuning';
import { type RunToFetch } from './fetchTrace.ts';
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
  readonly measured?: {
    readonly plant: BodeCurves;
    readonly closed: BodeCurves;
  };
  /** Absent: there is no model. */
  readonly model?: {
    readonly plant: BodeCurves;
    readonly closed: BodeCurves;
  };
  readonly resonance?: FoundResonance | undefined;
  readonly points: number;
  readonly leftOut: number;
  /** Hz */
  readonly range: readonly [number, number];
}
export declare const answerResponse: ({ axis, run }: ResponseWork) => Promise<ResponseAnswer>;
/** The response of the mechanics and of the speed loop from a recording, over the model's. */
export declare function measuredResponse(axis: AxisDocument, trace: Trace): ResponseAnswer;
