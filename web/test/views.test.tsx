import { memberSchema, type AxisDocument, type MemberDocument, type SpindleDocument } from '@kavrid/contract';
import { act, cleanup, screen } from '@testing-library/react';
import fc from 'fast-check';
import type { ReactElement } from 'react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { memberKinds } from '../../contract/test/memberKinds.ts';
import { mutated } from '../../contract/test/mutated.ts';
import { ChainView } from '../chain/ChainView.tsx';
import { DriveDataView } from '../drive/DriveDataView.tsx';
import { EndsView } from '../ends/EndsView.tsx';
import { FaultsView } from '../faults/FaultsView.tsx';
import { prepareMoves } from '../jobs/moveJob.ts';
import { runSpindleTest } from '../jobs/spindleRunJob.ts';
import { HomingView } from '../homing/HomingView.tsx';
import { MeasureView } from '../measure/MeasureView.tsx';
import { MovesView } from '../moves/MovesView.tsx';
import { SignalsView } from '../signals/SignalsView.tsx';
import { BusView } from '../spindle/BusView.tsx';
import { CurveView } from '../spindle/CurveView.tsx';
import { RampsView } from '../spindle/RampsView.tsx';
import { RunTestView } from '../spindle/RunTestView.tsx';
import { SpindleChainView } from '../spindle/SpindleChainView.tsx';
import { TachometerView } from '../spindle/TachometerView.tsx';
import { Panel } from '../ui/Panel.tsx';
import { PlannedValuesView } from '../values/PlannedValuesView.tsx';
import { axisRecord, demoAxis, replies, show } from './screen.tsx';

const axisViews: Readonly<Record<string, ReactElement>> = {
  chain: <ChainView />,
  signals: <SignalsView />,
  values: <PlannedValuesView />,
  ends: <EndsView />,
  drive: <DriveDataView />,
  homing: <HomingView />,
  moves: <MovesView />,
  measure: <MeasureView />,
  faults: <FaultsView />,
};
const spindleViews: Readonly<Record<string, ReactElement>> = {
  chain: <SpindleChainView />,
  curve: <CurveView />,
  ramps: <RampsView />,
  bus: <BusView />,
  ends: <EndsView />,
  drive: <DriveDataView />,
  run: <RunTestView />,
  tachometer: <TachometerView />,
};

/** Renderings of each view: a sample, or as many as the proof asks for. */
const perView = process.env.KAVRID_PROOF ? 30 : 4;

beforeEach(() => {
  // What is predicted is checked below, without a thread.
  const silent = class {
    postMessage = () => undefined;
    terminate = () => undefined;
  };
  vi.stubGlobal('Worker', silent);
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe = () => undefined;
      unobserve = () => undefined;
      disconnect = () => undefined;
    },
  );
});

const shows = (view: ReactElement, member: MemberDocument) => {
  replies.set('GET /profiles', []);
  replies.set('GET /axes/a/runs', []);
  if (member.kind === 'axis') show(view, { axis: axisRecord(1, member) });
  else show(view, { spindle: member });
  const broken = screen.queryByText(/cannot be shown|Unexpected Application Error/)?.textContent;
  const text = document.body.textContent;
  cleanup();
  return { broken, text };
};

const accepted = <K extends MemberDocument['kind']>(kind: K) =>
  mutated(memberKinds.filter((each) => each.kind === kind)).filter(
    (member) => memberSchema.safeParse(member).success,
  ) as fc.Arbitrary<K extends 'axis' ? AxisDocument : SpindleDocument>;

describe('views of whatever can be saved', () => {
  const check = (view: ReactElement, members: fc.Arbitrary<MemberDocument>) =>
    fc.assert(
      fc.property(members, (member) => {
        const { broken, text } = shows(view, member);
        expect(broken).toBeUndefined();
        expect(text).not.toMatch(/\bNaN\b|\bundefined\b|\[object/);
      }),
      { numRuns: perView, endOnFailure: true },
    );
  it.each(Object.entries(axisViews))('%s of an axis', (_, view) => check(view, accepted('axis')));
  it.each(Object.entries(spindleViews))('%s of a spindle', (_, view) => check(view, accepted('spindle')));
});

describe('predictions of whatever can be saved', () => {
  it('end, with a reason where there is none', () => {
    fc.assert(
      fc.property(accepted('axis'), (axis) => {
        const { whole, because } = prepareMoves({ axis, measured: undefined });
        expect(whole.every(Number.isFinite)).toBe(true);
        expect(because === undefined || because.length > 5).toBe(true);
      }),
      { numRuns: perView },
    );
    fc.assert(
      fc.property(accepted('spindle'), (spindle) => {
        const result = runSpindleTest({ spindle });
        expect(result.kind === 'run' || result.because.length > 5).toBe(true);
      }),
      { numRuns: perView },
    );
  });
});

describe('a panel that fails', () => {
  it('fails alone, and comes back with the next edit', () => {
    const quiet = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    let isBroken = true;
    const Content = () => {
      if (isBroken) throw new Error('no number');
      return <p>as before</p>;
    };
    const { store } = show(
      <>
        <Panel title="Left">
          <Content />
        </Panel>
        <Panel title="Right">beside it</Panel>
      </>,
      { axis: axisRecord(1, demoAxis) },
    );
    expect(screen.getByText(/“Left” cannot be shown: no number/)).toBeTruthy();
    expect(screen.getByText('beside it')).toBeTruthy();
    isBroken = false;
    act(() => {
      store.dispatch({ type: 'drafts/edited', payload: { memberId: 'a', path: ['name'], value: 'B', at: 0 } });
    });
    expect(screen.getByText('as before')).toBeTruthy();
    quiet.mockRestore();
  });
});
