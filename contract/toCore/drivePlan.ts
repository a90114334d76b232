import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import { axisWords, keyedGear, signalUnitOf } from '@kavrid/core/chain';
import type { ParameterRole, PlannedSetting } from '@kavrid/core/drive';
import { absolute, exact, toNumber, type Exact } from '@kavrid/core/quantity';
import { all, valueOf, type Evaluation } from '@kavrid/core/sheet';
import { formWords } from '@kavrid/core/signal';
import type { AxisDocument } from '../documents.ts';
import { exactNumber, number, planOf, word, type Plan } from './plannedSetting.ts';
import { formOf } from './axisInputOf.ts';

type Results = Evaluation<AxisValues>;

/** Contacts in the words of both ends. */
export const contactWords = { normallyClosed: 'normally closed', normallyOpen: 'normally open' } as const;

/** Everything planned for the drive of an axis, by what it means: the one source of what is keyed in and of what is written. */
export function drivePlan(axis: AxisDocument, input: AxisInput, results: Results): Plan<ParameterRole> {
  const { settings, homing, protection } = axis;
  const u = input.axisUnit;
  return planOf<ParameterRole>({
    ...commandPlan(axis, input, results),
    rotationSense: word(settings.rotationSense === 'clockwise' ? 'clockwise' : 'counter-clockwise', {
      raw: settings.rotationSense === 'clockwise' ? 1 : 0,
    }),
    enableActiveLevel: word(settings.enableActiveLevel, { raw: settings.enableActiveLevel === 'high' ? 1 : 0 }),
    limitActiveLevel: word(settings.limitActiveLevel, { raw: settings.limitActiveLevel === 'high' ? 1 : 0 }),
    alarmContact: word(contactWords[protection.alarm.contact]),
    inertiaRatio: number(settings.inertiaRatio, ''),
    positionGain: holdsPosition(axis) ? number(settings.positionGain, '1/s') : undefined,
    speedBandwidth: number(settings.speedBandwidth, 'rad/s'),
    speedIntegralTime: number(settings.speedIntegralTime, 'ms'),
    velocityFeedforward: holdsPosition(axis) ? number(settings.velocityFeedforward, '%') : undefined,
    torqueLimit: number(settings.torqueLimit, '%'),
    followingErrorWindow: holdsPosition(axis) ? number(settings.followingErrorWindow, u) : undefined,
    ...(homing.by === 'drive'
      ? {
          minusSoftLimit: number(settings.minusSoftLimit, u),
          plusSoftLimit: number(settings.plusSoftLimit, u),
          homingMethod: number(homing.method, ''),
          homingSearchSpeed: number(homing.searchSpeed, `${u}/s`),
          homingCreepSpeed: number(homing.creepSpeed, `${u}/s`),
          homingAcceleration: number(homing.acceleration, `${u}/s²`),
          homeOffset: number(homing.homeOffset, u),
        }
      : {}),
    ...brakePlan(axis, 'drive'),
  });
}

/** The delays of a holding brake, at the end that drives it. */
export const brakePlan = ({ brake }: AxisDocument, end: 'drive' | 'controller') =>
  brake.drivenBy === end
    ? { brakeReleaseDelay: number(brake.releaseDelay, 's'), brakeEngageDelay: number(brake.engageDelay, 's') }
    : {};

/** A drive that is told a speed or a torque closes no position loop. */
export const holdsPosition = ({ command }: AxisDocument) => !('from' in command) || command.meaning === 'position';

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
        rawOffset: exactNumber(valueOf(results.rawOffset), axisWords('{value}', input)),
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
        gearNumerator: exactNumber(exact(keying.above), ''),
        gearDenominator: exactNumber(exact(keying.below), ''),
      };
    case 'pulsesPerRevolution':
      return { pulsesPerRevolution: exactNumber(keying.pulses, 'pulses') };
    case 'switches':
      return { pulsesPerRevolution: { kind: 'switches', positions: keying.switches } };
    case 'multiplier':
      return { gearMultiplier: exactNumber(keying.multiplier, '') };
    case 'impossible':
      return {};
  }
}

const numberOf = (outcome: Results['feedbackResolution']) => {
  const value = valueOf(outcome);
  return value && toNumber(value);
};
