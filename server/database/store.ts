import type { DataSource } from 'typeorm';
import { AxisTable } from './axisTable.ts';
import { EvidenceTable } from './evidenceTable.ts';
import { LibraryTable } from './libraryTable.ts';
import { MachineTable } from './machineTable.ts';
import { RegisterMapTable } from './registerMapTable.ts';
import { RevisionTable } from './revisionTable.ts';
import { RunTable } from './runTable.ts';
import { SnapshotTable } from './snapshotTable.ts';
import { TemporarySettingTable } from './temporarySettingTable.ts';

/** Everything that is kept, a table each. Every method is one transaction or one statement. */
export class Store {
  readonly source: DataSource;
  readonly revisions: RevisionTable;
  readonly axes: AxisTable;
  readonly machines: MachineTable;
  readonly library: LibraryTable;
  readonly runs: RunTable;
  readonly evidence: EvidenceTable;
  readonly snapshots: SnapshotTable;
  readonly registerMaps: RegisterMapTable;
  readonly temporarySettings: TemporarySettingTable;

  constructor(source: DataSource) {
    this.source = source;
    this.revisions = new RevisionTable(source.manager);
    this.axes = new AxisTable(source, this.revisions);
    this.machines = new MachineTable(source, this.axes, this.revisions);
    this.library = new LibraryTable(source, this.axes, this.revisions);
    this.runs = new RunTable(source, this.revisions);
    this.evidence = new EvidenceTable(source, this.revisions);
    this.snapshots = new SnapshotTable(source);
    this.registerMaps = new RegisterMapTable(source);
    this.temporarySettings = new TemporarySettingTable(source);
  }

  async isUp(): Promise<boolean> {
    try {
      await this.source.query('SELECT 1');
      return true;
    } catch {
      return false;
    }
  }

  close(): Promise<void> {
    return this.source.destroy();
  }
}
