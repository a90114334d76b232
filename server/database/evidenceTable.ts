import { randomUUID } from 'node:crypto';
import type { Evidence, EvidenceKind, EvidencePayloads } from '@kavrid/core/evidence';
import type { MeasuredEvidence } from '@kavrid/contract';
import { In, type DataSource } from 'typeorm';
import { evidenceEntity, type EvidenceRow } from './entities.ts';
import type { RevisionTable } from './revisionTable.ts';

/** What was seen at devices, with the revision, the identity and the settings that it holds good for. */
export class EvidenceTable {
  readonly #source: DataSource;
  readonly #revisions: RevisionTable;

  constructor(source: DataSource, revisions: RevisionTable) {
    this.#source = source;
    this.#revisions = revisions;
  }

  async add(memberId: string, { madeAt, payload, ...rest }: Evidence): Promise<void> {
    const row = { ...rest, id: randomUUID(), subjectId: memberId, madeAt: new Date(madeAt) };
    await this.#rows.insert({ ...row, payload: JSON.stringify(payload) });
    await this.#revisions.keep(memberId, rest.revision);
  }

  /** The newest of a kind that was made with a device. */
  async newest<K extends EvidenceKind>(memberId: string, kind: K, identity: string): Promise<Evidence<K> | undefined> {
    const [row] = await this.#rows.find({
      where: { subjectId: memberId, kind, identity },
      order: { madeAt: 'DESC' },
      take: 1,
    });
    return row && (evidenceOf(row) as Evidence<K>);
  }

  /** How the guided steps of an axis or spindle have come out, the newest of each. */
  async steps(memberId: string): Promise<readonly Evidence<'guided step'>[]> {
    const rows = await this.#rows.find({
      where: { subjectId: memberId, kind: 'guided step' },
      order: { madeAt: 'DESC' },
      take: 1000,
    });
    const newest = new Map<string, Evidence<'guided step'>>();
    for (const evidence of rows.map((row) => evidenceOf(row) as Evidence<'guided step'>)) {
      if (!newest.has(evidence.payload.step)) newest.set(evidence.payload.step, evidence);
    }
    return [...newest.values()];
  }

  /** Of an axis or spindle, the newest first. */
  async of(memberId: string, most = 200): Promise<readonly Evidence[]> {
    const rows = await this.#rows.find({ where: { subjectId: memberId }, order: { madeAt: 'DESC' }, take: most });
    return rows.map(evidenceOf);
  }

  /** Measured homing series and positions of an axis, and its acceptances, the newest first. */
  async measured(memberId: string): Promise<readonly MeasuredEvidence[]> {
    const rows = await this.#rows.find({
      where: { subjectId: memberId, kind: In(['homing series', 'positioning', 'acceptance']) },
      order: { madeAt: 'DESC' },
      take: 100,
    });
    return rows.map((row) => evidenceOf(row) as MeasuredEvidence);
  }

  get #rows() {
    return this.#source.getRepository(evidenceEntity);
  }
}

const evidenceOf = ({ kind, madeAt, revision, identity, digest, payload }: EvidenceRow): Evidence => ({
  kind: kind as EvidenceKind,
  madeAt: madeAt.toISOString(),
  revision,
  identity,
  digest,
  payload: JSON.parse(payload) as EvidencePayloads[EvidenceKind],
});
