import { partOfSpindle, type SpindleDocument } from '@kavrid/contract';
import { LibraryChoice } from '../../library/LibraryChoice.tsx';
import { useEdit } from '../../member/memberContext.ts';
import { useSpindle } from '../../member/useSpindle.ts';

const partNames = { 'spindle motor': 'motor', 'spindle drive': 'drive', controller: 'controller' } as const;
type SpindleShelf = keyof typeof partNames;

/** Takes the data of a library entry into the spindle. */
export function SpindleFromLibrary({ shelf }: { readonly shelf: SpindleShelf }) {
  const { document } = useSpindle();
  const edit = useEdit();
  const part = partNames[shelf];
  return (
    <LibraryChoice<SpindleDocument[(typeof partNames)[SpindleShelf]]>
      shelf={shelf}
      now={document[part]}
      partOf={({ id, version, item }) => partOfSpindle(item, { id, version })[part]}
      take={(taken) => edit([part], taken)}
    />
  );
}
