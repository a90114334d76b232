import { isSpindleOnScreen, useMember, type SpindleOnScreen } from './memberContext.ts';

/** The spindle on screen. @throws Error outside its layout. */
export function useSpindle(): SpindleOnScreen {
  const member = useMember();
  if (!isSpindleOnScreen(member)) throw new Error('No spindle is open here.');
  return member;
}
