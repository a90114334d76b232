import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import { signalUnitOf } from '@kavrid/core/chain';
import {
  genericControllerValues,
  genericDriveValues,
  keyInSheet,
  movedFields,
  movedUnits,
  moveRole,
  storedMoveValues,
  type ControllerRole,
  type KeyInRow,
  type PlannedSetting,
} from '@kavrid/core/drive';
import { toNumber } from '@kavrid/core/quantity';
import { map, valueOf, type Evaluation } from '@kavrid/core/sheet';
import { formWords } from '@kavrid/core/signal';
import type { AxisDocument } from '../documents.ts';
import type { ControllerEntry } from '../library/controllerEntry.ts';
import type { DriveEntry } from '../library/driveEntry.ts';
import { brakePlan, contactWords, drivePlan } from './drivePlan.ts';
import { endUnits } from './endUnits.ts';
import { givenAt } from './givenAt.ts';
import { exactNumber, number, planOf, word, type Plan } from './plannedSetting.ts';
import { homingTimeOut } from './predictedHoming.ts';
import { formOf, isPulseCommand } from './axisInputOf.ts';

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
        ...moveValues(axis, shownUnit),
      ],
      new Map<string, PlannedSetting>([...drivePlan(axis, input, results), ...movePlan(axis, axisUnit)]),
      units,
      given('drive'),
    ),
  };
}

const moveValues = ({ command }: AxisDocument, axisUnit: string) =>
  command.kind === 'choice'
    ? storedMoveValues(
        axisUnit,
        command.moves,
        command.torqueLimits.map(({ pattern }) => pattern),
      )
    : [];

function movePlan({ command }: AxisDocument, u: string): readonly (readonly [string, PlannedSetting])[] {
  if (command.kind !== 'choice') return [];
  const units = movedUnits(u);
  const moves = command.moves.flatMap((move) =>
    movedFields(move.kind).map((field) => {
      const value = move[field];
      const setting =
        typeof value === 'string' ? (value === '' ? undefined : word(value)) : number(value, units[field]);
      return [moveRole(move.pattern, field), setting] as const;
    }),
  );
  const limits = command.torqueLimits.map(
    ({ pattern, limit }) => [moveRole(pattern, 'limit'), number(limit, '%')] as const,
  );
  return [...moves, ...limits].filter((entry): entry is [string, PlannedSetting] => entry[1] !== undefined);
}

function controllerPlan(axis: AxisDocument, input: AxisInput, results: Results): Plan<ControllerRole> {
  const { signal, command, settings, homing, protection, wanted, testMove } = axis;
  const u = input.axisUnit;
  const train = input.train && valueOf(input.train);
  const backlash = valueOf(results.backlash);
  const span = valueOf(map(input.travel, toNumber));
  return planOf<ControllerRole>({
    ...(isPulseCommand(command)
      ? {
          stepsPerUnit: exactNumber(valueOf(results.stepsPerUnit), `pulses/${u}`, span),
          pulseForm: word(formWords[formOf(command)]),
          pulseActiveLevel: word(signal.controllerActive),
          pulseWidth: number(signal.pulseWidth, 's'),
          directionSetUp: number(signal.directionSetUp, 's'),
        }
      : {}),
    ...(command.kind === 'analog' || command.kind === 'pwm'
      ? {
          commandFullSignal: exactNumber(
            input.command.kind === 'analog' ? input.command.range.highest : undefined,
            signalUnitOf(input.command),
          ),
          commandFullSpeed: number(valueOf(results.fullCommandSpeed), `${u}/s`),
          // The drive takes the offset; where its trim is unknown, the controller has to.
          commandOffset:
            valueOf(results.creepTrim) === undefined
              ? number(valueOf(results.creepOffset), signalUnitOf(input.command))
              : undefined,
          carrierFrequency: number(valueOf(results.carrier), 'Hz'),
          feedbackCountsPerUnit: exactNumber(valueOf(results.hostCountsPerUnit), `counts/${u}`, span),
          loopGain: number(valueOf(results.hostGain), '1/s'),
          errorLimit: number(valueOf(results.errorLimit), u),
        }
      : {}),
    outputSkew: command.kind === 'choice' ? number(command.skew, 's') : undefined,
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
    trainPulses: number(train?.pulses, 'pulses'),
    trainRate: number(train?.rate, 'pulses/s'),
    trainPeriod: number(train?.repeatPeriod, 's'),
  });
}
