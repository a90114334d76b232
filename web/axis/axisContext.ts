import type { AxisDocument, DocumentPath } from '@kavrid/contract';
import { createContext, useContext } from 'react';
import { useAppDispatch } from '../store/store.ts';
import { edited, type Draft } from '../store/drafts.ts';
import type { AxisComputation } from './axisComputation.ts';

export interface AxisContextValue {
  readonly axisId: string;
  readonly draft: Draft;
  readonly document: AxisDocument;
  readonly computation: AxisComputation;
}

export const AxisContext = createContext<AxisContextValue | undefined>(undefined);

/** The axis on screen. @throws Error outside its layout. */
export function useAxis(): AxisContextValue {
  const value = useContext(AxisContext);
  if (!value) throw new Error('No axis is open here.');
  return value;
}

/** Changes one field of the axis on screen. */
export function useEdit(): (path: DocumentPath, value: unknown) => void {
  const { axisId } = useAxis();
  const dispatch = useAppDispatch();
  return (path, value) => dispatch(edited({ axisId, path, value }));
}
