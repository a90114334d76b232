/** The kind of command of a drive, as far as faults depend on it. */
export type FaultKind = 'pulses' | 'scaled' | 'choice';

/** What can be seen, felt or metered at a drive without a link. */
export interface Observation {
  readonly id: string;
  readonly question: string;
  /** Only for a drive that listens to this; for all where nothing is said. */
  readonly only?: FaultKind;
  /** How to look, for somebody who has not done it before. */
  readonly how: string;
  /** What may be found, and how often it is when the cause at hand has nothing to do with it; the shares add up to 1. */
  readonly answers: Readonly<Record<string, { readonly words: string; readonly usual: number }>>;
}

/** In the order in which one would go through them without a better reason. */
export const observations = [
  {
    id: 'power',
    question: 'Is anything lit or shown at the drive?',
    how: 'Look at its lamps and its display with the main supply on.',
    answers: { lit: { words: 'yes', usual: 0.98 }, dark: { words: 'all dark', usual: 0.02 } },
  },
  {
    id: 'alarm',
    question: 'Does it show an alarm?',
    how: 'A code on the display, or a lamp that blinks a certain number of times; the drive manual says what it means.',
    answers: {
      none: { words: 'no alarm', usual: 0.88 },
      overcurrent: { words: 'overcurrent or short circuit', usual: 0.02 },
      voltage: { words: 'supply too low or too high', usual: 0.02 },
      followingError: { words: 'following error or overspeed', usual: 0.03 },
      encoder: { words: 'encoder or hall sensors', usual: 0.02 },
      overload: { words: 'overload, or too hot', usual: 0.02 },
      other: { words: 'something else', usual: 0.01 },
    },
  },
  {
    id: 'ready',
    question: 'Do the lamps or the display show that the drive is enabled?',
    how: 'With enable switched on at the controller; compare with the drive manual.',
    answers: {
      enabled: { words: 'enabled', usual: 0.92 },
      waiting: { words: 'ready, but not enabled', usual: 0.08 },
    },
  },
  {
    id: 'shaft',
    question: 'With enable on, can the shaft be turned by hand?',
    how: 'Try at the coupling; keep hands off the load. On a vertical axis, prop the load first.',
    answers: {
      locked: { words: 'no, it is held', usual: 0.9 },
      free: { words: 'yes, it is free', usual: 0.1 },
    },
  },
  {
    id: 'enableOn',
    question: 'Voltage across the enable terminals while the controller switches enable on?',
    how: 'Meter on DC volts at the drive connector, enable + to enable −.',
    answers: {
      some: { words: 'about the signal voltage', usual: 0.95 },
      none: { words: 'near 0 V', usual: 0.05 },
    },
  },
  {
    id: 'enableOff',
    question: 'Voltage across the enable terminals while the controller switches enable off?',
    how: 'At the same terminals of the drive connector.',
    answers: { none: { words: 'near 0 V', usual: 0.95 }, some: { words: 'about the signal voltage', usual: 0.05 } },
  },
  {
    id: 'torqueOffVolts',
    question: 'Voltage at both safe-torque-off inputs?',
    how: 'At the drive connector, each channel to its common. For a drive without these inputs, answer yes.',
    answers: {
      both: { words: 'yes, at both', usual: 0.98 },
      missing: { words: 'none at one or both', usual: 0.02 },
    },
  },
  {
    id: 'motion',
    question:
      'Send a slow move of one turn in the plus direction, then one in the minus direction. What does the shaft do?',
    how: 'From mid-travel, with a low torque limit, a hand at the hardware stop.',
    answers: {
      right: { words: 'makes both moves, in the right direction', usual: 0.9 },
      nothing: { words: 'nothing', usual: 0.02 },
      trembles: { words: 'vibrates without turning', usual: 0.02 },
      oneWay: { words: 'turns the same way for both', usual: 0.02 },
      onlyOne: { words: 'obeys one command, not the other', usual: 0.02 },
      wrongWay: { words: 'makes both moves, in the wrong direction', usual: 0.01 },
      runsAway: { words: 'runs away, or jumps and trips', usual: 0.01 },
    },
  },
  {
    id: 'distance',
    question: 'How far did it go?',
    how: 'Mark the shaft, or measure at the load with a rule.',
    answers: {
      right: { words: 'as far as commanded', usual: 0.92 },
      factor: { words: 'always the same factor too much or too little', usual: 0.03 },
      varies: { words: 'a bit different every time', usual: 0.03 },
      notAtAll: { words: 'it did not move', usual: 0.02 },
    },
  },
  {
    id: 'back',
    question: 'After twenty moves back and forth, where does it stop?',
    how: 'Slowly, against a dial indicator or a mark.',
    answers: {
      same: { words: 'where it began', usual: 0.93 },
      creeps: { words: 'a little further in one direction each time', usual: 0.03 },
      anywhere: { words: 'off, randomly in either direction', usual: 0.03 },
      notAtAll: { words: 'it did not move', usual: 0.01 },
    },
  },
  {
    id: 'marks',
    question: 'When the load is off position, has the motor shaft returned to its mark?',
    how: 'Mark the shaft and the hub of the coupling or pulley before, and compare after.',
    answers: {
      together: { words: 'shaft and load are off by the same amount', usual: 0.97 },
      loadOnly: { words: 'the shaft has returned, the load has not', usual: 0.03 },
    },
  },
  {
    id: 'fast',
    question: 'Does it work at a low speed?',
    how: 'A tenth of the speed and of the acceleration.',
    answers: {
      noChange: { words: 'no difference', usual: 0.92 },
      better: { words: 'yes, at low speed it is right', usual: 0.08 },
    },
  },
  {
    id: 'pulseVolts',
    only: 'pulses',
    question: 'Voltage across the pulse line while pulses are sent?',
    how: 'Meter on DC volts at the drive connector; a square wave reads about half its amplitude.',
    answers: {
      half: { words: 'between: it pulses', usual: 0.9 },
      none: { words: 'near 0 V', usual: 0.07 },
      steady: { words: 'steady, at the full voltage', usual: 0.03 },
    },
  },
  {
    id: 'lineCurrent',
    only: 'pulses',
    question: 'How much current flows in the pulse line while the output is held on?',
    how: 'Meter on DC milliamperes in the wire to the drive’s line +; hold the output on from the controller.',
    answers: {
      enough: { words: 'about 5 to 20 mA', usual: 0.92 },
      little: { words: 'a few mA at most', usual: 0.03 },
      none: { words: 'none', usual: 0.04 },
      much: { words: 'more than 25 mA', usual: 0.01 },
    },
  },
  {
    id: 'directionVolts',
    only: 'pulses',
    question: 'Does the voltage across the direction line change with the direction?',
    how: 'Meter on DC volts at the drive’s direction terminals, at rest, after a move in each direction.',
    answers: {
      change: { words: 'yes', usual: 0.93 },
      stay: { words: 'no, always the same', usual: 0.04 },
      pulses: { words: 'there are pulses on it too', usual: 0.03 },
    },
  },
  {
    id: 'limits',
    question: 'Does the drive show a limit as active while the axis is clear of both limits?',
    how: 'Check the input lamps, the display, or the voltage at the limit terminals.',
    answers: { no: { words: 'no', usual: 0.97 }, yes: { words: 'yes', usual: 0.03 } },
  },
  {
    id: 'counts',
    question: 'Turn the shaft by hand with the drive disabled: do the displayed counts change?',
    how: 'On the drive display, or on a counter at its encoder output.',
    answers: {
      up: { words: 'up for plus', usual: 0.95 },
      down: { words: 'down for plus', usual: 0.03 },
      still: { words: 'they do not change, or jump', usual: 0.02 },
    },
  },
  {
    id: 'sound',
    question: 'What can be heard at enable?',
    how: 'At the motor, in a quiet room.',
    answers: {
      quiet: { words: 'nothing, or the brake clicks', usual: 0.92 },
      hums: { words: 'it hums or growls under load', usual: 0.05 },
      whistles: { words: 'it whistles or vibrates', usual: 0.03 },
    },
  },
  {
    id: 'signalLevel',
    only: 'scaled',
    question: 'What does a meter show at the drive’s input while a slow speed is commanded?',
    how: 'DC volts or milliamperes at the connector; a duty cycle reads as the same percentage of the full level.',
    answers: {
      right: { words: 'the value given by the scale', usual: 0.9 },
      zero: { words: 'nothing', usual: 0.04 },
      stuck: { words: 'one end of the range, whatever is commanded', usual: 0.03 },
      opposite: { words: 'the same value with the opposite sign', usual: 0.03 },
    },
  },
  {
    id: 'atZero',
    only: 'scaled',
    question: 'With the drive enabled and zero command, what does the shaft do?',
    how: 'Uncoupled, or from mid-travel with a low torque limit; wait a minute.',
    answers: {
      still: { words: 'it stands still', usual: 0.9 },
      creeps: { words: 'it creeps', usual: 0.06 },
      runs: { words: 'it runs', usual: 0.04 },
    },
  },
  {
    id: 'inputLamps',
    only: 'choice',
    question: 'Do the input lamps show the pattern that is sent?',
    how: 'At the drive, one input after the other; without lamps, measure the voltage.',
    answers: {
      yes: { words: 'yes, all', usual: 0.93 },
      one: { words: 'one of them does not follow', usual: 0.04 },
      none: { words: 'none of them', usual: 0.03 },
    },
  },
  {
    id: 'whichMove',
    only: 'choice',
    question: 'Does the axis make the move of the pattern?',
    how: 'Try every pattern a few times, slowly, in different orders.',
    answers: {
      right: { words: 'the intended move', usual: 0.92 },
      another: { words: 'always another one', usual: 0.03 },
      sometimes: { words: 'occasionally a different move', usual: 0.03 },
      noMove: { words: 'none at all', usual: 0.02 },
    },
  },
] as const satisfies readonly Observation[];

/** Those that can be made at a drive which listens to this. */
export const observationsFor = (kind: FaultKind): readonly Observation[] =>
  observations.filter((each: Observation) => each.only === undefined || each.only === kind);

export type ObservationId = (typeof observations)[number]['id'];

/** Answers, by observation. */
export type Observed = Readonly<Partial<Record<ObservationId, string>>>;
