import { homingDigest, type AxisDocument, type MeasuredEvidence, type Measurement } from '@kavrid/contract';

/** What was read at a gauge, as evidence of an axis as it is saved now; it belongs to no device. */
export function measuredByHand(revision: number, axis: AxisDocument, measured: Measurement): MeasuredEvidence {
  const shared = { madeAt: new Date().toISOString(), revision, identity: '', digest: homingDigest(axis) };
  switch (measured.kind) {
    case 'homing series': {
      const [first = 0] = measured.homes;
      const homes = measured.homes.map((home) => home - first);
      return { kind: measured.kind, ...shared, payload: { of: homes.length, homes, end: 'finished', by: 'gauge' } };
    }
    case 'positioning':
      return { kind: measured.kind, ...shared, payload: { targets: measured.targets } };
  }
}
