/** `npm run proof` counts in full, `npm test` a sample. */
export const runs = (sample: number, full: number): number => (process.env.KAVRID_PROOF ? full : sample);
