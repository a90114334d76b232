import { parameterOfRole, toRaw, type DriveProfile } from '../../drive/index.ts';
import { moveSteps, profileOf, recorded } from './axisScripts.ts';
import { putBack } from './driveDataMessages.ts';
import { outsideSoftLimits, type MovePlan, type MoveSite } from './freeMoves.ts';
import { pressRoles } from './planChecks.ts';
import type { Step } from './step.ts';
import { tunedRoles, type TrialPlan } from './tunedRoles.ts';
import type { TemporarySetting } from './temporarySetting.ts';

/** Sets the gains of a trial for now, each read back. A text: why not. */
function trialSteps(profile: DriveProfile, { values }: TrialPlan): readonly Step[] | string {
  const steps: Step[] = [];
  for (const role of tunedRoles) {
    const value = values[role];
    if (value === undefined) continue;
    const parameter = parameterOfRole(profile, role);
    if (!parameter) return `The register map has no parameter with the role ${role}: this gain cannot be tried.`;
    if (parameter.takesEffect !== 'at once')
      return `${parameter.label} takes effect after a restart only: it cannot be tried.`;
    if (value === null)
      return `${parameter.label} is in ${parameter.unit || 'numbers of its own'} by the register map: this unit is not known, so it cannot be tried.`;
    const raw = toRaw(parameter, value);
    if ('because' in raw) return `${raw.because}: it cannot be tried.`;
    steps.push(
      { do: 'set temporarily', role, raw: raw.raw },
      { do: 'read back parameter', key: parameter.key, raw: raw.raw },
    );
  }
  return steps;
}

const notMeant = 'To try them all the same, confirm that you mean it; keep a hand on the hardware stop.';

/**
 * The test move once with the gains as planned and once with those of the trial, in one recording; the trial gains stay until they are kept
 * or put back, and no longer than the motor is on.
 * @param isMeant gains that the model does not call stable are meant
 * @param left of an earlier trial, put back first
 */
export function trialPlan(site: MoveSite, isMeant: boolean, left: readonly TemporarySetting[]): MovePlan {
  const { motion, profile, position, isHomed } = site;
  const { trial, testMove, unit } = motion;
  if ('because' in testMove) return testMove;
  if (Object.keys(trial.values).length === 0)
    return { because: 'Enter at least one trial gain that is not the planned one.' };
  if (trial.model.is === 'unstable' && !isMeant)
    return { because: `By the model these gains are unstable. ${notMeant}` };
  if (trial.model.is === 'unknown' && !isMeant)
    return { because: `Whether these gains are stable is not known: ${trial.model.because}. ${notMeant}` };
  const gains = trialSteps(profile, trial);
  if (typeof gains === 'string') return { because: gains };
  if (!isHomed) return { because: 'Home the axis first: a test move runs between two positions.' };
  const { from, distance, speed, dwell } = testMove;
  const outside = outsideSoftLimits(motion, [from, from + distance]);
  if (outside !== undefined) return { because: outside };
  const off = Math.abs(position - from);
  if (!(off <= Math.abs(distance) / 1000 + 10 * Math.abs(motion.unitsPerCount)))
    return {
      because: `The axis is ${Number(off.toPrecision(3))} ${unit} away from the start of the test move. Go to the start first.`,
    };
  const thereAndBack = [from + distance, from].flatMap((end): readonly Step[] => [
    ...moveSteps(motion, end, 60 + Math.abs(distance) / speed),
    { do: 'dwell', seconds: Math.max(dwell, 0.5) },
  ]);
  return {
    activity: 'gain trial',
    steps: [
      ...left.flatMap(putBack),
      { do: 'check', roles: [...pressRoles, ...tunedRoles] },
      ...profileOf(motion, speed, testMove),
      ...recorded('gain trial'),
      { do: 'tell', progress: 'With the planned gains' },
      ...thereAndBack,
      { do: 'tell', progress: 'Writing the trial gains' },
      ...gains,
      { do: 'tell', progress: 'With the trial gains' },
      ...thereAndBack,
    ],
  };
}
