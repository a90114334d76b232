import { createServer, type Server } from 'node:http';
import { sessionTiming, type SessionTiming } from '@kavrid/core/procedure';
import { BenchPanel, type BenchMaps } from './benchPanel.ts';
import type { DataService } from './dataService.ts';
import { forward } from './forward.ts';
import { guard } from './guard.ts';
import { connecting, connectLine, Lines } from './lines.ts';
import { LiveServer } from './liveServer.ts';
import { followData } from './remoteData.ts';

export interface PortServerOptions {
  readonly data: DataService;
  /** Unix sockets of the data process: for what windows ask, and for its events. */
  readonly publicSocket: string;
  readonly internalSocket: string;
  readonly moreOrigins?: readonly string[];
  readonly timing?: SessionTiming;
  /** Absent: this Kavrid has no bench. */
  readonly benchMaps?: BenchMaps | undefined;
}

export interface PortServer {
  readonly http: Server;
  readonly live: LiveServer;
  readonly lines: Lines;
  readonly close: () => Promise<void>;
}

/** The process that owns the port, not yet listening: guard, windows, mailboxes and lines. All else is passed on. */
export function createPortServer(options: PortServerOptions): PortServer {
  const { data, publicSocket, internalSocket, moreOrigins = [], timing = sessionTiming, benchMaps } = options;
  const http = createServer((request, response) => {
    const refusal = watch(request);
    if (refusal === undefined) return forward(publicSocket, request, response);
    const problem = { type: 'about:blank', title: refusal, status: 403 };
    response.writeHead(403, { 'content-type': 'application/problem+json' }).end(JSON.stringify(problem));
    request.resume();
  });
  const watch = guard(() => {
    const address = http.address();
    return typeof address === 'object' && address ? address.port : 0;
  }, moreOrigins);
  const lines = new Lines(connecting(timing.serialPatience));
  // The bench has a connection of its own: that of a drive is cut when the drive does not answer, by one of its faults, say.
  const bench = benchMaps && new BenchPanel(new Lines(connectLine), benchMaps);
  const live = new LiveServer({ data, lines, timing, bench });
  live.attach(http, watch);
  const end = new AbortController();
  const followed = followData(
    internalSocket,
    (event) => live.heard(event),
    () => live.refreshAll(),
    end.signal,
  );
  return {
    http,
    live,
    lines,
    close: async () => {
      await live.close();
      end.abort();
      http.closeAllConnections();
      await new Promise((resolve) => http.close(resolve));
      await followed;
    },
  };
}
