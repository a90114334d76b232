/** A slow jog goes at a tenth of the planned jog speed; axis units/s. */
export const slowJog = (jogSpeed: number): number => jogSpeed / 10;
