import { fieldValueWords, fieldWords } from './changes/changeWords.ts';
import { pathOf, pointerOf, valueAt, withValueAt, type DocumentPath } from './changes/documentPath.ts';
import type { MemberDocument } from './member.ts';
import { memberInputOf } from './toCore/memberInputOf.ts';

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

/** The texts that are still about a field once another value has been put at a path: those at it or within it are not. */
export function unreadBeside(unread: MemberDocument['unread'], path: DocumentPath): MemberDocument['unread'] {
  const pointer = pointerOf(path);
  const entries = Object.entries(unread);
  const left = entries.filter(([key]) => key !== pointer && !key.startsWith(`${pointer}/`));
  return left.length === entries.length ? unread : Object.fromEntries(left);
}

/**
 * A document that can be saved: every text that cannot be read stands among the unread ones, and its field has the last
 * valid value again, or is empty.
 * @param base the last state that was valid
 */
export function withUnread<T extends MemberDocument>(document: T, base: MemberDocument): T {
  let now: T = document;
  let unread: MemberDocument['unread'] = document.unread;
  for (const { path } of memberInputOf(document).problems) {
    const at = pathOf(path);
    const text = valueAt(now, at);
    if (typeof text !== 'string') continue;
    const before = valueAt(base, at);
    now = withValueAt(now, at, typeof before === 'string' && before !== text ? before : '');
    unread = { ...unread, [path]: text.slice(0, 120) };
  }
  return unread === document.unread ? now : withValueAt(now, ['unread'], unread);
}
