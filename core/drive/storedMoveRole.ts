import type { MovedField } from './genericLists.ts';

/** What of a stored move, or of a switched torque limit, can be keyed in. */
type StoredField = MovedField | 'limit';

const fields: Readonly<Record<StoredField, true>> = {
  kind: true,
  target: true,
  fence: true,
  speed: true,
  acceleration: true,
  deceleration: true,
  torqueLimit: true,
  window: true,
  signalFrom: true,
  valueFrom: true,
  signalTo: true,
  valueTo: true,
  armingInput: true,
  limit: true,
};

/** What a parameter of a stored move means: `move 2 target`, by the number that the pattern makes, its first input the lowest bit. */
export type StoredMoveRole = `move ${number} ${StoredField}`;

export function isStoredMoveRole(role: string): role is StoredMoveRole {
  const [move, number = '', field = '', ...more] = role.split(' ');
  return move === 'move' && /^\d{1,3}$/.test(number) && field in fields && more.length === 0;
}

/** The role in a register map of what is planned by pattern: `move 01 target` is `move 2 target`. */
export function roleByNumber(planned: string): string {
  const [move, pattern = '', ...field] = planned.split(' ');
  return [move, Number.parseInt([...pattern].toReversed().join(''), 2), ...field].join(' ');
}
