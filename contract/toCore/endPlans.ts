import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import {
  genericControllerValues,
  genericDriveValues,
  keyInSheet,
  type ControllerRole,
  type KeyInRow,
  type PlannedSetting,
} from '@kavrid/core/drive';
import { toNumber } from '@kavrid/core/quantity';
import { map, valueOf, type Evaluation } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import type { ControllerEntry } from '../library/controllerEntry.ts';
import type { DriveEntry } from '../library/driveEntry.ts';
import { brakePlan, contactWords, drivePlan } from './drivePlan.ts';
import { endUnits } from './endUnits.ts';
import { givenAt } from './givenAt.ts';
import { number, planOf, word, type Plan } from './plannedSetting.ts';
import { homingTimeOut } from './predictedHoming.ts';
import { commandControllerSettings, commandValues, commandValueSettings } from '../commands/commandFaces.ts';

type Results = Evaluation<AxisValues>;

/** Whether lengths are shown in mm or in inches. */
export type Lengths = 'metric' | 'inch';

/** What is to be keyed in at both ends of an axis, from one plan. */
export interface EndSheets {
  readonly controller: readonly KeyInRow[];
  readonly drive: readonly KeyInRow[];
}

/**
 * The two key-in sheets. Without a library entry, or where it lists no values, an end gets the settings that all have, in the units
 * shown.
 */
export function endSheets(
  axis: AxisDocument,
  input: AxisInput,
  results: Results,
  entries: { readonly controller?: ControllerEntry | undefined; readonly drive?: DriveEntry | undefined },
  lengths: Lengths = 'metric',
): EndSheets {
  const { axisUnit } = input;
  const shownUnit = lengths === 'inch' && axisUnit === 'mm' ? 'in' : axisUnit;
  const units = endUnits(input, results);
  const given = (end: keyof EndSheets) => givenAt(axis.keying, end);
  const own = <T>(values: readonly T[] | undefined) => (values && values.length > 0 ? values : undefined);
  return {
    controller: keyInSheet(
      own(entries.controller?.values) ?? genericControllerValues(shownUnit, input.command.kind),
      controllerPlan(axis, input, results),
      // It knows the load; turns of the motor mean nothing to it.
      { ...units, perMotorTurn: undefined },
      given('controller'),
    ),
    drive: keyInSheet(
      [
        ...(own(entries.drive?.values) ?? genericDriveValues(shownUnit, input.command.kind)),
        ...commandValues(axis.command, shownUnit),
      ],
      new Map<string, PlannedSetting>([
        ...drivePlan(axis, input, results),
        ...commandValueSettings(axis.command, axisUnit),
      ]),
      units,
      given('drive'),
    ),
  };
}

function controllerPlan(axis: AxisDocument, input: AxisInput, results: Results): Plan<ControllerRole> {
  const { command, settings, homing, protection, wanted, testMove } = axis;
  const u = input.axisUnit;
  const backlash = valueOf(results.backlash);
  return planOf<ControllerRole>({
    ...commandControllerSettings({ axis, input, results, travel: valueOf(map(input.travel, toNumber)) }),
    directionInverted: word(command.inverted ? 'yes' : 'no'),
    highestSpeed: number(wanted.speed, `${u}/s`),
    acceleration: number(testMove.acceleration, `${u}/s²`),
    enableActiveLevel: protection.enable.isWired ? word(protection.enable.controllerLevel) : undefined,
    alarmContact: word(contactWords[protection.alarm.contact]),
    limitContact: word(contactWords[protection.limits.contact]),
    backlash: backlash ? number(backlash, u) : undefined,
    ...(homing.by === 'controller'
      ? {
          minusSoftLimit: number(settings.minusSoftLimit, u),
          plusSoftLimit: number(settings.plusSoftLimit, u),
          homingSearchSpeed: number(homing.searchSpeed, `${u}/s`),
          homingCreepSpeed: number(homing.creepSpeed, `${u}/s`),
          homingTimeOut: number(homingTimeOut(axis, results), 's'),
        }
      : {}),
    ...brakePlan(axis, 'controller'),
  });
}
