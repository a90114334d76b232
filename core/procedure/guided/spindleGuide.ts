import type { AtSpeedWay } from '../../spindle/index.ts';

/** What guided steps work by at a spindle, in rpm of the tool, Hz, A and s; null: it is not known. */
export interface SpindleGuide {
  readonly lowestSpeed: number;
  readonly highestSpeed: number;
  readonly hertzPerToolRpm: number;
  readonly baseHertz: number | null;
  readonly ratedCurrent: number | null;
  /** As estimated from the plate. */
  readonly noLoadCurrent: number | null;
  /** % of the synchronous speed, by the plate */
  readonly ratedSlip: number | null;
  readonly rampUp: number;
  readonly rampDown: number;
  /** It is started, and its speed is set, over the link. */
  readonly isOverLink: boolean;
  readonly connection: 'star' | 'delta';
  readonly atSpeedWay: AtSpeedWay;
  readonly watchesLink: boolean;
}
