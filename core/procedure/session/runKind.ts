/** What is recorded as a run. */
export type RunKind = 'homing' | 'test move' | 'run test';
