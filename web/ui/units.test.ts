import { describe, expect, it } from 'vitest';
import { shownUnits } from './units.ts';

describe('shown units', () => {
  const inch = shownUnits({ axisUnit: 'mm', motorForm: 'rotary' }, 'inch');
  it.each([
    ['{u}', 25.4, 1, 'in'],
    ['{u}/s', 254, 10, 'in/s'],
    ['{u}/s²', 25.4, 1, 'in/s²'],
    ['{u}/pulse', 0.0254, 0.001, 'in/pulse'],
    ['pulses/{u}', 100, 2540, 'pulses/in'],
    ['{motorSpeed}', 300, 300, 'rpm'],
    ['{torque}', 2, 2, 'N·m'],
  ])('%s', (template, own, shown, name) => {
    expect(inch.shown(own, template)).toBeCloseTo(shown, 10);
    expect(inch.own(inch.shown(own, template), template)).toBeCloseTo(own, 10);
    expect(inch.name(template)).toBe(name);
  });

  it('a linear motor has force, mass and mm/s where a shaft has torque, inertia and rpm', () => {
    const linear = shownUnits({ axisUnit: 'mm', motorForm: 'linear' }, 'metric');
    expect(['{torque}', '{inertia}', '{motorSpeed}', 'counts/{rev}'].map(linear.name)).toEqual([
      'N',
      'kg',
      'mm/s',
      'counts/mm',
    ]);
  });

  it('only lengths in mm are ever shown in inches', () => {
    expect(shownUnits({ axisUnit: 'deg', motorForm: 'rotary' }, 'inch').shown(90, '{u}')).toBe(90);
    expect(shownUnits({ axisUnit: 'mm', motorForm: 'rotary' }, 'metric').shown(90, '{u}')).toBe(90);
    expect(shownUnits({ axisUnit: 'mL', motorForm: 'rotary' }, 'inch').unit).toBe('mL');
  });
});
