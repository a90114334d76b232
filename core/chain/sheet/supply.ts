import { loweringTorque, returnedKineticEnergy } from '../../motion/index.ts';
import { formulaOf, known, type Formula } from '../../sheet/index.ts';
import type { AxisValues } from '../axisValues.ts';

const formula = formulaOf<AxisValues>();

export const supplyFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'torqueConstant',
    label: 'Torque constant',
    expression: '{voltageConstant} · 60 / (2 · π · 1000)',
    unit: 'N·m/A',
    source: 'volts per rad/s and N·m per ampere are the same number (brushed or block-commutated motor)',
    inputs: ['voltageConstant'],
    compute: (v) => known((v.voltageConstant * 60) / (2000 * Math.PI)),
  }),
  formula({
    symbol: 'supplyPeakCurrent',
    label: 'Supply current at the peak of the test move',
    expression: '{motorCount} · (T · ω + (T / {torqueConstant})² · {windingResistance}) / {supplyVoltage}',
    unit: 'A',
    source: 'power balance: shaft and winding',
    inputs: [
      'motorCount',
      'testMove',
      'testMovePeakTorque',
      'torqueConstant',
      'windingResistance',
      'supplyVoltage',
      'metresPerRadian',
      'motorRadiansPerTurn',
      'transmissionRatio',
      'travelPerTurn',
    ],
    compute: (v) => {
      const speed = v.testMove.peakSpeed / 1000 / v.metresPerRadian;
      const winding = (v.testMovePeakTorque / v.torqueConstant) ** 2 * v.windingResistance;
      return known((v.motorCount * (v.testMovePeakTorque * speed + winding)) / v.supplyVoltage);
    },
  }),
  formula({
    symbol: 'supplyTotalCurrent',
    label: 'Supply current of all axes',
    expression: '{supplyPeakCurrent} + others {otherSupplyCurrent}',
    unit: 'A',
    source: 'sum of the peaks',
    inputs: ['supplyPeakCurrent', 'otherSupplyCurrent'],
    compute: (v) => known(v.supplyPeakCurrent + v.otherSupplyCurrent),
  }),
  formula({
    symbol: 'loweringEnergy',
    label: 'Energy returned by lowering the load',
    expression: '{motorCount} · (|{gravityTorque}| − friction, not below 0) · ∏ η back · motor turns of the test move',
    unit: 'J',
    source: 'work of the weight less that of the friction and of each stage',
    inputs: ['motorCount', 'testMove', 'gravityTorque', 'driveTrain', 'metresPerRadian'],
    compute: (v) => {
      const radians = Math.abs(v.testMove.distance) / 1000 / v.metresPerRadian;
      return known(v.motorCount * loweringTorque(v.driveTrain) * radians);
    },
  }),
  formula({
    symbol: 'brakingEnergy',
    label: 'Energy returned by one stop',
    expression:
      '{motorCount} · ½ · ({rotorInertia} + Σ J · η back, of {reflectedInertia}) · ω² + lowering {loweringEnergy}',
    unit: 'J',
    source: 'kinetic energy at the test move’s peak speed less η of each stage; losses in motor and drive left out',
    inputs: [
      'motorCount',
      'testMove',
      'driveTrain',
      'rotorInertia',
      'reflectedInertia',
      'metresPerRadian',
      'loweringEnergy',
    ],
    compute: (v) =>
      known(
        v.motorCount * returnedKineticEnergy(v.driveTrain, v.testMove.peakSpeed / 1000 / v.metresPerRadian) +
          v.loweringEnergy,
      ),
  }),
  formula({
    symbol: 'supplyVoltageAfterBraking',
    label: 'Supply voltage after the stop',
    expression: '√({supplyVoltage}² + 2 · {brakingEnergy} / {supplyCapacitance})',
    unit: 'V',
    source: 'energy of a capacitor, ½ · C · V²',
    inputs: ['supplyVoltage', 'brakingEnergy', 'supplyCapacitance'],
    compute: (v) => known(Math.sqrt(v.supplyVoltage ** 2 + (2 * v.brakingEnergy) / v.supplyCapacitance)),
  }),
];
