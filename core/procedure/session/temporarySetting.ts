import { addressText, type DeviceAddress } from './deviceAddress.ts';
import { identityMark, type DeviceIdentity } from './deviceIdentity.ts';

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

interface Here {
  readonly temporary: readonly TemporarySetting[];
  readonly identity: DeviceIdentity | undefined;
  readonly address: DeviceAddress | undefined;
}

/** The temporary settings of the device that is connected. */
export const settingsHere = ({ temporary, identity, address }: Here): readonly TemporarySetting[] =>
  temporary.filter(
    (each) =>
      each.identity === (identity ? identityMark(identity) : '') &&
      each.address === (address ? addressText(address) : ''),
  );

/** Raw values by key that it holds for a test. */
export const temporaryHere = (state: Here): Readonly<Record<string, number>> =>
  Object.fromEntries(settingsHere(state).map(({ key, temporary }) => [key, temporary]));
