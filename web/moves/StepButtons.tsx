import { Box, Button } from '@mui/material';
import { isReady } from '../member/isReady.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';

/** Small steps of one length. */
export function StepButtons() {
  const { memberId, document } = useAxis();
  const dispatch = useAppDispatch();
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  return (
    <Box sx={{ mt: 1.5 }}>
      <NumberField label="Length of a step" path={['moves', 'jogStep']} rule="distance" />
      <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
        {([-1, 1] as const).map((direction) => (
          <Button
            key={direction}
            variant="outlined"
            sx={{ flex: 1 }}
            disabled={!ready || document.moves.jogStep === null}
            onClick={() =>
              void dispatch(
                act(memberId, (version) => ({ type: 'makeMove', version, order: { kind: 'step', direction } })),
              )
            }
          >
            {direction > 0 ? 'Step plus' : 'Step minus'}
          </Button>
        ))}
      </Box>
    </Box>
  );
}
