import { readFileSync } from 'node:fs';
import { runTestEvents, spindleDefinition } from '@kavrid/core/plant';
import { valueOf } from '@kavrid/core/sheet';
import { evaluateSpindle, lostLinkActions, spindleSignals } from '@kavrid/core/spindle';
import { spindleFindingsOf } from '@kavrid/core/findings';
import { describe, expect, it } from 'vitest';
import {
  axesAmong,
  changesBetween,
  fileVersion,
  machineFileSchema,
  memberSchema,
  newAxis,
  newSpindle,
  newSpindleCommand,
  readDriveProfile,
  readLibrary,
  readMachineFile,
  spindleInputOf,
  resultChanges,
  spindleEndSheets,
  spindlesAmong,
  withValueAt,
  type DocumentPath,
  type SpindleDocument,
} from './index.ts';
import { plannedSpindleValues } from './toCore/plannedSpindleValues.ts';
import { spindleSchema } from './checkedSpindle.ts';
import type { SpindleDriveEntry } from './library/spindleDriveEntry.ts';

const file = (path: string) => readFileSync(new URL(path, import.meta.url), 'utf8');
const demo = machineFileSchema.parse(JSON.parse(file('../demo/tile-glazing-cell.json')));
const [found] = spindlesAmong(demo.axes);
if (!found) throw new Error('the demo has no spindle');
const grinder: SpindleDocument = found;
const library = readLibrary(file('../demo/library.json'));
if (library.kind === 'refused') throw new Error(library.problems.join());
const driveEntry = (id: string): SpindleDriveEntry => {
  const item = library.entries.find((each) => each.id === id)?.item;
  if (item?.shelf !== 'spindle drive') throw new Error(`no drive ${id}`);
  return item.entry;
};
const sheetsOf = (spindle: SpindleDocument, entry?: SpindleDriveEntry) => {
  const { input } = spindleInputOf(spindle);
  return spindleEndSheets(spindle, input, evaluateSpindle(input), entry);
};
const keysOf = (rows: readonly { code: string; key: string | undefined }[]) =>
  Object.fromEntries(rows.map(({ code, key }) => [code, key]));
const edited = (path: DocumentPath, value: unknown) => withValueAt(grinder, path, value);

describe('a spindle as a document', () => {
  it('the edge grinder of the demo is filled in and has nothing to correct', () => {
    const { input, problems } = spindleInputOf(grinder);
    const results = evaluateSpindle(input);
    expect(problems).toEqual([]);
    expect(spindleFindingsOf({ input, results }).filter(({ severity }) => severity !== 'note')).toEqual([]);
    expect(spindleDefinition(input, results).state).toBe('known');
    expect(runTestEvents(input, results).state).toBe('known');
    // 2.2 kW, two poles, 230/400 V, motor to tool 1.5: 2000 rpm of the tool are 50 Hz.
    expect(valueOf(results.range)).toMatchObject({ lowest: 800, highest: 2400 });
  });

  it('a new one, of every kind of command, can be saved, and waits for its plates', () => {
    for (const kind of ['signal', 'fixedSpeeds', 'fieldBus'] as const) {
      const spindle = { ...newSpindle('Saw'), command: newSpindleCommand(kind) };
      expect(spindleSchema.safeParse(spindle).error).toBeUndefined();
      const { input } = spindleInputOf(spindle);
      const results = evaluateSpindle(input);
      expect(results.range.state).toBe('unknown');
      expect(results.ratedTorque).toMatchObject({ path: '/motor/power' });
      for (const { key } of sheetsOf(spindle).drive) expect(key ?? '').not.toMatch(/NaN|undefined|Infinity/);
    }
  });

  it.each<[what: string, path: DocumentPath, value: unknown, where: string]>([
    ['a belt step that is not there', ['belt', 'inUse'], 5, 'belt/inUse'],
    ['a ratio that is none', ['belt', 'steps', 0, 'ratio'], 'fast', 'belt/steps/0/ratio'],
    ['a ratio of nothing', ['belt', 'steps', 0, 'ratio'], '0', 'belt/steps/0/ratio'],
    ['half a pole', ['motor', 'poles'], 2.5, 'motor/poles'],
    ['a power factor above one', ['motor', 'powerFactor'], 1.1, 'motor/powerFactor'],
    ['an address that no device has', ['bus', 'drive', 'address'], 300, 'bus/drive/address'],
    [
      'a pattern of no inputs',
      ['command'],
      { kind: 'fixedSpeeds', speeds: [{ pattern: 'on', hertz: 1 }] },
      'command/speeds/0/pattern',
    ],
    [
      'a signal that is none',
      ['command'],
      { ...newSpindleCommand('signal'), to: { signal: 'x', hertz: '' } },
      'command/to/signal',
    ],
    ['a register beyond 65535', ['bus', 'messages', 0, 'register'], 70000, 'bus/messages/0/register'],
    ['a field nobody knows', ['tool', 'colour'], 'red', 'tool'],
  ])('%s is refused, with its place', (_, path, value, where) => {
    const { error } = memberSchema.safeParse(edited(path, value));
    expect(error?.issues.map((issue) => issue.path.join('/'))).toContain(where);
  });

  it('an axis and a spindle are told apart, and say what changed in their results', () => {
    expect(memberSchema.safeParse(newAxis('Lift', 'linear')).success).toBe(true);
    expect(memberSchema.safeParse({ ...grinder, kind: 'lathe' }).error?.issues[0]?.path).toEqual(['kind']);
    const after = edited(['belt', 'steps', 0, 'ratio'], '2');
    expect(changesBetween(grinder, after)).toHaveLength(1);
    const changes = resultChanges(grinder, after);
    // 2.5 counts for one rpm become 2 · 2 / 120 / 0.01.
    expect(changes.find(({ symbol }) => symbol === 'signalPerToolRpm')).toMatchObject({
      before: '2.5',
      unit: 'counts/rpm',
    });
    expect(changes.map(({ symbol }) => symbol)).not.toContain('poles');
    expect(resultChanges(grinder, newAxis('Lift', 'linear'))).toEqual([]);
  });

  /** A command as it was written when one time said how a pattern counts. */
  const asBefore = (command: unknown) => {
    const { minimumInputDuration, startDelay: _, nothing: __, ...rest } = command as Record<string, unknown>;
    return rest.kind === 'choice' ? { ...rest, trigger: { kind: 'debounced', time: minimumInputDuration } } : command;
  };

  it('a file of version 3 gets its axes marked as such, and one of today goes there and back', () => {
    const bytes = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));
    const old = {
      ...demo,
      formatVersion: 3,
      axes: demo.axes
        .filter(({ document }) => document.kind === 'axis')
        .map(({ document: { kind: _, ...document }, ...rest }) => ({
          ...rest,
          document: { ...document, command: asBefore(document.command) },
          revisions: undefined,
        })),
    };
    const upgraded = readMachineFile(bytes(old), () => '');
    if (upgraded.kind !== 'file') throw new Error(JSON.stringify(upgraded.problems));
    expect(upgraded.file.formatVersion).toBe(fileVersion);
    expect(upgraded.file.axes.map(({ document }) => document)).toEqual(
      axesAmong(demo.axes).map(({ command, ...axis }) => ({
        ...axis,
        wires: {},
        command: command.kind === 'choice' ? { ...command, nothing: 'not known' } : command,
      })),
    );
    const again = readMachineFile(bytes(demo), () => '');
    expect(again.kind === 'file' && spindlesAmong(again.file.axes)).toEqual([grinder]);
  });

  it('a correction by the tachometer goes into every scaling', () => {
    const { input } = spindleInputOf(edited(['tachometer', 'correction'], '0.98'));
    const results = evaluateSpindle(input);
    // A tool that turns 2 % too slowly is sent 2 % more: 2.5 / 0.98.
    const ratio = valueOf(results.signalPerToolRpm);
    expect(ratio && Number(ratio.ratio.numerator) / Number(ratio.ratio.denominator)).toBeCloseTo(2.5 / 0.98, 12);
  });
});

describe('key-in sheets of a spindle', () => {
  it('drive A: its own codes, steps and choices, in the order to key them', () => {
    const { drive } = sheetsOf(grinder, driveEntry('spindle-drive-a'));
    expect(keysOf(drive)).toMatchObject({
      M10: '2.20',
      M11: '50.00',
      M12: '230',
      M14: '2',
      M15: '8.0',
      C20: '50.00',
      C25: '60.00',
      R30: '3.0',
      R33: '1',
      K40: '2',
      K41: '3',
      N50: '3',
      N51: '5',
      N54: '0.5',
      N55: '1',
      N56: '0',
    });
    const steps = drive.map(({ step }) => step);
    expect(steps[0]).toBe('unlocks');
    expect(steps.slice(-3)).toEqual(['stores', 'restarts', 'checks']);
  });

  it('drive B counts its time-out in ms, and its speeds by inputs', () => {
    const entry = driveEntry('spindle-drive-b');
    expect(keysOf(sheetsOf(grinder, entry).drive)).toMatchObject({
      '173': '500',
      '174': '1',
      '151': '6',
      '120': '50.0',
    });
    const fixed = {
      ...grinder,
      command: {
        kind: 'fixedSpeeds',
        speeds: [
          { pattern: '01', hertz: 20 },
          { pattern: '10', hertz: 47.5 },
        ],
      },
      settings: { ...grinder.settings, speedSource: 'fixed speeds' },
    } as const satisfies SpindleDocument;
    expect(keysOf(sheetsOf(fixed, entry).drive)).toMatchObject({ '161': '20.0', '162': '47.5', '151': '5' });
  });

  it('the controller: its ratio field, and the poll list numbered as it counts', () => {
    const { controller } = sheetsOf(grinder);
    expect(keysOf(controller)).toMatchObject({
      'Signal for one rpm': '2.5',
      'Poll period': '100',
      '2 function': '6',
      '2 register': '8193',
      '3 registers': '3',
    });
    const oneBased = sheetsOf(edited(['bus', 'oneBased'], true)).controller;
    expect(keysOf(oneBased)['2 register']).toBe('8194');
  });

  it('every signal and every end of a lost link finds its words', () => {
    for (const signal of spindleSignals) {
      const command = {
        ...newSpindleCommand('signal'),
        signal,
        to: { signal: '10', hertz: '60 Hz' },
      } as SpindleDocument['command'];
      expect(keysOf(sheetsOf({ ...grinder, command }).drive)['Signal range']).toBe(signal);
    }
    for (const lostLink of lostLinkActions) {
      const key = keysOf(sheetsOf({ ...grinder, bus: { ...grinder.bus, lostLink } }).drive)['Without its link'];
      expect(key).toBe(lostLink === 'not settled' ? undefined : lostLink);
    }
  });

  it('what is planned for a linked drive is that sheet in its registers’ units', () => {
    const map = readDriveProfile(file('../bench/devices/spindle/spindle.csv'));
    if (map.kind === 'refused') throw new Error(map.problems.join());
    const { input } = spindleInputOf(grinder);
    expect(plannedSpindleValues(grinder, input, evaluateSpindle(input), map.profile)).toMatchObject({
      motorPower: 2.2,
      baseHertz: 50,
      highestHertz: 60,
      protectionCurrent: 8,
      runSource: 2,
      speedSource: 3,
      brakeResistor: 1,
      busTimeOut: 0.5,
      lostLink: 1,
    });
  });
});
