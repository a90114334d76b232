/** Channels of a move over time; positions in axis units, speeds in axis units/s, torque in %. */
export interface MoveChannels {
  readonly period: number;
  readonly demandPosition: Float64Array;
  readonly actualPosition: Float64Array;
  readonly actualSpeed: Float64Array;
  readonly followingError: Float64Array;
  readonly torque: Float64Array;
}

/** The samples of a move from one up to, not including, another. */
export const stretchOf = ({ period, ...planes }: MoveChannels, from: number, to: number): MoveChannels => ({
  period,
  demandPosition: planes.demandPosition.subarray(from, to),
  actualPosition: planes.actualPosition.subarray(from, to),
  actualSpeed: planes.actualSpeed.subarray(from, to),
  followingError: planes.followingError.subarray(from, to),
  torque: planes.torque.subarray(from, to),
});

/** What is compared between a prediction and a measurement. */
export interface TraceFigures {
  readonly peakSpeed: number;
  readonly peakFollowingError: number;
  readonly peakTorque: number;
  readonly rmsTorque: number;
  /** Following error at the end, at rest. */
  readonly restingError: number;
  /** s from the end of the demand of the last move until the error stays inside the window; undefined: it never did. */
  readonly settlingTime: number | undefined;
}

/**
 * @param window in-position window in axis units
 * @param isWhole the moves were made to their end; a run that tripped has not settled anywhere
 */
export function traceFigures(trace: MoveChannels, window: number, isWhole = true): TraceFigures {
  const { period, demandPosition, actualSpeed, followingError, torque } = trace;
  const count = followingError.length;
  const at = (channel: Float64Array, k: number) => channel[k] ?? 0;
  let [peakSpeed, peakFollowingError, peakTorque, squares, torques, demandEnd, lastOutside] = [0, 0, 0, 0, 0, 0, -1];
  for (let k = 0; k < count; k++) {
    // Of a sample that is missing nothing is known.
    if (Number.isNaN(at(followingError, k))) continue;
    torques++;
    peakSpeed = Math.max(peakSpeed, Math.abs(at(actualSpeed, k)));
    peakFollowingError = Math.max(peakFollowingError, Math.abs(at(followingError, k)));
    peakTorque = Math.max(peakTorque, Math.abs(at(torque, k)));
    squares += at(torque, k) ** 2;
    if (k > 0 && Math.abs(at(demandPosition, k) - at(demandPosition, k - 1)) > 1e-9) demandEnd = k;
    if (Math.abs(at(followingError, k)) > window) lastOutside = k;
  }
  return {
    peakSpeed,
    peakFollowingError,
    peakTorque,
    rmsTorque: torques > 0 ? Math.sqrt(squares / torques) : 0,
    restingError: at(followingError, count - 1),
    settlingTime:
      !isWhole || lastOutside >= count - 1 ? undefined : Math.max(0, (lastOutside + 1 - demandEnd) * period),
  };
}

/** A stretch in which the demand moves: from the sample before it first changes to the one at which it rests. */
export interface DemandedMove {
  readonly from: number;
  readonly to: number;
}

/** The moves in a recorded demand; stretches apart by less than `pause` s are one move. */
export function demandedMoves(demandPosition: Float64Array, period: number, pause = 0.05): readonly DemandedMove[] {
  const moves: { from: number; to: number }[] = [];
  for (let k = 1; k < demandPosition.length; k++) {
    if (!(Math.abs((demandPosition[k] ?? 0) - (demandPosition[k - 1] ?? 0)) >= 1e-9)) continue;
    const last = moves.at(-1);
    if (last && k - last.to <= Math.max(1, pause / period)) last.to = k;
    else moves.push({ from: k - 1, to: k });
  }
  return moves;
}
