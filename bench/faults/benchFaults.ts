import type { BrushlessDevice } from '../devices/brushless/brushlessDevice.ts';
import type { SpindleDevice } from '../devices/spindle/spindleDevice.ts';
import type { ServoDevice } from '../devices/servo/servoDevice.ts';
import type { StepperDevice } from '../devices/stepper/stepperDevice.ts';
import type { Host } from '../host/host.ts';
import type { LoopHost } from '../host/loopHost.ts';
import type { AnalogTrouble } from '../world/analogLine.ts';
import type { BrakeTrouble } from '../world/holdingBrake.ts';
import type { PulseTrouble } from '../world/pulseLine.ts';
import type { WireFault } from '../world/wiring.ts';
import type { ReplyTrouble } from '../protocol/replyTrouble.ts';

/** What faults are put into. */
export interface FaultyBench {
  readonly servo: ServoDevice;
  readonly spindle: SpindleDevice;
  readonly host: Host;
  readonly stepper: StepperDevice;
  readonly liftHost: Host;
  readonly brushless: BrushlessDevice;
  /** A servo whose position loop its host closes. */
  readonly turntable: ServoDevice;
  readonly tableHost: LoopHost;
  /** A servo with a brake, whose inputs pick its moves. */
  readonly tileStop: ServoDevice;
  readonly feed: ServoDevice;
  /** Of the servo's unit. */
  readonly replies: ReplyTrouble;
}

/** Raw values that the auto-tuning of a drive sets. */
const selfTunedGains = [
  ['inertiaRatio', 1460],
  ['speedBandwidth', 3200],
  ['speedIntegralTime', 1500],
  ['positionGain', 640],
  ['velocityFeedforward', 900],
] as const;

/** One thing that can be wrong; switched on it is there, switched off it is as if it had never been. */
export interface BenchFault {
  readonly label: string;
  /** Called only when it changes. */
  readonly set: (bench: FaultyBench, isOn: boolean) => void;
}

const wire =
  (terminal: string, fault: WireFault, end: 'servo' | 'host' = 'servo') =>
  (bench: FaultyBench, isOn: boolean): void =>
    (end === 'servo' ? bench.servo.terminals : bench.host).wiring.setFault(terminal, isOn ? fault : undefined);

const swapped =
  (a: string, b: string) =>
  ({ servo }: FaultyBench): void =>
    servo.terminals.wiring.swap(a, b);

type Factor = 'friction' | 'torque' | 'travel' | 'slipsAbove';
/** What a sound axis has. */
const sound: Readonly<Record<Factor, number>> = { friction: 1, torque: 1, travel: 1, slipsAbove: Infinity };

const axis =
  (factor: Factor, value: number) =>
  ({ servo: { mechanics } }: FaultyBench, isOn: boolean): void => {
    mechanics.trouble[factor] = isOn ? value : sound[factor];
    mechanics.changed();
  };

const exchanged =
  (part: 'encoder' | 'phases') =>
  ({ servo }: FaultyBench, isOn: boolean): void =>
    servo.mechanics.exchange(part, isOn ? -1 : 1);

const liftLine =
  <K extends keyof PulseTrouble>(what: K, wrong: PulseTrouble[K], right: PulseTrouble[K]) =>
  ({ liftHost: { line } }: FaultyBench, isOn: boolean): void =>
    void (line.trouble[what] = isOn ? wrong : right);

const brake =
  (trouble: BrakeTrouble) =>
  ({ tileStop: { mechanics } }: FaultyBench, isOn: boolean): void => {
    if (mechanics.brake) mechanics.brake.trouble = isOn ? trouble : undefined;
    mechanics.changed();
  };

const analog =
  <K extends keyof AnalogTrouble>(what: K, wrong: AnalogTrouble[K], right: AnalogTrouble[K]) =>
  ({ turntable }: FaultyBench, isOn: boolean): void =>
    void (turntable.signals.analog.trouble[what] = isOn ? wrong : right);

const turned =
  (speed: number) =>
  ({ servo: { mechanics } }: FaultyBench, isOn: boolean): void =>
    void (mechanics.turnedByHand = isOn ? speed : 0);

const oneTurn =
  (drive: 'servo' | 'turntable' | 'tileStop' | 'feed') =>
  (bench: FaultyBench, isOn: boolean): void =>
    void (bench[drive].mechanics.hand = isOn ? { turnsLeft: 1 } : undefined);

const brakeCoil =
  (hand: 'unplugged' | 'fed') =>
  ({ tileStop: { terminals } }: FaultyBench, isOn: boolean): void =>
    void (terminals.brakeHand = isOn ? hand : undefined);

const torqueOff = ({ terminals }: ServoDevice, isOn: boolean): void => {
  if (isOn) terminals.tripped.add('stop relay');
  else terminals.tripped.delete('stop relay');
};

const hand =
  (source: string) =>
  ({ servo }: FaultyBench, isOn: boolean): void => {
    if (isOn) servo.terminals.tripped.add(source);
    else servo.terminals.tripped.delete(source);
  };

/** What a hand at the machine does; no fault. */
export const benchHands = {
  tripMinusLimit: { label: 'Hold the minus limit switch tripped', set: hand('minus limit switch') },
  tripPlusLimit: { label: 'Hold the plus limit switch tripped', set: hand('plus limit switch') },
  tripHome: { label: 'Hold a metal tool at the home switch', set: hand('home switch') },
  turnPlus: { label: 'Turn the motor shaft by hand, half a turn a second towards plus', set: turned(Math.PI) },
  turnMinus: { label: 'Turn the motor shaft by hand, half a turn a second towards minus', set: turned(-Math.PI) },
  turnOnePlus: { label: 'Turn the motor shaft by hand, one turn towards plus', set: oneTurn('servo') },
  hardwareStop: {
    label: 'Press the hardware stop of the cell',
    set: ({ servo, turntable, tileStop, feed }, isOn) => {
      for (const device of [servo, turntable, tileStop, feed]) torqueOff(device, isOn);
    },
  },
  holdShaft: { label: 'Hold the shaft', set: axis('friction', 100) },
  selfTuned: {
    label: 'Start the auto-tuning of the drive at its keys',
    set: ({ servo }, isOn) => {
      if (!isOn) return;
      for (const [key, raw] of selfTunedGains) servo.parameters.write(key, raw);
      servo.parametersChanged();
    },
  },
  mainSupplyOff: {
    label: 'Main supply off',
    set: ({ servo, turntable, tileStop, feed }, isOn) => {
      for (const device of [servo, turntable, tileStop, feed]) device.hasMainSupply = !isOn;
    },
  },
  controlSupplyOff: {
    label: 'Control supply of the servo drive off',
    set: ({ servo, replies }, isOn) => {
      replies.isSilent = isOn;
      servo.hasControlSupply = !isOn;
      if (!isOn) servo.restart();
    },
  },
  pushLift: {
    label: 'Push the lift out of its position',
    set: ({ stepper }, isOn) => void (stepper.mechanics.push = isOn ? -6 : 0),
  },
  turnLiftPlus: {
    label: 'Turn the motor shaft by hand, one turn towards plus',
    set: ({ stepper }, isOn) => void (stepper.mechanics.hand = isOn ? { turnsLeft: 1 } : undefined),
  },
  turnTablePlus: { label: 'Turn the motor shaft by hand, one turn towards plus', set: oneTurn('turntable') },
  turnStopPlus: { label: 'Turn the motor shaft by hand, one turn towards plus', set: oneTurn('tileStop') },
  propStop: {
    label: 'Prop the load 3 mm below where it stands',
    set: ({ tileStop: { mechanics } }, isOn) => {
      const millimetres = (3 * mechanics.world.countsPerRevolution) / 5;
      mechanics.proppedAt = isOn ? mechanics.loadCounts - millimetres : undefined;
    },
  },
  feedBrake: { label: 'Open the brake by a supply of its own', set: brakeCoil('fed') },
  unplugBrake: { label: 'Unplug the coil of the brake', set: brakeCoil('unplugged') },
  turnFeedPlus: { label: 'Turn the motor shaft by hand, one turn towards plus', set: oneTurn('feed') },
} as const satisfies Record<string, BenchFault>;

/** The faults of the bench, in the order of its register map. */
export const benchFaults = {
  limitsSwapped: { label: 'Limit wires swapped at the drive', set: swapped('minus limit', 'plus limit') },
  minusLimitBroken: { label: 'Minus limit wire broken', set: wire('minus limit', 'broken') },
  plusLimitBroken: { label: 'Plus limit wire broken', set: wire('plus limit', 'broken') },
  minusLimitShorted: { label: 'Minus limit wire shorted to 24 V', set: wire('minus limit', 'shorted to 24 V') },
  plusLimitShorted: { label: 'Plus limit wire shorted to 24 V', set: wire('plus limit', 'shorted to 24 V') },
  homeBroken: { label: 'Home switch wire broken', set: wire('home', 'broken') },
  homeShorted: { label: 'Home switch wire shorted to 24 V', set: wire('home', 'shorted to 24 V') },
  permitBroken: { label: 'Enable permit wire broken', set: wire('permit', 'broken') },
  servoOnBroken: { label: 'Servo-on wire broken', set: wire('servo on', 'broken') },
  servoOnShorted: { label: 'Servo-on wire shorted to 24 V', set: wire('servo on', 'shorted to 24 V') },
  alarmResetBroken: { label: 'Alarm-reset wire broken', set: wire('alarm reset', 'broken') },
  torqueOffOpen1: { label: 'Safe torque off open, channel 1', set: wire('safe torque off 1', 'broken') },
  torqueOffOpen2: { label: 'Safe torque off open, channel 2', set: wire('safe torque off 2', 'broken') },
  hostAlarmBroken: { label: 'Alarm wire broken at the controller', set: wire('alarm', 'broken', 'host') },
  hostAlarmShorted: {
    label: 'Alarm wire shorted to 24 V at the controller',
    set: wire('alarm', 'shorted to 24 V', 'host'),
  },
  pulseLineBroken: {
    label: 'First pulse line broken',
    set: ({ host: { line } }, isOn) => void (line.trouble.broken = (line.trouble.broken & 2) | (isOn ? 1 : 0)),
  },
  directionLineBroken: {
    label: 'Second pulse line (direction) broken',
    set: ({ host: { line } }, isOn) => void (line.trouble.broken = (line.trouble.broken & 1) | (isOn ? 2 : 0)),
  },
  pulseLinesSwapped: {
    label: 'The two pulse lines swapped',
    set: ({ host: { line } }, isOn) => void (line.trouble.isSwapped = isOn),
  },
  pulsesLost: {
    label: 'One of 100 pulses lost',
    set: ({ host: { line } }, isOn) => void (line.trouble.losesOneOf = isOn ? 100 : 0),
  },
  pulsesDoubled: {
    label: 'One of 100 pulses doubled by noise',
    set: ({ host: { line } }, isOn) => void (line.trouble.doublesOneOf = isOn ? 100 : 0),
  },
  axisSticks: { label: 'Axis sticks: friction five times as high', set: axis('friction', 5) },
  torqueWeak: { label: 'Motor weak: a quarter of the peak torque', set: axis('torque', 0.25) },
  spindleLoaded: {
    label: 'Spindle under load: 5 N·m at the motor',
    set: ({ spindle }, isOn) => void (spindle.load = isOn ? 5 : 0),
  },
  repliesDropped: {
    label: 'Servo drive: one of 5 replies dropped',
    set: ({ replies }, isOn) => void (replies.dropsOneOf = isOn ? 5 : 0),
  },
  repliesLate: {
    label: 'Servo drive: replies 400 ms late',
    set: ({ replies }, isOn) => void (replies.delay = isOn ? 400 : 0),
  },
  repliesDoubled: {
    label: 'Servo drive: every reply sent twice',
    set: ({ replies }, isOn) => void (replies.isDoubled = isOn),
  },
  repliesCorrupted: {
    label: 'Servo drive: one of 5 replies shortened',
    set: ({ replies }, isOn) => void (replies.shortensOneOf = isOn ? 5 : 0),
  },
  driveSilent: {
    label: 'Servo drive does not answer',
    set: ({ replies }, isOn) => void (replies.isSilent = isOn),
  },
  encoderBatteryFlat: {
    label: 'Servo drive: battery of the absolute encoder flat',
    set: ({ servo }, isOn) => void (servo.hasBattery = !isOn),
  },
  parametersLocked: {
    label: 'Servo drive: parameters locked',
    set: ({ servo }, isOn) => {
      servo.locksAtPowerOn = isOn;
      servo.isLocked = isOn;
    },
  },
  encoderSwapped: { label: 'Encoder channels A and B exchanged', set: exchanged('encoder') },
  phasesSwapped: { label: 'Two phases of the motor exchanged', set: exchanged('phases') },
  travelDoubled: { label: 'Wrong pulley: twice the travel for a motor turn', set: axis('travel', 2) },
  couplingSlips: { label: 'Coupling slips above 30 % of rated torque', set: axis('slipsAbove', 0.3) },
  servoOnInverted: { label: 'Servo-on output inverted', set: wire('servo on', 'inverted') },
  analogDrift: { label: 'Analog command drifted by 0.2 V', set: analog('offset', 0.2, 0) },
  analogBroken: { label: 'Analog command wire broken', set: analog('isBroken', true, false) },
  analogReversed: { label: 'Analog command wires exchanged', set: analog('isReversed', true, false) },
  feedbackBroken: {
    label: 'Encoder feedback to the controller broken',
    set: ({ tableHost }, isOn) => void (tableHost.feedback.isBroken = isOn),
  },
  feedbackSwapped: {
    label: 'Encoder feedback channels exchanged at the controller',
    set: ({ tableHost }, isOn) => void (tableHost.feedback.isSwapped = isOn),
  },
  brakeStaysShut: { label: 'Holding brake stays shut', set: brake('stays shut') },
  brakeStaysOpen: { label: 'Holding brake stays open', set: brake('stays open') },
  brakeSlips: { label: 'Holding brake worn: it slips', set: brake('slips') },
  brakeWireBroken: {
    label: 'Wire to the coil of the brake broken',
    set: ({ tileStop }, isOn) => tileStop.terminals.wiring.setFault('brake coil', isOn ? 'broken' : undefined),
  },
  startWireBroken: {
    label: 'Wire of the start input broken',
    set: ({ tileStop }, isOn) => tileStop.terminals.wiring.setFault('start', isOn ? 'broken' : undefined),
  },
  choiceWireBroken: {
    label: 'Wire of the first choice input broken',
    set: ({ tileStop }, isOn) => tileStop.terminals.wiring.setFault('choice 1', isOn ? 'broken' : undefined),
  },
  pwmBroken: { label: 'PWM wire broken', set: ({ brushless }, isOn) => void (brushless.line.isBroken = isOn) },
  spindleSupplyLow: {
    label: 'Spindle: mains 40 % low',
    set: ({ spindle }, isOn) => spindle.trouble('supply', isOn),
  },
  spindleResistorOpen: {
    label: 'Spindle: wire of the brake resistor broken',
    set: ({ spindle }, isOn) => spindle.trouble('resistor', isOn),
  },
  liftEnableBroken: {
    label: 'Enable wire of the lift broken',
    set: ({ stepper }, isOn) => stepper.terminals.wiring.setFault('enable', isOn ? 'broken' : undefined),
  },
  liftEnableInverted: {
    label: 'Enable output of the lift inverted',
    set: ({ stepper }, isOn) => stepper.terminals.wiring.setFault('enable', isOn ? 'inverted' : undefined),
  },
  liftPulsesBroken: { label: 'First pulse line of the lift broken', set: liftLine('broken', 1, 0) },
  liftDirectionBroken: { label: 'Second pulse line of the lift (direction) broken', set: liftLine('broken', 2, 0) },
  liftPulsesLost: { label: 'One of 100 pulses of the lift lost', set: liftLine('losesOneOf', 100, 0) },
  liftSticks: {
    label: 'Lift sticks: friction six times as high',
    set: ({ stepper: { mechanics } }, isOn) => void (mechanics.friction = isOn ? 6 : 1),
  },
  pumpEnableBroken: {
    label: 'Enable wire of the pump broken',
    set: ({ brushless }, isOn) => brushless.wiring.setFault('enable', isOn ? 'broken' : undefined),
  },
  pumpEnableInverted: {
    label: 'Enable output of the pump inverted',
    set: ({ brushless }, isOn) => brushless.wiring.setFault('enable', isOn ? 'inverted' : undefined),
  },
} as const satisfies Record<string, BenchFault>;
export type BenchFaultId = keyof typeof benchFaults;
