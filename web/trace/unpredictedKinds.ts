import type { RunSummary } from '@kavrid/contract';

/** Kinds of runs of which no prediction is made: their path is found on the way, or is no path of positions. */
export const unpredictedKinds: readonly RunSummary['kind'][] = ['homing', 'sweep', 'response', 'press', 'gain trial'];
