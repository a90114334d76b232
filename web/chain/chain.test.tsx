import { screen, within } from '@testing-library/react';
import { newAxis, newController, newEntry, type AxisDocument } from '@kavrid/contract';
import { beforeEach, describe, expect, it } from 'vitest';
import { axisRecord, demoAxes, replies, show } from '../test/screen.tsx';
import { ChainView } from './ChainView.tsx';

beforeEach(() => {
  replies.set('GET /library', ({ query }: { query: URLSearchParams }) => ({
    total: 1,
    items:
      query.get('shelf') === 'controller'
        ? [
            {
              id: 'board',
              version: 3,
              updatedAt: '2026-01-01T00:00:00.000Z',
              usedBy: 0,
              item: {
                shelf: 'controller',
                entry: {
                  ...newEntry('controller', 'Slow board').entry,
                  partNumbers: 'SB-30-?2*',
                  maximumPulseRate: 30000,
                },
              },
            },
          ]
        : [],
  }));
});

const open = (axis = axisRecord()) => show(<ChainView />, { axis });
const station = (name: string) =>
  within(screen.getByRole('region', { name: 'Chain' })).getByRole('button', { name: new RegExp(name) });
const result = (symbol: string) => document.querySelector(`[data-result="${symbol}"]`)?.textContent ?? '';

describe('plates and scaling', () => {
  it('works everything out as it is typed, and stages are added and removed', async () => {
    const { user, draft } = open();
    await user.click(station('Gearbox'));
    const ratio = screen.getByLabelText('Ratio, turns in to one out');
    await user.clear(ratio);
    await user.type(ratio, '6');
    // Twice the ratio: twice the pulses a millimetre at the same gear, by hand 200.
    expect(result('stepsPerUnit')).toContain('200');
    await user.click(screen.getByRole('button', { name: 'Remove' }));
    expect(draft().document.stages.map(({ kind }) => kind)).toEqual(['beltDrive']);
    // Without it 2²⁰ · 125 / 12288 / 320 = 33.333 pulses/mm.
    expect(result('stepsPerUnit')).toContain('33.333');
    await user.click(screen.getByRole('button', { name: 'Add a stage before' }));
    expect(draft().document.stages.map(({ kind }) => kind)).toEqual(['gearbox', 'beltDrive']);
    expect(result('stepsPerUnit')).toContain('unknown');
    expect(screen.getAllByText(/the gearbox ratio has not been entered/).length).toBeGreaterThan(0);
  });

  it('a controller from the library brings its limit, and the finding that goes with it', async () => {
    const { user, draft } = open();
    await user.click(station('Controller'));
    await user.click(await screen.findByRole('combobox', { name: 'Model, from the library' }));
    await user.click(await screen.findByRole('option', { name: 'Slow board' }));
    expect(draft().document.controller).toEqual({
      ...newController('Slow board'),
      maximumPulseRate: 30000,
      entry: { id: 'board', version: 3 },
    });
    expect(
      screen.getByText(/needs 150 000 pulses\/s; the controller sends at most 30 000, enough for 300 mm\/s/),
    ).toBeTruthy();
    expect(
      within(screen.getByRole('region', { name: 'Chain' })).getByRole('img', { name: 'Stop at Controller' }),
    ).toBeTruthy();
    // Changed by hand afterwards, it says so.
    const rate = screen.getByLabelText('Highest pulse rate');
    await user.clear(rate);
    await user.type(rate, '40 kHz');
    expect(screen.getByText('Changed here since it was taken from the library.')).toBeTruthy();
    // By a part number, whose free places are not looked at.
    await user.click(screen.getByRole('button', { name: 'By part number …' }));
    const number = screen.getByLabelText('Find by part number');
    await user.type(number, 'GC-99');
    expect(screen.getByText('No entry is ordered under this number.')).toBeTruthy();
    await user.clear(number);
    await user.type(number, 'sb 30 x2');
    await user.click(screen.getByRole('button', { name: /^Take / }));
    expect(screen.queryByText('Changed here since it was taken from the library.')).toBeNull();
  });

  it('adopting a ratio from the whole range takes its resolution along, in one step of undo', async () => {
    const { user, draft } = open();
    await user.click(screen.getByRole('button', { name: 'all resolutions' }));
    const table = await screen.findByRole('table', { name: 'Speed against resolution' });
    const before = draft().past.length;
    const [first] = within(table).getAllByRole('button', { name: /^Adopt/ });
    if (!first) throw new Error('there is no ratio to adopt');
    await user.click(first);
    expect(draft().past.length).toBe(before + 1);
    expect(
      draft()
        .past.at(-1)
        ?.edits.map(({ path }) => path.join('.')),
    ).toEqual(['gear', 'wanted.resolution']);
  });

  it('a drive with a switch table is set by its switches, one by pulses per revolution by those', async () => {
    const lift = demoAxes[1] as AxisDocument;
    const { user, draft } = open(axisRecord(1, lift));
    await user.click(screen.getByRole('combobox', { name: 'Switches' }));
    await user.click(await screen.findByRole('option', { name: /: 4000$/ }));
    // 4000 counts at 4000 pulses: a ratio of 1, 400 pulses/mm on 10 mm.
    expect(draft().document.gear).toMatchObject({ numerator: '1', denominator: '1' });
    expect(result('stepsPerUnit')).toContain('400');
    await user.click(screen.getByRole('combobox', { name: 'Ratio format' }));
    await user.click(await screen.findByRole('option', { name: 'pulses per revolution' }));
    const pulses = screen.getByLabelText('Pulses per revolution');
    await user.clear(pulses);
    await user.type(pulses, '1500');
    expect(draft().document.gear).toMatchObject({ numerator: '8', denominator: '3' });
    expect(result('pulsesPerRevolution')).toContain('1\u202f500');
    await user.clear(pulses);
    await user.type(pulses, '12.5');
    expect(screen.getByText(/whole number/)).toBeTruthy();
    expect(draft().document.gear).toMatchObject({ numerator: '1000', denominator: '3' });
  });

  it('wanted steps per unit set the resolution; a table of ratios is sorted by its headings', async () => {
    const { user, draft } = open();
    await user.click(station('Controller'));
    const steps = screen.getByLabelText('Steps per mm');
    await user.clear(steps);
    await user.type(steps, '128');
    expect(draft().document.wanted.resolution).toBe('1/128 mm');
    const table = screen.getByRole('table', { name: 'Ratios for the wanted resolution' });
    const firsts = () =>
      within(table)
        .getAllByRole('row')
        .slice(1)
        .map((row) => row.querySelector('td')?.textContent);
    const before = firsts();
    await user.click(within(table).getByRole('button', { name: /error/ }));
    expect(firsts()).toEqual(before);
    await user.click(within(table).getByRole('button', { name: /error/ }));
    expect(firsts()).toEqual([...before].reverse());
  });

  it('every ratio there is can be compared, sorted and adopted with its resolution', async () => {
    const { user, draft } = open();
    await user.click(screen.getByRole('button', { name: 'Compare …' }));
    const table = await screen.findByRole('table', { name: 'All ratios' }, { timeout: 10_000 });
    const column = (index: number) =>
      within(table)
        .getAllByRole('row')
        .slice(1)
        .map((row) => row.querySelectorAll('td')[index]?.textContent ?? '');
    await user.click(within(table).getByRole('button', { name: /^mm\/pulse/ }));
    const resolutions = column(0).map((text) => Number(text.replace(/\s/g, '')));
    expect(resolutions.length).toBeGreaterThan(12);
    expect([...resolutions].sort((a, b) => a - b)).toEqual(resolutions);
    await user.click(within(table).getByRole('button', { name: /^top/ }));
    expect(within(table).getByRole('columnheader', { name: /^top/ }).getAttribute('aria-sort')).toBe('ascending');
    // 20 µm a pulse: twice the ratio, 24576/125, half the steps.
    await user.click(within(table).getByRole('button', { name: 'Adopt 24576/125' }));
    expect(draft().document.gear).toMatchObject({ numerator: '24576', denominator: '125', sets: [] });
    expect(draft().document.wanted.resolution).toBe('1/50 mm');
    await user.click(screen.getByRole('button', { name: 'Close' }));
    expect(result('stepsPerUnit')).toContain('50');
  });

  it('further ratios are added and taken out, each with what a pulse is then', async () => {
    const { user, draft } = open();
    await user.click(screen.getByRole('button', { name: 'Add a ratio' }));
    const n = screen.getByLabelText('N of ratio 2');
    const d = screen.getByLabelText('D of ratio 2');
    await user.clear(n);
    await user.type(n, '12288');
    await user.clear(d);
    await user.type(d, '250');
    expect(screen.getByText(/A pulse is 0.005 mm, 0.5 times as far; 200 pulses\/mm/)).toBeTruthy();
    expect(screen.getByText(/no longer refers to the same place/)).toBeTruthy();
    await user.click(screen.getByLabelText('Ratio switched while moving'));
    expect(screen.getByText(/its speed would jump in the ratio of the two gear ratios/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Remove ratio 2' }));
    expect(draft().document.gear.sets).toEqual([]);
  });

  it('a linear motor has a slide, counts per mm, force and mass; back again it has a shaft', async () => {
    const { user, draft } = open();
    await user.click(station('Motor'));
    await user.click(screen.getByRole('combobox', { name: 'The motor' }));
    await user.click(await screen.findByRole('option', { name: 'pushes along a line' }));
    expect(draft().document.stages.map(({ kind }) => kind)).toEqual(['slide']);
    await user.type(screen.getByLabelText('Counts per mm'), '1000');
    await user.type(screen.getByLabelText('Highest speed'), '3000');
    expect(result('countsPerRevolution')).toBe('Counts per mm1\u202f000counts/mm');
    expect(result('testMovePeakTorque')).toContain('Peak force of the test move');
    expect(result('motorSpeedAtWantedSpeed')).toContain('mm/s');
    expect(document.body.textContent).not.toContain('rpm');
    await user.click(screen.getByRole('combobox', { name: 'The motor' }));
    await user.click(await screen.findByRole('option', { name: 'turns a shaft' }));
    expect(draft().document.stages.map(({ kind }) => kind)).toEqual(['screw']);
  });

  it('an untimed pulse train has its times, and a second motor its skew', async () => {
    const { user, draft } = open();
    await user.click(station('Controller'));
    await user.click(screen.getByRole('combobox', { name: 'Command signal' }));
    await user.click(await screen.findByRole('option', { name: /untimed/ }));
    for (const [label, text] of [
      ['Pulses of a train', '1000'],
      ['Pulse rate of the train', '30 kHz'],
      ['Repeat period of the train', '0.1'],
      ['Drive’s speed limit', '500'],
      ['Drive’s acceleration', '2000'],
    ] as const)
      await user.type(screen.getByLabelText(label), text);
    expect(result('trainTime')).toContain('0.0333333');
    // 10 mm at 2000 mm/s²: 2 · √(10 / 2000)
    expect(result('trainMoveTime')).toContain('0.141421');
    expect(screen.getByText(/next train starts after 0.1 s; the move takes 0.1414 s/)).toBeTruthy();
    await user.click(station('Load'));
    await user.click(screen.getByRole('combobox', { name: 'Motors on this axis' }));
    await user.click(await screen.findByRole('option', { name: /two/ }));
    expect(draft().document.pair?.mirrored).toBe(true);
    await user.type(screen.getByLabelText('Motor spacing'), '900');
    await user.type(screen.getByLabelText('Skew allowed'), '9');
    // arctan 0.01
    expect(result('skewAngle')).toContain('0.572939');
    expect(screen.getByText(/the other keeps driving and skews the axis past 0.5729°/)).toBeTruthy();
  });

  it('a probe that cannot be read says so and changes nothing else', async () => {
    const { user } = open();
    const load = screen.getByLabelText<HTMLInputElement>('Load: mm');
    await user.clear(load);
    await user.type(load, '3 kg');
    expect(screen.getByRole('alert').textContent).toContain('cannot be used here');
    await user.clear(load);
    await user.type(load, '0.1 m');
    // 100 pulses/mm, by hand.
    expect(screen.getByLabelText<HTMLInputElement>('Controller: pulses').value.replace(/\s/g, '')).toBe('10000');
  });

  it('a new axis says what is missing, at every station', () => {
    open(axisRecord(1, newAxis('New', 'rotary')));
    expect(result('stepsPerUnit')).toContain('unknown');
    expect(document.body.textContent).not.toMatch(/NaN|Infinity|undefined/);
  });
});
