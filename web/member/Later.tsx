import { useDeferredValue, type ReactNode } from 'react';
import { MemberContext, useMember } from './memberContext.ts';

/** What is in it follows a frame after the numbers, so that typing is never held up by it. */
export function Later({ children }: { readonly children: ReactNode }) {
  const later = useDeferredValue(useMember());
  return <MemberContext value={later}>{children}</MemberContext>;
}
