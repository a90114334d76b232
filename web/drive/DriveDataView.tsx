import { Box, Typography } from '@mui/material';
import { LinkPanel } from './LinkPanel.tsx';
import { useAppSelector } from '../store/store.ts';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { ValueTable } from './DriveValueTable.tsx';
import { ProcedurePanel } from './ProcedurePanel.tsx';

/** Drive data: what is planned beside what is running, stored and as delivered; written only where it differs. */
export function DriveDataView() {
  const driveData = useAppSelector((state) => state.live.driveData);
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) 256px', alignItems: 'start' }}>
      <Panel title="Drive values" style={windowHigh}>
        {driveData && driveData.comparisons.length > 0 ? (
          <ValueTable driveData={driveData} />
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
