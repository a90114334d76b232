/** A position loop in the controller over a speed command to the drive. */
export interface RunawayLoop {
  /** 1/s */
  readonly gain: number;
  /** axis units of following error at which the controller stops; undefined: it never does */
  readonly errorLimit: number | undefined;
  /** axis units/s at full command */
  readonly fullSpeed: number;
  /** s from the trip to the moment the axis begins to slow down */
  readonly reactionTime: number;
  /** axis units/s², from then on; 0: it does not brake */
  readonly deceleration: number;
}

export interface Runaway {
  /** axis units/s reached when the error limit trips */
  readonly speed: number;
  /** axis units from the start to rest; infinite where nothing stops it */
  readonly distance: number;
}

/**
 * How far an axis runs, at the worst, whose feedback counts backwards: every error grows itself, x' = +K·x, until the
 * limit trips. The error then is the way already gone, so way = limit + v·t + v²/(2·a), with v = min(K·limit, full speed).
 */
export function runaway({ gain, errorLimit, fullSpeed, reactionTime, deceleration }: RunawayLoop): Runaway {
  if (errorLimit === undefined) return { speed: fullSpeed, distance: Infinity };
  const speed = Math.min(gain * errorLimit, fullSpeed);
  const braking = deceleration > 0 ? speed ** 2 / (2 * deceleration) : Infinity;
  return { speed, distance: errorLimit + speed * reactionTime + braking };
}
