import type { Drill } from '../guided/index.ts';
import type { SessionState } from './sessionState.ts';

/** The jog that the step under way asks for: its directions and its speed; undefined: there is none. */
export function guidedJog({ guided }: SessionState): Extract<Drill, { readonly kind: 'jog' }> | undefined {
  return guided?.phase === 'ready' && guided.drill?.kind === 'jog' ? guided.drill : undefined;
}
