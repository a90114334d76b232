import { describe, expect, it } from 'vitest';
import { runVerdict } from './runVerdict.ts';

describe('a run test', () => {
  it.each([
    [undefined, 'only predicted'],
    [{ end: 'finished', speed: 0 }, 'never turned'],
    [{ end: 'fault', speed: 3 }, 'never turned'],
    [{ end: 'fault', speed: 2900 }, 'not finished'],
    [{ end: 'finished', speed: 1500 }, 'too slow'],
    [{ end: 'finished', speed: 2900 }, 'went through'],
  ] as const)('%j: %s', (measured, verdict) => expect(runVerdict(3000, measured)).toBe(verdict));
});
