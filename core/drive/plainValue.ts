import type { EndValue } from './endValue.ts';

/** A value that every device has in some form; its name is used in place of a code. */
export const plainValue = (label: string, role: string, unit = ''): EndValue => ({
  code: label,
  label,
  group: '',
  unit,
  takesEffect: 'at once',
  factory: '',
  keyValue: '',
  minimum: '',
  maximum: '',
  role,
  keyIn: 'value',
  scale: 1,
  half: 'whole',
  halfBase: null,
  firstBit: null,
  bits: null,
  choices: '',
  shows: '',
  note: '',
});
