import {
  axisInputOf,
  byKind,
  channelValues,
  inPositionWindow,
  recordedChannels,
  spindleSpeeds,
  startOfTrace,
  type AxisDocument,
  type MemberDocument,
  type Trace,
} from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { stretchOf } from '@kavrid/core/motion';
import {
  cycleOf,
  cycleRms,
  moveMeasures,
  peaksOf,
  rampTimes,
  spectrumOf,
  tooQuickFor,
  triggerOf,
  windowMeasures,
  type MoveMeasures,
  type SpectralPeak,
  type TooQuick,
  type Trigger,
  type WindowMeasures,
} from '@kavrid/core/trace';
import type { SteadySpeed } from '@kavrid/core/spindle';
import { blocksOf, movedBy, thinAlong, thinTrace, type Blocks } from './thinTrace.ts';

/** What is laid over each other, in the order of its drawing. */
export interface TraceSource {
  readonly id: string;
  readonly trace: Trace;
}

/** Where zero of the time is other than at the trigger of the recording: where a channel crosses a level. */
export interface TraceTrigger extends Trigger {
  readonly channel: string;
}

export interface TraceView {
  readonly channels: readonly string[];
  readonly over: 'time' | 'position';
  /** s about zero; undefined: the whole */
  readonly window: readonly [number, number] | undefined;
  readonly trigger: TraceTrigger | undefined;
  /** s of both cursors */
  readonly cursors: readonly [number | undefined, number | undefined];
  readonly points: number;
}

/** A source as it is drawn: curves by channel, and the values at the cursors. */
export interface ViewedTrace {
  readonly id: string;
  /** The level is not crossed: its zero is that of the recording. */
  readonly isUntriggered: boolean;
  /** x and y of each point, one after the other. */
  readonly curves: Readonly<Record<string, Float64Array>>;
  readonly atCursors: Readonly<Record<string, readonly [number | undefined, number | undefined]>>;
}

export interface ViewedTraces {
  readonly traces: readonly ViewedTrace[];
  /** s from the first to the last sample of all, about zero. */
  readonly whole: readonly [number, number];
  /** Drawn over the position: its range. */
  readonly along: readonly [number, number] | undefined;
}

const positionChannel = 'actualPosition';

/** Samples that are thinned one by one. */
const shortTrace = 100_000;

/** Values of channels, read once. */
export class ReadChannels {
  readonly #read = new Map<string, Float64Array>();
  readonly #blocks = new Map<string, Blocks>();

  of(trace: Trace, id: string, channel: string): Float64Array | undefined {
    const key = `${id} ${channel}`;
    const known = this.#read.get(key);
    if (known) return known;
    const values = channelValues(trace, channel);
    if (values) this.#read.set(key, values);
    return values;
  }

  /** Extremes of its blocks, found once; a short trace needs none. */
  blocksOf(trace: Trace, id: string, channel: string): Blocks | undefined {
    const key = `${id} ${channel}`;
    const known = this.#blocks.get(key);
    const values = this.of(trace, id, channel);
    if (known || !values || values.length < shortTrace) return known;
    const blocks = blocksOf(values);
    this.#blocks.set(key, blocks);
    return blocks;
  }

  /** Forgets all but these sources. */
  keep(ids: readonly string[]): void {
    for (const kept of [this.#read, this.#blocks])
      for (const key of kept.keys()) if (!ids.includes(key.slice(0, key.lastIndexOf(' ')))) kept.delete(key);
  }
}

/** s after the first sample of a source at which its zero is; undefined: the level is not crossed. */
function zeroOf({ id, trace }: TraceSource, trigger: TraceTrigger | undefined, read: ReadChannels): number | undefined {
  if (!trigger) return recordedZero(trace);
  const values = read.of(trace, id, trigger.channel);
  const sample = values && triggerOf(values, trigger);
  return sample === undefined ? undefined : sample * trace.header.period;
}

/** s after the first sample at which the trigger of the recording is. */
const recordedZero = ({ header }: Trace): number => -startOfTrace(header);

/** Thins what is in the view, and reads the values at the cursors. */
export function viewTraces(sources: readonly TraceSource[], view: TraceView, read = new ReadChannels()): ViewedTraces {
  const placed = sources.map((source) => {
    const zero = zeroOf(source, view.trigger, read);
    return { source, isUntriggered: zero === undefined, shift: zero ?? recordedZero(source.trace) };
  });
  const starts = placed.map(({ shift }) => -shift);
  const ends = placed.map(({ source: { trace }, shift }) => (trace.header.count - 1) * trace.header.period - shift);
  const whole = [Math.min(0, ...starts), Math.max(0.001, ...ends)] as const;
  const [from, to] = view.window ?? whole;
  let along: readonly [number, number] | undefined;
  const traces = placed.map(({ source, isUntriggered, shift }): ViewedTrace => {
    const { id, trace } = source;
    const { period } = trace.header;
    const position = view.over === 'position' ? read.of(trace, id, positionChannel) : undefined;
    const stretch = [from + shift, to + shift] as const;
    if (position) {
      const measures = windowMeasures(position, Math.floor(stretch[0] / period), Math.ceil(stretch[1] / period) + 1);
      if (measures)
        along = [
          Math.min(along?.[0] ?? Infinity, measures.least),
          Math.max(along?.[1] ?? -Infinity, measures.greatest),
        ];
    }
    const curves: Record<string, Float64Array> = {};
    const atCursors: Record<string, readonly [number | undefined, number | undefined]> = {};
    for (const channel of view.channels) {
      const values = read.of(trace, id, channel);
      if (!values) continue;
      const curve = thinTrace(values, period, view.points, ...stretch, read.blocksOf(trace, id, channel));
      if (view.over === 'time') curves[channel] = movedBy(-shift, curve);
      else if (position) curves[channel] = thinAlong(curve, position, period);
      const at = (time: number | undefined) =>
        time === undefined ? undefined : values[Math.round((time + shift) / period)];
      atCursors[channel] = [at(view.cursors[0]), at(view.cursors[1])];
    }
    return { id, isUntriggered, curves, atCursors };
  });
  return { traces, whole, along };
}

export interface MeasureView {
  readonly channels: readonly string[];
  readonly window: readonly [number, number] | undefined;
  readonly trigger: TraceTrigger | undefined;
  /** Channel whose spectrum is drawn. */
  readonly spectrum: string;
  /** Hz, planned; null: not known */
  readonly resonance: number | null;
}

export interface MeasuredTrace {
  readonly id: string;
  readonly channels: Readonly<Record<string, WindowMeasures & { readonly ripple?: SpectralPeak }>>;
  /** Of an axis. */
  readonly moves: readonly MoveMeasures[];
  /** Of the run test of a spindle; s about the zero that is drawn. */
  readonly steady: readonly SteadySpeed[];
  /** A cycle that the moves repeat, and the RMS torque over its whole repeats; undefined: none is found. */
  readonly cycle: { readonly period: number; readonly cycles: number; readonly rms: number } | undefined;
  /** Hz and amplitude, one after the other. */
  readonly spectrum: Float64Array;
  readonly peaks: readonly SpectralPeak[];
  readonly tooQuick: readonly TooQuick[];
}

/** Samples that a spectrum is made of at most: from the middle of a window that is longer. */
const mostForSpectrum = 2 ** 17;
/** Lines that are drawn of a spectrum. */
const drawnLines = 1200;

/** Measures every channel over the window, its moves, and one channel's spectrum. */
export function measureTraces(
  sources: readonly TraceSource[],
  member: MemberDocument,
  view: MeasureView,
  read = new ReadChannels(),
): readonly MeasuredTrace[] {
  return sources.map((source): MeasuredTrace => {
    const { id, trace } = source;
    const { period, count } = trace.header;
    const shift = zeroOf(source, view.trigger, read) ?? recordedZero(trace);
    const [from, to] = view.window
      ? [
          Math.max(0, Math.round((view.window[0] + shift) / period)),
          Math.min(count, Math.round((view.window[1] + shift) / period) + 1),
        ]
      : [0, count];
    const channels: Record<string, WindowMeasures & { readonly ripple?: SpectralPeak }> = {};
    for (const channel of view.channels) {
      const measures = windowMeasures(read.of(trace, id, channel) ?? new Float64Array(), from, to);
      if (measures) channels[channel] = measures;
    }
    const values = read.of(trace, id, view.spectrum);
    const spared = Math.max(0, to - from - mostForSpectrum) >> 1;
    const spectrum = values && spectrumOf(values.subarray(from + spared, to - spared), period);
    const peaks = spectrum ? peaksOf(spectrum) : [];
    const [ripple] = peaks;
    const measured = channels[view.spectrum];
    if (measured && ripple) channels[view.spectrum] = { ...measured, ripple };
    const { ramps, ...together } = byKind<Together>(member, {
      axis: (axis) => ({ steady: [], ...movesWithin(axis, trace, from, to, shift) }),
      spindle: (spindle) => ({
        moves: [],
        cycle: undefined,
        ramps: [],
        steady: steadySpeedsAbout(shift - recordedZero(trace), spindleSpeeds(spindle, trace) ?? []),
      }),
    });
    return {
      id,
      channels,
      ...together,
      // What is left of the trend stands below two lines of its own width.
      spectrum: spectrum
        ? thinTrace(spectrum.amplitudes, spectrum.hertzPerLine, drawnLines, 2 * spectrum.resolution)
        : new Float64Array(),
      peaks,
      tooQuick: tooQuickFor(period, ramps, ripple?.hertz, view.resonance ?? undefined),
    };
  });
}

type Together = Pick<MeasuredTrace, 'moves' | 'cycle' | 'steady'> & { readonly ramps: readonly number[] };

/** The moves from one sample up to another, about the zero that is drawn. @param shift s from the first sample to that zero */
function movesWithin(axis: AxisDocument, trace: Trace, from: number, to: number, shift: number) {
  const { period } = trace.header;
  const moved = stretchOf(recordedChannels(trace), from, to);
  const moves = moveMeasures(moved, inPositionWindow(evaluateAxis(axisInputOf(axis).input)));
  const cycle = cycleOf(moves);
  const rms = cycle && cycleRms(moved.torque, period, cycle);
  const start = from * period - shift;
  return {
    moves: moves.map((move) => ({ ...move, from: move.from + start, to: move.to + start })),
    ramps: rampTimes(moved.demandPosition, period, moves),
    cycle: cycle && rms !== undefined ? { period: cycle.period, cycles: cycle.cycles, rms } : undefined,
  };
}

/** Steady speeds by the time that is drawn. @param zero s after the trigger at which it has its zero */
const steadySpeedsAbout = (zero: number, speeds: readonly SteadySpeed[]): readonly SteadySpeed[] =>
  speeds.map((each) => ({ ...each, from: each.from - zero, to: each.to - zero }));
