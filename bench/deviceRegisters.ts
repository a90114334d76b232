import { decodeRegisters, encodeRegisters, wordsOf, type RegisterType } from '@kavrid/core/drive';
import type { StoredCopy } from './parameterStore.ts';
import { readRegisterMap } from './registerMap.ts';
import { ServoDevice, type World } from './servoDevice.ts';
import { traceChannelCount, traceDepth } from './traceMemory.ts';

/** Modbus exception codes (Application Protocol V1.1b3, 7). */
export type RegisterError = 'illegal address' | 'illegal value' | 'busy';

interface Cell {
  readonly type: RegisterType;
  readonly read: () => number;
  /** Absent for read-only registers; answers false when the value is refused. */
  readonly write?: (value: number) => boolean;
}

const saveSignature = 0x65766173;
const loadSignature = 0x64616f6c;
const traceWords = traceDepth * traceChannelCount * 2;

/** The servo device behind 16-bit registers. */
export class DeviceRegisters {
  readonly device: ServoDevice;
  readonly #cells = new Map<number, Cell>();
  readonly #keep: (copy: StoredCopy) => void;
  #traceAddress = 0;

  constructor(world: World, kept: StoredCopy | undefined, keep: (copy: StoredCopy) => void) {
    const map = readRegisterMap();
    this.#keep = keep;
    this.device = new ServoDevice(map.parameters, world, kept);
    const { device } = this;
    const { parameters } = device;
    for (const parameter of map.parameters) {
      const { key, type } = parameter;
      const copy = (from: Readonly<Record<string, number>>): Cell => ({ type, read: () => from[key] ?? 0 });
      this.#cells.set(parameter.address, {
        ...copy(parameters.written),
        write: (value) => this.#writeParameter(key, value),
      });
      this.#cells.set(parameter.running, copy(parameters.running));
      this.#cells.set(parameter.stored, copy(parameters.stored));
      this.#cells.set(parameter.factoryAddress, { type, read: () => parameter.factory });
    }
    const plain = this.#plainRegisters();
    for (const { key, type, address } of map.registers) {
      if (key === 'traceMemory') this.#traceAddress = address;
      const cell = plain[key];
      if (cell) this.#cells.set(address, { type, ...cell });
    }
  }

  #writeParameter(key: string, value: number): boolean {
    if (key === 'commandSource' && this.device.state === 'operation enabled') return false;
    if (!this.device.parameters.write(key, value)) return false;
    this.device.parametersChanged();
    return true;
  }

  #plainRegisters(): Readonly<Record<string, Omit<Cell, 'type'>>> {
    const { device } = this;
    const written: Record<string, number> = {};
    const keptAs = (key: string, use: (value: number) => boolean | undefined): Omit<Cell, 'type'> => ({
      read: () => written[key] ?? 0,
      write: (value) => {
        if (use(value) === false) return false;
        written[key] = value;
        return true;
      },
    });
    const positive = (name: 'speed' | 'acceleration' | 'deceleration' | 'quickStop') =>
      keptAs(name, (value) => (value > 0 ? void device.setTarget({ [name]: value }) : false));
    return {
      controlword: keptAs('controlword', (word) => void device.control(word)),
      modeOfOperation: keptAs('modeOfOperation', (mode) => {
        if (![0, 1, 3, 6].includes(mode)) return false;
        device.mode = mode;
        return true;
      }),
      targetPosition: keptAs('targetPosition', (position) => void device.setTarget({ position })),
      targetVelocity: keptAs('targetVelocity', (velocity) => void device.setTarget({ velocity })),
      profileVelocity: positive('speed'),
      profileAcceleration: positive('acceleration'),
      profileDeceleration: positive('deceleration'),
      profileJerk: keptAs('jerk', (jerk) => void device.setTarget({ jerk })),
      quickStopDeceleration: positive('quickStop'),
      heartbeat: keptAs('heartbeat', () => void device.heartbeat()),
      traceRun: keptAs('traceRun', (run) => {
        if (run) device.trace.start();
        else device.trace.running = false;
        return true;
      }),
      tracePeriod: keptAs('tracePeriod', (steps) => {
        if (steps < 1) return false;
        device.traceSteps = steps;
        return true;
      }),
      store: keptAs('store', (signature) => {
        if (signature !== saveSignature) return false;
        this.#keep(device.parameters.store());
        return true;
      }),
      restart: keptAs('restart', (value) => value === 1 && device.restart()),
      loadFactory: keptAs('loadFactory', (signature) => {
        if (signature !== loadSignature || device.state === 'operation enabled') return false;
        device.parameters.loadFactory();
        device.parametersChanged();
        return true;
      }),
      statusword: { read: () => device.statusword },
      modeDisplay: { read: () => device.mode },
      positionCounts: { read: () => device.positionCounts },
      positionIncrements: { read: () => device.positionIncrements },
      velocityCounts: { read: () => device.velocityCounts },
      followingErrorCounts: { read: () => device.followingErrorCounts },
      torque: { read: () => device.torque },
      inputs: { read: () => device.inputs },
      errorCode: { read: () => device.error },
      traceHead: { read: () => device.trace.head },
      traceTrigger: { read: () => device.trace.trigger ?? 0xffffffff },
      storeCount: { read: () => device.parameters.storeCount },
      homed: { read: () => (device.homed ? 1 : 0) },
    };
  }

  /** Words from an address on; gaps between registers read 0. */
  read(address: number, length: number): readonly number[] | RegisterError {
    if (this.device.restarting) return 'busy';
    const words: number[] = [];
    for (let at = address; at < address + length; at++) {
      const inTrace = at - this.#traceAddress;
      if (inTrace >= 0 && inTrace < traceWords) words.push(this.device.trace.word(inTrace));
      else words.push(this.#word(at));
    }
    const known = words.some(
      (_, k) => address + k >= this.#traceAddress || this.#cells.has(address + k) || this.#cells.has(address + k - 1),
    );
    return known ? words : 'illegal address';
  }

  #word(address: number): number {
    for (const start of [address, address - 1]) {
      const cell = this.#cells.get(start);
      if (cell && address - start < wordsOf(cell.type))
        return encodeRegisters(cell.read(), cell.type)[address - start] ?? 0;
    }
    return 0;
  }

  /** Writes whole registers only; a half of a two-word register is refused. */
  write(address: number, words: readonly number[]): RegisterError | undefined {
    if (this.device.restarting) return 'busy';
    for (let at = 0; at < words.length;) {
      const cell = this.#cells.get(address + at);
      if (!cell?.write) return 'illegal address';
      const size = wordsOf(cell.type);
      if (at + size > words.length) return 'illegal address';
      if (!cell.write(decodeRegisters(words.slice(at, at + size), cell.type))) return 'illegal value';
      at += size;
    }
    return undefined;
  }
}
