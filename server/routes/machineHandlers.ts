import { duplicateOf, type MachineRecord } from '@kavrid/contract';
import type { Store } from '../database/store.ts';
import { notFound, ProblemError } from '../problem.ts';
import type { Handlers } from './apiRoutes.ts';
import type { AxisEvents } from './axisHandlers.ts';
import { madeOnce } from './madeOnce.ts';
import { orMissing, savedOr } from './outcomes.ts';

type Names =
  'listTags' | 'listMachines' | 'createMachine' | 'readMachine' | 'saveMachine' | 'deleteMachine' | 'duplicateMachine';

export function machineHandlers(store: Store, { listsChanged, plansChanged }: AxisEvents): Pick<Handlers, Names> {
  const read = async (id: string): Promise<MachineRecord> => orMissing(await store.machines.read(id), 'machine');
  const readOne = (id: string) => store.machines.read(id);
  return {
    listMachines: ({ query }) => store.machines.page(query),
    listTags: () => store.machines.tags(),
    createMachine: async ({ body: { document, author, newId } }) => {
      const made = await madeOnce(newId, readOne, async () =>
        read(await store.machines.create(document, [], { author }, newId)),
      );
      listsChanged();
      return made;
    },
    readMachine: ({ id }) => read(id),
    saveMachine: async ({ id, body: { version, document, author } }) => {
      const record = savedOr(await store.machines.save(id, version, document, { author }), 'machine');
      listsChanged();
      return record;
    },
    deleteMachine: async ({ id }) => {
      const outcome = await store.machines.delete(id);
      if (outcome === 'missing') throw notFound('machine');
      if (outcome === 'not archived')
        throw new ProblemError(409, 'Only an archived machine can be deleted.', {
          detail: 'Archive it first; it then leaves the list, and can be brought back.',
        });
      listsChanged();
      plansChanged();
    },
    duplicateMachine: async ({ id, body: { name, author, newId } }) => {
      const machine = await read(id);
      const copy = await madeOnce(newId, readOne, async () =>
        read(
          await store.machines.create(
            { ...machine.document, name, archived: false },
            machine.axes.map((axis) => duplicateOf(axis.document)),
            { author, summary: `copied from ${machine.document.name}` },
            newId,
          ),
        ),
      );
      listsChanged();
      return copy;
    },
  };
}
