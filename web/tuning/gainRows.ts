import { holdsPosition, type AxisDocument, type RuleName } from '@kavrid/contract';
import type { TunedRole } from '@kavrid/core/procedure';

/** Only where the drive closes the position loop. */
const positionRoles: readonly TunedRole[] = ['positionGain', 'velocityFeedforward', 'accelerationFeedforward'];

/** Those of an axis like this one. */
export const gainRowsOf = (axis: AxisDocument): typeof gainRows =>
  holdsPosition(axis) ? gainRows : gainRows.filter(({ role }) => !positionRoles.includes(role));

/** The gains of a drive, in the order in which a loop is tuned. */
export const gainRows: readonly { readonly role: TunedRole; readonly label: string; readonly rule: RuleName }[] = [
  { role: 'speedBandwidth', label: 'Speed loop bandwidth', rule: 'bandwidth' },
  { role: 'speedIntegralTime', label: 'Integral time', rule: 'integralTime' },
  { role: 'torqueFilter', label: 'Filter of the torque command', rule: 'filterTime' },
  { role: 'notchFrequency', label: 'Notch frequency', rule: 'notchFrequency' },
  { role: 'notchWidth', label: 'Notch width', rule: 'notchWidth' },
  { role: 'notchDepth', label: 'Notch depth', rule: 'notchDepth' },
  { role: 'positionGain', label: 'Position gain', rule: 'gain' },
  { role: 'velocityFeedforward', label: 'Velocity feedforward', rule: 'percent' },
  { role: 'accelerationFeedforward', label: 'Acceleration feedforward', rule: 'percent' },
];
