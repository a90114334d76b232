import { createServer as createHttpServer, type Server } from 'node:http';
import { join } from 'node:path';
import express from 'express';
import helmet from 'helmet';
import { LiveServer, type AxisSaved } from './commissioning/liveServer.ts';
import type { Store } from './database/store.ts';
import { originGuard } from './originGuard.ts';
import { ImportKeeper } from './files/importKeeper.ts';
import { answerProblem, ProblemError, unknownRoute } from './problem.ts';
import { apiRoutes, type Handlers } from './routes/apiRoutes.ts';
import { axisHandlers } from './routes/axisHandlers.ts';
import { fileHandlers } from './routes/fileHandlers.ts';
import { libraryHandlers } from './routes/libraryHandlers.ts';
import { machineHandlers } from './routes/machineHandlers.ts';

export interface ServerOptions {
  readonly store: Store;
  /** Folder of the built web application; absent in development and in tests. */
  readonly webFolder?: string | undefined;
  /** For files that wait to be taken in. */
  readonly importFolder: string;
  readonly moreOrigins?: readonly string[];
}

export interface KavridServer {
  readonly http: Server;
  readonly live: LiveServer;
}

/** The whole server, not yet listening. */
export function createServer({ store, webFolder, importFolder, moreOrigins = [] }: ServerOptions): KavridServer {
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
  const events = {
    axisSaved: (...saved: Parameters<AxisSaved>) => live.axisSaved(...saved),
    listsChanged: () => live.listsChanged(),
  };
  const imports = new ImportKeeper(store, importFolder, ({ changed }, author) => {
    for (const { axisId, version } of changed)
      events.axisSaved(axisId, { version, author, summary: 'taken in from a file' });
    events.listsChanged();
  });
  const handlers: Handlers = {
    health: async () => {
      const database = await store.isUp();
      if (!database) throw new ProblemError(503, 'The database does not answer.', { database });
      return { status: 'ok', database };
    },
    ...machineHandlers(store, events.listsChanged),
    ...axisHandlers(store, events),
    ...libraryHandlers(store, events),
    ...fileHandlers(store, imports),
  };
  app.use('/api', apiRoutes(handlers), unknownRoute);
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
