import type { SpindleDevice } from '../devices/spindle/spindleDevice.ts';
import type { ServoDevice } from '../devices/servo/servoDevice.ts';
import type { Host } from '../host/host.ts';
import type { WireFault } from '../world/wiring.ts';
import type { ReplyTrouble } from '../protocol/replyTrouble.ts';

/** What faults are put into. */
export interface FaultyBench {
  readonly servo: ServoDevice;
  readonly spindle: SpindleDevice;
  readonly host: Host;
  /** Of the servo's unit. */
  readonly replies: ReplyTrouble;
}

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

const axis =
  (change: Partial<ServoDevice['mechanics']['trouble']>) =>
  ({ servo: { mechanics } }: FaultyBench, isOn: boolean): void => {
    for (const key of Object.keys(change) as (keyof typeof change)[])
      mechanics.trouble[key] = isOn ? (change[key] ?? 1) : 1;
    mechanics.changed();
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
  axisSticks: { label: 'Axis sticks: friction five times as high', set: axis({ friction: 5 }) },
  torqueWeak: { label: 'Motor weak: a quarter of the peak torque', set: axis({ torque: 0.25 }) },
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
  parametersLocked: {
    label: 'Servo drive: parameters locked',
    set: ({ servo }, isOn) => {
      servo.locksAtPowerOn = isOn;
      servo.isLocked = isOn;
    },
  },
} as const satisfies Record<string, BenchFault>;
export type BenchFaultId = keyof typeof benchFaults;
