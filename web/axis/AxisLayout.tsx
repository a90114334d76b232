import { useMemo } from 'react';
import { shallowEqual } from 'react-redux';
import { useParams } from 'react-router';
import { MemberContext } from '../member/memberContext.ts';
import { MemberFrame, StepList } from '../member/MemberFrame.tsx';
import { useDraft } from '../member/useDraft.ts';
import { useAppSelector } from '../store/store.ts';
import { Failed, Loading } from '../ui/Loading.tsx';
import { axisComputation } from '../member/axisComputation.ts';
import { guidedStanding } from '../member/guidedStanding.ts';
import { useAxisLive } from '../member/useLive.ts';
import { useAxis } from '../member/useAxis.ts';
import { useHasBench } from '../bench/useBench.ts';
import { benchStep, furtherSteps, stepsOf, walkStanding } from './steps.ts';

/** One axis. */
export function AxisLayout() {
  const { memberId = '' } = useParams();
  const { draft, failed, retry } = useDraft(memberId);
  const lengths = useAppSelector((state) => state.preferences.lengths);
  const value = useMemo(
    () =>
      draft?.document.kind === 'axis'
        ? { memberId, draft, document: draft.document, computation: axisComputation(draft.document, lengths) }
        : undefined,
    [memberId, draft, lengths],
  );
  if (!value) {
    if (draft) return <Failed what="The axis" because="This is a spindle." retry={retry} />;
    return failed ? <Failed what="The axis" because={failed} retry={retry} /> : <Loading what="the axis" />;
  }
  return (
    <MemberContext value={value}>
      <MemberFrame steps={AxisSteps} />
    </MemberContext>
  );
}

function AxisSteps() {
  const { computation, document } = useAxis();
  const hasBench = useHasBench();
  const driveData = useAppSelector((state) => state.live.driveData);
  const live = useAxisLive((all) => all && { homed: all.homed, link: all.link, sensors: walkStanding(all) });
  const guided = useAppSelector(({ live: { guide } }) => guidedStanding(guide), shallowEqual);
  return (
    <StepList
      steps={stepsOf(document, computation, document.keying.done.length, driveData, live, guided)}
      further={hasBench ? [...furtherSteps, benchStep] : furtherSteps}
    />
  );
}
