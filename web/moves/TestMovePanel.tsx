import { Box, Button, Typography } from '@mui/material';
import { useAxis } from '../axis/axisContext.ts';
import { saveAxis } from '../store/drafts.ts';
import { command } from '../store/live.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../ui/QuantityField.tsx';

export function TestMovePanel() {
  const { axisId } = useAxis();
  const { live } = useAppSelector((state) => state.live);
  const dispatch = useAppDispatch();
  const ready = live?.deviceState === 'operation enabled' && live.activity === 'idle';
  return (
    <Panel
      title="Test move, there and back"
      aside={
        <Button
          variant="contained"
          disabled={!ready}
          onClick={() => {
            void dispatch(saveAxis(axisId)).then(() => command({ type: 'testMove' }));
          }}
        >
          Run
        </Button>
      }
    >
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        <NumberField label="From" path={['testMove', 'from']} rule="position" />
        <NumberField label="Distance" path={['testMove', 'distance']} rule="distance" />
        <NumberField label="Speed" path={['testMove', 'speed']} rule="speed" />
        <NumberField label="Acceleration" path={['testMove', 'acceleration']} rule="acceleration" />
        <NumberField label="Jerk" path={['testMove', 'jerk']} rule="jerk" help="empty: trapezoidal" />
        <NumberField label="Dwell" path={['testMove', 'dwell']} rule="dwell" />
        <NumberField label="Repeats" path={['testMove', 'repeats']} rule="repeats" />
        <Typography role="status" variant="body2" color="primary" sx={{ alignSelf: 'center' }}>
          {live?.progress}
        </Typography>
      </Box>
    </Panel>
  );
}
