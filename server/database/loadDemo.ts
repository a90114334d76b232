import { readFile } from 'node:fs/promises';
import { readLibrary, readMachineFile, readDriveProfile } from '@kavrid/contract';
import type { Store } from './store.ts';

export interface DemoSources {
  readonly machine: string;
  readonly library: string;
  /** Register maps as the bench's devices publish them, by the names under which the demo file has them. */
  readonly registerMaps: Readonly<Record<string, string>>;
  readonly benchPort: number;
}

/** Where the demo file looks for the bench; its other axes have drives without a link. */
const demoBenchPort = 5502;

const shipped = { author: 'Kavrid', summary: 'as delivered' };

/**
 * Fills an empty library, and an empty database with the demo cell, whose linked axes and spindles find the devices of the bench. Leaves alone
 * what is there.
 */
export async function loadDemo(store: Store, sources: DemoSources): Promise<void> {
  const read = (path: string) => readFile(path);
  if ((await store.library.count()) === 0) {
    const library = readLibrary((await read(sources.library)).toString());
    if (library.kind === 'refused') throw new Error(`The library cannot be read: ${library.problems.join(' ')}`);
    await store.library.add(library.entries, shipped);
  }
  if ((await store.machines.count()) > 0) return;
  const addMap = async (path: string) => {
    const csv = (await read(path)).toString();
    const map = readDriveProfile(csv);
    if (map.kind === 'refused') throw new Error(`The bench’s register map cannot be read: ${map.problems.join(' ')}`);
    return store.registerMaps.add(map.profile, csv);
  };
  const reading = readMachineFile(await read(sources.machine), () => '');
  if (reading.kind === 'refused') throw new Error(`The demo cannot be read: ${JSON.stringify(reading.problems)}`);
  const maps = new Map<string, string>();
  for (const [name, path] of Object.entries(sources.registerMaps)) maps.set(name, await addMap(path));
  const axes = reading.file.axes.map(({ document }) =>
    document.link.kind === 'tcp' && document.link.port === demoBenchPort
      ? {
          ...document,
          link: {
            ...document.link,
            host: '127.0.0.1',
            port: sources.benchPort,
            profileId: maps.get(document.link.profileId ?? '') ?? null,
          },
        }
      : document,
  );
  await store.machines.create(reading.file.machine.document, axes, shipped);
}
