import { mayChange } from '../../signal/index.ts';
import { standingAtEnable } from '../standingAtEnable.ts';
import { when, type Check, type CheckedAxis } from '../finding.ts';

/** Where to settle what stands at enable, by the kind of command. */
const pathOf = ({ input }: CheckedAxis): string => {
  switch (input.command.kind) {
    case 'pulses':
      return '/command';
    case 'analog':
    case 'pwm':
      return '/command/standing';
    case 'choice':
      return '/command/patternAtEnable';
  }
};

/** Enabling, and switching gear on the way, by the one rule of {@link mayChange}. */
export const movesUntold: Check = (axis) => {
  const { input } = axis;
  const standing = standingAtEnable(axis);
  const enable = mayChange('enable', standing);
  const gear = mayChange('gear', { isEnabled: true, isMoving: true, setPoint: 'none' });
  // Whoever commands a position commands one at every moment: it can only be made to be where the axis is.
  const isPosition = 'range' in input.command && input.command.meaning === 'position';
  return [
    ...when(!enable.may, {
      id: standing.setPoint === undefined ? 'setPointNotSettled' : 'setPointAtEnable',
      severity: standing.setPoint === undefined ? 'warn' : 'stop',
      station: 'drive',
      path: pathOf(axis),
      message: enable.may ? '' : capital(`${enable.because}.`),
      remedy: remedies[isPosition ? 'position' : input.command.kind],
    }),
    ...when(input.command.kind === 'pulses' && input.gearSets.length > 0 && input.gearSwitchedInMotion && !gear.may, {
      id: 'gearSwitchedInMotion',
      severity: 'stop',
      station: 'drive',
      path: '/gear/switchedInMotion',
      message: gear.may ? '' : `The gear ratio is switched while pulses come: ${gear.because}.`,
      remedy: 'Stop the pulses, wait for in-position, switch, wait as long as the drive says, then go on.',
    }),
  ];
};

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

const remedies = {
  pulses: '',
  analog: 'Let the controller send the signal of zero before it enables; a zero clamp in the drive is no substitute.',
  pwm: 'Let the controller send the duty cycle of zero before it enables.',
  position: 'Let the controller follow the actual position until the drive is enabled.',
  choice: 'Let a pattern that picks nothing stand while the drive is enabled, or let an edge start the moves.',
} as const;
