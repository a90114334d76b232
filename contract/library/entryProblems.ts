import { parseQuantity, toNumber } from '@kavrid/core/quantity';
import { ruleFor, type RuleName } from '../rules.ts';
import type { LibraryEntry } from './libraryEntry.ts';

/** What of an entry cannot be used as it is written, beyond the form of its fields. */
export interface EntryProblem {
  /** JSON pointer into the entry */
  readonly pointer: string;
  readonly message: string;
}

/** Texts of an entry that cannot be read. Whoever takes it over would get them. */
export function entryProblems({ shelf, entry }: LibraryEntry): readonly EntryProblem[] {
  switch (shelf) {
    case 'motor':
      return entry.form === 'linear'
        ? problem('/countsPerMillimetre', entry.countsPerMillimetre, 'countsPerMillimetre')
        : entry.encoder.kind === 'lines'
          ? problem('/encoder/lines', entry.encoder.lines, 'encoderLines')
          : problem('/encoder/bits', entry.encoder.bits, 'encoderBits');
    case 'drive': {
      const { numeratorMax, denominatorMax, ratioMin, ratioMax, switchTable } = entry;
      return [
        ...problem('/numeratorMax', numeratorMax, 'gearRegister'),
        ...problem('/denominatorMax', denominatorMax, 'gearRegister'),
        ...problem('/ratioMin', ratioMin, 'ratioBound'),
        ...problem('/ratioMax', ratioMax, 'ratioBound'),
        ...((numberOf(ratioMin) ?? 0) > (numberOf(ratioMax) ?? Infinity)
          ? [{ pointer: '/ratioMax', message: 'The largest ratio must not be below the smallest.' }]
          : []),
        ...switchTable.flatMap(({ switches, value }, index) => [
          ...(value.trim() === ''
            ? [{ pointer: `/switchTable/${index}/value`, message: 'Enter the pulses per revolution.' }]
            : problem(`/switchTable/${index}/value`, value, 'gearRegister')),
          ...(switchTable.findIndex((row) => row.switches === switches) < index
            ? [
                {
                  pointer: `/switchTable/${index}/switches`,
                  message: `The switch position “${switches}” occurs twice.`,
                },
              ]
            : []),
        ]),
      ];
    }
    case 'controller':
    case 'cable':
    case 'spindle motor':
    case 'spindle drive':
      return [];
  }
}

function problem(pointer: string, text: string, rule: RuleName): readonly EntryProblem[] {
  const parsed = parseQuantity(text, ruleFor(rule, 'mm'));
  return parsed.kind === 'error' ? [{ pointer, message: parsed.message }] : [];
}

const numberOf = (text: string): number | undefined => {
  const parsed = parseQuantity(text, ruleFor('ratioBound', 'mm'));
  return parsed.kind === 'value' ? toNumber(parsed.value) : undefined;
};
