/** What a drive records as a run. */
export type RunKind =
  | 'homing'
  | 'test move'
  | 'run test'
  | 'move'
  | 'speed series'
  | 'response'
  | 'press'
  | 'controller move'
  | 'sweep'
  | 'gain trial';
