import type { MoveChannels } from '../motion/index.ts';

/** What a move tells of the mechanics: torque in % of rated, lengths in axis units, s. */
export interface IdentifiedMechanics {
  /** % for one unit/s²: all inertia, as the motor feels it. */
  readonly torquePerAcceleration: number;
  /** % for one unit/s */
  readonly torquePerSpeed: number;
  /** % against any motion */
  readonly coulombTorque: number;
  /** % that holds the load; positive when plus is up */
  readonly gravityTorque: number;
  /** Of what the torque changes, the share that these explain. */
  readonly explained: number;
  /** ± 95 % of the torque per acceleration, as a share of it. */
  readonly uncertainty: number;
}

/** s over which torque is summed: noise and quantisation of the speed then count little. */
const stretch = 0.02;
/** Stretches that have to accelerate and run, so that inertia and friction are told apart. */
const fewest = 12;

/**
 * Inertia and friction from moves, by momentum instead of acceleration: over each short stretch in one direction the change of speed
 * times the inertia, the way times the viscous and the time times the dry friction and gravity add up to the sum of the torque. Least
 * squares over all stretches that move; none where the torque was at its limit.
 * @param torqueLimit %; undefined: not known
 */
export function identifyInertia(
  { period, actualPosition, actualSpeed, torque }: MoveChannels,
  torqueLimit: number | undefined,
): IdentifiedMechanics | undefined {
  const span = Math.max(4, Math.round(stretch / period));
  const top = actualSpeed.reduce((most, each) => (Math.abs(each) > most ? Math.abs(each) : most), 0);
  if (!(top > 0)) return undefined;
  const rows: { readonly x: readonly number[]; readonly y: number }[] = [];
  for (let from = 0; from + span < actualSpeed.length; from += span) {
    const row = stretchRow(actualPosition, actualSpeed, torque, from, span, period, top, torqueLimit);
    if (row) rows.push(row);
  }
  const accelerating = rows.filter(({ x: [change = 0] }) => Math.abs(change) > 0.02 * top).length;
  if (rows.length < fewest || accelerating < fewest / 2) return undefined;
  // Without both directions friction and gravity are one and the same.
  const senses = new Set(rows.map(({ x: [, , sense = 0] }) => Math.sign(sense)));
  const width = senses.size > 1 ? 4 : 3;
  const solved = leastSquares(rows, width);
  if (!solved) return undefined;
  const { coefficients, residual, firstVariance } = solved;
  const [inertia = 0, viscous = 0, coulomb = 0, gravity = 0] = coefficients;
  const mean = rows.reduce((sum, { y }) => sum + y, 0) / rows.length;
  const total = rows.reduce((sum, { y }) => sum + (y - mean) ** 2, 0);
  if (!(inertia > 0)) return undefined;
  return {
    torquePerAcceleration: inertia,
    torquePerSpeed: viscous,
    coulombTorque: coulomb,
    gravityTorque: gravity,
    explained: total > 0 ? 1 - residual / total : 1,
    uncertainty: (2 * Math.sqrt((firstVariance * residual) / Math.max(1, rows.length - width))) / inertia,
  };
}

/** One stretch: change of speed, way, signed time, time, and the sum of the torque; undefined where it says nothing. */
function stretchRow(
  position: Float64Array,
  speed: Float64Array,
  torque: Float64Array,
  from: number,
  span: number,
  period: number,
  top: number,
  torqueLimit: number | undefined,
) {
  let impulse = 0;
  const sense = Math.sign(speed[from + (span >> 1)] ?? 0);
  for (let k = from; k <= from + span; k++) {
    const [v, t] = [speed[k] ?? NaN, torque[k] ?? NaN];
    const isLimited = torqueLimit !== undefined && Math.abs(t) >= 0.97 * torqueLimit;
    // Dry friction has one direction only while it moves in one.
    if (!(sense * v > 0.01 * top) || Number.isNaN(t) || isLimited) return undefined;
    impulse += (k === from || k === from + span ? 0.5 : 1) * t * period;
  }
  const time = span * period;
  return {
    x: [
      (speed[from + span] ?? 0) - (speed[from] ?? 0),
      (position[from + span] ?? 0) - (position[from] ?? 0),
      sense * time,
      time,
    ],
    y: impulse,
  };
}

/** Normal equations by elimination with pivots; columns scaled to the same size. */
function leastSquares(rows: readonly { readonly x: readonly number[]; readonly y: number }[], width: number) {
  const scale = Array.from({ length: width }, (_, c) => Math.max(...rows.map(({ x }) => Math.abs(x[c] ?? 0))) || 1);
  const matrix = Array.from({ length: width }, (_, r) =>
    Array.from({ length: width + 2 }, (__, c) =>
      rows.reduce((sum, { x, y }) => {
        const left = (x[r] ?? 0) / (scale[r] ?? 1);
        if (c === width) return sum + left * y;
        return c < width ? sum + (left * (x[c] ?? 0)) / (scale[c] ?? 1) : sum;
      }, 0),
    ),
  );
  // The last column becomes the first of the inverse: the variance of the first coefficient.
  matrix.forEach((line, r) => (line[width + 1] = r === 0 ? 1 : 0));
  for (let pivot = 0; pivot < width; pivot++) {
    const best = matrix
      .slice(pivot)
      .reduce(
        (most, line, k) => (Math.abs(line[pivot] ?? 0) > Math.abs(matrix[most]?.[pivot] ?? 0) ? pivot + k : most),
        pivot,
      );
    [matrix[pivot], matrix[best]] = [matrix[best] ?? [], matrix[pivot] ?? []];
    const head = matrix[pivot]?.[pivot] ?? 0;
    if (Math.abs(head) < 1e-12) return undefined;
    matrix.forEach((line, r) => {
      if (r === pivot) return;
      const factor = (line[pivot] ?? 0) / head;
      for (let c = pivot; c < width + 2; c++) line[c] = (line[c] ?? 0) - factor * (matrix[pivot]?.[c] ?? 0);
    });
  }
  const solution = matrix.map((line, r) => (line[width] ?? 0) / (line[r] ?? 1));
  const coefficients = solution.map((each, r) => each / (scale[r] ?? 1));
  const residual = rows.reduce(
    (sum, { x, y }) => sum + (y - coefficients.reduce((all, each, c) => all + each * (x[c] ?? 0), 0)) ** 2,
    0,
  );
  const firstVariance = (matrix[0]?.[width + 1] ?? 0) / (matrix[0]?.[0] ?? 1) / (scale[0] ?? 1) ** 2;
  return { coefficients, residual, firstVariance };
}
