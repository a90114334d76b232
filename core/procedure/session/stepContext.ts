import { parameterOfRole } from '../../drive/index.ts';
import { settingsDigest, staleBecause } from '../../evidence/index.ts';
import { stepOf, type AnyStepContext, type Look, type StepResult, type StepResults } from '../guided/index.ts';
import { identityMark } from './deviceIdentity.ts';
import type { AxisMotionPlan, SpindleMotionPlan } from './memberPlan.ts';
import { noWatchdog } from './planChecks.ts';
import type { SessionState } from './sessionState.ts';
import { enabledKey, settingsHere } from './temporarySetting.ts';
import { driveState } from './turn.ts';

/** What may be moved; undefined: it is not known. */
export const motionOf = ({ plan }: SessionState): AxisMotionPlan | SpindleMotionPlan | undefined =>
  plan?.motion.kind === 'axis' || plan?.motion.kind === 'spindle' ? plan.motion : undefined;

/** Registers without which a drive is not moved from here. */
const neededRegisters = [
  'controlword',
  'statusword',
  'modeOfOperation',
  'targetVelocity',
  'targetPosition',
  'positionCounts',
];

/**
 * Whether a drive can be enabled and moved over its link, and stops automatically when the link fails; an axis also needs a torque limit.
 */
function canCommand({ profile, link, plan }: SessionState): boolean {
  if (!profile || link !== 'up') return false;
  // Over one link only one of two motors would move.
  if (plan?.motion.kind === 'axis' && plan.motion.guide.isPair) return false;
  if (plan?.motion.kind === 'spindle')
    return (
      plan.motion.guide.isOverLink &&
      profile.registers.speedReference !== undefined &&
      noWatchdog(profile, 'busTimeOut') === undefined
    );
  return (
    neededRegisters.every((key) => profile.registers[key]) &&
    parameterOfRole(profile, 'torqueLimit') !== undefined &&
    noWatchdog(profile, 'watchdogTime') === undefined
  );
}

/** Of what steps depend on in the plan; a change of gains or test moves leaves what was seen as it is. */
export function stepDigest(motion: AxisMotionPlan | SpindleMotionPlan, step: string): string {
  if (motion.kind === 'spindle') return settingsDigest({ guide: JSON.stringify(motion.guide) });
  const { unitsPerCount, sign, guide } = motion;
  const { unitsPerTurn, travel, isEndless, isSuspended, brake, loopIn, commandedBy } = guide;
  return settingsDigest({
    unitsPerCount,
    sign,
    unitsPerTurn,
    travel: travel ?? '',
    isEndless: String(isEndless),
    isSuspended: String(isSuspended),
    brake: JSON.stringify(brake),
    loopIn,
    commandedBy,
    // What is proven of a homing also depends on how it is planned.
    ...(stepOf('axis', step)?.phase === 'Homing' ? { homing: JSON.stringify(guide.homing) } : {}),
  });
}

/** Why the evidence of a step does not hold for this device and plan; undefined: it does. */
export function stepStale(state: SessionState, evidence: SessionState['stepEvidence'][number]): string | undefined {
  const motion = motionOf(state);
  const { identity } = state;
  const now = {
    identity: identity && identityMark(identity),
    digest: motion && stepDigest(motion, evidence.payload.step),
  };
  return staleBecause(evidence, now) ?? failedSince(state, evidence) ?? tooOld(state, evidence);
}

/** The step that evidence is about. */
const stepAt = (state: SessionState, step: string) => stepOf(motionOf(state)?.kind ?? 'axis', step);

/** What holds for a while only. */
function tooOld(state: SessionState, { madeAt, payload }: SessionState['stepEvidence'][number]): string | undefined {
  const { clock } = state;
  const { holdsFor } = stepAt(state, payload.step) ?? {};
  if (holdsFor === undefined || !clock || clock.wall - Date.parse(madeAt) < holdsFor) return undefined;
  return `it was confirmed more than ${Math.round(holdsFor / 60_000)} minutes ago`;
}

/** A step that this one stands on has failed since: what was seen then says nothing any more. */
function failedSince(state: SessionState, { madeAt, payload }: StepEvidence): string | undefined {
  const needed = stepsBelow(state, payload.step);
  const failed = state.stepEvidence.find(
    (each) => needed.has(each.payload.step) && isBad(state, each.payload) && each.madeAt > madeAt,
  );
  return failed && `“${stepAt(state, failed.payload.step)?.title ?? ''}” has failed since`;
}
type StepEvidence = SessionState['stepEvidence'][number];

/** It has failed; left out with a reason, that is still so. */
const isBad = (state: SessionState, { step, verdict, sign }: StepEvidence['payload']): boolean =>
  verdict === 'failed' || (verdict === 'skipped' && sign !== '' && !stepAt(state, step)?.passes.includes(sign));

/** Every step that has to come before a step, and what has to come before those. */
function stepsBelow(state: SessionState, step: string, found = new Set<string>()): ReadonlySet<string> {
  for (const needed of stepAt(state, step)?.needs ?? []) {
    if (found.has(needed)) continue;
    found.add(needed);
    stepsBelow(state, needed, found);
  }
  return found;
}

/** How the steps of this axis have come out, as far as that still holds. */
export const stepResults = (state: SessionState): StepResults =>
  Object.fromEntries(
    state.stepEvidence.flatMap((evidence) => {
      if (stepStale(state, evidence) !== undefined) return [];
      const { step, ...result } = evidence.payload;
      return [[step, result satisfies StepResult] as const];
    }),
  );

export function stepContext(state: SessionState, given: Readonly<Record<string, number>>): AnyStepContext | undefined {
  const motion = motionOf(state);
  if (!motion) return undefined;
  const temporary = settingsHere(state).filter(({ key }) => key !== enabledKey).length;
  const profile = state.profile ?? state.plan?.profile;
  const base = {
    profile,
    inputs: profile?.inputs ?? [],
    canCommand: canCommand(state),
    watchdog: state.watchdog === undefined ? undefined : state.watchdog / 1000,
    results: stepResults(state),
    given: { ...given, temporary },
  };
  return motion.kind === 'axis'
    ? {
        ...base,
        kind: 'axis',
        guide: motion.guide,
        unitsPerCount: motion.unitsPerCount,
        isHomed: state.status?.values.homed === 1,
      }
    : { ...base, kind: 'spindle', guide: motion.guide };
}

/** What the newest status shows, for a step that watches. */
export function lookOf(state: SessionState): Look | undefined {
  const { status, profile } = state;
  const motion = motionOf(state);
  if (!status || !motion) return undefined;
  const { values, requestedAt } = status;
  const { inputStates, inputs = 0, outputStates = 0 } = values;
  const on = <T extends { readonly bit: number }>(all: readonly T[] | undefined, bits: number): readonly T[] =>
    (all ?? []).filter(({ bit }) => ((bits >>> bit) & 1) === 1);
  return {
    at: requestedAt,
    state: driveState(state, requestedAt),
    errorCode: values.errorCode ?? 0,
    active: on(profile?.inputs, inputStates ?? inputs),
    outputs: on(profile?.outputs, outputStates),
    ...(motion.kind === 'axis' ? axisLook(state, motion, values) : spindleLook(state, motion, values)),
  };
}

type Values = Readonly<Record<string, number>>;
type MotionLook = Omit<Look, 'at' | 'state' | 'errorCode' | 'active' | 'outputs'>;

function axisLook({ script, profile }: SessionState, motion: AxisMotionPlan, values: Values): MotionLook {
  const units = (counts: number | undefined) => (counts === undefined ? undefined : counts * motion.unitsPerCount);
  const { torque } = values;
  const jog =
    script?.activity === 'jogging'
      ? script.steps.find((step) => step.do === 'write' && step.register === 'targetVelocity' && step.raw !== 0)
      : undefined;
  return {
    position: units(values.positionCounts),
    isHomed: values.homed === 1,
    speed: units(values.velocityCounts),
    torque: torque === undefined ? undefined : motion.sign * torque * (profile?.registers.torque?.scale ?? 1),
    pressed: jog?.do === 'write' ? (jog.raw > 0 === motion.incrementsPerUnit > 0 ? 1 : -1) : 0,
  };
}

function spindleLook({ profile }: SessionState, { ratio }: SpindleMotionPlan, values: Values): MotionLook {
  const scaled = (register: string) => {
    const raw = values[register];
    return raw === undefined ? undefined : raw * (profile?.registers[register]?.scale ?? 1);
  };
  const motor = scaled('actualMotorSpeed');
  return {
    position: undefined,
    speed: undefined,
    torque: undefined,
    pressed: 0,
    hertz: scaled('outputHertz'),
    current: scaled('motorCurrent'),
    toolSpeed: motor === undefined ? undefined : motor / ratio,
  };
}
