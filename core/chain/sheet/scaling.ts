import { divide, exact, multiply, toNumber } from '../../quantity/index.ts';
import { formulaOf, known, type Formula } from '../../sheet/index.ts';
import type { AxisValues } from '../axisValues.ts';
import { partsPerMillion } from '../bestFractions.ts';

const formula = formulaOf<AxisValues>();
const definition = 'definition';

/** Of every axis. */
export const scalingFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'countsPerRevolution',
    label: 'Counts per {revolution}',
    expression: '{countsPerCycle} · {encoderCycles}',
    unit: 'counts/{rev}',
    source: 'quadrature gives four counts a line; an encoder of b bits gives 2^b',
    inputs: ['encoderCycles', 'countsPerCycle'],
    compute: (v) => known(multiply(v.countsPerCycle, v.encoderCycles)),
  }),
  formula({
    symbol: 'transmissionRatio',
    label: 'Motor {turns} per output {turn}',
    expression: '∏({stageRatios})',
    unit: '',
    source: definition,
    inputs: ['stageRatios'],
    compute: (v) => known(multiply(...v.stageRatios)),
  }),
  formula({
    symbol: 'travelPerTurn',
    label: 'Travel per output {turn}',
    expression: '∏({travelFactors})',
    unit: '{u}',
    source:
      'belt: teeth × pitch; screw: lead; rotary: one turn; slide: as the motor; times what measuring has corrected',
    inputs: ['travelFactors'],
    compute: (v) => known(multiply(...v.travelFactors)),
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
];

/** Of an axis that pulses command through an electronic gear. */
export const gearFormulas: readonly Formula<AxisValues>[] = [
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
    label: 'Pulses per {revolution}',
    expression: '{countsPerRevolution} · {gearDenominator} / {gearNumerator}',
    unit: 'pulses/{rev}',
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
    label: 'Error per 1000 output {turns}',
    expression: '{ratioError} · 1000 · {travelPerTurn} / 10⁶',
    unit: '{u}',
    source: definition,
    inputs: ['ratioError', 'travelPerTurn'],
    compute: (v) => known((v.ratioError * toNumber(v.travelPerTurn)) / 1000),
  }),
];
