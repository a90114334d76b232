import { finite, formulaOf, known, unknown, type Formula } from '../../sheet/index.ts';
import type { SpindleValues } from '../spindleValues.ts';
import {
  brakeResistor,
  braking,
  capacitorEnergy,
  coastingTime,
  shortestRamp,
  timeToSpeed,
  type SpindleLoad,
} from '../rampsAndBraking.ts';

const formula = formulaOf<SpindleValues>();

/** Share of the mechanical power that comes back through motor and drive (common practice for small motors). */
export const returningEfficiency = (plateEfficiency: number): number => Math.min(0.98, (plateEfficiency / 100) * 0.97);

const loadOf = (v: { readonly totalInertia: number; readonly frictionTorque: number }): SpindleLoad => ({
  inertia: v.totalInertia,
  torque: v.frictionTorque,
});

export const rampFormulas: readonly Formula<SpindleValues>[] = [
  formula({
    symbol: 'totalInertia',
    label: 'Inertia at the motor',
    expression: '{rotorInertia} + {pulleyInertia} + {toolInertia} / {ratioNumber}²',
    unit: 'kg·m²',
    source: 'machine-design handbook: inertia through a ratio',
    inputs: ['rotorInertia', 'pulleyInertia', 'toolInertia', 'ratioNumber'],
    compute: (v) => known(v.rotorInertia + v.pulleyInertia + v.toolInertia / v.ratioNumber ** 2),
  }),
  formula({
    symbol: 'topOmega',
    label: 'Motor speed at the highest wanted tool speed',
    expression: '2π / 60 · {wantedTop} · {ratioNumber}',
    unit: 'rad/s',
    source: 'definition',
    inputs: ['wantedTop', 'ratioNumber'],
    compute: (v) => known((v.wantedTop * v.ratioNumber * Math.PI) / 30),
  }),
  formula({
    symbol: 'availableTorque',
    label: 'Starting torque needed',
    expression: '{ratedTorque} · min({overload}, {driveOverload} · {driveCurrent} / {motorCurrent})',
    unit: 'N·m',
    source: 'torque is proportional to current (common practice)',
    inputs: ['ratedTorque', 'overload', 'driveOverload', 'driveCurrent', 'motorCurrent'],
    compute: (v) => known(v.ratedTorque * Math.min(v.overload, (v.driveOverload * v.driveCurrent) / v.motorCurrent)),
  }),
  formula({
    symbol: 'reachableStart',
    label: 'Shortest possible start',
    expression: '{totalInertia} · ∫ dω / ({availableTorque} − {frictionTorque}), 0 … {topOmega}',
    unit: 's',
    source: 'J · dω/dt = T − T load, torque falling as 1/ω above the base',
    inputs: ['totalInertia', 'frictionTorque', 'availableTorque', 'baseHertz', 'poles', 'topOmega'],
    compute: (v) => {
      const time = timeToSpeed(
        loadOf(v),
        { torque: v.availableTorque, baseSpeed: (4 * Math.PI * v.baseHertz) / v.poles },
        v.topOmega,
      );
      return Number.isFinite(time)
        ? known(time)
        : unknown('friction uses up all the torque before the speed is reached');
    },
  }),
  formula({
    symbol: 'plannedStart',
    label: 'Start time with the ramp set',
    expression: '{rampUp} · {topOmega} · {poles} / (4π · {highestHertz})',
    unit: 's',
    source: 'a ramp time refers to the highest frequency',
    inputs: ['rampUp', 'topOmega', 'poles', 'highestHertz'],
    compute: (v) => known((v.rampUp * v.topOmega * v.poles) / (4 * Math.PI * v.highestHertz)),
  }),
  formula({
    symbol: 'plannedStop',
    label: 'Stop time with the ramp set',
    expression: '{rampDown} · {topOmega} · {poles} / (4π · {highestHertz})',
    unit: 's',
    source: 'a ramp time refers to the highest frequency',
    inputs: ['rampDown', 'topOmega', 'poles', 'highestHertz'],
    compute: (v) => known((v.rampDown * v.topOmega * v.poles) / (4 * Math.PI * v.highestHertz)),
  }),
  formula({
    symbol: 'busVolts',
    label: 'DC bus voltage at rest',
    expression: '√2 · {supplyVolts}',
    unit: 'V',
    source: 'peak of the supply',
    inputs: ['supplyVolts'],
    compute: (v) => known(Math.SQRT2 * v.supplyVolts),
  }),
  formula({
    symbol: 'brakingSupply',
    label: 'Braking energy absorbed by',
    expression: '{capacitance} from {busVolts} V to {tripVolts} V, and {idlePower} W',
    unit: '',
    source: 'drive',
    inputs: ['capacitance', 'busVolts', 'tripVolts', 'idlePower', 'plateEfficiency'],
    compute: (v) =>
      v.tripVolts <= v.busVolts
        ? unknown(`the drive would trip at ${v.tripVolts} V, below its own DC bus at rest`, '/drive/tripVolts')
        : known({
            capacitance: v.capacitance,
            busVolts: v.busVolts,
            tripVolts: v.tripVolts,
            idlePower: v.idlePower,
            efficiency: returningEfficiency(v.plateEfficiency),
          }),
  }),
  formula({
    symbol: 'brakingResult',
    label: 'Energy returned by the stop',
    expression: 'from {topOmega} to rest in {plannedStop}',
    unit: '',
    source: 'energy',
    inputs: ['totalInertia', 'frictionTorque', 'brakingSupply', 'topOmega', 'plannedStop'],
    compute: (v) => known(braking(loadOf(v), v.brakingSupply, v.topOmega, v.plannedStop)),
  }),
  formula({
    symbol: 'kineticEnergy',
    label: 'Rotational energy',
    expression: '½ · {totalInertia} · {topOmega}²',
    unit: 'J',
    source: 'E = ½ · J · ω²',
    inputs: ['totalInertia', 'topOmega'],
    compute: (v) => known(0.5 * v.totalInertia * v.topOmega ** 2),
  }),
  formula({
    symbol: 'capacitorEnergy',
    label: 'Energy the capacitors absorb before a trip',
    expression: '½ · {capacitance} · ({tripVolts}² − {busVolts}²)',
    unit: 'J',
    source: 'E = ½ · C · V²',
    inputs: ['brakingSupply'],
    compute: (v) => known(capacitorEnergy(v.brakingSupply)),
  }),
  formula({
    symbol: 'returnedEnergy',
    label: 'Energy returned by this stop',
    expression: 'braking power · efficiency − {idlePower}, over {plannedStop}',
    unit: 'J',
    source: 'a straight ramp, less friction and losses',
    inputs: ['brakingResult', 'idlePower', 'plannedStop'],
    compute: (v) => known(v.brakingResult.returned),
  }),
  formula({
    symbol: 'busVoltsAfterStop',
    label: 'Highest DC bus voltage without a resistor',
    expression: '√({busVolts}² + 2 · {returnedEnergy} / {capacitance})',
    unit: 'V',
    source: 'E = ½ · C · V²',
    inputs: ['brakingResult', 'busVolts', 'returnedEnergy', 'capacitance'],
    compute: (v) => known(v.brakingResult.busVolts),
  }),
  formula({
    symbol: 'shortestStop',
    label: 'Shortest stop without a resistor',
    expression: 'the ramp that brings the DC bus just to {tripVolts} V',
    unit: 's',
    source: 'energy',
    inputs: ['totalInertia', 'frictionTorque', 'brakingSupply', 'topOmega', 'tripVolts'],
    compute: (v) =>
      finite(
        shortestRamp(loadOf(v), v.brakingSupply, v.topOmega),
        'no ramp is slow enough: only the drive slows the spindle down, and its capacitors cannot absorb the energy',
      ),
  }),
  formula({
    symbol: 'coastingTime',
    label: 'Coasting to rest',
    expression: '{totalInertia} · {topOmega} / {frictionTorque}',
    unit: 's',
    source: 'J · ω / T',
    inputs: ['totalInertia', 'topOmega', 'frictionTorque'],
    compute: (v) => {
      const time = coastingTime(loadOf(v), v.topOmega);
      return Number.isFinite(time) ? known(time) : unknown('no friction has been entered that would slow it down');
    },
  }),
  formula({
    symbol: 'brakeResistor',
    label: 'Brake resistor for this stop',
    expression: '{leastOhms} Ω … {chopperVolts}² / peak power',
    unit: '',
    source: 'P = V² / R',
    inputs: ['brakingResult', 'chopperVolts', 'leastOhms', 'stopEvery'],
    compute: (v) => known(brakeResistor(v.brakingResult, v.chopperVolts, v.leastOhms, v.stopEvery)),
  }),
  formula({
    symbol: 'resistorMost',
    label: 'Highest resistor value',
    expression: '{chopperVolts}² / {resistorPeak}',
    unit: 'Ω',
    source: 'P = V² / R',
    inputs: ['brakeResistor', 'chopperVolts', 'resistorPeak'],
    compute: (v) =>
      Number.isFinite(v.brakeResistor.most) ? known(v.brakeResistor.most) : unknown('this stop returns no energy'),
  }),
  formula({
    symbol: 'resistorPeak',
    label: 'Peak power into the resistor',
    expression: 'braking power at {topOmega}',
    unit: 'W',
    source: 'P = T · ω, less losses',
    inputs: ['brakeResistor', 'topOmega'],
    compute: (v) => known(v.brakeResistor.peakPower),
  }),
  formula({
    symbol: 'resistorMean',
    label: 'Mean power into the resistor',
    expression: '{returnedEnergy} / {stopEvery}',
    unit: 'W',
    source: 'a stop every so often',
    inputs: ['brakeResistor', 'returnedEnergy', 'stopEvery'],
    compute: (v) => known(v.brakeResistor.meanPower),
  }),
];
