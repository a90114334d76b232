import type { LibraryEntry, LibraryKind } from '@kavrid/contract';

/** An entry with nothing in it yet. */
export function newEntry(shelf: LibraryKind, name: string): LibraryEntry {
  switch (shelf) {
    case 'motor':
      return {
        shelf,
        entry: {
          form: 'rotary',
          kind: 'AC servo',
          name,
          ratedPower: null,
          ratedTorque: null,
          peakTorque: null,
          ratedSpeed: null,
          topSpeed: null,
          rotorInertia: null,
          encoder: { kind: 'bits', bits: '' },
          notes: '',
        },
      };
    case 'drive':
      return {
        shelf,
        entry: {
          name,
          numeratorMax: '2147483647',
          denominatorMax: '2147483647',
          ratioMin: '1/1000',
          ratioMax: '64000',
          differentialRate: null,
          singleEndedRate: null,
          counterBits: 32,
          commands: ['step and direction'],
          minimumPulseWidth: null,
          directionSetUp: null,
          ratioForm: 'numerator and denominator',
          ratioInverted: false,
          switchTable: [],
          supply: { kind: 'AC', phases: '', minimum: null, maximum: null },
          values: [],
          lamps: [],
          displays: [],
          alarms: [],
          firmware: [],
          notes: '',
        },
      };
    case 'controller':
      return {
        shelf,
        entry: {
          name,
          maximumPulseRate: null,
          kind: 'CNC controller',
          outputs: [],
          outputVoltage: null,
          analogOutputs: null,
          analogBits: null,
          pwmBits: null,
          pwmFrequency: null,
          encoderInputRate: null,
          notes: '',
        },
      };
  }
}
