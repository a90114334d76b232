import { expect, it } from 'vitest';
import { packSamples, type Channel } from '../trace/index.ts';
import { moveChannels, recordedChannels } from './runFigures.ts';

const channel: Channel = { id: 'demandPosition', label: 'Demand position', unit: 'mm', scale: 1, format: 'float64' };
/** At rest for 100 samples, 1 mm a sample for 100, and at rest again. */
const demand = Float64Array.from({ length: 300 }, (_, k) => Math.min(100, Math.max(0, k - 100)));
const traceOf = (before: number) => ({
  header: { period: 0.001, count: 300, before, channels: [channel] },
  samples: packSamples([channel], [demand]),
});

it('figures begin with the trigger, or with a move that began before it', () => {
  const lengthOf = (before: number) => moveChannels(traceOf(before)).demandPosition.length;
  expect(lengthOf(0)).toBe(300);
  expect(lengthOf(50)).toBe(250);
  // The trigger of an oscilloscope, in the middle of the move: it begins with sample 100.
  expect(lengthOf(150)).toBe(200);
  expect(recordedChannels(traceOf(150)).demandPosition).toEqual(demand);
});
