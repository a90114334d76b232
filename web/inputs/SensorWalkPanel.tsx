import { isWalking, walkedNow, walkWords, type SensorWalk, type WalkVerdict } from '@kavrid/core/procedure';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { useMember } from '../member/memberContext.ts';
import { mayActOn, useLinkLive } from '../member/useLive.ts';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { linkLive } from '../store/live.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { NameDialog } from '../ui/NameDialog.tsx';

/** Sensors tripped by hand in turn: what to do now, and what each has shown. */
export function SensorWalkPanel() {
  const { memberId } = useMember();
  const dispatch = useAppDispatch();
  const walk = useAppSelector((state) => linkLive(state)?.walk, sameWalk);
  const { isUp, mayAct, isPowered, sensors } = useLinkLive((live) => ({
    isUp: live?.link === 'up',
    mayAct: mayActOn(live),
    isPowered: live?.deviceState === 'operation enabled' || live?.deviceState === 'quick stop active',
    sensors: live?.inputs.filter(({ isSensor }) => isSensor).length ?? 0,
  }));
  const labels = useLabels();
  const isUnderWay = walk !== undefined && isWalking(walk);
  return (
    <>
      {!isUnderWay && (
        <>
          <Hint>
            Motor off, the axis clear of its switches. Trip each sensor by hand when it is named, then let it go. The
            walk watches that this input alone changes, and changes back.
          </Hint>
          <Button
            variant="contained"
            sx={{ my: 1 }}
            disabled={!isUp || !mayAct || isPowered || sensors === 0}
            onClick={() => void dispatch(act(memberId, (version) => ({ type: 'sensorWalk', version })))}
          >
            {walk ? 'Start the walk again' : 'Start the walk'}
          </Button>
          {isUp && sensors === 0 && <Hint>This drive reports no limit or home inputs.</Hint>}
          {isPowered && <Hint>Disable the drive first.</Hint>}
        </>
      )}
      {isUnderWay && <Now walk={walk} label={labels(walkedNow(walk))} />}
      {walk?.phase === 'ended' && (
        <Typography role="status" variant="body2" color="warning.main">
          The walk ended early: {walk.because}.
        </Typography>
      )}
      {walk && <Verdicts walk={walk} labels={labels} />}
    </>
  );
}

const sameWalk = (a: SensorWalk | undefined, b: SensorWalk | undefined): boolean =>
  a === b || (a?.phase === b?.phase && a?.at === b?.at && JSON.stringify(a?.verdicts) === JSON.stringify(b?.verdicts));

/** The label of an input by its key. */
function useLabels(): (key: string) => string {
  const inputs = useAppSelector(
    (state) => linkLive(state)?.inputs,
    (a, b) => JSON.stringify(a?.map(({ label }) => label)) === JSON.stringify(b?.map(({ label }) => label)),
  );
  return (key) => inputs?.find((input) => input.key === key)?.label ?? key;
}

const tasks = {
  rest: (label: string) => `${label}: waiting until no switch is active …`,
  trip: (label: string) => `Trip this sensor by hand now: ${label}`,
  release: (label: string) => `${label}: seen. Let it go.`,
} as const;

function Now({ walk, label }: { readonly walk: SensorWalk; readonly label: string }) {
  const dispatch = useAppDispatch();
  const [isSkipping, setSkipping] = useState(false);
  const { phase } = walk;
  const walkOn = (what: 'nothing' | 'skip' | 'end', because = '') =>
    dispatch(command({ type: 'walkOn', what, because }));
  return (
    <Box sx={{ border: 2, borderColor: 'primary.main', borderRadius: 1, p: 1, mb: 1 }}>
      <Typography role="status" aria-live="polite" sx={{ fontWeight: 600, mb: 1 }}>
        {phase === 'rest' || phase === 'trip' || phase === 'release' ? tasks[phase](label) : ''}
      </Typography>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button variant="outlined" disabled={phase !== 'trip'} onClick={() => walkOn('nothing')}>
          Tripped, nothing reacted
        </Button>
        <Button onClick={() => setSkipping(true)}>Skip …</Button>
        <Button onClick={() => walkOn('end')}>End the walk</Button>
      </Box>
      {isSkipping && (
        <NameDialog
          title={`Skip ${label}`}
          label="Reason"
          submit="Skip"
          onName={(because) => {
            walkOn('skip', because);
            setSkipping(false);
          }}
          close={() => setSkipping(false)}
        />
      )}
    </Box>
  );
}

const verdictTitles: Readonly<Record<WalkVerdict['kind'], string>> = {
  proven: 'proven',
  bounces: 'bounces',
  swapped: 'swapped',
  several: 'two react',
  'no change': 'no reaction',
  'always active': 'always active',
  skipped: 'skipped',
};

function Verdicts({ walk, labels }: { readonly walk: SensorWalk; readonly labels: (key: string) => string }) {
  return (
    <Box
      component="ol"
      aria-label="Results of the walk"
      sx={{ m: 0, pl: 2.5, display: 'grid', gap: 0.75, fontSize: 13 }}
    >
      {walk.order.map((key) => {
        const verdict = walk.verdicts[key];
        const colour =
          verdict === undefined || verdict.kind === 'skipped'
            ? 'text.secondary'
            : verdict.kind === 'proven'
              ? 'success.main'
              : 'error.main';
        return (
          <li key={key}>
            {labels(key)}:{' '}
            <Box component="span" sx={{ color: colour, fontWeight: 600 }}>
              {verdict ? verdictTitles[verdict.kind] : 'not yet'}
            </Box>
            {verdict && verdict.kind !== 'proven' && (
              <Box component="span" sx={{ display: 'block', color: 'text.secondary' }}>
                {walkWords(verdict, labels)}
              </Box>
            )}
          </li>
        );
      })}
    </Box>
  );
}
