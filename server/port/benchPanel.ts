import type { BenchControl, BenchMap, BenchMessage, BenchRegister, BenchState } from '@kavrid/contract';
import { encodeRegisters } from '@kavrid/core/drive';
import { isFailure, readPlaces } from './deviceRequests.ts';
import type { Line, LineResult } from './line.ts';
import type { Lines } from './lines.ts';
import type { ModbusRequest } from './transport.ts';

/** Parts of the bench that are no drives, and object 0x1018:02 of each. Nothing else is ever written to. */
const kinds = { faults: 0x4201, host: 0x4801, pwmHost: 0x4802, loopHost: 0x4803, choiceHost: 0x4804 } as const;
type Part = keyof typeof kinds;

/** Register maps as the bench publishes them. */
export type BenchMaps = Readonly<Record<Part, BenchMap>>;

interface Place {
  readonly part: Part;
  readonly unit: number;
}
const faults: Place = { part: 'faults', unit: 20 };

/** The controller of the bench that commands a drive, by the unit of the drive. */
const hosts: Readonly<Record<number, Place>> = {
  1: { part: 'host', unit: 10 },
  2: { part: 'host', unit: 11 },
  4: { part: 'pwmHost', unit: 12 },
  5: { part: 'loopHost', unit: 13 },
  6: { part: 'choiceHost', unit: 14 },
  7: { part: 'host', unit: 15 },
  8: { part: 'host', unit: 15 },
};

/** The group of a switch that works on the whole cell. */
const ofAll = '0';

/** What a register of a controller is for on screen, as its map groups it. */
const controlKinds = [
  'switch',
  'step',
  'start',
  'value',
  'button',
  'stop',
  'reading',
  'state',
] as const satisfies readonly BenchControl['kind'][];
const controlKind = (group: string) => controlKinds.find((kind) => kind === group);
const isRead: Readonly<Record<BenchControl['kind'], boolean>> = {
  switch: true,
  step: false,
  start: false,
  value: true,
  button: false,
  stop: false,
  reading: true,
  state: true,
};

const wordOrder = 'high word first';

/** The bench behind an address: whether it is one, what can be wrong there, and the controller of the drive that is linked. */
export class BenchPanel {
  readonly #lines: Lines;
  readonly #maps: BenchMaps;

  constructor(lines: Lines, maps: BenchMaps) {
    this.#lines = lines;
    this.#maps = maps;
  }

  /**
   * Carries out an order where a bench answers at the address, on this computer only.
   * @param unit of the drive that is linked
   * @returns how the bench stands afterwards; undefined where there is none
   */
  async carryOut(host: string, port: number, unit: number, order: BenchMessage): Promise<BenchState | undefined> {
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
          up: (line) => void this.#at(line, hosts[unit], unit, order).then(done, () => done(undefined)),
          lost: () => resolve(undefined),
        },
      );
    });
  }

  async #at(line: Line, host: Place | undefined, unit: number, order: BenchMessage): Promise<BenchState | undefined> {
    for (const place of host ? [faults, host] : [faults])
      if ((await this.#read(line, place, ['identityKind'])).identityKind !== kinds[place.part]) return undefined;
    switch (order.type) {
      case 'readBench':
        break;
      case 'setBench':
        await this.#write(line, faults, order.id, order.isOn ? 1 : 0);
        break;
      case 'setHost':
        if (host) await this.#set(line, host, order.id, order.value);
    }
    return this.#state(line, host, unit);
  }

  /** Only what is shown as a control can be set. */
  async #set(line: Line, host: Place, id: string, value: number): Promise<void> {
    const { group, scale } = this.#register(host, id);
    const kind = controlKind(group);
    if (kind === undefined || kind === 'reading' || kind === 'state') throw new RangeError(`${id} cannot be set.`);
    await this.#write(line, host, id, Math.round(value / scale));
  }

  async #state(line: Line, host: Place | undefined, unit: number): Promise<BenchState> {
    const registers = [...this.#maps.faults.registers.values()];
    const shown = registers.flatMap(({ key, label, group }) => {
      const [kind = '', of] = group.split(' ');
      return Number(of) === unit || of === ofAll ? [{ id: key, label, group: kind }] : [];
    });
    const on = await this.#read(
      line,
      faults,
      shown.map(({ id }) => id),
    );
    return {
      switches: shown.map((each) => ({ ...each, isOn: on[each.id] === 1 })),
      ...(host ? { host: await this.#hostState(line, host) } : {}),
    };
  }

  async #hostState(line: Line, host: Place): Promise<NonNullable<BenchState['host']>> {
    const { name, registers, inputs } = this.#maps[host.part];
    const shown = [...registers.values()].flatMap(({ key, label, group, scale, unit }) => {
      const kind = controlKind(group);
      return kind ? [{ id: key, label, kind, scale, unit }] : [];
    });
    const words = inputs.length > 0 ? ['inputStates', 'inputLevels'] : [];
    const values = await this.#read(line, host, [
      ...shown.filter(({ kind }) => isRead[kind]).map(({ id }) => id),
      ...words,
    ]);
    const bit = (word: string, at: number) => (((values[word] ?? 0) >> at) & 1) === 1;
    return {
      name,
      controls: shown.map(({ scale, ...control }) => ({ ...control, value: (values[control.id] ?? 0) * scale })),
      inputs: inputs.map(({ key, label, bit: at }) => ({
        key,
        label,
        level: bit('inputLevels', at),
        isActive: bit('inputStates', at),
      })),
    };
  }

  async #read(line: Line, place: Place, keys: readonly string[]): Promise<Readonly<Record<string, number>>> {
    const places = keys.map((key) => this.#register(place, key));
    const values = await readPlaces(wordOrder, places, (request) => this.#ask(line, place, request));
    if (isFailure(values)) throw new Error(`The bench did not answer: ${values.kind}.`);
    return values;
  }

  async #write(line: Line, place: Place, key: string, raw: number): Promise<void> {
    const { address, type } = this.#register(place, key);
    const words = encodeRegisters(raw, type, wordOrder);
    const result = await this.#ask(line, place, { kind: 'write', address, words });
    // An exception is a refusal, such as a move while it moves; what stands afterwards is shown.
    if (result.kind !== 'answered' && result.kind !== 'exception')
      throw new Error(`The bench did not answer: ${result.kind}.`);
  }

  #register({ part }: Place, key: string): BenchRegister {
    const register = this.#maps[part].registers.get(key);
    if (!register) throw new RangeError(`The bench has no ${key}.`);
    return register;
  }

  #ask(line: Line, { unit }: Place, request: ModbusRequest): Promise<LineResult> {
    return new Promise((settled) =>
      line.ask({ unit, request, isAllowed: () => true, priority: 'normal', isMotion: false, settled }),
    );
  }
}
