import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { burstTable, isoProgram, plcProgram, stepCsv, stepHeader, stepIntervals, type ProgramMove } from './index.ts';

const move: ProgramMove = {
  name: 'Carriage (left)',
  unit: 'mm',
  distance: 100,
  speed: 300,
  acceleration: 2000,
  dwell: 0.3,
  repeats: 2,
};
const textOf = (made: ReturnType<typeof isoProgram>) => {
  if ('because' in made) throw new Error(made.because);
  return made.text;
};
const because = (made: object) => ('because' in made ? made.because : 'made');

describe('programs for the controller', () => {
  it('ISO 6983: read back word by word, the path returns to its start at the feed asked for', () => {
    const text = textOf(isoProgram(move));
    // A comment ends with its first bracket: none of the name may be left in it.
    expect(text).toContain('(Carriage  left: 2 times 100.0 mm towards plus and back)');
    let [position, feed, dwell] = [0, 0, 0];
    const stations: number[] = [];
    for (const line of text.split('\n').filter((each) => each.startsWith('N')))
      for (const [, letter, value] of line.matchAll(/([A-Z])(-?[\d.]+)/g)) {
        if (letter === 'X') stations.push((position += Number(value)));
        if (letter === 'F') feed = Number(value);
        if (letter === 'P') dwell += Number(value);
      }
    expect(stations).toEqual([100, 0, 100, 0]);
    // 300 mm/s are 18 000 mm/min.
    expect(feed).toBe(18_000);
    expect(dwell).toBeCloseTo(4 * 0.3, 9);
    expect(text).toMatch(/G21 G91 G94[^]*M30/);
    expect(textOf(isoProgram({ ...move, unit: 'in' }))).toContain('G20');
    expect(textOf(isoProgram({ ...move, unit: 'deg' }))).toContain('G1 A100.0');
    expect(because(isoProgram({ ...move, unit: 'mL' }))).toContain('mL');
  });

  it('IEC 61131-3: every opening has its end, and the constants are those of the move', () => {
    const text = textOf(plcProgram(move));
    for (const word of ['IF', 'CASE', 'VAR|VAR_INPUT|VAR_OUTPUT|VAR_IN_OUT', 'PROGRAM']) {
      const ends = word.startsWith('VAR') ? 'END_VAR' : `END_${word}`;
      const count = (pattern: string) => [...text.matchAll(new RegExp(`^\\s*(${pattern})\\b`, 'gm'))].length;
      expect([word, count(word)]).toEqual([word, count(ends)]);
    }
    expect(text).toContain('SPEED        : LREAL := 300.0;');
    expect(text).toContain('MOST         : INT := 4;');
    expect(text).toContain('T#300ms');
    expect(text).toContain('Carriage_left : AXIS_REF;');
    expect([...text.matchAll(/\(\*/g)].length).toBe([...text.matchAll(/\*\)/g)].length);
    // A name that is no identifier, and one that would end a comment.
    expect(textOf(plcProgram({ ...move, name: '2. Achse *) END' }))).toContain('A2_Achse_END : AXIS_REF;');
  });

  it('bursts: as fast as the profile needs them, or refused with the number', () => {
    const rows = textOf(burstTable(move, 100, 30_000, 100_000))
      .trim()
      .split('\r\n')
      .slice(1);
    expect(rows).toHaveLength(4);
    // 10 000 pulses at 30 kHz take a third of a second; 100/300 + 300/2000 = 0.4833 s the move, plus the dwell.
    expect(rows[0]).toBe('1,plus,10000,30000.0,0.333333,0.45');
    expect(rows[1]?.startsWith('2,minus,10000')).toBe(true);
    // min(300, √(2000·100) = 447) · 100
    expect(because(burstTable(move, 100, 29_000, null))).toContain('30000.0 Hz at least');
    expect(because(burstTable(move, 100, 30_000, 20_000))).toContain('above the 20000.0 Hz');
    expect(because(burstTable({ ...move, distance: 0.001 }, 100, 30_000, null))).toContain('less than one pulse');
  });

  it('steps: no pulse is farther from its moment than half a tick, and what the timer cannot make is refused', () => {
    const timer = { clock: 1_000_000, bits: 16 } as const;
    const made = stepIntervals(move, 100, timer);
    if ('because' in made) throw new Error(made.because);
    expect(made.ticks).toHaveLength(10_000);
    // Pulse k of the first ramp comes where ½·a·t² = (k − ½)/S, by hand.
    for (const k of [1, 2, 100, 2000]) {
      const at = made.ticks.subarray(0, k).reduce((sum, each) => sum + each, 0);
      expect(Math.abs(at / 1e6 - Math.sqrt((2 * (k - 0.5)) / 100 / 2000))).toBeLessThanOrEqual(0.5e-6 + 1e-12);
    }
    // 30 kHz from 1 MHz: 33⅓ ticks.
    expect(made.plannedRate).toBeCloseTo(30_000, 6);
    expect(made.rateBelow).toBeCloseTo(1e6 / 34, 6);
    expect(made.rateAbove).toBeCloseTo(1e6 / 33, 6);
    expect(because(stepIntervals(move, 100, { clock: 50_000, bits: 16 }))).toContain('two ticks');
    expect(because(stepIntervals(move, 100, { clock: 1e6, bits: 8 }))).toContain('8 bits (255)');
    expect(because(stepIntervals({ ...move, distance: 2000 }, 100, timer))).toContain('200000 pulses');
    expect(textOf(stepCsv(move, 100, timer)).split('\r\n')).toHaveLength(10_002);
  });

  it('the C header holds the same ticks, and a C compiler takes it without a warning where there is one', () => {
    const timer = { clock: 1_000_000, bits: 16 } as const;
    const header = textOf(stepHeader(move, 100, timer));
    const made = stepIntervals(move, 100, timer);
    const numbers = header.slice(header.indexOf('= {')).match(/\d+/g)?.map(Number);
    expect(numbers).toEqual('because' in made ? [] : [...made.ticks]);
    expect(header).toContain('static const uint16_t CARRIAGE_LEFT_TICKS[CARRIAGE_LEFT_PULSES]');
    expect(header).toContain('#define CARRIAGE_LEFT_DWELL_TICKS 300000UL');
    if (!existsSync('/usr/bin/gcc')) return;
    const flags = [
      '-std=c99',
      '-Wall',
      '-Wextra',
      '-Wno-unused-const-variable',
      '-Werror',
      '-fsyntax-only',
      '-xc',
      '-',
    ];
    execFileSync('/usr/bin/gcc', flags, { input: header });
  });
});
