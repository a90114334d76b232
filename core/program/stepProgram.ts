import { planMove } from '../motion/index.ts';
import { PulseTrain } from '../signal/index.ts';
import { identifier, numeral, remark, type ProgramMove, type ProgramText } from './programMove.ts';

/** A timer that makes the pulses: its clock, and how many bits a period has. */
export interface StepTimer {
  /** Hz */
  readonly clock: number;
  readonly bits: 8 | 16 | 24 | 32;
}

/** Pulses that a table holds at most. */
const mostPulses = 100_000;

/** Ticks from pulse to pulse of one way, and what quantising has made of the speed. */
export interface StepIntervals {
  /** The first one is from the start of the move. */
  readonly ticks: Uint32Array;
  /** Hz at the highest speed: as planned, and the nearest two that the timer can make. */
  readonly plannedRate: number;
  readonly rateBelow: number;
  readonly rateAbove: number;
}

/**
 * Rounds the time of each pulse to a timer tick independently, so that rounding errors do not accumulate.
 * @returns why the timer cannot make them
 */
export function stepIntervals(
  { distance, speed, acceleration }: ProgramMove,
  pulsesPerUnit: number,
  { clock, bits }: StepTimer,
): StepIntervals | { readonly because: string } {
  const move = planMove(distance, { speed, acceleration, jerk: undefined });
  const train = new PulseTrain(move, pulsesPerUnit);
  if (train.count < 1) return { because: 'The move is less than one pulse.' };
  if (train.count > mostPulses)
    return {
      because: `The move has ${train.count} pulses; a table holds ${mostPulses} at most. Make it shorter.`,
    };
  const most = 2 ** bits - 1;
  const ticks = new Uint32Array(train.count);
  let before = 0;
  let longest = 0;
  let shortest = Infinity;
  train.each(1, train.count, (increment, time) => {
    const at = Math.round(time * clock);
    const interval = at - before;
    ticks[increment - 1] = interval;
    longest = Math.max(longest, interval);
    shortest = Math.min(shortest, interval);
    before = at;
    return true;
  });
  const plannedRate = Math.max(...move.segments.map((segment) => Math.abs(segment.speed))) * pulsesPerUnit;
  if (shortest < 2)
    return {
      because: `${numeral(plannedRate, 5)} pulses/s leave less than two ticks of ${numeral(clock)} Hz between two pulses: choose a faster clock or a slower move.`,
    };
  if (longest > most)
    return {
      because: `An interval of ${longest} ticks does not fit into ${bits} bits (${most}): choose a slower clock, more bits, or a steeper ramp.`,
    };
  const period = clock / plannedRate;
  return { ticks, plannedRate, rateBelow: clock / Math.ceil(period), rateAbove: clock / Math.floor(period) };
}

const notesOf = ({ plannedRate, rateBelow, rateAbove }: StepIntervals): readonly string[] => [
  rateBelow === rateAbove
    ? `The highest rate, ${numeral(plannedRate, 6)} Hz, is made exactly.`
    : `The highest rate is ${numeral(plannedRate, 6)} Hz; single periods are of ${numeral(rateBelow, 6)} or ${numeral(rateAbove, 6)} Hz.`,
];

/** The pulses of one way as RFC 4180 CSV: a line for each. */
export function stepCsv(move: ProgramMove, pulsesPerUnit: number, timer: StepTimer): ProgramText {
  const made = stepIntervals(move, pulsesPerUnit, timer);
  if ('because' in made) return made;
  const lines = Array.from(made.ticks, (ticks, k) => `${k + 1},${ticks}`);
  return { text: `Pulse,Ticks since the pulse before\r\n${lines.join('\r\n')}\r\n`, notes: notesOf(made) };
}

const types = { 8: 'uint8_t', 16: 'uint16_t', 24: 'uint32_t', 32: 'uint32_t' } as const;

/** The same as a header of C99, with what is needed to play it back and forth. */
export function stepHeader(move: ProgramMove, pulsesPerUnit: number, timer: StepTimer): ProgramText {
  const made = stepIntervals(move, pulsesPerUnit, timer);
  if ('because' in made) return made;
  const name = identifier(move.name).toUpperCase();
  const values = Array.from(made.ticks);
  const rows = Array.from(
    { length: Math.ceil(values.length / 12) },
    (_, k) => `  ${values.slice(12 * k, 12 * k + 12).join(', ')}`,
  );
  return {
    text: `/* ${remark(move.name)}: ${move.repeats} times ${numeral(move.distance)} ${move.unit} towards plus and back at ${numeral(move.speed)} ${move.unit} per s */
#ifndef ${name}_STEPS_H
#define ${name}_STEPS_H

#include <stdint.h>

#define ${name}_TIMER_HZ ${Math.round(timer.clock)}UL
#define ${name}_PULSES ${values.length}UL
#define ${name}_REPEATS ${move.repeats}U
#define ${name}_DWELL_TICKS ${Math.round(move.dwell * timer.clock)}UL

/* Ticks from each pulse to the next; the first one from the start. The way back is the same with the direction reversed. */
static const ${types[timer.bits]} ${name}_TICKS[${name}_PULSES] = {
${rows.join(',\n')}
};

#endif
`,
    notes: notesOf(made),
  };
}
