import { isHomingMethod, type HomingMethod } from '@kavrid/core/homing';

/** Methods without a number in the standard, by the number that devices of the bench give them. */
const own: Readonly<Record<number, HomingMethod>> = {
  [-1]: 'minusStop',
  [-2]: 'plusStop',
  [-3]: 'minusStopIndex',
  [-4]: 'plusStopIndex',
};

/** The method that a register means; what it does not know stays where it is. */
export const homingMethodOf = (number: number): HomingMethod => own[number] ?? (isHomingMethod(number) ? number : 37);
