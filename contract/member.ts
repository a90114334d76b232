import { z } from 'zod';
import { axisSchema } from './checkedAxis.ts';
import { spindleSchema } from './checkedSpindle.ts';
import type { AxisDocument } from './documents.ts';
import type { SpindleDocument } from './spindleDocument.ts';

/** What a machine is made of: its axes and its spindles, kept alike. */
export const memberSchema = z.discriminatedUnion('kind', [axisSchema, spindleSchema]);

/** Every kind of member. */
export interface MemberByKind {
  readonly axis: AxisDocument;
  readonly spindle: SpindleDocument;
}
export type MemberKind = keyof MemberByKind;
export type MemberDocument = MemberByKind[MemberKind];

/** A function for each kind of member. */
type ByKind<T> = { readonly [K in MemberKind]: (member: MemberByKind[K]) => T };

const callFor = <K extends MemberKind, T>(kind: K, member: MemberByKind[K], by: ByKind<T>): T => by[kind](member);

/** Calls the function for the kind of a member. The compiler names a kind that has none. */
export const byKind = <T>(member: MemberDocument, by: ByKind<T>): T => callFor(member.kind, member, by);

/** A member of a kind, with its article. */
export const memberNouns: Readonly<Record<MemberKind, string>> = { axis: 'an axis', spindle: 'a spindle' };

export const isAxis = (member: MemberDocument): member is AxisDocument => member.kind === 'axis';

/** Those of the members that are axes, and those that are spindles. */
export const axesAmong = (members: readonly { readonly document: MemberDocument }[]): readonly AxisDocument[] =>
  members.map(({ document }) => document).filter(isAxis);
export const spindlesAmong = (members: readonly { readonly document: MemberDocument }[]): readonly SpindleDocument[] =>
  members.map(({ document }) => document).filter((document) => document.kind === 'spindle');
