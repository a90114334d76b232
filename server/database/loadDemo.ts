import { readFile } from 'node:fs/promises';
import { librarySchema, machineFileSchema, readDriveProfile } from '@kavrid/contract';
import type { Store } from './store.ts';

export interface DemoSources {
  readonly machine: string;
  readonly library: string;
  readonly registerMap: string;
  readonly benchPort: number;
}

/** Fills an empty database with the demo cell, whose carriage is linked to the bench. Does nothing to one that holds a machine. */
export async function loadDemo(store: Store, sources: DemoSources): Promise<boolean> {
  if ((await store.machines()).length > 0) return false;
  const [machineText, libraryText, csv] = await Promise.all(
    [sources.machine, sources.library, sources.registerMap].map((path) => readFile(path, 'utf8')),
  );
  const file = machineFileSchema.parse(JSON.parse(machineText ?? ''));
  const read = readDriveProfile(csv ?? '');
  if (read.kind === 'refused') throw new Error(`The bench’s register map cannot be read: ${read.problems.join(' ')}`);
  await store.addToLibrary(librarySchema.parse(JSON.parse(libraryText ?? '')));
  const profileId = await store.addProfile(read.profile, csv ?? '');
  const axes = file.axes.map((axis) => ({
    ...axis,
    link: { host: '127.0.0.1', port: sources.benchPort, unit: 1, profileId },
  }));
  await store.createMachine(file.machine, axes);
  return true;
}
