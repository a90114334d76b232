import { describe, expect, it } from 'vitest';
import { exact, type Exact } from '../quantity/index.ts';
import { evaluate, finite, formulaOf, known, sheetOf, unknown, valueOf, workingOf } from './index.ts';

interface Values {
  a: Exact;
  b: number;
  double: number;
  quotient: number;
  unrelated: number;
}
const formula = formulaOf<Values>();
const sheet = sheetOf<Values>([
  formula({
    symbol: 'quotient',
    label: 'Quotient',
    expression: '{double} / {b}',
    unit: 'mm',
    source: 'school',
    inputs: ['double', 'b'],
    compute: ({ double, b }) => finite(double / b, 'b is zero'),
  }),
  formula({
    symbol: 'double',
    label: 'Double',
    expression: '2 · {a}',
    unit: 'mm',
    source: 'school',
    inputs: ['a'],
    compute: ({ a }) => known(2 * Number(a.ratio.numerator)),
  }),
  formula({
    symbol: 'unrelated',
    label: 'Unrelated',
    expression: '{b} + 1',
    unit: '',
    source: 'school',
    inputs: ['b'],
    compute: ({ b }) => known(b + 1),
  }),
]);

describe('sheet', () => {
  it('evaluates in dependency order and shows its working', () => {
    const results = evaluate(sheet, { a: known(exact(3)), b: known(4) });
    expect(valueOf(results.quotient)).toBe(1.5);
    expect(workingOf(sheet, results, 'quotient')).toMatchObject({
      expression: 'double / b',
      numbers: '6 / 4',
      result: '1.5',
      unit: 'mm',
    });
  });

  it('hands an unknown on with its reason, never NaN or Infinity', () => {
    const missing = evaluate(sheet, { a: unknown('a is empty', '/a'), b: known(4) });
    expect(missing.quotient).toEqual({ state: 'unknown', because: 'a is empty', path: '/a' });
    expect(valueOf(missing.unrelated)).toBe(5);
    expect(evaluate(sheet, { a: known(exact(3)), b: known(0) }).quotient).toEqual(unknown('b is zero'));
    expect(evaluate(sheet, { a: known(exact(3)), b: known(Infinity) }).unrelated.state).toBe('unknown');
  });

  it('recomputes only what an edit touches', () => {
    const first = evaluate(sheet, { a: known(exact(3)), b: known(4) });
    const touched: string[] = [];
    const second = evaluate(sheet, { a: known(exact(5)), b: known(4) }, first, (symbol) => touched.push(symbol));
    expect(touched).toEqual(['double', 'quotient']);
    expect(second.unrelated).toBe(first.unrelated);
    touched.length = 0;
    expect(evaluate(sheet, { a: known(exact(5)), b: known(4) }, second, (s) => touched.push(s))).toEqual(second);
    expect(touched).toEqual([]);
  });

  it('refuses formulas that need each other', () => {
    const ring = (symbol: 'double' | 'quotient', input: 'double' | 'quotient') =>
      formula({ symbol, label: '', expression: '', unit: '', source: '', inputs: [input], compute: () => known(1) });
    expect(() => sheetOf([ring('double', 'quotient'), ring('quotient', 'double')])).toThrow('needs itself');
  });
});
