import { describe, expect, it } from 'vitest';
import {
  channelValues,
  missingSample,
  packImported,
  packSamples,
  readCsvTable,
  readImported,
  tableToTrace,
  type ColumnMapping,
  type CsvTable,
  readEarlierTrace,
  traceHeaderSchema,
  traceToCsv,
  type Channel,
} from './index.ts';

const position: Channel = { id: 'position', label: 'Position', unit: 'mm', scale: 0.5, format: 'int32' };
const torque: Channel = { id: 'torque', label: 'Torque', unit: '%', scale: 1, format: 'float64' };
const header = { period: 0.001, count: 2, channels: [position, torque] };

describe('traces', () => {
  it('are planar and little-endian, whole numbers as raw as they came', () => {
    const samples = packSamples(header.channels, [
      [1, -2],
      [1.5, -0.1],
    ]);
    // By hand: two’s complement, then IEEE 754: 1.5 is 0x3FF8…, −0.1 is 0xBFB999999999999A.
    expect([...samples]).toEqual([
      ...[1, 0, 0, 0, 0xfe, 0xff, 0xff, 0xff],
      ...[0, 0, 0, 0, 0, 0, 0xf8, 0x3f],
      ...[0x9a, 0x99, 0x99, 0x99, 0x99, 0x99, 0xb9, 0xbf],
    ]);
    // Read from within a larger buffer, at an odd place.
    const within = new Uint8Array(samples.length + 3);
    within.set(samples, 3);
    const trace = { header, samples: within.subarray(3) };
    expect([...(channelValues(trace, 'position') ?? [])]).toEqual([0.5, -1]);
    expect([...(channelValues(trace, 'torque') ?? [])]).toEqual([1.5, -0.1]);
    expect(channelValues(trace, 'speed')).toBeUndefined();
    expect([...traceToCsv(trace)].join('')).toBe('Time (s),Position (mm),Torque (%)\r\n0,0.5,1.5\r\n0.001,-1,-0.1\r\n');
  });

  it('zero of their time is the trigger, in the file too, out and in', () => {
    const before = { ...header, before: 1 };
    const samples = packSamples(before.channels, [
      [1, -2],
      [1.5, -0.1],
    ]);
    const csv = [...traceToCsv({ header: before, samples })].join('');
    expect(csv).toBe('Time (s),Position (mm),Torque (%)\r\n-0.001,0.5,1.5\r\n0,-1,-0.1\r\n');
    const reading = readCsvTable(csv);
    const channels = [{ column: 1, id: 'position', label: 'Position', unit: 'mm', scale: 1 }];
    expect(
      reading.kind === 'table' && tableToTrace(reading.table, { time: { column: 0, seconds: 1 }, channels }),
    ).toMatchObject({ kind: 'trace', trace: { header: { period: 0.001, count: 2, before: 1 } } });
    expect(traceHeaderSchema.safeParse({ ...before, before: 3 }).error?.issues[0]?.message).toContain('More samples');
  });

  it('a sample that is missing is no number, and an empty cell', () => {
    const samples = packSamples(header.channels, [
      [4, missingSample],
      [1.5, 2],
    ]);
    expect([...(channelValues({ header, samples }, 'position') ?? [])]).toEqual([2, NaN]);
    expect([...traceToCsv({ header, samples })].join('')).toContain('\r\n0.001,,2\r\n');
  });

  it('are refused with channels of one name, without any, or larger than may be', () => {
    const wrong = (change: object) => traceHeaderSchema.safeParse({ ...header, ...change }).error?.issues[0]?.message;
    expect(wrong({})).toBeUndefined();
    expect(wrong({ channels: [position, position] })).toContain('same name');
    expect(wrong({ channels: [] })).toBeTruthy();
    expect(wrong({ count: 12_000_000 })).toContain('at most 128 MB');
    expect(wrong({ period: 0 })).toBeTruthy();
    expect(wrong({ channels: [{ ...position, scale: Infinity }] })).toBeTruthy();
  });

  it('of before become ones of today, or say what is wrong with them', () => {
    const spindle = { hertz: [50, 49], speed: [2900, 2840], current: [3, 4], torque: [1, 1], busVolts: [325, 326] };
    const reading = readEarlierTrace({ period: 0.02, channels: spindle }, '');
    if (reading.kind === 'refused') throw new Error(reading.because);
    expect([...(channelValues(reading.trace, 'speed') ?? [])]).toEqual([2900, 2840]);
    expect(reading.trace.header.channels.map(({ unit }) => unit)).toEqual(['Hz', 'rpm', 'A', 'N·m', 'V']);
    const because = (channels: object) => {
      const read = readEarlierTrace({ period: 0.02, channels }, '');
      return read.kind === 'refused' ? read.because : 'taken';
    };
    expect(because({ ...spindle, speed: [1] })).toContain('equal length');
    expect(because({ ...spindle, more: [1, 2] })).toContain('should be hertz, speed');
    expect(because({ ...spindle, speed: ['x'] })).toContain('channels/speed/0');
  });

  it('a label that a spreadsheet would run is guarded in CSV', () => {
    const trace = {
      header: { ...header, count: 0, channels: [{ ...position, label: '=1+1', unit: '' }] },
      samples: new Uint8Array(),
    };
    expect([...traceToCsv(trace)].join('')).toBe(`Time (s),"'=1+1"\r\n`);
  });
});

describe('a table from elsewhere', () => {
  const table = (text: string): CsvTable => {
    const reading = readCsvTable(text);
    if (reading.kind === 'refused') throw new Error(reading.because);
    return reading.table;
  };
  const error = { column: 1, id: 'followingError', label: 'Following error', unit: 'mm', scale: 0.001 };

  it('is read with words before it, semicolons, decimal commas and cells without a number', () => {
    const read = table(
      '\uFEFFRecorder 7\r\nTime (ms);Lag (µm);State\r\n\r\n0,0;1,5;on\r\n0,5;;on\r\n1,0;-2,5e1;on\r\n',
    );
    // A column of words is no column of numbers; its cells are told.
    expect(read.titles).toEqual(['Time (ms)', 'Lag (µm)', 'State']);
    expect(read).toMatchObject({ unreadCells: 3, firstLine: 3 });
    expect(read.columns.map((column) => [...column])).toEqual([
      [0, 0.5, 1],
      [1.5, NaN, -25],
      [NaN, NaN, NaN],
    ]);
    expect(table('1\t2\n3\t4').columns.map((column) => [...column])).toEqual([
      [1, 3],
      [2, 4],
    ]);
    expect(readCsvTable('only,words\nand,more').kind).toBe('refused');
    expect(readCsvTable('').kind).toBe('refused');
  });

  it('becomes a trace: missing lines are missing samples, and uneven times are refused by their line', () => {
    const made = (text: string, time: ColumnMapping['time'] = { column: 0, seconds: 0.001 }) =>
      tableToTrace(table(text), { time, channels: [error] });
    const gap = made('ms,lag\n10,1000\n11,2000\n13,4000\n14,5000');
    if (gap.kind === 'refused') throw new Error(gap.because);
    expect(gap.missing).toBe(1);
    expect(gap.trace.header).toMatchObject({ count: 5, channels: [{ id: 'followingError', unit: 'mm' }] });
    expect(gap.trace.header.period).toBeCloseTo(0.001, 12);
    expect([...(channelValues(gap.trace, 'followingError') ?? [])]).toEqual([1, 2, NaN, 4, 5]);
    const because = (text: string, time?: ColumnMapping['time']) => {
      const result = made(text, time);
      return result.kind === 'refused' ? result.because : 'taken';
    };
    expect(because('0,1\n1,1\n1.5,1\n2.5,1')).toContain('line 3');
    expect(because('0,1\n1,1\n1,1')).toContain('line 2');
    expect(because('0,1\n1,1\n0.5,1')).toContain('line 2');
    expect(because('0,1')).toContain('two lines');
    expect(because('0,1\n1,2', { column: undefined, period: 0 })).toContain('above 0');
    expect(because('0,1\n1,2', { column: undefined, period: 0.01 })).toBe('taken');
    expect(because('0,1\n1,1\n2,1\n99999999,1')).toContain('than');
  });

  it('travels as a line of JSON and its samples, and is refused when one of them is wrong', () => {
    const samples = packSamples(header.channels, [
      [1, -2],
      [1.5, -0.1],
    ]);
    const packed = packImported({ name: 'Lag of the old controller', notes: '', trace: { header, samples } });
    expect(readImported(packed)).toMatchObject({ name: 'Lag of the old controller', trace: { header } });
    const because = (bytes: Uint8Array) => {
      const reading = readImported(bytes);
      return 'because' in reading ? reading.because : 'taken';
    };
    expect(because(packed.subarray(0, packed.length - 1))).toContain('23 bytes, but 24');
    expect(because(new TextEncoder().encode('{"name":\n'))).toContain('not JSON');
    expect(because(new TextEncoder().encode('no end'))).toContain('line of JSON');
    expect(because(new TextEncoder().encode('{"name":"x"}\n'))).toContain('notes');
  });
});
