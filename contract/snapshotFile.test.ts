import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fromRaw, isInRange } from '@kavrid/core/drive';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDriveProfile, readSnapshotFile, writeSnapshotFile } from './index.ts';

const map = readDriveProfile(readFileSync(join(import.meta.dirname, '../bench/devices/servo/servo.csv'), 'utf8'));
if (map.kind === 'refused') throw new Error(map.problems.join());
const { parameters } = map.profile;

describe('drive values as CSV', () => {
  it('come back as they were written, whatever of them there are', () => {
    const some = fc.record(
      Object.fromEntries(
        parameters.map(({ key, minimum, maximum, scale }) => [
          key,
          fc.integer({ min: Math.round(minimum / scale), max: Math.round(maximum / scale) }),
        ]),
      ),
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(some, (given) => {
        const values = { positionGain: 455, ...given };
        expect(readSnapshotFile(parameters, writeSnapshotFile(parameters, values))).toEqual({ kind: 'values', values });
      }),
      { seed: 5, numRuns: 60 },
    );
  });

  it('take values in the unit of each, and refuse by line what cannot be told apart or be in the drive', () => {
    const gain = parameters.find(({ key }) => key === 'positionGain');
    if (!gain) throw new Error('the map has no position gain');
    expect(readSnapshotFile(parameters, 'key,value\npositionGain,45.5\n')).toEqual({
      kind: 'values',
      values: { positionGain: 455 },
    });
    expect(fromRaw(gain, 455)).toBe(45.5);
    const refused: readonly (readonly [string, string])[] = [
      ['name,number\npositionGain,1', 'key, and value or raw'],
      ['key,raw\n', 'no values'],
      ['key,raw\nnothing,1', 'Line 2: the register map has no value “nothing”'],
      ['key,raw\npositionGain,455\npositionGain,455', 'Line 3: “positionGain” is given twice'],
      ['key,value\npositionGain,"45,5"', '“45,5” is not a number with a decimal point'],
      ['key,value\npositionGain,9999', 'takes 1 to 1000'],
      ['key,raw\npositionGain,45.5', 'is not a raw value within its range'],
      ['key,raw\npositionGain,99999', 'is not a raw value within its range'],
      ['key,value,raw\npositionGain,45.5,456', 'would be 455 raw, not 456'],
      ['key,value,raw\npositionGain,,', 'neither value nor raw value'],
    ];
    for (const [text, words] of refused) {
      const read = readSnapshotFile(parameters, text);
      expect(read.kind === 'refused' && read.problems.join(' '), text).toContain(words);
    }
  });

  it('survive torn and foreign files', () => {
    const whole = writeSnapshotFile(parameters, Object.fromEntries(parameters.map(({ key }) => [key, 1])));
    const piece = fc.oneof(fc.constantFrom(...whole.split('\r\n')), fc.string({ maxLength: 30 }));
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 20 }), (lines) => {
        const read = readSnapshotFile(parameters, lines.join('\n'));
        if (read.kind === 'refused') expect(read.problems.length).toBeGreaterThan(0);
        for (const [key, raw] of Object.entries(read.kind === 'values' ? read.values : {})) {
          const parameter = parameters.find((each) => each.key === key);
          expect(parameter && isInRange(parameter, raw)).toBe(true);
        }
      }),
      { seed: 9, numRuns: 200 },
    );
  });
});
