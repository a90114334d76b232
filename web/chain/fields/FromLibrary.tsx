import { commandFrom, partOfAxis, sameJson, type AxisDocument } from '@kavrid/contract';
import { useAxis } from '../../member/useAxis.ts';
import { LibraryChoice } from '../../library/LibraryChoice.tsx';
import { useEdit } from '../../member/memberContext.ts';

type AxisShelf = 'motor' | 'drive' | 'controller' | 'cable';

/** Takes the data of a library entry into the axis, and what it knows of the command. */
export function FromLibrary({ shelf }: { readonly shelf: AxisShelf }) {
  const { document } = useAxis();
  const edit = useEdit();
  return (
    <LibraryChoice<AxisDocument[AxisShelf]>
      shelf={shelf}
      now={document[shelf]}
      partOf={({ id, version, item }) => partOfAxis(item, { id, version })[shelf]}
      take={(part, { item }) => {
        edit([shelf], part);
        const end = item.shelf === 'controller' || item.shelf === 'drive' ? { [item.shelf]: item.entry } : {};
        const command = commandFrom(document.command, end);
        if (!sameJson(command, document.command)) edit(['command'], command);
      }}
    />
  );
}
