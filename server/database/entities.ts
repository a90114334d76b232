import type {
  MemberDocument,
  LibraryEntry,
  LibraryKind,
  MachineDocument,
  RunEnd,
  RunKind,
  TraceHeader,
} from '@kavrid/contract';
import { EntitySchema } from 'typeorm';

export interface MachineRow {
  id: string;
  name: string;
  archived: boolean;
  document: MachineDocument;
  version: number;
  updatedAt: Date;
}
export interface AxisRow {
  id: string;
  machineId: string;
  /** Order within the machine. */
  position: number;
  kind: MemberDocument['kind'];
  name: string;
  /** Taken out of the machine, but kept. */
  removed: boolean;
  /** The library entries it came from. */
  motorEntry: string | null;
  driveEntry: string | null;
  controllerEntry: string | null;
  cableEntry: string | null;
  document: MemberDocument;
  version: number;
  updatedAt: Date;
}
/** Where tags are searched; the document says them too. */
export interface MachineTagRow {
  tag: string;
  machineId: string;
}
/** One save of a machine, an axis or a library entry, with the state it left. */
export interface RevisionRow {
  subjectId: string;
  version: number;
  at: Date;
  author: string;
  summary: string;
  name: string;
  document: unknown;
  /** A later save of the same hand took it in: it is out of the list. */
  merged?: boolean;
  /** The first save of the series that it goes on; null: nothing goes on from it. */
  beganAt?: Date | null;
}
export interface LibraryRow {
  id: string;
  shelf: LibraryKind;
  name: string;
  document: LibraryEntry['entry'];
  version: number;
  updatedAt: Date;
}
export interface ProfileRow {
  id: string;
  name: string;
  /** The register map as it was imported. */
  csv: string;
}
export interface RunRow {
  id: string;
  memberId: string;
  kind: RunKind;
  end: RunEnd;
  because: string;
  startedAt: Date;
  seconds: number;
  axisVersion: number;
  name: string;
  notes: string;
  /** Of runs made before format version 5: the whole trace, as it was then. */
  trace: TraceHeader;
}
export interface TemporarySettingRow {
  memberId: string;
  identity: string;
  address: string;
  key: string;
  label: string;
  original: number;
  temporary: number;
  since: Date;
}

const id = { type: 'varchar', length: 40, primary: true } as const;
const reference = { type: 'varchar', length: 40 } as const;
const json = { type: 'json' } as const;
const moment = { type: 'datetime', precision: 3 } as const;
const whole = { type: 'int', unsigned: true } as const;
const flag = { type: 'boolean' } as const;
const short = { type: 'varchar', length: 120 } as const;

export const machineEntity = new EntitySchema<MachineRow>({
  name: 'machine',
  columns: {
    id,
    name: short,
    archived: flag,
    document: json,
    version: whole,
    updatedAt: { ...moment, name: 'updated_at' },
  },
});

export const machineTagEntity = new EntitySchema<MachineTagRow>({
  name: 'machine_tag',
  columns: {
    tag: { type: 'varchar', length: 40, primary: true },
    machineId: { ...reference, name: 'machine_id', primary: true },
  },
});

export const axisEntity = new EntitySchema<AxisRow>({
  name: 'axis',
  columns: {
    id,
    machineId: { ...reference, name: 'machine_id' },
    position: whole,
    kind: { type: 'varchar', length: 10 },
    name: short,
    removed: flag,
    motorEntry: { ...reference, name: 'motor_entry', nullable: true },
    driveEntry: { ...reference, name: 'drive_entry', nullable: true },
    controllerEntry: { ...reference, name: 'controller_entry', nullable: true },
    cableEntry: { ...reference, name: 'cable_entry', nullable: true },
    document: json,
    version: whole,
    updatedAt: { ...moment, name: 'updated_at' },
  },
});

export const revisionEntity = new EntitySchema<RevisionRow>({
  name: 'revision',
  columns: {
    subjectId: { ...id, name: 'subject_id' },
    version: { ...whole, primary: true },
    at: { ...moment, name: 'saved_at' },
    author: short,
    summary: { type: 'varchar', length: 300 },
    name: short,
    document: json,
    merged: flag,
    beganAt: { ...moment, name: 'began_at', nullable: true },
  },
});

export const libraryEntity = new EntitySchema<LibraryRow>({
  name: 'library_entry',
  columns: {
    id,
    shelf: { type: 'varchar', length: 20 },
    name: short,
    document: json,
    version: whole,
    updatedAt: { ...moment, name: 'updated_at' },
  },
});

export const profileEntity = new EntitySchema<ProfileRow>({
  name: 'drive_profile',
  columns: { id, name: short, csv: { type: 'mediumtext' } },
});

export const runEntity = new EntitySchema<RunRow>({
  name: 'run',
  columns: {
    id,
    memberId: { ...reference, name: 'axis_id' },
    kind: { type: 'varchar', length: 20 },
    end: { type: 'varchar', length: 20 },
    because: { type: 'varchar', length: 400 },
    startedAt: { ...moment, name: 'started_at' },
    seconds: { type: 'double' },
    axisVersion: { ...whole, name: 'axis_version' },
    name: { type: 'varchar', length: 80 },
    notes: { type: 'text' },
    trace: json,
  },
});

export interface RunSamplesRow {
  readonly runId: string;
  readonly part: number;
  readonly data: Buffer;
}

export const runSamplesEntity = new EntitySchema<RunSamplesRow>({
  name: 'run_samples',
  columns: {
    runId: { ...reference, primary: true, name: 'run_id' },
    part: { type: 'smallint', unsigned: true, primary: true },
    data: { type: 'mediumblob' },
  },
});

export interface EvidenceRow {
  readonly id: string;
  readonly subjectId: string;
  readonly kind: string;
  readonly madeAt: Date;
  readonly revision: number;
  readonly identity: string;
  readonly digest: string;
  readonly payload: string;
}

export const evidenceEntity = new EntitySchema<EvidenceRow>({
  name: 'evidence',
  columns: {
    id,
    subjectId: { ...reference, name: 'subject_id' },
    kind: { type: 'varchar', length: 40 },
    madeAt: { ...moment, name: 'made_at' },
    revision: whole,
    identity: { type: 'varchar', length: 60 },
    digest: { type: 'varchar', length: 64 },
    payload: json,
  },
});

export interface SnapshotRow {
  readonly id: string;
  readonly memberId: string;
  readonly name: string;
  readonly isAutomatic: boolean;
  readonly takenAt: Date;
  readonly identity: string;
  readonly map: string;
  readonly reading: string;
}

export const snapshotEntity = new EntitySchema<SnapshotRow>({
  name: 'drive_snapshot',
  columns: {
    id,
    memberId: { ...reference, name: 'member_id' },
    name: short,
    isAutomatic: { ...flag, name: 'is_automatic' },
    takenAt: { ...moment, name: 'taken_at' },
    identity: { type: 'varchar', length: 60 },
    map: { ...short, name: 'map_name' },
    reading: json,
  },
});

export const temporarySettingEntity = new EntitySchema<TemporarySettingRow>({
  name: 'temporary_setting',
  columns: {
    memberId: { ...id, name: 'axis_id' },
    key: { ...short, name: 'parameter_key', primary: true },
    identity: { type: 'varchar', length: 60, primary: true },
    address: { type: 'varchar', length: 280, primary: true },
    label: short,
    original: { type: 'double' },
    temporary: { type: 'double' },
    since: moment,
  },
});
