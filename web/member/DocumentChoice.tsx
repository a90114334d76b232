import { pointerOf } from '@kavrid/contract';
import { ChoiceField, type ChoiceFieldProps } from '../ui/ChoiceField.tsx';
import { useUncheckedEdit, type MemberPath } from './memberContext.ts';

/** One of a few, kept at a path of the document. */
export function DocumentChoice<T extends string | number>({
  path,
  ...rest
}: Omit<ChoiceFieldProps<T>, 'onChange' | 'field'> & { readonly path: MemberPath<T> }) {
  const edit = useUncheckedEdit();
  return <ChoiceField {...rest} field={pointerOf(path)} onChange={(value) => edit(path, value)} />;
}
