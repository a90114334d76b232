import { readFileSync } from 'node:fs';
import { machineFileJsonSchema, openApi } from '@kavrid/contract';
import type { Store } from '../database/store.ts';
import { exportMachine } from '../files/exportMachine.ts';
import type { ImportKeeper } from '../files/importKeeper.ts';
import { notFound } from '../problem.ts';
import type { Handlers } from './apiRoutes.ts';
import { orMissing } from './outcomes.ts';

type Names =
  | 'exportMachine'
  | 'readExport'
  | 'cancelExport'
  | 'startImport'
  | 'readImport'
  | 'takeImport'
  | 'cancelImport'
  | 'machineFileSchema'
  | 'openApi';

const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
  readonly version: string;
};

interface Export {
  done: number;
  total: number;
  readonly abort: AbortController;
}

/** ms for which a finished export can still be asked about. */
const remembered = 60_000;

export function fileHandlers(store: Store, imports: ImportKeeper): Pick<Handlers, Names> {
  const exports = new Map<string, Export>();
  /** Made once: it takes a good while, and never changes. */
  let described: ReturnType<typeof asJson> | undefined;
  const asJson = (value: object) =>
    Promise.resolve({ type: 'application/json', body: JSON.stringify(value, undefined, 1) });
  return {
    exportMachine: async ({ id, query: { revisions, runs, ticket }, signal }) => {
      const state: Export = { done: 0, total: 0, abort: new AbortController() };
      if (ticket) exports.set(ticket, state);
      signal.addEventListener('abort', () => state.abort.abort());
      setTimeout(() => exports.delete(ticket), 24 * 60 * remembered).unref();
      const download = await exportMachine(
        store,
        id,
        { revisions, runs },
        {
          total: (bytes) => void (state.total = bytes),
          done: (bytes) => {
            state.done += bytes;
            if (state.done >= state.total) setTimeout(() => exports.delete(ticket), remembered).unref();
          },
          signal: state.abort.signal,
        },
      );
      return orMissing(download, 'machine');
    },
    readExport: ({ id }) => {
      const { done, total } = orMissing(exports.get(id), 'export');
      return Promise.resolve({ done, total });
    },
    cancelExport: ({ id }) => {
      orMissing(exports.get(id), 'export').abort.abort();
      exports.delete(id);
      return Promise.resolve();
    },
    startImport: ({ body }) => imports.start(body),
    readImport: ({ id }) => Promise.resolve(orMissing(imports.state(id), 'import')),
    takeImport: ({ id, body }) => Promise.resolve(orMissing(imports.take(id, body), 'import')),
    cancelImport: async ({ id }) => {
      if (!(await imports.cancel(id))) throw notFound('import');
    },
    machineFileSchema: () => asJson(machineFileJsonSchema()),
    openApi: () => (described ??= asJson(openApi(version))),
  };
}
