import { appendFileSync } from 'node:fs';

/** `npm run proof` runs the full counts; `npm test` a sample with a fixed seed. */
export const isProof = Boolean(process.env.KAVRID_PROOF);
export const proofSeed = Number(process.env.KAVRID_PROOF_SEED ?? 20261127);

/** Leaves figures for docs/reliability.md, where they were counted in full. */
export function recordProof(name: string, figures: Readonly<Record<string, string | number>>): void {
  const file = process.env.KAVRID_PROOF_FILE;
  if (isProof && file) appendFileSync(file, `${JSON.stringify({ name, figures })}\n`);
}
