import type { Exact } from '../quantity/index.ts';
import type { Outcome } from '../sheet/index.ts';
import type { PolledMessage, SerialLine } from '../signal/index.ts';
import type { Connection, SpindlePlate } from './plate.ts';
import type { SpeedSource } from './speedSource.ts';
import type { SpindleCommand } from './spindleCommand.ts';
import type { TachometerPoint } from './tachometer.ts';
import type { CurvePoint } from './voltsPerHertz.ts';

/** A belt step: motor turns per tool turn. */
export interface BeltStepInput {
  readonly name: string;
  readonly ratio: Outcome<Exact>;
}

export const lostLinkActions = ['ramps to rest', 'coasts', 'goes on', 'not settled'] as const;
/** What a drive does when its link is lost. */
export type LostLinkAction = (typeof lostLinkActions)[number];

/** How one end of a field bus is set. */
export interface BusEnd {
  readonly line: Outcome<SerialLine>;
  readonly address: Outcome<number>;
  /** What stands at the terminal of the line that is positive while the bus is at rest. */
  readonly positiveLabel: string;
  readonly negativeLabel: string;
}

/** A message of the poll list, with what it carries. */
export interface PollMessage extends PolledMessage {
  readonly name: string;
  /** Zero-based. */
  readonly register: number;
}

/** The field bus between controller and drive (Modbus on a serial line). */
export interface FieldBus {
  readonly controller: BusEnd;
  readonly drive: BusEnd;
  readonly messages: Outcome<readonly PollMessage[]>;
  /** s from one round of messages to the next */
  readonly period: Outcome<number>;
  /** s after which the drive takes the link for lost; 0: never */
  readonly timeOut: Outcome<number>;
  readonly lostLink: LostLinkAction;
  /** Which terminal of the drive the controller’s positive line goes to. */
  readonly crossed: boolean;
}

export const runSources = ['keys on the drive', 'terminals', 'field bus'] as const;
export type RunSource = (typeof runSources)[number];
export const stopWays = ['ramp', 'coast'] as const;
export const atSpeedWays = ['input of the controller', 'read over the bus', 'dwell', 'nothing'] as const;
export type AtSpeedWay = (typeof atSpeedWays)[number];

/** What the runs of a test do, in s and rpm of the tool. */
export interface RunTestInput {
  readonly speeds: Outcome<readonly { readonly at: number; readonly toolSpeed: number }[]>;
  /** N·m at the tool that are put on for a while */
  readonly load: Outcome<{ readonly at: number; readonly until: number; readonly torque: number } | undefined>;
  readonly stopAt: Outcome<number>;
  readonly supplyCut: { readonly at: number; readonly until: number } | undefined;
  readonly withResistor: boolean;
  readonly duration: Outcome<number>;
}

/** A spindle as the computation sees it. SI units, but for speeds in rpm; what is not filled in is unknown. */
export interface SpindleInput {
  readonly plate: SpindlePlate;
  /** Torque over rated torque that the motor may give for a moment. */
  readonly overload: Outcome<number>;
  readonly rotorInertia: Outcome<number>;
  /** rpm of the motor that its bearings bear, and Hz below which its own fan cools too little; 0: cooled otherwise. */
  readonly bearingSpeed: Outcome<number>;
  readonly coolingHertz: Outcome<number>;
  readonly supply: {
    readonly volts: Outcome<number>;
    readonly phases: 1 | 3;
    readonly fuse: Outcome<number>;
    readonly isEarthed: boolean;
  };
  readonly drive: {
    readonly ratedCurrent: Outcome<number>;
    /** Current over its rated current that it gives for a minute. */
    readonly overload: Outcome<number>;
    readonly supplyLeast: Outcome<number>;
    readonly supplyMost: Outcome<number>;
    readonly phases: '1' | '3' | '1 or 3' | '';
    readonly highestHertz: Outcome<number>;
    /** Hz in which it sets its output. */
    readonly resolution: Outcome<number>;
    readonly capacitance: Outcome<number>;
    /** V on the DC bus at which it trips, and at which its brake chopper works. */
    readonly tripVolts: Outcome<number>;
    readonly chopperVolts: Outcome<number>;
    readonly leastVolts: Outcome<number>;
    readonly hasChopper: boolean;
    readonly leastOhms: Outcome<number>;
    readonly idlePower: Outcome<number>;
    /** min that its capacitors take to discharge */
    readonly dischargeTime: Outcome<number>;
  };
  readonly settings: {
    readonly connection: Connection;
    readonly protectionCurrent: Outcome<number>;
    readonly base: Outcome<CurvePoint>;
    readonly boost: Outcome<number>;
    readonly points: readonly CurvePoint[];
    readonly highestHertz: Outcome<number>;
    readonly lowestHertz: Outcome<number>;
    readonly rampUp: Outcome<number>;
    readonly rampDown: Outcome<number>;
    readonly stopWay: (typeof stopWays)[number];
    readonly runSource: RunSource;
    readonly speedSource: SpeedSource;
  };
  /** Ω and W of the brake resistor; undefined: none. */
  readonly resistor: { readonly ohms: Outcome<number>; readonly power: Outcome<number> } | undefined;
  readonly steps: readonly BeltStepInput[];
  readonly step: BeltStepInput;
  /** Belt speed limit, rpm of the motor pulley. */
  readonly beltSpeed: Outcome<number>;
  readonly tool: {
    /** m */
    readonly diameter: Outcome<number>;
    /** Its limits in rpm and in m/s at the rim. */
    readonly topSpeed: Outcome<number>;
    readonly rimSpeed: Outcome<number>;
    readonly inertia: Outcome<number>;
  };
  /** kg·m² of the pulley on the motor. */
  readonly pulleyInertia: Outcome<number>;
  /** N·m at the motor that bearings, seals and belt take. */
  readonly frictionTorque: Outcome<number>;
  readonly wanted: {
    /** rpm of the tool that is worked with, and the most that is asked for */
    readonly speed: Outcome<number>;
    readonly topSpeed: Outcome<number>;
    /** s from rest to the top, and back; s from one stop to the next */
    readonly startTime: Outcome<number>;
    readonly stopTime: Outcome<number>;
    readonly stopEvery: Outcome<number>;
  };
  readonly command: SpindleCommand;
  readonly reverses: boolean;
  readonly bus: FieldBus | undefined;
  readonly interlocks: {
    readonly enable: 'wired to the chain' | 'link in place' | 'nothing there' | 'not needed';
    readonly tripStopsMachine: boolean;
    readonly atSpeed: AtSpeedWay;
    readonly runSource: RunSource;
    readonly guardLock: boolean;
  };
  readonly tachometer: readonly TachometerPoint[];
  readonly runTest: RunTestInput;
}
