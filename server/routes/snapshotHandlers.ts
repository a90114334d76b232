import type { Store } from '../database/store.ts';
import { notFound } from '../problem.ts';
import type { Handlers } from './apiRoutes.ts';
import { orMissing } from './outcomes.ts';

type Names = 'listSnapshots' | 'readSnapshot' | 'renameSnapshot' | 'deleteSnapshot';

export function snapshotHandlers({ machines, snapshots }: Store): Pick<Handlers, Names> {
  return {
    listSnapshots: async ({ id }) => {
      orMissing(await machines.read(id), 'machine');
      return snapshots.ofMachine(id);
    },
    readSnapshot: async ({ id }) => orMissing(await snapshots.read(id), 'snapshot'),
    renameSnapshot: async ({ id, body: { name } }) => {
      if (!(await snapshots.rename(id, name))) throw notFound('snapshot');
    },
    deleteSnapshot: async ({ id }) => {
      if (!(await snapshots.delete(id))) throw notFound('snapshot');
    },
  };
}
