import type { StartCause } from './startCauses.ts';

/** A trip that the drive shows as soon as it may turn, by step. */
const tripsAtOnce = (sign: string) =>
  ({
    restart: { [sign]: 0.5, quiet: 0.45 },
    direction: { [sign]: 0.8 },
    noLoad: { [sign]: 0.8, trips: 0.1 },
    atSpeed: { [sign]: 0.8 },
    lostLink: { [sign]: 0.8 },
  }) as const;

/** What may be wrong at the first power of a spindle; a new cause is one more entry. */
export const spindleCauses: readonly StartCause[] = [
  {
    id: 'settingsDiffer',
    title: 'Settings of the drive differ from the plan',
    remedy: 'Write the plan to the drive, or correct the plan by the motor plate, before the motor turns.',
    weight: 5,
    shows: { settings: { differs: 0.9 } },
  },
  {
    id: 'leadsMissing',
    title: 'The motor is not connected as planned',
    remedy: 'With the supply off and the discharge time waited, connect the motor as planned, with earth and shield.',
    weight: 3,
    shows: { leads: { wrong: 0.95 } },
  },
  {
    id: 'leadsExchanged',
    title: 'Two motor leads are exchanged',
    remedy: 'With the supply off and the discharge time waited, exchange two of the three motor leads at the drive.',
    weight: 5,
    shows: { direction: { reversed: 0.95 } },
  },
  {
    id: 'supplyWeak',
    title: 'The mains are too low, or a phase of the supply is missing',
    remedy:
      'Measure the voltage at the supply terminals of the drive while it runs; check fuses, contactor and phases.',
    weight: 4,
    shows: tripsAtOnce('undervoltage'),
  },
  {
    id: 'returnedEnergy',
    title: 'The brake resistor is not connected, or the ramp down is too short',
    remedy:
      'Check the two wires of the brake resistor, its resistance and that the drive is set to use it; otherwise lengthen the ramp down.',
    weight: 5,
    shows: {
      direction: { overvoltage: 0.3, right: 0.65 },
      noLoad: { overvoltage: 0.8, right: 0.1, trips: 0.1 },
      atSpeed: { overvoltage: 0.3, right: 0.6 },
      lostLink: { overvoltage: 0.2, stops: 0.7 },
    },
  },
  {
    id: 'spindleBraked',
    title: 'Something brakes the spindle',
    remedy:
      'Supply off: turn the spindle by hand. Look for a closed clamp, a tool that touches, a tight belt or a bad bearing.',
    weight: 4,
    shows: {
      direction: { overcurrent: 0.2, overload: 0.1, still: 0.05, right: 0.6 },
      noLoad: { loaded: 0.75, high: 0.05, overcurrent: 0.1, overload: 0.05, trips: 0.05 },
      atSpeed: { overcurrent: 0.15, never: 0.15, right: 0.65 },
    },
  },
  {
    id: 'overfluxed',
    title: 'The motor gets too much voltage for its frequency',
    remedy:
      'Compare star or delta, base frequency, base voltage and boost with the motor plate: delta where star is planned takes about three times the current.',
    weight: 4,
    shows: { noLoad: { high: 0.75, overcurrent: 0.1, overload: 0.1 }, direction: { overcurrent: 0.15, right: 0.8 } },
  },
  {
    id: 'underfluxed',
    title: 'The motor gets too little voltage for its frequency',
    remedy: 'Compare star or delta, base frequency and base voltage with the motor plate.',
    weight: 3,
    shows: { noLoad: { low: 0.7, loaded: 0.15 } },
  },
  {
    id: 'phaseOpen',
    title: 'A motor lead is open',
    remedy: 'With the supply off and the discharge time waited, check the three motor leads at both ends.',
    weight: 3,
    shows: { direction: { still: 0.5, overcurrent: 0.3 }, noLoad: { low: 0.4, overcurrent: 0.2, still: 0.2 } },
  },
  {
    id: 'shortedOutput',
    title: 'Short circuit or earth fault at the motor',
    remedy: 'Disconnect the motor leads and measure the insulation of motor and cable.',
    weight: 2,
    shows: tripsAtOnce('overcurrent'),
  },
  {
    id: 'notEnabled',
    title: 'The drive gets no run command, or its enable input is off',
    remedy: 'Check the enable input, the run command source and the speed command source of the drive.',
    weight: 5,
    shows: { direction: { still: 0.9 }, noLoad: { still: 0.9 }, atSpeed: { still: 0.9 }, lostLink: { still: 0.9 } },
  },
  {
    id: 'otherAlarm',
    title: 'The drive has an alarm',
    remedy: 'Look up its code, remove its cause, then reset it.',
    weight: 2,
    shows: tripsAtOnce('alarm'),
  },
  {
    id: 'stopNotWired',
    title: 'The hardware stop does not take the power from the spindle',
    remedy: 'Wire safe torque off or the supply contactor through the safety relay; a bridge must not stay in.',
    weight: 3,
    shows: { hardwareStop: { 'no reaction': 0.95 } },
  },
  {
    id: 'startsAutomatically',
    title: 'The spindle starts automatically',
    remedy:
      'Switch automatic restart off in the drive, set the safety relay to manual reset, and require a new run command after every fault.',
    weight: 3,
    shows: { restart: { restarts: 0.9 }, hardwareStop: { restarts: 0.5, proven: 0.45 } },
  },
  {
    id: 'interlockOpen',
    title: 'An interlock does not stop the run command',
    remedy: 'Trace the contact of each interlock (tool clamp, air or coolant, guard) to the enable of the drive.',
    weight: 3,
    shows: { interlocks: { runs: 0.95 } },
  },
  {
    id: 'sensorIgnored',
    title: 'The temperature sensor of the motor does not trip the drive',
    remedy: 'Connect the PTC to the drive, remove the bridge at its terminals, and switch its monitoring on.',
    weight: 3,
    shows: { thermal: { 'goes on': 0.95 } },
  },
  {
    id: 'identificationFailed',
    title: 'The motor identification failed',
    remedy: 'Enter the plate as it is connected (star or delta), and repeat it cold and with the motor free to turn.',
    weight: 2,
    shows: { identification: { failed: 0.9 } },
  },
  {
    id: 'bearingHot',
    title: 'A bearing runs hot',
    remedy: 'Stop. Check belt tension, grease and alignment; run in at the last speed at which it stayed warm.',
    weight: 2,
    shows: { runIn: { hot: 0.95 } },
  },
  {
    id: 'resonance',
    title: 'Speeds at which the machine hums are not skipped',
    remedy: 'Set the frequencies noted as skip frequencies in the drive.',
    weight: 3,
    shows: { skip: { open: 0.95 } },
  },
  {
    id: 'atSpeedWire',
    title: 'At speed does not reach the controller as planned',
    remedy: 'Assign the output function at the drive, trace its wire, and compare the active level at the controller.',
    weight: 4,
    shows: { atSpeed: { never: 0.5, always: 0.45 } },
  },
  {
    id: 'linkLossIgnored',
    title: 'The drive goes on without its link',
    remedy: 'Set the communication timeout of the drive, and a ramp as its reaction.',
    weight: 4,
    shows: { lostLink: { 'goes on': 0.95 } },
  },
];
