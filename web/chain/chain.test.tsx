// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import { newAxis, newController, newEntry } from '@kavrid/contract';
import { beforeEach, describe, expect, it } from 'vitest';
import { axisRecord, replies, show } from '../test/screen.tsx';
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
                entry: { ...newEntry('controller', 'Slow board').entry, maximumPulseRate: 30000 },
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
    expect(screen.getAllByText(/the gearbox ratio is not filled in/).length).toBeGreaterThan(0);
  });

  it('a controller from the library brings its limit, and the finding that goes with it', async () => {
    const { user, draft } = open();
    await user.click(station('Controller'));
    await user.click(await screen.findByRole('combobox', { name: 'Kind, from the library' }));
    await user.click(await screen.findByRole('option', { name: 'Slow board' }));
    expect(draft().document.controller).toEqual({
      ...newController('Slow board'),
      maximumPulseRate: 30000,
      entry: { id: 'board', version: 3 },
    });
    expect(
      screen.getByText(/needs 150 000 pulses\/s; the controller sends at most 30 000, which is 300 mm\/s/),
    ).toBeTruthy();
    expect(
      within(screen.getByRole('region', { name: 'Chain' })).getByRole('img', { name: 'Stop at Controller' }),
    ).toBeTruthy();
    // Changed by hand afterwards, it says so.
    const rate = screen.getByLabelText('Highest pulse rate');
    await user.clear(rate);
    await user.type(rate, '40 kHz');
    expect(screen.getByText('Changed here since it was taken from the library.')).toBeTruthy();
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

  it('a probe that cannot be read says so and changes nothing else', async () => {
    const { user } = open();
    const load = screen.getByLabelText<HTMLInputElement>('Load: mm');
    await user.clear(load);
    await user.type(load, '3 kg');
    expect(screen.getByRole('alert').textContent).toContain('cannot be given here');
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
