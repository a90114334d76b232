import { createServer as createHttpServer, type Server } from 'node:http';
import { join } from 'node:path';
import express from 'express';
import helmet from 'helmet';
import type { Store } from './database/store.ts';
import { DataEvents } from './internal/dataEvents.ts';
import { contentTypeGuard } from './contentTypeGuard.ts';
import { ImportKeeper } from './files/importKeeper.ts';
import { answerProblem, ProblemError, unknownRoute } from './problem.ts';
import { apiRoutes, type Handlers } from './routes/apiRoutes.ts';
import { axisHandlers, type AxisEvents } from './routes/axisHandlers.ts';
import { fileHandlers } from './routes/fileHandlers.ts';
import { libraryHandlers } from './routes/libraryHandlers.ts';
import { machineHandlers } from './routes/machineHandlers.ts';
import { serialPorts } from './routes/serialPorts.ts';
import { snapshotHandlers } from './routes/snapshotHandlers.ts';

export interface ServerOptions {
  readonly store: Store;
  /** Folder of the built web application; absent in development and in tests. */
  readonly webFolder?: string | undefined;
  /** For files that wait to be taken in. */
  readonly importFolder: string;
  /** Where the bench puts its serial line. */
  readonly benchSerial?: string | undefined;
}

export interface DataServer {
  readonly http: Server;
  readonly events: DataEvents;
}

/** What windows ask of the data process, not yet listening. Only the port reaches it, which has turned strangers away. */
export function createServer({ store, webFolder, importFolder, benchSerial }: ServerOptions): DataServer {
  const app = express();
  const http = createHttpServer(app);
  const events = new DataEvents();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          // Sheets to print are made in the browser and shown to its print dialog.
          frameSrc: ["'self'", 'blob:'],
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
  app.use(contentTypeGuard);
  const axisEvents: AxisEvents = {
    axisSaved: (memberId, saved) => events.tell({ type: 'saved', memberId, ...saved }),
    listsChanged: () => events.tell({ type: 'lists changed' }),
    plansChanged: () => events.tell({ type: 'plans changed' }),
  };
  const imports = new ImportKeeper(store, importFolder, ({ changed }, author) => {
    for (const { memberId, version } of changed)
      axisEvents.axisSaved(memberId, { version, author, summary: 'taken in from a file' });
    axisEvents.listsChanged();
    axisEvents.plansChanged();
  });
  const handlers: Handlers = {
    health: async () => {
      const database = await store.isUp();
      if (!database) throw new ProblemError(503, 'The database does not respond.', { database });
      return { status: 'ok', database };
    },
    ...machineHandlers(store, axisEvents),
    ...axisHandlers(store, axisEvents),
    ...libraryHandlers(store, axisEvents),
    ...snapshotHandlers(store),
    listSerialPorts: () => Promise.resolve(serialPorts(benchSerial)),
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
  return { http, events };
}
