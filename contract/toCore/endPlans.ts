import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import { axisWords, keyedGear, signalUnitOf } from '@kavrid/core/chain';
import {
  genericControllerValues,
  genericDriveValues,
  keyInSheet,
  movedFields,
  movedUnits,
  moveRole,
  storedMoveValues,
  type ControllerRole,
  type EndUnits,
  type KeyInRow,
  type ParameterRole,
  type PlannedSetting,
} from '@kavrid/core/drive';
import { absolute, exact, toNumber, type Exact } from '@kavrid/core/quantity';
import { all, map, valueOf, type Evaluation } from '@kavrid/core/sheet';
import { formWords } from '@kavrid/core/signal';
import type { AxisDocument } from '../documents.ts';
import type { ControllerEntry } from '../library/controllerEntry.ts';
import type { DriveEntry } from '../library/driveEntry.ts';
import { homingTimeOut } from './predictedHoming.ts';
import { exactNumber, number, planOf, word, type Plan } from './plannedSetting.ts';
import { formOf, isPulseCommand } from './readAxis.ts';

type Results = Evaluation<AxisValues>;

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
      own(entries.controller?.values) ?? genericControllerValues(axisUnit, input.command.kind),
      controllerPlan(axis, input, results),
      units,
    ),
    drive: keyInSheet(
      [
        ...(own(entries.drive?.values) ?? genericDriveValues(axisUnit, input.command.kind)),
        ...moveValues(axis, axisUnit),
      ],
      new Map<string, PlannedSetting>([...drivePlan(axis, input, results), ...movePlan(axis, axisUnit)]),
      units,
    ),
  };
}

const numberOf = (outcome: Results['feedbackResolution']) => {
  const value = valueOf(outcome);
  return value && toNumber(value);
};

const contactWords = { normallyClosed: 'normally closed', normallyOpen: 'normally open' } as const;

function drivePlan(axis: AxisDocument, input: AxisInput, results: Results): Plan<ParameterRole> {
  const { settings, homing, protection } = axis;
  const u = input.axisUnit;
  return planOf<ParameterRole>({
    ...commandPlan(axis, input, results),
    rotationSense: word(settings.rotationSense === 'clockwise' ? 'clockwise' : 'counter-clockwise'),
    enableActiveLevel: word(settings.enableActiveLevel),
    limitActiveLevel: word(settings.limitActiveLevel),
    alarmContact: word(contactWords[protection.alarm.contact]),
    inertiaRatio: number(settings.inertiaRatio, ''),
    positionGain: holdsPosition(axis) ? number(settings.positionGain, '1/s') : undefined,
    speedBandwidth: number(settings.speedBandwidth, 'rad/s'),
    speedIntegralTime: number(settings.speedIntegralTime, 'ms'),
    velocityFeedforward: holdsPosition(axis) ? number(settings.velocityFeedforward, '%') : undefined,
    torqueLimit: number(settings.torqueLimit, '%'),
    followingErrorWindow: holdsPosition(axis) ? number(settings.followingErrorWindow, u) : undefined,
    minusSoftLimit: number(settings.minusSoftLimit, u),
    plusSoftLimit: number(settings.plusSoftLimit, u),
    homingMethod: number(homing.method, ''),
    homingSearchSpeed: number(homing.searchSpeed, `${u}/s`),
    homingCreepSpeed: number(homing.creepSpeed, `${u}/s`),
    homingAcceleration: number(homing.acceleration, `${u}/s²`),
    homeOffset: number(homing.homeOffset, u),
  });
}

/** A drive that is told a speed or a torque closes no position loop. */
const holdsPosition = ({ command }: AxisDocument) => !('from' in command) || command.meaning === 'position';

/** How the drive is set to listen, by what it listens to. */
function commandPlan(
  axis: AxisDocument,
  input: AxisInput,
  results: Results,
): Partial<Record<ParameterRole, PlannedSetting | undefined>> {
  const { command, signal } = axis;
  switch (command.kind) {
    case 'stepDirection':
    case 'clockwisePulses':
    case 'quadrature':
    case 'untimedPulses':
      return {
        ...gearPlan(input, results),
        commandSource: word('pulses'),
        pulseForm: word(formWords[formOf(command)]),
        pulseActiveLevel: word(signal.controllerActive),
      };
    case 'analog': {
      const unit = signalUnitOf(input.command);
      const value = axisWords('{value}', input);
      return {
        // It stays off until it has been switched on deliberately.
        commandSource: command.switchedOn ? word(`analog ${command.meaning}`) : undefined,
        analogRange: word(command.range),
        ...(command.gainForm === 'value at full signal'
          ? { signalFullValue: exactNumber(sizeOf(results.valueAtFullSignal), value) }
          : { signalGain: exactNumber(sizeOf(results.signalGain), `${value}/${unit}`) }),
        signalOffset: offsetPlan(results, unit),
        signalInverted: word(isFalling(results) ? 'yes' : 'no'),
        signalDeadband: number(command.deadband, unit),
        signalFilter: number(command.filter, 's'),
        signalLossTrips: word(command.faultDetected ? 'yes' : 'no'),
        encoderOutputPulses: command.loop ? exactNumber(valueOf(results.outputPulses), 'pulses') : undefined,
      };
    }
    case 'pwm':
      return {
        commandSource: command.switchedOn ? word(`PWM ${command.meaning}`) : undefined,
        rawFullScale: exactNumber(valueOf(results.rawFullScale), ''),
        rawNumerator: exactNumber(valueOf(results.rawNumerator), ''),
        rawDenominator: exactNumber(valueOf(results.rawDenominator), ''),
        rawOffset: exactNumber(valueOf(results.rawOffset), ''),
        signalLossTrips: word(command.faultDetected ? 'yes' : 'no'),
      };
    case 'choice':
      return {
        commandSource: word('inputs'),
        ...inputTiming(command.minimumInputDuration ?? 0, command.startDelay ?? 0),
        homingAtEnable: word(command.homing),
      };
  }
}

/** By both times; and for a drive that has one time and a choice of what it means, by that. */
const inputTiming = (minimumInputDuration: number, startDelay: number) => ({
  minimumInputDuration: number(minimumInputDuration, 's'),
  startDelay: number(startDelay, 's'),
  ...(minimumInputDuration > 0 && startDelay > 0
    ? {}
    : {
        inputTrigger: word(minimumInputDuration > 0 ? 'debounced' : startDelay > 0 ? 'delayed' : 'direct'),
        inputTime: number(Math.max(minimumInputDuration, startDelay) || null, 's'),
      }),
});

/** A scale that falls as the signal rises: its drive is told the size, and to invert it. */
const isFalling = (results: Results): boolean => (numberOf(results.signalGain) ?? 0) < 0;
const sizeOf = (outcome: Results['signalGain']): Exact | undefined => {
  const value = valueOf(outcome);
  return value && absolute(value);
};

/** The signal that means zero, and what ends the creep on top of it. */
function offsetPlan(results: Results, unit: string): PlannedSetting | undefined {
  const zero = numberOf(results.signalAtZero);
  return zero === undefined ? undefined : number(zero - (valueOf(results.creepOffset) ?? 0), unit);
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

function controllerPlan(axis: AxisDocument, input: AxisInput, results: Results): Plan<ControllerRole> {
  const { signal, command, settings, homing, protection, wanted, testMove } = axis;
  const u = input.axisUnit;
  const train = input.train && valueOf(input.train);
  const backlash = valueOf(results.backlash);
  return planOf<ControllerRole>({
    ...(isPulseCommand(command)
      ? {
          stepsPerUnit: exactNumber(valueOf(results.stepsPerUnit), `pulses/${u}`),
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
          feedbackCountsPerUnit: exactNumber(valueOf(results.hostCountsPerUnit), `counts/${u}`),
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
    minusSoftLimit: number(settings.minusSoftLimit, u),
    plusSoftLimit: number(settings.plusSoftLimit, u),
    homingSearchSpeed: number(homing.searchSpeed, `${u}/s`),
    homingCreepSpeed: number(homing.creepSpeed, `${u}/s`),
    homingTimeOut: number(homingTimeOut(axis, results), 's'),
    trainPulses: number(train?.pulses, 'pulses'),
    trainRate: number(train?.rate, 'pulses/s'),
    trainPeriod: number(train?.repeatPeriod, 's'),
  });
}
