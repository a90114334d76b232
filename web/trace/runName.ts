import type { RunSummary } from '@kavrid/contract';

/** A run by its name, or by kind and time. */
export const runName = ({ name, kind, startedAt, axisVersion }: RunSummary): string =>
  `${name === '' ? kind : `${name} (${kind})`}, ${new Date(startedAt).toLocaleString()}, v${axisVersion}`;
