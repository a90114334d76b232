import { commandFrom, partOfAxis, sameJson, type LibraryKind } from '@kavrid/contract';
import { Button } from '@mui/material';
import { useAxis, useEdit } from '../../axis/axisContext.ts';
import { useLibraryQuery } from '../../store/api.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';

const ownData = 'typed here';

/** Takes the data of a library entry into the axis; they can be changed there, and it is shown when they were. */
export function FromLibrary({ shelf }: { readonly shelf: LibraryKind }) {
  const { document } = useAxis();
  const { data } = useLibraryQuery({ shelf, search: '', page: 0, size: 200 });
  const edit = useEdit();
  const now = document[shelf];
  const partOf = (id: string) => {
    const record = data?.items.find((each) => each.id === id);
    return record && partOfAxis(record.item, { id, version: record.version })?.[shelf];
  };
  const entries = (data?.items ?? []).filter(({ id }) => partOf(id) !== undefined);
  const part = now.entry && partOf(now.entry.id);
  const isNewer = part?.entry && now.entry && part.entry.version > now.entry.version;
  const isChanged = part && !isNewer && !sameJson(part, now);
  const label = now.entry && !part ? `${now.name} (no longer in the library)` : `${now.name} (${ownData})`;
  return (
    <>
      <ChoiceField
        label="Kind, from the library"
        value={part ? (now.entry?.id ?? ownData) : ownData}
        choices={[
          ...(part ? [] : [{ value: ownData, label }]),
          ...entries.map(({ id, item }) => ({ value: id, label: item.entry.name })),
        ]}
        onChange={(id) => {
          const chosen = partOf(id);
          if (chosen) edit([shelf], chosen);
          const item = data?.items.find((each) => each.id === id)?.item;
          const end = item?.shelf === 'controller' || item?.shelf === 'drive' ? { [item.shelf]: item.entry } : {};
          const command = commandFrom(document.command, end);
          if (!sameJson(command, document.command)) edit(['command'], command);
        }}
        {...(isChanged ? { help: 'Changed here since it was taken from the library.' } : {})}
      />
      {isNewer && (
        <Button variant="outlined" color="warning" onClick={() => edit([shelf], part)}>
          Newer in the library: take it over
        </Button>
      )}
    </>
  );
}
