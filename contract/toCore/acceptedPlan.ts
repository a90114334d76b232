import { settingsDigest } from '@kavrid/core/evidence';
import type { AxisDocument } from '../documents.ts';
import { byKind, type MemberDocument } from '../member.ts';
import type { SpindleDocument } from '../spindleDocument.ts';

/** Parts of a plan that a test move depends on, in words. */
const parts = {
  motor: 'the motor',
  drive: 'the drive',
  command: 'the command',
  gear: 'the electronic gear',
  stages: 'the mechanics',
  load: 'the load',
  settings: 'the planned values of the drive',
  testMove: 'the test move',
  pair: 'the second motor',
} as const satisfies Partial<Record<keyof AxisDocument, string>>;
type Part = keyof typeof parts;

const asText = (value: unknown): string => JSON.stringify(value);

/** The same of moves by the controller. */
export const hostMoveChanges = (before: AxisDocument, now: AxisDocument): readonly string[] => [
  ...acceptanceChanges(before, now),
  ...(asText(before.controller) === asText(now.controller) ? [] : ['the controller']),
  ...(asText(before.moves.host) === asText(now.moves.host) ? [] : ['the moves by the controller']),
];

/** What has changed since a test move was made; empty: nothing that it depends on. */
export const acceptanceChanges = (before: AxisDocument, now: AxisDocument): readonly string[] =>
  (Object.keys(parts) as Part[])
    .filter((part) => asText(before[part]) !== asText(now[part]))
    .map((part) => parts[part]);

/** Parts of a plan that a run test of a spindle depends on, in words. */
const spindleParts = {
  motor: 'the motor',
  drive: 'the drive',
  supply: 'the supply',
  settings: 'the planned values of the drive',
  belt: 'the belt',
  tool: 'the tool',
  command: 'the speed command',
  tachometer: 'the corrected speed',
  runTest: 'the run test',
} as const satisfies Partial<Record<keyof SpindleDocument, string>>;
type SpindlePart = keyof typeof spindleParts;

/** What has changed since a run test was made; empty: nothing that it depends on. */
export const runTestChanges = (before: SpindleDocument, now: SpindleDocument): readonly string[] =>
  (Object.keys(spindleParts) as SpindlePart[])
    .filter((part) => asText(before[part]) !== asText(now[part]))
    .map((part) => spindleParts[part]);

/** Of all that an acceptance depends on, with its limits. */
export const acceptanceDigest = (member: MemberDocument): string =>
  byKind(member, {
    axis: (axis) =>
      settingsDigest({
        plan: asText([
          (Object.keys(parts) as Part[]).map((part) => axis[part]),
          axis.homing,
          axis.moves.host,
          axis.acceptance,
        ]),
      }),
    spindle: (spindle) =>
      settingsDigest({
        plan: asText([(Object.keys(spindleParts) as SpindlePart[]).map((part) => spindle[part]), spindle.acceptance]),
      }),
  });
