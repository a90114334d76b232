import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import {
  homeOffsetFor,
  softLimitFor,
  inEndUnit,
  isStoredMoveRole,
  parameterRoles,
  roleByNumber,
  type DriveParameter,
  type DriveProfile,
  type EndUnits,
  type ParameterRole,
  type PlannedSetting,
  type PlannedValues,
} from '@kavrid/core/drive';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';
import { commandValueSettings } from '../commands/commandFaces.ts';
import type { AxisDocument } from '../documents.ts';
import { axisUnitOf } from './axisInputOf.ts';
import { number, word } from './plannedSetting.ts';
import { drivePlan } from './drivePlan.ts';
import { endUnits } from './endUnits.ts';

type Results = Evaluation<AxisValues>;

/** The planned drive values of an axis, by parameter key and in the parameter's own unit. Unknown values are not planned. */
export function plannedValues(
  axis: AxisDocument,
  input: AxisInput,
  results: Results,
  profile: DriveProfile,
): PlannedValues {
  const plan = drivePlan(axis, input, results);
  const units = endUnits(input, results);
  const moves = new Map<string, PlannedSetting>(
    commandValueSettings(axis.command, input.axisUnit).map(([role, setting]) => [roleByNumber(role), setting]),
  );
  const planned: Record<string, number> = {};
  for (const parameter of profile.parameters) {
    const { role } = parameter;
    const value = isParameterRole(role)
      ? (gearRegister(role, axis, results) ??
        switchRegister(parameter, results) ??
        inParameterUnit(homingSetting(role, axis, profile) ?? plan.get(role), parameter, units))
      : role !== undefined && isStoredMoveRole(role)
        ? inParameterUnit(moves.get(role), parameter, units)
        : undefined;
    if (value !== undefined && !takenByKavrid.has(role)) planned[parameter.key] = value;
  }
  return planned;
}

const roles: ReadonlySet<string> = new Set(parameterRoles);
const isParameterRole = (role: string | undefined): role is ParameterRole => role !== undefined && roles.has(role);

/** Not planned over the link: while Kavrid moves a drive, its command source is the field bus. */
const takenByKavrid: ReadonlySet<string | undefined> = new Set<ParameterRole>(['commandSource']);

/** A drive with both registers of a gear has its ratio in them, whatever form is keyed in. */
function gearRegister(role: ParameterRole, axis: AxisDocument, results: Results): number | undefined {
  if (role !== 'gearNumerator' && role !== 'gearDenominator') return undefined;
  const other = role === 'gearNumerator' ? 'gearDenominator' : 'gearNumerator';
  const value = valueOf(results[axis.drive.ratioInverted ? other : role]);
  return value && toNumber(value);
}

/** Values of a homing as this drive has them; undefined: they are as planned, or the map does not say what the drive makes of them. */
function homingSetting(role: ParameterRole, axis: AxisDocument, { homing }: DriveProfile): PlannedSetting | undefined {
  const { by, method, positionAtHome } = axis.homing;
  if (by !== 'drive') return undefined;
  const { minusSoftLimit, plusSoftLimit } = axis.settings;
  const unit = axisUnitOf(axis);
  const soft = (position: number | null) =>
    position === null
      ? undefined
      : (number(softLimitFor(position, positionAtHome ?? 0, homing) ?? null, unit) ?? notSaid);
  switch (role) {
    case 'homingMethod':
      return homing.methods ? (number(homing.methods[method], '') ?? notSaid) : undefined;
    case 'homeOffset':
      return positionAtHome === null ? undefined : (number(homeOffsetFor(positionAtHome, homing), unit) ?? notSaid);
    case 'minusSoftLimit':
      return soft(minusSoftLimit);
    case 'plusSoftLimit':
      return soft(plusSoftLimit);
    default:
      return undefined;
  }
}
/** A word that no register takes. */
const notSaid = word('not said by the register map');

/** Pulses per revolution of a drive that lists them as choices: the number that stands for those planned. */
function switchRegister({ role, choices }: DriveParameter, results: Results): number | undefined {
  if (role !== 'pulsesPerRevolution') return undefined;
  const pulses = valueOf(results.pulsesPerRevolution);
  return pulses && choiceOf(choices, String(toNumber(pulses)));
}

/** The number that stands for a word among the choices of a parameter; undefined where it has no such choice. */
function choiceOf(choices: DriveParameter['choices'], word: string): number | undefined {
  const found = Object.entries(choices).find(([, words]) => words.trim().toLowerCase() === word.toLowerCase());
  return found && Number(found[0]);
}

/** Whole counts where the parameter counts them. */
function inParameterUnit(
  setting: PlannedSetting | undefined,
  parameter: DriveParameter,
  units: EndUnits,
): number | undefined {
  switch (setting?.kind) {
    case undefined:
      return undefined;
    case 'switches':
      return undefined;
    case 'word':
      return setting.raw ?? choiceOf(parameter.choices, setting.word);
    case 'exact':
    case 'number': {
      const planned = setting.kind === 'exact' ? toNumber(setting.value) : setting.value;
      const value = inEndUnit(planned, setting.unit, parameter.unit, units);
      return value !== undefined && parameter.unit.startsWith('counts') ? Math.round(value) : value;
    }
  }
}
