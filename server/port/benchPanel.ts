import type { BenchMessage, BenchRegister, BenchState } from '@kavrid/contract';
import { encodeRegisters } from '@kavrid/core/drive';
import { isFailure, readPlaces } from './deviceRequests.ts';
import type { Line, LineResult } from './line.ts';
import type { Lines } from './lines.ts';
import type { ModbusRequest } from './transport.ts';

/** Register maps as the bench publishes them: of its own unit, and of its host. */
export interface BenchMaps {
  readonly faults: ReadonlyMap<string, BenchRegister>;
  readonly host: ReadonlyMap<string, BenchRegister>;
}
type Part = keyof BenchMaps;

const wordOrder = 'high word first';

const units: Readonly<Record<Part, number>> = { faults: 20, host: 10 };
/** Object 0x1018:02 of the two units. Nothing else is ever written to. */
const kinds: Readonly<Record<Part, number>> = { faults: 0x4201, host: 0x4801 };

/** The bench behind an address: whether it is one, its faults and hands, and its host. */
export class BenchPanel {
  readonly #lines: Lines;
  readonly #maps: BenchMaps;

  constructor(lines: Lines, maps: BenchMaps) {
    this.#lines = lines;
    this.#maps = maps;
  }

  /**
   * Carries out an order where a bench answers at the address, on this computer only.
   * @returns how the bench stands afterwards; undefined where there is none
   */
  async carryOut(host: string, port: number, order: BenchMessage): Promise<BenchState | undefined> {
    if (host !== '127.0.0.1' && host !== 'localhost') return undefined;
    return new Promise((resolve) => {
      let letGo: () => void = () => undefined;
      const done = (state: BenchState | undefined) => {
        resolve(state);
        letGo();
      };
      letGo = this.#lines.use(
        { kind: 'tcp', host, port },
        {
          up: (line) => void this.#at(line, order).then(done, () => done(undefined)),
          lost: () => resolve(undefined),
        },
      );
    });
  }

  async #at(line: Line, order: BenchMessage): Promise<BenchState | undefined> {
    for (const part of ['faults', 'host'] as const)
      if ((await this.#read(line, part, ['identityKind'])).identityKind !== kinds[part]) return undefined;
    switch (order.type) {
      case 'readBench':
        break;
      case 'setBench':
        await this.#write(line, order.id === 'servoOn' ? 'host' : 'faults', order.id, order.isOn ? 1 : 0);
        break;
      case 'moveHost':
        await this.#write(line, 'host', 'moveBy', Math.round(order.by * 1000));
        break;
      case 'stopHost':
        await this.#write(line, 'host', 'stop', 1);
    }
    return this.#state(line);
  }

  async #state(line: Line): Promise<BenchState> {
    const shown = [...this.#maps.faults.values()].filter(({ group }) => group !== '');
    const on = await this.#read(
      line,
      'faults',
      shown.map(({ key }) => key),
    );
    const host = await this.#read(line, 'host', ['servoOn', 'moving', 'hostPosition', 'incrementsSent']);
    return {
      switches: shown.map(({ key, label, group }) => ({ id: key, label, group, isOn: on[key] === 1 })),
      host: {
        servoOn: host.servoOn === 1,
        isMoving: host.moving === 1,
        position: host.hostPosition ?? 0,
        sent: host.incrementsSent ?? 0,
      },
    };
  }

  async #read(line: Line, part: Part, keys: readonly string[]): Promise<Readonly<Record<string, number>>> {
    const places = keys.map((key) => this.#register(part, key));
    const values = await readPlaces(wordOrder, places, (request) => this.#ask(line, part, request));
    if (isFailure(values)) throw new Error(`The bench did not answer: ${values.kind}.`);
    return values;
  }

  async #write(line: Line, part: Part, key: string, raw: number): Promise<void> {
    const { address, type } = this.#register(part, key);
    const words = encodeRegisters(raw, type, wordOrder);
    const result = await this.#ask(line, part, { kind: 'write', address, words });
    // An exception is a refusal, such as a move while it moves; what stands afterwards is shown.
    if (result.kind !== 'answered' && result.kind !== 'exception')
      throw new Error(`The bench did not answer: ${result.kind}.`);
  }

  #register(part: Part, key: string): BenchRegister {
    const register = this.#maps[part].get(key);
    if (!register) throw new RangeError(`The bench has no ${key}.`);
    return register;
  }

  #ask(line: Line, part: Part, request: ModbusRequest): Promise<LineResult> {
    return new Promise((settled) =>
      line.ask({
        unit: units[part],
        request,
        isAllowed: () => true,
        priority: 'normal',
        isMotion: false,
        settled,
      }),
    );
  }
}
