import { randomUUID } from 'node:crypto';
import {
  wayUnitOf,
  changesBetween,
  mergeDocuments,
  readDriveProfile,
  sameJson,
  withValueAt,
  type MemberDocument,
  type AxisInFile,
  type DocumentPath,
  type MachineFile,
  type RevisionInFile,
  type Trace,
} from '@kavrid/contract';
import type { EntityManager } from 'typeorm';
import { columnsOf } from '../database/axisTable.ts';
import {
  axisEntity,
  libraryEntity,
  machineEntity,
  profileEntity,
  revisionEntity,
  runEntity,
  type RevisionRow,
} from '../database/entities.ts';
import { refreshSearch, refreshTags } from '../database/machineSearch.ts';
import type { Store } from '../database/store.ts';

export interface TakeInWish {
  readonly author: string;
  readonly how: 'keep both' | 'replace' | 'merge';
  /** Whose value stands where both were edited, when merging. */
  readonly conflicts: 'file' | 'database';
}

export interface TakenIn {
  readonly machineId: string;
  /** Axes that were here and have changed. */
  readonly changed: readonly { readonly memberId: string; readonly version: number }[];
}

/** A field edited on both sides, with the value of the file. */
interface Clash {
  readonly path: DocumentPath;
  readonly mine: unknown;
}

type Kept<T> = {
  readonly document: T;
  readonly version?: number | undefined;
  readonly revisions?: readonly { readonly version: number; readonly document: T }[] | undefined;
};

/**
 * Merges a document of a file (mine) with the one here (theirs) from the newest revision that both sides know. Without one,
 * every difference is a conflict.
 */
export function mergeKept<T>(
  fromFile: Kept<T>,
  here: { readonly document: T; readonly revisions: readonly Pick<RevisionRow, 'version' | 'document'>[] },
): { readonly document: T; readonly conflicts: readonly Clash[] } {
  const known = new Map(here.revisions.map((each) => [each.version, each.document]));
  const inFile = [
    ...(fromFile.revisions ?? []),
    ...(fromFile.version ? [{ version: fromFile.version, document: fromFile.document }] : []),
  ];
  const common = inFile
    .filter((each) => sameJson(known.get(each.version), each.document))
    .sort((a, b) => b.version - a.version)[0];
  if (common) return mergeDocuments(common.document, fromFile.document, here.document);
  return {
    document: here.document,
    conflicts: changesBetween(here.document, fromFile.document).map(({ path, after }) => ({ path, mine: after })),
  };
}

/**
 * Takes a checked file into the database, all in one transaction. Nothing here is dropped: what is replaced or merged
 * becomes a revision, axes the file does not have are taken out of the machine but kept.
 * @param traceOf the trace of a run of an axis
 * @param step called after every run; throws to cancel
 */
export async function takeIn(
  store: Store,
  file: MachineFile,
  wish: TakeInWish,
  traceOf: (runId: string, axisUnit: string) => Promise<Trace>,
  step: () => void,
): Promise<TakenIn> {
  return store.source.transaction(async (manager) => {
    const taking = new Taking(store, manager, wish, traceOf, step);
    return taking.run(file);
  });
}

class Taking {
  readonly #store: Store;
  readonly #manager: EntityManager;
  readonly #wish: TakeInWish;
  readonly #traceOf: (runId: string, axisUnit: string) => Promise<Trace>;
  readonly #step: () => void;
  readonly #mapIds = new Map<string, string>();
  readonly #changed: { memberId: string; version: number }[] = [];

  constructor(
    store: Store,
    manager: EntityManager,
    wish: TakeInWish,
    traceOf: (runId: string, axisUnit: string) => Promise<Trace>,
    step: () => void,
  ) {
    this.#store = store;
    this.#manager = manager;
    this.#wish = wish;
    this.#traceOf = traceOf;
    this.#step = step;
  }

  async run(file: MachineFile): Promise<TakenIn> {
    await this.#takeRegisterMaps(file.registerMaps ?? []);
    await this.#takeLibrary(file.library ?? []);
    const machines = this.#manager.getRepository(machineEntity);
    const here = file.machine.id ? await machines.findOneBy({ id: file.machine.id }) : null;
    const joins = here !== null && this.#wish.how !== 'keep both';
    const machineId = joins ? here.id : await this.#addMachine(file, here !== null);
    if (joins) await this.#joinMachine(here.id, file);
    for (const axis of file.axes) await this.#takeAxis(machineId, axis, joins);
    if (joins && this.#wish.how === 'replace') {
      const kept = new Set(file.axes.map((axis) => axis.id));
      for (const { id } of await this.#manager.getRepository(axisEntity).findBy({ machineId }))
        if (!kept.has(id)) await this.#manager.getRepository(axisEntity).update({ id }, { removed: true });
    }
    await refreshSearch(this.#manager, machineId);
    return { machineId, changed: this.#changed };
  }

  async #takeRegisterMaps(maps: NonNullable<MachineFile['registerMaps']>): Promise<void> {
    const kept = this.#manager.getRepository(profileEntity);
    for (const { id, csv } of maps) {
      const here = await kept.findOneBy({ id });
      const same = here?.csv === csv ? here : await kept.findOneBy({ csv });
      const read = readDriveProfile(csv);
      const newId = same?.id ?? (here ? randomUUID() : id);
      if (!same && read.kind === 'profile') await kept.insert({ id: newId, name: read.profile.name, csv });
      this.#mapIds.set(id, newId);
    }
  }

  /** Entries that are here stay as they are; axes remember with which version they were filled. */
  async #takeLibrary(entries: NonNullable<MachineFile['library']>): Promise<void> {
    const kept = this.#manager.getRepository(libraryEntity);
    for (const { id, version, item } of entries) {
      if (await kept.existsBy({ id })) continue;
      const { shelf, entry } = item;
      await kept.insert({ id, shelf, name: entry.name, document: entry, version, updatedAt: new Date() });
      await this.#addRevision(id, version, item, 'from a machine file');
    }
  }

  async #addMachine({ machine }: MachineFile, isTaken: boolean): Promise<string> {
    const document = isTaken
      ? { ...machine.document, name: `${machine.document.name} (file)`.slice(0, 80) }
      : machine.document;
    const row = await this.#store.machines.insert(this.#manager, {
      document,
      ...(machine.id && !isTaken ? { id: machine.id } : {}),
      version: machine.version ?? 1,
    });
    await this.#takeRevisions(row.id, machine.revisions ?? [], { version: row.version, document });
    return row.id;
  }

  async #joinMachine(id: string, { machine }: MachineFile): Promise<void> {
    const row = await this.#manager.getRepository(machineEntity).findOneByOrFail({ id });
    await this.#takeRevisions(
      id,
      (machine.revisions ?? []).filter((each) => each.version > row.version),
    );
    const document = await this.#joined(id, machine, row.document);
    const version = await this.#nextVersion(id, row.version);
    if (sameJson(document, row.document)) return;
    await this.#manager
      .getRepository(machineEntity)
      .update({ id }, { name: document.name, archived: document.archived, document, version, updatedAt: new Date() });
    await refreshTags(this.#manager, id, document);
    await this.#addRevision(id, version, document, this.#reason());
  }

  #reason(): string {
    return this.#wish.how === 'merge' ? 'merged with a file' : 'replaced from a file';
  }

  async #joined<T>(id: string, fromFile: Kept<T>, here: T): Promise<T> {
    if (this.#wish.how === 'replace') return fromFile.document;
    const revisions = await this.#manager.getRepository(revisionEntity).findBy({ subjectId: id });
    const merge = mergeKept(fromFile, { document: here, revisions });
    return this.#wish.conflicts === 'database'
      ? merge.document
      : merge.conflicts.reduce((document, { path, mine }) => withValueAt(document, path, mine), merge.document);
  }

  async #takeAxis(machineId: string, axis: AxisInFile, joins: boolean): Promise<void> {
    const axes = this.#manager.getRepository(axisEntity);
    const row = axis.id ? await axes.findOneBy({ id: axis.id }) : null;
    const linked = <T extends { readonly document: MemberDocument }>(each: T): T => ({
      ...each,
      document: this.#relinked(each.document),
    });
    const fromFile = { ...linked(axis), revisions: (axis.revisions ?? []).map(linked) };
    let id: string;
    if (row && joins && row.machineId === machineId) {
      id = row.id;
      const document = await this.#joined(id, fromFile, row.document);
      await this.#takeRevisions(
        id,
        fromFile.revisions.filter((each) => each.version > row.version),
      );
      if (!sameJson(document, row.document)) {
        const version = await this.#nextVersion(id, row.version);
        await axes.update({ id }, { ...columnsOf(document), version, updatedAt: new Date() });
        await this.#addRevision(id, version, document, this.#reason());
        this.#changed.push({ memberId: id, version });
      }
      const removed = this.#wish.how === 'replace' ? (axis.removed ?? false) : row.removed;
      if (removed !== row.removed) await axes.update({ id }, { removed });
    } else {
      const made = await this.#store.axes.insert(this.#manager, machineId, {
        document: fromFile.document,
        ...(axis.id && !row ? { id: axis.id } : {}),
        version: axis.version ?? 1,
        removed: axis.removed ?? false,
      });
      id = made.id;
      await this.#takeRevisions(id, fromFile.revisions, { version: made.version, document: fromFile.document });
    }
    for (const run of axis.runs ?? []) await this.#takeRun(id, run, fromFile);
  }

  #relinked(document: MemberDocument): MemberDocument {
    const { profileId: named } = document.link;
    const profileId = named && (this.#mapIds.get(named) ?? named);
    return { ...document, link: { ...document.link, profileId } };
  }

  async #takeRun(
    memberId: string,
    run: NonNullable<AxisInFile['runs']>[number],
    fromFile: Kept<MemberDocument>,
  ): Promise<void> {
    const runs = this.#manager.getRepository(runEntity);
    const isTaken = await runs.findOne({ where: { id: run.id }, select: { id: true, memberId: true } });
    this.#step();
    if (isTaken?.memberId === memberId) return;
    const { id, startedAt, axisVersion, kind, end, because, seconds, name, notes } = run;
    const settings = fromFile.revisions?.find((each) => each.version === axisVersion)?.document ?? fromFile.document;
    const version = await this.#versionOf(memberId, axisVersion, settings);
    await this.#store.runs.add(
      { memberId, kind, end, because, startedAt: new Date(startedAt), seconds, axisVersion: version, name, notes },
      await this.#traceOf(id, wayUnitOf(settings)),
      isTaken ? randomUUID() : id,
      this.#manager,
    );
  }

  /** The revision here that holds these settings: of the same version, or one added for them. */
  async #versionOf(memberId: string, version: number, settings: MemberDocument): Promise<number> {
    const revisions = this.#manager.getRepository(revisionEntity);
    const here = await revisions.findOneBy({ subjectId: memberId, version });
    if (here && sameJson(here.document, settings)) return version;
    if (!here) {
      await this.#addRevision(memberId, version, settings, 'settings of a run from a file');
      return version;
    }
    const all = await revisions.find({ where: { subjectId: memberId } });
    const alike = all.find((each) => sameJson(each.document, settings));
    if (alike) return alike.version;
    // The newest revision is what the axis is; it stays so, with these settings before it.
    const axis = await this.#manager.getRepository(axisEntity).findOneByOrFail({ id: memberId });
    await revisions.update({ subjectId: memberId, version: axis.version }, { version: axis.version + 1 });
    await this.#manager.getRepository(axisEntity).update({ id: memberId }, { version: axis.version + 1 });
    // Runs made with the newest settings follow them to their new number.
    await this.#manager
      .getRepository(runEntity)
      .update({ memberId, axisVersion: axis.version }, { axisVersion: axis.version + 1 });
    await this.#addRevision(memberId, axis.version, settings, 'settings of a run from a file');
    return axis.version;
  }

  async #takeRevisions<T>(
    subjectId: string,
    revisions: readonly RevisionInFile<T>[],
    newest?: { readonly version: number; readonly document: T },
  ): Promise<void> {
    for (const { version, at, author, summary, name, document } of revisions) {
      await this.#manager
        .getRepository(revisionEntity)
        .insert({ subjectId, version, at: new Date(at), author, summary, name, document: document as object });
    }
    if (newest && !revisions.some((each) => each.version === newest.version))
      await this.#addRevision(subjectId, newest.version, newest.document, 'from a file');
  }

  async #nextVersion(subjectId: string, atLeast: number): Promise<number> {
    const newest = await this.#manager.getRepository(revisionEntity).maximum('version', { subjectId });
    return Math.max(newest ?? 0, atLeast) + 1;
  }

  #addRevision(subjectId: string, version: number, document: unknown, summary: string): Promise<void> {
    return this.#store.revisions.add(
      this.#manager,
      subjectId,
      version,
      { after: document },
      { author: this.#wish.author, summary },
    );
  }
}
