import type { StoredCopy } from './parameterStore.ts';
import { keptCells, RegisterCells, type PlainCell, type RegisterError } from './registerCells.ts';
import { readRegisterMap, spindleMapPath } from './registerMap.ts';
import { SpindleDevice, type SpindleWorld } from './spindleDevice.ts';

/** Parameters that a running motor forbids to change. */
const lockedWhileRunning: ReadonlySet<string> = new Set(['runSource', 'speedSource', 'baseHertz', 'baseVolts']);

/** The spindle drive behind 16-bit registers. */
export class SpindleRegisters extends RegisterCells {
  readonly device: SpindleDevice;

  constructor(world: SpindleWorld, kept: StoredCopy | undefined, keep: (copy: StoredCopy) => void, serial = 1) {
    const map = readRegisterMap(spindleMapPath);
    const device = new SpindleDevice(map.parameters, world, kept);
    super({
      device,
      map,
      own: spindleCells(device),
      mayWrite: (key) => !device.isRunning || !lockedWhileRunning.has(key),
      isRunning: () => device.isRunning,
      keep,
      identity: { kind: 0x5601, firmware: 0x00010002, serial },
    });
    this.device = device;
  }

  override read(address: number, length: number): readonly number[] | RegisterError {
    const words = super.read(address, length);
    if (typeof words !== 'string') this.device.heard();
    return words;
  }

  override write(address: number, words: readonly number[]): RegisterError | undefined {
    const error = super.write(address, words);
    if (error === undefined) this.device.heard();
    return error;
  }
}

function spindleCells(device: SpindleDevice): Readonly<Record<string, PlainCell>> {
  const kept = keptCells();
  return {
    controlword: kept('controlword', (word) => void device.control(word)),
    speedReference: kept('speedReference', (counts) => void device.setReference(counts)),
    modeOfOperation: kept('modeOfOperation', (mode) => mode === 2),
    benchLoad: kept('benchLoad', (hundredths) => void (device.load = hundredths / 100)),
    tracePeriod: kept('tracePeriod', (steps) => {
      if (steps < 1) return false;
      device.traceSteps = steps;
      return true;
    }),
    statusword: { read: () => device.statusword },
    errorCode: { read: () => device.error },
    outputHertz: { read: () => device.outputHertz },
    actualMotorSpeed: { read: () => device.speed },
    motorCurrent: { read: () => device.current },
    motorTorque: { read: () => device.torque },
    busVolts: { read: () => device.busVolts },
  };
}
