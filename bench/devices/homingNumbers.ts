import { isHomingMethod, type HomingFailure, type HomingMethod } from '@kavrid/core/homing';

/** Methods without a number in the standard, by the number that devices of the bench give them. */
const own: Readonly<Record<number, HomingMethod>> = {
  [-1]: 'minusStop',
  [-2]: 'plusStop',
  [-3]: 'minusStopIndex',
  [-4]: 'plusStopIndex',
};

/** Number of each reason in the register homingFailure of devices of the bench; 0: none. */
const failures: readonly HomingFailure[] = [
  'both limits',
  'time over',
  'switch not found',
  'switch stuck',
  'no stop',
  'no index',
  'limit in the way',
  'switch overrun',
  'switch short',
  'bounces',
];
export const homingFailureNumber = (failure: HomingFailure | undefined): number =>
  failure === undefined ? 0 : failures.indexOf(failure) + 1;

/** The method that a register means; what it does not know stays where it is. */
export const homingMethodOf = (number: number): HomingMethod => own[number] ?? (isHomingMethod(number) ? number : 37);
