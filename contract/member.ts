import { z } from 'zod';
import { axisSchema } from './checkedAxis.ts';
import { spindleSchema } from './checkedSpindle.ts';
import type { AxisDocument } from './documents.ts';
import type { SpindleDocument } from './spindleDocument.ts';

/** What a machine is made of: its axes and its spindles, kept alike. */
export const memberSchema = z.discriminatedUnion('kind', [axisSchema, spindleSchema]);
export type MemberDocument = AxisDocument | SpindleDocument;

export const isAxis = (member: MemberDocument): member is AxisDocument => member.kind === 'axis';

/** Those of the members that are axes, and those that are spindles. */
export const axesAmong = (members: readonly { readonly document: MemberDocument }[]): readonly AxisDocument[] =>
  members.map(({ document }) => document).filter(isAxis);
export const spindlesAmong = (members: readonly { readonly document: MemberDocument }[]): readonly SpindleDocument[] =>
  members.map(({ document }) => document).filter((document) => document.kind === 'spindle');
