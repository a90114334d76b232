import { finite, formulaOf, known, map, unknown, type Formula } from '../../sheet/index.ts';
import { connectionFor, noLoadShare, plateResult } from '../plate.ts';
import type { PlateValues, SpindleValues } from '../spindleValues.ts';

const formula = formulaOf<SpindleValues>();

/** What the plate says of the connection that is made. */
const plateOf = ({ plate, chosenConnection }: Pick<PlateValues, 'plate' | 'chosenConnection'>) => {
  const given = plate[chosenConnection];
  return given
    ? known(given)
    : unknown(
        `the nameplate voltage and current in ${chosenConnection} have not been entered`,
        `/motor/${chosenConnection}Volts`,
      );
};

/** Current of a rectifier with capacitors over that of a resistor of the same power (common practice). */
const rectifierFactor = 1.4;

export const plateFormulas: readonly Formula<SpindleValues>[] = [
  formula({
    symbol: 'plateResult',
    label: 'Nameplate check',
    expression: 'poles, field and slip of the plate',
    unit: '',
    source: 'IEC 60034-1, NEMA MG 1',
    inputs: ['plate'],
    compute: (v) => plateResult(v.plate),
  }),
  formula({
    symbol: 'poles',
    label: 'Poles',
    expression: 'as given, or the even number below 120 · {plateHertz} / {plateSpeed}',
    unit: '',
    source: 'IEC 60034-1, NEMA MG 1: n = 120 · f / poles',
    inputs: ['plateResult'],
    compute: (v) => known(v.plateResult.poles),
  }),
  formula({
    symbol: 'synchronousSpeed',
    label: 'Synchronous speed',
    expression: '120 · {plateHertz} / {poles}',
    unit: 'rpm',
    source: 'IEC 60034-1, NEMA MG 1',
    inputs: ['plateHertz', 'poles'],
    compute: (v) => known((120 * v.plateHertz) / v.poles),
  }),
  formula({
    symbol: 'slip',
    label: 'Full-load slip',
    expression: '100 · (1 − {plateSpeed} / {synchronousSpeed})',
    unit: '%',
    source: 'definition',
    inputs: ['plateSpeed', 'synchronousSpeed'],
    compute: (v) => known(100 * (1 - v.plateSpeed / v.synchronousSpeed)),
  }),
  formula({
    symbol: 'slipHertz',
    label: 'Slip frequency',
    expression: '{slip} / 100 · {plateHertz}',
    unit: 'Hz',
    source: 'definition',
    inputs: ['slip', 'plateHertz'],
    compute: (v) => known((v.slip / 100) * v.plateHertz),
  }),
  formula({
    symbol: 'ratedTorque',
    label: 'Rated torque',
    expression: '{platePower} / (2π · {plateSpeed} / 60)',
    unit: 'N·m',
    source: 'P = T · ω',
    inputs: ['platePower', 'plateSpeed'],
    compute: (v) => finite(v.platePower / ((v.plateSpeed * Math.PI) / 30), 'the nameplate speed is zero'),
  }),
  formula({
    symbol: 'outputVolts',
    label: 'Drive output range',
    expression: '3 × {supplyVolts}',
    unit: 'V',
    source: 'output voltage does not exceed supply voltage (common practice)',
    inputs: ['supplyVolts'],
    compute: (v) => known(v.supplyVolts),
  }),
  formula({
    symbol: 'connectionChoice',
    label: 'Motor connection',
    expression: 'the connection rated for {outputVolts}',
    unit: '',
    source: 'IEC 60034-1: ± 10 %',
    inputs: ['plate', 'outputVolts'],
    compute: (v) => connectionFor(v.plate, v.outputVolts),
  }),
  formula({
    symbol: 'connection',
    label: 'Connection for this supply',
    expression: 'the connection rated for {outputVolts}',
    unit: '',
    source: 'IEC 60034-1: ± 10 %',
    inputs: ['connectionChoice'],
    compute: (v) => known(v.connectionChoice.connection),
  }),
  formula({
    symbol: 'motorVolts',
    label: 'Motor voltage in this connection',
    expression: 'plate, {chosenConnection}',
    unit: 'V',
    source: 'plate',
    inputs: ['plate', 'chosenConnection'],
    compute: (v) => map(plateOf(v), ({ volts }) => volts),
  }),
  formula({
    symbol: 'motorCurrent',
    label: 'Motor protection current to set',
    expression: 'plate, {chosenConnection}',
    unit: 'A',
    source: 'plate',
    inputs: ['plate', 'chosenConnection'],
    compute: (v) => map(plateOf(v), ({ amps }) => amps),
  }),
  formula({
    symbol: 'noLoadCurrent',
    label: 'Expected no-load current',
    expression: '{motorCurrent} · (√(1 − cos²φ) − 0.2)',
    unit: 'A',
    source: 'magnetising current less leakage (common practice)',
    inputs: ['plate', 'motorCurrent'],
    compute: (v) => map(v.plate.powerFactor, (factor) => v.motorCurrent * noLoadShare(factor)),
  }),
  formula({
    symbol: 'plateEfficiency',
    label: 'Efficiency from the nameplate',
    expression: '100 · {platePower} / (√3 · {motorVolts} · {motorCurrent} · cos φ)',
    unit: '%',
    source: 'IEC 60034-1',
    inputs: ['platePower', 'motorVolts', 'motorCurrent', 'plate'],
    compute: (v) =>
      map(
        v.plate.powerFactor,
        (factor) => (100 * v.platePower) / (Math.sqrt(3) * v.motorVolts * v.motorCurrent * factor),
      ),
  }),
  formula({
    symbol: 'supplyCurrent',
    label: 'Current from the supply at full load',
    expression: '1.4 · {platePower} / {plateEfficiency} / volts of {supplyPhases} phases',
    unit: 'A',
    source: 'power over volts; 1.4 for a rectifier with capacitors (common practice)',
    inputs: ['platePower', 'plateEfficiency', 'supplyVolts', 'supplyPhases'],
    compute: (v) =>
      known(
        (rectifierFactor * v.platePower) /
          (v.plateEfficiency / 100) /
          (v.supplyVolts * (v.supplyPhases === 3 ? Math.sqrt(3) : 1)),
      ),
  }),
];
