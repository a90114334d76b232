import type { RevisionPage } from '@kavrid/contract';
import { screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { answer, axisRecord, demoAxis, replies, requests, show } from '../test/screen.tsx';
import { RevisionsView } from './RevisionsView.tsx';

const page: RevisionPage = {
  total: 45,
  items: [4, 3, 2].map((version) => ({
    version,
    at: `2026-02-0${version}T10:00:00.000Z`,
    author: version === 3 ? '' : 'Ada',
    summary: `gear numerator ${version - 1} → ${version}`,
    name: version === 2 ? 'as shipped' : '',
    runs: version === 3 ? 2 : 0,
    proofs: version === 4 ? 1 : 0,
  })),
};
const open = () => {
  replies.set('GET /axes/a/revisions', page);
  for (const version of [2, 3, 4])
    replies.set(
      `GET /axes/a/revisions/${version}`,
      axisRecord(version, { ...demoAxis, gear: { ...demoAxis.gear, numerator: String(version), denominator: '1' } }),
    );
  return show(<RevisionsView />, {
    axis: axisRecord(4, { ...demoAxis, gear: { ...demoAxis.gear, numerator: '4', denominator: '1' } }),
  });
};

describe('revisions', () => {
  it('compares the newest with the one before, or any two that are chosen, results beside inputs', async () => {
    const { user } = open();
    const fields = await screen.findByRole('table', { name: 'Fields' });
    expect(within(fields).getByRole('row', { name: 'gear numerator 3 4' })).toBeTruthy();
    await user.click(screen.getByRole('radio', { name: 'Compare from version 2' }));
    expect(await screen.findByRole('row', { name: 'gear numerator 2 4' })).toBeTruthy();
    // 2²⁰ · 3 / 320 counts a millimetre over the ratio, by hand: 4915.2 and 2457.6 pulses/mm.
    expect(screen.getByRole('row', { name: /Steps per unit, pulses\/mm 4.915\.2 2.457\.6/ })).toBeTruthy();
    await user.click(screen.getByRole('radio', { name: 'Compare to version 2' }));
    expect(await screen.findByText(/Choose two revisions/)).toBeTruthy();
    expect(screen.getByText('no name given', { exact: false })).toBeTruthy();
  });

  it('turns pages, shows named ones only, and names one', async () => {
    const { user } = open();
    await user.click(await screen.findByRole('button', { name: 'Go to next page' }));
    await vi.waitFor(() => expect(requests.at(-1)?.query.get('page')).toBe('1'));
    await user.click(screen.getByRole('switch', { name: 'named ones only' }));
    await vi.waitFor(() =>
      expect(Object.fromEntries(requests.at(-1)?.query ?? [])).toEqual({ page: '0', size: '20', named: '1' }),
    );
    await user.click(screen.getAllByRole('button', { name: 'Name …' })[2] as HTMLElement);
    const field = screen.getByRole<HTMLInputElement>('textbox', { name: 'Name' });
    expect(field.value).toBe('as shipped');
    await user.clear(field);
    replies.set('PUT /axes/a/revisions/2/name', answer(204, null));
    await user.click(screen.getByRole('button', { name: 'Give this name' }));
    const named = () => requests.find(({ method, path }) => method === 'PUT' && path.endsWith('/name'));
    await vi.waitFor(() => expect(named()?.body).toEqual({ name: '' }));
  });

  it('restores one as a new one, on top of what is newest', async () => {
    const { user, draft } = open();
    replies.set(
      'POST /axes/a/revisions/2/restore',
      axisRecord(5, { ...demoAxis, gear: { ...demoAxis.gear, numerator: '2', denominator: '1' } }),
    );
    await user.click(await screen.findByRole('button', { name: 'Restore version 2' }));
    await vi.waitFor(() =>
      expect(draft()).toMatchObject({ version: 5, document: { gear: { numerator: '2' } }, state: { kind: 'saved' } }),
    );
    expect(requests.find(({ method }) => method === 'POST')?.body).toEqual({ author: '', version: 4 });
    expect(screen.queryByRole('button', { name: 'Restore version 4' })).toBeTruthy();
  });

  it('tells why it cannot be read', async () => {
    replies.set(
      'GET /axes/a/revisions',
      answer(503, { type: 'about:blank', status: 503, title: 'The database does not respond.' }),
    );
    show(<RevisionsView />, { axis: axisRecord() });
    expect(await screen.findByText(/The database does not respond/)).toBeTruthy();
  });
});
