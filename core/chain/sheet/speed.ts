import { toNumber } from '../../quantity/index.ts';
import { finite, formulaOf, known, type Formula } from '../../sheet/index.ts';
import type { AxisValues, SpeedValues } from '../axisValues.ts';
import { lowestLimit } from '../speedLimit.ts';

const formula = formulaOf<AxisValues>();
const definition = 'definition';

/** Of an axis that pulses command. */
export const pulseSpeedFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'highestPulseRate',
    label: 'Highest pulse rate, both ends',
    expression: 'min({controllerPulseRate}, {driveInputRate}, width {pulseWidthRate})',
    unit: 'pulses/s',
    source: 'the lowest of what is sent, what is taken, and 1 / (pulse + gap)',
    inputs: ['controllerPulseRate', 'driveInputRate', 'pulseWidthRate'],
    compute: (v) => known(Math.min(v.controllerPulseRate, v.driveInputRate, v.pulseWidthRate)),
  }),
  formula({
    symbol: 'speedAtControllerRate',
    label: 'Speed limit by the controller’s pulse rate',
    expression: '{controllerPulseRate} / {stepsPerUnit}',
    unit: '{u}/s',
    source: 'v = f / S',
    inputs: ['controllerPulseRate', 'stepsPerUnit'],
    compute: (v) => known(v.controllerPulseRate / toNumber(v.stepsPerUnit)),
  }),
  formula({
    symbol: 'speedAtDriveRate',
    label: 'Speed limit by the drive’s pulse input',
    expression: '{driveInputRate} / {stepsPerUnit}',
    unit: '{u}/s',
    source: 'v = f / S',
    inputs: ['driveInputRate', 'stepsPerUnit'],
    compute: (v) => known(v.driveInputRate / toNumber(v.stepsPerUnit)),
  }),
  formula({
    symbol: 'commandLimits',
    label: 'Limits of the command',
    expression: '{speedAtControllerRate}, {speedAtDriveRate}, pulse width {pulseWidthRate} / {stepsPerUnit}',
    unit: '{u}/s',
    source: 'v = f / S',
    inputs: ['speedAtControllerRate', 'speedAtDriveRate', 'pulseWidthRate', 'stepsPerUnit'],
    compute: (v) =>
      known(
        [
          { name: 'controller pulse rate', speed: v.speedAtControllerRate },
          { name: 'drive input rate', speed: v.speedAtDriveRate },
          { name: 'pulse width', speed: v.pulseWidthRate / toNumber(v.stepsPerUnit) },
        ].filter(({ speed }) => Number.isFinite(speed)),
      ),
  }),
  formula({
    symbol: 'pulseRateAtWantedSpeed',
    label: 'Pulse rate at wanted speed',
    expression: '{wantedSpeed} · {stepsPerUnit}',
    unit: 'pulses/s',
    source: 'f = v · S',
    inputs: ['wantedSpeed', 'stepsPerUnit'],
    compute: (v) => known(v.wantedSpeed * toNumber(v.stepsPerUnit)),
  }),
];

/** Of every axis; where the command limits the speed, it says so. */
export const speedFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'furtherLimits',
    label: 'Other speed limits',
    expression: 'stages {mechanicsLimits}; supply {supplyMotorSpeed}',
    unit: '{u}/s',
    source: 'those that are given',
    inputs: ['mechanicsLimits', 'supplyMotorSpeed', 'travelPerTurn', 'transmissionRatio'],
    compute: (v) => {
      const bySupply = (v.supplyMotorSpeed * toNumber(v.travelPerTurn)) / (60 * toNumber(v.transmissionRatio));
      return known(
        [...v.mechanicsLimits, { name: 'supply voltage', speed: bySupply, isSupply: true as const }].filter(
          ({ speed }) => Number.isFinite(speed),
        ),
      );
    },
  }),
  formula({
    symbol: 'speedAtMotor',
    label: 'Speed limit by the motor',
    expression: '{motorTopSpeed} · {travelPerTurn} / ({motorSpeedScale} · {transmissionRatio})',
    unit: '{u}/s',
    source: 'n = 60 · v · i / L',
    inputs: ['motorTopSpeed', 'motorSpeedScale', 'travelPerTurn', 'transmissionRatio'],
    compute: (v) =>
      known((v.motorTopSpeed * toNumber(v.travelPerTurn)) / (v.motorSpeedScale * toNumber(v.transmissionRatio))),
  }),
  formula({
    symbol: 'highestSpeed',
    label: 'Highest speed',
    expression: 'min({speedAtMotor}, command {commandLimits}, others {furtherLimits})',
    unit: '{u}/s',
    source: 'the lowest limit decides',
    inputs: ['speedAtMotor', 'commandLimits', 'furtherLimits'],
    compute: (v) => known(limitsOf(v).speed),
  }),
  formula({
    symbol: 'bindingLimits',
    label: 'Limited by',
    expression: 'lowest of {speedAtMotor}, command {commandLimits}, others {furtherLimits}',
    unit: '',
    source: 'a tie names all',
    inputs: ['speedAtMotor', 'commandLimits', 'furtherLimits'],
    compute: (v) => known(limitsOf(v).binding),
  }),
  formula({
    symbol: 'motorSpeedAtWantedSpeed',
    label: 'Motor speed at wanted speed',
    expression: '{motorSpeedScale} · {wantedSpeed} · {transmissionRatio} / {travelPerTurn}',
    unit: '{motorSpeed}',
    source: 'n = 60 · v · i / L',
    inputs: ['motorSpeedScale', 'wantedSpeed', 'transmissionRatio', 'travelPerTurn'],
    compute: (v) =>
      known((v.motorSpeedScale * v.wantedSpeed * toNumber(v.transmissionRatio)) / toNumber(v.travelPerTurn)),
  }),
  formula({
    symbol: 'turnsToWrap',
    label: 'Motor {turns} until the position counter wraps',
    expression: '2^({counterBits} − 1) / {countsPerRevolution}',
    unit: '{rev}',
    source: 'a signed counter counts to half its range',
    inputs: ['counterBits', 'countsPerRevolution'],
    compute: (v) => known(2 ** (v.counterBits - 1) / toNumber(v.countsPerRevolution)),
  }),
  formula({
    symbol: 'timeToWrap',
    label: 'Time until it wraps at the motor’s highest speed',
    expression: '{motorSpeedScale} · {turnsToWrap} / {motorTopSpeed}',
    unit: 's',
    source: definition,
    inputs: ['motorSpeedScale', 'turnsToWrap', 'motorTopSpeed'],
    compute: (v) => finite((v.motorSpeedScale * v.turnsToWrap) / v.motorTopSpeed, 'the motor speed is zero'),
  }),
];

const limitsOf = (v: Pick<SpeedValues, 'speedAtMotor' | 'commandLimits' | 'furtherLimits'>) =>
  lowestLimit([...v.commandLimits, { name: 'motor speed', speed: v.speedAtMotor }, ...v.furtherLimits]);
