import { formulaOf, known, unknown, type Formula } from '../../sheet/index.ts';
import type { SpindleValues } from '../spindleValues.ts';
import { regionAt, ruinOf, saturatedCurrent, worstFluxHertz } from '../voltsPerHertz.ts';

const formula = formulaOf<SpindleValues>();

export const curveFormulas: readonly Formula<SpindleValues>[] = [
  formula({
    symbol: 'motorPoint',
    label: 'Rated motor range',
    expression: '{motorVolts} V at {plateHertz} Hz',
    unit: '',
    source: 'plate',
    inputs: ['motorVolts', 'plateHertz'],
    compute: (v) => known({ hertz: v.plateHertz, volts: v.motorVolts }),
  }),
  formula({
    symbol: 'worstFluxHertz',
    label: 'Frequency of the highest flux',
    expression: 'the point of the curve with the highest volts per hertz',
    unit: 'Hz',
    source: 'V/f',
    inputs: ['curve', 'motorPoint'],
    compute: (v) => known(worstFluxHertz(v.curve, v.motorPoint)),
  }),
  formula({
    symbol: 'worstFlux',
    label: 'Highest flux, relative to rated',
    expression: '(volts / hertz at {worstFluxHertz} Hz) / ({motorVolts} / {plateHertz})',
    unit: '%',
    source: 'flux is proportional to V/f',
    inputs: ['curve', 'motorPoint', 'worstFluxHertz'],
    compute: (v) => known(100 * regionAt(v.curve, v.motorPoint, v.worstFluxHertz).flux),
  }),
  formula({
    symbol: 'saturatedCurrent',
    label: 'No-load current at this flux',
    expression: '{motorCurrent} · volts / |R + jωLσ|',
    unit: 'A',
    source: 'resistance 4 %, leakage 20 % of the rated impedance (common practice)',
    inputs: ['curve', 'motorPoint', 'motorCurrent'],
    compute: (v) => {
      const ruin = ruinOf(v.curve, v.motorPoint);
      return ruin
        ? known(v.motorCurrent * saturatedCurrent(v.curve, v.motorPoint, ruin.hertz))
        : unknown('the iron does not saturate anywhere');
    },
  }),
  formula({
    symbol: 'constantPowerFrom',
    label: 'Constant power from',
    expression: '120 · {baseHertz} / {poles} / {beltRatio}',
    unit: 'rpm',
    source: 'constant voltage above the base frequency',
    inputs: ['baseHertz', 'poles', 'ratioNumber'],
    compute: (v) => known((120 * v.baseHertz) / v.poles / v.ratioNumber),
  }),
  formula({
    symbol: 'torqueAtTop',
    label: 'Torque left at the highest speed',
    expression: 'flux at {hertzAtTop} Hz',
    unit: '%',
    source: 'rated current gives torque by flux',
    inputs: ['curve', 'motorPoint', 'hertzAtTop'],
    compute: (v) => known(100 * regionAt(v.curve, v.motorPoint, v.hertzAtTop).torque),
  }),
];
