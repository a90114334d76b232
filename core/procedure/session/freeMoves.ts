import { operationMode, parameterOfRole } from '../../drive/index.ts';
import { neededTorque } from '../guided/index.ts';
import { increments, moveSteps, profileOf, recorded, toMode, write } from './axisScripts.ts';
import { torqueSteps, windowSteps } from './guidedScripts.ts';
import type { AxisMotionPlan, MemberPlan } from './memberPlan.ts';
import type { MoveOrder } from './movesPlan.ts';
import { pressRoles } from './planChecks.ts';
import type { DriveProfile } from '../../drive/index.ts';
import type { RunKind } from './runKind.ts';
import type { Step } from './step.ts';

/** Where the axis stands, and what its moves go by. */
export interface MoveSite {
  readonly plan: MemberPlan;
  readonly profile: DriveProfile;
  readonly motion: AxisMotionPlan;
  /** axis units */
  readonly position: number;
  readonly isHomed: boolean;
}

export type MovePlan = { readonly activity: RunKind; readonly steps: readonly Step[] } | { readonly because: string };

/** s that a step jog may take: it goes on when the button is released. */
const longestStep = 3;
/** Speeds of a series at most. */
const mostSpeeds = 30;
/** s in which the demand of a speed step rises. */
const stepRise = 0.001;

const shown = (value: number): string => String(Number(value.toPrecision(5)));

/** Why a stretch must not be gone; undefined: it may. @param ends axis units */
export function outsideSoftLimits({ softLimits, unit }: AxisMotionPlan, ends: readonly number[]): string | undefined {
  const { minus, plus } = softLimits;
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  if (minus !== null && low < minus)
    return `The move goes to ${shown(low)} ${unit}, beyond the minus soft limit of ${shown(minus)} ${unit}.`;
  if (plus !== null && high > plus)
    return `The move goes to ${shown(high)} ${unit}, beyond the plus soft limit of ${shown(plus)} ${unit}.`;
  return undefined;
}

/** Why a speed must not be gone at; undefined: it may. */
function tooFast({ highestSpeed, highestBy, unit }: AxisMotionPlan, speed: number): string | undefined {
  return speed > highestSpeed * (1 + 1e-9)
    ? `${shown(speed)} ${unit}/s is above ${shown(highestSpeed)} ${unit}/s, limited by ${highestBy}.`
    : undefined;
}

/** Why the torque would not do; undefined: it does, or is not known. */
function tooMuchTorque({ testMoveTorque, guide }: AxisMotionPlan): string | undefined {
  const limit = guide.plannedTorqueLimit;
  return testMoveTorque !== null && limit !== null && testMoveTorque > limit
    ? `The acceleration needs ${shown(testMoveTorque)} % of rated torque, more than the torque limit of ${shown(limit)} %.`
    : undefined;
}

/** Why a torque limit would not even move the axis; undefined: it does, or is not known. */
export function tooLittleTorque({ guide }: AxisMotionPlan, torque: number): string | undefined {
  const needed = neededTorque(guide);
  return needed !== undefined && torque < needed
    ? `With ${shown(torque)} % the axis does not move: friction and load take ${shown(needed)} % of rated torque.`
    : undefined;
}

const homeFirst = 'Home the axis first: this move goes to a position.';

/** What a move consists of, or why it is refused before anything moves. */
export function movePlan(order: Exclude<MoveOrder, { readonly kind: 'trial' }>, site: MoveSite): MovePlan {
  switch (order.kind) {
    case 'step':
      return stepPlan(order.direction, site);
    case 'to':
    case 'by':
      return positionPlan(order.kind, site);
    case 'faster':
      return fasterPlan(site);
    case 'response':
      return responsePlan(order.shape, order.direction, site);
    case 'wait':
      return waitPlan(order.direction, site);
    case 'press':
      return pressPlan(order.direction, site);
    case 'sweep':
      return sweepPlan(site);
  }
}

/** The speed of moves that a person makes one by one: that of a jog. */
const handSpeed = ({ jogSpeed, jogLimit }: AxisMotionPlan): number => Math.min(jogSpeed ?? jogLimit, jogLimit);

const oneMove = (motion: AxisMotionPlan, from: number, distance: number, speed: number, acceleration: number) =>
  ({ from, distance, speed, acceleration, jerk: null, dwell: 0, repeats: 1 }) as const;

function stepPlan(direction: 1 | -1, { motion, position, isHomed }: MoveSite): MovePlan {
  const { jogStep } = motion.moves;
  if (jogStep === null) return { because: 'Enter the length of a step first.' };
  if (motion.jogSpeed === null) return { because: 'No jog speed has been entered.' };
  const speed = handSpeed(motion);
  const seconds = jogStep / speed + speed / motion.jogAcceleration;
  if (seconds > longestStep)
    return {
      because: `A step of ${shown(jogStep)} ${motion.unit} takes ${shown(seconds)} s at ${shown(speed)} ${motion.unit}/s; a step takes ${longestStep} s at most. Make it shorter, or jog.`,
    };
  const to = position + direction * jogStep;
  const outside = isHomed ? outsideSoftLimits(motion, [to]) : undefined;
  if (outside !== undefined) return { because: outside };
  return {
    activity: 'move',
    steps: [
      { do: 'check', roles: pressRoles },
      ...profileOf(motion, speed, oneMove(motion, position, jogStep, speed, motion.jogAcceleration)),
      ...moveSteps(motion, to, longestStep + 2),
    ],
  };
}

function positionPlan(kind: 'to' | 'by', { motion, position, isHomed }: MoveSite): MovePlan {
  const { target, by } = motion.moves;
  const value = kind === 'to' ? target : by;
  if (value === null) return { because: kind === 'to' ? 'Enter the position first.' : 'Enter the distance first.' };
  if (!isHomed) return { because: homeFirst };
  const to = kind === 'to' ? value : position + value;
  const because = outsideSoftLimits(motion, [to]);
  if (because !== undefined) return { because };
  const speed = handSpeed(motion);
  return {
    activity: 'move',
    steps: [
      { do: 'check', roles: pressRoles },
      ...profileOf(motion, speed, oneMove(motion, position, to - position, speed, motion.jogAcceleration)),
      ...recorded('move'),
      { do: 'tell', progress: `Going to ${shown(to)} ${motion.unit}` },
      ...moveSteps(motion, to, 10 + Math.abs(to - position) / speed),
      { do: 'dwell', seconds: 0.3 },
    ],
  };
}

/** The speeds of a series, the last one included. */
export function seriesSpeeds(from: number, step: number, to: number): readonly number[] {
  const count = Math.floor((to - from) / step + 1e-9);
  const speeds = Array.from({ length: Math.min(count, mostSpeeds) + 1 }, (_, k) => from + k * step);
  return (speeds.at(-1) ?? 0) < to * (1 - 1e-9) ? [...speeds, to] : speeds;
}

function fasterPlan({ motion, isHomed, position }: MoveSite): MovePlan {
  const { from, step, to, followingError, torque } = motion.moves.faster;
  const { testMove, unit } = motion;
  if ('because' in testMove) return testMove;
  if (from === null || step === null || to === null)
    return { because: 'Enter the first speed, the step and the last speed first.' };
  if (to < from)
    return { because: `The last speed, ${shown(to)} ${unit}/s, is below the first, ${shown(from)} ${unit}/s.` };
  if ((to - from) / step > mostSpeeds)
    return { because: `These are ${Math.ceil((to - from) / step) + 1} speeds; a series has ${mostSpeeds} at most.` };
  if (!isHomed) return { because: homeFirst };
  const { distance, acceleration, dwell } = testMove;
  const way = to ** 2 / acceleration;
  if (way > Math.abs(distance))
    return {
      because: `${shown(to)} ${unit}/s is not reached within ${shown(Math.abs(distance))} ${unit} at ${shown(acceleration)} ${unit}/s²: that takes ${shown(way)} ${unit}.`,
    };
  const because =
    tooFast(motion, to) ??
    tooMuchTorque(motion) ??
    outsideSoftLimits(motion, [testMove.from, testMove.from + distance]);
  if (because !== undefined) return { because };
  const off = Math.abs(position - testMove.from);
  if (!(off <= Math.abs(distance) / 1000 + 10 * Math.abs(motion.unitsPerCount)))
    return {
      because: `The axis is ${shown(off)} ${unit} away from the start of the test move. Go to the start first.`,
    };
  return {
    activity: 'speed series',
    steps: [
      { do: 'check', roles: pressRoles },
      ...recorded('speed series'),
      ...seriesSpeeds(from, step, to).flatMap((speed): readonly Step[] => [
        { do: 'tell', progress: `${shown(speed)} ${unit}/s` },
        { do: 'watch peaks' },
        ...profileOf(motion, speed, { ...testMove, speed }),
        ...[testMove.from + distance, testMove.from].flatMap((end): readonly Step[] => [
          ...moveSteps(motion, end, 60 + Math.abs(distance) / speed),
          { do: 'dwell', seconds: Math.max(dwell, 0.1) },
        ]),
        {
          do: 'judge peaks',
          at: `${shown(speed)} ${unit}/s`,
          unit,
          unitsPerCount: Math.abs(motion.unitsPerCount),
          followingError,
          torque,
        },
      ]),
    ],
  };
}

function responsePlan(shape: 'step' | 'ramp', direction: 1 | -1, { motion, position, isHomed }: MoveSite): MovePlan {
  const { speed, seconds } = motion.moves.response;
  if (speed === null || seconds === null) return { because: 'Enter the speed and the time first.' };
  if (!isHomed) return { because: 'Home the axis first: its soft limits are then known.' };
  const acceleration = shape === 'step' ? speed / stepRise : motion.jogAcceleration;
  // It brakes along the same ramp; a step that the motor cannot follow takes as long as the quick stop at most.
  const braking = speed ** 2 / (2 * Math.min(acceleration, motion.quickStopDeceleration));
  const because =
    (speed > motion.jogLimit
      ? `${shown(speed)} ${motion.unit}/s is above ${shown(motion.jogLimit)} ${motion.unit}/s, limited by ${motion.jogLimitedBy}.`
      : undefined) ?? outsideSoftLimits(motion, [position, position + direction * (speed * seconds + 2 * braking)]);
  if (because !== undefined) return { because };
  const raw = increments(acceleration, motion);
  return {
    activity: 'response',
    steps: [
      { do: 'check', roles: pressRoles },
      ...toMode(operationMode.profileVelocity),
      write('profileAcceleration', raw),
      write('profileDeceleration', raw),
      ...recorded('response', 4),
      write('targetVelocity', Math.round(direction * speed * motion.incrementsPerUnit), true),
      { do: 'dwell', seconds },
      write('targetVelocity', 0),
      { do: 'await', what: 'Standstill', until: { is: 'at rest' }, seconds: 5 + speed / motion.jogAcceleration },
      { do: 'dwell', seconds: 0.3 },
    ],
  };
}

/** A speed along the ramp, with the waiting set-point that the drive was proven to have. */
function waitPlan(direction: 1 | -1, site: MoveSite): MovePlan {
  const { speedGap, positionGap } = site.motion.moves.wait;
  if (speedGap === null && positionGap === null)
    return { because: 'Enter the gap in speed or in position first, and write it to the drive.' };
  const missing = [
    ...(speedGap !== null && !parameterOfRole(site.profile, 'waitSpeedGap') ? ['waitSpeedGap'] : []),
    ...(positionGap !== null && !parameterOfRole(site.profile, 'waitPositionGap') ? ['waitPositionGap'] : []),
  ];
  if (missing.length > 0)
    return {
      because: `The register map has no parameter with the role ${missing.join(' or ')}: this drive has no set-point that waits.`,
    };
  const made = responsePlan('ramp', direction, site);
  if ('because' in made) return made;
  const [first, ...rest] = made.steps;
  return first?.do === 'check'
    ? { ...made, steps: [{ do: 'check', roles: [...first.roles, 'waitSpeedGap', 'waitPositionGap'] }, ...rest] }
    : made;
}

/** Room for the following error while it pushes, in travels. */
const pressWindow = 2;

function pressPlan(direction: 1 | -1, { plan, profile, motion, position, isHomed }: MoveSite): MovePlan {
  const { speed, torque, travel, seconds } = motion.moves.press;
  if (speed === null || torque === null || travel === null || seconds === null)
    return { because: 'Enter speed, torque, travel and time first.' };
  if (!isHomed) return { because: 'Home the axis first: its soft limits are then known.' };
  const limit = motion.guide.plannedTorqueLimit;
  const because =
    (speed > motion.jogLimit
      ? `${shown(speed)} ${motion.unit}/s is above ${shown(motion.jogLimit)} ${motion.unit}/s, limited by ${motion.jogLimitedBy}.`
      : undefined) ??
    tooLittleTorque(motion, torque) ??
    (limit !== null && torque > limit
      ? `${shown(torque)} % is above the planned torque limit of ${shown(limit)} %.`
      : undefined) ??
    (motion.isSuspended
      ? 'The load is suspended: with a lowered torque limit it could fall. Press with a load that stays where it is.'
      : undefined) ??
    outsideSoftLimits(motion, [position, position + direction * travel]);
  if (because !== undefined) return { because };
  const window = windowSteps(profile, plan, motion, pressWindow * travel);
  if (typeof window === 'string') return { because: window };
  const ramp = increments(motion.jogAcceleration, motion);
  return {
    activity: 'press',
    steps: [
      { do: 'check', roles: pressRoles },
      ...torqueSteps(profile, motion, torque),
      ...window,
      ...toMode(operationMode.profileVelocity),
      write('profileAcceleration', ramp),
      write('profileDeceleration', ramp),
      ...recorded('press'),
      { do: 'tell', progress: 'Moving until something holds it' },
      write('targetVelocity', Math.round(direction * speed * motion.incrementsPerUnit), true),
      {
        do: 'await',
        what: 'Contact',
        until: {
          is: 'held',
          torque,
          fromCounts: position / motion.unitsPerCount,
          travelCounts: Math.abs(travel / motion.unitsPerCount),
        },
        seconds: 5 + (2 * travel) / speed,
      },
      { do: 'tell', progress: `Held with ${shown(torque)} %` },
      write('targetVelocity', 0),
      { do: 'dwell', seconds },
      { do: 'tell', progress: 'Going back' },
      ...profileOf(motion, speed, oneMove(motion, position, 0, speed, motion.jogAcceleration)),
      ...moveSteps(motion, position, 10 + (2 * travel) / speed),
      { do: 'dwell', seconds: 0.3 },
    ],
  };
}

/** s of a sweep; Hz that a trace of a sample a millisecond shows well. */
const [sweepSeconds, fastestSweep] = [10, 400];
const sweepRegisters = [
  'sweepFrom',
  'sweepTo',
  'sweepTime',
  'sweepSpeed',
  'sweepAcceleration',
  'sweepTravel',
  'sweepRun',
] as const;

function sweepPlan({ profile, motion, position, isHomed }: MoveSite): MovePlan {
  const { from, to, torque, travel } = motion.moves.sweep;
  const { unit, accelerationPerPercent } = motion;
  if (from === null || to === null || torque === null || travel === null)
    return { because: 'Enter both frequencies, torque and travel of the sweep first.' };
  const missing = sweepRegisters.find((key) => !profile.registers[key]);
  if (missing !== undefined)
    return {
      because: `The register map has no register ${missing}: this drive has no sweep. Import a trace with an excitation instead.`,
    };
  if (to <= from)
    return { because: `The last frequency, ${shown(to)} Hz, should be above the first, ${shown(from)} Hz.` };
  if (to > fastestSweep)
    return { because: `${shown(to)} Hz is above the ${fastestSweep} Hz that the trace of the drive shows.` };
  if (accelerationPerPercent === null)
    return {
      because: 'The inertia or the rated torque of the motor is not known: the torque of the sweep cannot be limited.',
    };
  if (!isHomed) return { because: 'Home the axis first: its soft limits are then known.' };
  const limit = motion.guide.plannedTorqueLimit;
  if (limit !== null && torque > limit)
    return { because: `${shown(torque)} % is above the planned torque limit of ${shown(limit)} %.` };
  const outside = outsideSoftLimits(motion, [position - travel, position + travel]);
  if (outside !== undefined) return { because: outside };
  const set = (register: (typeof sweepRegisters)[number], value: number): readonly Step[] => {
    const raw = Math.max(1, Math.round(value / (profile.registers[register]?.scale ?? 1)));
    return [write(register, raw), { do: 'read back', register, raw }];
  };
  const perUnit = Math.abs(motion.incrementsPerUnit);
  const acceleration = torque * accelerationPerPercent;
  // What ends it early brakes as hard as it swings: whatever ramp was in the drive before.
  const ramp = increments(acceleration, motion);
  return {
    activity: 'sweep',
    steps: [
      { do: 'check', roles: pressRoles },
      ...toMode(operationMode.profileVelocity),
      ...set('sweepFrom', from),
      ...set('sweepTo', to),
      ...set('sweepTime', sweepSeconds),
      ...set('sweepSpeed', motion.jogLimit * perUnit),
      ...set('sweepAcceleration', acceleration * perUnit),
      ...set('sweepTravel', travel * perUnit),
      write('profileAcceleration', ramp),
      write('profileDeceleration', ramp),
      ...recorded('sweep'),
      {
        do: 'tell',
        progress: `Sweep from ${shown(from)} to ${shown(to)} Hz in ${sweepSeconds} s, within ${shown(travel)} ${unit}`,
      },
      write('sweepRun', 1, true),
      { do: 'dwell', seconds: sweepSeconds + 0.2 },
      { do: 'await', what: 'Standstill after the sweep', until: { is: 'at rest' }, seconds: 5 },
      { do: 'dwell', seconds: 0.3 },
    ],
  };
}
