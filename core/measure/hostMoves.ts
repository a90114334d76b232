import { demandedMoves, type DemandedMove, type MoveChannels } from '../motion/index.ts';
import { recognise, type KnownFactor } from './knownFactors.ts';

/** Moves that the controller was told to make: back and forth between here and a distance towards plus; axis units, s. */
export interface WantedHostMoves {
  readonly distance: number;
  readonly repeats: number;
  /** null: not told */
  readonly speed: number | null;
}

/** What is planned of the way from the controller to the drive. */
export interface HostPath {
  /** Name of the axis unit. */
  readonly unit: string;
  /** Pulses of a unit; undefined where no pulses command it. */
  readonly pulsesPerUnit: number | undefined;
  /** Hz that the output can send; null: not known */
  readonly highestRate: number | null;
  /** Axis units that a position may be off without a fault: what the command resolves, and the drive settles within. */
  readonly resolution: number;
  readonly factors: readonly KnownFactor[];
}

export type HostCause =
  | 'nothing arrived'
  | 'inverted'
  | 'one way'
  | 'known factor'
  | 'unknown factor'
  | 'scale off'
  | 'lost'
  | 'doubled'
  | 'rate limited'
  | 'too slow'
  | 'too fast'
  | 'missing moves'
  | 'not followed';

/** Something wrong with the moves, by its name. */
export interface HostFault {
  readonly cause: HostCause;
  readonly words: string;
}

export interface HostFigures {
  /** Moves that the drive was commanded to make. */
  readonly moves: number;
  /** The demanded length of a move, the mean of both directions; and over the wanted one. */
  readonly demanded: number;
  readonly ratio: number;
  /** Pulses of a move: wanted, and received; undefined where no pulses command it. */
  readonly pulsesWanted: number | undefined;
  readonly pulsesReceived: number | undefined;
  /** The demand after the last move less that before the first: what was lost or doubled altogether. */
  readonly drift: number;
  readonly pulsesDrifted: number | undefined;
  readonly peakSpeed: number;
  /** The farthest that the axis rested from where it was sent to; undefined: it never rested. */
  readonly travelError: number | undefined;
  /** The farthest that it rested from its demand. */
  readonly restingError: number | undefined;
}

export interface HostVerdict {
  readonly faults: readonly HostFault[];
  /** undefined: nothing was demanded */
  readonly figures: HostFigures | undefined;
}

/** A ratio nearer than this is no factor of its own but something lost, doubled or badly scaled. */
const nearOne = 0.05;
/** Lengths that differ by more than this share are not of one scale. */
const oneScale = 2e-4;
/** Share by which a speed may be off. */
const speedTolerance = 0.03;
/** s of a dwell after which an axis counts as at rest */
const shortestRest = 0.1;
/** Share of a move that runs at its highest speed where the speed is limited. */
const flatShare = 0.15;

/**
 * Compares moves that a controller was told to make with what the drive was commanded and did, and names what is wrong. The demand
 * is read after the gear of the drive: a wrong factor at either end shows in it.
 */
export function judgeHostMoves(channels: MoveChannels, wanted: WantedHostMoves, path: HostPath): HostVerdict {
  const { demandPosition: demand, actualPosition: actual, period } = channels;
  const stretches = apart(demandedMoves(demand, period), 2 * wanted.repeats);
  const moves = stretches
    .flatMap((each) => atTurns(demand, each, path.resolution))
    .map(({ from, to }) => ({
      from,
      to,
      length: (demand[to] ?? 0) - (demand[from] ?? 0),
    }));
  const long = moves.filter(({ length }) => Math.abs(length) > path.resolution);
  const [first] = long;
  if (!first)
    return {
      figures: undefined,
      faults: [
        {
          cause: 'nothing arrived',
          words:
            'No command arrived at the drive: its command source, the pulse form, the wiring of the command, or the enable at the controller.',
        },
      ],
    };
  const lengths = long.map(({ length }) => Math.abs(length));
  const demanded = lengths.reduce((sum, each) => sum + each, 0) / lengths.length;
  const ratio = demanded / wanted.distance;
  const begin = demand[first.from] ?? 0;
  const last = long.at(-1)?.to ?? 0;
  const isEven = long.length % 2 === 0;
  const drift = isEven ? (demand[last] ?? 0) - begin : 0;
  const { pulsesPerUnit } = path;
  const speeds = long.map(({ from, to }) => flatSpeed(demand, from, to, period, path.resolution));
  const peakSpeed = Math.max(...speeds.map(({ speed }) => speed));
  const rests = long.flatMap(({ to }, k) => {
    const end = (long[k + 1]?.from ?? demand.length) - 1;
    // Where it turns at once it does not rest.
    if ((end - to) * period < shortestRest) return [];
    const target = (actual[first.from] ?? 0) + (k % 2 === 0 ? wanted.distance : 0);
    const rested = actual[end] ?? NaN;
    // Nothing is known of a rest whose sample is missing.
    if (Number.isNaN(rested - (demand[end] ?? NaN))) return [];
    return [{ travel: Math.abs(rested - target), resting: Math.abs(rested - (demand[end] ?? NaN)) }];
  });
  const figures: HostFigures = {
    moves: long.length,
    demanded,
    ratio,
    pulsesWanted: pulsesPerUnit && wanted.distance * pulsesPerUnit,
    pulsesReceived: pulsesPerUnit && demanded * pulsesPerUnit,
    drift,
    pulsesDrifted: pulsesPerUnit && drift * pulsesPerUnit,
    peakSpeed,
    travelError: rests.length === 0 ? undefined : Math.max(...rests.map(({ travel }) => travel)),
    restingError: rests.length === 0 ? undefined : Math.max(...rests.map(({ resting }) => resting)),
  };
  const isFlat = speeds.every(({ flat }) => flat > flatShare);
  return { figures, faults: faultsOf(figures, long, wanted, path, isFlat) };
}

/** How much longer a dwell is than the pause between two pulses of a slow move. */
const clearly = 1.5;

/** Slow pulses come with pauses between them: of more stretches than moves were wanted, the longest pauses are the dwells, where these stand out. */
function apart(stretches: readonly DemandedMove[], due: number): readonly DemandedMove[] {
  if (stretches.length <= due) return stretches;
  const pauses = stretches.slice(1).map(({ from }, k) => from - (stretches[k]?.to ?? 0));
  const sorted = pauses.toSorted((a, b) => b - a);
  const [dwell = 0, next = 0] = [sorted[due - 2], sorted[due - 1]];
  if (due > 1 && dwell < clearly * next) return stretches;
  const joined: { from: number; to: number }[] = [];
  stretches.forEach(({ from, to }, k) => {
    const last = joined.at(-1);
    if (last && (pauses[k - 1] ?? 0) < dwell) last.to = to;
    else joined.push({ from, to });
  });
  return joined;
}

/** A controller that does not dwell turns around within a stretch: one move to each turn. */
function atTurns(demand: Float64Array, { from, to }: DemandedMove, resolution: number): readonly DemandedMove[] {
  const moves: DemandedMove[] = [];
  let [start, extreme, sense] = [from, from, 0];
  for (let k = from + 1; k <= to; k++) {
    const step = (demand[k] ?? 0) - (demand[extreme] ?? 0);
    if (sense === 0) sense = Math.sign(step);
    if (sense * step >= 0) extreme = k;
    else if (Math.abs(step) > resolution) {
      moves.push({ from: start, to: extreme });
      [start, extreme, sense] = [extreme, k, -sense];
    }
  }
  return [...moves, { from: start, to }];
}

function faultsOf(
  figures: HostFigures,
  moves: readonly { readonly length: number }[],
  wanted: WantedHostMoves,
  path: HostPath,
  isFlat: boolean,
): readonly HostFault[] {
  const isOneWay = moves.length > 1 && moves.every(({ length }) => length > 0 === (moves[0]?.length ?? 0) > 0);
  if (isOneWay)
    return [
      {
        cause: 'one way',
        words:
          'All moves went the same way: the direction does not arrive. Check the direction wire, and that both ends are set to the same pulse form.',
      },
    ];
  const { ratio } = figures;
  const due = 2 * wanted.repeats;
  const faults: (HostFault | undefined)[] = [
    (moves[0]?.length ?? 0) < 0
      ? { cause: 'inverted', words: 'The first move went towards minus: the direction is inverted.' }
      : undefined,
    scaleFault(figures, moves, wanted, path),
    figures.moves !== due && Math.abs(ratio - 1) < nearOne
      ? {
          cause: 'missing moves',
          words: `${figures.moves} moves arrived instead of ${due}. Check the dwell between the moves and the number of repeats at the controller.`,
        }
      : undefined,
    speedFault(figures, wanted, path, isFlat),
    (figures.restingError ?? 0) > 5 * path.resolution && Math.abs(ratio - 1) < nearOne
      ? {
          cause: 'not followed',
          words:
            'The axis rests away from its demand: it does not follow, by torque limit, friction, a loose coupling or a position loop without integral action.',
        }
      : undefined,
  ];
  return faults.filter((fault) => fault !== undefined);
}

function scaleFault(
  { ratio, demanded, drift }: HostFigures,
  moves: readonly { readonly length: number }[],
  { distance }: WantedHostMoves,
  { resolution, factors, pulsesPerUnit, unit }: HostPath,
): HostFault | undefined {
  const pulses = (units: number) =>
    pulsesPerUnit === undefined ? '' : `, ${Math.round(Math.abs(units) * pulsesPerUnit)} pulses`;
  if (Math.abs(ratio - 1) >= nearOne) {
    const known = recognise(ratio, factors);
    return known
      ? { cause: 'known factor', words: `It went ${shown(ratio)} times as far as commanded: ${known.cause}.` }
      : {
          cause: 'unknown factor',
          words: `It went ${shown(ratio)} times as far as commanded. ${
            pulsesPerUnit === undefined
              ? 'Compare the scale at both ends.'
              : `The steps per unit at the controller times the gear of the drive would fit with ${shown(pulsesPerUnit / ratio)} instead of ${shown(pulsesPerUnit)} pulses/${unit}.`
          }`,
        };
  }
  const lengths = moves.map(({ length }) => Math.abs(length));
  const spread = Math.max(...lengths) - Math.min(...lengths);
  const isOff = Math.abs(demanded - distance) > resolution;
  const isUneven = spread > Math.max(resolution, oneScale * distance) || Math.abs(drift) > 2 * resolution;
  if (isUneven)
    return demanded < distance
      ? {
          cause: 'lost',
          words: `Moves fall short by up to ${shown(distance - Math.min(...lengths))} ${unit}${pulses(distance - Math.min(...lengths))}, each by another amount: pulses are lost. Pulse width, rate, level, shield and common reference are where to look.`,
        }
      : {
          cause: 'doubled',
          words: `Moves go too far by up to ${shown(Math.max(...lengths) - distance)} ${unit}${pulses(Math.max(...lengths) - distance)}, each by another amount: pulses are counted twice. Look for ringing on the pulse line, a slow edge, and interference.`,
        };
  return isOff
    ? {
        cause: 'scale off',
        words: `Every move is off by the same ${shown(demanded - distance)} ${unit} (${shown(1e6 * (ratio - 1))} ppm): the scale at the controller or the gear of the drive is not as planned${ratio < 1 ? ', or a steady share of the pulses is lost, which changes with the speed' : ''}.`,
      }
    : undefined;
}

function speedFault(
  { peakSpeed, ratio }: HostFigures,
  { speed, distance }: WantedHostMoves,
  { pulsesPerUnit, highestRate, unit }: HostPath,
  isFlat: boolean,
): HostFault | undefined {
  if (speed === null || !isFlat || !(distance > 0)) return undefined;
  // A wrong scale makes the speed wrong by the same factor.
  const wanted = speed * (Math.abs(ratio - 1) < nearOne ? 1 : ratio);
  if (peakSpeed > wanted * (1 + speedTolerance))
    return { cause: 'too fast', words: `It ran at ${shown(peakSpeed)} instead of ${shown(wanted)} ${unit}/s.` };
  if (peakSpeed >= wanted * (1 - speedTolerance)) return undefined;
  const rate = pulsesPerUnit === undefined ? undefined : peakSpeed * pulsesPerUnit;
  const isAtRate = rate !== undefined && highestRate !== null && Math.abs(rate / highestRate - 1) < 2 * speedTolerance;
  return isAtRate
    ? {
        cause: 'rate limited',
        words: `It ran at ${shown(peakSpeed)} instead of ${shown(wanted)} ${unit}/s: that is the highest pulse rate of the controller, ${shown(highestRate)} Hz. Choose a coarser resolution or a faster output.`,
      }
    : {
        cause: 'too slow',
        words: `It ran at ${shown(peakSpeed)} instead of ${shown(wanted)} ${unit}/s${rate === undefined ? '' : `, ${shown(rate)} pulses/s`}: a limit of the controller or of the drive holds it back.`,
      };
}

const shown = (value: number): string => String(Number(value.toPrecision(5)));

/** Steps of the command over which a speed is read at least: it is then known within a hundredth. */
const stepsRead = 100;

/** The highest speed of a move over as many samples as read it well, and the share of its time spent at it; 0 where it is too short for that. */
function flatSpeed(demand: Float64Array, from: number, to: number, period: number, resolution: number) {
  const mean = Math.abs((demand[to] ?? 0) - (demand[from] ?? 0)) / (to - from);
  const reach = Math.max(4, Math.ceil((stepsRead * resolution) / mean));
  const at = (k: number) => Math.abs((demand[k + reach] ?? 0) - (demand[k] ?? 0)) / (reach * period);
  let speed = 0;
  for (let k = from; k + reach <= to; k++) speed = Math.max(speed, at(k));
  let flat = 0;
  for (let k = from; k + reach <= to; k++) if (at(k) > 0.98 * speed) flat++;
  return { speed: speed || mean / period, flat: flat / (to - from) };
}
