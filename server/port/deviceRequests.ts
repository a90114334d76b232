import {
  bitsOf,
  decodeRegisters,
  encodeRegisters,
  readBlocks,
  traceChannelCount,
  traceDepth,
  withBits,
  wordsOf,
  type BitField,
  type DriveProfile,
  type DriveReading,
  type RegisterType,
  type WordOrder,
} from '@kavrid/core/drive';
import type { DeviceAnswer, DeviceRequest } from '@kavrid/core/procedure';
import type { LineResult } from './line.ts';
import type { ModbusRequest } from './transport.ts';

export type RequestResult =
  | { readonly kind: 'answer'; readonly answer: DeviceAnswer; readonly samples?: Int32Array }
  | { readonly kind: 'failed'; readonly result: Exclude<LineResult, { readonly kind: 'answered' }> }
  | { readonly kind: 'impossible'; readonly because: string };

/** One request on the line, settled. */
export type Ask = (request: ModbusRequest) => Promise<LineResult>;

export interface Place {
  readonly key: string;
  readonly address: number;
  readonly type: RegisterType;
  readonly function?: 4;
  readonly bits?: BitField;
}

/** Most registers that one request reads (Modbus Application Protocol V1.1b3, 6.3). */
const mostWords = 125;

/**
 * Turns what a session asks into Modbus requests by the register map, and their answers into raw values.
 * @param longest most registers of one request
 */
export async function askDevice(
  profile: DriveProfile,
  request: DeviceRequest,
  ask: Ask,
  longest = mostWords,
): Promise<RequestResult> {
  switch (request.kind) {
    case 'read':
      return readValues(
        profile,
        request.registers.flatMap((key) => profile.registers[key] ?? []),
        ask,
        longest,
      );
    case 'read parameters':
      return readValues(
        profile,
        profile.parameters
          .filter(({ key }) => request.keys.includes(key))
          .map(({ running, ...parameter }) => placeOf(parameter, running)),
        ask,
        longest,
      );
    case 'read all':
      return readAll(profile, ask, longest);
    case 'read trace':
      return readTrace(profile, request.from, request.count, ask, longest);
    case 'write': {
      const register = profile.registers[request.register];
      return register ? write(profile, register, request.raw, ask) : noRegister(request.register);
    }
    case 'write parameter': {
      const parameter = profile.parameters.find(({ key }) => key === request.key);
      return parameter ? write(profile, parameter, request.raw, ask) : noRegister(request.key);
    }
  }
}

const noRegister = (key: string): RequestResult => ({
  kind: 'impossible',
  because: `the register map has no register ${key}`,
});

const placeOf = ({ key, type, bits }: Omit<Place, 'address'>, address: number): Place => ({
  key,
  type,
  address,
  ...(bits ? { bits } : {}),
});

/** A value that shares its register with others is put into what stands there. */
async function write(profile: DriveProfile, place: Place, raw: number, ask: Ask): Promise<RequestResult> {
  const { address, type, bits } = place;
  let words: readonly number[];
  try {
    let whole = raw;
    if (bits) {
      const { bits: _, ...all } = place;
      const now = await readPlaces(profile.wordOrder, [all], ask);
      if (isFailure(now)) return { kind: 'failed', result: now };
      whole = withBits(now[place.key] ?? 0, bits, raw);
    }
    words = encodeRegisters(whole, type, profile.wordOrder);
  } catch (error) {
    return { kind: 'impossible', because: error instanceof Error ? error.message : String(error) };
  }
  const result = await ask({ kind: 'write', address, words });
  return result.kind === 'answered' ? { kind: 'answer', answer: { kind: 'done' } } : { kind: 'failed', result };
}

/** Values by key, in as few requests as can be; or the first failure. */
export async function readPlaces(
  wordOrder: WordOrder,
  places: readonly Place[],
  ask: Ask,
  longest = mostWords,
): Promise<Readonly<Record<string, number>> | Exclude<LineResult, { readonly kind: 'answered' }>> {
  const tables = { 3: new Map<number, number>(), 4: new Map<number, number>() };
  for (const block of readBlocks(places, undefined, longest)) {
    const result = await ask({ kind: 'read', ...block });
    if (result.kind !== 'answered') return result;
    result.words.forEach((word, offset) => tables[block.function].set(block.address + offset, word));
  }
  return Object.fromEntries(
    places.map(({ key, address, type, bits, function: code }) => {
      const table = tables[code ?? 3];
      const words = [table.get(address) ?? 0, table.get(address + 1) ?? 0];
      const raw = decodeRegisters(words, type, wordOrder);
      return [key, bits ? bitsOf(raw, bits) : raw];
    }),
  );
}

export const isFailure = (
  result: Readonly<Record<string, number>> | Exclude<LineResult, { readonly kind: 'answered' }>,
): result is Exclude<LineResult, { readonly kind: 'answered' }> => typeof result.kind === 'string';

async function readValues(
  profile: DriveProfile,
  places: readonly Place[],
  ask: Ask,
  longest: number,
): Promise<RequestResult> {
  const values = await readPlaces(profile.wordOrder, places, ask, longest);
  return isFailure(values)
    ? { kind: 'failed', result: values }
    : { kind: 'answer', answer: { kind: 'values', values } };
}

/** Every parameter in all the copies that it has, in as few requests as can be. */
async function readAll(profile: DriveProfile, ask: Ask, longest: number): Promise<RequestResult> {
  const copies = { written: 'address', running: 'running', stored: 'stored', factory: 'factoryAddress' } as const;
  const reading: Record<string, Readonly<Record<string, number>>> = {};
  for (const [name, place] of Object.entries(copies)) {
    const places = profile.parameters.flatMap((parameter) => {
      const address = parameter[place];
      return address === undefined ? [] : [placeOf(parameter, address)];
    });
    const values = await readPlaces(profile.wordOrder, places, ask, longest);
    // Some drives do not let their stored copy be read, whatever their map says.
    const isRefused = name === 'stored' && isFailure(values) && values.kind === 'exception';
    if (isFailure(values) && !isRefused) return { kind: 'failed', result: values };
    reading[name] = isFailure(values) ? {} : values;
  }
  return { kind: 'answer', answer: { kind: 'reading', reading: reading as unknown as DriveReading } };
}

async function readTrace(
  profile: DriveProfile,
  from: number,
  count: number,
  ask: Ask,
  longest: number,
): Promise<RequestResult> {
  const memory = profile.registers.traceMemory;
  if (!memory) return noRegister('traceMemory');
  const size = wordsOf(memory.type);
  const words = traceChannelCount * size;
  const most = Math.floor(longest / words);
  if (most < 1)
    return {
      kind: 'impossible',
      because: 'the serial line is too slow to carry a sample of the recording in one request',
    };
  const samples = new Int32Array(count * traceChannelCount);
  for (let at = from; at < from + count;) {
    const slot = at % traceDepth;
    const many = Math.min(most, from + count - at, traceDepth - slot);
    const result = await ask({
      kind: 'read',
      address: memory.address + slot * words,
      words: many * words,
      function: memory.function ?? 3,
    });
    if (result.kind !== 'answered') return { kind: 'failed', result };
    for (let k = 0; k < many * traceChannelCount; k++)
      samples[(at - from) * traceChannelCount + k] = decodeRegisters(
        result.words.slice(k * size, (k + 1) * size),
        memory.type,
        profile.wordOrder,
      );
    at += many;
  }
  return { kind: 'answer', answer: { kind: 'done' }, samples };
}
