import { homingModel, type AxisDocument, type DriveData, type LiveState } from '@kavrid/contract';
import type { AxisComputation } from '../member/axisComputation.ts';
import { driveDataStep } from '../member/driveDataStep.ts';
import type { Step } from '../member/MemberFrame.tsx';
import { plannedStanding } from '../values/plannedRows.ts';
import { axisPages } from '../member/axisPlaces.ts';
import { isAboutSignals } from '../member/signalTopics.ts';

/** The steps of the job that have a screen, each with how it stands. */
export function stepsOf(
  document: AxisDocument,
  computation: AxisComputation,
  keyed: number,
  driveData: DriveData | undefined,
  live: (Pick<LiveState, 'homed' | 'link'> & { readonly sensors: string }) | undefined,
  guided: { readonly firstPower: string; readonly stops: string; readonly homing: string },
): readonly Step[] {
  const stopping = computation.findings.filter((finding) => finding.severity === 'stop');
  const wired = stopping.filter(isAboutSignals).length;
  const stops = stopping.length - wired;
  const isSettled = !computation.findings.some(({ id }) => id === 'limitNotSettled');
  const scaled = computation.results.highestSpeed.state === 'known';
  // Nothing is settled about the signals of an axis of which nothing is known yet.
  const isEmpty = !scaled && computation.results.countsPerRevolution.state === 'unknown';
  return [
    {
      route: 'chain',
      title: axisPages.chain,
      standing: !scaled ? 'open' : stops > 0 ? `${stops} to correct` : 'computed',
    },
    {
      route: 'signals',
      title: axisPages.signals,
      standing: wired > 0 ? `${wired} to correct` : isSettled && !isEmpty ? 'checked' : 'open',
    },
    { route: 'values', title: axisPages.values, standing: plannedStanding(document) },
    {
      route: 'ends',
      title: axisPages.ends,
      standing: keyed === 0 ? 'not begun' : `${keyed} keyed in`,
    },
    driveDataStep(driveData),
    { route: 'inputs', title: axisPages.inputs, standing: live?.sensors ?? 'not connected' },
    { route: 'first-power', title: 'First power', standing: guided.firstPower },
    {
      route: 'homing',
      title: axisPages.homing,
      standing: live?.homed
        ? 'homed'
        : guided.homing !== 'not begun'
          ? guided.homing
          : homingModel(document, computation.results).state === 'known'
            ? 'predicted'
            : 'open',
    },
    {
      route: 'moves',
      title: axisPages.moves,
      standing: live?.homed ? 'homed' : live?.link === 'up' ? 'connected' : 'not connected',
    },
    {
      route: 'host-moves',
      title: axisPages['host-moves'],
      standing: document.moves.host.distance === null ? 'open' : 'planned',
    },
    { route: 'traces', title: axisPages.traces, standing: 'recordings' },
    {
      route: 'tuning',
      title: axisPages.tuning,
      standing: document.settings.speedBandwidth === null ? 'open' : 'gains planned',
    },
    { route: 'stops', title: 'Stops', standing: guided.stops },
    {
      route: 'acceptance',
      title: axisPages.acceptance,
      standing: Object.values(document.acceptance).some((limit) => limit !== null) ? 'limits set' : 'open',
    },
  ];
}

/** How many sensors have been tripped and proven in this connection. */
export function walkStanding(live: Pick<LiveState, 'link' | 'walk'>): string {
  if (live.link !== 'up') return 'not connected';
  const verdicts = Object.values(live.walk?.verdicts ?? {});
  if (verdicts.length === 0) return 'live';
  const proven = verdicts.filter(({ kind }) => kind === 'proven').length;
  return `${proven} of ${live.walk?.order.length ?? 0} proven`;
}

/** What can be done at any time. */
export const furtherSteps: readonly Step[] = [
  { route: 'measure', title: axisPages.measure, standing: 'counts and travel' },
  { route: 'faults', title: 'Troubleshooting', standing: 'by observing and measuring' },
  { route: 'revisions', title: 'Revisions', standing: 'to compare and restore' },
];

/** Only where the link answers as a bench. */
export const benchStep: Step = { route: 'bench', title: 'Bench', standing: 'simulated devices' };
