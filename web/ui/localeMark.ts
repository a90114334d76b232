import type { DecimalMark } from '@kavrid/core/quantity';

/** How the browser's locale writes decimals. */
export const localeMark = (): DecimalMark =>
  new Intl.NumberFormat(undefined).formatToParts(1.5).find(({ type }) => type === 'decimal')?.value === ',' ? ',' : '.';
