import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Line, type LineRequest, type LineResult } from './line.ts';
import { fullDuplex, tcpAnswerTime as answerTime } from './tcpTransport.ts';
import type { ModbusRequest, Transport, TransportAnswer } from './transport.ts';

/** The far end, answered by hand. */
function farEnd() {
  const asked: { readonly request: ModbusRequest; readonly answer: (answer: TransportAnswer) => void }[] = [];
  let gone: (because: string) => void = () => undefined;
  const events: string[] = [];
  const transport: Transport = {
    ...fullDuplex,
    send: (_unit, request, answer) => void asked.push({ request, answer }),
    onClose: (listener) => void (gone = listener),
    reset: () => void events.push('reset'),
    end: () => void events.push('end'),
  };
  const line = new Line(transport, (because) => events.push(`lost: ${because}`));
  const results: Record<string, LineResult['kind'][]> = {};
  const ask = (name: string, more: Partial<LineRequest> & { readonly at?: number } = {}) => {
    const { at = 0, ...options } = more;
    const asking: LineRequest = {
      unit: 1,
      request: { kind: 'write', address: at, words: [1] },
      isAllowed: () => true,
      priority: 'normal',
      isMotion: false,
      settled: ({ kind }) => void (results[name] ??= []).push(kind),
      ...options,
    };
    line.ask(asking);
  };
  const answer = (index: number) => asked[index]?.answer({ kind: 'answered', words: [] });
  const sent = () => asked.map(({ request }) => request.address);
  return { line, ask, answer, sent, asked, results, events, cut: () => gone('cut') };
}
const read = (at: number): ModbusRequest => ({ kind: 'read', address: at, words: 1, function: 3 });

describe('a line', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('sends one at a time, heartbeats first, without starving the rest', () => {
    const { ask, answer, sent } = farEnd();
    ask('a', { at: 1 });
    ask('b', { at: 2 });
    for (const at of [10, 11, 12]) ask('beat', { at, priority: 'beat' });
    for (let k = 0; k < 4; k++) answer(k);
    expect(sent()).toEqual([1, 10, 2, 11, 12]);
  });

  it('sends a stop at once beside the pending request, and once more after its answer', () => {
    const { ask, answer, sent, results } = farEnd();
    ask('slow', { at: 1 });
    ask('next', { at: 2 });
    ask('stop', { at: 9, priority: 'stop' });
    expect(sent()).toEqual([1, 9]);
    answer(1);
    expect(results.stop).toEqual(['answered']);
    answer(0);
    expect(sent()).toEqual([1, 9, 9, 2]);
    expect(results.stop).toHaveLength(1);
  });

  it('asks just before the bytes leave whether a request is still allowed', () => {
    const { ask, answer, sent, results } = farEnd();
    let isAllowed = true;
    ask('first', { at: 1 });
    ask('motion', { at: 2, isMotion: true, isAllowed: () => isAllowed });
    isAllowed = false;
    answer(0);
    expect(sent()).toEqual([1]);
    expect(results.motion).toEqual(['not allowed']);
  });

  it('asks a read once more, in its turn, and no write; an unanswered motion write cuts the connection', () => {
    const { line, ask, sent, results, events } = farEnd();
    ask('read', { request: read(5) });
    ask('write', { at: 6 });
    ask('motion', { at: 7, isMotion: true });
    ask('waits', { at: 8 });
    vi.advanceTimersByTime(answerTime);
    expect(sent()).toEqual([5, 6]);
    vi.advanceTimersByTime(answerTime);
    expect(results.write).toEqual(['timed out']);
    vi.advanceTimersByTime(answerTime);
    expect(events).toEqual(['reset', 'lost: it does not respond']);
    expect(results).toMatchObject({ motion: ['timed out'], waits: ['lost'], read: ['lost'] });
    ask('late');
    expect(results.late).toEqual(['lost']);
    expect(line.isOpen).toBe(false);
  });

  it('settles everything once when the connection goes, and hears no late answer', () => {
    const { ask, answer, results, events, cut } = farEnd();
    for (const name of ['a', 'b', 'c']) ask(name);
    ask('stop', { priority: 'stop' });
    cut();
    answer(0);
    answer(1);
    vi.advanceTimersByTime(5 * answerTime);
    expect(results).toEqual({ a: ['lost'], b: ['lost'], c: ['lost'], stop: ['lost'] });
    expect(events).toEqual(['lost: cut']);
  });
});
