import type { Wire, WireEnd, WireEnds } from './wires.ts';

/** What a terminal can be used for, as its manual says. */
export const terminalUses = [
  'any input',
  'any output',
  'pulse command',
  'analog command',
  'enable',
  'alarm',
  'limit',
  'home',
  'brake',
  'safe torque off',
  'encoder',
  'common',
] as const;
export type TerminalUse = (typeof terminalUses)[number];

/** Which way current flows there while it is active. */
export const terminalCurrents = ['either', 'sinking', 'sourcing', 'contact', 'not known'] as const;

/** A terminal of a drive or a controller. */
export interface Terminal {
  readonly name: string;
  readonly use: TerminalUse;
  /** The device cannot be enabled until it is wired, or bridged. */
  readonly isNeeded: boolean;
}

/** What a wire is for, by its key. */
function useOf({ key }: Wire): TerminalUse {
  if (key.includes('common')) return 'common';
  if (key.startsWith('pulse')) return 'pulse command';
  if (key.startsWith('analog') || key.startsWith('pwm')) return 'analog command';
  if (key.endsWith('limit')) return 'limit';
  if (key.startsWith('safe torque off')) return 'safe torque off';
  if (key.startsWith('encoder')) return 'encoder';
  return key === 'enable' || key === 'alarm' || key === 'home' || key === 'brake' ? key : 'any input';
}

/** What is wrong with the terminals of a device. */
export type TerminalProblem =
  | { readonly kind: 'not there'; readonly device: WireEnd; readonly terminal: string; readonly wire: string }
  | {
      readonly kind: 'other use';
      readonly device: WireEnd;
      readonly terminal: string;
      readonly wire: string;
      readonly use: TerminalUse;
    }
  | { readonly kind: 'needed'; readonly device: WireEnd; readonly terminal: string; readonly use: TerminalUse };

const alike = (a: string, b: string): boolean => a.trim().toUpperCase() === b.trim().toUpperCase();

/**
 * Compares the wires of an axis with the terminals that a device has.
 * @param terminals as its library entry lists them; without any nothing is said
 */
export function terminalProblems(
  device: 'drive' | 'controller',
  terminals: readonly Terminal[],
  wires: readonly Wire[],
  ends: Readonly<Record<string, WireEnds>>,
): readonly TerminalProblem[] {
  if (terminals.length === 0) return [];
  const used = wires.flatMap((wire) =>
    (['from', 'to'] as const).flatMap((end) => {
      const terminal = ends[wire.key]?.[end].trim() ?? '';
      return wire[end] === device && terminal !== '' ? [{ wire, terminal, isInput: end === 'to' }] : [];
    }),
  );
  const wrong = used.flatMap(({ wire, terminal, isInput }): readonly TerminalProblem[] => {
    const shared = { device, terminal, wire: wire.label };
    const found = terminals.find(({ name }) => alike(name, terminal));
    if (!found) return [{ kind: 'not there', ...shared }];
    const fits = found.use === useOf(wire) || found.use === (isInput ? 'any input' : 'any output');
    return fits ? [] : [{ kind: 'other use', ...shared, use: found.use }];
  });
  const isWired = (name: string) => used.some(({ terminal }) => alike(name, terminal));
  // Before the first terminal has been entered nobody knows what is wired.
  const open = used.length === 0 ? [] : terminals.filter(({ name, isNeeded }) => isNeeded && !isWired(name));
  return [...wrong, ...open.map(({ name, use }) => ({ kind: 'needed', device, terminal: name, use }) as const)];
}
