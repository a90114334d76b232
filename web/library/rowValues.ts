/** Choices whose words are their values. */
export const choicesOf = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }));

export interface RowsColumn {
  readonly field: string;
  readonly title: string;
  readonly width: number;
  /** Without choices it is text, or a number; yes and no stand for true and false, what is empty there for null. */
  readonly number?: boolean;
  readonly choices?: readonly { readonly value: string; readonly label: string }[];
  /** Of a list with too many columns for a line: those that tell its rows apart. The others are edited beside it. */
  readonly isListed?: boolean;
}

export type Row = Readonly<Record<string, unknown>>;

/** A value of a row as its field shows it. */
export const shownCell = (value: unknown): string =>
  typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value ?? '');

/** A row with what was typed into one of its fields. A number stays text while it is being typed: “0.” is on the way to 0.5. */
export function withCell(row: Row, { field, number, choices }: RowsColumn, text: string, isLeft = false): Row {
  const read = Number(text);
  const isNumber = number && text.trim() !== '' && Number.isFinite(read) && (isLeft || String(read) === text);
  const isNull = text === '' && (choices !== undefined || number);
  const value = typeof row[field] === 'boolean' ? text === 'yes' : isNull ? null : isNumber ? read : text;
  return { ...row, [field]: value };
}
