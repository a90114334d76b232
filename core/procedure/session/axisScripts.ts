import { controlBit, controlword, operationMode } from '../../drive/index.ts';
import type { AxisMotionPlan, TestMovePlan } from './memberPlan.ts';
import { enableRoles, homingRoles, pressRoles } from './planChecks.ts';
import type { RunKind } from './runKind.ts';
import type { Step } from './step.ts';

/** A length of the drive's own ramps and speeds: whole and above zero, whichever way the mechanics turn. */
export const increments = (perUnit: number, { incrementsPerUnit }: AxisMotionPlan): number =>
  Math.max(1, Math.round(perUnit * Math.abs(incrementsPerUnit)));

/** Object 0x6085. */
export const quickStopIncrements = (motion: AxisMotionPlan): number => increments(motion.quickStopDeceleration, motion);

export const write = (register: string, raw: number, isMotion = false): Step => ({
  do: 'write',
  register,
  raw,
  isMotion,
});

/** At rest first, then the mode, then a look whether the drive is in it. */
export const toMode = (mode: number): readonly Step[] => [
  write('targetVelocity', 0),
  write('modeOfOperation', mode),
  { do: 'await', what: 'The change of mode', until: { is: 'mode', mode }, seconds: 2 },
];

/** Checks the drive against the plan, gives it the command source for now, and takes it to operation enabled, at rest. */
export function enableSteps(motion: AxisMotionPlan): readonly Step[] {
  const braking = quickStopIncrements(motion);
  return [
    { do: 'check', roles: enableRoles },
    { do: 'set temporarily', role: 'commandSource', raw: 1 },
    write('quickStopDeceleration', braking),
    { do: 'read back', register: 'quickStopDeceleration', raw: braking },
    write('targetVelocity', 0),
    write('modeOfOperation', operationMode.profileVelocity),
    { do: 'remember motor' },
    { do: 'enable', bits: 0 },
  ];
}

/** @param speed axis units/s, signed */
export function jogSteps(motion: AxisMotionPlan, speed: number, mode: number | undefined): readonly Step[] {
  const acceleration = increments(motion.jogAcceleration, motion);
  return [
    { do: 'check', roles: pressRoles },
    ...(mode === operationMode.profileVelocity ? [] : toMode(operationMode.profileVelocity)),
    write('profileAcceleration', acceleration),
    write('profileDeceleration', acceleration),
    write('targetVelocity', Math.round(speed * motion.incrementsPerUnit), true),
    { do: 'hold' },
  ];
}

/**
 * A jog that stops short of a fence automatically, and stands there for as long as the button is held. @param speed axis units/s, signed
 * @param seconds after which the fence should have been reached
 */
export function fencedJogSteps(
  motion: AxisMotionPlan,
  fence: number,
  speed: number,
  mode: number | undefined,
  seconds: number,
): readonly Step[] {
  const counts = (units: number) => units / motion.unitsPerCount;
  const deceleration = Math.abs(counts(motion.jogAcceleration));
  return [
    ...jogSteps(motion, speed, mode).filter(({ do: kind }) => kind !== 'hold'),
    {
      do: 'await',
      what: 'The way to the fence',
      until: { is: 'at fence', counts: counts(fence), sense: Math.sign(counts(speed)) as 1 | -1, deceleration },
      seconds,
    },
    write('targetVelocity', 0),
    { do: 'hold' },
  ];
}

/** s that an axis stands recorded before its first motion. */
const standsBefore = 0.1;

/** Records from before the first motion. @param periodSteps of the drive from sample to sample */
export const recorded = (kind: RunKind, periodSteps = 8): readonly Step[] => [
  { do: 'record', kind, periodSteps },
  { do: 'dwell', seconds: standsBefore },
];

/** The drive's own homing. */
export const homeSteps = (motion: AxisMotionPlan, progress = 'Homing', isRecorded = true): readonly Step[] => [
  { do: 'tell', progress },
  { do: 'check', roles: homingRoles },
  ...toMode(operationMode.homing),
  ...(isRecorded ? recorded('homing', 32) : []),
  write('controlword', controlword.enableOperation, true),
  write('controlword', controlword.enableOperation | controlBit.startHoming, true),
  { do: 'await', what: 'Homing', until: { is: 'homing ended' }, seconds: motion.homingTimeOut ?? 120 },
  { do: 'dwell', seconds: 0.15 },
];

export function moveSteps(motion: AxisMotionPlan, position: number, seconds: number): readonly Step[] {
  return [
    write('targetPosition', Math.round(position * motion.incrementsPerUnit)),
    write('controlword', controlword.enableOperation, true),
    write('controlword', controlword.enableOperation | controlBit.newSetPoint, true),
    {
      do: 'await',
      what: 'The response of the drive to the target (is it outside the soft limits?)',
      until: { is: 'set-point acknowledged' },
      seconds: 1,
    },
    { do: 'await', what: 'A move', until: { is: 'target reached' }, seconds },
  ];
}

export const profileOf = (
  motion: AxisMotionPlan,
  speed: number,
  { acceleration, jerk }: TestMovePlan,
): readonly Step[] => [
  ...toMode(operationMode.profilePosition),
  write('profileVelocity', increments(speed, motion)),
  write('profileAcceleration', increments(acceleration, motion)),
  write('profileDeceleration', increments(acceleration, motion)),
  write('profileJerk', jerk === null ? 0 : increments(jerk, motion)),
];

/** The speed at which a test move's start is approached: no faster than a jog. */
export const approachSpeed = (motion: AxisMotionPlan, { speed }: TestMovePlan): number =>
  Math.min(speed, motion.jogSpeed ?? speed, motion.jogLimit);

/** A little way from where it stands, slowly: the speed is reached within half of it. */
export function relativeMoveSteps(
  motion: AxisMotionPlan,
  position: number,
  distance: number,
  acceleration: number,
): readonly Step[] {
  const speed = Math.min(motion.jogLimit, Math.sqrt(acceleration * Math.abs(distance)));
  const test = { from: position, distance, speed, acceleration, jerk: null, dwell: 0, repeats: 1 };
  return [...profileOf(motion, speed, test), ...moveSteps(motion, position + distance, 3)];
}

/** To a start from which it is homed again, no faster than a jog. */
export function returnSteps(motion: AxisMotionPlan, start: number): readonly Step[] {
  const speed = Math.min(motion.jogSpeed ?? motion.jogLimit, motion.jogLimit);
  const move = {
    from: start,
    distance: 0,
    speed,
    acceleration: motion.jogAcceleration,
    jerk: null,
    dwell: 0,
    repeats: 1,
  };
  return [
    { do: 'tell', progress: `Going to ${Number(start.toPrecision(4))} ${motion.unit}` },
    ...profileOf(motion, speed, move),
    ...moveSteps(motion, start, 600),
  ];
}

/** To where the test move begins. */
export function goToStartSteps(motion: AxisMotionPlan, move: TestMovePlan): readonly Step[] {
  return [
    { do: 'tell', progress: 'Going to the start' },
    { do: 'check', roles: pressRoles },
    ...profileOf(motion, approachSpeed(motion, move), move),
    ...moveSteps(motion, move.from, 600),
  ];
}

/** There and back as often as planned, with a dwell after each move. */
export function testMoveSteps(motion: AxisMotionPlan, move: TestMovePlan): readonly Step[] {
  const { from, distance, speed, dwell, repeats } = move;
  const count = 2 * repeats;
  return [
    { do: 'check', roles: pressRoles },
    ...profileOf(motion, speed, move),
    ...recorded('test move'),
    ...Array.from({ length: count }, (_, k): readonly Step[] => [
      { do: 'tell', progress: `Move ${k + 1} of ${count}` },
      ...moveSteps(motion, k % 2 === 0 ? from + distance : from, 60 + Math.abs(distance) / speed),
      { do: 'dwell', seconds: dwell },
    ]).flat(),
    { do: 'dwell', seconds: 0.15 },
  ];
}
