import {
  changesBetween,
  entryProblems,
  entrySchemas,
  fieldWords,
  mergeDocuments,
  pathOf,
  sameJson,
  withValueAt,
  type EntryRecord,
  type LibraryEntry,
} from '@kavrid/contract';
import { Alert, Box, Button, Link, Typography } from '@mui/material';
import { useState } from 'react';
import { Link as RouterLink, useNavigate } from 'react-router';
import { memberPath } from '../member/memberPath.ts';
import { skipToken } from '@reduxjs/toolkit/query';
import {
  api,
  useCreateEntryMutation,
  useDeleteEntryMutation,
  useEntryEffectsMutation,
  useEntryUsesQuery,
  useReadEntryQuery,
  useSaveEntryMutation,
} from '../store/api.ts';
import { useAppDispatch } from '../store/store.ts';
import { Failed, Loading, reasonOf } from '../ui/Loading.tsx';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { useKept } from '../ui/useKept.ts';
import { EffectsDialog } from './EffectsDialog.tsx';
import { EntryFields } from './EntryFields.tsx';

/** One entry of the library: read from the server, edited here, saved with a look at the axes that came from it. */
export function EntryPanel({ id }: { readonly id: string }) {
  const { data, error, refetch } = useReadEntryQuery(id);
  if (error) return <Failed what="The entry" because={reasonOf(error)} retry={() => void refetch()} />;
  if (!data) return <Loading what="the entry" />;
  return <Editor key={data.id} record={data} />;
}

interface Edited {
  /** What was typed and cannot be taken, by field. */
  readonly unread?: Readonly<Record<string, string>>;
  readonly base: LibraryEntry;
  readonly version: number;
  readonly item: LibraryEntry;
}

/** What is wrong with an entry as typed, a line each. */
const problemsOf = (item: LibraryEntry): readonly string[] =>
  entrySchemas[item.shelf]
    .safeParse(item.entry)
    .error?.issues.map((issue) => `${fieldWords(issue.path as string[])}: ${issue.message}`) ??
  entryProblems(item).map(({ pointer, message }) => `${fieldWords(pathOf(pointer))}: ${message}`);

const without = (unread: Readonly<Record<string, string>>, field: string) =>
  Object.fromEntries(Object.entries(unread).filter(([each]) => each !== field));

function Editor({ record }: { readonly record: EntryRecord }) {
  const fromRecord: Edited = { base: record.item, version: record.version, item: record.item };
  const [kept, setKept, forget] = useKept<Edited>(`entry.${record.id}`, fromRecord);
  const isEdited = !sameJson(kept.item, kept.base) || Object.keys(kept.unread ?? {}).length > 0;
  // Without edits of its own the editor follows what others save.
  const edited = isEdited ? kept : fromRecord;
  const { base, version, item, unread = {} } = edited;
  const [note, setNote] = useState<string>();
  const [asking, setAsking] = useState(false);
  const [effects, { data: shownEffects }] = useEntryEffectsMutation();
  const [save, { error: saveError, isLoading }] = useSaveEntryMutation();
  const [create] = useCreateEntryMutation();
  const [remove, { error: removeError }] = useDeleteEntryMutation();
  const { data: uses = [] } = useEntryUsesQuery(record.usedBy > 0 ? record.id : skipToken);
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const problems = isEdited
    ? [
        ...Object.entries(unread).map(([field, text]) => `${fieldWords(field.split('/'))}: “${text}” cannot be read.`),
        ...problemsOf(item),
      ]
    : [];

  const send = async (axes: readonly { readonly id: string; readonly version: number }[]) => {
    const saved = await save({ id: record.id, version, item, axes: [...axes] });
    if (saved.data) {
      forget();
      setKept({ base: saved.data.item, version: saved.data.version, item: saved.data.item });
      forget();
      setAsking(false);
      setNote(undefined);
      return;
    }
    const { current } = (saved.error as { data?: { current?: EntryRecord } }).data ?? {};
    if (!current) return;
    const merge = mergeDocuments(base, item, current.item);
    const merged = merge.conflicts.reduce((at, { path, mine }) => withValueAt(at, path, mine), merge.document);
    setKept({ base: current.item, version: current.version, item: merged });
    setAsking(false);
    const both = merge.conflicts.map(({ path }) => fieldWords(path.slice(1))).join(', ');
    setNote(
      `Someone else has saved in the meantime. The edits are combined here${both ? `; where both edited a field, yours is shown: ${both}` : ''}. Check, and save again.`,
    );
  };
  const begin = async () => {
    if (record.usedBy === 0) return send([]);
    const found = await effects({ id: record.id, item });
    if (found.data) setAsking(true);
  };
  const duplicate = async () => {
    const name = `${item.entry.name} (copy)`.slice(0, 80);
    const made = await create({ ...item, entry: { ...item.entry, name } } as LibraryEntry);
    if (made.data) await navigate(`/library/${made.data.id}?shelf=${item.shelf}`);
  };
  return (
    <Panel
      title={item.entry.name || 'Entry'}
      aside={
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <Typography role="status" variant="body2" color={isEdited ? 'warning.main' : 'text.secondary'}>
            {isEdited ? 'Kept only in this window until saved' : `Version ${record.version}`}
          </Typography>
          {isEdited && (
            <Button
              onClick={() => {
                setKept(fromRecord);
                forget();
                setNote(undefined);
              }}
            >
              Discard my edits
            </Button>
          )}
          <Button onClick={() => void duplicate()}>Duplicate</Button>
          <Button
            color="error"
            disabled={record.usedBy > 0}
            title={record.usedBy > 0 ? 'It is in use; see the list below.' : ''}
            onClick={() => {
              if (window.confirm(`Delete ${record.item.entry.name} from the library?`))
                void remove(record.id).then((done) => !done.error && navigate(`/library?shelf=${item.shelf}`));
            }}
          >
            Delete
          </Button>
          <Button
            variant="contained"
            disabled={!isEdited || problems.length > 0 || isLoading}
            onClick={() => void begin()}
          >
            Save
          </Button>
        </Box>
      }
      style={windowHigh}
    >
      {note && <Alert severity="warning">{note}</Alert>}
      {(saveError || removeError) && !note && <Alert severity="error">{reasonOf(saveError ?? removeError)}</Alert>}
      {problems.length > 0 && (
        <Alert severity="warning" sx={{ mb: 1 }}>
          It cannot be saved yet. {problems.slice(0, 5).join(' ')}
        </Alert>
      )}
      <EntryFields
        item={item}
        unread={unread}
        change={(path, value) =>
          setKept({
            base,
            version,
            item: withValueAt(item, ['entry', ...path], value),
            unread: without(unread, path.join('/')),
          })
        }
        keepUnread={(field, text, before) =>
          setKept({
            base,
            version,
            item: text === undefined ? item : withValueAt(item, ['entry', ...field.split('/')], before),
            unread: text === undefined ? without(unread, field) : { ...unread, [field]: text },
          })
        }
      />
      <Typography variant="h3" sx={{ mt: 1.5 }}>
        Used by
      </Typography>
      {uses.length === 0 ? (
        <Typography variant="body2" color="text.secondary">
          No axis came from this entry.
        </Typography>
      ) : (
        <Box component="ul" aria-label="Used by" sx={{ m: 0, pl: 2.5, fontSize: 13 }}>
          {uses.map((use) => (
            <li key={use.memberId}>
              <Link component={RouterLink} to={memberPath(use.machineId, use.memberId, use.kind)}>
                {use.machineName}: {use.axisName}
              </Link>
              {use.changes.length > 0 && ` — differs in ${use.changes.map(({ path }) => fieldWords(path)).join(', ')}`}
            </li>
          ))}
        </Box>
      )}
      {asking && shownEffects && (
        <EffectsDialog
          effects={shownEffects}
          changes={changesBetween(base, item)}
          busy={isLoading}
          save={(axes) => void send(axes)}
          close={() => {
            setAsking(false);
            dispatch(api.util.invalidateTags(['library']));
          }}
        />
      )}
    </Panel>
  );
}
