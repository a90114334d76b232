import { formatNumber } from '@kavrid/core/quantity';
import { Alert, Box, Button, LinearProgress, TextField, Typography } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { Hint } from '../ui/fieldParts.tsx';
import type { PulseTrainReply, PulseTrainRequest } from '../jobs/pulseTrain.worker.ts';
import { plannedTrain } from '../jobs/pulseTrainJob.ts';
import { Panel } from '../ui/Panel.tsx';
import { openSink, type Sink } from './openSink.ts';

/** Bytes of one pulse: two edges of some 14 bytes each. */
const bytesAPulse = 28;
const size = (bytes: number) =>
  bytes < 1e6
    ? `${formatNumber(bytes / 1e3, 2)} kB`
    : bytes < 1e9
      ? `${formatNumber(bytes / 1e6, 2)} MB`
      : `${formatNumber(bytes / 1e9, 2)} GB`;

/** The pulses of the planned move as a file for a logic viewer, whole or a window of it. */
export function PulseExport() {
  const { document } = useAxis();
  const planned = useMemo(() => plannedTrain(document), [document]);
  const [typed, setTyped] = useState({ from: '', to: '' });
  const [state, setState] = useState<{ readonly done?: number; readonly message?: string; readonly failed?: boolean }>(
    {},
  );
  const stop = useRef<() => void>(undefined);
  useEffect(() => () => stop.current?.(), []);
  if ('because' in planned)
    return (
      <Panel title="Pulse train as a file">
        <Typography color="text.secondary">Not known: {planned.because}.</Typography>
      </Panel>
    );
  const { duration, pulses } = planned;
  const read = (text: string, otherwise: number) => (text.trim() === '' ? otherwise : Number(text.replace(',', '.')));
  const [from, to] = [read(typed.from, 0), read(typed.to, duration)];
  const isRight = from >= 0 && to > from && to <= duration * (1 + 1e-9) + 1e-9;
  const share = isRight ? (to - from) / duration : 0;
  const start = async () => {
    let sink: Sink | undefined;
    try {
      sink = await openSink(`${document.name || 'axis'} pulses.vcd`);
    } catch (error) {
      setState({ message: error instanceof Error ? error.message : 'The file cannot be opened.', failed: true });
    }
    if (sink) write(sink);
  };
  const write = (sink: Sink) => {
    const worker = new Worker(new URL('../jobs/pulseTrain.worker.ts', import.meta.url), { type: 'module' });
    const send = (request: PulseTrainRequest) => worker.postMessage(request);
    const end = (message: string, failed = false) => {
      worker.terminate();
      stop.current = undefined;
      setState({ message, failed });
    };
    stop.current = () => {
      void sink.discard();
      end('Cancelled; nothing was kept.');
    };
    worker.onerror = ({ message }) => {
      void sink.discard();
      end(message || 'The pulses cannot be computed.', true);
    };
    let written = 0;
    worker.onmessage = ({ data }: MessageEvent<PulseTrainReply>) => {
      switch (data.kind) {
        case 'piece':
          written += data.bytes.length;
          sink.write(data.bytes).then(
            () => {
              setState({ done: data.done });
              send({ kind: 'next' });
            },
            (error: unknown) => {
              void sink.discard();
              end(error instanceof Error ? error.message : 'The file cannot be written.', true);
            },
          );
          return;
        case 'end':
          void sink.close().then(() => end(`${size(written)} written.`));
          return;
        case 'failed':
          void sink.discard();
          end(data.because, true);
      }
    };
    setState({ done: 0 });
    send({ kind: 'start', axis: document, from, to });
  };
  const field = (label: string, key: 'from' | 'to', otherwise: string) => (
    <TextField
      label={label}
      value={typed[key]}
      placeholder={otherwise}
      error={!isRight}
      onChange={({ target }) => setTyped({ ...typed, [key]: target.value })}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { inputMode: 'decimal' } }}
    />
  );
  return (
    <Panel title="Pulse train as a file">
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr auto', alignItems: 'start', pt: 0.5 }}>
          {field('From, s', 'from', '0')}
          {field('To, s', 'to', formatNumber(duration, 5))}
          {state.done === undefined ? (
            <Button variant="outlined" disabled={!isRight} onClick={() => void start()}>
              Save as VCD
            </Button>
          ) : (
            <Button variant="outlined" color="error" onClick={() => stop.current?.()}>
              Cancel
            </Button>
          )}
        </Box>
        {state.done !== undefined && (
          <LinearProgress variant="determinate" value={100 * state.done} aria-label="Written so far" />
        )}
        {state.message && <Alert severity={state.failed ? 'error' : 'info'}>{state.message}</Alert>}
        <Hint>
          {isRight
            ? `${formatNumber(Math.round(pulses * share), 6)} pulses of the ${document.command.kind === 'untimedPulses' ? 'train' : 'test move'}, about ${size(pulses * share * bytesAPulse)}. IEEE 1364 value change dump, 1 ns steps.`
            : `The window lies between 0 and ${formatNumber(duration, 5)} s.`}
        </Hint>
      </Box>
    </Panel>
  );
}
