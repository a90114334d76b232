import { channelValues } from '@kavrid/contract';
import { traceChannelCount } from '@kavrid/core/drive';
import { expect, it } from 'vitest';
import { demoAxis, demoAxisNamed } from '../test/demoMembers.ts';
import { recordedTrace } from './recordedTraces.ts';

const inputs = 6;
const samples = (words: readonly number[]) =>
  Int32Array.from({ length: words.length * traceChannelCount }, (_, k) =>
    k % traceChannelCount === inputs ? (words[Math.floor(k / traceChannelCount)] ?? 0) : 0,
  );
const made = { period: 0.001, before: 0, choiceBits: [8, 9, 12], identity: '' };

it('the inputs that pick moves are a channel of their own, where the map tells their bits', () => {
  // One input picks the moves of the tile stop: the first of those that the map lists, bit 8.
  const stop = demoAxisNamed('Tile stop');
  const pattern = (more: Partial<typeof made> = {}) =>
    channelValues(recordedTrace(stop, samples([0x100, 0x1200, 0x301]), { ...made, ...more }), 'choicePattern');
  expect([...(pattern() ?? [])]).toEqual([1, 0, 1]);
  expect(pattern({ choiceBits: [] })).toBeUndefined();
  expect(channelValues(recordedTrace(demoAxis, samples([0x100]), made), 'choicePattern')).toBeUndefined();
});
