import { filterValues, valueFilters, type ValueFilter } from '@kavrid/core/drive';
import { Box, Button, MenuItem, TextField, Typography } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { LinkPanel } from './LinkPanel.tsx';
import { useAppSelector } from '../store/store.ts';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { ValueTable } from './DriveValueTable.tsx';
import { ProcedurePanel } from './ProcedurePanel.tsx';
import { columnTitle, differIn, type ValueColumn } from './valueColumn.ts';

const SnapshotsDialog = lazy(() =>
  import('./SnapshotsDialog.tsx').then((module) => ({ default: module.SnapshotsDialog })),
);

/** Drive data: what is planned beside what is running, stored and as delivered; written only where it differs. */
export function DriveDataView() {
  const driveData = useAppSelector((state) => state.live.driveData);
  const [filter, setFilter] = useState<ValueFilter>('all');
  const [text, setText] = useState('');
  const hasValues = (driveData?.comparisons.length ?? 0) > 0;
  const [pair, setPair] = useState<readonly [ValueColumn, ValueColumn]>();
  const [isOpen, setOpen] = useState(false);
  const [onlyDifferent, setOnlyDifferent] = useState(true);
  const found = filterValues(driveData?.comparisons ?? [], filter, text);
  const shown = pair && onlyDifferent ? found.filter((each) => differIn(pair, each) === true) : found;
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) 256px', alignItems: 'start' }}>
      <Panel
        title="Drive values"
        style={windowHigh}
        aside={
          hasValues && (
            <Box sx={{ display: 'flex', gap: 1 }}>
              <Filter filter={filter} text={text} setFilter={setFilter} setText={setText} />
              <Button size="small" onClick={() => setOpen(true)}>
                Snapshots …
              </Button>
            </Box>
          )
        }
      >
        {pair && (
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', pb: 0.5 }}>
            <Typography variant="body2" sx={{ flex: 1 }}>
              {columnTitle(pair[0])} compared with {columnTitle(pair[1])}
              {onlyDifferent && `: ${shown.length === 1 ? '1 value differs' : `${shown.length} values differ`}`}
            </Typography>
            <Button size="small" onClick={() => setOnlyDifferent(!onlyDifferent)}>
              {onlyDifferent ? 'Show all values' : 'Show only what differs'}
            </Button>
            <Button size="small" onClick={() => setPair(undefined)}>
              End the comparison
            </Button>
          </Box>
        )}
        {isOpen && (
          <Suspense fallback={null}>
            <SnapshotsDialog driveData={driveData} compare={setPair} close={() => setOpen(false)} />
          </Suspense>
        )}
        {driveData && hasValues ? (
          shown.length > 0 ? (
            <ValueTable comparisons={shown} pair={pair} />
          ) : (
            <Typography color="text.secondary">{pair ? 'No difference.' : 'No value matches.'}</Typography>
          )
        ) : (
          <Typography color="text.secondary">
            Nothing has been read yet. Connect to the drive: it is read before anything is written. Planned values
            appear here beside the values in the drive.
          </Typography>
        )}
      </Panel>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <LinkPanel />
        <ProcedurePanel driveData={driveData} />
      </Box>
    </Box>
  );
}

/** Which values are looked at. */
function Filter(props: {
  readonly filter: ValueFilter;
  readonly text: string;
  readonly setFilter: (filter: ValueFilter) => void;
  readonly setText: (text: string) => void;
}) {
  const { filter, text, setFilter, setText } = props;
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
      <TextField
        variant="standard"
        placeholder="Find a value"
        value={text}
        onChange={(event) => setText(event.target.value)}
        slotProps={{ htmlInput: { 'aria-label': 'Find a value', maxLength: 80 } }}
        sx={{ width: 150, '& input': { fontSize: 13, py: 0.25 } }}
      />
      <TextField
        select
        variant="standard"
        value={filter}
        onChange={(event) => setFilter(event.target.value as ValueFilter)}
        slotProps={{ select: { inputProps: { 'aria-label': 'Values shown' } } }}
        sx={{ width: 225, '& .MuiSelect-select': { fontSize: 13, py: 0.25 } }}
      >
        {Object.entries(valueFilters).map(([value, label]) => (
          <MenuItem key={value} value={value}>
            {label}
          </MenuItem>
        ))}
      </TextField>
    </Box>
  );
}
