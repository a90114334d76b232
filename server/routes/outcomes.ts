import type { Saved } from '../database/revisionTable.ts';
import { notFound, ProblemError } from '../problem.ts';

/** @throws ProblemError 404 for what is not there. */
export function orMissing<T>(value: T | undefined | null, what: string): T {
  if (value === undefined || value === null) throw notFound(what);
  return value;
}

/** The saved record. @throws ProblemError 404, or 409 with the newest record as `current` and who saved it, where known. */
export function savedOr<T extends { readonly version: number }>(saved: Saved<T>, what: string, author?: string): T {
  switch (saved.kind) {
    case 'saved':
      return saved.record;
    case 'missing':
      throw notFound(what);
    case 'stale':
      throw new ProblemError(409, `This ${what} has been saved by someone else since.`, {
        detail: `The newest version is ${saved.record.version}. Nothing has been overwritten.`,
        current: saved.record,
        ...(author === undefined ? {} : { author }),
      });
  }
}
