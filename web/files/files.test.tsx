import type { ImportState } from '@kavrid/contract';
import { act, screen } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { answer, replies, requests, show, type Request } from '../test/screen.tsx';
import { ExportDialog } from './ExportDialog.tsx';
import { ImportDialog } from './ImportDialog.tsx';

const state = (change: Partial<ImportState>): ImportState => ({
  id: 'i',
  phase: 'reading',
  progress: 0,
  machineName: '',
  axes: 0,
  runs: 0,
  problems: [],
  ...change,
});
const ready = state({ phase: 'ready', progress: 1, machineName: 'Kiln <1>', axes: 2, runs: 1 });
const existing = {
  name: 'Kiln',
  updatedAt: '2026-01-01T00:00:00.000Z',
  changes: ['Lift: jog speed 1 → 2'],
  conflicts: ['Lift: name'],
};

/** An upload that is answered when told to. */
class FakeUpload {
  static newest: FakeUpload;
  status = 0;
  response: unknown;
  responseType = '';
  aborted = false;
  readonly upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {};
  onload?: () => void;
  onerror?: () => void;

  constructor() {
    FakeUpload.newest = this;
  }
  open(): void {
    this.status = 0;
  }
  setRequestHeader(): void {
    this.response = undefined;
  }
  send(): void {
    this.aborted = false;
  }
  abort(): void {
    this.aborted = true;
  }
  answer(status: number, response: unknown): void {
    Object.assign(this, { status, response });
    act(() => this.onload?.());
  }
}

beforeEach(() => vi.stubGlobal('XMLHttpRequest', FakeUpload));

describe('importing', () => {
  const begin = async () => {
    const close = vi.fn();
    const shown = show(<ImportDialog close={close} />);
    await shown.user.upload(
      screen.getByTestId('machine-file'),
      new File(['{}'], 'm.json', { type: 'application/json' }),
    );
    return { ...shown, close, upload: FakeUpload.newest };
  };
  const takeButton = () => screen.getByRole('button', { name: 'Import it' });

  it('shows how far it has come, then what was found, and takes it in only when told to', async () => {
    const { user, upload, router, close } = await begin();
    act(() => upload.upload.onprogress?.({ loaded: 1, total: 4 }));
    expect(screen.getByText('Sending: 25 %')).toBeTruthy();
    replies.set('GET /imports/i', state({ progress: 0.5 }));
    upload.answer(201, state({}));
    expect(await screen.findByText('Reading and checking: 50 %')).toBeTruthy();
    expect(takeButton()).toHaveProperty('disabled', true);
    replies.set('GET /imports/i', ready);
    expect(await screen.findByText('Kiln <1>')).toBeTruthy();
    replies.set('POST /imports/i/take', ({ body }: Request) =>
      answer(201, state({ phase: (body as { how: string }).how === 'keep both' ? 'taking in' : 'refused' })),
    );
    replies.set('GET /imports/i', { ...ready, phase: 'done', machineId: 'new' });
    await user.click(takeButton());
    await user.click(await screen.findByRole('button', { name: 'Open the machine' }));
    expect(router.state.location.pathname).toBe('/machines/new');
    expect(close).toHaveBeenCalled();
  });

  it('asks what is to become of a machine that is here already, and whose edits stand', async () => {
    const { user, upload } = await begin();
    upload.answer(201, { ...ready, existing });
    expect(screen.getByText('Lift: jog speed 1 → 2')).toBeTruthy();
    await user.click(screen.getByRole('radio', { name: 'use the value from the file' }));
    replies.set(
      'POST /imports/i/take',
      answer(409, { type: 'about:blank', status: 409, title: 'It has been taken in already.' }),
    );
    await user.click(takeButton());
    expect(await screen.findByText('It has been taken in already.')).toBeTruthy();
    expect(requests.at(-1)?.body).toEqual({ author: '', how: 'merge', conflicts: 'file' });
    await user.click(screen.getByRole('radio', { name: /Replace/ }));
    expect(screen.queryByText('Lift: name')).toBeNull();
  });

  it('lists what is wrong with a file, and tells when it could not be sent', async () => {
    const { upload } = await begin();
    upload.answer(201, state({ phase: 'refused', problems: [{ pointer: '/axes/0', detail: 'Too <b>bad</b>.' }] }));
    expect(screen.getByText('/axes/0: Too <b>bad</b>.')).toBeTruthy();
    act(() => upload.onerror?.());
    expect(screen.getByText(/could not be sent/)).toBeTruthy();
  });

  it('left half-way breaks off, here and at the server', async () => {
    const { user, upload, close } = await begin();
    upload.answer(201, state({}));
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    await vi.waitFor(() =>
      expect(requests.some(({ method, path }) => method === 'DELETE' && path === '/imports/i')).toBe(true),
    );
    expect(upload.aborted).toBe(true);
    expect(close).toHaveBeenCalled();
  });
});

describe('exporting', () => {
  it('asks for what is wanted, shows how far it has come and breaks off', async () => {
    const hrefs: string[] = [];
    vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
      hrefs.push(this.href);
    });
    const { user } = show(<ExportDialog id="m" name="Kiln" close={() => undefined} />);
    await user.click(screen.getByRole('switch', { name: 'with every revision' }));
    await user.click(screen.getByRole('button', { name: 'Export' }));
    const url = new URL(hrefs[0] ?? '');
    expect(url.pathname).toBe('/api/machines/m/export');
    expect([url.searchParams.get('revisions'), url.searchParams.get('runs')]).toEqual(['0', '1']);
    const path = `/exports/${url.searchParams.get('ticket') ?? ''}`;
    replies.set(`GET ${path}`, { done: 50e6, total: 200e6 });
    expect(await screen.findByText(/50 MB of 200 MB/)).toBeTruthy();
    replies.set(`DELETE ${path}`, answer(204, null));
    await user.click(screen.getByRole('button', { name: 'Break off' }));
    expect(await screen.findByText(/Cancelled/)).toBeTruthy();
    expect(requests.at(-1)).toMatchObject({ method: 'DELETE', path });
  });
});
