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
export const operationMode = { none: 0, profilePosition: 1, velocity: 2, profileVelocity: 3, homing: 6 } as const;

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

/**
 * The state to which a controlword takes a drive (IEC 61800-7-201, CiA 402, state machine); the same one where nothing follows.
 * @param before the controlword until now: a reset works at its rising edge only
 * @param mayRun whether the enable terminal lets the motor be switched on
 */
export function commandedState(state: DeviceState, word: number, before: number, mayRun: boolean): DeviceState {
  if (state === 'fault') {
    const isReset = (word & controlword.faultReset) !== 0 && (before & controlword.faultReset) === 0;
    return isReset ? 'switch on disabled' : state;
  }
  if ((word & 0x02) === 0) return 'switch on disabled';
  if ((word & 0x04) === 0) {
    if (state === 'operation enabled' || state === 'quick stop active') return 'quick stop active';
    return 'switch on disabled';
  }
  switch (state) {
    case 'switch on disabled':
      return (word & 0x07) === 0x06 ? 'ready to switch on' : state;
    case 'ready to switch on':
      return (word & 0x07) === 0x07 ? 'switched on' : state;
    case 'switched on':
      if ((word & 0x0f) === 0x0f && mayRun) return 'operation enabled';
      return (word & 0x07) === 0x06 ? 'ready to switch on' : state;
    case 'operation enabled':
      if ((word & 0x0f) === 0x07) return 'switched on';
      return (word & 0x07) === 0x06 ? 'ready to switch on' : state;
    case 'not ready to switch on':
    case 'quick stop active':
    case 'fault reaction active':
      return state;
  }
}
