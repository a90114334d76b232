import type { FaultKind, ObservationId } from './observations.ts';

/** Something that may be wrong. Likelihoods are common practice, none is measured; they need only be right in their order. */
export interface Cause {
  readonly id: string;
  readonly title: string;
  readonly remedy: string;
  /** How often it is met, against the others. */
  readonly weight: number;
  /** Only for a drive that listens to this; for all where nothing is said. */
  readonly only?: FaultKind;
  /** Findings of the plan that speak for it. */
  readonly findings?: readonly string[];
  /** How likely an answer is when this is the cause; the rest is shared out as usual. */
  readonly shows: Readonly<Partial<Record<ObservationId, Readonly<Record<string, number>>>>>;
}

const doesNotMove = { motion: { nothing: 0.95 }, distance: { notAtAll: 0.95 }, back: { notAtAll: 0.95 } } as const;
const notHeld = { shaft: { free: 0.95 } } as const;

/** Every cause that is known; a new one is one more entry. */
export const causes: readonly Cause[] = [
  {
    id: 'noSupply',
    title: 'The drive has no supply',
    remedy:
      'Measure the supply at its terminals. Check the fuse, the contactor and, if the drive has one, the separate control supply.',
    weight: 4,
    shows: { ...doesNotMove, ...notHeld, power: { dark: 0.95 } },
  },
  {
    id: 'supplySags',
    title: 'The supply is too weak and sags when the axis accelerates',
    remedy: 'Measure it under load; use a larger supply or a lower acceleration.',
    weight: 2,
    findings: ['supplyTooWeak'],
    shows: { alarm: { voltage: 0.8 }, fast: { better: 0.9 }, motion: { right: 0.8 } },
  },
  {
    id: 'enableOpen',
    title: 'The enable signal does not reach the drive',
    remedy: 'Trace the wire from the controller’s output to the drive’s terminal; check for a missing common.',
    weight: 6,
    shows: { ...doesNotMove, ...notHeld, enableOn: { none: 0.9 }, ready: { waiting: 0.95 } },
  },
  {
    id: 'enableInverted',
    title: 'Enable is inverted',
    remedy: 'Set the same active level at both ends.',
    weight: 6,
    findings: ['enableInverted'],
    shows: { ...doesNotMove, ...notHeld, enableOn: { none: 0.5 }, enableOff: { some: 0.5 }, ready: { waiting: 0.95 } },
  },
  {
    id: 'torqueOff',
    title: 'Safe torque off is open',
    remedy: 'Close both channels through the safety relay.',
    weight: 5,
    shows: {
      ...doesNotMove,
      ...notHeld,
      alarm: { other: 0.5 },
      ready: { waiting: 0.95 },
      torqueOffVolts: { missing: 0.95 },
    },
  },
  {
    id: 'alarmStands',
    title: 'An alarm is active',
    remedy: 'Look up its code in the drive’s alarm list, remove the cause, and reset it as the list says.',
    weight: 5,
    shows: {
      ...doesNotMove,
      ...notHeld,
      ready: { waiting: 0.9 },
      alarm: { overcurrent: 0.16, voltage: 0.2, followingError: 0.2, encoder: 0.1, overload: 0.2, other: 0.12 },
    },
  },
  {
    id: 'limitsInverted',
    title: 'The limits are inverted, or a limit wire is broken',
    remedy:
      'Compare contact type and active level; measure at the limit terminals with the switches free and actuated.',
    weight: 5,
    findings: ['limitsInverted'],
    shows: { motion: { nothing: 0.6, onlyOne: 0.35 }, distance: { notAtAll: 0.6 }, limits: { yes: 0.9 } },
  },
  {
    id: 'pulsesMissing',
    only: 'pulses',
    title: 'Pulses do not reach the drive',
    remedy:
      'Trace both wires of the pulse line; check for a missing common and for an output that is not configured for pulses.',
    weight: 7,
    shows: { ...doesNotMove, pulseVolts: { none: 0.7, steady: 0.25 }, lineCurrent: { none: 0.9 } },
  },
  {
    id: 'pulsesWeak',
    only: 'pulses',
    title: 'The pulse line has too little current: the input does not see it',
    remedy:
      'Check the line on the page Signals: a second resistor in the cable besides the one in the drive, or too low a voltage.',
    weight: 4,
    findings: ['lineTooWeak', 'lineDoesNotFit'],
    shows: {
      motion: { nothing: 0.8 },
      distance: { notAtAll: 0.75, varies: 0.2 },
      back: { notAtAll: 0.75, anywhere: 0.2 },
      lineCurrent: { little: 0.9 },
    },
  },
  {
    id: 'inputBurnt',
    only: 'pulses',
    title: 'The pulse input has been burnt by too much current',
    remedy:
      'Test the input with a small current from another source; a drive with a dead input has to be repaired. Fit the resistor first.',
    weight: 1,
    findings: ['lineRuinous'],
    shows: { ...doesNotMove, lineCurrent: { none: 0.6, much: 0.35 } },
  },
  {
    id: 'formClockwise',
    only: 'pulses',
    title: 'The controller sends step and direction, the drive is set to clockwise pulses',
    remedy: 'Set the same pulse form at both ends.',
    weight: 4,
    findings: ['formsDiffer'],
    shows: { motion: { oneWay: 0.95 }, back: { creeps: 0.9 } },
  },
  {
    id: 'formStep',
    only: 'pulses',
    title: 'The controller sends clockwise pulses, the drive is set to step and direction',
    remedy: 'Set the same pulse form at both ends.',
    weight: 4,
    findings: ['formsDiffer'],
    shows: { motion: { onlyOne: 0.9 }, back: { creeps: 0.9 }, directionVolts: { pulses: 0.9 } },
  },
  {
    id: 'formQuadrature',
    only: 'pulses',
    title: 'One end is set to quadrature, the other is not',
    remedy: 'Set the same pulse form at both ends.',
    weight: 3,
    findings: ['formsDiffer'],
    shows: { motion: { trembles: 0.85 }, distance: { notAtAll: 0.8 }, back: { notAtAll: 0.7 } },
  },
  {
    id: 'directionDead',
    only: 'pulses',
    title: 'The direction signal does not change',
    remedy: 'Trace both of its wires; swap it with the pulse line briefly to see whether the output works.',
    weight: 5,
    shows: { motion: { oneWay: 0.95 }, back: { creeps: 0.9 }, directionVolts: { stay: 0.95 } },
  },
  {
    id: 'directionLate',
    only: 'pulses',
    title: 'The direction changes too close to the next pulse',
    remedy: 'Lengthen the direction set-up time in the controller; check that both ends use the same active edge.',
    weight: 4,
    findings: ['directionTooLate', 'pulseEdgesDiffer'],
    shows: { back: { creeps: 0.95 } },
  },
  {
    id: 'pulsesLost',
    only: 'pulses',
    title: 'Pulses are too short or too fast: some are lost',
    remedy: 'Lengthen the pulses, lower the rate or the resolution, use differential lines.',
    weight: 5,
    findings: ['pulseTooShort', 'controllerRateExceeded', 'driveRateExceeded', 'widthLimitsRate', 'trainTooFast'],
    shows: { fast: { better: 0.95 }, distance: { varies: 0.7 }, back: { anywhere: 0.5, creeps: 0.4 } },
  },
  {
    id: 'noise',
    title: 'The line picks up noise as pulses',
    remedy:
      'Use shielded twisted pairs and differential lines, away from the motor cable; connect the 0 V at one point.',
    weight: 3,
    findings: ['cableNotShielded', 'cableTooLong', 'referenceMissing'],
    shows: { distance: { varies: 0.8 }, back: { anywhere: 0.9 }, fast: { noChange: 0.85 } },
  },
  {
    id: 'wrongRatio',
    title: 'Gear ratio, steps per unit or a switch is not what was planned',
    remedy: 'Compare both ends with the plan; a factor of 2, 4 or 10 points to the cause.',
    weight: 7,
    shows: { distance: { factor: 0.97 } },
  },
  {
    id: 'slips',
    title: 'A coupling, pulley or belt slips',
    remedy: 'Mark shaft and hub; tighten, or pin them.',
    weight: 3,
    shows: {
      distance: { varies: 0.7 },
      back: { anywhere: 0.7, creeps: 0.2 },
      fast: { better: 0.8 },
      marks: { loadOnly: 0.95 },
    },
  },
  {
    id: 'senseWrong',
    title: 'Direction reversed: one inversion too many or too few',
    remedy: 'Invert the command or the rotation sense in the drive, not both; then look at the limits again.',
    weight: 6,
    findings: ['plusMovesMinus'],
    shows: { motion: { wrongWay: 0.97 } },
  },
  {
    id: 'phasesSwapped',
    title: 'Motor phases are swapped, or the wrong motor is selected in the drive',
    remedy: 'Compare the wire colours at both ends of the motor cable, then the motor selection number in the drive.',
    weight: 2,
    shows: {
      motion: { runsAway: 0.7, trembles: 0.2 },
      alarm: { overcurrent: 0.4, followingError: 0.4 },
      sound: { hums: 0.5, whistles: 0.3 },
      distance: { notAtAll: 0.5, varies: 0.4 },
    },
  },
  {
    id: 'encoderBackwards',
    title: 'The encoder counts backwards',
    remedy: 'Swap its channels, or invert the feedback in the drive; never invert the command instead.',
    weight: 2,
    shows: {
      motion: { runsAway: 0.95 },
      counts: { down: 0.95 },
      alarm: { followingError: 0.6, overcurrent: 0.1 },
      distance: { varies: 0.8 },
    },
  },
  {
    id: 'encoderDead',
    title: 'The encoder signal does not reach the drive',
    remedy: 'Check the connector, supply and shield of the encoder cable.',
    weight: 3,
    shows: { ...doesNotMove, counts: { still: 0.97 }, alarm: { encoder: 0.9 }, shaft: { free: 0.7 } },
  },
  {
    id: 'brakeShut',
    title: 'The brake does not open',
    remedy: 'Measure the brake voltage while the drive is enabled; the brake usually needs its own relay and supply.',
    weight: 3,
    shows: { ...doesNotMove, sound: { hums: 0.9 }, alarm: { overload: 0.3, followingError: 0.2 } },
  },
  {
    id: 'jammed',
    title: 'The mechanics are jammed or at a hard stop',
    remedy: 'Uncouple the load and try the motor alone.',
    weight: 3,
    shows: {
      motion: { nothing: 0.5, onlyOne: 0.4 },
      distance: { notAtAll: 0.6, varies: 0.3 },
      sound: { hums: 0.7 },
      alarm: { followingError: 0.3, overload: 0.3 },
    },
  },
  {
    id: 'gainTooHigh',
    title: 'Gains are too high for this load',
    remedy: 'Lower the gains, enter the inertia ratio, tune again.',
    weight: 3,
    findings: ['highInertiaRatio'],
    shows: { sound: { whistles: 0.95 }, alarm: { overcurrent: 0.2, overload: 0.1 } },
  },
  {
    id: 'shorted',
    title: 'A motor lead or winding is shorted or wet',
    remedy: 'Disconnect the motor leads and measure between them and to earth; then repeat at the motor.',
    weight: 2,
    shows: { ...doesNotMove, ...notHeld, alarm: { overcurrent: 0.95 }, ready: { waiting: 0.9 } },
  },
  {
    id: 'signalMissing',
    only: 'scaled',
    title: 'The signal does not reach the drive',
    remedy:
      'Trace both of its wires; the output’s 0 V must be connected to the drive as well, and some outputs need their own supply.',
    weight: 6,
    shows: { ...doesNotMove, signalLevel: { zero: 0.95 } },
  },
  {
    id: 'signalStuck',
    only: 'scaled',
    title: 'The signal is stuck at one of its ends',
    remedy:
      'Disconnect the wire at the drive and measure the output alone; then look for a short to the supply or to 0 V.',
    weight: 3,
    findings: ['brokenWireMoves', 'inputServesTwo'],
    shows: { motion: { oneWay: 0.7, runsAway: 0.2 }, atZero: { runs: 0.9 }, signalLevel: { stuck: 0.95 } },
  },
  {
    id: 'sourceNotSet',
    only: 'scaled',
    title: 'The drive does not use the signal: a different command source or mode is set',
    remedy: 'Set the command source and mode, with the drive disabled.',
    weight: 6,
    findings: ['commandIsOff'],
    shows: { ...doesNotMove, signalLevel: { right: 0.95 }, ready: { enabled: 0.95 }, shaft: { locked: 0.9 } },
  },
  {
    id: 'zeroDrifts',
    only: 'scaled',
    title: 'The zero of the signal has drifted',
    remedy:
      'Set the offset with the drive warm; use the position loop to hold the axis, or disable the drive where it has to stand still.',
    weight: 6,
    findings: ['creeps'],
    shows: { atZero: { creeps: 0.95 }, back: { creeps: 0.4 } },
  },
  {
    id: 'noReference',
    only: 'scaled',
    title: 'The signal has no common reference, or picks up noise',
    remedy: 'Connect the signal 0 V at one point; connect the shield at one end and keep it away from the motor cable.',
    weight: 4,
    findings: ['referenceMissing', 'analogNotShielded'],
    shows: { atZero: { creeps: 0.5, runs: 0.3 }, distance: { varies: 0.8 }, sound: { whistles: 0.3 } },
  },
  {
    id: 'signalReversed',
    only: 'scaled',
    title: 'The two wires of the signal are swapped',
    remedy: 'Swap them back; do not compensate by an inversion while a loop is closed in the controller.',
    weight: 3,
    shows: { motion: { wrongWay: 0.6, runsAway: 0.35 }, signalLevel: { opposite: 0.95 } },
  },
  {
    id: 'feedbackBackwards',
    only: 'scaled',
    title: 'The feedback to the controller counts against its command',
    remedy:
      'Swap the two feedback channels, or invert the feedback in the controller; try again with the motor uncoupled.',
    weight: 4,
    findings: ['feedbackBackwards'],
    shows: {
      motion: { runsAway: 0.97 },
      atZero: { runs: 0.7, creeps: 0.2 },
      signalLevel: { stuck: 0.5 },
      alarm: { followingError: 0.3 },
    },
  },
  {
    id: 'inputOpen',
    only: 'choice',
    title: 'An input signal does not reach the drive',
    remedy: 'Trace its wire; check that output and input match (sinking or sourcing).',
    weight: 5,
    shows: { inputLamps: { one: 0.95 }, whichMove: { another: 0.8 } },
  },
  {
    id: 'inputCommon',
    only: 'choice',
    title: 'The common of the inputs is missing or has the wrong polarity',
    remedy: 'Measure each input against the common; an optocoupler needs current, not just voltage.',
    weight: 5,
    shows: { ...doesNotMove, inputLamps: { none: 0.97 }, whichMove: { noMove: 0.9 } },
  },
  {
    id: 'inputsBounce',
    only: 'choice',
    title: 'The inputs are read while they are still changing',
    remedy: 'Set a debounce time longer than the inputs take to change, or start the move by an edge.',
    weight: 4,
    findings: ['passesThroughMoves', 'edgeInPattern'],
    shows: { whichMove: { sometimes: 0.97 } },
  },
  {
    id: 'notHomed',
    only: 'choice',
    title: 'The axis is not homed, so moves to positions do not start',
    remedy: 'Home it, or set homing at enable.',
    weight: 5,
    findings: ['movesBeforeHome'],
    shows: { ...doesNotMove, inputLamps: { yes: 0.95 }, whichMove: { noMove: 0.95 }, ready: { enabled: 0.95 } },
  },
  {
    id: 'patternsOtherwise',
    only: 'choice',
    title: 'The patterns are stored in a different order than planned',
    remedy: 'Compare the stored moves with the key-in sheet; check which input is the lowest bit.',
    weight: 4,
    findings: ['patternTwice', 'patternWrong'],
    shows: { whichMove: { another: 0.97 }, inputLamps: { yes: 0.95 } },
  },
];

/** Those that can be at work at a drive which listens to this. */
export const causesFor = (kind: FaultKind): readonly Cause[] =>
  causes.filter(({ only }) => only === undefined || only === kind);
