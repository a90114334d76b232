import { moveTorque, type MoveProfile } from '../motion/index.ts';
import { divide, exact, multiply, toNumber, type Exact } from '../quantity/index.ts';
import {
  all,
  evaluate,
  finite,
  formulaOf,
  known,
  map,
  sheetOf,
  unknown,
  type Evaluation,
  type Formula,
  type Outcome,
} from '../sheet/index.ts';
import type { AxisInput } from './axisInput.ts';
import { partsPerMillion, type GearLimits } from './bestFractions.ts';
import { lowestLimit } from './resolutionChoices.ts';
import { ratioOf, travelFactorsOf } from './stages/stage.ts';

/** Every value of an axis by name. Exact where exactness matters, doubles elsewhere. */
export interface AxisValues {
  readonly encoderCycles: Exact;
  readonly countsPerCycle: Exact;
  readonly countsPerRevolution: Exact;
  readonly gearNumerator: Exact;
  readonly gearDenominator: Exact;
  readonly gearLimits: GearLimits;
  readonly stageRatios: readonly Exact[];
  readonly transmissionRatio: Exact;
  readonly travelFactors: readonly Exact[];
  readonly travelPerTurn: Exact;
  readonly pulsesPerRevolution: Exact;
  readonly stepsPerUnit: Exact;
  readonly commandResolution: Exact;
  readonly feedbackResolution: Exact;
  readonly countsPerPulse: Exact;
  readonly wantedResolution: Exact;
  readonly wantedRatio: Exact;
  readonly ratioError: number;
  readonly travel: Exact;
  readonly driftOverTravel: number;
  readonly driftPerMetre: number;
  readonly driftPerThousandTurns: number;
  readonly controllerPulseRate: number;
  readonly driveInputRate: number;
  readonly motorTopSpeed: number;
  readonly speedAtControllerRate: number;
  readonly speedAtDriveRate: number;
  readonly speedAtMotor: number;
  readonly highestSpeed: number;
  readonly bindingLimits: readonly string[];
  readonly wantedSpeed: number;
  readonly pulseRateAtWantedSpeed: number;
  readonly motorSpeedAtWantedSpeed: number;
  readonly counterBits: number;
  readonly turnsToWrap: number;
  readonly timeToWrap: number;
  readonly movedMass: number;
  readonly loadInertia: number;
  readonly frictionLoad: number;
  readonly incline: number;
  readonly efficiency: number;
  readonly stageInertia: number;
  readonly rotorInertia: number;
  readonly ratedTorque: number;
  readonly peakTorque: number;
  readonly metresPerRadian: number;
  readonly reflectedInertia: number;
  readonly inertiaRatio: number;
  readonly frictionTorque: number;
  readonly gravityTorque: number;
  readonly testMove: MoveProfile;
  readonly dwell: number;
  readonly testMovePeakTorque: number;
  readonly testMoveRmsTorque: number;
  readonly testMoveRmsSpeed: number;
}

const formula = formulaOf<AxisValues>();
const definition = 'definition';
const standardGravity = 9.80665;

const formulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'countsPerRevolution',
    label: 'Counts per revolution',
    expression: '{countsPerCycle} · {encoderCycles}',
    unit: 'counts/rev',
    source: 'quadrature gives four counts a line; an encoder of b bits gives 2^b',
    inputs: ['encoderCycles', 'countsPerCycle'],
    compute: (v) => known(multiply(v.countsPerCycle, v.encoderCycles)),
  }),
  formula({
    symbol: 'transmissionRatio',
    label: 'Motor turns per output turn',
    expression: '∏({stageRatios})',
    unit: '',
    source: definition,
    inputs: ['stageRatios'],
    compute: (v) => known(multiply(...v.stageRatios)),
  }),
  formula({
    symbol: 'travelPerTurn',
    label: 'Travel per output turn',
    expression: '∏({travelFactors})',
    unit: '{u}',
    source: 'belt: teeth × pitch; screw: lead; rotary: one turn',
    inputs: ['travelFactors'],
    compute: (v) => known(multiply(...v.travelFactors)),
  }),
  formula({
    symbol: 'countsPerPulse',
    label: 'Counts per pulse',
    expression: '{gearNumerator} / {gearDenominator}',
    unit: 'counts',
    source: 'counts = pulses · N/D',
    inputs: ['gearNumerator', 'gearDenominator'],
    compute: (v) => known(divide(v.gearNumerator, v.gearDenominator)),
  }),
  formula({
    symbol: 'pulsesPerRevolution',
    label: 'Pulses per revolution',
    expression: '{countsPerRevolution} · {gearDenominator} / {gearNumerator}',
    unit: 'pulses/rev',
    source: 'counts = pulses · N/D over one revolution',
    inputs: ['countsPerRevolution', 'gearDenominator', 'gearNumerator'],
    compute: (v) => known(divide(multiply(v.countsPerRevolution, v.gearDenominator), v.gearNumerator)),
  }),
  formula({
    symbol: 'stepsPerUnit',
    label: 'Steps per unit',
    expression: '{pulsesPerRevolution} · {transmissionRatio} / {travelPerTurn}',
    unit: 'pulses/{u}',
    source: definition,
    inputs: ['pulsesPerRevolution', 'transmissionRatio', 'travelPerTurn'],
    compute: (v) => known(divide(multiply(v.pulsesPerRevolution, v.transmissionRatio), v.travelPerTurn)),
  }),
  formula({
    symbol: 'commandResolution',
    label: 'Command resolution',
    expression: '1 / {stepsPerUnit}',
    unit: '{u}/pulse',
    source: definition,
    inputs: ['stepsPerUnit'],
    compute: (v) => known(divide(exact(1), v.stepsPerUnit)),
  }),
  formula({
    symbol: 'feedbackResolution',
    label: 'Feedback resolution',
    expression: '{travelPerTurn} / ({countsPerRevolution} · {transmissionRatio})',
    unit: '{u}/count',
    source: definition,
    inputs: ['travelPerTurn', 'countsPerRevolution', 'transmissionRatio'],
    compute: (v) => known(divide(v.travelPerTurn, multiply(v.countsPerRevolution, v.transmissionRatio))),
  }),
  formula({
    symbol: 'wantedRatio',
    label: 'Gear ratio wanted',
    expression: '{countsPerRevolution} · {transmissionRatio} · {wantedResolution} / {travelPerTurn}',
    unit: '',
    source: 'N/D = Q · i · u / L',
    inputs: ['countsPerRevolution', 'transmissionRatio', 'wantedResolution', 'travelPerTurn'],
    compute: (v) =>
      known(divide(multiply(v.countsPerRevolution, v.transmissionRatio, v.wantedResolution), v.travelPerTurn)),
  }),
  formula({
    symbol: 'ratioError',
    label: 'Ratio error',
    expression: '({countsPerPulse} / {wantedRatio} − 1) · 10⁶',
    unit: 'ppm',
    source: definition,
    inputs: ['countsPerPulse', 'wantedRatio'],
    compute: (v) => {
      const quotient = divide(v.countsPerPulse, v.wantedRatio);
      return known(
        quotient.piPower === 0 ? partsPerMillion(quotient.ratio, exact(1).ratio) : (toNumber(quotient) - 1) * 1e6,
      );
    },
  }),
  formula({
    symbol: 'driftOverTravel',
    label: 'Error over the whole travel',
    expression: '{ratioError} · {travel} / 10⁶',
    unit: '{u}',
    source: definition,
    inputs: ['ratioError', 'travel'],
    compute: (v) => known((v.ratioError * toNumber(v.travel)) / 1e6),
  }),
  formula({
    symbol: 'driftPerMetre',
    label: 'Error per 1000 units of travel',
    expression: '{ratioError} · 1000 / 10⁶',
    unit: '{u}',
    source: definition,
    inputs: ['ratioError'],
    compute: (v) => known(v.ratioError / 1000),
  }),
  formula({
    symbol: 'driftPerThousandTurns',
    label: 'Error per 1000 output turns',
    expression: '{ratioError} · 1000 · {travelPerTurn} / 10⁶',
    unit: '{u}',
    source: definition,
    inputs: ['ratioError', 'travelPerTurn'],
    compute: (v) => known((v.ratioError * toNumber(v.travelPerTurn)) / 1000),
  }),
  formula({
    symbol: 'speedAtControllerRate',
    label: '… by the controller’s rate',
    expression: '{controllerPulseRate} / {stepsPerUnit}',
    unit: '{u}/s',
    source: 'v = f / S',
    inputs: ['controllerPulseRate', 'stepsPerUnit'],
    compute: (v) => known(v.controllerPulseRate / toNumber(v.stepsPerUnit)),
  }),
  formula({
    symbol: 'speedAtDriveRate',
    label: '… by the drive’s input',
    expression: '{driveInputRate} / {stepsPerUnit}',
    unit: '{u}/s',
    source: 'v = f / S',
    inputs: ['driveInputRate', 'stepsPerUnit'],
    compute: (v) => known(v.driveInputRate / toNumber(v.stepsPerUnit)),
  }),
  formula({
    symbol: 'speedAtMotor',
    label: '… by the motor',
    expression: '{motorTopSpeed} · {travelPerTurn} / (60 · {transmissionRatio})',
    unit: '{u}/s',
    source: 'n = 60 · v · i / L',
    inputs: ['motorTopSpeed', 'travelPerTurn', 'transmissionRatio'],
    compute: (v) => known((v.motorTopSpeed * toNumber(v.travelPerTurn)) / (60 * toNumber(v.transmissionRatio))),
  }),
  formula({
    symbol: 'highestSpeed',
    label: 'Highest speed',
    expression: 'min({speedAtControllerRate}, {speedAtDriveRate}, {speedAtMotor})',
    unit: '{u}/s',
    source: 'the lowest limit binds',
    inputs: ['speedAtControllerRate', 'speedAtDriveRate', 'speedAtMotor'],
    compute: (v) => known(limitsOf(v).speed),
  }),
  formula({
    symbol: 'bindingLimits',
    label: 'What binds',
    expression: 'lowest of {speedAtControllerRate}, {speedAtDriveRate}, {speedAtMotor}',
    unit: '',
    source: 'a tie names all',
    inputs: ['speedAtControllerRate', 'speedAtDriveRate', 'speedAtMotor'],
    compute: (v) => known(limitsOf(v).binding),
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
  formula({
    symbol: 'motorSpeedAtWantedSpeed',
    label: 'Motor speed at wanted speed',
    expression: '60 · {wantedSpeed} · {transmissionRatio} / {travelPerTurn}',
    unit: 'rpm',
    source: 'n = 60 · v · i / L',
    inputs: ['wantedSpeed', 'transmissionRatio', 'travelPerTurn'],
    compute: (v) => known((60 * v.wantedSpeed * toNumber(v.transmissionRatio)) / toNumber(v.travelPerTurn)),
  }),
  formula({
    symbol: 'turnsToWrap',
    label: 'Motor turns until the position counter wraps',
    expression: '2^({counterBits} − 1) / {countsPerRevolution}',
    unit: 'rev',
    source: 'a signed counter counts to half its range',
    inputs: ['counterBits', 'countsPerRevolution'],
    compute: (v) => known(2 ** (v.counterBits - 1) / toNumber(v.countsPerRevolution)),
  }),
  formula({
    symbol: 'timeToWrap',
    label: 'Time until it wraps at the motor’s highest speed',
    expression: '60 · {turnsToWrap} / {motorTopSpeed}',
    unit: 's',
    source: definition,
    inputs: ['turnsToWrap', 'motorTopSpeed'],
    compute: (v) => finite((60 * v.turnsToWrap) / v.motorTopSpeed, 'the motor speed is zero'),
  }),
  formula({
    symbol: 'metresPerRadian',
    label: 'Load travel per motor radian',
    expression: '{travelPerTurn} / (2 · π · {transmissionRatio} · 1000)',
    unit: 'm/rad',
    source: definition,
    inputs: ['travelPerTurn', 'transmissionRatio'],
    compute: (v) => known(toNumber(v.travelPerTurn) / (2 * Math.PI * toNumber(v.transmissionRatio) * 1000)),
  }),
  formula({
    symbol: 'reflectedInertia',
    label: 'Load inertia felt by the motor',
    expression: '{movedMass} · ({metresPerRadian})² + {loadInertia} / {transmissionRatio}² + {stageInertia}',
    unit: 'kg·m²',
    source: 'reflected inertia, Machinery’s Handbook',
    inputs: ['movedMass', 'metresPerRadian', 'loadInertia', 'transmissionRatio', 'stageInertia'],
    compute: (v) =>
      known(v.movedMass * v.metresPerRadian ** 2 + v.loadInertia / toNumber(v.transmissionRatio) ** 2 + v.stageInertia),
  }),
  formula({
    symbol: 'inertiaRatio',
    label: 'Inertia ratio',
    expression: '{reflectedInertia} / {rotorInertia}',
    unit: '',
    source: definition,
    inputs: ['reflectedInertia', 'rotorInertia'],
    compute: (v) => finite(v.reflectedInertia / v.rotorInertia, 'the rotor inertia is zero'),
  }),
  formula({
    symbol: 'frictionTorque',
    label: 'Friction felt by the motor',
    expression: 'F · L / (2 · π · i · η) or T / (i · η), load {frictionLoad}, η {efficiency}',
    unit: 'N·m',
    source: 'lever of the last shaft',
    inputs: ['frictionLoad', 'movedMass', 'metresPerRadian', 'transmissionRatio', 'efficiency'],
    compute: (v) => {
      const lever = v.movedMass > 0 ? v.metresPerRadian : 1 / toNumber(v.transmissionRatio);
      return known((v.frictionLoad * lever) / v.efficiency);
    },
  }),
  formula({
    symbol: 'gravityTorque',
    label: 'Torque to hold the load',
    expression: '{movedMass} · 9.80665 · sin({incline}°) · {metresPerRadian}',
    unit: 'N·m',
    source: 'standard gravity, ISO 80000-3',
    inputs: ['movedMass', 'incline', 'metresPerRadian'],
    compute: (v) => known(v.movedMass * standardGravity * Math.sin((v.incline * Math.PI) / 180) * v.metresPerRadian),
  }),
  ...(['testMovePeakTorque', 'testMoveRmsTorque', 'testMoveRmsSpeed'] as const).map((symbol) =>
    formula({
      symbol,
      label: {
        testMovePeakTorque: 'Peak torque of the test move',
        testMoveRmsTorque: 'RMS torque of the test move',
        testMoveRmsSpeed: 'RMS speed of the test move',
      }[symbol],
      expression: {
        testMovePeakTorque: 'max |J · α + friction {frictionTorque} + gravity {gravityTorque}|',
        testMoveRmsTorque: '√(Σ T² · t / Σ t)',
        testMoveRmsSpeed: '√(Σ n² · t / Σ t)',
      }[symbol],
      unit: symbol === 'testMoveRmsSpeed' ? 'rpm' : 'N·m',
      source: 'duty-cycle sum, Machinery’s Handbook',
      inputs: [
        'testMove',
        'dwell',
        'rotorInertia',
        'reflectedInertia',
        'frictionTorque',
        'gravityTorque',
        'transmissionRatio',
        'travelPerTurn',
      ],
      compute: (v) => {
        const torque = moveTorque(v.testMove, v.dwell, {
          inertia: v.rotorInertia + v.reflectedInertia,
          friction: v.frictionTorque,
          gravity: v.gravityTorque,
          radiansPerUnit: (2 * Math.PI * toNumber(v.transmissionRatio)) / toNumber(v.travelPerTurn),
        });
        return known(
          { testMovePeakTorque: torque.peak, testMoveRmsTorque: torque.rms, testMoveRmsSpeed: torque.rmsSpeed }[symbol],
        );
      },
    }),
  ),
];

const limitsOf = (v: { speedAtControllerRate: number; speedAtDriveRate: number; speedAtMotor: number }) =>
  lowestLimit({
    'controller pulse rate': v.speedAtControllerRate,
    'drive input rate': v.speedAtDriveRate,
    'motor speed': v.speedAtMotor,
  });

/** The formulas of an axis. */
export const axisSheet = sheetOf<AxisValues>(formulas);

/** Works out an axis; with the previous evaluation only what an edit touches. */
export function evaluateAxis(input: AxisInput, previous?: Evaluation<AxisValues>): Evaluation<AxisValues> {
  const { encoderCycles, countsPerCycle, gearNumerator, gearDenominator, gearLimits } = input;
  const { travel, controllerPulseRate, driveInputRate, motorTopSpeed, counterBits } = input;
  const { wantedResolution, wantedSpeed, movedMass, loadInertia, frictionLoad, incline } = input;
  const { rotorInertia, ratedTorque, peakTorque, testMove, dwell } = input;
  return evaluate(
    axisSheet,
    {
      ...{ encoderCycles, countsPerCycle, gearNumerator, gearDenominator, gearLimits },
      ...{ travel, controllerPulseRate, driveInputRate, motorTopSpeed, counterBits },
      ...{ wantedResolution, wantedSpeed, movedMass, loadInertia, frictionLoad, incline },
      ...{ rotorInertia, ratedTorque, peakTorque, testMove, dwell },
      stageRatios: all<Exact[]>(...input.stages.map(ratioOf)),
      travelFactors: travelFactorsFor(input),
      efficiency: map(all<number[]>(...input.stages.map((stage) => stage.efficiency)), (each) =>
        each.reduce((a, b) => a * b, 1),
      ),
      stageInertia: stageInertiaOf(input),
    },
    previous,
  );
}

function travelFactorsFor(input: AxisInput): Outcome<readonly Exact[]> {
  const last = input.stages.at(-1);
  const factors = last && travelFactorsOf(last);
  switch (input.motionKind) {
    case 'linear':
      return (
        factors ?? unknown('a linear axis ends in a stage that gives travel, such as a belt or a screw', '/stages')
      );
    case 'rotary':
      return factors
        ? unknown('a rotary axis cannot end in a belt or a screw', '/stages')
        : known([exact(input.axisUnit === 'deg' ? 360 : 1)]);
    case 'dosing':
      return factors
        ? unknown('a dosing axis cannot end in a belt or a screw', '/stages')
        : map(input.outputPerTurn, (output) => [output]);
  }
}

/** Inertias of the stages, each divided by the square of the turns between the motor and its own shaft. */
function stageInertiaOf(input: AxisInput): Outcome<number> {
  let [sum, ratio] = [0, 1];
  for (const stage of input.stages) {
    const [inertia, own] = [stage.inertia, ratioOf(stage)];
    if (inertia.state === 'unknown') return inertia;
    if (own.state === 'unknown') return own;
    sum += inertia.value / ratio ** 2;
    ratio *= toNumber(own.value);
  }
  return known(sum);
}
