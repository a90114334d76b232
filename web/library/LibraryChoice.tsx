import { matchesPartNumber, sameJson, type EntryRecord, type LibraryKind } from '@kavrid/contract';
import { Box, Button, Link, TextField } from '@mui/material';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { useLibraryQuery } from '../store/api.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';

const ownData = 'typed here';

interface Part {
  readonly name: string;
  readonly entry: { readonly id: string; readonly version: number } | null;
}

/** Takes the data of a library entry into a part of an axis or spindle; they can be changed there, and it is shown when they were. */
export function LibraryChoice<P extends Part>(props: {
  readonly shelf: LibraryKind;
  readonly now: P;
  /** What an entry would make of the part; undefined where it does not fit. */
  readonly partOf: (record: EntryRecord) => P | undefined;
  readonly take: (part: P, record: EntryRecord) => void;
}) {
  const { shelf, now, partOf, take } = props;
  const [partNumber, setPartNumber] = useState<string>();
  const { data } = useLibraryQuery({ shelf, search: '', page: 0, size: 200 });
  const entries = (data?.items ?? []).flatMap((record) => {
    const part = partOf(record);
    return part ? [{ record, part }] : [];
  });
  const matching = entries.filter(({ record }) => matchesPartNumber(record.item.entry.partNumbers, partNumber ?? ''));
  const own = entries.find(({ record }) => record.id === now.entry?.id);
  const isNewer = own?.part.entry && now.entry && own.part.entry.version > now.entry.version;
  const isChanged = own && !isNewer && !sameJson(own.part, now);
  const label = !now.entry ? `${now.name} (${ownData})` : data ? `${now.name} (no longer in the library)` : now.name;
  return (
    <>
      <ChoiceField
        label="Model, from the library"
        value={own ? own.record.id : ownData}
        choices={[
          ...(own ? [] : [{ value: ownData, label }]),
          ...entries.map(({ record }) => ({ value: record.id, label: record.item.entry.name })),
        ]}
        onChange={(id) => {
          const chosen = entries.find(({ record }) => record.id === id);
          if (chosen) take(chosen.part, chosen.record);
        }}
        {...(isChanged ? { help: 'Changed here since it was taken from the library.' } : {})}
      />
      <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 1 }}>
        <Link
          component={RouterLink}
          to={own ? `/library/${own.record.id}?shelf=${shelf}` : `/library?shelf=${shelf}`}
          variant="body2"
        >
          {own ? 'Open this entry in the library' : 'Open the library'}
        </Link>
        {partNumber === undefined && (
          <Link component="button" type="button" variant="body2" onClick={() => setPartNumber('')}>
            By part number …
          </Link>
        )}
      </Box>
      {partNumber !== undefined && (
        <TextField
          label="Find by part number"
          autoFocus
          value={partNumber}
          helperText={partNumber !== '' && matching.length === 0 ? 'No entry is ordered under this number.' : undefined}
          onChange={({ target }) => setPartNumber(target.value)}
          slotProps={{ htmlInput: { maxLength: 60 } }}
        />
      )}
      {matching.map(({ record, part }) => (
        <Button
          key={record.id}
          variant="outlined"
          onClick={() => {
            take(part, record);
            setPartNumber(undefined);
          }}
        >
          Take {record.item.entry.name}
        </Button>
      ))}
      {isNewer && (
        <Button variant="outlined" color="warning" onClick={() => take(own.part, own.record)}>
          Newer in the library: update
        </Button>
      )}
    </>
  );
}
