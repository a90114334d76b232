import { hasGear } from '../../chain/index.ts';
import { mayChange } from '../../signal/index.ts';
import { enableRemedy, standingAtEnable } from '../commandFindings.ts';
import { when, type Check } from '../finding.ts';

/** Enabling, and switching gear on the way, by the one rule of {@link mayChange}. */
export const movesUntold: Check = (axis) => {
  const { input } = axis;
  const standing = standingAtEnable(axis);
  const enable = mayChange('enable', standing);
  const gear = mayChange('gear', { isEnabled: true, isMoving: true, setPoint: 'none' });
  return [
    ...when(!enable.may, {
      id: standing.setPoint === undefined ? 'setPointNotSettled' : 'setPointAtEnable',
      severity: standing.setPoint === undefined ? 'warn' : 'stop',
      station: 'drive',
      message: enable.may ? '' : capital(`${enable.because}.`),
      ...enableRemedy(axis),
    }),
    ...when(hasGear(input.command) && input.gearSets.length > 0 && input.gearSwitchedInMotion && !gear.may, {
      id: 'gearSwitchedInMotion',
      severity: 'stop',
      station: 'drive',
      path: '/gear/switchedInMotion',
      message: gear.may ? '' : `The gear ratio is switched while pulses arrive: ${gear.because}.`,
      remedy:
        'Stop the pulses, wait for “in position”, switch the gear ratio, wait as long as the drive manual says, then continue.',
    }),
  ];
};

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
