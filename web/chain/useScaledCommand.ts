import type { ScaledCommandDocument } from '@kavrid/contract';
import type { ScaledCommand } from '@kavrid/core/chain';
import { useAxis } from '../member/useAxis.ts';

/** The analog or PWM command of the axis on screen, as typed and as read. @throws Error where there is none */
export function useScaledCommand(): { readonly typed: ScaledCommandDocument; readonly command: ScaledCommand } {
  const { document, computation } = useAxis();
  const [typed, command] = [document.command, computation.input.command];
  if (!('from' in typed) || !('range' in command)) throw new Error('The command is no scaled signal.');
  return { typed, command };
}
