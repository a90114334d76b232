import { describe, expect, it } from 'vitest';
import { axisSheets, evaluateAxis } from '../chain/index.ts';
import { exact } from '../quantity/index.ts';
import { carriage, everything } from '../test/sampleAxis.ts';
import { all, finite, isExact, known, map, symbolText, unknown, valueOf, valueText, workingOf } from './index.ts';

describe('workings of the axis sheet', () => {
  const results = evaluateAxis(carriage);

  it.each([
    ['pulsesPerRevolution', 'Q · D / N', '1\u202f048\u202f576 · 125 / 12\u202f288', '32000/3 ≈ 10\u202f666.6667'],
    ['stepsPerUnit', 'P · i / L', '32000/3 ≈ 10\u202f666.6667 · 3 / 320', '100'],
    ['wantedRatio', 'Q · i · u / L', '1\u202f048\u202f576 · 3 · 0.01 / 320', '98.304'],
    ['transmissionRatio', '∏(stage ratios)', '∏(3, 1)', '3'],
    ['travelPerTurn', '∏(travel factors)', '∏(32, 10)', '320'],
    ['countsPerRevolution', 'counts per cycle · encoder cycles', '1 · 1\u202f048\u202f576', '1\u202f048\u202f576'],
    ['speedAtControllerRate', 'controller pulse rate / S', '200\u202f000 / 100', '2\u202f000'],
    [
      'bindingLimits',
      expect.stringContaining('lowest of') as unknown as string,
      expect.any(String) as unknown as string,
      'controller pulse rate',
    ],
  ] as const)('%s', (symbol, expression, numbers, result) => {
    expect(workingOf(axisSheets.pulses, results, symbol)).toMatchObject({ expression, numbers, result });
  });

  it('every formula names its inputs in its expression or is a sum over a move, and has a unit, a label and a source', () => {
    const whole = evaluateAxis(everything);
    for (const formula of axisSheets.pulses.formulas) {
      const working = workingOf(axisSheets.pulses, whole, formula.symbol);
      expect(working?.numbers, formula.symbol).not.toMatch(/\{|undefined|NaN/);
      expect(formula.label.length, formula.symbol).toBeGreaterThan(3);
      expect(formula.source.length, formula.symbol).toBeGreaterThan(3);
      expect(whole[formula.symbol].state, formula.symbol).toBe('known');
    }
  });

  it('shows what is unknown as such, and gives none for what is given', () => {
    const partly = evaluateAxis({ ...carriage, gearNumerator: unknown('the numerator is empty') });
    expect(workingOf(axisSheets.pulses, partly, 'stepsPerUnit')).toMatchObject({
      numbers: '? · 3 / 320',
      result: 'unknown, because the numerator is empty',
    });
    expect(workingOf(axisSheets.pulses, results, 'travel')).toBeUndefined();
  });
});

describe('outcomes', () => {
  it('are handed on, joined and mapped', () => {
    expect(valueOf(map(known(2), (n) => n + 1))).toBe(3);
    expect(map(unknown('why', '/a'), () => 1)).toEqual(unknown('why', '/a'));
    expect(all<[number, string]>(known(1), known('x'))).toEqual(known([1, 'x']));
    expect(all<[number, number]>(known(1), unknown('gone'))).toEqual(unknown('gone'));
    expect(finite(1 / 0, 'divided by zero')).toEqual(unknown('divided by zero'));
  });

  it('are shown in words and symbols', () => {
    expect(valueText(true)).toBe('yes');
    expect(valueText([{ name: 'stage 1', speed: 1500, stage: { index: 0 } }])).toBe('stage 1 1\u202f500');
    expect(valueText(['a', exact(1, 3)])).toBe('a, 1/3 ≈ 0.333333333');
    expect(symbolText('gearNumerator')).toBe('N');
    expect(symbolText('motorTopSpeed')).toBe('motor top speed');
    expect([isExact(exact(1)), isExact(1), isExact(null)]).toEqual([true, false, false]);
  });
});
