import type { DriveData } from '@kavrid/contract';
import { valueOf } from '@kavrid/core/sheet';
import { spindlePages } from '../member/spindlePlaces.ts';
import { driveDataStep } from '../member/driveDataStep.ts';
import type { Step } from '../member/MemberFrame.tsx';
import type { SpindleComputation } from '../member/spindleComputation.ts';
import { spindleTopicOf, type SpindleTopic } from '../member/spindleTopics.ts';

/** The steps of a spindle's job, each with how it stands. */
export function spindleSteps(
  { results, findings }: SpindleComputation,
  keyed: number,
  driveData: DriveData | undefined,
  isLinked: boolean,
  firstPower: string,
  hasLimit: boolean,
): readonly Step[] {
  const toMend = (topic: SpindleTopic) =>
    findings.filter((finding) => finding.severity === 'stop' && spindleTopicOf(finding) === topic).length;
  const step = (route: SpindleTopic, title: string, isKnown: boolean): Step => {
    const wrong = toMend(route);
    return {
      route,
      title,
      standing: wrong > 0 ? `${wrong} to correct` : isKnown ? 'checked' : 'open',
    };
  };
  const known = (...symbols: (keyof typeof results)[]) =>
    symbols.every((symbol) => valueOf<unknown>(results[symbol]) !== undefined);
  return [
    step('chain', spindlePages.chain, known('range', 'hertzPerToolRpm')),
    step('curve', spindlePages.curve, known('connection', 'worstFlux')),
    step('ramps', spindlePages.ramps, known('plannedStop', 'shortestStop')),
    step('bus', spindlePages.bus, known('hertzPerToolRpm')),
    {
      route: 'ends',
      title: spindlePages.ends,
      standing: keyed === 0 ? 'not begun' : `${keyed} keyed in`,
    },
    driveDataStep(driveData),
    { route: 'first-power', title: 'First power', standing: firstPower },
    {
      route: 'run',
      title: spindlePages.run,
      standing: isLinked ? 'connected' : known('totalInertia', 'curve') ? 'predicted' : 'open',
    },
    { route: 'traces', title: spindlePages.traces, standing: 'recordings' },
    { route: 'acceptance', title: spindlePages.acceptance, standing: hasLimit ? 'limit set' : 'no limit' },
  ];
}

export const furtherSpindleSteps: readonly Step[] = [
  { route: 'tachometer', title: spindlePages.tachometer, standing: 'commanded against measured' },
  { route: 'revisions', title: 'Revisions', standing: 'to compare and restore' },
];
