import { countsSign, evaluateAxis, hasGear, stationsOf, type AxisUnit, type AxisValues } from '@kavrid/core/chain';
import type { DriveProfile } from '@kavrid/core/drive';
import { runTestEvents } from '@kavrid/core/plant';
import type {
  AxisMotionPlan,
  MemberPlan,
  NoMotionPlan,
  PlateValue,
  SpindleMotionPlan,
  TestMovePlan,
} from '@kavrid/core/procedure';
import { divide, multiply, toNumber, type Exact } from '@kavrid/core/quantity';
import { all, map, valueOf, type Evaluation } from '@kavrid/core/sheet';
import { evaluateSpindle, type SpindleInput, type SpindleValues } from '@kavrid/core/spindle';
import type { AxisDocument } from '../documents.ts';
import { byKind, type MemberDocument } from '../member.ts';
import type { MemberRecord } from '../records.ts';
import { unreadFields } from '../unread.ts';
import { plannedSpindleValues } from './plannedSpindleValues.ts';
import { isSuspended } from './checkedHoming.ts';
import { homingDigest } from './homingDigest.ts';
import { homingTimeOut } from './predictedHoming.ts';
import { plannedValues } from './plannedValues.ts';
import { trialPlan } from './trialPlan.ts';
import { axisGuide } from './axisGuide.ts';
import { axisUnitOf, axisInputOf } from './axisInputOf.ts';
import { unitsPerRadian } from './unitsPerRadian.ts';
import type { SpindleDocument } from '../spindleDocument.ts';
import { spindleGuide } from './spindleGuide.ts';
import { spindleInputOf } from './spindleInputOf.ts';

/** A register map as it is kept: which one, a digest of its text, and what it says. */
export interface KeptProfile {
  readonly mark: string;
  readonly profile: DriveProfile;
}

/** What a session works by, from a saved version. */
export function memberPlan(record: MemberRecord, kept: KeptProfile | undefined): MemberPlan {
  const { id, version, document } = record;
  const { profileId: _, ...address } = document.link;
  const profile = kept?.profile;
  const waitsFor = waitingFor(document);
  return {
    memberId: id,
    version,
    address,
    profileMark: kept?.mark,
    profile,
    ...byKind(document, {
      axis: (axis) => axisPart(axis, profile),
      spindle: (spindle) => spindlePart(spindle, profile),
    }),
    ...(waitsFor === undefined ? {} : { motion: { kind: 'unknown', because: waitsFor } as const }),
    waitsFor,
  };
}

/** Why nothing may be written or moved by a document: a field of it holds what cannot be taken. */
function waitingFor(document: MemberDocument): string | undefined {
  const [first, ...more] = unreadFields(document);
  return (
    first &&
    `${first.field}: “${first.text}” cannot be used${more.length > 0 ? `, and ${more.length} more` : ''}. Correct it first.`
  );
}

type Part = Pick<MemberPlan, 'memberKind' | 'planned' | 'plates' | 'motion'>;

function axisPart(document: AxisDocument, profile: DriveProfile | undefined): Part {
  const { input } = axisInputOf(document);
  const results = evaluateAxis(input);
  return {
    memberKind: 'axis',
    planned: profile ? plannedValues(document, input, results, profile) : {},
    plates: platesOf(document, results),
    motion: axisMotion(document, input, results, profile),
  };
}

/** What the plates of an axis say of its motor; a linear motor has no revolution that a drive could count. */
function platesOf({ motor }: AxisDocument, results: Evaluation<AxisValues>): readonly PlateValue[] {
  if (motor.form === 'linear') return [];
  const plate = (
    register: PlateValue['register'],
    label: string,
    unit: string,
    value: number | undefined,
    tolerance: number,
  ): readonly PlateValue[] => (value === undefined ? [] : [{ register, label, unit, value, tolerance }]);
  const counts = valueOf(results.countsPerRevolution);
  return [
    ...plate('encoderIncrements', 'Encoder', 'counts per revolution', counts && toNumber(counts), 0),
    ...plate('motorRatedTorque', 'Rated torque of the motor', 'N·m', valueOf(results.ratedTorque), plateTolerance),
    ...plate('motorPeakTorque', 'Peak torque of the motor', 'N·m', valueOf(results.peakTorque), plateTolerance),
  ];
}
/** Plates are rounded. */
const plateTolerance = 0.02;

/** mm/s and the like at which a person may stand beside a jog: reduced speed of ISO 10218-1 (from memory) for what moves along a line. */
const reducedSpeed: Readonly<Record<AxisUnit, number>> = { mm: 250, deg: 90, rev: 0.25, mL: Infinity };

function axisMotion(
  document: AxisDocument,
  input: ReturnType<typeof axisInputOf>['input'],
  results: Evaluation<AxisValues>,
  profile: DriveProfile | undefined,
): AxisMotionPlan | NoMotionPlan {
  const scaling = axisScale(input, results);
  if ('because' in scaling) return { kind: 'unknown', because: `${scaling.because}. Complete the chain first.` };
  const { homing, testMove, settings, jogSpeed, motor } = document;
  const jogAcceleration = homing.acceleration ?? testMove.acceleration;
  const braking = testMove.acceleration ?? homing.acceleration;
  if (jogAcceleration === null || braking === null)
    return { kind: 'unknown', because: 'No acceleration is planned. Enter that of homing or of the test move.' };
  const unit = axisUnitOf(document);
  const highest = valueOf(results.highestSpeed) ?? Infinity;
  const reduced = reducedSpeed[unit];
  const counts = valueOf(results.countsPerRevolution);
  const jogLimit = Math.min(highest, reduced);
  const suspended = isSuspended(document, results);
  const [peak, rated] = [valueOf(results.testMovePeakTorque), valueOf(results.ratedTorque)];
  const quickStopDeceleration = 2 * braking;
  return {
    kind: 'axis',
    unit,
    ...scaling,
    // 1 rpm of the motor, 1 mm/s of a linear one.
    standstill: counts === undefined ? 0 : toNumber(counts) / (motor.form === 'linear' ? 1 : 60),
    jogSpeed,
    jogLimit,
    jogLimitedBy:
      highest <= reduced ? (valueOf(results.bindingLimits) ?? []).join(' and ') : 'the reduced speed for jogging',
    jogAcceleration,
    highestSpeed: highest,
    highestBy: (valueOf(results.bindingLimits) ?? []).join(' and '),
    testMoveTorque: peak !== undefined && rated ? (100 * peak) / rated : null,
    accelerationPerPercent: accelerationPerPercent(motor, results),
    moves: { ...document.moves, sweep: document.tuning.sweep },
    trial: trialPlan(document, input, results, profile),
    quickStopDeceleration,
    homingBy: homing.by,
    homingTimeOut: homingTimeOut(document, results),
    homingDigest: homingDigest(document),
    isSuspended: suspended,
    softLimits: { minus: settings.minusSoftLimit, plus: settings.plusSoftLimit },
    testMove: testMovePlan(testMove),
    guide: axisGuide(document, results, {
      unit,
      unitsPerCount: scaling.unitsPerCount,
      isSuspended: suspended,
      jogAcceleration,
      quickStopDeceleration,
      jogLimit,
    }),
  };
}

/** What 1 % of rated torque accelerates, friction aside; null where a plate is missing. */
function accelerationPerPercent(motor: AxisDocument['motor'], results: Evaluation<AxisValues>): number | null {
  const [rated, reflected, perRadian] = [
    valueOf(results.ratedTorque),
    valueOf(results.reflectedInertia),
    unitsPerRadian(results),
  ];
  if (motor.form !== 'rotary' || !perRadian || !rated || reflected === undefined || !motor.rotorInertia) return null;
  return ((rated / 100) * perRadian) / (motor.rotorInertia + reflected);
}

/** How a drive's numbers become the axis', with the direction of the mechanics in their sign. */
export function axisScale(
  input: ReturnType<typeof axisInputOf>['input'],
  results: Evaluation<AxisValues>,
): Pick<AxisMotionPlan, 'unitsPerCount' | 'incrementsPerUnit' | 'sign'> | { readonly because: string } {
  const { feedbackResolution } = results;
  // A drive that no pulses command still counts its own ramps in increments of its gear.
  const stepsPerUnit = hasGear(input.command)
    ? results.stepsPerUnit
    : map(
        all<[Exact, Exact, Exact]>(feedbackResolution, input.gearNumerator, input.gearDenominator),
        ([resolution, numerator, denominator]) => divide(denominator, multiply(resolution, numerator)),
      );
  if (feedbackResolution.state === 'unknown') return { because: feedbackResolution.because };
  if (stepsPerUnit.state === 'unknown') return { because: stepsPerUnit.because };
  const sign = countsSign(stationsOf(input, results));
  return {
    sign,
    unitsPerCount: sign * toNumber(feedbackResolution.value),
    incrementsPerUnit: sign * toNumber(stepsPerUnit.value),
  };
}

function testMovePlan({
  from,
  distance,
  speed,
  acceleration,
  jerk,
  dwell,
  repeats,
}: AxisDocument['testMove']): TestMovePlan | { readonly because: string } {
  return from === null ||
    distance === null ||
    speed === null ||
    acceleration === null ||
    dwell === null ||
    repeats === null
    ? { because: 'The test move has not been entered.' }
    : { from, distance, speed, acceleration, jerk, dwell, repeats };
}

function spindlePart(document: Extract<MemberDocument, { kind: 'spindle' }>, profile: DriveProfile | undefined): Part {
  const { input } = spindleInputOf(document);
  const results = evaluateSpindle(input);
  return {
    memberKind: 'spindle',
    planned: profile ? plannedSpindleValues(document, input, results, profile) : {},
    plates: [],
    motion: spindleMotion(document, input, results),
  };
}

function spindleMotion(
  document: SpindleDocument,
  input: SpindleInput,
  results: Evaluation<SpindleValues>,
): SpindleMotionPlan | NoMotionPlan {
  const perRpm = valueOf(results.hertzPerToolRpm);
  const range = valueOf(results.range);
  const ratio = valueOf(results.ratioNumber);
  if (!perRpm || !range || ratio === undefined)
    return { kind: 'unknown', because: 'The scaling of this spindle is not known yet. Complete its chain first.' };
  const test = runTestEvents(input, results);
  const top = Math.max(0, ...(valueOf(input.runTest.speeds) ?? []).map(({ toolSpeed }) => toolSpeed));
  return {
    kind: 'spindle',
    hertzPerToolRpm: toNumber(perRpm),
    ratio,
    highestToolSpeed: range.highest,
    highestBy: range.highestBy,
    rampDown: valueOf(input.settings.rampDown) ?? 10,
    guide: spindleGuide(document, results, {
      lowestSpeed: range.lowest,
      highestSpeed: range.highest,
      hertzPerToolRpm: toNumber(perRpm),
    }),
    runTest:
      test.state === 'unknown'
        ? { because: `The run test cannot be run: ${test.because}.` }
        : input.runTest.supplyCut
          ? {
              because:
                'A supply cut is only predicted. Remove it from the run test before running the test on the drive.',
            }
          : top > range.highest * 1.0005
            ? {
                because: `${top} rpm is above the ${Math.round(range.highest)} rpm that ${range.highestBy.join(' and ')} allow.`,
              }
            : test.value,
  };
}
