/** Why a homing did not come to its end, and what to look at. */
export const homingFailures = {
  'both limits': {
    words: 'both limit switches are active',
    remedy: 'Look at the wires of the limit switches, their common, and the active level of the inputs.',
  },
  'time over': {
    words: 'it was not at its end in the time allowed',
    remedy: 'Look whether the axis turns at all, at its speeds, and at the time-out.',
  },
  'switch not found': {
    words: 'the switch was not found within the longest search distance allowed',
    remedy: 'Trip the switch by hand and watch its input; look at its wire and its flag.',
  },
  'switch stuck': {
    words: 'the switch did not change within the longest search distance allowed',
    remedy: 'Look whether the switch or its wire is stuck on, then trip it by hand and watch its input.',
  },
  'no stop': {
    words: 'no hard stop was found within the longest search distance allowed',
    remedy: 'Look whether the stop is in place, and whether the coupling slips.',
  },
  'no index': {
    words: 'no index pulse came',
    remedy: 'Look at the index wires of the encoder; a turn of the motor must show one pulse.',
  },
  'limit in the way': {
    words: 'a limit switch came on that should not',
    remedy: 'Look whether the limits are exchanged, and where the home switch stands.',
  },
  'switch overrun': {
    words: 'the switch was overrun and not found on the way back',
    remedy: 'Use a longer flag, or a lower search speed.',
  },
  'switch short': {
    words: 'the switch is shorter than the distance needed to stop from creep speed',
    remedy: 'Use a longer flag, a lower creep speed, or a higher acceleration.',
  },
  bounces: {
    words: 'the switch came on again after it had gone off',
    remedy: 'Tighten the switch and its flag, look at its cable, or set an input debounce.',
  },
} as const satisfies Record<string, { readonly words: string; readonly remedy: string }>;

export type HomingFailure = keyof typeof homingFailures;

export const isHomingFailure = (text: string): text is HomingFailure => Object.hasOwn(homingFailures, text);
