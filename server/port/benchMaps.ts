import { existsSync, readFileSync } from 'node:fs';
import { readBenchMap } from '@kavrid/contract';
import type { BenchMaps } from './benchPanel.ts';

/** What the bench publishes of its own unit and of its controllers. @returns undefined where no bench ships beside the server */
export function benchMaps(bench = new URL('../../bench/', import.meta.url)): BenchMaps | undefined {
  if (!existsSync(bench)) return undefined;
  const map = (file: string) => readBenchMap(readFileSync(new URL(file, bench), 'utf8'));
  return {
    faults: map('faults/faults.csv'),
    host: map('host/host.csv'),
    pwmHost: map('host/pwmHost.csv'),
    loopHost: map('host/loopHost.csv'),
    choiceHost: map('host/choiceHost.csv'),
  };
}
