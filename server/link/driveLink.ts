import {
  decodeRegisters,
  encodeRegisters,
  readBlocks,
  wordsOf,
  type DriveProfile,
  type DriveReading,
  type DriveRegister,
} from '@kavrid/core/drive';
import type { ModbusClient } from './modbusClient.ts';

/** A drive by the names in its profile. Raw values; two-word registers travel in one request. */
export class DriveLink {
  readonly profile: DriveProfile;
  readonly #client: ModbusClient;

  constructor(client: ModbusClient, profile: DriveProfile) {
    this.#client = client;
    this.profile = profile;
  }

  #register(key: string): DriveRegister {
    const register = this.profile.registers[key];
    if (!register) throw new Error(`The register map has no register ${key}.`);
    return register;
  }

  async read<K extends string>(...keys: readonly K[]): Promise<Record<K, number>> {
    const registers = keys.map((key) => this.#register(key));
    const values = await this.#readAll(registers);
    return Object.fromEntries(keys.map((key, index) => [key, values[index]])) as Record<K, number>;
  }

  async write(key: string, raw: number, urgent = false): Promise<void> {
    const { address, type } = this.#register(key);
    await this.#client.write(address, encodeRegisters(raw, type, this.profile.wordOrder), urgent);
  }

  #parameter(key: string) {
    const parameter = this.profile.parameters.find((each) => each.key === key);
    if (!parameter) throw new Error(`The register map has no parameter ${key}.`);
    return parameter;
  }

  async writeParameter(key: string, raw: number): Promise<void> {
    const { address, type } = this.#parameter(key);
    await this.#client.write(address, encodeRegisters(raw, type, this.profile.wordOrder));
  }

  async readParameter(key: string): Promise<number> {
    const { running, type } = this.#parameter(key);
    const [value] = await this.#readAll([{ address: running, type }]);
    return value ?? 0;
  }

  /** Every parameter in all its copies, in as few requests as can be. */
  async readParameters(): Promise<DriveReading> {
    const { parameters } = this.profile;
    const copy = async (place: 'address' | 'running' | 'stored' | 'factoryAddress') => {
      const values = await this.#readAll(
        parameters.map((parameter) => ({ address: parameter[place], type: parameter.type })),
      );
      return Object.fromEntries(parameters.map((parameter, index) => [parameter.key, values[index] ?? 0]));
    };
    return {
      written: await copy('address'),
      running: await copy('running'),
      stored: await copy('stored'),
      factory: await copy('factoryAddress'),
    };
  }

  /** Samples of the trace memory: `channels` numbers each. */
  async readTrace(from: number, count: number, channels: number, depth: number): Promise<number[][]> {
    const { address, type } = this.#register('traceMemory');
    const words = channels * wordsOf(type);
    const samples: number[][] = [];
    const most = Math.floor(125 / words);
    for (let at = from; at < from + count;) {
      const slot = at % depth;
      const many = Math.min(most, from + count - at, depth - slot);
      const block = await this.#client.read(address + slot * words, many * words);
      for (let k = 0; k < many; k++) {
        samples.push(
          Array.from({ length: channels }, (_, channel) =>
            decodeRegisters(block.slice(k * words + channel * wordsOf(type)), type, this.profile.wordOrder),
          ),
        );
      }
      at += many;
    }
    return samples;
  }

  async #readAll(wanted: readonly Pick<DriveRegister, 'address' | 'type'>[]): Promise<number[]> {
    const words = new Map<number, number>();
    for (const block of readBlocks(wanted)) {
      (await this.#client.read(block.address, block.words)).forEach((word, offset) =>
        words.set(block.address + offset, word),
      );
    }
    return wanted.map(({ address, type }) =>
      decodeRegisters([words.get(address) ?? 0, words.get(address + 1) ?? 0], type, this.profile.wordOrder),
    );
  }
}
