import { useMemo } from 'react';
import { useParams } from 'react-router';
import { MemberContext } from '../member/memberContext.ts';
import { guidedStanding } from '../member/guidedStanding.ts';
import { MemberFrame, StepList } from '../member/MemberFrame.tsx';
import { useDraft } from '../member/useDraft.ts';
import { useAppSelector } from '../store/store.ts';
import { Failed, Loading } from '../ui/Loading.tsx';
import { spindleComputation } from '../member/spindleComputation.ts';
import { useSpindle } from '../member/useSpindle.ts';
import { furtherSpindleSteps, spindleSteps } from './spindleSteps.ts';

/** One spindle. */
export function SpindleLayout() {
  const { memberId = '' } = useParams();
  const { draft, failed, retry } = useDraft(memberId);
  const value = useMemo(
    () =>
      draft?.document.kind === 'spindle'
        ? { memberId, draft, document: draft.document, computation: spindleComputation(draft.document) }
        : undefined,
    [memberId, draft],
  );
  if (!value) {
    if (draft) return <Failed what="The spindle" because="This is an axis." retry={retry} />;
    return failed ? <Failed what="The spindle" because={failed} retry={retry} /> : <Loading what="the spindle" />;
  }
  return (
    <MemberContext value={value}>
      <MemberFrame steps={SpindleSteps} />
    </MemberContext>
  );
}

function SpindleSteps() {
  const { computation, document } = useSpindle();
  const driveData = useAppSelector((state) => state.live.driveData);
  const isLinked = useAppSelector((state) => state.live.spindle?.link === 'up');
  const firstPower = useAppSelector(({ live: { guide } }) => guidedStanding(guide).firstPower);
  const hasLimit = document.acceptance.speedError !== null;
  const steps = spindleSteps(computation, document.keying.done.length, driveData, isLinked, firstPower, hasLimit);
  return <StepList steps={steps} further={furtherSpindleSteps} />;
}
