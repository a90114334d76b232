import { pathOf, valueAt, withValueAt } from './changes/documentPath.ts';
import type { MemberDocument } from './member.ts';
import { memberInputOf } from './toCore/memberInputOf.ts';

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
