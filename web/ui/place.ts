/** Where a field of the document stands on screen. */
export interface Place {
  /** The page, as in its address. */
  readonly page: string;
  /** What is open there: a station of the chain, or a topic of the signals. */
  readonly at?: string;
  /** Both in words, as on screen. */
  readonly words: string;
}

/** The address of a place, from a page of the same member; its hash is the field’s JSON pointer. */
export const addressOf = ({ page, at }: Place, path: string): string =>
  `../${page}${at === undefined ? '' : `?at=${at}`}#${path.split('#')[0] ?? ''}`;
