import { newCable, newController, newDrive, newMotor } from '../newAxis.ts';
import { newSpindleDrive, newSpindleMotor } from '../newSpindle.ts';
import type { LibraryEntry, LibraryKind } from './libraryEntry.ts';

/** An entry with nothing in it yet. */
export function newEntry(shelf: LibraryKind, name: string): LibraryEntry {
  switch (shelf) {
    case 'motor':
      return { shelf, entry: { ...newMotor.rotary(name), kind: 'AC servo', partNumbers: '', notes: '' } };
    case 'drive':
      return {
        shelf,
        entry: {
          ...newDrive(name),
          signalInput: {
            analogBits: null,
            inputResistance: null,
            referenceVoltage: null,
            referenceCurrent: null,
            captureClock: null,
            rawFullScale: null,
            storedMoves: null,
            encoderOutputRate: null,
          },
          commands: ['step and direction'],
          values: [],
          lamps: [],
          displays: [],
          alarms: [],
          firmware: [],
          terminals: [],
          partNumbers: '',
          notes: '',
        },
      };
    case 'controller':
      return {
        shelf,
        entry: {
          ...newController(name),
          kind: 'CNC controller',
          analogOutputs: null,
          analogBits: null,
          pwmBits: null,
          pwmFrequency: null,
          encoderInputRate: null,
          values: [],
          terminals: [],
          partNumbers: '',
          notes: '',
        },
      };
    case 'cable':
      return { shelf, entry: { ...newCable(name), partNumbers: '', notes: '' } };
    case 'spindle motor':
      return { shelf, entry: { ...newSpindleMotor(name), partNumbers: '', notes: '' } };
    case 'spindle drive':
      return {
        shelf,
        entry: {
          ...newSpindleDrive(name),
          kind: 'variable-frequency drive',
          values: [],
          alarms: [],
          partNumbers: '',
          notes: '',
        },
      };
  }
}
