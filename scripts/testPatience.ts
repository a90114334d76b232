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
  // The same answers as jsdom's, which walks the whole document for each label of each field.
  const labelable = 'button, input:not([type=hidden]), meter, output, progress, select, textarea';
  Object.defineProperty(HTMLLabelElement.prototype, 'control', {
    get(this: HTMLLabelElement) {
      return this.htmlFor === ''
        ? this.querySelector(labelable)
        : (this.ownerDocument.getElementById(this.htmlFor)?.closest(labelable) ?? null);
    },
  });
  for (const { prototype } of [HTMLInputElement, HTMLButtonElement, HTMLSelectElement, HTMLTextAreaElement])
    Object.defineProperty(prototype, 'labels', {
      get(this: HTMLElement) {
        return [...this.ownerDocument.getElementsByTagName('label')].filter(({ htmlFor, control }) =>
          htmlFor === '' ? control === this : htmlFor === this.id,
        );
      },
    });
}
