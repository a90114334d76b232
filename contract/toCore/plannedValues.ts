import type { AxisValues } from '@kavrid/core/chain';
import {
  parameterRoles,
  type DriveParameter,
  type DriveProfile,
  type ParameterRole,
  type PlannedValues,
} from '@kavrid/core/drive';
import { absolute, isWhole, toNumber } from '@kavrid/core/quantity';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';

/** What the axis wants of its drive, by parameter key and in the parameter's own unit. Unknown values are not planned. */
export function plannedValues(
  axis: AxisDocument,
  results: Evaluation<AxisValues>,
  profile: DriveProfile,
): PlannedValues {
  const planned: Record<string, number> = {};
  for (const parameter of profile.parameters) {
    const value = isParameterRole(parameter.role) ? plannedFor(parameter.role, axis, results) : undefined;
    if (value === undefined || value === null) continue;
    const inUnit = inParameterUnit(value, parameter, results);
    if (inUnit !== undefined) planned[parameter.key] = inUnit;
  }
  return planned;
}

const roles: ReadonlySet<string> = new Set(parameterRoles);
const isParameterRole = (role: string | undefined): role is ParameterRole => role !== undefined && roles.has(role);

/** In axis units for lengths; else in the unit of the document. */
function plannedFor(
  role: ParameterRole,
  axis: AxisDocument,
  results: Evaluation<AxisValues>,
): number | null | undefined {
  const { settings, homing } = axis;
  const whole = (name: 'gearNumerator' | 'gearDenominator') => {
    const value = valueOf(results[name]);
    return value && toNumber(value);
  };
  switch (role) {
    case 'gearNumerator':
      return whole(axis.drive.ratioInverted ? 'gearDenominator' : role);
    case 'gearDenominator':
      return whole(axis.drive.ratioInverted ? 'gearNumerator' : role);
    case 'inertiaRatio':
    case 'positionGain':
    case 'speedBandwidth':
    case 'speedIntegralTime':
    case 'velocityFeedforward':
    case 'torqueLimit':
    case 'followingErrorWindow':
    case 'minusSoftLimit':
    case 'plusSoftLimit':
      return settings[role];
    case 'homingMethod':
      return homing.method;
    case 'homingSearchSpeed':
      return homing.searchSpeed;
    case 'homingCreepSpeed':
      return homing.creepSpeed;
    case 'homingAcceleration':
      return homing.acceleration;
    case 'homeOffset':
      return homing.homeOffset;
    case 'rotationSense':
      return settings.rotationSense === 'clockwise' ? 1 : 0;
    case 'enableActiveLevel':
      return settings.enableActiveLevel === 'high' ? 1 : 0;
    case 'limitActiveLevel':
      return settings.limitActiveLevel === 'high' ? 1 : 0;
    case 'commandSource':
    case 'watchdogTime':
      return undefined;
    case 'pulsesPerRevolution':
    case 'gearMultiplier': {
      const value = valueOf(role === 'gearMultiplier' ? results.countsPerPulse : results.pulsesPerRevolution);
      return value && isWhole(value) ? toNumber(value) : undefined;
    }
    case 'signalFullValue':
    case 'signalGain':
    case 'rawFullScale':
    case 'rawNumerator':
    case 'rawDenominator':
    case 'rawOffset':
    case 'encoderOutputPulses': {
      const value = valueOf(
        results[
          role === 'signalFullValue' ? 'valueAtFullSignal' : role === 'encoderOutputPulses' ? 'outputPulses' : role
        ],
      );
      // A drive is told the size of a gain, and to invert its signal.
      return value && toNumber(role === 'signalFullValue' || role === 'signalGain' ? absolute(value) : value);
    }
    case 'signalOffset': {
      const zero = valueOf(results.signalAtZero);
      return zero && toNumber(zero) - (valueOf(results.creepOffset) ?? 0);
    }
    case 'signalDeadband':
    case 'signalFilter':
      return axis.command.kind === 'analog'
        ? axis.command[role === 'signalDeadband' ? 'deadband' : 'filter']
        : undefined;
    // Which number stands for them, only the choices of the parameter say; they are keyed in from the sheet.
    case 'pulseForm':
    case 'pulseActiveLevel':
    case 'alarmContact':
    case 'analogRange':
    case 'signalInverted':
    case 'signalLossTrips':
    case 'inputTrigger':
    case 'inputTime':
    case 'minimumInputDuration':
    case 'startDelay':
    case 'homingAtEnable':
      return undefined;
  }
}

/** Lengths are counted in encoder counts by drives; everything else is already in the parameter's unit. */
function inParameterUnit(
  value: number,
  parameter: DriveParameter,
  results: Evaluation<AxisValues>,
): number | undefined {
  if (!parameter.unit.startsWith('counts')) return value;
  const resolution = valueOf(results.feedbackResolution);
  return resolution && Math.round(value / toNumber(resolution));
}
