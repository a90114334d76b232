import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import { parameterOfRole, type DriveProfile } from '@kavrid/core/drive';
import { tunedRoles, type TrialPlan, type TunedRole } from '@kavrid/core/procedure';
import type { Evaluation } from '@kavrid/core/sheet';
import { marginsOfModel } from '@kavrid/core/tuning';
import type { AxisDocument } from '../documents.ts';
import { loopModel } from './loopModel.ts';
import { plannedValues } from './plannedValues.ts';

/** The gains of the trial that are entered and not the planned ones. */
export const triedRoles = ({ settings, tuning }: AxisDocument): readonly TunedRole[] =>
  tunedRoles.filter((role) => tuning.trial[role] !== null && tuning.trial[role] !== settings[role]);

/** The axis as if the gains of its trial were planned. */
export const triedAxis = (axis: AxisDocument): AxisDocument => ({
  ...axis,
  settings: {
    ...axis.settings,
    ...Object.fromEntries(triedRoles(axis).map((role) => [role, axis.tuning.trial[role]])),
  },
});

/** What a drive tries, in the units of its parameters, and whether the model calls it stable. */
export function trialPlan(
  axis: AxisDocument,
  input: AxisInput,
  results: Evaluation<AxisValues>,
  profile: DriveProfile | undefined,
): TrialPlan {
  const tried = triedAxis(axis);
  const planned = profile ? plannedValues(tried, input, results, profile) : {};
  const values: Partial<Record<TunedRole, number | null>> = {};
  for (const role of triedRoles(axis)) {
    const parameter = profile && parameterOfRole(profile, role);
    // What a drive has no parameter for is refused by name when it is to be written.
    values[role] = parameter ? (planned[parameter.key] ?? null) : axis.tuning.trial[role];
  }
  return { values, model: modelOf(tried, results) };
}

function modelOf(tried: AxisDocument, results: Evaluation<AxisValues>): TrialPlan['model'] {
  const model = loopModel(tried, results);
  if (model.state === 'unknown') return { is: 'unknown', because: model.because };
  const { speed, position } = marginsOfModel(model.value);
  return { is: speed.isStable && position.isStable ? 'stable' : 'unstable' };
}
