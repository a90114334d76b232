import { acceptanceDigest } from '@kavrid/contract';
import { screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { answer, axisRecord, demoAxis, replies, requests, show } from '../test/screen.tsx';
import { AcceptanceView } from './AcceptanceView.tsx';

const report = {
  ...{ version: 1, verdict: 'not measured', identity: '21249:7' },
  rows: [
    { key: 'followingError', limit: 6, measured: 2.5, verdict: 'passed' },
    { key: 'homingRepeatability', limit: 0.1, verdict: 'not measured', because: 'there is no homing series' },
  ],
  run: { id: 'r', startedAt: '2026-11-30T10:00:00.000Z', axisVersion: 1 },
};

describe('acceptance', () => {
  it('shows each limit with what was measured, why something does not count, and keeps it', async () => {
    replies.set('GET /axes/a/acceptance', report);
    replies.set('GET /axes/a/evidence', [
      {
        ...{ kind: 'acceptance', madeAt: '2026-11-29T10:00:00.000Z', revision: 1, identity: '21249:7' },
        ...{ digest: acceptanceDigest(demoAxis), payload: { verdict: 'failed', rows: report.rows } },
      },
      {
        ...{ kind: 'acceptance', madeAt: '2026-11-28T10:00:00.000Z', revision: 1, identity: '' },
        ...{ digest: 'other', payload: { verdict: 'passed', rows: [] } },
      },
    ]);
    replies.set('POST /axes/a/acceptance', answer(201, report));
    const { user } = show(<AcceptanceView />, { axis: axisRecord() });
    const table = await screen.findByRole('table', { name: 'Acceptance' });
    const [, following, homing] = within(table).getAllByRole('row');
    expect(following?.textContent).toBe('Peak following error6 mm2.5 mmpassed');
    expect(homing?.textContent).toContain('not measured: there is no homing series');
    expect(screen.getByText('Not everything has been measured yet.')).toBeTruthy();
    const kept = within(await screen.findByRole('table', { name: 'Acceptances kept as evidence' })).getAllByRole('row');
    expect(kept[1]?.textContent).toContain('21249:7version 1');
    expect(kept[2]?.textContent).toContain('plan changed since version 1');
    await user.click(screen.getByRole('button', { name: 'Keep as evidence' }));
    await vi.waitFor(() =>
      expect(requests.find(({ method, path }) => method === 'POST' && path === '/axes/a/acceptance')?.body).toEqual({
        version: 1,
      }),
    );
  });

  it('judges nothing of another version than the one on screen', async () => {
    replies.set('GET /axes/a/acceptance', { ...report, version: 2 });
    replies.set('GET /axes/a/evidence', []);
    show(<AcceptanceView />, { axis: axisRecord() });
    expect(await screen.findByText('None has been kept yet.')).toBeTruthy();
    expect(screen.queryByRole('table', { name: 'Acceptance' })).toBeNull();
    expect(screen.getByRole('button', { name: 'Keep as evidence' })).toHaveProperty('disabled', true);
  });
});
