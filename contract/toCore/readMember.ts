import type { MemberDocument } from '../member.ts';
import type { FieldProblem } from './fieldReader.ts';
import { readAxis } from './readAxis.ts';
import { readSpindle } from './readSpindle.ts';

/** What of an axis or spindle cannot be read. */
export const readMember = (document: MemberDocument): { readonly problems: readonly FieldProblem[] } =>
  document.kind === 'spindle' ? readSpindle(document) : readAxis(document);
