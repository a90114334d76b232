import { formatNumber } from '@kavrid/core/quantity';
import type { Change } from './changesBetween.ts';
import type { DocumentPath } from './documentPath.ts';

/** Groups whose name says nothing that their fields do not say. */
const silent: ReadonlySet<string> = new Set(['settings', 'motion', 'load']);
const own: Readonly<Record<string, string>> = {
  jogSpeed: 'jog speed',
  plusEnd: 'plus end',
  testMove: 'test move',
  numeratorMax: 'largest numerator',
  denominatorMax: 'largest denominator',
  ratioMin: 'smallest ratio',
  ratioMax: 'largest ratio',
  profileId: 'register map',
  unread: 'text that cannot be read',
};

const spaced = (name: string) =>
  own[name] ?? name.replace(/([a-z])([A-Z])/g, (_, a: string, b: string) => `${a} ${b.toLowerCase()}`);

/** What a field is called in a summary: `gear numerator`, `stage 2 teeth`, `position gain`. */
export function fieldWords(path: DocumentPath): string {
  const words: string[] = [];
  path.forEach((part, index) => {
    if (typeof part === 'number') {
      const list = words.pop() ?? 'entry';
      words.push(`${list.replace(/s$/, '')} ${part + 1}`);
    } else if (index < path.length - 1 && silent.has(part)) return;
    else words.push(spaced(part));
  });
  return words.join(' ') || 'everything';
}

const longest = 40;
const cut = (text: string) => (text.length > longest ? `${text.slice(0, longest - 1)}…` : text);

/** A value of a document in words, short enough for a line. */
export function fieldValueWords(value: unknown): string {
  if (value === null || value === undefined || value === '') return 'empty';
  if (typeof value === 'number') return formatNumber(value, 9);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'string') return cut(value.replace(/\s+/g, ' '));
  if (Array.isArray(value)) {
    const names = value.filter((each): each is string => typeof each === 'string');
    return names.length === value.length ? cut(names.join(', ')) || 'none' : `${value.length} in all`;
  }
  const { kind, name, id } = value as { kind?: unknown; name?: unknown; id?: unknown };
  return cut(String(kind ?? name ?? id ?? 'other values'));
}

export const changeWords = ({ path, before, after }: Change): string =>
  `${fieldWords(path)} ${fieldValueWords(before)} → ${fieldValueWords(after)}`;

/** What changed in a save, for the list of revisions: `gear numerator 8192 → 12288; 2 more`. At most 240 characters. */
export function summaryOf(changes: readonly Change[]): string {
  if (changes.length === 0) return 'nothing changed';
  const shown = changes.slice(0, 3).map(changeWords);
  if (changes.length > 3) shown.push(`${changes.length - 3} more`);
  const text = shown.join('; ');
  return text.length > 240 ? `${text.slice(0, 239)}…` : text;
}
