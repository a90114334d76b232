import { valueOf } from '../../sheet/index.ts';
import type { Check } from '../finding.ts';

/** Gravity moves the load when the motor lets go. */
export const holdingBrake: Check = ({ input, results, quantity }) => {
  const train = valueOf(results.driveTrain);
  if (!train || Math.abs(train.gravity) <= train.friction) return [];
  const { drivenBy, torque } = input.brake;
  const at = { station: 'motor', path: '/brake/drivenBy' } as const;
  const holds = quantity(Math.abs(train.gravity), '{torque}');
  switch (drivenBy) {
    case 'not settled':
      return [
        {
          ...at,
          id: 'brakeNotSettled',
          severity: 'warn',
          message: `Gravity moves this axis when the motor has no torque (${holds} at the motor), and no holding brake has been entered.`,
          remedy: 'On the page Planned values, enter whether there is a holding brake and what drives it.',
        },
      ];
    case 'none':
      return [
        {
          ...at,
          id: 'noBrake',
          severity: 'warn',
          message: `This axis has no holding brake: with the motor off, gravity moves it (${holds} at the motor).`,
          remedy: 'Fit a holding brake or a counterweight, or prop the load whenever the motor is off.',
        },
      ];
    case 'drive':
    case 'controller': {
      const rated = valueOf(torque);
      if (rated === undefined || rated >= Math.abs(train.gravity)) return [];
      return [
        {
          ...at,
          path: '/brake/torque',
          id: 'brakeTooWeak',
          severity: 'stop',
          message: `The holding brake holds ${quantity(rated, '{torque}')}; gravity needs ${holds}.`,
          remedy: 'Fit a brake with more torque, or reduce or counterbalance the load.',
        },
      ];
    }
  }
};
