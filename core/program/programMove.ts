/** A move back and forth that a controller is to make; axis units, s. */
export interface ProgramMove {
  readonly name: string;
  /** mm, in, deg, rev, mL */
  readonly unit: string;
  /** Towards plus first. */
  readonly distance: number;
  readonly speed: number;
  readonly acceleration: number;
  readonly dwell: number;
  readonly repeats: number;
}

/** A text to take to a controller, or why there is none. */
export type ProgramText = { readonly text: string; readonly notes: readonly string[] } | { readonly because: string };

/** A number as programs write it: with a point, and no more digits than are meant. */
export const numeral = (value: number, digits = 9): string => {
  const text = Number(value.toPrecision(digits)).toString();
  return text.includes('e') ? Number(value).toFixed(9).replace(/0+$/, '') : text.includes('.') ? text : `${text}.0`;
};

/** A name that every language takes: letters, digits and underscores, beginning with a letter. */
export const identifier = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '_')
    .replace(/^(?=[0-9])/, 'A')
    .replace(/^_+|_+$/g, '')
    .slice(0, 24) || 'Axis';

/** Words of a person in a comment: one line of plain characters that cannot end it. */
export const remark = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[^ -~]/g, '')
    .replace(/[()*/;]/g, ' ')
    .trim();
