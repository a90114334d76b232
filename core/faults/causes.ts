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
      'Meter the supply at its terminals: fuse, contactor, the control supply that many drives have apart from the main one.',
    weight: 4,
    shows: { ...doesNotMove, ...notHeld, power: { dark: 0.95 } },
  },
  {
    id: 'supplySags',
    title: 'The supply is too weak and sags when the axis accelerates',
    remedy: 'Meter it under load; take a larger one, or accelerate more gently.',
    weight: 2,
    findings: ['supplyTooWeak'],
    shows: { alarm: { voltage: 0.8 }, fast: { better: 0.9 }, motion: { right: 0.8 } },
  },
  {
    id: 'enableOpen',
    title: 'Enable does not arrive',
    remedy: 'Follow the wire from the controller’s output to the drive’s terminal; look for a common that is missing.',
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
    remedy: 'Close both channels through the safety relay, or put in the bridge that came with the drive for the test.',
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
    title: 'An alarm is standing',
    remedy: 'Look its code up in the list of alarms, mend the cause, clear it as the list says.',
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
    remedy: 'Compare contact and active level; meter the limit terminals with the switches free and struck.',
    weight: 5,
    findings: ['limitsInverted'],
    shows: { motion: { nothing: 0.6, onlyOne: 0.35 }, distance: { notAtAll: 0.6 }, limits: { yes: 0.9 } },
  },
  {
    id: 'pulsesMissing',
    only: 'pulses',
    title: 'Pulses do not reach the drive',
    remedy:
      'Follow the two wires of the pulse line; look for a common that is missing and for an output that is not switched to pulses.',
    weight: 7,
    shows: { ...doesNotMove, pulseVolts: { none: 0.7, steady: 0.25 }, lineCurrent: { none: 0.9 } },
  },
  {
    id: 'pulsesWeak',
    only: 'pulses',
    title: 'The pulse line has too little current: the input does not see it',
    remedy: 'Work the line out under Signals: a resistor in the cable on top of one in the drive, or too few volts.',
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
      'Measure it with a small current of its own; a drive with a dead input has to be repaired. Put the resistor in first.',
    weight: 1,
    findings: ['lineRuinous'],
    shows: { ...doesNotMove, lineCurrent: { none: 0.6, much: 0.35 } },
  },
  {
    id: 'formClockwise',
    only: 'pulses',
    title: 'The controller sends step and direction, the drive takes clockwise pulses',
    remedy: 'Set both to the same form.',
    weight: 4,
    findings: ['formsDiffer'],
    shows: { motion: { oneWay: 0.95 }, back: { creeps: 0.9 } },
  },
  {
    id: 'formStep',
    only: 'pulses',
    title: 'The controller sends clockwise pulses, the drive takes step and direction',
    remedy: 'Set both to the same form.',
    weight: 4,
    findings: ['formsDiffer'],
    shows: { motion: { onlyOne: 0.9 }, back: { creeps: 0.9 }, directionVolts: { pulses: 0.9 } },
  },
  {
    id: 'formQuadrature',
    only: 'pulses',
    title: 'One end is set to quadrature, the other is not',
    remedy: 'Set both to the same form.',
    weight: 3,
    findings: ['formsDiffer'],
    shows: { motion: { trembles: 0.85 }, distance: { notAtAll: 0.8 }, back: { notAtAll: 0.7 } },
  },
  {
    id: 'directionDead',
    only: 'pulses',
    title: 'The direction line is dead',
    remedy: 'Follow its two wires; swap it with the pulse line for a moment to see whether the output works.',
    weight: 5,
    shows: { motion: { oneWay: 0.95 }, back: { creeps: 0.9 }, directionVolts: { stay: 0.95 } },
  },
  {
    id: 'directionLate',
    only: 'pulses',
    title: 'The direction changes too close to the next pulse',
    remedy: 'Lengthen the direction set-up time in the controller; see whether both ends count the same edge.',
    weight: 4,
    findings: ['directionTooLate', 'pulseEdgesDiffer'],
    shows: { back: { creeps: 0.95 } },
  },
  {
    id: 'pulsesLost',
    only: 'pulses',
    title: 'Pulses are too short or come too fast: some are lost',
    remedy: 'Lengthen the pulses, lower the rate or the resolution, use differential lines.',
    weight: 5,
    findings: ['pulseTooShort', 'controllerRateExceeded', 'driveRateExceeded', 'widthLimitsRate', 'trainTooFast'],
    shows: { fast: { better: 0.95 }, distance: { varies: 0.7 }, back: { anywhere: 0.5, creeps: 0.4 } },
  },
  {
    id: 'noise',
    title: 'The line picks up noise as pulses',
    remedy: 'Shield, twisted pairs, away from the motor cable, differential lines; join the 0 V at one point.',
    weight: 3,
    findings: ['cableNotShielded', 'cableTooLong', 'referenceMissing'],
    shows: { distance: { varies: 0.8 }, back: { anywhere: 0.9 }, fast: { noChange: 0.85 } },
  },
  {
    id: 'wrongRatio',
    title: 'Gear ratio, steps per unit or a switch is not what was planned',
    remedy: 'Compare both ends with the plan; a factor of 2, 4 or 10 names the culprit.',
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
    title: 'Plus is minus: one inversion too many or too few',
    remedy: 'Invert the command or the rotation sense in the drive, not both; then look at the limits again.',
    weight: 6,
    findings: ['plusMovesMinus'],
    shows: { motion: { wrongWay: 0.97 } },
  },
  {
    id: 'phasesSwapped',
    title: 'Motor phases are swapped, or the motor is another than the drive thinks',
    remedy: 'Compare the colours at both ends of the motor cable, then the motor code in the drive.',
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
    remedy: 'Swap its channels, or invert it in the drive; never by the command.',
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
    title: 'The encoder is not heard',
    remedy: 'Plug, supply and shield of the encoder cable.',
    weight: 3,
    shows: { ...doesNotMove, counts: { still: 0.97 }, alarm: { encoder: 0.9 }, shaft: { free: 0.7 } },
  },
  {
    id: 'brakeShut',
    title: 'The brake does not open',
    remedy: 'Meter its volts on enable; it needs a relay and a supply of its own.',
    weight: 3,
    shows: { ...doesNotMove, sound: { hums: 0.9 }, alarm: { overload: 0.3, followingError: 0.2 } },
  },
  {
    id: 'jammed',
    title: 'The mechanics are jammed or stand at a stop',
    remedy: 'Take the load off the motor and try the motor alone.',
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
    title: 'A motor lead or winding is shorted, or wet',
    remedy: 'Take the motor leads off, meter them against each other and against earth; then the same at the motor.',
    weight: 2,
    shows: { ...doesNotMove, ...notHeld, alarm: { overcurrent: 0.95 }, ready: { waiting: 0.9 } },
  },
  {
    id: 'signalMissing',
    only: 'scaled',
    title: 'The signal does not reach the drive',
    remedy:
      'Follow both of its wires; an output needs its 0 V at the drive as well, and some need a supply of their own.',
    weight: 6,
    shows: { ...doesNotMove, signalLevel: { zero: 0.95 } },
  },
  {
    id: 'signalStuck',
    only: 'scaled',
    title: 'The signal is stuck at one of its ends',
    remedy: 'Take the wire off the drive and meter the output alone; then look for a short to the supply or to 0 V.',
    weight: 3,
    findings: ['brokenWireMoves', 'inputServesTwo'],
    shows: { motion: { oneWay: 0.7, runsAway: 0.2 }, atZero: { runs: 0.9 }, signalLevel: { stuck: 0.95 } },
  },
  {
    id: 'sourceNotSet',
    only: 'scaled',
    title: 'The drive does not listen to the signal: its command source or mode is another',
    remedy: 'Key in command source and mode; do it with the drive disabled.',
    weight: 6,
    findings: ['commandIsOff'],
    shows: { ...doesNotMove, signalLevel: { right: 0.95 }, ready: { enabled: 0.95 }, shaft: { locked: 0.9 } },
  },
  {
    id: 'zeroDrifts',
    only: 'scaled',
    title: 'The zero of the signal has drifted',
    remedy:
      'Set the offset with the drive warm; let the position loop, or enable, hold the axis where it has to stand.',
    weight: 6,
    findings: ['creeps'],
    shows: { atZero: { creeps: 0.95 }, back: { creeps: 0.4 } },
  },
  {
    id: 'noReference',
    only: 'scaled',
    title: 'The signal has no common reference, or picks up noise',
    remedy: 'Join the signal 0 V at one point; shield on one end, away from the motor cable.',
    weight: 4,
    findings: ['referenceMissing', 'analogNotShielded'],
    shows: { atZero: { creeps: 0.5, runs: 0.3 }, distance: { varies: 0.8 }, sound: { whistles: 0.3 } },
  },
  {
    id: 'signalReversed',
    only: 'scaled',
    title: 'The two wires of the signal are swapped',
    remedy: 'Swap them back; never invert anything to make up for it while a loop is closed in the controller.',
    weight: 3,
    shows: { motion: { wrongWay: 0.6, runsAway: 0.35 }, signalLevel: { opposite: 0.95 } },
  },
  {
    id: 'feedbackBackwards',
    only: 'scaled',
    title: 'The feedback to the controller counts against its command',
    remedy:
      'Swap the two channels of the feedback, or invert it in the controller; try again with the motor uncoupled.',
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
    title: 'An input does not arrive',
    remedy: 'Follow its wire; compare sinking and sourcing of output and input.',
    weight: 5,
    shows: { inputLamps: { one: 0.95 }, whichMove: { another: 0.8 } },
  },
  {
    id: 'inputCommon',
    only: 'choice',
    title: 'The common of the inputs is missing or of the wrong sign',
    remedy: 'Meter the common against each input; an optocoupler wants current, not only volts.',
    weight: 5,
    shows: { ...doesNotMove, inputLamps: { none: 0.97 }, whichMove: { noMove: 0.9 } },
  },
  {
    id: 'inputsBounce',
    only: 'choice',
    title: 'The inputs are taken while they are still changing',
    remedy: 'Debounce for longer than they take to change, or let an edge start the move.',
    weight: 4,
    findings: ['passesThroughMoves', 'edgeInPattern'],
    shows: { whichMove: { sometimes: 0.97 } },
  },
  {
    id: 'notHomed',
    only: 'choice',
    title: 'The axis is not homed, and moves to positions wait for it',
    remedy: 'Home it, or set homing at enable.',
    weight: 5,
    findings: ['movesBeforeHome'],
    shows: { ...doesNotMove, inputLamps: { yes: 0.95 }, whichMove: { noMove: 0.95 }, ready: { enabled: 0.95 } },
  },
  {
    id: 'patternsOtherwise',
    only: 'choice',
    title: 'The patterns are stored in another order than planned',
    remedy: 'Compare the stored moves with the key-in sheet; count which input is the lowest.',
    weight: 4,
    findings: ['patternTwice', 'patternWrong'],
    shows: { whichMove: { another: 0.97 }, inputLamps: { yes: 0.95 } },
  },
];

/** Those that can be at work at a drive which listens to this. */
export const causesFor = (kind: FaultKind): readonly Cause[] =>
  causes.filter(({ only }) => only === undefined || only === kind);
