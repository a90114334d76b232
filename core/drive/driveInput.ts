/** What an input of a drive is for. */
export const inputRoles = [
  'minusLimit',
  'plusLimit',
  'home',
  'enable',
  'alarmReset',
  'safeTorqueOff',
  'choice',
  'start',
  'stop',
  'other',
] as const;
export type InputRole = (typeof inputRoles)[number];

/** An input of a drive, as its register map describes it. */
export interface DriveInput {
  readonly key: string;
  readonly label: string;
  readonly role: InputRole;
  /** Its bit in the registers `inputStates` (1: active) and, where the map has it, `inputLevels` (1: current flows). */
  readonly bit: number;
}

/** Inputs whose sensors can be tripped by hand one after the other. */
export const isSensor = ({ role }: DriveInput): boolean =>
  role === 'minusLimit' || role === 'plusLimit' || role === 'home';
