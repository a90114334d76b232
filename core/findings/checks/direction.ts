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
          message: 'A plus command moves the load to the minus end: the limit that is hit first is then the wrong one.',
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
      message: `Counts that go up in the drive move the load to the ${goes} end, but the switch on its plus limit stands at the ${plusInputAt} end: the axis runs past the switch it hits, and is then held back from the way out.`,
      remedy: 'Swap the two limit wires, or settle the direction first and wire afterwards.',
    }),
    ...when(!isSettled, {
      ...shared,
      id: 'limitNotSettled',
      severity: 'note',
      message: `It is not settled which limit switch guards which end. As things stand, the drive’s plus limit belongs to the ${goes} end.`,
      remedy: 'Settle it under Signals before anything is wired.',
    }),
  ];
};
