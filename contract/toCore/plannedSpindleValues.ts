import type { DriveParameter, DriveProfile, PlannedSetting, PlannedValues } from '@kavrid/core/drive';
import { conversion, parseUnit, sameDimension, toNumber } from '@kavrid/core/quantity';
import type { Evaluation } from '@kavrid/core/sheet';
import type { SpindleInput, SpindleValues } from '@kavrid/core/spindle';
import type { SpindleDocument } from '../spindleDocument.ts';
import { spindleDrivePlan } from './spindleEndPlans.ts';

/** The planned drive values of a spindle, by parameter key and in the parameter's own unit: the plan of its key-in sheet. */
export function plannedSpindleValues(
  spindle: SpindleDocument,
  input: SpindleInput,
  results: Evaluation<SpindleValues>,
  profile: DriveProfile,
): PlannedValues {
  const plan: ReadonlyMap<string, PlannedSetting> = spindleDrivePlan(spindle, input, results);
  const planned: Record<string, number> = {};
  for (const parameter of profile.parameters) {
    const setting = parameter.role && plan.get(parameter.role);
    const value = setting && valueFor(setting, parameter);
    if (value !== undefined) planned[parameter.key] = value;
  }
  return planned;
}

function valueFor(setting: PlannedSetting, { choices, unit }: DriveParameter): number | undefined {
  switch (setting.kind) {
    case 'word': {
      const choice = Object.entries(choices).find(([, words]) =>
        words.toLowerCase().startsWith(setting.word.toLowerCase()),
      );
      return choice && Number(choice[0]);
    }
    case 'switches':
      return undefined;
    case 'exact':
      return toNumber(setting.value);
    case 'number': {
      const [from, to] = [parseUnit(setting.unit), parseUnit(unit)];
      if (setting.unit === unit || !from || !to) return setting.value;
      return sameDimension(from.dimension, to.dimension)
        ? setting.value * toNumber(conversion(setting.unit, unit))
        : undefined;
    }
  }
}
