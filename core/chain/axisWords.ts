import type { AxisInput } from './axisInput.ts';

type Words = Pick<AxisInput, 'axisUnit' | 'motorForm'>;

const ofMotor: Readonly<Record<AxisInput['motorForm'], Readonly<Record<string, string>>>> = {
  rotary: {
    revolution: 'revolution',
    turn: 'turn',
    turns: 'turns',
    rev: 'rev',
    radian: 'radian',
    rad: 'rad',
    motorSpeed: 'rpm',
    torque: 'N·m',
    effort: 'torque',
    Effort: 'Torque',
    inertia: 'kg·m²',
    deg: 'deg',
  },
  linear: {
    revolution: 'mm',
    turn: 'mm',
    turns: 'mm',
    rev: 'mm',
    radian: 'metre',
    rad: 'm',
    motorSpeed: 'mm/s',
    torque: 'N',
    effort: 'force',
    Effort: 'Force',
    inertia: 'kg',
    deg: 'mm',
  },
};

/**
 * A label or a unit for an axis: `{u}` becomes its unit, and what is said of turns, torque and inertia becomes mm, force and
 * mass for a linear motor, which has no revolution.
 */
export const axisWords = (template: string, axis: Words, unit: string = axis.axisUnit): string =>
  template.replace(/\{(\w+)\}/g, (whole, name: string) =>
    name === 'u' ? unit : (ofMotor[axis.motorForm][name] ?? whole),
  );
