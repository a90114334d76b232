import { readFileSync } from 'node:fs';
import { evaluateAxis, stageKinds } from '@kavrid/core/chain';
import { exactToText } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { describe, expect, it } from 'vitest';
import {
  axisSchema,
  axisUnitOf,
  clientMessageSchema,
  axesAmong,
  machineFileSchema,
  newAxis,
  newStage,
  plannedValues,
  axisInputOf,
  readDriveProfile,
  readLibrary,
  ruleFor,
  endpoints,
  endSheets,
  servoDefinition,
  sharedDevices,
  suppliesOf,
  withEntry,
  withValueAt,
  type AxisDocument,
  type RuleName,
} from './index.ts';
import { rules } from './rules.ts';

const file = (path: string) => readFileSync(new URL(path, import.meta.url), 'utf8');
const demo = machineFileSchema.parse(JSON.parse(file('../demo/tile-glazing-cell.json')));
const csv = file('../bench/devices/servo/servo.csv');
const [carriage, lift] = axesAmong(demo.axes);
if (!carriage) throw new Error('the demo has no axis');

const issues = (axis: unknown) => {
  const parsed = axisSchema.safeParse(axis);
  return parsed.success ? [] : parsed.error.issues.map((issue) => `/${issue.path.join('/')}`);
};
const withStage = (stage: AxisDocument['stages'][number]): AxisDocument => ({ ...carriage, stages: [stage] });

describe('documents', () => {
  it('the demo and the library are valid, and survive a round trip through JSON', () => {
    expect(machineFileSchema.parse(JSON.parse(JSON.stringify(demo)))).toEqual(demo);
    const library = readLibrary(file('../demo/library.json'));
    expect(library.kind === 'entries' && library.entries.length).toBeGreaterThan(15);
  });

  it.each(['linear', 'rotary', 'dosing'] as const)('a new %s axis is valid and knows what is missing', (kind) => {
    const axis = newAxis('New', kind);
    expect(issues(axis)).toEqual([]);
    const { input, problems } = axisInputOf(axis);
    expect(problems).toEqual([]);
    expect(evaluateAxis(input).stepsPerUnit).toMatchObject({ state: 'unknown' });
    expect(axisUnitOf(axis)).toBe({ linear: 'mm', rotary: 'deg', dosing: 'mL' }[kind]);
  });

  it.each(stageKinds)('a new %s stage is valid', (kind) => {
    expect(issues(withStage(newStage(kind)))).toEqual([]);
  });

  it.each<[string, (axis: AxisDocument) => unknown, string]>([
    ['no name', (a) => ({ ...a, name: '  ' }), '/name'],
    ['a name too long', (a) => ({ ...a, name: 'x'.repeat(81) }), '/name'],
    ['notes too long', (a) => ({ ...a, notes: 'x'.repeat(4001) }), '/notes'],
    ['a field nobody knows', (a) => ({ ...a, extra: 1 }), '/'],
    ['a missing part', ({ gear: _, ...rest }) => rest, '/gear'],
    ['a numerator of zero', (a) => ({ ...a, gear: { ...a.gear, numerator: '0' } }), '/gear/numerator'],
    ['a numerator that is not whole', (a) => ({ ...a, gear: { ...a.gear, numerator: '1.5' } }), '/gear/numerator'],
    ['a negative denominator', (a) => ({ ...a, gear: { ...a.gear, denominator: '-3' } }), '/gear/denominator'],
    ['a denominator with a unit', (a) => ({ ...a, gear: { ...a.gear, denominator: '3 mm' } }), '/gear/denominator'],
    ['travel of nothing', (a) => ({ ...a, motion: { kind: 'linear', travel: '0 mm' } }), '/motion/travel'],
    ['travel in kilograms', (a) => ({ ...a, motion: { kind: 'linear', travel: '3 kg' } }), '/motion/travel'],
    ['travel beyond all machines', (a) => ({ ...a, motion: { kind: 'linear', travel: '1e30 mm' } }), '/motion/travel'],
    ['a resolution of 1e-12', (a) => ({ ...a, wanted: { ...a.wanted, resolution: '1e-12' } }), '/wanted/resolution'],
    [
      '33 encoder bits',
      (a) => ({ ...a, motor: { ...a.motor, encoder: { kind: 'bits', bits: '33' } } }),
      '/motor/encoder/bits',
    ],
    [
      'half an encoder line',
      (a) => ({ ...a, motor: { ...a.motor, encoder: { kind: 'lines', lines: '0.5' } } }),
      '/motor/encoder/lines',
    ],
    [
      'limits the wrong way round',
      (a) => ({ ...a, drive: { ...a.drive, ratioMin: '9', ratioMax: '2' } }),
      '/drive/ratioMax',
    ],
    [
      'an efficiency above one',
      (a) => withStage({ ...newStage('direct'), efficiency: 1.2 }) ?? a,
      '/stages/0/efficiency',
    ],
    [
      'a worm without teeth',
      () => withStage({ ...newStage('worm'), wheelTeeth: '0' } as never),
      '/stages/0/wheelTeeth',
    ],
    ['nine stages', (a) => ({ ...a, stages: Array(9).fill(newStage('direct')) }), '/stages'],
    [
      'an unknown kind of stage',
      (a) => ({ ...a, stages: [{ ...newStage('direct'), kind: 'magic' }] }),
      '/stages/0/kind',
    ],
    ['a speed of zero', (a) => ({ ...a, testMove: { ...a.testMove, speed: 0 } }), '/testMove/speed'],
    ['a counter of 31.5 bits', (a) => ({ ...a, drive: { ...a.drive, counterBits: 31.5 } }), '/drive/counterBits'],
    ['half a repeat', (a) => ({ ...a, testMove: { ...a.testMove, repeats: 1.5 } }), '/testMove/repeats'],
    [
      'a homing method that the standard keeps free',
      (a) => ({ ...a, homing: { ...a.homing, method: 15 } }),
      '/homing/method',
    ],
    [
      'a torque limit of 600 %',
      (a) => ({ ...a, settings: { ...a.settings, torqueLimit: 600 } }),
      '/settings/torqueLimit',
    ],
    ['a port out of range', (a) => ({ ...a, link: { ...a.link, port: 70000 } }), '/link/port'],
    ['a host with a path in it', (a) => ({ ...a, link: { ...a.link, host: 'a/../b' } }), '/link/host'],
    ['a number where text belongs', (a) => ({ ...a, plusEnd: 4 }), '/plusEnd'],
  ])('refuses %s and names the field', (_, change, pointer) => {
    expect(issues(change(carriage)).some((each) => each.startsWith(pointer))).toBe(true);
  });

  it('a save needs its version; a message must be one of those known', () => {
    expect(endpoints.saveAxis.body.safeParse({ author: '', document: carriage }).success).toBe(false);
    expect(endpoints.saveAxis.body.safeParse({ version: 0, author: '', document: carriage }).success).toBe(false);
    expect(endpoints.saveAxis.body.safeParse({ version: 3, author: '', document: carriage }).success).toBe(true);
    expect(clientMessageSchema.safeParse({ type: 'jog', version: 1, press: 1, direction: 1, speed: 20 }).success).toBe(
      true,
    );
    for (const wrong of [
      { type: 'jog', version: 1, press: 1, direction: 2, speed: 20 },
      { type: 'jog', version: 1, press: 1, direction: 1, speed: -1 },
      { type: 'jog', press: 1, direction: 1, speed: 20 },
      { type: 'jog', version: 1, direction: 1, speed: 20 },
      { type: 'home' },
      { type: 'explode' },
      7,
      null,
    ]) {
      expect(clientMessageSchema.safeParse(wrong).success).toBe(false);
    }
  });
});

describe('rules', () => {
  it('speak in the unit of the axis, and every one has a bound', () => {
    expect(ruleFor('speed', 'deg')).toMatchObject({ unit: 'deg/s', shownUnit: 'deg/s' });
    expect(ruleFor('resolution', 'mL').unit).toBe('mL');
    expect(ruleFor('percent', 'mm')).toMatchObject({ unit: '', shownUnit: '%' });
    for (const name of Object.keys(rules) as RuleName[]) {
      const rule = ruleFor(name, 'mm');
      expect(rule.above ?? rule.atLeast, name).toBeDefined();
      expect(rule.atMost, name).toBeDefined();
    }
  });
});

describe('axisInputOf', () => {
  it('keeps what was typed exact: inches, fractions, micrometres', () => {
    const axis: AxisDocument = {
      ...withStage({ ...newStage('screw'), lead: '0.2 in' } as never),
      wanted: { resolution: '0.0001 in', speed: 10 },
    };
    const results = evaluateAxis(axisInputOf(axis).input);
    expect(exactToText(valueOf(results.travelPerTurn) ?? never())).toBe('127/25');
    // 2^20 · 0.0001 / 0.2 = 2^20 / 2000, the inches cancel
    expect(exactToText(valueOf(results.wantedRatio) ?? never())).toBe('65536/125');
  });

  it('takes lines four times and bits as a power of two', () => {
    const counts = (encoder: Extract<AxisDocument['motor'], { form: 'rotary' }>['encoder']) =>
      exactToText(
        valueOf(
          evaluateAxis(axisInputOf(withValueAt(carriage, ['motor', 'encoder'], encoder)).input).countsPerRevolution,
        ) ?? never(),
      );
    expect(counts({ kind: 'lines', lines: '2500' })).toBe('10000');
    expect(counts({ kind: 'bits', bits: '17' })).toBe('131072');
  });

  it('tells an empty field from a wrong one, and where each is', () => {
    const empty = axisInputOf(withValueAt(carriage, ['gear', 'numerator'], ''));
    expect(empty.problems).toEqual([]);
    expect(empty.input.gearNumerator).toMatchObject({ state: 'unknown', path: '/gear/numerator' });
    const wrong = axisInputOf(withValueAt(carriage, ['gear', 'numerator'], 'x'));
    expect(wrong.problems[0]).toMatchObject({ path: '/gear/numerator' });
  });

  it('uses the input rate of the line that is wired', () => {
    const rate = (electrical: 'differential' | 'singleEnded') =>
      valueOf(
        axisInputOf({ ...carriage, command: { kind: 'quadrature', inverted: false, electrical } }).input.driveInputRate,
      );
    expect([rate('differential'), rate('singleEnded')]).toEqual([4000000, 200000]);
  });
});

describe('register map', () => {
  it('the bench’s own is read whole', () => {
    const read = readDriveProfile(csv);
    if (read.kind === 'refused') throw new Error(read.problems.join(' '));
    expect(read.profile).toMatchObject({ name: 'Bench servo drive', wordOrder: 'high word first' });
    expect(read.profile.parameters.length).toBeGreaterThanOrEqual(20);
    expect(read.profile.registers.statusword).toMatchObject({ address: 40, object: '0x6041', type: 'u16' });
    const limits = read.profile.parameters.find((parameter) => parameter.role === 'limitActiveLevel');
    expect(limits).toMatchObject({ takesEffect: 'after restart', choices: { '0': 'low (normally closed)' } });
    const addresses = read.profile.parameters.flatMap((p) => [p.address, p.running, p.stored, p.factoryAddress]);
    expect(new Set(addresses).size).toBe(addresses.length);
    expect(read.profile.firmwares).toEqual([0x10002]);
    expect(read.profile.outputs.map(({ role }) => role)).toEqual(['ready', 'alarm', 'brake', 'inPosition', 'homed']);
  });

  const limit = csv.split('\n').findIndex((line) => line.startsWith('parameter,torqueLimit')) + 1;
  /** The torque limit's row with some of its cells changed. */
  const withCell = (column: string, value: string) => (text: string) => {
    const lines = text.split('\n');
    const at = (lines[0] ?? '').split(',').indexOf(column);
    const cells = (lines[limit - 1] ?? '').split(',');
    cells[at] = value;
    return lines.with(limit - 1, cells.join(',')).join('\n');
  };
  it.each<[string, (text: string) => string, RegExp]>([
    ['a firmware that is no revision', (text) => text.replace('0x00010002', 'V1.2'), /list of revisions.*“V1.2”/],
    [
      'an output without its register',
      (text) => text.replace('register,outputStates', 'register,elsewhere'),
      /register outputStates is missing/,
    ],
    ['two outputs of one bit', (text) => text.replace(/^(output,homedOutput.*)4$/m, '$13'), /output 3 occurs twice/],
    ['nothing', () => '', /header has no column/],
    ['no name', (text) => text.replace('profile,name', 'profile,nom'), /Line 2, column key/],
    ['an unknown type', (text) => text.replace('statusword,,,,0x6041,u16', 'statusword,,,,0x6041,u8'), /column type/],
    ['an address beyond 65535', (text) => text.replace(',,,,,40,', ',,,,,70000,'), /column address/],
    ['a key twice', (text) => text.replace('register,modeDisplay', 'register,statusword'), /twice, first in line/],
    ['no statusword', (text) => text.replace('register,statusword', 'register,status'), /statusword is missing/],
    ['an unknown role', (text) => text.replace('Gains,positionGain', 'Gains,magic'), /column role/],
    ['an unknown word order', (text) => text.replace('high word first', 'middle first'), /word order/],
    ['an unknown watchdog', (text) => text.replace('watchdog,heartbeat register', 'watchdog,magic'), /watchdog/],
    ['another file altogether', () => '{"a": 1}\n{"b": 2}', /Line 1/],
    ['an empty address', withCell('address', ''), new RegExp(`Line ${limit}, column address: this cell is empty`)],
    ['an empty running cell', withCell('running', ''), new RegExp(`Line ${limit}, column running`)],
    ['an address that is no number', withCell('address', '1e2'), /column address/],
    ['a scale of 0', withCell('scale', '0'), /column scale: a scale of 0/],
    ['an empty scale', withCell('scale', ''), /column scale: this cell is empty/],
    ['a minimum above its maximum', withCell('minimum', '500'), /the minimum 500 is above the maximum 300/],
    ['a factory value outside its range', withCell('factory', '301'), /column factory/],
    ['the address of the controlword', withCell('address', '0'), /address 0 is also that of (controlword|torqueLimit)/],
    ['half of another register', withCell('stored', '319'), /is also that of/],
    ['a stored copy that is the running one', withCell('stored', '218'), /is also that of torqueLimit/],
    ['a role that is there twice', withCell('role', 'positionGain'), /positionGain occurs twice/],
    [
      'a number that can be read in two ways',
      withCell('scale', '"1,000"'),
      /not a number that can be read in only one way/,
    ],
    [
      'a function that does not read',
      (text) => text.replace('kind,key,', 'function,kind,key,').replace(/\nregister,/g, '\n6,register,'),
      /function 3 \(holding\) or 4/,
    ],
  ])('refuses %s and says where', (_, change, words) => {
    const read = readDriveProfile(change(csv));
    expect(read.kind === 'refused' && read.problems.join(' ')).toMatch(words);
  });

  it('takes a register with a label for a reading that is shown live', () => {
    const read = readDriveProfile(csv.replace('register,torque,,', 'register,torque,Motor torque,'));
    if (read.kind !== 'profile') throw new Error(read.problems.join(' '));
    const { torque, statusword } = read.profile.registers;
    expect([torque?.label, statusword?.label]).toEqual(['Motor torque', undefined]);
  });

  it('takes empty stored and factory cells for absent, and one address for written and running', () => {
    const read = readDriveProfile(
      [withCell('stored', ''), withCell('factoryAddress', ''), withCell('running', '118')].reduce(
        (text, change) => change(text),
        csv,
      ),
    );
    if (read.kind === 'refused') throw new Error(read.problems.join(' '));
    const parameter = read.profile.parameters.find(({ key }) => key === 'torqueLimit');
    expect(parameter).toMatchObject({ address: 118, running: 118 });
    expect(parameter).not.toHaveProperty('stored');
    expect(parameter).not.toHaveProperty('factoryAddress');
  });

  it('recognises semicolons with decimal commas, bits of a shared word, and input registers', () => {
    const head = 'kind;key;label;type;scale;unit;minimum;maximum;factory;takesEffect;address;running;function;bits';
    const map = (bits: string) =>
      [
        head,
        'profile;name;Packed',
        'register;controlword;;u16;1;;;;;;0;;;',
        'register;statusword;;u16;1;;;;;;0;;4;',
        'register;modeOfOperation;;i16;1;;;;;;1;;;',
        'parameter;low;Low;u16;0,1;V;0;1,5;0,5;at once;10;10;;0-3',
        `parameter;high;High;u16;1;;0;15;1;at once;10;10;;${bits}`,
      ].join('\r\n');
    const read = readDriveProfile(map('4-7'));
    if (read.kind === 'refused') throw new Error(read.problems.join(' '));
    expect(read.profile.parameters[0]).toMatchObject({ scale: 0.1, maximum: 1.5, bits: { from: 0, to: 3 } });
    expect(read.profile.registers.statusword).toMatchObject({ address: 0, function: 4 });
    const overlapping = readDriveProfile(map('3-7'));
    expect(overlapping.kind === 'refused' && overlapping.problems.join(' ')).toMatch(/Line 7.*is also that of low/);
    expect(readDriveProfile(map('4-16')).kind).toBe('refused');
  });
});

describe('what the drive shall hold', () => {
  const read = readDriveProfile(csv);
  if (read.kind === 'refused') throw new Error('unreadable');
  const results = evaluateAxis(axisInputOf(carriage).input);

  it('is planned in the drive’s own units', () => {
    const planned = plannedValues(carriage, axisInputOf(carriage).input, results, read.profile);
    // 2^20 · 3 / 320 = 9830.4 counts/mm, by hand
    expect(planned).toMatchObject({
      gearNumerator: 12288,
      gearDenominator: 125,
      followingErrorWindow: Math.round(15 * 9830.4),
      minusSoftLimit: Math.round(-8 * 9830.4),
      homingSearchSpeed: Math.round(120 * 9830.4),
      homingAcceleration: Math.round(1000 * 9830.4),
      positionGain: 40,
      homingMethod: 1,
      limitActiveLevel: 0,
      enableActiveLevel: 1,
      rotationSense: 0,
    });
    expect(planned.commandSource).toBeUndefined();
  });

  it('leaves out what is not known', () => {
    const bare = newAxis('New', 'linear');
    const planned = plannedValues(bare, axisInputOf(bare).input, evaluateAxis(axisInputOf(bare).input), read.profile);
    expect(planned.followingErrorWindow).toBeUndefined();
    expect(planned.homingSearchSpeed).toBeUndefined();
    // Nobody has chosen a gain.
    expect(planned.positionGain).toBeUndefined();
  });

  it('gives the plant that predicts it', () => {
    const servo = valueOf(servoDefinition(carriage, results));
    expect(servo).toMatchObject({
      countsPerRevolution: 2 ** 20,
      gearNumerator: 12288,
      torqueLimit: 1.5,
      speedIntegralTime: 0.02,
    });
    expect((servo?.followingErrorWindow ?? 0) / (15 * 9830.4)).toBeCloseTo(1, 9);
    const missing = servoDefinition({ ...carriage, settings: { ...carriage.settings, positionGain: null } }, results);
    expect(missing).toMatchObject({ state: 'unknown', path: '/settings/positionGain' });
  });
});

function never(): never {
  throw new Error('a value was expected');
}

const newPair = {
  mirrored: false,
  secondSense: 'clockwise',
  spacing: null,
  squaring: 'none',
  squaringOffset: null,
  skewLimit: null,
  commonTrip: true,
} as const;

describe('a DC supply that axes share', () => {
  if (!lift) throw new Error('the demo has no lift');

  it('adds up their amps and what they give back', () => {
    const [alone] = suppliesOf([lift, carriage]);
    expect(alone?.axes).toHaveLength(1);
    const [both] = suppliesOf([
      lift,
      { ...lift, supply: { ...lift.supply, ratedCurrent: 0.1, takesEnergyBack: false } },
    ]);
    expect(both).toMatchObject({ ratedCurrent: 0.1, takesEnergyBack: false, voltages: [48] });
    expect(both?.totalCurrent).toBeCloseTo(2 * (alone?.totalCurrent ?? NaN), 12);
    expect(both?.totalEnergy).toBeCloseTo(2 * (alone?.totalEnergy ?? NaN), 12);
    // By hand: ½ (4.8e-5 + 2.1e-5 + 0.9 · 6 · (0.01 / 2π)²) · (80 / 10 · 2π)², and lowering 0.9 · (6 g − 18) N over 0.2 m.
    const omega = 16 * Math.PI;
    const kinetic = 0.5 * (4.8e-5 + 2.1e-5 + 0.9 * 6 * (0.01 / (2 * Math.PI)) ** 2) * omega ** 2;
    expect(alone?.totalEnergy).toBeCloseTo(kinetic + 0.9 * (6 * 9.80665 - 18) * 0.2, 6);
    // Two motors share the load and give back what each of them holds: rotor and coupling twice, the load once.
    const [pair] = suppliesOf([{ ...lift, pair: { ...newPair, spacing: 500 } }]);
    const rotors = 0.5 * (4.8e-5 + 2.1e-5) * omega ** 2;
    expect(pair?.totalEnergy).toBeCloseTo((alone?.totalEnergy ?? NaN) + rotors, 6);
    expect(pair?.totalCurrent).toBeGreaterThan(alone?.totalCurrent ?? NaN);
    expect(suppliesOf([carriage])).toEqual([]);
    expect(suppliesOf([{ ...lift, supply: { ...lift.supply, name: '' } }])).toEqual([]);
  });

  it('members that name the same drive are found; a link without a register map is none', () => {
    const at = (name: string, unit: number, profileId: string | null): AxisDocument => ({
      ...carriage,
      name,
      link: { kind: 'tcp', host: 'h', port: 502, unit, profileId },
    });
    expect(sharedDevices([at('A', 1, 'm'), at('B', 1, 'n'), at('C', 2, 'm'), at('D', 1, null)])).toEqual([
      { address: 'h:502/1', names: ['A', 'B'] },
    ]);
  });
});

describe('what is to be keyed in at both ends', () => {
  const library = readLibrary(file('../demo/library.json'));
  if (library.kind === 'refused') throw new Error(library.problems.join());
  const driveOf = (id: string) => {
    const item = library.entries.find((entry) => entry.id === id)?.item;
    return item?.shelf === 'drive' ? item.entry : undefined;
  };
  const rowsFor = (axis: AxisDocument, drive: string) => {
    const { input } = axisInputOf(axis);
    return endSheets(axis, input, evaluateAxis(input), { drive: driveOf(drive) });
  };
  const keys = (rows: ReturnType<typeof rowsFor>['drive']) =>
    Object.fromEntries(rows.map(({ code, key }) => [code, key]));

  it('a manual that writes counts = pulses × value 41 / value 40 gets N and D the other way round', () => {
    const inverted = withEntry(carriage, { shelf: 'drive', entry: driveOf('drive-b') as never }, null);
    const { drive } = rowsFor(
      { ...inverted, gear: { ...carriage.gear, numerator: '12', denominator: '5' } },
      'drive-b',
    );
    expect(keys(drive)).toMatchObject({ 40: '5', 41: '12' });
    // 15 mm are 147 456 counts: fourteen ten thousands and the rest.
    expect(keys(drive)).toMatchObject({ 32: '14', 33: '7456' });
    expect(drive[0]).toMatchObject({ code: '99', step: 'unlocks' });
    // The registers of a linked drive turn with it.
    const results = evaluateAxis(axisInputOf(inverted).input);
    const map = readDriveProfile(csv);
    if (map.kind === 'refused') throw new Error(map.problems.join());
    expect(plannedValues(inverted, axisInputOf(inverted).input, results, map.profile)).toMatchObject({
      gearNumerator: 125,
      gearDenominator: 12288,
    });
  });

  it('says the same at both ends, and no more than is known', () => {
    const { controller, drive } = rowsFor(carriage, 'nothing');
    expect(keys(controller)).toMatchObject({ 'Steps per unit': '100', 'Pulse form': 'step and direction' });
    expect(keys(drive)).toMatchObject({ 'Pulse form': 'step and direction', 'Gear numerator': '12288' });
    // Homing and soft limits stand on the sheet of whoever homes.
    expect(keys(controller)['Homing time-out']).toBeUndefined();
    expect(keys(drive)).toMatchObject({ 'Homing method': '1', 'Plus soft limit': '1845' });
    // A fifth above 25.1 s: 1850 mm at 120 mm/s, then a whole turn at 12 mm/s to the index pulse.
    const byController = rowsFor({ ...carriage, homing: { ...carriage.homing, by: 'controller' } }, 'nothing');
    expect(keys(byController.controller)).toMatchObject({ 'Homing time-out': '31', 'Plus soft limit': '1845' });
    expect(keys(byController.drive)['Homing method']).toBeUndefined();
    expect(keys(byController.drive)['Plus soft limit']).toBeUndefined();
    // The delays of a brake stand at the end that drives it.
    const brake = { drivenBy: 'drive' as const, torque: 4, releaseDelay: 0.06, engageDelay: 0.02 };
    expect(keys(rowsFor({ ...carriage, brake }, 'nothing').drive)).toMatchObject({ 'Brake release delay': '60' });
    expect(keys(rowsFor({ ...carriage, brake }, 'nothing').controller)['Brake release delay']).toBeUndefined();
    const empty = rowsFor(newAxis('New', 'linear'), 'nothing');
    expect(keys(empty.controller)['Steps per unit']).toBeUndefined();
    expect(JSON.stringify(empty)).not.toMatch(/NaN|Infinity/);
  });
});

describe('one plan of drive values', () => {
  const read = readDriveProfile(csv);
  if (read.kind === 'refused') throw new Error(read.problems.join());
  const { profile } = read;

  it('says over the link what is keyed in: no position gain for a drive that is told a speed', () => {
    const table = axesAmong(demo.axes).find(({ command }) => command.kind === 'analog' && command.meaning === 'speed');
    if (!table) throw new Error('the demo has no axis commanded by a speed');
    const { input } = axisInputOf(table);
    const results = evaluateAxis(input);
    const settings = { ...table.settings, positionGain: 33, speedBandwidth: 210 };
    const bySpeed = { ...table, settings };
    const sheet = endSheets(bySpeed, input, results, {}).drive.map(({ label }) => label);
    const link = plannedValues(bySpeed, input, results, profile);
    expect(sheet).toContain('Speed loop bandwidth');
    expect(link).toMatchObject({ speedBandwidth: 210 });
    expect(sheet).not.toContain('Position loop gain');
    expect(link.positionGain).toBeUndefined();
  });

  it('turns every planned number into the unit of the register', () => {
    const { input } = axisInputOf(carriage);
    const inOtherUnits = {
      ...profile,
      parameters: profile.parameters.map((each) =>
        each.role === 'speedIntegralTime'
          ? { ...each, unit: 's' }
          : each.role === 'homingSearchSpeed'
            ? { ...each, unit: 'm/min' }
            : each,
      ),
    };
    const planned = plannedValues(carriage, input, evaluateAxis(input), inOtherUnits);
    expect(planned.speedIntegralTime).toBeCloseTo((carriage.settings.speedIntegralTime ?? 0) / 1000, 12);
    expect(planned.homingSearchSpeed).toBeCloseTo(7.2, 12);
  });
});
