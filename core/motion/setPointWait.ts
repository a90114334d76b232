/** A speed set-point that waits for an axis which is held: how far it may be ahead; Infinity: as far as it likes. */
export interface SetPointWait {
  /** of the actual speed */
  readonly speedGap: number;
  /** of the actual position */
  readonly positionGap: number;
}

/**
 * The set-point that goes on from one along the ramp: no more than the speed gap ahead of the actual speed, and no faster than the axis
 * itself while the demanded position is ahead by the position gap. It never turns round, and what was taken from it comes back along the ramp.
 * @param lead demanded less actual position, signed
 */
export function waitingSetPoint(
  speed: number,
  { speedGap, positionGap }: SetPointWait,
  actualSpeed: number,
  lead: number,
): number {
  const direction = Math.sign(speed);
  const along = direction * actualSpeed;
  let size = Math.min(Math.abs(speed), Math.max(0, along + speedGap));
  if (direction * lead > positionGap) size = Math.min(size, Math.max(0, along));
  return direction * size;
}
