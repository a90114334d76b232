import { countsSign, loadSign } from '../../chain/index.ts';
import { when, type Check } from '../finding.ts';

export const plusMovesMinus: Check = ({ stations }) =>
  loadSign(stations) === 1
    ? []
    : [
        {
          id: 'plusMovesMinus',
          severity: 'warn',
          station: 'load',
          path: '/command/inverted',
          message:
            'A plus command moves the load towards the minus end, so it reaches the limit switch of the wrong direction first.',
          remedy:
            'Invert the command or the motor’s rotation sense in the drive, not both; or correct the reversals of the stages.',
        },
      ];

/** The drive stops plus counts at its plus limit, so that switch must stand where plus counts go. */
export const limitAtWrongEnd: Check = ({ input, stations }) => {
  const goes = countsSign(stations) === 1 ? 'plus' : 'minus';
  const { plusInputAt } = input.protection.limits;
  const isSettled = plusInputAt !== 'not settled';
  const shared = { station: 'load', path: '/protection/limits/plusInputAt' } as const;
  if (input.motionKind !== 'linear') return [];
  return [
    ...when(isSettled && plusInputAt !== goes, {
      ...shared,
      id: 'limitAtWrongEnd',
      severity: 'stop',
      message: `When the drive counts up, the load moves to the ${goes} end, but the switch wired to the drive’s plus limit is at the ${plusInputAt} end: the axis runs past the switch it reaches, and the drive then blocks the direction back out.`,
      remedy: 'Swap the two limit wires, or decide the direction first and wire the limits afterwards.',
    }),
    ...when(!isSettled, {
      ...shared,
      id: 'limitNotSettled',
      severity: 'note',
      message: `It has not been stated which limit switch is at which end. With the directions as planned, the drive’s plus limit belongs at the ${goes} end.`,
      remedy: 'State it on the page Signals before anything is wired.',
    }),
  ];
};
