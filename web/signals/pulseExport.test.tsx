import { screen, waitFor, within } from '@testing-library/react';
import type { AxisDocument } from '@kavrid/contract';
import { pulseTrainToVcd, type VcdChunk } from '@kavrid/core/signal';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { plannedTrain } from '../jobs/pulseTrainJob.ts';
import type { PulseTrainReply, PulseTrainRequest } from '../jobs/pulseTrain.worker.ts';
import { axisRecord, demoAxes, show } from '../test/screen.tsx';
import { openSink } from './openSink.ts';
import { PulseExport } from './PulseExport.tsx';

const lift = demoAxes[1] as AxisDocument;

/** A disk as a browser's file picker gives it. */
const disk = () => {
  const kept = { text: '', closed: false, aborted: false, failing: false };
  const stream = {
    write: async (bytes: Uint8Array) => {
      if (kept.failing) throw new Error('the disk is full');
      kept.text += new TextDecoder().decode(bytes);
    },
    close: async () => void (kept.closed = true),
    abort: async () => void (kept.aborted = true),
  };
  vi.stubGlobal('showSaveFilePicker', async () => ({ createWritable: async () => stream }));
  return kept;
};

/** The worker's side in the same thread; it answers when it is let. */
let hold = false;
class NearWorker {
  onmessage: ((event: { data: PulseTrainReply }) => void) | undefined;
  ended = false;
  #pieces: Generator<VcdChunk, void, void> | undefined;
  postMessage(request: PulseTrainRequest) {
    if (request.kind === 'start') {
      const train = plannedTrain(request.axis);
      if ('because' in train) throw new Error(train.because);
      this.#pieces = pulseTrainToVcd({ ...train.order, from: request.from, to: request.to }, 4096);
    }
    setTimeout(() => {
      const piece = this.#pieces?.next();
      if (this.ended || hold) return;
      const data: PulseTrainReply =
        piece && !piece.done
          ? { kind: 'piece', bytes: piece.value.bytes as Uint8Array<ArrayBuffer>, done: piece.value.done }
          : { kind: 'end' };
      this.onmessage?.({ data });
    });
  }
  terminate() {
    this.ended = true;
  }
}

beforeEach(() => {
  hold = false;
  vi.stubGlobal('Worker', NearWorker);
});
afterEach(() => vi.unstubAllGlobals());

const open = () => {
  const shown = show(<PulseExport />, { axis: axisRecord(1, lift) });
  return { ...shown, panel: within(screen.getByRole('region', { name: 'Pulse train as a file' })) };
};

describe('the file of pulses', () => {
  it('is written to the disk piece by piece, a window of it', async () => {
    const kept = disk();
    const { user, panel } = open();
    await user.type(panel.getByLabelText('To, s'), '0.3');
    await user.click(panel.getByRole('button', { name: 'Save as VCD' }));
    await panel.findByText(/kB written/, {}, { timeout: 5000 });
    expect(kept.closed).toBe(true);
    expect(kept.text.startsWith('$version Kavrid pulse train $end\n$timescale 1 ns $end')).toBe(true);
    // By hand: 0.1 s of jerk 4000 mm/s³ go 0.667 mm, 0.1 s at 400 mm/s² 4 mm, and the last jerk 7.333 mm: 12 mm, 2400 pulses.
    expect(Math.abs((kept.text.match(/^1!$/gm)?.length ?? 0) - 2400)).toBeLessThanOrEqual(1);
    expect(kept.text.trimEnd().endsWith('#300000000')).toBe(true);
  });

  it('is given up when it is cancelled, and nothing is kept', async () => {
    const kept = disk();
    hold = true;
    const { user, panel } = open();
    await user.click(panel.getByRole('button', { name: 'Save as VCD' }));
    expect(await panel.findByRole('progressbar', { name: 'Written so far' })).toBeTruthy();
    await user.click(panel.getByRole('button', { name: 'Cancel' }));
    expect(panel.getByText('Cancelled; nothing was kept.')).toBeTruthy();
    expect(kept).toMatchObject({ aborted: true, closed: false });
  });

  it('tells of a disk that is full', async () => {
    const kept = disk();
    kept.failing = true;
    const { user, panel } = open();
    await user.click(panel.getByRole('button', { name: 'Save as VCD' }));
    expect(await panel.findByText('the disk is full')).toBeTruthy();
    await waitFor(() => expect(kept.aborted).toBe(true));
  });
});

describe('where a file goes', () => {
  it('nowhere, when the person decides against it', async () => {
    vi.stubGlobal('showSaveFilePicker', () => Promise.reject(new DOMException('no', 'AbortError')));
    expect(await openSink('x.vcd')).toBeUndefined();
    vi.stubGlobal('showSaveFilePicker', () => Promise.reject(new Error('denied')));
    await expect(openSink('x.vcd')).rejects.toThrow('denied');
  });

  it('into a download where the browser has no way to the disk, as far as its memory goes', async () => {
    const made: Blob[] = [];
    vi.stubGlobal('URL', Object.assign(URL, { createObjectURL: (blob: Blob) => (made.push(blob), 'blob:x') }));
    Object.assign(URL, { revokeObjectURL: () => undefined });
    const clicked = vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(() => undefined);
    const sink = await openSink('move.vcd');
    await sink?.write(new Uint8Array([65, 66]));
    await sink?.write(new Uint8Array([67]));
    await sink?.close();
    expect(made[0]?.size).toBe(3);
    expect((clicked.mock.instances[0] as unknown as HTMLAnchorElement).download).toBe('move.vcd');
    const large = await openSink('large.vcd');
    await expect(large?.write({ length: 7e8 } as Uint8Array<ArrayBuffer>)).rejects.toThrow(/choose a shorter window/);
  });
});
