import { readFileSync } from 'node:fs';
import { evaluateAxis, pushingForce, sheetFor, stationsOf, probe } from '@kavrid/core/chain';
import { findingsOf, spindleFindingsOf } from '@kavrid/core/findings';
import { runTestEvents, servoCoefficients, spindleDefinition } from '@kavrid/core/plant';
import { exact } from '@kavrid/core/quantity';
import { valueOf, workingOf } from '@kavrid/core/sheet';
import { evaluateSpindle, probeSpindle, probeStart, rangesOfSteps, spindleSheet } from '@kavrid/core/spindle';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  endSheets,
  memberPlan,
  memberSchema,
  newAxis,
  newSpindle,
  axisInputOf,
  readDriveProfile,
  spindleInputOf,
  resultChanges,
  servoDefinition,
  spindleEndSheets,
  suppliesOf,
  unreadFields,
  type AxisDocument,
  type SpindleDocument,
} from './index.ts';
import { memberKinds } from './test/memberKinds.ts';
import { mutated } from './test/mutated.ts';

const profileOf = (name: string) => {
  const read = readDriveProfile(readFileSync(new URL(`../bench/devices/${name}/${name}.csv`, import.meta.url), 'utf8'));
  if (read.kind === 'refused') throw new Error(read.problems.join());
  return { mark: name, profile: read.profile };
};
const profiles = { axis: profileOf('servo'), spindle: profileOf('spindle') };
const quantity = (value: number, unit: string) => `${value} ${unit}`;

/** Everything that views, key-in sheets and sessions make of an axis. */
function workOutAxis(axis: AxisDocument): unknown {
  const { input } = axisInputOf(axis);
  const results = evaluateAxis(input);
  const stations = stationsOf(input, results);
  const sheet = sheetFor(input);
  const servo = valueOf(servoDefinition(axis, results));
  try {
    if (servo) servoCoefficients(servo);
  } catch (error) {
    // A plant may refuse what it cannot step, with its reason.
    if (!(error instanceof RangeError)) throw error;
  }
  return [
    results,
    probe(stations, 'load', exact(10)),
    findingsOf({ input, results, stations, quantity }),
    sheet.formulas.map(({ symbol }) => workingOf(sheet, results, symbol)),
    endSheets(axis, input, results, {}),
    suppliesOf([axis]),
    pushingForce(results, 50),
    resultChanges(axis, newAxis('Other', 'linear')),
  ];
}

function workOutSpindle(spindle: SpindleDocument): unknown {
  const { input } = spindleInputOf(spindle);
  const results = evaluateSpindle(input);
  return [
    results,
    spindleDefinition(input, results),
    runTestEvents(input, results),
    rangesOfSteps(input, results),
    probeSpindle(input, results, 'word', probeStart(results)),
    spindleFindingsOf({ input, results }),
    spindleSheet.formulas.map(({ symbol }) => workingOf(spindleSheet, results, symbol)),
    spindleEndSheets(spindle, input, results, undefined),
    resultChanges(spindle, newSpindle('Other')),
  ];
}

/** Every number in what was worked out, with the names that lead to it; infinite ones mean no limit where that is said. */
function strangeNumbers(value: unknown, at = ''): readonly string[] {
  if (typeof value === 'number') return Number.isNaN(value) ? [`${at} is NaN`] : [];
  if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return [];
  return Object.entries(value).flatMap(([name, each]) => strangeNumbers(each, `${at}/${name}`));
}

describe('no document that can be saved', () => {
  it('is missing among those that are changed: every kind can be saved as it is', () => {
    for (const member of memberKinds)
      expect(memberSchema.safeParse(member).error?.issues ?? [], member.name).toEqual([]);
  });

  it('is a dial whose two points are equal: it can be opened, and says so', () => {
    for (const [from, to] of [
      ['0 Hz', '0 Hz'],
      ['50 Hz', '50 Hz'],
    ] as const) {
      const dial = memberKinds.find((each) => each.kind === 'spindle' && each.command.kind === 'signal');
      if (dial?.kind !== 'spindle' || dial.command.kind !== 'signal') throw new Error('there is no dial');
      const { command } = dial;
      const flat = {
        ...dial,
        command: { ...command, from: { signal: '0', hertz: from }, to: { signal: '100', hertz: to } },
      };
      expect(memberSchema.safeParse(flat).success).toBe(true);
      workOutSpindle(flat);
      const { input } = spindleInputOf(flat);
      expect(spindleFindingsOf({ input, results: evaluateSpindle(input) }).map(({ id }) => id)).toContain('scaleFlat');
    }
  });

  it('makes anything throw, or gives a number that is none', () => {
    let accepted = 0;
    fc.assert(
      fc.property(mutated(memberKinds), (member) => {
        const parsed = memberSchema.safeParse(member);
        if (!parsed.success) return;
        accepted++;
        const document = parsed.data;
        const worked = document.kind === 'axis' ? workOutAxis(document) : workOutSpindle(document);
        expect(strangeNumbers(worked)).toEqual([]);
        memberPlan({ id: 'a', machineId: 'm', version: 1, updatedAt: '', document }, profiles[document.kind]);
        unreadFields(document);
      }),
      { numRuns: 5400 },
    );
    expect(accepted).toBeGreaterThan(2000);
  });
});
