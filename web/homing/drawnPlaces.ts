import type { HomingModel } from '@kavrid/contract';
import { homingMethodFacts, type HomingPrediction } from '@kavrid/core/homing';

export interface DrawnSwitch {
  readonly label: string;
  readonly from: number;
  readonly to: number;
  /** The method homes on it. */
  readonly isUsed: boolean;
}

/** What is drawn of a homing, and over which stretch; axis units from the minus limit. */
export interface HomingPlaces {
  readonly low: number;
  readonly high: number;
  readonly switches: readonly DrawnSwitch[];
  /** Where index pulses come; empty where no place was entered, or where they would stand too close. */
  readonly pulses: readonly number[];
  readonly fastest: number;
}

const mostPulses = 120;

export function placesOf(model: HomingModel, prediction: HomingPrediction): HomingPlaces {
  const { world, travel, isEndless, indexAt, definition } = model;
  const { minusEdge, plusEdge, homeSwitch, minusStop, plusStop, indexSpacing } = world;
  const margin = 0.04 * travel;
  const pad = 0.012 * travel;
  const low = Math.min(minusStop ?? (isEndless ? 0 : -margin), prediction.lowest) - pad;
  const high = Math.max(plusStop ?? (isEndless ? travel : travel + margin), prediction.highest) + pad;
  const facts = homingMethodFacts(definition.method);
  const uses = (input: 'minusLimit' | 'plusLimit' | 'homeSwitch') => facts.kind === 'edge' && facts.input === input;
  const switches: DrawnSwitch[] = [];
  if (minusEdge !== undefined)
    switches.push({ label: 'minus limit', from: low, to: minusEdge, isUsed: uses('minusLimit') });
  if (plusEdge !== undefined)
    switches.push({ label: 'plus limit', from: plusEdge, to: high, isUsed: uses('plusLimit') });
  if (homeSwitch) switches.push({ label: 'home switch', ...homeSwitch, isUsed: uses('homeSwitch') });
  const first = indexAt === undefined ? 0 : indexAt + Math.ceil((low - indexAt) / indexSpacing) * indexSpacing;
  const count = indexAt === undefined ? 0 : Math.floor((high - first) / indexSpacing) + 1;
  return {
    low,
    high,
    switches,
    pulses: count > mostPulses ? [] : Array.from({ length: Math.max(0, count) }, (_, k) => first + k * indexSpacing),
    fastest: Math.max(1e-9, ...prediction.path.map(({ speed }) => Math.abs(speed))),
  };
}

/** Points of a piece that are drawn. */
const samples = 8;

/** An SVG path: the amount of the speed over the position. */
export function speedLine(
  { path, seconds }: HomingPrediction,
  x: (position: number) => number,
  bottom: number,
  height: number,
  fastest: number,
): string {
  const points = path.flatMap((piece, k) => {
    const end = Math.min(path[k + 1]?.time ?? seconds, seconds);
    const duration = Math.max(0, end - piece.time);
    return Array.from({ length: samples + 1 }, (_, n) => {
      const since = (duration * n) / samples;
      const position = piece.position + (piece.speed + (piece.acceleration / 2) * since) * since;
      const speed = Math.abs(piece.speed + piece.acceleration * since);
      return `${x(position).toFixed(1)} ${(bottom - (speed / fastest) * height).toFixed(1)}`;
    });
  });
  return points.length === 0 ? '' : `M${points.join('L')}`;
}
