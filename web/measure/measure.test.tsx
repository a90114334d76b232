import { newMotor, newStage, withValueAt, type AxisDocument, type LiveState } from '@kavrid/contract';
import { act, cleanup, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { live } from '../store/live.ts';
import { axisRecord, demoAxes, replies, requests, show, type Request, typeInto } from '../test/screen.tsx';
import { MeasureView } from './MeasureView.tsx';

const screws = demoAxes.find(({ name }) => name === 'Feed screws') as AxisDocument;
const open = (document: AxisDocument = screws) => {
  replies.set('PUT /axes/a', ({ body }: Request) => axisRecord(2, (body as { document: AxisDocument }).document));
  replies.set('PUT /axes/a/revisions/2/name', null);
  return show(<MeasureView />, { axis: axisRecord(1, document) });
};
const fact = (what: RegExp) => within(screen.getByRole('row', { name: what })).getByRole('cell').textContent;
const nameGiven = () => requests.find(({ path }) => path.includes('/revisions/2'))?.body;

describe('travel against command', () => {
  it('is taken with its evidence as a revision of its own', async () => {
    const { user, draft } = open();
    expect(fact(/Measured over commanded/)).toBe('1.000443');
    expect(fact(/Backlash/)).toBe('0.008 mm');
    expect(fact(/Steps per mm/)).toBe('1\u202f000 → 999.5572');
    await user.click(screen.getByRole('button', { name: 'Take × 1.000443' }));
    await screen.findByText(/Accepted: the nameplate values and this correction/);
    expect(draft().document.measured).toMatchObject({ travelCorrection: '1.000443' });
    expect(draft().document.measured.travel).toHaveLength(8);
    await waitFor(() =>
      expect(nameGiven()).toEqual({ name: expect.stringContaining('Travel by measurement: × 1.000443') }),
    );
    // A new series starts from the correction in force.
    await user.click(screen.getByRole('button', { name: 'Start a new series' }));
    expect(draft().document.measured).toMatchObject({ measuredWith: '1.000443', travel: [] });
    expect(screen.getByText(/nothing has been measured yet/)).toBeTruthy();
  });

  it('is refused within noise, and for a factor with a name', async () => {
    const { user } = open();
    const gauge = screen.getByLabelText('Gauge uncertainty');
    await user.clear(gauge);
    await typeInto(user, gauge, '0.5');
    expect(screen.getByText(/No correction: the correction is smaller than its uncertainty/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Take ×/ }).disabled).toBe(true);
  });

  it('gives its backlash to the last stage', async () => {
    const { user, draft } = open();
    await user.click(screen.getByRole('button', { name: 'Take 0.008 mm as backlash' }));
    // The screw of the demo is said to have a backlash of its own; what was measured takes its place.
    await waitFor(() => expect(draft().document.stages.at(-1)).toMatchObject({ backlash: 0.008 }));
    await waitFor(() => expect(nameGiven()).toEqual({ name: 'Backlash by measurement: 0.008 mm, 8 points' }));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /as backlash/ }).disabled).toBe(true);
  });

  it('inches read as millimetres are named', () => {
    open(
      withValueAt(
        screws,
        ['measured', 'travel'],
        [
          { commanded: 0, measured: 0, going: 'plus' },
          { commanded: 10, measured: 254.1, going: 'plus' },
          { commanded: 12, measured: 304.8, going: 'plus' },
        ],
      ),
    );
    expect(screen.getByText(/off by a factor of 25.4. Inches at one end, millimetres at the other/)).toBeTruthy();
  });
});

describe('a measurement without a server', () => {
  it('is kept here, and its revision gets no name', async () => {
    const { user, draft } = open();
    replies.set('PUT /axes/a', {
      status: 503,
      body: { type: 'about:blank', status: 503, title: 'The database is away.' },
      isAnswer: true,
    });
    await user.click(screen.getByRole('button', { name: 'Take × 1.000443' }));
    await waitFor(() => expect(draft().state.kind).toBe('kept here'));
    expect(draft().document.measured.travelCorrection).toBe('1.000443');
    expect(nameGiven()).toBeUndefined();
  });
});

describe('a correction in force', () => {
  it('is on screen, can be taken away, and a bad one is said at its field', async () => {
    const { user, draft } = open(withValueAt(screws, ['measured', 'travelCorrection'], '1.0005'));
    const field = screen.getByLabelText<HTMLInputElement>('Correction in force');
    expect(field.value).toBe('1.0005');
    expect(fact(/Steps per mm/)).toContain('999.5');
    await user.clear(field);
    expect(draft().document.measured.travelCorrection).toBe('');
    await typeInto(user, field, '2');
    expect(screen.getByText(/Must be at most 1.1/)).toBeTruthy();
  });

  it('says so when its revision cannot be named', async () => {
    const { user, store } = open();
    replies.delete('PUT /axes/a/revisions/2/name');
    await user.click(screen.getByRole('button', { name: 'Take × 1.000443' }));
    await waitFor(() => expect(store.getState().live.notice).toContain('could not be named'));
  });
});

describe('points', () => {
  it('are added, typed both ways, and taken out', async () => {
    const { user, draft } = open(withValueAt(screws, ['measured', 'travel'], []));
    await user.click(screen.getByRole('button', { name: 'Add a point' }));
    await typeInto(user, screen.getByLabelText('Commanded, point 1'), '100');
    await typeInto(user, screen.getByLabelText('Measured, point 1'), '4 in');
    await user.click(screen.getByRole('combobox', { name: 'Going, point 1' }));
    await user.click(await screen.findByRole('option', { name: 'minus' }));
    expect(draft().document.measured.travel).toEqual([{ commanded: 100, measured: 101.6, going: 'minus' }]);
    expect(fact(/Backlash/)).toBe('one direction only');
    expect(fact(/Measured over commanded/)).toBe('1.016');
    expect(screen.getByText(/Worth correcting/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Remove point 1' }));
    expect(draft().document.measured.travel).toEqual([]);
  });
});

describe('turning the shaft by hand', () => {
  it('has nothing to turn at a linear motor', () => {
    open({ ...screws, motor: { ...newMotor.linear('Linear'), entry: null }, stages: [newStage('slide')] });
    expect(screen.getByText(/no shaft to turn/)).toBeTruthy();
  });

  it('tells the encoder, compares it with the plate, and takes it', async () => {
    const { user, draft } = open();
    await typeInto(user, screen.getByLabelText('Turns'), '5');
    await typeInto(user, screen.getByLabelText('Counts changed by'), '20031');
    expect(fact(/Counts per revolution/)).toBe('4\u202f006.2');
    expect(fact(/Distance from the mark/)).toBe('2.79°');
    await user.click(screen.getByRole('button', { name: 'Take 1000 lines as the encoder' }));
    await waitFor(() => expect(draft().document.motor).toMatchObject({ encoder: { kind: 'lines', lines: '1000' } }));
    await waitFor(() =>
      expect(nameGiven()).toEqual({ name: expect.stringContaining('1000 lines, 20\u202f031 counts in 5 turns') }),
    );
    expect(screen.getByText(/The nameplate value is right, as far as turning by hand can tell\./)).toBeTruthy();
  });

  it('takes the counts from a linked drive, and remembers where it began', async () => {
    const { user, draft, store } = open();
    const at = (position: number) =>
      act(
        () =>
          void store.dispatch(
            live.actions.liveArrived({ memberId: 'a', link: 'up', position, temporary: [] } as unknown as LiveState),
          ),
      );
    expect(screen.queryByRole('button', { name: 'Begin here' })).toBeNull();
    at(20);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Take the counts' }).disabled).toBe(true);
    await user.click(screen.getByRole('button', { name: 'Begin here' }));
    // A turn is 5 mm, 2²⁰ counts.
    at(25);
    await user.click(screen.getByRole('button', { name: 'Take 1\u202f048\u202f576 counts' }));
    expect(draft().document.measured.counts).toBe('1048576');
    cleanup();
    const again = open();
    act(
      () =>
        void again.store.dispatch(
          live.actions.liveArrived({ memberId: 'a', link: 'up', position: 30, temporary: [] } as unknown as LiveState),
        ),
    );
    expect(screen.getByRole('button', { name: 'Take 2\u202f097\u202f152 counts' })).toBeTruthy();
  });

  it('bad input is said at its field', async () => {
    const { user } = open();
    await typeInto(user, screen.getByLabelText('Turns'), 'many');
    expect(screen.getByText(/“many” is not a number/)).toBeTruthy();
    await user.clear(screen.getByLabelText('Turns'));
    await typeInto(user, screen.getByLabelText('Turns'), '0');
    await typeInto(user, screen.getByLabelText('Counts changed by'), '5');
    expect(screen.getByText(/enter at least one turn of the shaft/)).toBeTruthy();
  });
});
