import type { Revision } from '@kavrid/contract';
import {
  Alert,
  Box,
  Button,
  FormControlLabel,
  Radio,
  Switch,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { useMember } from '../member/memberContext.ts';
import { useNameRevisionMutation, useRestoreRevisionMutation, useRevisionsQuery } from '../store/api.ts';
import { loaded } from '../store/drafts.ts';
import { saveAxis } from '../store/saving.ts';
import { useAppDispatch } from '../store/store.ts';
import { Failed, Loading, reasonOf } from '../ui/Loading.tsx';
import { NameDialog } from '../ui/NameDialog.tsx';
import { Pager } from '../ui/Pager.tsx';
import { Panel } from '../ui/Panel.tsx';
import { Comparison } from './Comparison.tsx';

const size = 20;

/** Every save of the axis or spindle: compared with any other, named, restored. */
export function RevisionsView() {
  const { memberId, draft } = useMember();
  const [page, setPage] = useState(0);
  const [named, setNamed] = useState(false);
  const { data, error, refetch } = useRevisionsQuery({ id: memberId, page, size, named });
  const [chosen, setChosen] = useState<{ readonly from?: number; readonly to?: number }>({});
  const [naming, setNaming] = useState<Revision>();
  const [giveName, { error: nameError }] = useNameRevisionMutation();
  if (error) return <Failed what="The revisions" because={reasonOf(error)} retry={() => void refetch()} />;
  if (!data) return <Loading what="the revisions" />;
  const to = chosen.to ?? draft.version;
  const from = chosen.from ?? data.items.find((each) => each.version < to)?.version ?? to;
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1.25fr) minmax(0, 1fr)', alignItems: 'start' }}>
      <Panel
        title="Revisions"
        aside={
          <FormControlLabel
            control={
              <Switch
                size="small"
                checked={named}
                onChange={(_, checked) => {
                  setNamed(checked);
                  setPage(0);
                }}
              />
            }
            label="named ones only"
          />
        }
      >
        {data.items.length === 0 ? (
          <Typography color="text.secondary">
            {named
              ? 'No revision has a name yet. Give one with “Name …”, such as “as shipped”.'
              : 'Nothing has been saved yet.'}
          </Typography>
        ) : (
          <Table size="small" aria-label="Revisions" sx={{ '& td': { fontSize: 12.5, verticalAlign: 'top' } }}>
            <TableHead>
              <TableRow>
                {['from', 'to', 'Version', 'Saved', 'What changed', 'Runs', 'Proofs', ''].map((title) => (
                  <TableCell key={title} sx={title === 'What changed' ? { width: '100%' } : {}}>
                    {title}
                  </TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {data.items.map((revision) => (
                <RevisionRow
                  key={revision.version}
                  revision={revision}
                  from={from}
                  to={to}
                  choose={(choice) => setChosen((now) => ({ ...now, ...choice }))}
                  name={() => setNaming(revision)}
                />
              ))}
            </TableBody>
          </Table>
        )}
        <Pager total={data.total} page={page} size={size} turn={setPage} />
      </Panel>
      <Comparison memberId={memberId} from={from} to={to} />
      {naming && (
        <NameDialog
          title={`Name of revision ${naming.version}`}
          submit="Give this name"
          initial={naming.name}
          help="Such as “as shipped”. An empty name removes it."
          mayBeEmpty
          error={nameError ? reasonOf(nameError) : undefined}
          onName={(name) =>
            void giveName({ id: memberId, version: naming.version, name }).then((done) => {
              if (!done.error) setNaming(undefined);
            })
          }
          close={() => setNaming(undefined)}
        />
      )}
    </Box>
  );
}

function RevisionRow(props: {
  readonly revision: Revision;
  readonly from: number;
  readonly to: number;
  readonly choose: (choice: { readonly from: number } | { readonly to: number }) => void;
  readonly name: () => void;
}) {
  const { memberId, draft } = useMember();
  const { revision, from, to, choose, name } = props;
  const [restore, { error, isLoading }] = useRestoreRevisionMutation();
  const dispatch = useAppDispatch();
  const { version } = revision;
  const isNewest = version === draft.version;
  const radio = (which: 'from' | 'to', checked: boolean) => (
    <TableCell padding="none">
      <Radio
        size="small"
        sx={{ p: 0.5 }}
        checked={checked}
        onChange={() => choose(which === 'from' ? { from: version } : { to: version })}
        slotProps={{ input: { 'aria-label': `Compare ${which} version ${version}` } }}
      />
    </TableCell>
  );
  const onRestore = async () => {
    // What is typed now becomes a revision first, so that it can be gone back to.
    await dispatch(saveAxis(memberId));
    const newest = dispatch((_, getState) => getState().drafts[memberId]?.version) ?? draft.version;
    const restored = await restore({ id: memberId, revision: version, version: newest });
    if (restored.data) dispatch(loaded({ record: restored.data }));
  };
  return (
    <TableRow hover selected={version === from || version === to}>
      {radio('from', version === from)}
      {radio('to', version === to)}
      <TableCell>{version}</TableCell>
      <TableCell sx={{ whiteSpace: 'nowrap' }}>
        {new Date(revision.at).toLocaleString()}
        <br />
        {revision.author || 'no name given'}
      </TableCell>
      <TableCell sx={{ overflowWrap: 'anywhere' }}>
        {revision.name && <strong>“{revision.name}” </strong>}
        {revision.summary}
        {error && (
          <Alert severity="error" sx={{ py: 0 }}>
            {reasonOf(error)}
          </Alert>
        )}
      </TableCell>
      <TableCell align="right">{revision.runs || ''}</TableCell>
      <TableCell align="right">{revision.proofs || ''}</TableCell>
      <TableCell padding="none">
        <Button onClick={name} sx={{ py: 0, whiteSpace: 'nowrap' }}>
          Name …
        </Button>
        {!isNewest && (
          <Button
            disabled={isLoading}
            sx={{ py: 0 }}
            onClick={() => void onRestore()}
            aria-label={`Restore version ${version}`}
          >
            Restore
          </Button>
        )}
      </TableCell>
    </TableRow>
  );
}
