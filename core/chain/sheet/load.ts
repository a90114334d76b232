import { moveTorque, runningTorque } from '../../motion/index.ts';
import { toNumber } from '../../quantity/index.ts';
import { finite, formulaOf, known, type Formula } from '../../sheet/index.ts';
import type { AxisValues } from '../axisValues.ts';

const formula = formulaOf<AxisValues>();
const definition = 'definition';
const standardGravity = 9.80665;

export const loadFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'metresPerRadian',
    label: 'Load travel per motor {radian}',
    expression: '{travelPerTurn} / ({motorRadiansPerTurn} · {transmissionRatio} · 1000)',
    unit: 'm/{rad}',
    source: definition,
    inputs: ['motorRadiansPerTurn', 'travelPerTurn', 'transmissionRatio'],
    compute: (v) => known(toNumber(v.travelPerTurn) / (v.motorRadiansPerTurn * toNumber(v.transmissionRatio) * 1000)),
  }),
  formula({
    symbol: 'reflectedInertia',
    label: 'Load inertia at the motor',
    expression: '{movedMass} · ({metresPerRadian})² + {loadInertia} / {transmissionRatio}² + {stageInertia}',
    unit: '{inertia}',
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
    label: 'Friction torque at the motor',
    expression: 'F · L / (2 · π · i · η) or T / (i · η), load {frictionLoad}, η {efficiency}',
    unit: '{torque}',
    source: 'lever of the last shaft',
    inputs: ['motionKind', 'frictionLoad', 'metresPerRadian', 'transmissionRatio', 'efficiency'],
    compute: (v) => {
      const lever = v.motionKind === 'linear' ? v.metresPerRadian : 1 / toNumber(v.transmissionRatio);
      return known((v.frictionLoad * lever) / v.efficiency);
    },
  }),
  formula({
    symbol: 'gravityTorque',
    label: 'Torque to hold the load',
    expression: '{movedMass} · 9.80665 · sin({incline}°) · {metresPerRadian}',
    unit: '{torque}',
    source: 'standard gravity, ISO 80000-3',
    inputs: ['movedMass', 'incline', 'metresPerRadian'],
    compute: (v) => known(v.movedMass * standardGravity * Math.sin((v.incline * Math.PI) / 180) * v.metresPerRadian),
  }),
  formula({
    symbol: 'driveTrain',
    label: 'Total inertia at the motor',
    expression:
      'T = ({rotorInertia} + …) · α: at each stage T_in = T_out · (1/η or η back) + J · α; load {reflectedInertia} less {stageInertia}, friction {frictionTorque} · {efficiency}, gravity {gravityTorque}',
    unit: '',
    source: 'power balance of each stage, Machinery’s Handbook',
    inputs: [
      'rotorInertia',
      'reflectedInertia',
      'stageInertia',
      'frictionTorque',
      'efficiency',
      'gravityTorque',
      'stageLosses',
    ],
    compute: (v) =>
      known({
        inertia: v.rotorInertia,
        loadInertia: Math.max(0, v.reflectedInertia - v.stageInertia),
        friction: v.frictionTorque * v.efficiency,
        gravity: v.gravityTorque,
        stages: v.stageLosses,
      }),
  }),
  formula({
    symbol: 'runningTorque',
    label: '{Effort} against friction and gravity',
    expression: '(gravity {gravityTorque} + friction) / η, in the harder direction',
    unit: '{torque}',
    source: 'power balance of each stage at a steady speed',
    inputs: ['driveTrain', 'gravityTorque'],
    compute: (v) => known(runningTorque(v.driveTrain)),
  }),
  ...(['testMovePeakTorque', 'testMoveRmsTorque', 'testMoveRmsSpeed'] as const).map((symbol) =>
    formula({
      symbol,
      label: {
        testMovePeakTorque: 'Peak {effort} of the test move',
        testMoveRmsTorque: 'RMS {effort} of the test move',
        testMoveRmsSpeed: 'RMS speed of the test move',
      }[symbol],
      expression: {
        testMovePeakTorque:
          'max |rotor + Σ stages of T_out · (1/η or η back) + J · α|, load α + friction {frictionTorque} · η + gravity {gravityTorque}',
        testMoveRmsTorque: '√(Σ T² · t / Σ t)',
        testMoveRmsSpeed: '√(Σ n² · t / Σ t)',
      }[symbol],
      unit: symbol === 'testMoveRmsSpeed' ? '{motorSpeed}' : '{torque}',
      source: 'duty-cycle sum, Machinery’s Handbook',
      inputs: [
        'testMove',
        'dwell',
        'motorSpeedScale',
        'motorRadiansPerTurn',
        'driveTrain',
        'frictionTorque',
        'gravityTorque',
        'transmissionRatio',
        'travelPerTurn',
      ],
      compute: (v) => {
        const radiansPerUnit = (v.motorRadiansPerTurn * toNumber(v.transmissionRatio)) / toNumber(v.travelPerTurn);
        const torque = moveTorque(v.testMove, v.dwell, { ...v.driveTrain, radiansPerUnit });
        const rmsSpeed = (torque.rmsSpeed * v.motorSpeedScale) / v.motorRadiansPerTurn;
        return known(
          { testMovePeakTorque: torque.peak, testMoveRmsTorque: torque.rms, testMoveRmsSpeed: rmsSpeed }[symbol],
        );
      },
    }),
  ),
];
