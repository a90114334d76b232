import type { SpindleTrip } from '@kavrid/core/plant';

/** Why a drive trips, and what to do about it. */
export const tripWords: Readonly<Record<SpindleTrip, { readonly title: string; readonly cause: string }>> = {
  overcurrent: {
    title: 'overcurrent',
    cause:
      'More current flows than the drive bears: too much load, a ramp that is too short, or a base frequency below that of the plate.',
  },
  overload: {
    title: 'overload',
    cause:
      'More than the current of the protection flows for too long: it cannot do this work, or it is held at its limit.',
  },
  overvoltage: {
    title: 'overvoltage',
    cause: 'The stop gives back more than capacitors and resistor take: lengthen the ramp down, or fit a resistor.',
  },
  undervoltage: {
    title: 'undervoltage',
    cause: 'The DC bus ran empty: the supply was cut, or gives too little.',
  },
};
