import { useMember, type SpindleOnScreen } from '../member/memberContext.ts';

/** The spindle on screen. @throws Error outside its layout. */
export function useSpindle(): SpindleOnScreen {
  const member = useMember();
  if (member.document.kind !== 'spindle') throw new Error('No spindle is open here.');
  return member as SpindleOnScreen;
}
