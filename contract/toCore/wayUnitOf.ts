import { byKind, type MemberDocument } from '../member.ts';
import { axisUnitOf } from './axisInputOf.ts';

/** The unit in which a member’s way is recorded; empty where it has none. */
export const wayUnitOf = (member: MemberDocument): string =>
  byKind<string>(member, { axis: axisUnitOf, spindle: () => '' });
