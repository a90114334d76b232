import { line } from '../fields.ts';

/** What every entry has besides its own data. */
export const shelfFields = {
  /** Under which part numbers it is ordered, with commas between them; see {@link matchesPartNumber}. */
  partNumbers: line(400),
  notes: line(2000),
} as const;
