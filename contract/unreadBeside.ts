import { pointerOf, type DocumentPath } from './changes/documentPath.ts';
import type { MemberDocument } from './member.ts';

/** The texts that are still about a field once another value has been put at a path: those at it or within it are not. */
export function unreadBeside(unread: MemberDocument['unread'], path: DocumentPath): MemberDocument['unread'] {
  const pointer = pointerOf(path);
  const entries = Object.entries(unread);
  const left = entries.filter(([key]) => key !== pointer && !key.startsWith(`${pointer}/`));
  return left.length === entries.length ? unread : Object.fromEntries(left);
}
