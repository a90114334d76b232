import { decodeRegisters, encodeRegisters, traceWords, wordsOf, type RegisterType } from '@kavrid/core/drive';
import { captureChannels, capturePage, type CaptureMemory } from './captureMemory.ts';
import { dictionaryOf, windowAddress } from './dataSheet.ts';
import type { ParameterStore, StoredCopy } from './parameterStore.ts';
import type { RegisterMap } from './registerMap.ts';
import type { TraceMemory } from './traceMemory.ts';

/** Modbus exception codes (Application Protocol V1.1b3, 7). */
export type RegisterError = 'illegal address' | 'illegal value' | 'busy';

/** How a simulated drive identifies itself (object 0x1018 of CiA 301). */
export interface BenchIdentity {
  readonly kind: number;
  readonly firmware: number;
  readonly serial: number;
}

/** What every simulated drive has besides its motor. */
export interface BenchDevice {
  readonly parameters: ParameterStore;
  readonly trace: TraceMemory;
  /** A recording in its own memory, read page by page. */
  readonly capture?: CaptureMemory;
  /** Restarting devices do not answer. */
  readonly restarting: boolean;
  /** Parameters have changed; those that work at once work now. */
  parametersChanged(): void;
  /** Whether its motor turns or may turn. */
  readonly isRunning: boolean;
  /** Whether a parameter may be written now. */
  mayWrite(key: string): boolean;
  /** Registers that only this kind of device has, by key. */
  cells(): Readonly<Record<string, PlainCell>>;
  restart(): boolean;
  /** A message was understood: the link lives. */
  heard?(): void;
  /** Lets time pass. @param seconds at most a fraction of a second a call */
  advance(seconds: number): void;
}

export interface PlainCell {
  readonly read: () => number;
  /** Absent for read-only registers; answers false when the value is refused. */
  readonly write?: (value: number) => boolean;
}
interface Cell extends PlainCell {
  readonly type: RegisterType;
}

/** Words of a page of the capture memory. */
const captureWords = capturePage * captureChannels * 2;

/** Object 0x1000: profile 402 in the low word, a servo drive in the high one (CiA 402, from memory). */
const deviceType = 0x0002_0192;

const saveSignature = 0x65766173;
const loadSignature = 0x64616f6c;

/** A register that keeps what was written to it, unless its use refuses that. */
export function keptCells(): (key: string, use: (value: number) => boolean | undefined) => PlainCell {
  const written: Record<string, number> = {};
  return (key, use) => ({
    read: () => written[key] ?? 0,
    write: (value) => {
      if (use(value) === false) return false;
      written[key] = value;
      return true;
    },
  });
}

/** What a device keeps through a power cycle, and its serial number. */
export interface DeviceMemory {
  readonly kept?: StoredCopy | undefined;
  readonly keep?: (copy: StoredCopy) => void;
  readonly serial?: number;
}

/** A simulated device behind 16-bit registers: its parameters with their copies, its trace, and registers of its own. */
export class RegisterCells<Device extends BenchDevice = BenchDevice> {
  readonly device: Device;
  readonly #cells = new Map<number, Cell>();
  #traceAddress = Infinity;
  #captureAddress = Infinity;

  constructor(options: {
    readonly device: Device;
    readonly map: RegisterMap;
    readonly memory: DeviceMemory;
    readonly identity: Omit<BenchIdentity, 'serial'>;
  }) {
    const { device, map, memory } = options;
    this.device = device;
    const { parameters } = device;
    for (const parameter of map.parameters) {
      const { key, type } = parameter;
      const copy = (from: Readonly<Record<string, number>>): Cell => ({ type, read: () => from[key] ?? 0 });
      this.#cells.set(parameter.address, {
        ...copy(parameters.written),
        write: (value) => {
          if (!device.mayWrite(key) || !parameters.write(key, value)) return false;
          device.parametersChanged();
          return true;
        },
      });
      this.#cells.set(parameter.running, copy(parameters.running));
      if (parameter.stored !== undefined) this.#cells.set(parameter.stored, copy(parameters.stored));
      this.#cells.set(parameter.factoryAddress, { type, read: () => parameter.factory });
    }
    const identity = { ...options.identity, serial: memory.serial ?? 1 };
    const plain: Readonly<Record<string, PlainCell>> = {
      ...sharedCells(device, memory.keep ?? (() => undefined), identity),
      ...device.cells(),
    };
    for (const { key, type, address } of map.registers) {
      if (key === 'traceMemory') this.#traceAddress = address;
      if (key === 'captureMemory') this.#captureAddress = address;
      const cell = plain[key];
      if (cell) this.#cells.set(address, { type, ...cell });
    }
    // What has an object is found at its place in the windows of objects, too.
    for (const object of dictionaryOf(map)) {
      const cell = this.#cells.get(object.address);
      if (cell) this.#cells.set(windowAddress(object), cell);
    }
  }

  /** Whether a register takes writes. */
  isWritable(address: number): boolean {
    return this.#cells.get(address)?.write !== undefined;
  }

  /** Words from an address on; gaps between registers read 0. */
  read(address: number, length: number): readonly number[] | RegisterError {
    const words = this.#read(address, length);
    if (typeof words !== 'string') this.device.heard?.();
    return words;
  }

  #read(address: number, length: number): readonly number[] | RegisterError {
    if (this.device.restarting) return 'busy';
    const words: number[] = [];
    let isKnown = false;
    for (let at = address; at < address + length; at++) {
      const memory = this.#memoryWord(at);
      words.push(memory ?? this.#word(at));
      isKnown ||= memory !== undefined || this.#cells.has(at) || this.#cells.has(at - 1);
    }
    return isKnown ? words : 'illegal address';
  }

  /** A word of a recording; undefined elsewhere. */
  #memoryWord(address: number): number | undefined {
    const inTrace = address - this.#traceAddress;
    if (inTrace >= 0 && inTrace < traceWords) return this.device.trace.word(inTrace);
    const inCapture = address - this.#captureAddress;
    return inCapture >= 0 && inCapture < captureWords ? this.device.capture?.word(inCapture) : undefined;
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
    const error = this.#write(address, words);
    if (error === undefined) this.device.heard?.();
    return error;
  }

  #write(address: number, words: readonly number[]): RegisterError | undefined {
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

/** Registers that all drives of the bench have alike. */
function sharedCells(
  device: BenchDevice,
  keep: (copy: StoredCopy) => void,
  identity: BenchIdentity,
): Readonly<Record<string, PlainCell>> {
  const kept = keptCells();
  return {
    traceRun: kept('traceRun', (run) => {
      if (run) device.trace.start();
      else device.trace.running = false;
      return true;
    }),
    store: kept('store', (signature) => {
      if (signature !== saveSignature) return false;
      keep(device.parameters.store());
      return true;
    }),
    restart: kept('restart', (value) => value === 1 && device.restart()),
    loadFactory: kept('loadFactory', (signature) => {
      if (signature !== loadSignature || device.isRunning) return false;
      device.parameters.loadFactory();
      device.parametersChanged();
      return true;
    }),
    traceHead: { read: () => device.trace.head },
    traceTrigger: { read: () => device.trace.trigger ?? 0xffffffff },
    storeCount: { read: () => device.parameters.storeCount },
    deviceType: { read: () => deviceType },
    identityKind: { read: () => identity.kind },
    identityFirmware: { read: () => identity.firmware },
    identitySerial: { read: () => identity.serial },
  };
}
