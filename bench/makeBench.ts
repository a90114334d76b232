import type { DeviceMemory, RegisterCells } from './devices/registerCells.ts';
import { makeBrushless } from './devices/brushless/brushlessDevice.ts';
import { makeServo } from './devices/servo/servoDevice.ts';
import { makeSpindle } from './devices/spindle/spindleDevice.ts';
import { makeStepper } from './devices/stepper/stepperDevice.ts';
import { makeFaultPanel } from './faults/faultPanel.ts';
import { makeChoiceHost } from './host/choiceHost.ts';
import { makeHost } from './host/host.ts';
import { makeLoopHost } from './host/loopHost.ts';
import { makePwmHost } from './host/pwmHost.ts';
import { noTrouble, type ReplyTrouble } from './protocol/replyTrouble.ts';
import { corePlant, type MakePlant } from './world/axisPlant.ts';
import {
  carriageWorld,
  feedWorld,
  grinderWorld,
  liftWorld,
  pumpWorld,
  tileStopWorld,
  turntableWorld,
} from './world/demoCell.ts';

/** The Modbus unit of each part of the bench: devices 1 to 9, hosts from 10 on, the bench itself 20. */
export const benchUnits = {
  host: 10,
  servo: 1,
  liftHost: 11,
  stepper: 2,
  spindle: 3,
  pumpHost: 12,
  brushless: 4,
  tableHost: 13,
  turntable: 5,
  stopHost: 14,
  tileStop: 6,
  feedHost: 15,
  feed: 7,
  secondFeed: 8,
  faults: 20,
} as const;
export type BenchPart = keyof typeof benchUnits;

/** A drive as it was set up for its place in the cell before it was delivered: what differs from the factory values of its kind. */
const setUp = {
  turntable: { commandSource: 2, encoderOutputPulses: 2048 },
  tileStop: { commandSource: 6, homingAtEnable: 1, brakeReleaseDelay: 40, brakeEngageDelay: 30 },
  secondFeed: { rotationSense: 1 },
} as const satisfies { readonly [Part in BenchPart]?: Readonly<Record<string, number>> };

/**
 * The bench of the demo cell, wired.
 * @param memoryOf what each part keeps through a power cycle
 * @param makePlant of the carriage: the plant of the predictions, or one that does not share its mistakes
 * @returns its parts, and what is wrong with the replies of a unit
 */
export function makeBench(memoryOf: (part: BenchPart) => DeviceMemory, makePlant: MakePlant = corePlant) {
  const keeping = (part: keyof typeof setUp): DeviceMemory => {
    const memory = memoryOf(part);
    return { ...memory, kept: memory.kept ?? { values: setUp[part], storeCount: 0 } };
  };
  const servo = makeServo(carriageWorld, memoryOf('servo'), makePlant);
  const turntable = makeServo(turntableWorld, keeping('turntable'));
  const tileStop = makeServo(tileStopWorld, keeping('tileStop'));
  const feed = makeServo(feedWorld, memoryOf('feed'));
  const secondFeed = makeServo({ ...feedWorld, isMirrored: true }, keeping('secondFeed'));
  const spindle = makeSpindle(grinderWorld, memoryOf('spindle'));
  const stepper = makeStepper(liftWorld, memoryOf('stepper'));
  const brushless = makeBrushless(pumpWorld, memoryOf('brushless'));
  const host = makeHost(servo.device, memoryOf('host'));
  const liftHost = makeHost(stepper.device, memoryOf('liftHost'));
  const pumpHost = makePwmHost(brushless.device, memoryOf('pumpHost'));
  const tableHost = makeLoopHost(turntable.device, memoryOf('tableHost'));
  const stopHost = makeChoiceHost(tileStop.device, memoryOf('stopHost'));
  const feedHost = makeHost([feed.device, secondFeed.device], memoryOf('feedHost'));
  const replies = noTrouble();
  const faults = makeFaultPanel({
    servo: servo.device,
    spindle: spindle.device,
    host: host.device,
    stepper: stepper.device,
    liftHost: liftHost.device,
    brushless: brushless.device,
    turntable: turntable.device,
    tableHost: tableHost.device,
    tileStop: tileStop.device,
    feed: feed.device,
    replies,
  });
  return {
    // A host comes before its drive: what it sends in a period is there when the drive takes it.
    parts: {
      host,
      servo,
      liftHost,
      stepper,
      spindle,
      pumpHost,
      brushless,
      tableHost,
      turntable,
      stopHost,
      tileStop,
      feedHost,
      feed,
      secondFeed,
      faults,
    } satisfies { readonly [Part in BenchPart]: RegisterCells },
    replies: new Map<number, ReplyTrouble>([[benchUnits.servo, replies]]),
  };
}
