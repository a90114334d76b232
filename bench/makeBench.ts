import type { DeviceMemory, RegisterCells } from './devices/registerCells.ts';
import { makeServo } from './devices/servo/servoDevice.ts';
import { makeSpindle } from './devices/spindle/spindleDevice.ts';
import { makeBrushless } from './devices/brushless/brushlessDevice.ts';
import { makePwmHost } from './host/pwmHost.ts';
import { makeStepper } from './devices/stepper/stepperDevice.ts';
import { makeFaultPanel } from './faults/faultPanel.ts';
import { makeHost } from './host/host.ts';
import { noTrouble, type ReplyTrouble } from './protocol/replyTrouble.ts';
import { carriageWorld, grinderWorld, liftWorld, pumpWorld } from './world/demoCell.ts';

/** The Modbus unit of each part of the bench: devices 1 to 9, hosts from 10 on, the bench itself 20. */
export const benchUnits = {
  host: 10,
  servo: 1,
  liftHost: 11,
  stepper: 2,
  spindle: 3,
  pumpHost: 12,
  brushless: 4,
  faults: 20,
} as const;
export type BenchPart = keyof typeof benchUnits;

/**
 * The bench of the demo cell, wired.
 * @param memoryOf what each part keeps through a power cycle
 * @returns its parts, and what is wrong with the replies of a unit
 */
export function makeBench(memoryOf: (part: BenchPart) => DeviceMemory) {
  const servo = makeServo(carriageWorld, memoryOf('servo'));
  const spindle = makeSpindle(grinderWorld, memoryOf('spindle'));
  const stepper = makeStepper(liftWorld, memoryOf('stepper'));
  const host = makeHost(servo.device, memoryOf('host'));
  const liftHost = makeHost(stepper.device, memoryOf('liftHost'));
  const brushless = makeBrushless(pumpWorld, memoryOf('brushless'));
  const pumpHost = makePwmHost(brushless.device, memoryOf('pumpHost'));
  const replies = noTrouble();
  const faults = makeFaultPanel({ servo: servo.device, spindle: spindle.device, host: host.device, replies });
  return {
    // A host comes before its drive: what it sends in a period is there when the drive takes it.
    parts: { host, servo, liftHost, stepper, spindle, pumpHost, brushless, faults } satisfies {
      readonly [Part in BenchPart]: RegisterCells;
    },
    replies: new Map<number, ReplyTrouble>([[benchUnits.servo, replies]]),
  };
}
