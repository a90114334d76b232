/** Something that may be wrong at the first power of an axis. Likelihoods are common practice; they need only be right in their order. */
export interface StartCause {
  readonly id: string;
  readonly title: string;
  /** The value or wire to change. */
  readonly remedy: string;
  /** How often it is met, against the others. */
  readonly weight: number;
  /** Only at an axis that has it. */
  readonly only?: 'brake' | 'pulses' | 'signal' | 'loop in the controller';
  /** By step and sign, how likely the sign is when this is the cause; the rest is shared out as usual. */
  readonly shows: Shows;
  /** What is otherwise where only the controller moves the axis. */
  readonly watched?: Shows;
}
type Shows = Readonly<Record<string, Readonly<Record<string, number>>>>;

const runsAway = {
  standstill: { 'runs away': 0.6, jumps: 0.05, holds: 0.35 },
  drift: { creeps: 0.5, none: 0.48 },
  bump: { 'runs away': 0.95 },
} as const;
/** Of an axis that only its controller moves: the command does not do what it is meant to. */
const withoutCommand = {
  bump: { 'still without torque': 0.9 },
  jogPlus: { 'still without torque': 0.9 },
  jogMinus: { 'still without torque': 0.9 },
} as const;
const jammed = {
  bump: { 'still at the limit': 0.9 },
  jogPlus: { 'still at the limit': 0.9, trips: 0.1 },
  jogMinus: { 'still at the limit': 0.9, trips: 0.1 },
} as const;

/** Every cause that the steps can tell; a new one is one more entry. */
export const startCauses: readonly StartCause[] = [
  {
    id: 'encoderReversed',
    title: 'Encoder channels are exchanged',
    remedy: 'Exchange channels A and B of the encoder, both lines of a pair, at one end of its cable.',
    weight: 4,
    shows: { handTurn: { reversed: 0.97 }, ...runsAway },
  },
  {
    id: 'senseReversed',
    title: 'Rotation sense or plus end is set the other way',
    remedy:
      'Change “Rotation sense” in the plan and the drive, or the declared plus end. Do not exchange wires for it.',
    weight: 5,
    shows: {
      handTurn: { reversed: 0.97 },
      bump: { right: 0.95 },
      jogPlus: { follows: 0.95 },
      direction: { minus: 0.95 },
    },
  },
  {
    id: 'phasesExchanged',
    title: 'Two phases of the motor are exchanged',
    remedy: 'Connect U, V and W of the motor to the terminals of the same name.',
    weight: 4,
    shows: { handTurn: { right: 0.97 }, ...runsAway },
  },
  {
    id: 'encoderDead',
    title: 'The encoder does not count',
    remedy: 'Check the encoder cable, its plug and its supply.',
    weight: 4,
    shows: { handTurn: { still: 0.97 }, bump: { 'runs away': 0.7, 'still at the limit': 0.2 } },
  },
  {
    id: 'encoderNoise',
    title: 'Noise on the encoder lines',
    remedy:
      'Connect the shield at both ends, run the cable apart from the motor cable, and check the earth of the motor.',
    weight: 2,
    shows: { rest: { 'counts change': 0.9 } },
  },
  {
    id: 'countsWrong',
    title: 'Counts per revolution are entered wrong',
    remedy: 'Correct the encoder resolution of the motor: lines are counted four times.',
    weight: 4,
    shows: { handTurn: { factor: 0.95 }, travel: { factor: 0.8 } },
  },
  {
    id: 'travelWrong',
    title: 'Gearbox, pulley or screw lead is another one than entered',
    remedy: 'Read the plates of the stages again, or measure the travel on the page Measure the scaling.',
    weight: 5,
    shows: { handTurn: { right: 0.97 }, travel: { factor: 0.85, short: 0.07, long: 0.07 }, marks: { straight: 0.97 } },
  },
  {
    id: 'couplingSlips',
    title: 'A coupling, belt or clamp slips',
    remedy: 'Mark shaft and hub, repeat the move, and tighten the one whose marks have parted.',
    weight: 2,
    shows: { travel: { short: 0.5, factor: 0.4 }, marks: { parted: 0.95 } },
  },
  {
    id: 'limitsExchanged',
    title: 'Limit wires are exchanged',
    remedy: 'Exchange the wires of the two limit inputs, or change “Switch wired to the plus limit input” in the plan.',
    weight: 5,
    shows: {
      sensors: { swapped: 0.97 },
      limitPlus: { swapped: 0.95 },
      limitMinus: { swapped: 0.95 },
    },
  },
  {
    id: 'limitBroken',
    title: 'A limit or home wire is broken, or its active level is inverted',
    remedy: 'Measure at the terminal with the switch free and tripped; compare contact type and active level.',
    weight: 5,
    shows: {
      sensors: { 'always active': 0.6, 'no reaction': 0.4 },
      rest: { 'input active': 0.6, quiet: 0.4 },
      bump: { blocked: 0.2, right: 0.77 },
      jogPlus: { blocked: 0.3, follows: 0.65 },
      jogMinus: { blocked: 0.3, follows: 0.65 },
      limitPlus: { 'no reaction': 0.35, 'cannot leave': 0.1, stops: 0.5 },
      limitMinus: { 'no reaction': 0.35, 'cannot leave': 0.1, stops: 0.5 },
      // A controller that sees its limit does not move there either.
      hostMove: { right: 0.7, 'one way': 0.15, still: 0.1 },
    },
  },
  {
    id: 'limitIgnored',
    title: 'The drive does not heed its limit inputs',
    remedy: 'Assign the limit function to the input in the drive, and set its reaction.',
    weight: 2,
    shows: { sensors: { right: 0.7 }, limitPlus: { 'goes on': 0.9 }, limitMinus: { 'goes on': 0.9 } },
  },
  {
    id: 'contactBounces',
    title: 'A contact bounces or is loose',
    remedy: 'Tighten the terminal, replace the switch, or set a longer debounce time.',
    weight: 1,
    shows: { sensors: { bounces: 0.95 } },
  },
  {
    id: 'torqueOffOpen',
    title: 'Safe torque off is open',
    remedy: 'Close both channels through the safety relay; check its reset and both wires.',
    weight: 5,
    shows: {
      hardwareStop: { 'always open': 0.95 },
      standstill: { 'torque off open': 0.97 },
      bump: { 'torque off open': 0.97 },
      jogPlus: { 'torque off open': 0.97 },
      jogMinus: { 'torque off open': 0.97 },
    },
  },
  {
    id: 'torqueOffNotWired',
    title: 'The hardware stop does not reach safe torque off',
    remedy: 'Wire both channels of safe torque off through the safety relay; a bridge must not stay in.',
    weight: 3,
    shows: { hardwareStop: { 'no reaction': 0.6, 'one channel': 0.39 } },
  },
  {
    id: 'restarts',
    title: 'Something restarts automatically',
    remedy: 'Set the safety relay to manual reset, and let the controller take its enable back when power goes.',
    weight: 2,
    shows: {
      hardwareStop: { restarts: 0.8, proven: 0.2 },
      mainPower: { restarts: 0.8, quiet: 0.2 },
      hostEnable: { right: 0.95 },
    },
  },
  {
    id: 'enableMissing',
    title: 'The enable input is not active: wire broken, or level inverted',
    remedy: 'Set “Enable input active” to the level that the controller gives, or trace the wire and its common.',
    weight: 6,
    shows: {
      standstill: { 'enable input off': 0.97 },
      bump: { 'enable input off': 0.97 },
      jogPlus: { 'enable input off': 0.97 },
      jogMinus: { 'enable input off': 0.97 },
    },
  },
  {
    id: 'hostEnableBroken',
    title: 'The enable output of the controller does not reach the drive',
    remedy: 'Trace the wire from the output of the controller to the enable terminal, and its common.',
    weight: 4,
    shows: { hostEnable: { never: 0.97 }, hostMove: { still: 0.9 } },
    watched: { standstill: { 'enable input off': 0.95 } },
  },
  {
    id: 'hostEnableInverted',
    title: 'Enable of the controller is inverted',
    remedy: 'Set the same active level for enable at the controller and the drive.',
    weight: 4,
    shows: {
      hostEnable: { inverted: 0.97 },
      mainPower: { restarts: 0.6, quiet: 0.4 },
      handTurn: { energised: 0.1, right: 0.87 },
    },
    watched: {
      rest: { 'counts change': 0.3, quiet: 0.68 },
      standstill: { 'enable input off': 0.4, holds: 0.4, 'runs away': 0.1 },
      drift: { none: 0.5, creeps: 0.4 },
      bump: { 'still without torque': 0.5, 'enable input off': 0.4 },
      jogPlus: { 'still without torque': 0.5, 'enable input off': 0.4 },
      jogMinus: { 'still without torque': 0.5, 'enable input off': 0.4 },
    },
  },
  {
    id: 'hostEnableShorted',
    title: 'The enable wire is shorted, so that the drive is always enabled',
    remedy: 'Separate the wire of the enable input from the 24 V.',
    weight: 2,
    shows: {
      hostEnable: { always: 0.95 },
      mainPower: { restarts: 0.6, quiet: 0.4 },
      handTurn: { energised: 0.1, right: 0.87 },
    },
  },
  {
    id: 'noMainSupply',
    title: 'Main power is missing',
    remedy: 'Measure the supply at the power terminals of the drive; check contactor and fuses.',
    weight: 4,
    shows: {
      mainPower: { alarm: 0.3, quiet: 0.7 },
      standstill: { 'not enabled': 0.9, alarm: 0.1 },
      bump: { 'not enabled': 0.9 },
      jogPlus: { 'not enabled': 0.9 },
      jogMinus: { 'not enabled': 0.9 },
    },
  },
  {
    id: 'alarm',
    title: 'An alarm is active',
    remedy: 'Look up its code, remove its cause, then reset it.',
    weight: 3,
    shows: { mainPower: { alarm: 0.95 }, standstill: { alarm: 0.95 }, bump: { alarm: 0.9 } },
  },
  {
    id: 'commandWaiting',
    title: 'A command is waiting when the drive is enabled',
    remedy:
      'Set the command to zero before enable comes; let the controller follow the position while the drive is off.',
    weight: 2,
    shows: { standstill: { jumps: 0.9 } },
  },
  {
    id: 'gainsHigh',
    title: 'The gains of the loops are too high for this load',
    remedy: 'Lower the speed loop gain until it is quiet, and key in the inertia ratio of the plan.',
    weight: 3,
    shows: { standstill: { vibrates: 0.95 } },
  },
  {
    id: 'motorOpen',
    title: 'The motor gets no current, or the drive gets no command',
    remedy: 'Check the motor cable at both ends, and the command source of the drive.',
    weight: 3,
    shows: {
      bump: { 'still without torque': 0.95 },
      jogPlus: { 'still without torque': 0.95 },
      jogMinus: { 'still without torque': 0.95 },
    },
  },
  {
    id: 'brakeShut',
    only: 'brake',
    title: 'The holding brake stays shut, or its coil gets no current',
    remedy:
      'Measure the voltage at the coil while the drive is enabled: none means the wire or the output, full voltage means the brake.',
    weight: 4,
    shows: { ...jammed, handTurn: { blocked: 0.4, right: 0.58 }, drop: { holds: 0.97 }, brakeTest: { holds: 0.97 } },
  },
  {
    id: 'brakeOpen',
    only: 'brake',
    title: 'The holding brake stays open',
    remedy: 'Check that its coil is off without enable; if it is, replace the brake.',
    weight: 3,
    shows: {
      rest: { 'counts change': 0.4, quiet: 0.58 },
      drop: { falls: 0.7, sinks: 0.1, holds: 0.2 },
      brakeTest: { slips: 0.95 },
    },
  },
  {
    id: 'brakeSlips',
    only: 'brake',
    title: 'The holding brake is worn or oily and slips',
    remedy: 'Replace the brake. Do not hold the load with it.',
    weight: 3,
    shows: {
      rest: { 'counts change': 0.2, quiet: 0.78 },
      drop: { sinks: 0.5, holds: 0.25, falls: 0.15, gives: 0.1 },
      brakeTest: { slips: 0.95 },
    },
  },
  {
    id: 'brakeLate',
    only: 'brake',
    title: 'The motor lets go before the brake has shut',
    remedy: 'Lengthen the engage delay of the brake in the drive.',
    weight: 3,
    shows: { drop: { gives: 0.9 }, brakeTest: { holds: 0.95 } },
  },
  {
    id: 'sticks',
    title: 'The axis sticks or jams: its friction is far above what is planned',
    remedy:
      'Look for misalignment, tight guides or a missing lubricant; correct the friction in the plan if it is right so.',
    weight: 4,
    shows: {
      handTurn: { blocked: 0.1, right: 0.87 },
      bump: { right: 0.5, 'still at the limit': 0.5 },
      jogPlus: { sticks: 0.6, 'still at the limit': 0.35 },
      jogMinus: { sticks: 0.6, 'still at the limit': 0.35 },
    },
  },
  {
    id: 'drifts',
    only: 'signal',
    title: 'The analog command drifts',
    remedy: 'Trim the offset at zero command; check the reference wire and the shield of the analog line.',
    weight: 4,
    shows: { drift: { creeps: 0.95 } },
  },
  {
    id: 'feedbackReversed',
    only: 'loop in the controller',
    title: 'Feedback channels are exchanged at the controller',
    remedy: 'Exchange channels A and B at the encoder input of the controller, or invert the command.',
    weight: 4,
    shows: { loopOpen: { reversed: 0.97 }, hostMove: { still: 0.5, factor: 0.2, 'one way': 0.2 } },
  },
  {
    id: 'feedbackBroken',
    only: 'loop in the controller',
    title: 'Feedback does not reach the controller',
    remedy: 'Check the cable from the encoder output of the drive to the controller.',
    weight: 4,
    shows: { loopOpen: { still: 0.97 }, hostMove: { still: 0.3, 'one way': 0.5 } },
  },
  {
    id: 'commandReversed',
    only: 'signal',
    title: 'The wires of the analog command are exchanged',
    remedy: 'Exchange the two wires of the analog command, or invert it at the controller.',
    weight: 3,
    shows: { loopOpen: { right: 0.97 }, hostMove: { opposite: 0.4, 'one way': 0.5 } },
  },
  {
    id: 'commandBroken',
    title: 'The command does not reach the drive',
    remedy: 'Trace the command wires and their common; check that the output is configured.',
    weight: 5,
    shows: {
      loopOpen: { right: 0.97 },
      hostEnable: { right: 0.97 },
      hostMove: { still: 0.95 },
    },
    watched: {
      ...withoutCommand,
      mainPower: { quiet: 0.9, 'signal lost': 0.08 },
      standstill: { holds: 0.75, 'signal lost': 0.2 },
    },
  },
  {
    id: 'directionDead',
    only: 'pulses',
    title: 'The direction does not reach the drive',
    remedy: 'Trace the direction wire and its common; compare the pulse form at both ends.',
    weight: 4,
    shows: { hostEnable: { right: 0.97 }, hostMove: { 'one way': 0.95 } },
    watched: {
      bump: { right: 0.5, opposite: 0.48 },
      jogPlus: { follows: 0.5, opposite: 0.48 },
      jogMinus: { follows: 0.5, opposite: 0.48 },
      direction: { plus: 0.5, minus: 0.48 },
    },
  },
  {
    id: 'commandInverted',
    title: 'The direction of the controller is inverted',
    remedy: 'Invert the direction at the controller; leave the sense of the drive as it is.',
    weight: 4,
    shows: { hostEnable: { right: 0.97 }, hostMove: { opposite: 0.95 } },
    watched: {
      bump: { opposite: 0.95 },
      jogPlus: { opposite: 0.95 },
      jogMinus: { opposite: 0.95 },
      direction: { minus: 0.95 },
    },
  },
  {
    id: 'stepsWrong',
    only: 'pulses',
    title: 'Steps per unit at the controller do not match the gear ratio of the drive',
    remedy: 'Key in the steps per unit and the electronic gear ratio of the plan at both ends.',
    weight: 5,
    shows: { hostEnable: { right: 0.97 }, hostMove: { factor: 0.95 } },
  },
  {
    id: 'pulsesLost',
    only: 'pulses',
    title: 'Pulses are lost',
    remedy: 'Check pulse width, pulse rate, level and shield on the page Signals.',
    weight: 3,
    shows: { hostEnable: { right: 0.97 }, hostMove: { short: 0.9 } },
  },
  {
    id: 'pulsesDoubled',
    only: 'pulses',
    title: 'Pulses are counted twice',
    remedy: 'Terminate the pulse line, run it apart from the motor cable, and connect its shield.',
    weight: 2,
    shows: { hostEnable: { right: 0.97 }, hostMove: { long: 0.9 } },
  },
  {
    id: 'alarmWire',
    title: 'The alarm does not reach the controller as planned',
    remedy: 'Trace the alarm wire; compare contact type and active level at the controller.',
    weight: 3,
    shows: { hostAlarm: { always: 0.35, never: 0.35, inverted: 0.25 }, hostMove: { right: 0.5, still: 0.45 } },
    // A controller that sees an alarm does not move the axis.
    watched: {
      bump: { right: 0.5, 'still without torque': 0.48 },
      jogPlus: { follows: 0.5, 'still without torque': 0.48 },
      jogMinus: { follows: 0.5, 'still without torque': 0.48 },
    },
  },
  {
    id: 'windowIgnored',
    title: 'The drive does not trip on following error',
    remedy: 'Switch its following-error monitoring on, and set its window.',
    weight: 2,
    shows: { alarm: { 'does not trip': 0.95 } },
  },
  {
    id: 'watchdogOff',
    title: 'The drive goes on for too long without its link',
    remedy: 'Set the watchdog of the drive and its reaction to a lost link.',
    weight: 2,
    shows: { watchdog: { 'goes on': 0.6, late: 0.35 } },
  },
];
