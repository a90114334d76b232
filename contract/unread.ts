import { fieldValueWords, fieldWords } from './changes/changeWords.ts';
import { pathOf, valueAt } from './changes/documentPath.ts';
import type { MemberDocument } from './member.ts';

/** A field whose typed text cannot be taken; the document keeps its last valid value. */
export interface UnreadField {
  /** JSON pointer */
  readonly path: string;
  readonly text: string;
  /** What the field is called, and the value that is kept, in words. */
  readonly field: string;
  readonly kept: string;
}

/** What was typed into a document and cannot be taken, in words. */
export const unreadFields = (document: MemberDocument): readonly UnreadField[] =>
  Object.entries(document.unread).map(([path, text]) => ({
    path,
    text,
    field: fieldWords(pathOf(path)),
    kept: fieldValueWords(valueAt(document, pathOf(path))),
  }));
