import { packImported, type ColumnMapping } from '@kavrid/contract';
import { Box, TextField, Typography } from '@mui/material';
import { useMemo, useState } from 'react';
import type { TableWork, TableAnswer } from '../jobs/answerTable.ts';
import { useJob } from '../jobs/useJob.ts';
import { useImportTraceMutation } from '../store/api.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { FileButton } from '../ui/FileButton.tsx';
import { FormDialog } from '../ui/FormDialog.tsx';
import { reasonOf } from '../ui/Loading.tsx';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import { NumberInput } from '../ui/NumberInput.tsx';
import type { ShownUnits } from '../ui/units.ts';
import type { TraceTraits } from './traceTraits.ts';
import { columnGuess, channelChoices, mappingOf, type ColumnUse } from './columnMapping.ts';

const startWorker = () => new Worker(new URL('../jobs/table.worker.ts', import.meta.url), { type: 'module' });

/** Bytes that a table may take: some million lines. */
const mostBytes = 300 * 2 ** 20;

const timeUnits = [
  { value: 1, label: 's' },
  { value: 1e-3, label: 'ms' },
  { value: 1e-6, label: 'µs' },
];

/** Takes in a trace that a controller or an oscilloscope has written as a table: which column is what, and at which times. */
export function ImportTraceDialog(props: {
  readonly memberId: string;
  readonly units: ShownUnits;
  readonly traits: TraceTraits;
  readonly close: () => void;
  readonly done: (runId: string) => void;
}) {
  const { memberId, units, traits, close, done } = props;
  const [file, setFile] = useState<File>();
  const [tooLarge, setTooLarge] = useState<string>();
  const [name, setName] = useState('');
  const [uses, setUses] = useState<readonly ColumnUse[]>();
  const [period, setPeriod] = useState<number | null>(0.001);
  const [seconds, setSeconds] = useState<number>();
  const [send, { isLoading, error }] = useImportTraceMutation();
  const readWork = useMemo((): TableWork | undefined => file && { kind: 'read', file }, [file]);
  const reading = useJob<TableWork, TableAnswer>(startWorker, readWork);
  const table = reading?.input === readWork ? reading?.result : undefined;
  const guess = useMemo(
    () => (table?.kind === 'table' ? columnGuess(table.titles, units, traits) : []),
    [table, units, traits],
  );
  const columns = uses ?? guess;
  const timeColumn = columns.findIndex(({ channel }) => channel === 'time');
  const timeScale =
    seconds ?? (/\bms\b|\(ms\)/i.test(table?.kind === 'table' ? (table.titles[timeColumn] ?? '') : '') ? 1e-3 : 1);
  const mapping = useMemo(
    (): ColumnMapping =>
      mappingOf(columns, units, timeScale, period ?? 0, table?.kind === 'table' ? table.titles : [], traits),
    [columns, units, timeScale, period, table, traits],
  );
  const mapWork = useMemo(
    (): TableWork | undefined => (file && table?.kind === 'table' ? { kind: 'map', file, mapping } : undefined),
    [file, table, mapping],
  );
  const made = useJob<TableWork, TableAnswer>(startWorker, mapWork);
  const result = made?.input === mapWork ? made?.result : undefined;
  const trace = result?.kind === 'trace' ? result : undefined;
  const save = async () => {
    if (!trace) return;
    const packed = new Blob([packImported({ name: name.trim(), notes: file?.name ?? '', trace: trace.trace })]);
    const answer = await send({ id: memberId, packed });
    if ('error' in answer) return;
    done(answer.data.id);
    close();
  };
  const set = (index: number, part: Partial<ColumnUse>) =>
    setUses(columns.map((use, k) => (k === index ? { ...use, ...part } : use)));
  const because =
    tooLarge !== undefined
      ? `“${tooLarge}” is larger than ${mostBytes / 2 ** 20} MB. Cut it, or leave out columns.`
      : table?.kind === 'refused'
        ? table.because
        : result?.kind === 'refused'
          ? result.because
          : undefined;
  return (
    <FormDialog
      title="Import a trace from a table"
      submit="Import"
      width="lg"
      disabled={!trace || name.trim() === '' || isLoading}
      onSubmit={() => void save()}
      close={close}
    >
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
        <FileButton
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          testId="trace-file"
          variant="outlined"
          onFile={(chosen) => {
            setTooLarge(chosen.size > mostBytes ? chosen.name : undefined);
            if (chosen.size > mostBytes) return;
            setFile(chosen);
            setUses(undefined);
            setSeconds(undefined);
            if (name === '') setName(chosen.name.replace(/\.\w+$/, '').slice(0, 80));
          }}
        >
          Choose a file
        </FileButton>
        <Typography variant="body2">
          {file?.name ?? 'Comma, semicolon or tab between the cells; one line for each sample.'}
        </Typography>
      </Box>
      {file && !reading && <Typography>Reading …</Typography>}
      {table?.kind === 'table' && (
        <>
          <Box sx={{ display: 'grid', gridTemplateColumns: '2fr 1fr 1fr', gap: 1 }}>
            <TextField
              label="Name"
              value={name}
              onChange={(event) => setName(event.target.value)}
              slotProps={{ htmlInput: { maxLength: 80 } }}
            />
            {timeColumn < 0 ? (
              <NumberInput label="Sample period" rule="loopPeriod" value={period} onValue={setPeriod} />
            ) : (
              <ChoiceField label="Unit of the time" value={timeScale} choices={timeUnits} onChange={setSeconds} />
            )}
          </Box>
          {columns.map((use, k) => (
            <Box
              key={k}
              sx={{ display: 'grid', gridTemplateColumns: '1.4fr 1.2fr 1fr 1fr', gap: 1, alignItems: 'center' }}
            >
              <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
                {`Column ${k + 1}${table.titles[k] ? `, “${table.titles[k]}”` : ''}: ${table.first[k] ?? ''} …`}
              </Typography>
              <ChoiceField
                label={`Column ${k + 1} is`}
                value={use.channel}
                choices={channelChoices(units, traits)}
                onChange={(channel) => set(k, { channel })}
              />
              {use.channel === 'other' && (
                <TextField
                  label="Unit"
                  value={use.unit}
                  onChange={(event) => set(k, { unit: event.target.value })}
                  slotProps={{ htmlInput: { maxLength: 20 } }}
                />
              )}
              {use.channel !== 'none' && use.channel !== 'time' && (
                <NumberInput
                  label="Multiply by"
                  rule="anyValue"
                  value={use.scale}
                  isRequired
                  onValue={(scale) => scale !== null && set(k, { scale })}
                />
              )}
            </Box>
          ))}
          {table.unreadCells > 0 && (
            <Typography
              variant="body2"
              color="warning.main"
            >{`${table.unreadCells} cells hold no number; they become missing samples.`}</Typography>
          )}
          {trace && (
            <MeasuredTable
              label="The trace as it will be kept"
              heads={[
                'Samples',
                'Sample period',
                'Missing samples',
                ...trace.trace.header.channels.map(
                  ({ label, unit }) => `${label}${unit === '' ? '' : `, ${unit}`}, lowest to highest`,
                ),
              ]}
              rows={[
                {
                  key: 'trace',
                  cells: [
                    String(trace.trace.header.count),
                    `${Number((1000 * trace.trace.header.period).toPrecision(6))} ms`,
                    String(trace.missing),
                    ...trace.ranges,
                  ],
                },
              ]}
            />
          )}
        </>
      )}
      {because !== undefined && (
        <Typography role="alert" color="error">
          {because}
        </Typography>
      )}
      {error && <Typography color="error">{reasonOf(error)}</Typography>}
    </FormDialog>
  );
}
