import type { ObservationId } from './observations.ts';

/** Something that may be wrong. Likelihoods are common practice, none is measured; they need only be right in their order. */
export interface Cause {
  readonly id: string;
  readonly title: string;
  readonly remedy: string;
  /** How often it is met, against the others. */
  readonly weight: number;
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
    shows: { alarm: { alarm: 0.8 }, fast: { better: 0.9 }, motion: { right: 0.8 } },
  },
  {
    id: 'enableOpen',
    title: 'Enable does not arrive',
    remedy: 'Follow the wire from the controller’s output to the drive’s terminal; look for a common that is missing.',
    weight: 6,
    shows: { ...doesNotMove, ...notHeld, enableOn: { none: 0.9 } },
  },
  {
    id: 'enableInverted',
    title: 'Enable is inverted',
    remedy: 'Set the same active level at both ends.',
    weight: 6,
    findings: ['enableInverted'],
    shows: { ...doesNotMove, ...notHeld, enableOn: { none: 0.5 }, enableOff: { some: 0.5 } },
  },
  {
    id: 'torqueOff',
    title: 'Safe torque off is open',
    remedy: 'Close both channels through the safety relay, or put in the bridge that came with the drive for the test.',
    weight: 5,
    shows: { ...doesNotMove, ...notHeld, alarm: { alarm: 0.5 }, torqueOffVolts: { missing: 0.95 } },
  },
  {
    id: 'alarmStands',
    title: 'An alarm is standing',
    remedy: 'Look its code up in the list of alarms, mend the cause, clear it as the list says.',
    weight: 5,
    shows: { ...doesNotMove, ...notHeld, alarm: { alarm: 0.98 } },
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
    title: 'Pulses do not reach the drive',
    remedy:
      'Follow the two wires of the pulse line; look for a common that is missing and for an output that is not switched to pulses.',
    weight: 7,
    shows: { ...doesNotMove, pulseVolts: { none: 0.7, steady: 0.25 }, lineCurrent: { none: 0.9 } },
  },
  {
    id: 'pulsesWeak',
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
    title: 'The pulse input has been burnt by too much current',
    remedy:
      'Measure it with a small current of its own; a drive with a dead input has to be repaired. Put the resistor in first.',
    weight: 1,
    findings: ['lineRuinous'],
    shows: { ...doesNotMove, lineCurrent: { none: 0.6, much: 0.35 } },
  },
  {
    id: 'formClockwise',
    title: 'The controller sends step and direction, the drive takes clockwise pulses',
    remedy: 'Set both to the same form.',
    weight: 4,
    findings: ['formsDiffer'],
    shows: { motion: { oneWay: 0.95 }, back: { creeps: 0.9 } },
  },
  {
    id: 'formStep',
    title: 'The controller sends clockwise pulses, the drive takes step and direction',
    remedy: 'Set both to the same form.',
    weight: 4,
    findings: ['formsDiffer'],
    shows: { motion: { onlyOne: 0.9 }, back: { creeps: 0.9 }, directionVolts: { pulses: 0.9 } },
  },
  {
    id: 'formQuadrature',
    title: 'One end is set to quadrature, the other is not',
    remedy: 'Set both to the same form.',
    weight: 3,
    findings: ['formsDiffer'],
    shows: { motion: { trembles: 0.85 }, distance: { notAtAll: 0.8 }, back: { notAtAll: 0.7 } },
  },
  {
    id: 'directionDead',
    title: 'The direction line is dead',
    remedy: 'Follow its two wires; swap it with the pulse line for a moment to see whether the output works.',
    weight: 5,
    shows: { motion: { oneWay: 0.95 }, back: { creeps: 0.9 }, directionVolts: { stay: 0.95 } },
  },
  {
    id: 'directionLate',
    title: 'The direction changes too close to the next pulse',
    remedy: 'Lengthen the direction set-up time in the controller; see whether both ends count the same edge.',
    weight: 4,
    findings: ['directionTooLate', 'pulseEdgesDiffer'],
    shows: { back: { creeps: 0.95 } },
  },
  {
    id: 'pulsesLost',
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
      alarm: { alarm: 0.8 },
      sound: { hums: 0.5, whistles: 0.3 },
      distance: { notAtAll: 0.5, varies: 0.4 },
    },
  },
  {
    id: 'encoderBackwards',
    title: 'The encoder counts backwards',
    remedy: 'Swap its channels, or invert it in the drive; never by the command.',
    weight: 2,
    shows: { motion: { runsAway: 0.95 }, counts: { down: 0.95 }, alarm: { alarm: 0.7 }, distance: { varies: 0.8 } },
  },
  {
    id: 'encoderDead',
    title: 'The encoder is not heard',
    remedy: 'Plug, supply and shield of the encoder cable.',
    weight: 3,
    shows: { ...doesNotMove, counts: { still: 0.97 }, alarm: { alarm: 0.9 }, shaft: { free: 0.7 } },
  },
  {
    id: 'brakeShut',
    title: 'The brake does not open',
    remedy: 'Meter its volts on enable; it needs a relay and a supply of its own.',
    weight: 3,
    shows: { ...doesNotMove, sound: { hums: 0.9 }, alarm: { alarm: 0.5 } },
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
      alarm: { alarm: 0.6 },
    },
  },
  {
    id: 'gainTooHigh',
    title: 'Gains are too high for this load',
    remedy: 'Lower the gains, enter the inertia ratio, tune again.',
    weight: 3,
    findings: ['highInertiaRatio'],
    shows: { sound: { whistles: 0.95 }, alarm: { alarm: 0.3 } },
  },
];
