import type { SpindleCommandDocument } from '@kavrid/contract';

/** How the speed of a spindle is commanded, in words. */
export const commandTitles: Readonly<Record<SpindleCommandDocument['kind'], string>> = {
  signal: 'a signal or dial',
  fixedSpeeds: 'fixed speeds, by inputs',
  fieldBus: 'field bus',
};
