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

export const identityKeys = ({ registers }: DriveProfile): readonly string[] =>
  Object.values(identityRegisters).filter((key) => registers[key] !== undefined);

export const identityOf = (values: Readonly<Record<string, number>>): DeviceIdentity => ({
  kind: values[identityRegisters.kind],
  firmware: values[identityRegisters.firmware],
  serial: values[identityRegisters.serial],
});

/** Without a serial number another device of the kind looks the same. */
export const isWeak = ({ serial }: DeviceIdentity): boolean => serial === undefined || serial === 0;

/** Two identities with the same mark are the same device; firmware may change. */
export const identityMark = ({ kind, serial }: DeviceIdentity): string => `${kind ?? '?'}:${serial ?? '?'}`;
