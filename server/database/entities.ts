import type { AxisDocument, MachineDocument, RunEnd, RunKind, Trace } from '@kavrid/contract';
import { EntitySchema } from 'typeorm';

export interface MachineRow {
  id: string;
  name: string;
  document: MachineDocument;
  version: number;
  updatedAt: Date;
}
export interface AxisRow {
  id: string;
  machineId: string;
  /** Order within the machine. */
  position: number;
  name: string;
  document: AxisDocument;
  version: number;
  updatedAt: Date;
}
export interface LibraryRow {
  id: string;
  kind: 'motor' | 'drive' | 'controller';
  name: string;
  document: unknown;
  version: number;
}
export interface ProfileRow {
  id: string;
  name: string;
  /** The register map as it was imported. */
  csv: string;
}
export interface RunRow {
  id: string;
  axisId: string;
  kind: RunKind;
  end: RunEnd;
  because: string;
  startedAt: Date;
  seconds: number;
  axisVersion: number;
  axisDocument: AxisDocument;
  trace: Trace;
}
export interface TemporarySettingRow {
  axisId: string;
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
const short = { type: 'varchar', length: 120 } as const;

export const machineEntity = new EntitySchema<MachineRow>({
  name: 'machine',
  columns: { id, name: short, document: json, version: whole, updatedAt: { ...moment, name: 'updated_at' } },
});

export const axisEntity = new EntitySchema<AxisRow>({
  name: 'axis',
  columns: {
    id,
    machineId: { ...reference, name: 'machine_id' },
    position: whole,
    name: short,
    document: json,
    version: whole,
    updatedAt: { ...moment, name: 'updated_at' },
  },
});

export const libraryEntity = new EntitySchema<LibraryRow>({
  name: 'library_entry',
  columns: { id, kind: { type: 'varchar', length: 20 }, name: short, document: json, version: whole },
});

export const profileEntity = new EntitySchema<ProfileRow>({
  name: 'drive_profile',
  columns: { id, name: short, csv: { type: 'mediumtext' } },
});

export const runEntity = new EntitySchema<RunRow>({
  name: 'run',
  columns: {
    id,
    axisId: { ...reference, name: 'axis_id' },
    kind: { type: 'varchar', length: 20 },
    end: { type: 'varchar', length: 20 },
    because: { type: 'varchar', length: 400 },
    startedAt: { ...moment, name: 'started_at' },
    seconds: { type: 'double' },
    axisVersion: { ...whole, name: 'axis_version' },
    axisDocument: { ...json, name: 'axis_document' },
    trace: json,
  },
});

export const temporarySettingEntity = new EntitySchema<TemporarySettingRow>({
  name: 'temporary_setting',
  columns: {
    axisId: { ...id, name: 'axis_id' },
    key: { ...short, name: 'parameter_key', primary: true },
    label: short,
    original: { type: 'double' },
    temporary: { type: 'double' },
    since: moment,
  },
});
