import type { AxisUnit } from '@kavrid/core/chain';
import { parseQuantity, type Exact } from '@kavrid/core/quantity';
import { known, unknown, type Outcome } from '@kavrid/core/sheet';
import { ruleFor, type RuleName } from '../rules.ts';

/** A field whose text cannot be read. */
export interface FieldProblem {
  /** JSON pointer into the document. */
  readonly path: string;
  readonly message: string;
}

export type ReadText = (path: string, label: string, value: string, rule: RuleName) => Outcome<Exact>;
export type ReadNumber = (path: string, label: string, value: number | null) => Outcome<number>;

/** Reads fields of a document and notes those that cannot be read. An empty field is unknown. */
export function fieldReader(axisUnit: AxisUnit): {
  readonly problems: FieldProblem[];
  readonly text: ReadText;
  readonly number: ReadNumber;
} {
  const problems: FieldProblem[] = [];
  return {
    problems,
    text: (path, label, value, rule) => {
      const parsed = parseQuantity(value, ruleFor(rule, axisUnit));
      switch (parsed.kind) {
        case 'value':
          return known(parsed.value);
        case 'empty':
          return unknown(`${label} has not been entered`, path);
        case 'error':
          problems.push({ path, message: parsed.message });
          return unknown(`${label} cannot be read`, path);
      }
    },
    number: (path, label, value) => (value === null ? unknown(`${label} has not been entered`, path) : known(value)),
  };
}

/** A JSON pointer as the path of an issue. */
export const problemPath = (pointer: string): (string | number)[] =>
  pointer
    .slice(1)
    .split('/')
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part));
