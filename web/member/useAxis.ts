import { isSpindleOnScreen, useMember, type AxisOnScreen } from './memberContext.ts';

/** The axis on screen. @throws Error outside its layout. */
export function useAxis(): AxisOnScreen {
  const member = useMember();
  if (isSpindleOnScreen(member)) throw new Error('No axis is open here.');
  return member;
}
