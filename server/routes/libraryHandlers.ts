import {
  entryProblems,
  libraryFileVersion,
  libraryToCsv,
  readDriveProfile,
  readLibrary,
  resultChanges,
  changesBetween,
  withEntry,
  type EntryEffect,
  type LibraryEntry,
} from '@kavrid/contract';
import type { DriveProfile } from '@kavrid/core/drive';
import { memberKindOf } from '../database/registerMapTable.ts';
import type { Store } from '../database/store.ts';
import { notFound, ProblemError } from '../problem.ts';
import type { Handlers } from './apiRoutes.ts';
import type { AxisEvents } from './axisHandlers.ts';
import { madeOnce } from './madeOnce.ts';
import { orMissing, savedOr } from './outcomes.ts';

type Names =
  | 'listEntries'
  | 'createEntry'
  | 'readEntry'
  | 'saveEntry'
  | 'deleteEntry'
  | 'entryUses'
  | 'entryEffects'
  | 'exportLibrary'
  | 'importLibrary'
  | 'listProfiles'
  | 'importProfile'
  | 'readProfile'
  | 'renameProfile'
  | 'replaceProfile'
  | 'deleteProfile';

const refusal = (title: string, problems: readonly string[]) =>
  new ProblemError(422, title, { errors: problems.map((detail) => ({ pointer: '', detail })) });

/** @throws ProblemError 422 for an entry that could not be used. */
function sound(item: LibraryEntry): void {
  const errors = entryProblems(item).map(({ pointer, message }) => ({
    pointer: `/item/entry${pointer}`,
    detail: message,
  }));
  if (errors.length > 0) throw new ProblemError(422, 'Some fields cannot be saved as they are.', { errors });
}

export function libraryHandlers(
  store: Store,
  { axisSaved, listsChanged, plansChanged }: AxisEvents,
): Pick<Handlers, Names> {
  const entry = async (id: string) => orMissing(await store.library.read(id), 'library entry');
  /** What an item would change in the axes that came from an entry. */
  const effects = async (id: string, item: LibraryEntry): Promise<readonly EntryEffect[]> => {
    const { version } = await entry(id);
    const users = await store.axes.usersOf(id);
    return users.map(({ axis, machineName }) => {
      const after = withEntry(axis.document, item, { id, version });
      return {
        memberId: axis.id,
        axisName: axis.document.name,
        kind: axis.document.kind,
        machineId: axis.machineId,
        machineName,
        axisVersion: axis.version,
        changes: changesBetween(axis.document, after)
          .filter(({ path }) => path[1] !== 'entry')
          .map((each) => ({ ...each, path: [...each.path] })),
        results: [...resultChanges(axis.document, after)],
      };
    });
  };
  return {
    listEntries: ({ query }) => store.library.page(query),
    createEntry: async ({ body: { item, author, newId } }) => {
      sound(item);
      const made = await madeOnce(
        newId,
        (id) => store.library.read(id),
        () => store.library.create(item, { author }, newId),
      );
      listsChanged();
      return made;
    },
    readEntry: ({ id }) => entry(id),
    saveEntry: async ({ id, body: { version, author, item, axes } }) => {
      sound(item);
      const summary = axes.length > 0 ? { summary: `taken over from the library: ${item.entry.name}` } : {};
      const record = savedOr(
        await store.library.save(id, version, item, { author, ...summary }, axes),
        'library entry',
      );
      for (const axis of axes)
        axisSaved(axis.id, { version: axis.version + 1, author, summary: summary.summary ?? '' });
      listsChanged();
      return record;
    },
    deleteEntry: async ({ id }) => {
      const outcome = await store.library.delete(id);
      if (outcome === 'missing') throw notFound('library entry');
      if (outcome === 'in use') {
        const users = await store.axes.usersOf(id);
        throw new ProblemError(409, 'This entry is in use, so it is kept.', {
          errors: users.map(({ axis, machineName }) => ({
            pointer: axis.id,
            detail: `${machineName}: ${axis.document.name}`,
          })),
        });
      }
      listsChanged();
    },
    entryUses: async ({ id }) => effects(id, (await entry(id)).item),
    entryEffects: ({ id, body: { item } }) => effects(id, item),
    exportLibrary: async ({ query: { shelf, as } }) => {
      const entries = await store.library.all(shelf);
      if (as === 'csv')
        return {
          type: 'text/csv',
          name: `library ${shelf ?? 'all'}.csv`,
          body: libraryToCsv(entries.map(({ item }) => item)),
        };
      const file = {
        format: 'kavrid library',
        formatVersion: libraryFileVersion,
        entries: entries.map(({ id, item }) => ({ id, item })),
      };
      return {
        type: 'application/json',
        name: `library${shelf ? ` ${shelf}` : ''}.json`,
        body: JSON.stringify(file, undefined, 1),
      };
    },
    importLibrary: async ({ query: { author }, body }) => {
      const reading = readLibrary(body);
      if (reading.kind === 'refused') throw refusal('This library file cannot be used.', reading.problems);
      const outcome = await store.library.add(reading.entries, { author, summary: 'from a file' });
      listsChanged();
      return outcome;
    },
    listProfiles: () => store.registerMaps.all(),
    importProfile: async ({ body }) => {
      const profile = readable(body);
      const id = await store.registerMaps.add(profile, body);
      return { id, name: profile.name, kind: memberKindOf(profile), users: [] };
    },
    readProfile: async ({ id }) => {
      const { name, csv } = orMissing(await store.registerMaps.row(id), 'register map');
      return { type: 'text/csv', name: `${name}.csv`, body: csv };
    },
    renameProfile: async ({ id, body: { name } }) => {
      if (!(await store.registerMaps.rename(id, name))) throw notFound('register map');
      listsChanged();
    },
    replaceProfile: async ({ id, body }) => {
      const replaced = orMissing(await store.registerMaps.replace(id, readable(body), body), 'register map');
      plansChanged();
      listsChanged();
      return replaced;
    },
    deleteProfile: async ({ id }) => {
      const map = orMissing(
        (await store.registerMaps.all()).find((each) => each.id === id),
        'register map',
      );
      if (map.users.length > 0)
        throw new ProblemError(409, 'This register map is in use, so it is kept.', {
          errors: map.users.map((detail) => ({ pointer: '', detail })),
        });
      await store.registerMaps.delete(id);
      listsChanged();
    },
  };
}

function readable(csv: string): DriveProfile {
  const read = readDriveProfile(csv);
  if (read.kind === 'refused') throw refusal('This register map cannot be used.', read.problems);
  return read.profile;
}
