import { randomUUID } from 'node:crypto';
import type { Server } from 'node:http';
import { clientMessageSchema, type ServerMessage } from '@kavrid/contract';
import { WebSocketServer, type WebSocket } from 'ws';
import type { Store } from '../database/store.ts';
import { allowedRequest } from '../originGuard.ts';
import { AxisSession } from './axisSession.ts';
import { SpindleSession } from './spindleSession.ts';

interface Window {
  readonly id: string;
  readonly socket: WebSocket;
  axisId: string | undefined;
}

/** Told when an axis has been saved, so that open windows and sessions work with the newest. */
export type AxisSaved = (
  axisId: string,
  saved: { readonly version: number; readonly author: string; readonly summary: string },
) => void;

/** Windows on one side, axis sessions on the other; each window watches one axis. */
export class LiveServer {
  readonly #store: Store;
  readonly #sessions = new Map<string, AxisSession | SpindleSession>();
  readonly #windows = new Set<Window>();
  readonly #sockets = new WebSocketServer({ noServer: true, maxPayload: 4096 });

  constructor(store: Store) {
    this.#store = store;
  }

  /** Takes upgrades of `/live` on the server, from our own pages only. */
  attach(server: Server, port: () => number, moreOrigins: readonly string[]): void {
    server.on('upgrade', (request, socket, head) => {
      if (request.url !== '/live' || !allowedRequest(request, port(), moreOrigins)) {
        socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
        return;
      }
      this.#sockets.handleUpgrade(request, socket, head, (webSocket) => this.#welcome(webSocket));
    });
  }

  #welcome(socket: WebSocket): void {
    const window: Window = { id: randomUUID(), socket, axisId: undefined };
    this.#windows.add(window);
    socket.on('message', (data) => void this.#receive(window, String(data)));
    socket.on('error', () => socket.terminate());
    socket.on('close', () => {
      this.#windows.delete(window);
      if (window.axisId) this.#sessions.get(window.axisId)?.windowGone(window.id);
    });
  }

  async #receive(window: Window, text: string): Promise<void> {
    let parsed: ReturnType<typeof clientMessageSchema.safeParse>;
    try {
      parsed = clientMessageSchema.safeParse(JSON.parse(text));
    } catch {
      return send(window, { type: 'refused', because: 'A message could not be read.' });
    }
    if (!parsed.success) return send(window, { type: 'refused', because: 'A message was not understood.' });
    const message = parsed.data;
    if (message.type === 'watch') return this.#watch(window, message.axisId);
    const session = window.axisId ? this.#sessions.get(window.axisId) : undefined;
    if (!session) {
      // Signs of life and ends of motion come from every window; without an axis they end nothing.
      const isIdle = message.type === 'alive' || message.type === 'jogEnd' || message.type === 'stop';
      return isIdle ? undefined : send(window, { type: 'refused', because: 'Open an axis first.' });
    }
    await session.handle(message, window.id);
  }

  async #watch(window: Window, axisId: string): Promise<void> {
    if (window.axisId && window.axisId !== axisId) this.#sessions.get(window.axisId)?.windowGone(window.id);
    window.axisId = axisId;
    try {
      const session = this.#sessions.get(axisId) ?? (await this.#open(axisId));
      await session.refresh();
    } catch (error) {
      send(window, {
        type: 'refused',
        because: error instanceof Error && !('code' in error) ? error.message : 'The database does not answer.',
      });
    }
  }

  async #open(axisId: string): Promise<AxisSession | SpindleSession> {
    const record = await this.#store.axes.read(axisId);
    const Session = record?.document.kind === 'spindle' ? SpindleSession : AxisSession;
    // Meanwhile another window may have opened it.
    const session =
      this.#sessions.get(axisId) ?? new Session(this.#store, axisId, (message) => this.#publish(axisId, message));
    this.#sessions.set(axisId, session);
    return session;
  }

  #publish(axisId: string, message: ServerMessage): void {
    const session = this.#sessions.get(axisId);
    for (const window of this.#windows) {
      if (window.axisId !== axisId) continue;
      send(window, message.type === 'live' && session ? { type: 'live', live: session.live(window.id) } : message);
    }
  }

  /** An axis has been saved: sessions take the new document, windows learn its version and what changed. */
  axisSaved(...[axisId, saved]: Parameters<AxisSaved>): void {
    void this.#sessions
      .get(axisId)
      ?.refresh()
      .catch(() => undefined);
    this.#publish(axisId, { type: 'axisSaved', axisId, ...saved });
  }

  /** Machines or library have changed: every window's lists are out of date. */
  listsChanged(): void {
    for (const window of this.#windows) send(window, { type: 'listsChanged' });
  }

  async close(): Promise<void> {
    await Promise.all([...this.#sessions.values()].map((session) => session.close()));
    for (const { socket } of this.#windows) socket.terminate();
    this.#sockets.close();
  }
}

function send(window: Window, message: ServerMessage): void {
  if (window.socket.readyState === window.socket.OPEN) window.socket.send(JSON.stringify(message));
}
