import { lineNames, type PulseForm } from './pulseForm.ts';
import type { PulseTrain } from './pulseTrain.ts';

/** A pulse train to be written as a value change dump. */
export interface VcdOrder {
  readonly train: PulseTrain;
  readonly form: PulseForm;
  /** Towards minus at the command. */
  readonly isMinus: boolean;
  /** s; what is longer than half the time to the next pulse is cut to that */
  readonly pulseWidth: number | undefined;
  /** s, of the move; what lies outside is left out */
  readonly from: number;
  readonly to: number;
}

/** A piece of the file, and how much of the window it ends at, 0 to 1. */
export interface VcdChunk {
  readonly bytes: Uint8Array;
  readonly done: number;
}

const newline = 10;
const hash = 35;
const zero = 48;
const symbols = [33, 34] as const;

/**
 * Writes the lines of a pulse train as a value change dump (IEEE 1364-2005, clause 18) with a time step of 1 ns, piece by piece:
 * nothing but the piece in hand is kept in memory, and whoever takes the pieces sets the pace and may stop.
 */
export function* pulseTrainToVcd(order: VcdOrder, chunkBytes = 1 << 16): Generator<VcdChunk, void, void> {
  const { train, form, isMinus, from, to } = order;
  const first = train.firstAfter(from);
  const end = train.firstAfter(to);
  yield { bytes: ascii(header(order, levelBefore(form, isMinus, first))), done: 0 };
  let writer = new EdgeWriter(chunkBytes);
  // Two edges a pulse, none longer than 24 bytes.
  const room = chunkBytes - 64;
  const pulseLine: 0 | 1 = form === 'clockwisePulses' && isMinus ? 1 : 0;
  const width = order.pulseWidth === undefined ? Infinity : Math.round(order.pulseWidth * 1e9);
  let next = first;
  // A pulse that has begun ends with its width, or at half the way to the next one.
  let rose = -1;
  const visit = (increment: number, time: number): boolean => {
    const at = Math.round((time - from) * 1e9);
    if (form === 'quadrature') {
      const line = (increment % 2 === 1) === isMinus ? 1 : 0;
      writer.edge(at, line, quadratureAfter(isMinus ? -increment : increment)[line]);
    } else {
      if (rose >= 0) writer.edge(endOf(rose, width, at), pulseLine, false);
      writer.edge(at, pulseLine, true);
      rose = at;
    }
    next = increment + 1;
    return writer.used <= room;
  };
  while (next < end) {
    train.each(next, end - 1, visit);
    if (next >= end) break;
    yield { bytes: writer.bytes.subarray(0, writer.used), done: (next - first) / (end - first) };
    const { last } = writer;
    writer = new EdgeWriter(chunkBytes, last);
  }
  const whole = Math.round((to - from) * 1e9);
  if (rose >= 0) writer.edge(endOf(rose, width, Math.max(whole, rose + 2)), pulseLine, false);
  writer.time(Math.max(whole, writer.last));
  yield { bytes: writer.bytes.subarray(0, writer.used), done: 1 };
}

const endOf = (rose: number, width: number, next: number): number =>
  Math.max(rose + 1, Math.min(rose + width, Math.round((rose + next) / 2)));

/** Edges as text in a buffer; the digits go through small whole numbers, which is several times as fast. */
class EdgeWriter {
  readonly bytes: Uint8Array;
  used = 0;
  /** ns of the edge written last */
  last: number;

  constructor(size: number, last = 0) {
    this.bytes = new Uint8Array(size);
    this.last = last;
  }

  edge(at: number, line: 0 | 1, level: boolean): void {
    this.time(at);
    const { bytes } = this;
    bytes[this.used++] = level ? zero + 1 : zero;
    bytes[this.used++] = symbols[line];
    bytes[this.used++] = newline;
    this.last = at;
  }

  /** @param nanoseconds whole, not negative, below 2·10¹⁵ */
  time(nanoseconds: number): void {
    this.bytes[this.used++] = hash;
    const millions = Math.floor(nanoseconds / 1e6) | 0;
    const rest = (nanoseconds - millions * 1e6) | 0;
    if (millions > 0) {
      this.#digits(millions, digitsOf(millions));
      this.#digits(rest, 6);
    } else this.#digits(rest, digitsOf(rest));
    this.bytes[this.used++] = newline;
  }

  #digits(value: number, count: number): void {
    const { bytes } = this;
    const start = this.used;
    let rest = value | 0;
    for (let place = start + count - 1; place >= start; place--) {
      const tenth = (rest / 10) | 0;
      bytes[place] = zero + rest - tenth * 10;
      rest = tenth;
    }
    this.used = start + count;
  }
}

function digitsOf(value: number): number {
  let digits = 1;
  for (let limit = 10; limit <= value; limit *= 10) digits++;
  return digits;
}

const ascii = (text: string) => Uint8Array.from(text, (letter) => letter.charCodeAt(0));

/** The levels before an increment is sent. */
function levelBefore(form: PulseForm, isMinus: boolean, increment: number): readonly [boolean, boolean] {
  switch (form) {
    case 'stepDirection':
      return [false, !isMinus];
    case 'clockwisePulses':
      return [false, false];
    case 'quadrature':
      return quadratureAfter(isMinus ? 1 - increment : increment - 1);
  }
}

/** Phases A and B after so many increments: A leads towards plus. */
function quadratureAfter(increments: number): readonly [boolean, boolean] {
  const place = ((increments % 4) + 4) % 4;
  return [place === 1 || place === 2, place >= 2];
}

function header({ form }: VcdOrder, [first, second]: readonly [boolean, boolean]): string {
  const [one, two] = lineNames[form].map((name) => name.replace(/ /g, '_')) as [string, string];
  return [
    '$version Kavrid pulse train $end',
    '$timescale 1 ns $end',
    '$scope module axis $end',
    `$var wire 1 ! ${one} $end`,
    `$var wire 1 " ${two} $end`,
    '$upscope $end',
    '$enddefinitions $end',
    '#0',
    '$dumpvars',
    `${Number(first)}!`,
    `${Number(second)}"`,
    '$end',
    '',
  ].join('\n');
}
