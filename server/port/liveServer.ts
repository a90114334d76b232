import { randomUUID } from 'node:crypto';
import type { Server } from 'node:http';
import { clientMessageSchema, type BenchMessage, type SearchOrder, type ServerMessage } from '@kavrid/contract';
import { addressText, isNearHost, type SessionTiming } from '@kavrid/core/procedure';
import { WebSocketServer, type WebSocket } from 'ws';
import type { DataEvent, DataService } from './dataService.ts';
import type { BenchPanel } from './benchPanel.ts';
import { findDevices } from './deviceFinder.ts';
import type { Guard } from './guard.ts';
import type { Lines } from './lines.ts';
import { Mailbox } from './mailbox.ts';

interface Window {
  readonly id: string;
  readonly socket: WebSocket;
  memberId: string | undefined;
  /** Ends its search for devices. */
  search?: AbortController | undefined;
}

export interface LiveServerOptions {
  readonly data: DataService;
  readonly lines: Lines;
  /** Absent: there is no bench with this Kavrid. */
  readonly bench?: BenchPanel | undefined;
  readonly timing: SessionTiming;
}

/** ms between two looks for mailboxes that are no longer needed */
const sweepTime = 1000;

/** Windows on one side, mailboxes on the other; each window watches one axis or spindle. */
export class LiveServer {
  readonly #options: LiveServerOptions;
  readonly #mailboxes = new Map<string, Mailbox>();
  readonly #windows = new Set<Window>();
  readonly #sockets = new WebSocketServer({ noServer: true, maxPayload: 2 ** 18 });
  readonly #sweeper = setInterval(() => this.#sweep(), sweepTime);

  constructor(options: LiveServerOptions) {
    this.#options = options;
  }

  /** Takes upgrades of `/live` on the server, from our own pages only. */
  attach(server: Server, guard: Guard): void {
    server.on('upgrade', (request, socket, head) => {
      // A client that disconnects in the meantime is not an error.
      socket.on('error', () => socket.destroy());
      if (request.url !== '/live' || guard(request) !== undefined) {
        socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
        return;
      }
      this.#sockets.handleUpgrade(request, socket, head, (webSocket) => this.#welcome(webSocket));
    });
  }

  #welcome(socket: WebSocket): void {
    const window: Window = { id: randomUUID(), socket, memberId: undefined };
    this.#windows.add(window);
    socket.on('message', (data) => this.#receive(window, String(data)));
    socket.on('error', () => socket.terminate());
    socket.on('close', () => {
      this.#windows.delete(window);
      window.search?.abort();
      this.#leave(window);
    });
  }

  #leave(window: Window): void {
    if (window.memberId !== undefined)
      this.#mailboxes.get(window.memberId)?.post({ type: 'window gone', window: window.id });
    window.memberId = undefined;
  }

  #receive(window: Window, text: string): void {
    let parsed: ReturnType<typeof clientMessageSchema.safeParse>;
    try {
      parsed = clientMessageSchema.safeParse(JSON.parse(text));
    } catch {
      return send(window, { type: 'refused', because: 'A message from this window could not be read.' });
    }
    if (!parsed.success)
      return send(window, { type: 'refused', because: 'A message from this window was not understood.' });
    const message = parsed.data;
    if (message.type === 'watch') return this.#watch(window, message.memberId);
    if (message.type === 'findDevices') return this.#search(window, message.order);
    if (message.type === 'endSearch') return window.search?.abort();
    const mailbox = window.memberId === undefined ? undefined : this.#mailboxes.get(window.memberId);
    if (!mailbox) {
      // Signs of life and ends of motion come from every window; without an axis they end nothing.
      const isIdle = message.type === 'alive' || message.type === 'jogEnd' || message.type === 'stop';
      return isIdle ? undefined : send(window, { type: 'refused', because: 'Open an axis first.' });
    }
    switch (message.type) {
      case 'readBench':
      case 'setBench':
      case 'setHost':
        return void this.#atBench(window, mailbox, message);
      default:
        mailbox.message(window.id, message);
    }
    // A stop reaches whoever works with the device, from the window of any member that shares it.
    if (message.type === 'stop') this.#deviceHolder(mailbox)?.message(window.id, message);
  }

  /** One search a window; a host outside this computer and private networks is not searched. */
  #search(window: Window, order: SearchOrder): void {
    const { link } = order;
    if (link.kind === 'tcp' && !isNearHost(link.host))
      return send(window, {
        type: 'refused',
        because: `${link.host} is not on this computer or in a private network, so it is not searched.`,
      });
    if (window.search && !window.search.signal.aborted)
      return send(window, { type: 'refused', because: 'A search is under way already.' });
    const search = new AbortController();
    window.search = search;
    void findDevices(this.#options.lines, order, search.signal, (found) => {
      if (!found.isRunning) window.search = undefined;
      send(window, { type: 'found', found });
    });
  }

  /** Only behind a link that has been made, so that no request goes to an address without a connection made by the user. */
  async #atBench(window: Window, mailbox: Mailbox, message: BenchMessage): Promise<void> {
    const { address, link } = mailbox.state;
    const bench =
      address?.kind === 'tcp' && link !== 'off'
        ? await this.#options.bench?.carryOut(address.host, address.port, address.unit, message)
        : undefined;
    send(window, { type: 'bench', ...(bench ? { bench } : {}) });
  }

  #deviceHolder(mailbox: Mailbox): Mailbox | undefined {
    const { address } = mailbox.state;
    if (!address) return undefined;
    const device = addressText(address);
    return [...this.#mailboxes.values()].find((each) => each !== mailbox && each.heldDevice === device);
  }

  #watch(window: Window, memberId: string): void {
    if (window.memberId === memberId) return void this.#mailboxes.get(memberId)?.refresh();
    this.#leave(window);
    window.memberId = memberId;
    const mailbox = this.#mailboxes.get(memberId) ?? this.#open(memberId);
    mailbox.post({ type: 'window came', window: window.id });
    void this.#greet(mailbox, window);
  }

  async #greet(mailbox: Mailbox, window: Window): Promise<void> {
    await mailbox.refresh();
    if (window.memberId !== mailbox.memberId) return;
    mailbox.greet(window.id);
    const { plan, planMissing } = mailbox.state;
    if (!plan) send(window, { type: 'refused', because: planMissing });
  }

  #open(memberId: string): Mailbox {
    const mailbox = new Mailbox({
      ...this.#options,
      memberId,
      heldElsewhere: (mailbox) => this.#deviceHolder(mailbox) && 'Another axis or spindle',
      publish: (message, only) => {
        for (const window of this.#windows)
          if (window.memberId === memberId && (only === undefined || only === window.id))
            send(window, message(window.id));
      },
    });
    this.#mailboxes.set(memberId, mailbox);
    return mailbox;
  }

  /** Releases mailboxes without watchers and without a connection. */
  #sweep(): void {
    for (const [id, mailbox] of this.#mailboxes) {
      if (!mailbox.isIdle) continue;
      mailbox.dispose();
      this.#mailboxes.delete(id);
    }
  }

  /** An event of the data process. */
  heard(event: DataEvent): void {
    switch (event.type) {
      case 'saved': {
        void this.#mailboxes.get(event.memberId)?.refresh();
        const { memberId: memberId, version, author, summary } = event;
        for (const window of this.#windows)
          if (window.memberId === memberId) send(window, { type: 'axisSaved', memberId, version, author, summary });
        return;
      }
      case 'plans changed':
        return this.refreshAll();
      case 'lists changed':
        for (const window of this.#windows) send(window, { type: 'listsChanged' });
        return;
    }
  }

  /** Reads every plan again, for instance when the data process is back. */
  refreshAll(): void {
    for (const mailbox of this.#mailboxes.values()) void mailbox.refresh();
  }

  get mailboxCount(): number {
    return this.#mailboxes.size;
  }

  /** Stops what moves, waits until it is seen to stand (a few seconds at most), and lets go. */
  async close(): Promise<void> {
    clearInterval(this.#sweeper);
    const mailboxes = [...this.#mailboxes.values()];
    for (const window of this.#windows) this.#leave(window);
    for (const mailbox of mailboxes) mailbox.post({ type: 'message', window: '', message: { type: 'disconnect' } });
    await Promise.all(mailboxes.map((mailbox) => mailbox.closed));
    for (const mailbox of mailboxes) mailbox.dispose();
    for (const { socket } of this.#windows) socket.terminate();
    this.#sockets.close();
  }
}

function send(window: Window, message: ServerMessage): void {
  if (window.socket.readyState === window.socket.OPEN) window.socket.send(JSON.stringify(message));
}
