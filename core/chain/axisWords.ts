import type { AxisInput } from './axisInput.ts';
import type { ScaledCommand } from './commandInput.ts';

/** What a scaled signal is counted in, and what it means. */
export interface SignalWords {
  readonly range: Pick<ScaledCommand['range'], 'unit'>;
  readonly meaning: ScaledCommand['meaning'];
}

/** What the words of an axis depend on. */
export interface AxisWording extends Pick<AxisInput, 'axisUnit' | 'motorForm'> {
  readonly command?: SignalWords | { readonly kind: AxisInput['command']['kind'] } | undefined;
}

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
 * mass for a linear motor, which has no revolution. `{signal}` and `{value}` are those of a scaled command.
 */
export const axisWords = (template: string, axis: AxisWording, unit: string = axis.axisUnit): string =>
  template.replace(/\{(\w+)\}/g, (whole, name: string) =>
    name === 'u' ? unit : (ofCommand(name, axis, unit) ?? ofMotor[axis.motorForm][name] ?? whole),
  );

function ofCommand(name: string, { command, motorForm }: AxisWording, unit: string): string | undefined {
  const scaled = command && 'range' in command ? command : undefined;
  switch (name) {
    case 'signal':
      return scaled?.range.unit ?? '';
    case 'perSecond':
      return scaled?.meaning === 'speed' ? '/s' : '';
    case 'value':
      return scaled
        ? { speed: motorForm === 'linear' ? 'mm/s' : 'rpm', torque: '%', position: unit }[scaled.meaning]
        : '';
    default:
      return undefined;
  }
}
