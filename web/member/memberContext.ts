import type {
  AxisDocument,
  DocumentPath,
  Frozen,
  MemberDocument,
  MemberKind,
  PathTo,
  SpindleDocument,
  ValueAt,
} from '@kavrid/contract';
import type { AxisWording } from '@kavrid/core/chain';
import { createContext, useContext } from 'react';
import type { AxisComputation } from './axisComputation.ts';
import type { SpindleComputation } from './spindleComputation.ts';
import { edited, type Draft } from '../store/drafts.ts';
import { useAppDispatch } from '../store/store.ts';

interface OnScreen<Document, Computation> {
  readonly memberId: string;
  readonly draft: Draft;
  readonly document: Document;
  readonly computation: Computation;
}
export type AxisOnScreen = OnScreen<AxisDocument, AxisComputation>;
export type SpindleOnScreen = OnScreen<SpindleDocument, SpindleComputation>;

/** The axis or spindle on screen, with all that follows from it. */
export const MemberContext = createContext<AxisOnScreen | SpindleOnScreen | undefined>(undefined);

interface OnScreenByKind {
  readonly axis: AxisOnScreen;
  readonly spindle: SpindleOnScreen;
}

/** Does with what is on screen what is done with its kind. */
export const byKindOnScreen = <T>(
  member: AxisOnScreen | SpindleOnScreen,
  by: { readonly [K in MemberKind]: (member: OnScreenByKind[K]) => T },
): T => (isSpindleOnScreen(member) ? by.spindle(member) : by.axis(member));

export const isSpindleOnScreen = (member: AxisOnScreen | SpindleOnScreen): member is SpindleOnScreen =>
  member.document.kind === 'spindle';

/** @throws Error where neither is open */
export function useMember(): AxisOnScreen | SpindleOnScreen {
  const value = useContext(MemberContext);
  if (!value) throw new Error('No axis or spindle is open here.');
  return value;
}

/** A path of what is on screen that leads to a value of a type. */
export type MemberPath<Value = unknown> = PathTo<MemberDocument, Value>;

/** Changes one field of what is on screen. */
export function useEdit(): <const Path extends MemberPath>(
  path: Path,
  value: Frozen<ValueAt<MemberDocument, Path>>,
) => void {
  return useUncheckedEdit();
}

/** The same for a field whose props have been checked to go together. */
export function useUncheckedEdit(): (path: DocumentPath, value: unknown) => void {
  const { memberId } = useMember();
  const dispatch = useAppDispatch();
  return (path, value) => dispatch(edited({ memberId, path, value }));
}

const spindleWording: AxisWording = { axisUnit: 'mm', motorForm: 'rotary', command: undefined };
/** The units of its fields: lengths of a spindle are in mm. */
export const wordingOf = ({ computation: { input } }: AxisOnScreen | SpindleOnScreen): AxisWording =>
  'axisUnit' in input ? input : spindleWording;
