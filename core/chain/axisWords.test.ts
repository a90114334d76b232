import { describe, expect, it } from 'vitest';
import { known, unknown, valueOf } from '../sheet/index.ts';
import { everything } from '../test/sampleAxis.ts';
import { axisSheets, axisWords, evaluateAxis, type AxisInput } from './index.ts';

describe('the words of a scaled signal', () => {
  const words = (
    meaning: 'speed' | 'torque' | 'position',
    unit: 'V' | 'mA' | '%',
    motorForm: 'rotary' | 'linear' = 'rotary',
  ) =>
    axisWords('{value}/{signal}, {u}{perSecond}', { axisUnit: 'mm', motorForm, command: { range: { unit }, meaning } });
  it('name its signal and what it means', () => {
    expect(words('speed', 'V')).toBe('rpm/V, mm/s');
    expect(words('speed', 'mA', 'linear')).toBe('mm/s/mA, mm/s');
    expect(words('torque', '%')).toBe('%/%, mm');
    expect(words('position', 'V')).toBe('mm/V, mm');
  });
  it('are empty where no signal commands the axis', () => {
    expect(
      axisWords('[{signal}][{value}][{perSecond}]', {
        axisUnit: 'mm',
        motorForm: 'rotary',
        command: { kind: 'pulses' },
      }),
    ).toBe('[][][]');
  });
  it('leave nothing open in any sheet', () => {
    for (const { formulas } of Object.values(axisSheets))
      for (const { label, unit } of formulas)
        expect(axisWords(`${label} ${unit}`, { axisUnit: 'mm', motorForm: 'rotary' })).not.toMatch(/[{}]/);
  });
});

describe('words of an axis', () => {
  it('a motor that turns has revolutions and torque, one that pushes has mm and force', () => {
    const label = 'Pulses per {revolution}, {effort} in {torque}, {u}';
    expect(axisWords(label, { axisUnit: 'mm', motorForm: 'rotary' })).toBe('Pulses per revolution, torque in N·m, mm');
    expect(axisWords(label, { axisUnit: 'mm', motorForm: 'linear' }, 'in')).toBe('Pulses per mm, force in N, in');
    expect(axisWords('{nobody}', { axisUnit: 'deg', motorForm: 'rotary' })).toBe('{nobody}');
  });

  it('leave no template in any label or unit of the sheet', () => {
    for (const motorForm of ['rotary', 'linear'] as const)
      for (const { label, unit } of axisSheets.pulses.formulas)
        expect(axisWords(`${label} ${unit}`, { axisUnit: 'mm', motorForm })).not.toMatch(/[{}]/);
  });
});

describe('a low-voltage supply, by hand', () => {
  const value = (input: AxisInput, symbol: 'supplyMotorSpeed' | 'torqueConstant' | 'supplyVoltageAfterBraking') =>
    valueOf(evaluateAxis(input)[symbol]) ?? NaN;

  it('72 V less 10 A · 0.4 Ω over 20 V a thousand rpm: 3400 rpm, and that binds', () => {
    expect(value(everything, 'supplyMotorSpeed')).toBeCloseTo(3400, 9);
    const fast = {
      ...everything,
      controllerPulseRate: known(9e6),
      driveInputRate: known(9e6),
      motorTopSpeed: known(9000),
    };
    expect(valueOf(evaluateAxis(fast).bindingLimits)).toEqual(['supply voltage']);
    // 3400 / 60 / 3 turns of 320 mm
    expect(valueOf(evaluateAxis(fast).highestSpeed)).toBeCloseTo((3400 / 180) * 320, 6);
  });

  it('no limit where the plate does not tell, or where the supply is AC', () => {
    const supply = { ...everything.supply, voltageConstant: unknown('not on the plate') };
    expect(value({ ...everything, supply }, 'supplyMotorSpeed')).toBe(Infinity);
    expect(value({ ...everything, supply: { ...everything.supply, kind: 'AC' } }, 'supplyMotorSpeed')).toBe(Infinity);
  });

  it('20 V a thousand rpm are 0.191 N·m/A; energy lifts a capacitor by the square root', () => {
    expect(value(everything, 'torqueConstant')).toBeCloseTo(0.19098593, 7);
    const energy = valueOf(evaluateAxis(everything).brakingEnergy) ?? NaN;
    expect(value(everything, 'supplyVoltageAfterBraking')).toBeCloseTo(Math.sqrt(72 ** 2 + (2 * energy) / 0.01), 9);
  });
});
