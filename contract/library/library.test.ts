import { readFileSync } from 'node:fs';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { axisSchema } from '../checkedAxis.ts';
import { newAxis } from '../newAxis.ts';
import { newSpindle } from '../newSpindle.ts';
import { spindleSchema } from '../checkedSpindle.ts';
import { changesBetween } from '../changes/index.ts';
import { libraryKinds, libraryToCsv, readLibrary, withEntry, type LibraryEntry } from './index.ts';

const text = readFileSync(new URL('../../demo/library.json', import.meta.url), 'utf8');
const shipped = readLibrary(text);
if (shipped.kind === 'refused') throw new Error(shipped.problems.join());
const items = shipped.entries.map(({ item }) => item);
const of = (shelf: LibraryEntry['shelf']) => items.filter((item) => item.shelf === shelf);
const problems = (given: string) => {
  const read = readLibrary(given);
  return read.kind === 'refused' ? read.problems.join('\n') : '';
};

describe('the library as delivered', () => {
  it('has the whole range', () => {
    const kinds = items.map(({ entry }) => ('kind' in entry ? entry.kind : 'form' in entry ? entry.form : 'drive'));
    const count = (kind: string) => kinds.filter((each) => each === kind).length;
    expect(count('AC servo')).toBeGreaterThanOrEqual(3);
    expect(count('closed-loop stepper')).toBeGreaterThanOrEqual(2);
    for (const one of ['linear', 'brushed DC servo', 'brushless motor']) expect(count(one)).toBe(1);
    for (const two of ['CNC controller', 'PLC', 'embedded board']) expect(count(two)).toBe(2);
    for (const { entry } of of('drive').map((item) => item as Extract<LibraryEntry, { shelf: 'drive' }>)) {
      expect(entry.values.length).toBeGreaterThan(2);
      expect(entry.alarms.length).toBeGreaterThan(0);
      expect(entry.lamps.length).toBeGreaterThan(0);
      expect(new Set(entry.values.map(({ code, firstBit, half }) => `${code} ${firstBit} ${half}`)).size).toBe(
        entry.values.length,
      );
    }
    const spindle = newSpindle('Grinder');
    for (const item of items) {
      const after = withEntry(spindle, item, { id: 'e', version: 3 });
      const touched = [...new Set(changesBetween(spindle, after).map(({ path }) => path[0]))];
      const parts = { 'spindle motor': ['motor'], 'spindle drive': ['drive'], controller: ['controller'] } as const;
      expect(touched).toEqual(item.shelf in parts ? parts[item.shelf as keyof typeof parts] : []);
      expect(spindleSchema.safeParse(after).error).toBeUndefined();
    }
  });
});

describe('library files', () => {
  it.each(libraryKinds)('a shelf of %ss survives CSV, and what another program makes of it', (shelf) => {
    const csv = libraryToCsv(of(shelf));
    const rewritten = Papa.unparse(Papa.parse<string[]>(csv).data, { quotes: true, newline: '\n' });
    for (const form of [csv, rewritten]) {
      const read = readLibrary(form);
      if (read.kind === 'refused') throw new Error(read.problems.join());
      expect(read.entries.map(({ item }) => item)).toEqual(of(shelf));
    }
  });

  it('text that a spreadsheet would run as a formula is guarded in CSV, and comes back as it was', () => {
    const [motor] = of('motor');
    if (!motor) throw new Error('no motor');
    for (const name of ['=1+1', '+49', '-x', '@sum', "'=1", 'plain', "'quoted"]) {
      const item = { ...motor, entry: { ...motor.entry, name } } as LibraryEntry;
      const csv = libraryToCsv([item]);
      const cells = Papa.parse<string[]>(csv).data[1] ?? [];
      expect(cells.filter((cell) => /^[=+@]/.test(cell) || /^-\D/.test(cell))).toEqual([]);
      const read = readLibrary(csv);
      expect(read.kind === 'entries' && read.entries[0]?.item).toEqual(item);
    }
  });

  it('half a character is refused with its place', () => {
    const text =
      '{"format":"kavrid library","formatVersion":2,"entries":[{"item":{"shelf":"motor","entry":{"name":"\\ud83d"}}}]}';
    expect(readLibrary(text)).toMatchObject({
      kind: 'refused',
      problems: [expect.stringMatching(/entry\/name.*incomplete character/)],
    });
  });

  it('a table typed by hand needs only the columns of its kind', () => {
    const csv = [
      'shelf,name,form,kind,ratedPower,ratedTorque,peakTorque,ratedSpeed,topSpeed,rotorInertia,encoder,notes',
      'motor,Mine,rotary,AC servo,,1.5,4.5,3000,,0.0001,"{""kind"":""lines"",""lines"":""2500""}",',
    ].join('\n');
    const read = readLibrary(csv);
    expect(read).toMatchObject({
      entries: [
        {
          item: { entry: { name: 'Mine', ratedPower: null, ratedTorque: 1.5, encoder: { lines: '2500' }, notes: '' } },
        },
      ],
    });
  });

  it('tables from before there were key-in sheets are brought up to date', () => {
    const old = {
      ...{
        shelf: 'drive',
        name: 'Old',
        numeratorMax: '65535',
        denominatorMax: '65535',
        ratioMin: '1/50',
        ratioMax: '200',
      },
      ...{ differentialRate: '500000', singleEndedRate: '', counterBits: '32', commands: '["quadrature"]' },
      ...{
        minimumPulseWidth: '',
        directionSetUp: '',
        ratioForm: 'multiplier',
        ratioInverted: 'true',
        switchTable: '[]',
      },
      supply: '{"kind":"DC","phases":"","minimum":24,"maximum":50}',
      values:
        '[{"code":"1","label":"A","group":"","unit":"","access":"read only","takesEffect":"at once","factory":"","minimum":"","maximum":"","role":null,"note":""}]',
      ...{ lamps: '[]', displays: '[]', alarms: '[]', firmware: '[]', notes: '' },
    };
    expect(readLibrary(Papa.unparse([old]))).toMatchObject({
      entries: [
        {
          item: {
            entry: {
              gearSets: 1,
              ratioInverted: true,
              supply: { kind: 'DC' },
              values: [{ code: '1', keyIn: 'value' }],
            },
          },
        },
      ],
    });
  });

  it.each([
    ['nothing', '', 'no line below'],
    ['no shelf', 'name,kind\nX,PLC\n', 'column “shelf”'],
    ['an unknown shelf', 'shelf,name\ntoaster,X\n', 'Row 2'],
    ['a torque in words', libraryToCsv(of('motor').slice(0, 1)).replace('0.64', 'strong'), 'Row 2, ratedTorque'],
    ['broken JSON', '{"format":', 'not JSON'],
    ['another file', '{"format":"kavrid machine"}', 'format'],
    ['a negative torque', text.replace('"ratedTorque": 0.64', '"ratedTorque": -1'), 'entries/0/item/entry/ratedTorque'],
  ])('with %s is refused with the place', (_, given, words) => expect(problems(given)).toContain(words));
});

describe('taking an entry over', () => {
  it('fills its part of the axis and nothing else', () => {
    const axis = newAxis('Lift', 'linear');
    for (const item of items) {
      const after = withEntry(axis, item, { id: 'e', version: 3 });
      const touched = new Set(changesBetween(axis, after).map(({ path }) => path[0]));
      expect([...touched]).toEqual(item.shelf.startsWith('spindle') ? [] : [item.shelf]);
      expect(axisSchema.safeParse(after).error).toBeUndefined();
    }
    const spindle = newSpindle('Grinder');
    for (const item of items) {
      const after = withEntry(spindle, item, { id: 'e', version: 3 });
      const touched = [...new Set(changesBetween(spindle, after).map(({ path }) => path[0]))];
      const parts = { 'spindle motor': ['motor'], 'spindle drive': ['drive'], controller: ['controller'] } as const;
      expect(touched).toEqual(item.shelf in parts ? parts[item.shelf as keyof typeof parts] : []);
      expect(spindleSchema.safeParse(after).error).toBeUndefined();
    }
  });
});
