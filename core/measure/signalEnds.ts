import { recognise, type KnownFactor } from './knownFactors.ts';

/** A speed that was held for a while, signed, in axis units/s. */
export interface HeldSpeed {
  /** s */
  readonly from: number;
  readonly to: number;
  readonly speed: number;
}

/** Shortest time that counts as a held speed, s; how much it may vary in that time, as a share of the highest speed. */
const [shortest, wander] = [0.25, 0.015];
/** Averaging time of the measured speed, s: encoder counts make it uneven from sample to sample. */
const averaged = 0.05;
const samplesOf = (period: number) => Math.max(1, Math.round(averaged / period));
/** Share of the wanted speed below which nothing has arrived. */
const nothingShare = 0.01;

/** The mean of so many samples about each. */
function smoothed(values: Float64Array, samples: number): Float64Array {
  const sums = new Float64Array(values.length + 1);
  values.forEach((each, k) => (sums[k + 1] = (sums[k] ?? 0) + each));
  return values.map((_, k) => {
    const [from, to] = [Math.max(0, k - (samples >> 1)), Math.min(values.length, k + (samples >> 1) + 1)];
    return ((sums[to] ?? 0) - (sums[from] ?? 0)) / (to - from);
  });
}

/** The speeds that an axis held, one after the other; rest is one of them. */
export function heldSpeeds(measured: Float64Array, period: number): readonly HeldSpeed[] {
  const actualSpeed = smoothed(measured, samplesOf(period));
  const top = actualSpeed.reduce((most, each) => Math.max(most, Math.abs(each)), 0);
  const found: HeldSpeed[] = [];
  const [needed, band] = [Math.ceil(shortest / period), wander * top];
  for (let from = 0; from < actualSpeed.length;) {
    let [low, high, sum, to] = [Infinity, -Infinity, 0, from];
    for (; to < actualSpeed.length; to++) {
      const speed = actualSpeed[to] ?? NaN;
      const [least, most] = [Math.min(low, speed), Math.max(high, speed)];
      if (!(most - least <= 2 * band)) break;
      [low, high, sum] = [least, most, sum + speed];
    }
    if (to - from >= needed) found.push({ from: from * period, to: to * period, speed: sum / (to - from) });
    from = to - from >= needed ? to : from + 1;
  }
  return found;
}

/** What a speed command through the real path made of its zero and of both ends. */
export interface SignalEnds {
  /** The command goes towards plus alone. */
  readonly isOneWay: boolean;
  readonly wanted: number;
  /** Mean of what was measured at each; undefined: it was not held. */
  readonly plus: number | undefined;
  readonly minus: number | undefined;
  readonly zero: number | undefined;
  /** Measured over wanted, by both ends together. */
  readonly ratio: number | undefined;
  readonly faults: readonly { readonly cause: SignalCause; readonly words: string }[];
}
export type SignalCause =
  'nothing arrived' | 'not held' | 'inverted' | 'known factor' | 'scale off' | 'one end off' | 'offset';

/** Shares of the wanted speed by which an end may be off, and the zero. */
const [endTolerance, zeroTolerance] = [0.02, 0.005];

/**
 * The speed wanted towards plus was commanded first, then zero, then, where it goes both ways, as much towards minus.
 * @param unit name of the axis unit
 */
export function judgeSignalEnds(
  actualSpeed: Float64Array,
  period: number,
  wanted: number,
  {
    unit,
    factors,
    isOneWay,
  }: { readonly unit: string; readonly factors: readonly KnownFactor[]; readonly isOneWay: boolean },
): SignalEnds {
  const held = heldSpeeds(actualSpeed, period);
  const top = Math.max(0, ...held.map(({ speed }) => Math.abs(speed)));
  const isMoving = ({ speed }: HeldSpeed) => Math.abs(speed) > top / 2;
  const shown = (value: number) => `${Number(value.toPrecision(4))} ${unit}/s`;
  const nothing = { isOneWay, wanted, plus: undefined, minus: undefined, zero: held[0]?.speed, ratio: undefined };
  const highest = smoothed(actualSpeed, samplesOf(period)).reduce((most, each) => Math.max(most, Math.abs(each)), 0);
  if (highest < nothingShare * wanted)
    return {
      ...nothing,
      faults: [{ cause: 'nothing arrived', words: 'The command does not arrive, or the drive was not enabled.' }],
    };
  if (top < highest / 2)
    return {
      ...nothing,
      faults: [
        {
          cause: 'not held',
          words: 'No speed was held for 0.25 s: make longer moves to measure both ends of the speed command.',
        },
      ],
    };
  const moving = held.filter(isMoving);
  const isInverted = (moving[0]?.speed ?? 0) < 0;
  const mean = (all: readonly HeldSpeed[]) =>
    all.length === 0 ? undefined : all.reduce((sum, { speed }) => sum + speed, 0) / all.length;
  const [towardsPlus, towardsMinus] = [
    moving.filter(({ speed }) => speed > 0),
    moving.filter(({ speed }) => speed < 0),
  ];
  // What came first was meant towards plus, whichever way it went.
  const [plus, minus] = isInverted ? [mean(towardsMinus), mean(towardsPlus)] : [mean(towardsPlus), mean(towardsMinus)];
  const between = held.filter(({ from }) => moving.some((each) => each.to <= from));
  const zero = mean(between.filter((each) => !isMoving(each)));
  const ends = [plus, minus].flatMap((each) => (each === undefined ? [] : [Math.abs(each)]));
  const ratio = ends.reduce((sum, each) => sum + each, 0) / ends.length / wanted;
  const factor = recognise(ratio, factors);
  const faults: { cause: SignalCause; words: string }[] = [];
  if (isInverted)
    faults.push({
      cause: 'inverted',
      words: 'The command towards plus moved the axis towards minus: signal, rotation sense or wiring is inverted.',
    });
  if (Math.abs(ratio - 1) > endTolerance)
    faults.push(
      factor
        ? {
            cause: 'known factor',
            words: `The speed is ${Number(ratio.toPrecision(4))} times the wanted one: ${factor.cause}.`,
          }
        : {
            cause: 'scale off',
            words: `The speed is ${Number((100 * (ratio - 1)).toPrecision(3))} % off at both ends together: the scales of controller and drive differ.`,
          },
    );
  if (plus !== undefined && minus !== undefined && Math.abs(Math.abs(plus) - Math.abs(minus)) > endTolerance * wanted)
    faults.push({
      cause: 'one end off',
      words: `The ends differ: ${shown(plus)} and ${shown(minus)}. An output that does not reach its end, or an offset.`,
    });
  if (zero !== undefined && Math.abs(zero) > zeroTolerance * wanted)
    faults.push({
      cause: 'offset',
      words: `At zero command the axis creeps at ${shown(zero)}: correct the offset of the command or of the drive’s input.`,
    });
  return { isOneWay, wanted, plus, minus, zero, ratio, faults };
}
