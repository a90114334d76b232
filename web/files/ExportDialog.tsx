import { addressOf } from '@kavrid/contract';
import { Button, FormControlLabel, LinearProgress, Link, Switch, Typography } from '@mui/material';
import { useEffect, useState } from 'react';
import { FormDialog } from '../ui/FormDialog.tsx';

const sizeWords = (bytes: number) =>
  bytes < 1e6 ? `${Math.ceil(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;

/** Takes a machine out as a file. The browser keeps the bytes; here one sees how far it has come, and can break it off. */
export function ExportDialog({
  id,
  name,
  close,
}: {
  readonly id: string;
  readonly name: string;
  readonly close: () => void;
}) {
  const [revisions, setRevisions] = useState(true);
  const [runs, setRuns] = useState(true);
  const [ticket, setTicket] = useState<string>();
  const begin = () => {
    const made = crypto.randomUUID();
    setTicket(made);
    const link = document.createElement('a');
    link.href = `/api${addressOf('exportMachine', { id }, { revisions, runs, ticket: made })}`;
    link.download = '';
    link.click();
  };
  return (
    <FormDialog
      title={`Export ${name}`}
      submit="Export"
      disabled={ticket !== undefined}
      leave={ticket ? 'Close' : 'Cancel'}
      onSubmit={begin}
      close={close}
    >
      <Typography variant="body2">
        The machine with its axes, the library entries and register maps they came from, in an open format: JSON, and in
        a ZIP archive when traces go along. The format is described by its{' '}
        <Link href="/api/schema/machine-file.json">JSON Schema</Link>.
      </Typography>
      <FormControlLabel
        control={<Switch size="small" checked={revisions} onChange={(_, checked) => setRevisions(checked)} />}
        label="with every revision"
      />
      <FormControlLabel
        control={<Switch size="small" checked={runs} onChange={(_, checked) => setRuns(checked)} />}
        label="with runs and traces"
      />
      {ticket && <Progress ticket={ticket} />}
    </FormDialog>
  );
}

function Progress({ ticket }: { readonly ticket: string }) {
  const [state, setState] = useState<{ readonly done: number; readonly total: number }>();
  const [ended, setEnded] = useState<'done' | 'cancelled'>();
  useEffect(() => {
    if (ended) return;
    const timer = setInterval(() => {
      void fetch(`/api${addressOf('readExport', { id: ticket })}`)
        .then((answer) => (answer.ok ? (answer.json() as Promise<{ done: number; total: number }>) : undefined))
        .then((next) => {
          if (next) setState(next);
          if (next && next.total > 0 && next.done >= next.total) setEnded('done');
        })
        .catch(() => undefined);
    }, 250);
    return () => clearInterval(timer);
  }, [ticket, ended]);
  const cancel = () => {
    setEnded('cancelled');
    void fetch(`/api${addressOf('cancelExport', { id: ticket })}`, { method: 'DELETE' });
  };
  const words = {
    done: `Finished: ${sizeWords(state?.total ?? 0)} before compression.`,
    cancelled: 'Cancelled; the browser discards what it has received.',
    running: state ? `${sizeWords(state.done)} of ${sizeWords(state.total)}` : 'Gathering …',
  }[ended ?? 'running'];
  return (
    <div role="status">
      <LinearProgress
        variant={state && state.total > 0 ? 'determinate' : 'indeterminate'}
        value={state && state.total > 0 ? Math.min(100, (100 * state.done) / state.total) : 0}
        aria-label="Export"
      />
      <Typography variant="body2" sx={{ mt: 0.5 }}>
        {words} {!ended && <Button onClick={cancel}>Break off</Button>}
      </Typography>
    </div>
  );
}
