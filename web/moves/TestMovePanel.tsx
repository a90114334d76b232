import { Box, Button, Typography } from '@mui/material';
import { useAxis } from '../axis/axisContext.ts';
import { saveAxis } from '../store/drafts.ts';
import { command } from '../store/live.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../ui/QuantityField.tsx';

export function TestMovePanel() {
  const { axisId } = useAxis();
  const ready = useAppSelector(
    ({ live: { live } }) => live?.deviceState === 'operation enabled' && live.activity === 'idle',
  );
  const progress = useAppSelector((state) => state.live.live?.progress);
  const dispatch = useAppDispatch();
  return (
    <Panel
      title="Test move, there and back"
      aside={
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
          <Typography role="status" variant="body2" color="primary">
            {progress}
          </Typography>
          <Button
            variant="contained"
            disabled={!ready}
            onClick={() => {
              void dispatch(saveAxis(axisId)).then(() => command({ type: 'testMove' }));
            }}
          >
            Run
          </Button>
        </Box>
      }
    >
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(2, 1fr) 1.1fr 1.2fr 1.3fr 0.8fr 0.7fr', gap: 0.75 }}>
        <NumberField label="From" path={['testMove', 'from']} rule="position" />
        <NumberField label="Distance" path={['testMove', 'distance']} rule="distance" />
        <NumberField label="Speed" path={['testMove', 'speed']} rule="speed" />
        <NumberField label="Acceleration" path={['testMove', 'acceleration']} rule="acceleration" />
        <NumberField label="Jerk, or none" path={['testMove', 'jerk']} rule="jerk" />
        <NumberField label="Dwell" path={['testMove', 'dwell']} rule="dwell" />
        <NumberField label="Repeats" path={['testMove', 'repeats']} rule="repeats" />
      </Box>
    </Panel>
  );
}
