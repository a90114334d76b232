import type { GuideState, ShownStep } from '@kavrid/contract';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { DriveNews } from '../member/DriveNews.tsx';
import { HoldNotice } from '../member/HoldNotice.tsx';
import { isReady } from '../member/isReady.ts';
import { JogButtons } from '../member/JogButtons.tsx';
import { TemporarySettings } from '../member/TemporarySettings.tsx';
import { useMember } from '../member/memberContext.ts';
import { mayActOn, useLinkLive } from '../member/useLive.ts';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { NameDialog } from '../ui/NameDialog.tsx';
import { Panel } from '../ui/Panel.tsx';
import { SensorWalkPanel } from '../inputs/SensorWalkPanel.tsx';
import { AskedNumbers, type Numbers } from './AskedNumbers.tsx';
import { LiveLook } from './LiveLook.tsx';
import { StepQuestion } from './StepQuestion.tsx';
import { StepResultText } from './StepResultText.tsx';

type Run = NonNullable<GuideState['run']>;

/** One step: what to do, what is seen, and how it has come out. */
export function GuidedStepPanel({
  step,
  next,
  onNext,
}: {
  readonly step: ShownStep;
  /** The first step that is still open. */
  readonly next: ShownStep | undefined;
  readonly onNext: (id: string) => void;
}) {
  const run = useAppSelector(({ live }) => (live.guide?.run?.step === step.id ? live.guide.run : undefined));
  const isUnderWay = run !== undefined && run.phase !== 'over';
  return (
    <Panel title={step.title}>
      <DriveNews />
      <HoldNotice />
      <Typography sx={{ mb: 1, fontSize: 14 }}>{step.task}</Typography>
      {step.first.length > 0 && !isUnderWay && <Hint>{`First: ${step.first.join(', ')}.`}</Hint>}
      {isUnderWay ? <UnderWay step={step} run={run} /> : <Begin step={step} />}
      {run?.phase === 'over' && run.because !== '' && (
        <Typography role="status" variant="body2" color="warning.main">
          {`Ended without a result: ${run.because}.`}
        </Typography>
      )}
      {!isUnderWay && step.result && <StepResultText result={step.result} />}
      {!isUnderWay && step.result?.verdict !== undefined && next && (
        <Button variant="outlined" sx={{ mt: 0.5 }} onClick={() => onNext(next.id)}>
          {`Next: ${next.title}`}
        </Button>
      )}
      <TemporarySettings />
    </Panel>
  );
}

/** Starting a step, or leaving it out. */
function Begin({ step }: { readonly step: ShownStep }) {
  const { memberId } = useMember();
  const dispatch = useAppDispatch();
  const [isSkipping, setSkipping] = useState(false);
  const [isRaised, setRaised] = useState(false);
  const { isUp, mayAct, isFault } = useLinkLive((live) => ({
    isUp: live?.link === 'up',
    mayAct: mayActOn(live),
    isFault: live?.deviceState === 'fault',
  }));
  const isBlocked = step.first.length > 0 || (isUp && !mayAct);
  const { torque, result } = step;
  const next = result?.verdict === 'undecided' ? torque?.next : undefined;
  const asked = step.asks.filter(({ when }) => when === 'begin');
  const [numbers, setNumbers] = useState<Numbers>({});
  const given = { ...numbers, ...(isRaised && next !== undefined ? { torque: next } : {}) };
  const isMissing = asked.some(({ key, isRequired }) => isRequired && numbers[key] === undefined);
  const begin = (isByHand: boolean) =>
    void dispatch(act(memberId, (version) => ({ type: 'beginStep', version, step: step.id, isByHand, given })));
  return (
    <>
      {next !== undefined && (
        <Box sx={{ mb: 0.5, fontSize: 13 }}>
          <label>
            <input type="checkbox" checked={isRaised} onChange={(event) => setRaised(event.target.checked)} />
            {` Repeat with a torque limit of ${next} % of rated torque instead of ${torque?.percent ?? ''} %`}
          </label>
        </Box>
      )}
      <AskedNumbers asked={asked} numbers={numbers} onNumbers={setNumbers} />
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mb: 1 }}>
        {isFault && isUp && (
          <Button variant="contained" color="warning" onClick={() => dispatch(command({ type: 'resetFault' }))}>
            Reset the fault
          </Button>
        )}
        {step.isLinked ? (
          <Button variant="contained" disabled={isBlocked || isMissing} onClick={() => begin(false)}>
            {step.isDrill && !step.isPassive ? 'Start: switches the motor on' : result ? 'Repeat' : 'Start'}
          </Button>
        ) : (
          <Button variant="contained" disabled={step.first.length > 0} onClick={() => begin(true)}>
            Answer
          </Button>
        )}
        {step.isLinked && (
          <Button disabled={step.first.length > 0} onClick={() => begin(true)}>
            Answer by observation
          </Button>
        )}
        <Button onClick={() => setSkipping(true)}>Skip …</Button>
      </Box>
      {isSkipping && (
        <NameDialog
          title={`Skip “${step.title}”`}
          label="Reason"
          submit="Skip"
          onName={(because) => {
            void dispatch(act(memberId, (version) => ({ type: 'skipStep', version, step: step.id, because })));
            setSkipping(false);
          }}
          close={() => setSkipping(false)}
        />
      )}
    </>
  );
}

const phaseWords: Readonly<Record<Run['phase'], string>> = {
  watching: 'Watching the drive …',
  drilling: 'The drive is switched on for this step. Stop is at the top right.',
  ready: 'The motor is on. Hold a button to jog.',
  settling: 'Switching the motor off …',
  asking: '',
  over: '',
};

function UnderWay({ step, run }: { readonly step: ShownStep; readonly run: Run }) {
  const { document, draft } = useMember();
  const dispatch = useAppDispatch();
  const { mayJog, version } = useLinkLive((live) => ({
    mayJog: isReady(live) || live?.activity === 'jogging',
    version: live?.version,
  }));
  const [numbers, setNumbers] = useState<Numbers>({});
  const answer = (value: string | number) =>
    dispatch(command({ type: 'answerStep', step: step.id, answer: value, given: numbers }));
  const isWaiting = run.phase === 'watching';
  // Without a link everything is asked with the answer.
  const asked =
    isWaiting || run.phase === 'asking' ? step.asks.filter(({ when }) => run.isByHand || when === 'answer') : [];
  const isMissing = asked.some(({ key, isRequired }) => isRequired && numbers[key] === undefined);
  if (!run.isHere)
    return (
      <Typography role="status" variant="body2">
        This step is under way in another window.
      </Typography>
    );
  return (
    <Box sx={{ border: 2, borderColor: 'primary.main', borderRadius: 1, p: 1, mb: 1 }}>
      {phaseWords[run.phase] !== '' && step.id !== 'sensors' && (
        <Typography role="status" aria-live="polite" sx={{ fontWeight: 600, mb: 0.5 }}>
          {run.phase === 'drilling' && step.phase === 'Control supply only'
            ? 'Reading the drive …'
            : phaseWords[run.phase]}
        </Typography>
      )}
      {!run.isByHand && run.phase !== 'asking' && <LiveLook />}
      {step.id === 'sensors' && isWaiting && <SensorWalkPanel />}
      {run.phase === 'ready' && run.jog && (
        <JogButtons
          enabled={mayJog}
          version={draft.state.kind === 'saved' && version === draft.version ? draft.version : undefined}
          speed={run.jog.speed}
          plusEnd={document.kind === 'axis' ? document.plusEnd : ''}
          directions={run.jog.directions}
        />
      )}
      <AskedNumbers asked={asked} numbers={numbers} onNumbers={setNumbers} />
      {run.phase === 'asking' && <StepQuestion question={step.question} isMissing={isMissing} onAnswer={answer} />}
      <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
        {isWaiting &&
          Object.entries(step.done).map(([value, label]) => (
            <Button key={value} variant="outlined" disabled={isMissing} onClick={() => answer(value)}>
              {label}
            </Button>
          ))}
        {run.phase !== 'settling' && (
          <Button onClick={() => dispatch(command({ type: 'endStep' }))}>
            {run.phase === 'ready' ? 'Motor off, and judge' : run.phase === 'drilling' ? 'Stop' : 'End the step'}
          </Button>
        )}
      </Box>
    </Box>
  );
}
