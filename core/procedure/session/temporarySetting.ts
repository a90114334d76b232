/** A value of a drive that was changed for a test. */
export interface TemporarySetting {
  readonly key: string;
  readonly label: string;
  readonly original: number;
  readonly temporary: number;
  readonly since: string;
  /** Mark of the device's identity, and its address. */
  readonly identity: string;
  readonly address: string;
}

/** Not a parameter: that inputs of the drive are forced. */
export const forcedKey = '(forced inputs)';

/** Not a parameter: that the motor was switched on from here. */
export const enabledKey = '(motor)';
