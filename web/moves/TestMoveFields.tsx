import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { isReady } from '../member/isReady.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { useShownUnits } from '../ui/units.ts';
import { approachOf } from './approachOf.ts';

export function TestMoveFields() {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(2, 1fr) 1.1fr 1.2fr 1.3fr 0.8fr 0.7fr', gap: 0.75 }}>
      <NumberField label="From" path={['testMove', 'from']} rule="position" />
      <NumberField label="Distance" path={['testMove', 'distance']} rule="distance" />
      <NumberField label="Speed" path={['testMove', 'speed']} rule="speed" />
      <NumberField label="Acceleration" path={['testMove', 'acceleration']} rule="acceleration" />
      <NumberField label="Jerk limit" path={['testMove', 'jerk']} rule="jerk" />
      <NumberField label="Dwell" path={['testMove', 'dwell']} rule="dwell" />
      <NumberField label="Repeats" path={['testMove', 'repeats']} rule="repeats" />
    </Box>
  );
}

/** To the start of the test move, and the move itself. */
export function TestMoveButtons() {
  const { memberId, document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  const isHomed = useAppSelector(({ live: { live } }) => live?.homed === true);
  const approach = useAppSelector(({ live: { live } }) => approachOf(document, live));
  const dispatch = useAppDispatch();
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', mt: 1 }}>
      <Typography variant="body2" color="text.secondary" sx={{ flex: 1 }}>
        {isHomed && approach
          ? `The start is ${formatNumber(units.shown(Math.abs(approach.distance), '{u}'), 4)} ${units.unit} towards ${approach.distance > 0 ? 'plus' : 'minus'}.`
          : isHomed
            ? ''
            : 'Home the axis first.'}
      </Typography>
      {isHomed && approach && (
        <Button
          variant="outlined"
          disabled={!ready}
          onClick={() => void dispatch(act(memberId, (version) => ({ type: 'goToStart', version })))}
        >
          {`Go to start at ${formatNumber(units.shown(approach.speed, '{u}/s'), 4)} ${units.unit}/s`}
        </Button>
      )}
      <Button
        variant="contained"
        disabled={!ready || !isHomed || approach !== undefined}
        onClick={() => void dispatch(act(memberId, (version) => ({ type: 'testMove', version })))}
      >
        Run
      </Button>
    </Box>
  );
}
