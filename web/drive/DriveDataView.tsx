import { filterValues, valueFilters, type ValueFilter } from '@kavrid/core/drive';
import { Box, MenuItem, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { LinkPanel } from './LinkPanel.tsx';
import { useAppSelector } from '../store/store.ts';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { ValueTable } from './DriveValueTable.tsx';
import { ProcedurePanel } from './ProcedurePanel.tsx';

/** Drive data: what is planned beside what is running, stored and as delivered; written only where it differs. */
export function DriveDataView() {
  const driveData = useAppSelector((state) => state.live.driveData);
  const [filter, setFilter] = useState<ValueFilter>('all');
  const [text, setText] = useState('');
  const hasValues = (driveData?.comparisons.length ?? 0) > 0;
  const shown = filterValues(driveData?.comparisons ?? [], filter, text);
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) 256px', alignItems: 'start' }}>
      <Panel
        title="Drive values"
        style={windowHigh}
        aside={hasValues && <Filter filter={filter} text={text} setFilter={setFilter} setText={setText} />}
      >
        {driveData && hasValues ? (
          shown.length > 0 ? (
            <ValueTable comparisons={shown} />
          ) : (
            <Typography color="text.secondary">No value matches.</Typography>
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
