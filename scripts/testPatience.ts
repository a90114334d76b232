import fc from 'fast-check';
import { vi } from 'vitest';

// Waiting for an event has one bound for all tests: a computer that is busy with other things is slow, not broken.
const patience = 60_000;

// What is drawn at random is drawn alike every time; `npm run proof` may be given another seed.
fc.configureGlobal({ seed: Number(process.env.KAVRID_PROOF_SEED ?? 20261127) });

const { waitFor, waitUntil } = vi;
vi.waitFor = (wanted, options) => waitFor(wanted, options ?? { timeout: patience });
vi.waitUntil = (wanted, options) => waitUntil(wanted, options ?? { timeout: patience });

if (typeof document !== 'undefined') {
  const { configure } = await import('@testing-library/react');
  configure({ asyncUtilTimeout: patience });
}
