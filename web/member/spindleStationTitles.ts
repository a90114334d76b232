import type { SpindleStationKind } from '@kavrid/core/spindle';

export const spindleStationTitles: Readonly<Record<SpindleStationKind, string>> = {
  word: 'Speed command',
  signal: 'Signal',
  drive: 'Drive',
  motor: 'Motor',
  belt: 'Belt',
  tool: 'Tool',
};
