import type { LibraryEntry } from '@kavrid/contract';
import type { ReactNode } from 'react';
import { entryInputs, type ChangeEntry } from './entryInputs.tsx';
import { EntryTables } from './EntryTables.tsx';
import { CableEntryFields } from './shelves/CableEntryFields.tsx';
import { ControllerEntryFields } from './shelves/ControllerEntryFields.tsx';
import { DriveEntryFields } from './shelves/DriveEntryFields.tsx';
import { MotorEntryFields } from './shelves/MotorEntryFields.tsx';
import { SpindleDriveEntryFields } from './shelves/SpindleDriveEntryFields.tsx';
import { SpindleMotorEntryFields } from './shelves/SpindleMotorEntryFields.tsx';

interface EntryFieldsProps {
  readonly item: LibraryEntry;
  readonly unread: Readonly<Record<string, string>>;
  readonly change: ChangeEntry;
  readonly keepUnread: (field: string, text: string | undefined, before: number | null) => void;
}

/** An entry: its data, and its lists beside them, one open at a time. */
export function EntryFields(props: EntryFieldsProps) {
  return (
    <EntryTables item={props.item} change={props.change}>
      {fieldsOf(props)}
    </EntryTables>
  );
}

function fieldsOf({ item, unread, change, keepUnread }: EntryFieldsProps): ReactNode {
  const inputs = entryInputs(item.entry, change, unread, keepUnread);
  switch (item.shelf) {
    case 'motor':
      return <MotorEntryFields entry={item.entry} {...{ inputs, change }} />;
    case 'drive':
      return <DriveEntryFields entry={item.entry} {...{ inputs, change }} />;
    case 'controller':
      return <ControllerEntryFields entry={item.entry} {...{ inputs, change }} />;
    case 'cable':
      return <CableEntryFields entry={item.entry} {...{ inputs, change }} />;
    case 'spindle motor':
      return <SpindleMotorEntryFields entry={item.entry} {...{ inputs, change }} />;
    case 'spindle drive':
      return <SpindleDriveEntryFields entry={item.entry} {...{ inputs, change }} />;
  }
}
