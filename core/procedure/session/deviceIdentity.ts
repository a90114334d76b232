import type { DriveProfile } from '../../drive/index.ts';

/** How a device identifies itself: object 0x1018 of CiA 301 (product code, revision, serial number). Undefined: its map has no such register. */
export interface DeviceIdentity {
  readonly kind: number | undefined;
  readonly firmware: number | undefined;
  readonly serial: number | undefined;
}

/** The registers of a register map that tell the identity. */
export const identityRegisters = {
  kind: 'identityKind',
  firmware: 'identityFirmware',
  serial: 'identitySerial',
} as const satisfies Record<keyof DeviceIdentity, string>;

/** Object 0x1000: its low word is 402 in every drive of the profile (CiA 402). */
const deviceType = 'deviceType';
const driveProfileNumber = 0x0192;

export const identityKeys = ({ registers }: DriveProfile): readonly string[] =>
  [...Object.values(identityRegisters), deviceType].filter((key) => registers[key] !== undefined);

/** Why what was read through a map cannot be a drive of the profile; undefined where the map does not have the object, or it is right. */
export const wrongDeviceType = (values: Readonly<Record<string, number>>): string | undefined => {
  const read = values[deviceType];
  if (read === undefined || (read & 0xffff) === driveProfileNumber) return undefined;
  return `object 0x1000 reads 0x${(read >>> 0).toString(16)}, whose low word would be 0x192 in a drive of CiA 402: the addresses or the word order are wrong`;
};

export const identityOf = (values: Readonly<Record<string, number>>): DeviceIdentity => ({
  kind: values[identityRegisters.kind],
  firmware: values[identityRegisters.firmware],
  serial: values[identityRegisters.serial],
});

/** Without a serial number another device of the kind looks the same. */
export const isWeak = ({ serial }: DeviceIdentity): boolean => serial === undefined || serial === 0;

/** Two identities with the same mark are the same device; firmware may change. */
export const identityMark = ({ kind, serial }: DeviceIdentity): string => `${kind ?? '?'}:${serial ?? '?'}`;
