import type { SpindleTrip } from '@kavrid/core/plant';

/** Why a drive trips, and what to do about it. */
export const tripWords: Readonly<Record<SpindleTrip, { readonly title: string; readonly cause: string }>> = {
  overcurrent: {
    title: 'overcurrent',
    cause: 'Overcurrent: too much load, a ramp that is too short, or a base frequency below that of the nameplate.',
  },
  overload: {
    title: 'overload',
    cause:
      'More than the motor protection current flows for too long: it cannot do this work, or it is held at its limit.',
  },
  overvoltage: {
    title: 'overvoltage',
    cause:
      'DC bus overvoltage: the stop returns more energy than capacitors and resistor absorb. Lengthen the ramp down, or fit a resistor.',
  },
  undervoltage: {
    title: 'undervoltage',
    cause: 'DC bus undervoltage: the supply was cut or is too weak.',
  },
};
