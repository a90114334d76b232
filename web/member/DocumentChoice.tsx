import { pointerOf, type DocumentPath } from '@kavrid/contract';
import { ChoiceField, type ChoiceFieldProps } from '../ui/ChoiceField.tsx';
import { useEdit } from './memberContext.ts';

/** One of a few, kept at a path of the document. */
export function DocumentChoice<T extends string | number>({
  path,
  ...rest
}: Omit<ChoiceFieldProps<T>, 'onChange' | 'field'> & { readonly path: DocumentPath }) {
  const edit = useEdit();
  return <ChoiceField {...rest} field={pointerOf(path)} onChange={(value) => edit(path, value)} />;
}
