import type { Exact } from '../quantity/index.ts';
import type { BusLoad, PolledMessage, SerialLine } from '../signal/index.ts';
import type { Connection, ConnectionChoice, PlateResult, SpindlePlate } from './plate.ts';
import type { BrakeResistor, BrakingResult, BrakingSupply } from './rampsAndBraking.ts';
import type { SpeedRange, SpindleBound } from './speedRange.ts';
import type { SpindleCommand } from './spindleCommand.ts';
import type { LostLinkAction } from './spindleInput.ts';
import type { CurvePoint, VoltsPerHertz } from './voltsPerHertz.ts';

/** What the plate says, and what it takes to be connected right. */
export interface PlateValues {
  readonly plate: SpindlePlate;
  readonly platePower: number;
  readonly plateHertz: number;
  readonly plateSpeed: number;
  readonly supplyVolts: number;
  readonly supplyPhases: number;
  readonly plateResult: PlateResult;
  readonly poles: number;
  readonly synchronousSpeed: number;
  readonly slip: number;
  readonly slipHertz: number;
  readonly ratedTorque: number;
  readonly outputVolts: number;
  readonly connectionChoice: ConnectionChoice;
  readonly connection: string;
  /** As it is connected, whether the supply needs that or not. */
  readonly chosenConnection: Connection;
  readonly motorVolts: number;
  readonly motorCurrent: number;
  readonly noLoadCurrent: number;
  readonly plateEfficiency: number;
  readonly supplyCurrent: number;
}

/** What the drive’s volts over hertz make of the motor. */
interface CurveValues {
  readonly baseHertz: number;
  readonly baseVolts: number;
  readonly curve: VoltsPerHertz;
  readonly motorPoint: CurvePoint;
  readonly worstFlux: number;
  readonly worstFluxHertz: number;
  readonly saturatedCurrent: number;
  readonly constantPowerFrom: number;
  readonly torqueAtTop: number;
}

/** From the word of the controller to the speed of the tool. */
interface ScalingValues {
  readonly beltRatio: Exact;
  readonly ratioNumber: number;
  readonly command: SpindleCommand;
  readonly driveResolution: number;
  readonly leastBounds: readonly SpindleBound[];
  readonly mostBounds: readonly SpindleBound[];
  readonly wantedSpeed: number;
  readonly toolDiameter: number;
  readonly hertzPerToolRpm: Exact;
  readonly range: SpeedRange;
  readonly lowestToolSpeed: number;
  readonly lowestBy: readonly string[];
  readonly highestToolSpeed: number;
  readonly highestBy: readonly string[];
  readonly rimSpeed: number;
  readonly hertzAtTop: number;
  readonly hertzAtWanted: number;
  readonly signalPerToolRpm: Exact;
  readonly toolRpmPerSignal: Exact;
  readonly signalAtWanted: number;
  readonly signalAtTop: number;
  readonly toolSpeedAtFullSignal: number;
  readonly senderStep: number;
  readonly takerStep: number;
  readonly toolStep: number;
  readonly coarserEnd: readonly string[];
}

/** Starting, stopping, and where the energy goes. */
interface RampValues {
  readonly rotorInertia: number;
  readonly pulleyInertia: number;
  readonly toolInertia: number;
  readonly frictionTorque: number;
  readonly overload: number;
  readonly driveCurrent: number;
  readonly driveOverload: number;
  readonly wantedTop: number;
  readonly startTime: number;
  readonly stopTime: number;
  readonly stopEvery: number;
  readonly rampUp: number;
  readonly rampDown: number;
  readonly highestHertz: number;
  readonly capacitance: number;
  readonly tripVolts: number;
  readonly chopperVolts: number;
  readonly leastOhms: number;
  readonly idlePower: number;
  readonly totalInertia: number;
  readonly topOmega: number;
  readonly availableTorque: number;
  readonly reachableStart: number;
  readonly plannedStart: number;
  readonly plannedStop: number;
  readonly busVolts: number;
  readonly brakingSupply: BrakingSupply;
  readonly brakingResult: BrakingResult;
  readonly kineticEnergy: number;
  readonly capacitorEnergy: number;
  readonly returnedEnergy: number;
  readonly busVoltsAfterStop: number;
  readonly shortestStop: number;
  readonly coastingTime: number;
  readonly brakeResistor: BrakeResistor;
  readonly resistorMost: number;
  readonly resistorPeak: number;
  readonly resistorMean: number;
}

/** The field bus, and what its loss does. */
interface BusValues {
  readonly serialLine: SerialLine;
  readonly pollMessages: readonly PolledMessage[];
  readonly pollPeriod: number;
  readonly timeOut: number;
  readonly lostLink: LostLinkAction;
  readonly characterTime: number;
  readonly silence: number;
  readonly busLoadResult: BusLoad;
  readonly pollRound: number;
  readonly busLoad: number;
  readonly leastTimeOut: number;
  readonly lostLinkTime: number;
  readonly lostLinkTurns: number;
}

/** Every value of a spindle by name. */
export interface SpindleValues extends PlateValues, CurveValues, ScalingValues, RampValues, BusValues {}
