import type { DriveData } from '@kavrid/contract';
import { toNumber, formatNumber } from '@kavrid/core/quantity';
import { Alert, Box, Button, Typography } from '@mui/material';
import { useMember, wordingOf } from '../member/memberContext.ts';
import { linkLive } from '../store/live.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { resolutionOf } from './DriveValueTable.tsx';
import { Standing } from './DriveStandingText.tsx';

export function ProcedurePanel({ driveData }: { readonly driveData: DriveData | undefined }) {
  const member = useMember();
  const { memberId, draft } = member;
  const up = useAppSelector((state) => linkLive(state)?.link === 'up');
  const busy = useAppSelector(
    (state) => (linkLive(state)?.activity ?? 'idle') !== 'idle' || linkLive(state)?.holder === 'another window',
  );
  const dispatch = useAppDispatch();
  const units = useShownUnits(wordingOf(member));
  const phase = driveData?.procedure.phase ?? 'idle';
  const resolution = resolutionOf(member);
  return (
    <Panel title="Write and verify">
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Button
          variant="outlined"
          disabled={!up || busy}
          onClick={() => {
            void dispatch(act(memberId, (version) => ({ type: 'readDrive', version })));
          }}
        >
          1. Read and compare
        </Button>
        <Button
          variant="contained"
          disabled={!up || busy || phase !== 'review' || draft.state.kind !== 'saved'}
          onClick={() => void dispatch(act(memberId, (version) => ({ type: 'writeDrive', version })))}
        >
          2. Write what differs, store, restart, verify
        </Button>
        {draft.state.kind !== 'saved' && (
          <Typography variant="body2">The plan has not been saved yet; reading saves it first.</Typography>
        )}
        {driveData && <Standing driveData={driveData} />}
        {phase === 'failed' && <Alert severity="error">{driveData?.procedure.because}</Alert>}
        <Box
          component="ol"
          aria-label="Log"
          tabIndex={0}
          sx={{ m: 0, pl: 2.5, fontSize: 12.5, color: 'text.secondary', maxHeight: 180, overflow: 'auto' }}
        >
          {driveData?.procedure.log.map((line, index) => (
            <li key={index}>{line}</li>
          ))}
        </Box>
        {resolution && (
          <Typography variant="body2" color="text.secondary">
            1000 counts are {formatNumber(units.shown(1000 * toNumber(resolution), '{u}'), 4)} {units.unit} here. ↻
            takes effect after a restart.
          </Typography>
        )}
      </Box>
    </Panel>
  );
}
