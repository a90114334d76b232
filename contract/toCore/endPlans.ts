import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import { keyedGear } from '@kavrid/core/chain';
import {
  genericControllerValues,
  genericDriveValues,
  keyInSheet,
  type ControllerRole,
  type EndUnits,
  type KeyInRow,
  type ParameterRole,
  type PlannedSetting,
} from '@kavrid/core/drive';
import { exact, exactToText, isWhole, toNumber, type Exact } from '@kavrid/core/quantity';
import { all, map, valueOf, type Evaluation } from '@kavrid/core/sheet';
import { formWords } from '@kavrid/core/signal';
import type { AxisDocument } from '../documents.ts';
import type { ControllerEntry } from '../library/controllerEntry.ts';
import type { DriveEntry } from '../library/driveEntry.ts';
import { formOf } from './readAxis.ts';

type Results = Evaluation<AxisValues>;
type Plan<R extends string> = ReadonlyMap<R, PlannedSetting>;

/** What is to be keyed in at both ends of an axis, from one plan. */
export interface EndSheets {
  readonly controller: readonly KeyInRow[];
  readonly drive: readonly KeyInRow[];
}

/** The two key-in sheets. Without a library entry, or where it lists no values, an end gets the settings that all have. */
export function endSheets(
  axis: AxisDocument,
  input: AxisInput,
  results: Results,
  entries: { readonly controller?: ControllerEntry | undefined; readonly drive?: DriveEntry | undefined },
): EndSheets {
  const { axisUnit } = input;
  const units: EndUnits = {
    axisUnit,
    perCount: numberOf(results.feedbackResolution),
    perPulse: numberOf(results.commandResolution),
    perMotorTurn: valueOf(
      map(all<[Exact, Exact]>(results.travelPerTurn, results.transmissionRatio), ([L, i]) => toNumber(L) / toNumber(i)),
    ),
  };
  const own = <T>(values: readonly T[] | undefined) => (values && values.length > 0 ? values : undefined);
  return {
    controller: keyInSheet(
      own(entries.controller?.values) ?? genericControllerValues(axisUnit),
      controllerPlan(axis, input, results),
      units,
    ),
    drive: keyInSheet(
      own(entries.drive?.values) ?? genericDriveValues(axisUnit),
      drivePlan(axis, input, results),
      units,
    ),
  };
}

const numberOf = (outcome: Results['feedbackResolution']) => {
  const value = valueOf(outcome);
  return value && toNumber(value);
};

const contactWords = { normallyClosed: 'normally closed', normallyOpen: 'normally open' } as const;

const word = (text: string): PlannedSetting => ({ kind: 'word', word: text });
const number = (value: number | null | undefined, unit: string): PlannedSetting | undefined =>
  value === null || value === undefined ? undefined : { kind: 'number', value, unit };
const exactNumber = (value: Exact | undefined, unit: string): PlannedSetting | undefined => {
  if (!value) return undefined;
  const text = exactToText(value);
  return isWhole(value) || (!text.includes('π') && text.length <= 14)
    ? { kind: 'text', text }
    : number(toNumber(value), unit);
};

/** A plan of those settings that have a value. */
function planOf<R extends string>(settings: Readonly<Partial<Record<R, PlannedSetting | undefined>>>): Plan<R> {
  const entries = Object.entries(settings) as [R, PlannedSetting | undefined][];
  return new Map(entries.filter((entry): entry is [R, PlannedSetting] => entry[1] !== undefined));
}

function drivePlan(axis: AxisDocument, input: AxisInput, results: Results): Plan<ParameterRole> {
  const { settings, homing, signal, protection } = axis;
  const u = input.axisUnit;
  return planOf<ParameterRole>({
    ...gearPlan(input, results),
    commandSource: word('pulses'),
    pulseForm: word(formWords[formOf(axis.command)]),
    pulseActiveLevel: word(signal.controllerActive),
    rotationSense: word(settings.rotationSense === 'clockwise' ? 'clockwise' : 'counter-clockwise'),
    enableActiveLevel: word(settings.enableActiveLevel),
    limitActiveLevel: word(settings.limitActiveLevel),
    alarmContact: word(contactWords[protection.alarm.contact]),
    inertiaRatio: number(settings.inertiaRatio, ''),
    positionGain: number(settings.positionGain, '1/s'),
    speedBandwidth: number(settings.speedBandwidth, 'rad/s'),
    speedIntegralTime: number(settings.speedIntegralTime, 'ms'),
    velocityFeedforward: number(settings.velocityFeedforward, '%'),
    torqueLimit: number(settings.torqueLimit, '%'),
    followingErrorWindow: number(settings.followingErrorWindow, u),
    minusSoftLimit: number(settings.minusSoftLimit, u),
    plusSoftLimit: number(settings.plusSoftLimit, u),
    homingMethod: number(homing.method, ''),
    homingSearchSpeed: number(homing.searchSpeed, `${u}/s`),
    homingCreepSpeed: number(homing.creepSpeed, `${u}/s`),
    homingAcceleration: number(homing.acceleration, `${u}/s²`),
    homeOffset: number(homing.homeOffset, u),
  });
}

/** The ratio in the drive's own form; the other forms stay unplanned. */
function gearPlan(input: AxisInput, results: Results): Partial<Record<ParameterRole, PlannedSetting | undefined>> {
  const given = valueOf(all<[Exact, Exact]>(results.gearNumerator, results.gearDenominator));
  // A fraction is keyed as it is; every other form counts from the encoder.
  const counts = valueOf(results.countsPerRevolution);
  if (!given || (!counts && input.ratioForm !== 'numerator and denominator')) return {};
  const keying = keyedGear(input, counts ?? exact(1), ...given);
  switch (keying.kind) {
    case 'ratio':
      return {
        gearNumerator: { kind: 'text', text: String(keying.above) },
        gearDenominator: { kind: 'text', text: String(keying.below) },
      };
    case 'pulsesPerRevolution':
      return { pulsesPerRevolution: exactNumber(keying.pulses, 'pulses') };
    case 'switches':
      return { pulsesPerRevolution: word(keying.switches) };
    case 'multiplier':
      return { gearMultiplier: exactNumber(keying.multiplier, '') };
    case 'impossible':
      return {};
  }
}

/** A search over the whole travel and half as long again. */
const homingPatience = 1.5;

function controllerPlan(axis: AxisDocument, input: AxisInput, results: Results): Plan<ControllerRole> {
  const { signal, command, settings, homing, protection, wanted, testMove } = axis;
  const u = input.axisUnit;
  const travel = numberOf(results.travel);
  const train = input.train && valueOf(input.train);
  const backlash = valueOf(results.backlash);
  return planOf<ControllerRole>({
    stepsPerUnit: exactNumber(valueOf(results.stepsPerUnit), `pulses/${u}`),
    pulseForm: word(formWords[formOf(command)]),
    pulseActiveLevel: word(signal.controllerActive),
    directionInverted: word(command.inverted ? 'yes' : 'no'),
    pulseWidth: number(signal.pulseWidth, 's'),
    directionSetUp: number(signal.directionSetUp, 's'),
    highestSpeed: number(wanted.speed, `${u}/s`),
    acceleration: number(testMove.acceleration, `${u}/s²`),
    enableActiveLevel: protection.enable.isWired ? word(protection.enable.controllerLevel) : undefined,
    alarmContact: word(contactWords[protection.alarm.contact]),
    limitContact: word(contactWords[protection.limits.contact]),
    backlash: backlash ? number(backlash, u) : undefined,
    minusSoftLimit: number(settings.minusSoftLimit, u),
    plusSoftLimit: number(settings.plusSoftLimit, u),
    homingSearchSpeed: number(homing.searchSpeed, `${u}/s`),
    homingCreepSpeed: number(homing.creepSpeed, `${u}/s`),
    homingTimeOut:
      travel !== undefined && homing.searchSpeed
        ? number(Math.ceil((homingPatience * travel) / homing.searchSpeed), 's')
        : undefined,
    trainPulses: number(train?.pulses, 'pulses'),
    trainRate: number(train?.rate, 'pulses/s'),
    trainPeriod: number(train?.repeatPeriod, 's'),
  });
}
