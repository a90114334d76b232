import type { DriveData, LiveState } from '@kavrid/contract';
import type { AxisComputation } from './axisComputation.ts';
import type { Step } from '../member/MemberFrame.tsx';
import { topicOf } from './signalTopics.ts';

/** The steps of the job that have a screen, each with how it stands. */
export function stepsOf(
  computation: AxisComputation,
  keyed: number,
  driveData: DriveData | undefined,
  live: LiveState | undefined,
): readonly Step[] {
  const stopping = computation.findings.filter((finding) => finding.severity === 'stop');
  const wired = stopping.filter((finding) => topicOf(finding) !== undefined).length;
  const stops = stopping.length - wired;
  const isSettled = !computation.findings.some(({ id }) => id === 'limitNotSettled');
  const scaled = computation.results.highestSpeed.state === 'known';
  const planned = driveData?.comparisons.filter((each) => each.standing !== 'not planned') ?? [];
  const differing = planned.filter((each) => each.standing !== 'proven').length;
  const read = driveData?.isRead === true;
  return [
    {
      route: 'chain',
      title: 'Plates and scaling',
      standing: !scaled ? 'open' : stops > 0 ? `${stops} to mend` : 'computed',
      proven: scaled && stops === 0,
    },
    {
      route: 'signals',
      title: 'Signals',
      standing: wired > 0 ? `${wired} to mend` : isSettled ? 'settled' : 'open',
      proven: wired === 0 && isSettled,
    },
    {
      route: 'ends',
      title: 'Both ends, keyed in',
      standing: keyed === 0 ? 'not begun' : `${keyed} keyed in`,
      proven: false,
    },
    {
      route: 'drive',
      title: 'Drive data',
      standing: !read ? 'not read yet' : differing > 0 ? `${differing} not proven` : 'proven',
      proven: read && differing === 0 && planned.length > 0,
    },
    {
      route: 'moves',
      title: 'Jog, home, test moves',
      standing: live?.homed ? 'homed' : live?.link === 'up' ? 'connected' : 'not connected',
      proven: live?.homed === true,
    },
  ];
}

/** What can be done at any time. */
export const furtherSteps: readonly Step[] = [
  { route: 'measure', title: 'Measured scaling', standing: 'counts and travel, proven' },
  { route: 'faults', title: 'Find a fault', standing: 'by looking and metering' },
  { route: 'revisions', title: 'Revisions', standing: 'every save, to compare and restore' },
];
