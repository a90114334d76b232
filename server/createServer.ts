import { createServer as createHttpServer, type Server } from 'node:http';
import { join } from 'node:path';
import express from 'express';
import helmet from 'helmet';
import { LiveServer } from './commissioning/liveServer.ts';
import type { Store } from './database/store.ts';
import { originGuard } from './originGuard.ts';
import { answerProblem, unknownRoute } from './problem.ts';
import { apiRoutes } from './routes/api.ts';

export interface ServerOptions {
  readonly store: Store;
  /** Folder of the built web application; absent in development and in tests. */
  readonly webFolder?: string | undefined;
  readonly moreOrigins?: readonly string[];
}

export interface KavridServer {
  readonly http: Server;
  readonly live: LiveServer;
}

/** The whole server, not yet listening. */
export function createServer({ store, webFolder, moreOrigins = [] }: ServerOptions): KavridServer {
  const app = express();
  const http = createHttpServer(app);
  const live = new LiveServer(store);
  const port = () => {
    const address = http.address();
    return typeof address === 'object' && address ? address.port : 0;
  };
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'", 'data:'],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          frameAncestors: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(originGuard(port, moreOrigins));
  app.use(
    '/api',
    apiRoutes(store, (axisId, version) => live.axisSaved(axisId, version)),
    unknownRoute,
  );
  if (webFolder) {
    app.use(
      '/assets',
      express.static(join(webFolder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
    );
    app.use(express.static(webFolder, { index: false }));
    app.use(
      (_request, response) => void response.set('Cache-Control', 'no-cache').sendFile(join(webFolder, 'index.html')),
    );
  }
  app.use(answerProblem);
  live.attach(http, port, moreOrigins);
  return { http, live };
}
