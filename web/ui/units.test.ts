import { describe, expect, it } from 'vitest';
import { shownUnits } from './units.ts';

describe('shown units', () => {
  const inch = shownUnits('mm', 'inch');
  it.each([
    ['{u}', 25.4, 1, 'in'],
    ['{u}/s', 254, 10, 'in/s'],
    ['{u}/s²', 25.4, 1, 'in/s²'],
    ['{u}/pulse', 0.0254, 0.001, 'in/pulse'],
    ['pulses/{u}', 100, 2540, 'pulses/in'],
    ['rpm', 300, 300, 'rpm'],
  ])('%s', (template, own, shown, name) => {
    expect(inch.shown(own, template)).toBeCloseTo(shown, 10);
    expect(inch.own(inch.shown(own, template), template)).toBeCloseTo(own, 10);
    expect(inch.name(template)).toBe(name);
  });

  it('only lengths in mm are ever shown in inches', () => {
    expect(shownUnits('deg', 'inch').shown(90, '{u}')).toBe(90);
    expect(shownUnits('mm', 'metric').shown(90, '{u}')).toBe(90);
    expect(shownUnits('mL', 'inch').unit).toBe('mL');
  });
});
