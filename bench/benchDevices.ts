import type { DeviceMemory, RegisterCells } from './devices/registerCells.ts';
import { makeServo } from './devices/servo/servoDevice.ts';
import { makeSpindle } from './devices/spindle/spindleDevice.ts';
import { carriageWorld, grinderWorld } from './world/demoCell.ts';

/** A device of the bench: its Modbus unit, and how it is made with what it keeps through a power cycle. */
interface BenchEntry {
  readonly unit: number;
  readonly make: (memory: DeviceMemory) => RegisterCells;
}

/** Every device of the bench; its name is that of its folder and of its register map. */
export const benchDevices = {
  servo: { unit: 1, make: (memory) => makeServo(carriageWorld, memory) },
  spindle: { unit: 3, make: (memory) => makeSpindle(grinderWorld, memory) },
} as const satisfies Record<string, BenchEntry>;
export type BenchDeviceName = keyof typeof benchDevices;

export const benchDeviceNames = Object.keys(benchDevices) as readonly BenchDeviceName[];
