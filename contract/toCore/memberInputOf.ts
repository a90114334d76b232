import { byKind, type MemberDocument } from '../member.ts';
import type { FieldProblem } from './fieldReader.ts';
import { axisInputOf } from './axisInputOf.ts';
import { spindleInputOf } from './spindleInputOf.ts';

/** What of an axis or spindle cannot be read. */
export const memberInputOf = (document: MemberDocument): { readonly problems: readonly FieldProblem[] } =>
  byKind<{ readonly problems: readonly FieldProblem[] }>(document, { axis: axisInputOf, spindle: spindleInputOf });
