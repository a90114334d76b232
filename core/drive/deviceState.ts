/** States of a drive and how they show in the statusword: IEC 61800-7-201 (CiA 402), object 0x6041. */
export type DeviceState =
  | 'not ready to switch on'
  | 'switch on disabled'
  | 'ready to switch on'
  | 'switched on'
  | 'operation enabled'
  | 'quick stop active'
  | 'fault reaction active'
  | 'fault';

const patterns: readonly (readonly [mask: number, value: number, state: DeviceState])[] = [
  [0x4f, 0x00, 'not ready to switch on'],
  [0x4f, 0x40, 'switch on disabled'],
  [0x6f, 0x21, 'ready to switch on'],
  [0x6f, 0x23, 'switched on'],
  [0x6f, 0x27, 'operation enabled'],
  [0x6f, 0x07, 'quick stop active'],
  [0x4f, 0x0f, 'fault reaction active'],
  [0x4f, 0x08, 'fault'],
];

/** @returns undefined for a pattern the standard does not define. */
export const deviceState = (statusword: number): DeviceState | undefined =>
  patterns.find(([mask, value]) => (statusword & mask) === value)?.[2];

/** The statusword bits of a state, without the mode-specific ones. */
export function statusBits(state: DeviceState): number {
  const pattern = patterns.find((each) => each[2] === state);
  return pattern ? pattern[1] : 0;
}

/** Statusword bits beside the state. */
export const statusBit = {
  targetReached: 1 << 10,
  limitActive: 1 << 11,
  acknowledged: 1 << 12,
  homingError: 1 << 13,
} as const;

/** Controlword commands, object 0x6040. */
export const controlword = {
  disableVoltage: 0x00,
  quickStop: 0x02,
  shutdown: 0x06,
  switchOn: 0x07,
  enableOperation: 0x0f,
  faultReset: 0x80,
} as const;

/** Controlword bits of the modes: a new set-point (profile position), start homing, halt. */
export const controlBit = { newSetPoint: 1 << 4, startHoming: 1 << 4, changeAtOnce: 1 << 5, halt: 1 << 8 } as const;

/** Modes of operation, object 0x6060. */
export const operationMode = { none: 0, profilePosition: 1, profileVelocity: 3, homing: 6 } as const;

/** The controlword that brings a drive one step closer to operation enabled; undefined when it is there. */
export function nextTowardsEnabled(state: DeviceState): number | undefined {
  switch (state) {
    case 'switch on disabled':
    case 'not ready to switch on':
      return controlword.shutdown;
    case 'ready to switch on':
      return controlword.switchOn;
    case 'switched on':
      return controlword.enableOperation;
    case 'quick stop active':
      return controlword.disableVoltage;
    case 'fault':
    case 'fault reaction active':
      return controlword.faultReset;
    case 'operation enabled':
      return undefined;
  }
}
