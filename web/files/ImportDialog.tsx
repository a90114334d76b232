import { addressOf, type ImportState } from '@kavrid/contract';
import { Alert, Box, FormControlLabel, LinearProgress, Radio, RadioGroup, Typography } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../store/api.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { FileButton } from '../ui/FileButton.tsx';
import { FormDialog } from '../ui/FormDialog.tsx';
import { startImport } from './startImport.ts';

type How = 'keep both' | 'replace' | 'merge';

/** Brings a machine file in: it is read and checked first; only then it is chosen what becomes of it. */
export function ImportDialog({ close }: { readonly close: () => void }) {
  const [sent, setSent] = useState<number>();
  const [state, setState] = useState<ImportState>();
  const [failed, setFailed] = useState<string>();
  const [how, setHow] = useState<How>('merge');
  const [conflicts, setConflicts] = useState<'file' | 'database'>('database');
  const upload = useRef<{ readonly abort: () => void }>(undefined);
  const author = useAppSelector((all) => all.preferences.author);
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const isBusy = state?.phase === 'reading' || state?.phase === 'taking in';
  const id = state?.id;
  useEffect(() => {
    if (!isBusy || id === undefined) return;
    const timer = setInterval(() => {
      void fetch(`/api${addressOf('readImport', { id })}`)
        .then((answer) => answer.json() as Promise<ImportState>)
        .then((next) => setState(next))
        .catch(() => setFailed('The server does not respond.'));
    }, 200);
    return () => clearInterval(timer);
  }, [id, isBusy]);
  const give = (chosen: File) => {
    setFailed(undefined);
    setState(undefined);
    setSent(0);
    upload.current = startImport(chosen, { sent: setSent, ready: setState, failed: setFailed });
  };
  const leave = () => {
    upload.current?.abort();
    if (id !== undefined && state?.phase !== 'done')
      void fetch(`/api${addressOf('cancelImport', { id })}`, { method: 'DELETE' });
    close();
  };
  const take = async () => {
    if (state?.phase === 'done') {
      dispatch(api.util.invalidateTags(['machines', 'library', 'profiles']));
      await navigate(`/machines/${state.machineId ?? ''}`);
      close();
      return;
    }
    const answer = await fetch(`/api${addressOf('takeImport', { id: id ?? '' })}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ author, how: state?.existing ? how : 'keep both', conflicts }),
    });
    if (answer.ok) setState((await answer.json()) as ImportState);
    else setFailed(((await answer.json()) as { title: string }).title);
  };
  return (
    <FormDialog
      title="Import a machine"
      submit={state?.phase === 'done' ? 'Open the machine' : 'Import it'}
      disabled={state?.phase !== 'ready' && state?.phase !== 'done'}
      width="sm"
      onSubmit={() => void take()}
      close={leave}
    >
      <FileButton
        accept=".json,.zip,application/json,application/zip"
        testId="machine-file"
        variant="outlined"
        disabled={isBusy}
        onFile={give}
      >
        Choose a file (JSON or ZIP) …
      </FileButton>
      {failed && <Alert severity="error">{failed}</Alert>}
      {sent !== undefined && !state && !failed && <Bar words="Sending" share={sent} />}
      {state?.phase === 'reading' && <Bar words="Reading and checking" share={state.progress} />}
      {state?.phase === 'taking in' && <Bar words="Taking in" share={state.progress} />}
      {state?.phase === 'refused' && <Problems state={state} />}
      {state?.phase === 'done' && <Alert severity="info">{state.machineName} is here.</Alert>}
      {state?.phase === 'ready' && (
        <>
          <Typography>
            <strong>{state.machineName}</strong>: {state.axes} {state.axes === 1 ? 'axis' : 'axes'}, {state.runs}{' '}
            {state.runs === 1 ? 'run' : 'runs'}. All of its values have been checked.
          </Typography>
          {state.existing && (
            <Existing
              existing={state.existing}
              how={how}
              setHow={setHow}
              conflicts={conflicts}
              setConflicts={setConflicts}
            />
          )}
        </>
      )}
    </FormDialog>
  );
}

function Bar({ words, share }: { readonly words: string; readonly share: number }) {
  return (
    <div role="status">
      <LinearProgress variant="determinate" value={100 * share} aria-label={words} />
      <Typography variant="body2">
        {words}: {Math.round(100 * share)} %
      </Typography>
    </div>
  );
}

function Problems({ state }: { readonly state: ImportState }) {
  return (
    <Alert severity="error">
      This file cannot be used; nothing has changed.
      <Box component="ul" sx={{ m: 0, pl: 2, maxHeight: 220, overflow: 'auto', overflowWrap: 'anywhere' }}>
        {state.problems.map(({ pointer, detail }, index) => (
          <li key={index}>
            {pointer && pointer !== '/' ? `${pointer}: ` : ''}
            {detail}
          </li>
        ))}
      </Box>
    </Alert>
  );
}

function Existing(props: {
  readonly existing: NonNullable<ImportState['existing']>;
  readonly how: How;
  readonly setHow: (how: How) => void;
  readonly conflicts: 'file' | 'database';
  readonly setConflicts: (side: 'file' | 'database') => void;
}) {
  const { existing, how, setHow, conflicts, setConflicts } = props;
  const list = (lines: readonly string[]) => (
    <Box
      component="ul"
      sx={{ m: 0, pl: 2, fontSize: 12.5, maxHeight: 130, overflow: 'auto', overflowWrap: 'anywhere' }}
    >
      {lines.map((line, index) => (
        <li key={index}>{line}</li>
      ))}
    </Box>
  );
  return (
    <>
      <Typography variant="body2">
        This machine is here already: {existing.name}, last saved {new Date(existing.updatedAt).toLocaleString()}. How
        should the file be imported? Whatever it changes is kept in the revisions.
      </Typography>
      <RadioGroup value={how} onChange={(_, value) => setHow(value as How)} aria-label="Import as">
        <FormControlLabel
          value="merge"
          control={<Radio size="small" />}
          label="Merge: combine the edits of both sides"
        />
        <FormControlLabel
          value="replace"
          control={<Radio size="small" />}
          label="Replace: make the machine the same as in the file"
        />
        <FormControlLabel
          value="keep both"
          control={<Radio size="small" />}
          label="Keep both: import the file as a separate machine"
        />
      </RadioGroup>
      {how === 'merge' && (
        <>
          <Typography variant="body2">
            {existing.changes.length === 0
              ? 'The file contains nothing that is not already here.'
              : 'Changes to this machine:'}
          </Typography>
          {list(existing.changes)}
          {existing.conflicts.length > 0 && (
            <>
              <Typography variant="body2">Edited on both sides:</Typography>
              {list(existing.conflicts)}
              <RadioGroup
                row
                value={conflicts}
                onChange={(_, value) => setConflicts(value as typeof conflicts)}
                aria-label="Value to keep"
              >
                <FormControlLabel value="database" control={<Radio size="small" />} label="keep the value here" />
                <FormControlLabel value="file" control={<Radio size="small" />} label="use the value from the file" />
              </RadioGroup>
            </>
          )}
        </>
      )}
    </>
  );
}
