import type { DriveData } from '@kavrid/contract';
import { valuesOf, type RawValues } from '@kavrid/core/drive';
import { toNumber, formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { useParams } from 'react-router';
import { useMember, wordingOf } from '../member/memberContext.ts';
import { useLazySnapshotQuery, useSnapshotsQuery } from '../store/api.ts';
import { linkLive } from '../store/live.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { Standing } from './DriveStandingText.tsx';
import { resolutionOf } from './useShownRaw.ts';
import { WriteFailure, WriteReview } from './WriteReview.tsx';

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
  const read = (target?: 'as before' | { readonly label: string; readonly values: RawValues }) =>
    void dispatch(act(memberId, (version) => ({ type: 'readDrive', version, ...(target ? { target } : {}) })));
  const goBack = useGoBack(read);
  return (
    <Panel title="Write and verify">
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Button variant="outlined" disabled={!up || busy} onClick={() => read()}>
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
        {driveData && phase === 'review' && <WriteReview driveData={driveData} />}
        {driveData && phase === 'failed' && (
          <WriteFailure driveData={driveData} canAct={up && !busy} goOn={() => read('as before')} goBack={goBack} />
        )}
        {driveData && <Standing driveData={driveData} />}
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

/** Reads the drive to put back what it held before the last writing; undefined: there is no snapshot of that. */
function useGoBack(
  read: (target: { readonly label: string; readonly values: RawValues }) => void,
): { readonly takenAt: string; readonly go: () => void } | undefined {
  const { memberId } = useMember();
  const { machineId = '' } = useParams();
  const { data: snapshots } = useSnapshotsQuery(machineId, { skip: machineId === '' });
  const [readSnapshot] = useLazySnapshotQuery();
  const newest = snapshots?.find((each) => each.memberId === memberId && each.isAutomatic);
  return (
    newest && {
      takenAt: newest.takenAt,
      go: () =>
        void readSnapshot(newest.id, true).then(
          ({ data }) => data && read({ label: `snapshot “${data.name}”`, values: valuesOf(data) }),
        ),
    }
  );
}
