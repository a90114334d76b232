import { describe, expect, it } from 'vitest';
import { settingsDigest, staleBecause, type Evidence } from './index.ts';

const proof: Evidence<'drive values'> = {
  kind: 'drive values',
  madeAt: '2026-01-02T03:04:05.000Z',
  revision: 4,
  identity: '21249:77',
  digest: settingsDigest({ gearNumerator: 12288, torqueLimit: 300 }),
  payload: { values: { gearNumerator: 12288, torqueLimit: 300 } },
};

describe('evidence', () => {
  it('holds for its device and its settings, in whatever order, and for nothing else', () => {
    const digest = settingsDigest({ torqueLimit: 300, gearNumerator: 12288 });
    expect(staleBecause(proof, { identity: '21249:77', digest })).toBeUndefined();
    expect(staleBecause(proof, { identity: undefined, digest: undefined })).toBeUndefined();
    expect(staleBecause(proof, { identity: '21249:78', digest })).toContain('another device');
    const others: readonly Readonly<Record<string, number>>[] = [
      { gearNumerator: 12288 },
      { gearNumerator: 12289, torqueLimit: 300 },
      {},
    ];
    for (const settings of others)
      expect(staleBecause(proof, { identity: '21249:77', digest: settingsDigest(settings) })).toContain(
        'the plan has changed since',
      );
  });

  it('its digest is FNV-1a of 64 bits, as published for an empty text (draft-eastlake-fnv, from memory)', () => {
    expect(settingsDigest({})).toBe('cbf29ce484222325');
  });
});
