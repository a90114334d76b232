import type { ModbusRequest, Transport, TransportAnswer } from './transport.ts';

export type LineResult = TransportAnswer | { readonly kind: 'timed out' | 'lost' } | { readonly kind: 'not allowed' };

export interface LineRequest {
  readonly unit: number;
  readonly request: ModbusRequest;
  /** Asked just before the bytes leave, and again before each new try. */
  readonly isAllowed: () => boolean;
  readonly priority: 'stop' | 'beat' | 'normal';
  /** Unanswered, it leaves its device in doubt: the connection is reset. */
  readonly isMotion: boolean;
  /** Called once, whatever happens. */
  readonly settled: (result: LineResult) => void;
}

/** What goes before what waits. */
const rank = { stop: 0, beat: 1, normal: 2 } as const satisfies Record<LineRequest['priority'], number>;

interface Flight {
  readonly asked: LineRequest;
  readonly timer: NodeJS.Timeout;
  isOpen: boolean;
}

/**
 * One connection, shared by the devices behind it. Requests go one at a time, stops at once, or, where the line carries one
 * request only, before all others; every request is settled here: answered, timed out, lost, or never sent because it was no
 * longer allowed when its turn came.
 */
export class Line {
  readonly #transport: Transport;
  readonly #lost: (because: string) => void;
  readonly #waiting: { readonly asked: LineRequest; readonly isRetry: boolean }[] = [];
  readonly #stops = new Set<Flight>();
  #current: Flight | undefined;
  /** What went before had priority: one that waits without has its turn, so that it is not starved. */
  #hadPriority = false;
  /** Stops to be sent once more, when what was on its way before them has been answered. */
  #repeats: LineRequest[] = [];
  #isOpen = true;

  constructor(transport: Transport, lost: (because: string) => void) {
    this.#transport = transport;
    this.#lost = lost;
    transport.onClose((because) => this.#close(because));
  }

  get isOpen(): boolean {
    return this.#isOpen;
  }

  ask(asked: LineRequest): void {
    if (!this.#isOpen) return asked.settled({ kind: 'lost' });
    if (asked.priority === 'stop' && !this.#transport.isHalfDuplex) return this.#stopNow(asked);
    this.#enqueue(asked, false);
    this.#next();
  }

  #enqueue(asked: LineRequest, isRetry: boolean): void {
    const after = this.#waiting.findIndex((each) => rank[each.asked.priority] > rank[asked.priority]);
    this.#waiting.splice(after < 0 ? this.#waiting.length : after, 0, { asked, isRetry });
  }

  /** A stop does not await the pending answer; it follows on the same connection, and once more after that answer. */
  #stopNow(asked: LineRequest): void {
    if (!asked.isAllowed()) return asked.settled({ kind: 'not allowed' });
    if (this.#current) this.#repeats.push({ ...asked, settled: () => undefined });
    const flight = this.#send(asked, (result) => {
      this.#stops.delete(flight);
      asked.settled(result);
    });
    this.#stops.add(flight);
  }

  #next(): void {
    if (this.#current || !this.#isOpen) return;
    if (!this.#transport.isReady) return this.#transport.onReady(() => this.#next());
    for (const repeat of this.#repeats.splice(0)) if (repeat.isAllowed()) this.#stopNow(repeat);
    const job = this.#take();
    if (!job) return;
    const { asked, isRetry } = job;
    if (!asked.isAllowed()) {
      asked.settled({ kind: 'not allowed' });
      return this.#next();
    }
    this.#current = this.#send(asked, (result) => {
      this.#current = undefined;
      if (result.kind === 'timed out') {
        this.#transport.giveUp();
        return this.#unanswered(asked, isRetry);
      }
      asked.settled(result);
      this.#next();
    });
  }

  #take(): { readonly asked: LineRequest; readonly isRetry: boolean } | undefined {
    const firstNormal = this.#waiting.findIndex(({ asked }) => asked.priority === 'normal');
    const isStop = this.#waiting[0]?.asked.priority === 'stop';
    const at = this.#hadPriority && firstNormal >= 0 && !isStop ? firstNormal : 0;
    const [job] = this.#waiting.splice(at, 1);
    this.#hadPriority = job?.asked.priority === 'beat';
    return job;
  }

  /** A read is sent once more, in its turn; a write never is, because it may have been carried out. */
  #unanswered(asked: LineRequest, isRetry: boolean): void {
    const isRead = asked.request.kind === 'read';
    if (isRead && !isRetry) this.#enqueue(asked, true);
    else asked.settled({ kind: 'timed out' });
    if (asked.isMotion || (isRead && isRetry)) return this.reset('it does not respond');
    this.#next();
  }

  #send(asked: LineRequest, done: (result: LineResult) => void): Flight {
    const settle = (result: LineResult) => {
      if (!flight.isOpen) return;
      flight.isOpen = false;
      clearTimeout(flight.timer);
      done(result);
    };
    const time = this.#transport.answerTime(asked.request);
    const flight: Flight = { asked, isOpen: true, timer: setTimeout(() => settle({ kind: 'timed out' }), time) };

    this.#transport.send(asked.unit, asked.request, settle);
    return flight;
  }

  /** Cuts the connection so hard that nothing which is still on its way arrives later. */
  reset(because: string): void {
    if (!this.#isOpen) return;
    this.#transport.reset();
    this.#close(because);
  }

  /** Lets what has been sent arrive, and closes. */
  end(): void {
    if (!this.#isOpen) return;
    this.#transport.end();
    this.#close('closed');
  }

  #close(because: string): void {
    if (!this.#isOpen) return;
    this.#isOpen = false;
    const flights = [...(this.#current ? [this.#current] : []), ...this.#stops];
    for (const { timer } of flights) clearTimeout(timer);
    for (const flight of flights) {
      if (!flight.isOpen) continue;
      flight.isOpen = false;
      flight.asked.settled({ kind: 'lost' });
    }
    for (const { asked } of this.#waiting.splice(0)) asked.settled({ kind: 'lost' });
    this.#current = undefined;
    this.#stops.clear();
    this.#repeats = [];
    this.#lost(because);
  }
}
