import { newAxis, type AxisDocument } from '@kavrid/contract';
import { screen, within } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import library from '../../demo/library.json';
import { axisRecord, demoAxes, demoAxis, replies, show, typeInto } from '../test/screen.tsx';
import { EndsView } from './EndsView.tsx';
import { keyInDocument } from './keyInDocument.ts';

beforeEach(() => {
  for (const { id, item } of library.entries)
    replies.set(`GET /library/${id}`, { id, version: 1, updatedAt: '2026-01-01T00:00:00.000Z', usedBy: 1, item });
});

const open = async (document: AxisDocument = demoAxis, end = 'Drive', known = true) => {
  const shown = show(<EndsView />, { axis: axisRecord(1, document) });
  if (known) await screen.findAllByText(document.controller.entry?.id === 'controller-board' ? 'steps' : 'axis.steps');
  await shown.user.click(screen.getByRole('tab', { name: new RegExp(end) }));
  return shown;
};
const cells = (code: string) =>
  [...(document.querySelector(`[data-code="${code}"]`)?.querySelectorAll('td') ?? [])].map((cell) =>
    (cell.textContent ?? '').trim(),
  );
const changes = () =>
  within(screen.getByRole('list', { name: 'Changes' }))
    .getAllByRole('listitem')
    .map((item) => item.textContent);

describe('key-in sheets', () => {
  it('a drive’s own codes and units, unlocking first, packed fields as one number', async () => {
    await open();
    expect(cells('G-10').slice(1, 4)).toEqual(['G-10', 'Electronic gear, numerator', '12288']);
    // 15 mm at 2²⁰ · 3 / 320 counts a mm, by hand
    expect(cells('L-02').slice(2, 4)).toEqual(['Following-error window15 mm', '147456 counts']);
    expect(cells('G-05')[3]).toBe('512');
    const table = screen.getByRole('table', { name: 'Key-in sheet of the drive' });
    const codes = [...table.querySelectorAll('[data-code]')].map((row) => row.getAttribute('data-code'));
    expect([codes[0], codes.at(-3)]).toEqual(['S-00', 'S-90']);
    expect(codes.at(-1)).toMatch(/^Read the values again/);
  });

  it('a switch table is keyed as the position of its switches', async () => {
    await open(demoAxes[1] as AxisDocument);
    expect(cells('SW1–SW4')[3]).toBe('on off on off');
    expect(cells('P4')[3]).toBe('400 counts');
  });

  it('an end without a library entry gets plain names', async () => {
    await open(newAxis('New', 'rotary'), 'Drive', false);
    expect(cells('Gear numerator')[3]).toBe('1');
    expect(document.body.textContent).not.toMatch(/NaN|Infinity|undefined/);
  });

  it('what was found otherwise becomes one list for both ends, in either way of typing it', async () => {
    const { user, draft } = await open();
    await typeInto(user, screen.getByLabelText('Found at Electronic gear, denominator'), '125.0');
    expect(screen.getByText('The value found is as planned.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: /Paste values found/ }));
    await user.click(screen.getByLabelText('Values'));
    await user.paste('G-10 = 8192\nL-01;300\nnonsense 1');
    expect(screen.getByText(/One line names no code of this end: line 3 “nonsense 1”/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Accept 2' }));
    await user.click(screen.getByRole('tab', { name: /Controller/ }));
    await typeInto(user, screen.getByLabelText('Found at Steps per unit'), '80');
    expect(changes()).toEqual([
      'Controller axis.steps Steps per unit: 80 → 100',
      'Drive G-10 Electronic gear, numerator: 8192 → 12288',
      'Drive L-01 Torque limit: 300 → 150',
    ]);
    expect(draft().document.keying.found).toEqual({
      'drive/G-11': '125.0',
      'drive/G-10': '8192',
      'drive/L-01': '300',
      'controller/axis.steps': '80',
    });
  });

  it('a tick stands for the value that was keyed; a note stays', async () => {
    const { user, draft } = await open();
    await user.click(screen.getByLabelText('Torque limit is keyed in'));
    await typeInto(user, screen.getByLabelText('Note on Torque limit'), 'press twice');
    expect(screen.getByRole('tab', { name: /Drive: 1 of/ })).toBeTruthy();
    expect(draft().document.keying).toMatchObject({
      done: ['drive/L-01=150'],
      notes: { 'drive/L-01': 'press twice' },
    });
    const other = { ...draft().document, settings: { ...demoAxis.settings, torqueLimit: 200 } };
    show(<EndsView />, { axis: axisRecord(2, other) });
    expect((await screen.findAllByRole('tab', { name: /Drive: 0 of/ })).length).toBe(1);
  });
});

describe('the document for paper', () => {
  it('has every line of both ends, ticks and notes, in signs that its face has', () => {
    const axis = {
      ...demoAxis,
      keying: { found: {}, notes: { 'drive/A': 'own\u202fnote' }, given: {}, done: ['drive/A=1'] },
    };
    const row = { label: 'L', unit: 'mm', step: 'value', key: '1', meaning: '', shows: 'on', note: '' } as const;
    const made = keyInDocument(
      axis,
      [
        { end: 'controller', name: 'C', rows: [{ ...row, code: 'B', label: '→ −' }], found: { B: '17' } },
        { end: 'drive', name: 'D', rows: [{ ...row, code: 'A' }], found: {} },
      ],
      { machine: 'Cell', version: 7, printedOn: '1 May 2026' },
    );
    const text = JSON.stringify(made.content);
    expect(text).toContain('-> -');
    expect(text).toContain('own note');
    expect(text).toContain('Cell, axis Carriage, version 7, 1 May 2026');
    expect(text).toContain('"17"');
    expect(text.match(/Keyed in by: _/g)).toHaveLength(2);
    expect(text).toContain('"text":"X"');
    expect(text.match(/"pageBreak":"before"/g)).toHaveLength(1);
  });
});

describe('key-in sheets of signals and inputs', () => {
  const named = (name: string) => demoAxes.find((axis) => axis.name === name) as AxisDocument;
  const rowsShown = () => [...document.querySelectorAll('[data-code]')].map((row) => row.getAttribute('data-code'));
  const openPlain = async (name: string, code: string) => {
    const shown = show(<EndsView />, { axis: axisRecord(1, named(name)) });
    await shown.user.click(screen.getByRole('tab', { name: /Drive/ }));
    await screen.findAllByText(code);
    return shown;
  };

  it('a duty cycle in the drive’s whole numbers, and what was found against them', async () => {
    const { user } = await openPlain('Glaze pump', 'P2');
    expect(['P1', 'P2', 'P3', 'P4'].map((code) => cells(code)[3])).toEqual(['1023', '10000', '3069', '-167 rpm']);
    expect(cells('P0').slice(2, 4)).toEqual(['Command sourcePWM speed', '1']);
    await user.click(screen.getByRole('button', { name: 'Paste values found …' }));
    await typeInto(user, await screen.findByLabelText('Values'), 'P1 = 1024\nP2 = 10000');
    await user.click(screen.getByRole('button', { name: 'Accept 2' }));
    expect(changes()).toEqual(['Drive P1 Raw number at full duty: 1024 → 1023']);
  });

  it('an analog speed with its offset in the drive’s own unit', async () => {
    await openPlain('Turntable', 'A-02');
    expect(cells('A-01')[3]).toBe('3000 rpm');
    expect(cells('A-02').slice(2, 4)).toEqual(['Offset of the inputSet it with the drive warm.', '2 mV']);
    expect(cells('E-01')[3]).toBe('2048 pulses');
    expect(rowsShown()).not.toContain('G-10');
  });

  it('stored moves after the drive’s own list, a line a value', async () => {
    await openPlain('Tile stop', 'C-01');
    expect(cells('Move 1: target')[3]).toBe('85 mm');
    expect(cells('Move 1: what it does')[3]).toBe('position');
    expect(cells('Torque limit 1')[3]).toBe('35 %');
  });
});
