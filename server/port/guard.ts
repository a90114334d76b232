import type { IncomingMessage } from 'node:http';

/** Why a request is turned away; undefined: it may pass. */
export type Guard = (request: Pick<IncomingMessage, 'headers' | 'method' | 'url'>) => string | undefined;

/**
 * Only pages of this server, opened on this computer, may talk to it: the Host must be a loopback name with our port (so
 * that a foreign name pointed at loopback fails), an Origin, which browsers send, must be the same, and what a browser marks
 * as sent from another site is let at the first page only.
 */
export function guard(port: () => number, moreOrigins: readonly string[] = []): Guard {
  return ({ headers, method, url }) => {
    // A browser leaves the port of http out.
    const names = ['127.0.0.1', 'localhost', '[::1]'];
    const hosts = names.flatMap((name) => (port() === 80 ? [name, `${name}:80`] : [`${name}:${port()}`]));
    const origins = [...hosts.map((host) => `http://${host}`), ...moreOrigins];
    const { host = '', origin, 'sec-fetch-site': site, 'sec-fetch-mode': mode } = headers;
    if (!hosts.includes(host) && !moreOrigins.includes(`http://${host}`)) return refused;
    if (origin !== undefined && !origins.includes(origin)) return refused;
    const isFromElsewhere = site === 'cross-site' || site === 'same-site';
    const isFirstPage =
      mode === 'navigate' && method === 'GET' && !/^\/+(api|assets|live)(\/|\?|$)/i.test(decodedPath(url ?? '/'));
    return isFromElsewhere && !isFirstPage && !(origin !== undefined && moreOrigins.includes(origin))
      ? refused
      : undefined;
  };
}

const refused = 'This server answers only its own pages on this computer.';

function decodedPath(url: string): string {
  try {
    return decodeURIComponent(url);
  } catch {
    return '/api';
  }
}
