import { readFileSync } from 'node:fs';
import { evaluateAxis } from '@kavrid/core/chain';
import { exact, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  axisSchema,
  commandFormOf,
  commandForms,
  commandFrom,
  endSheets,
  hostLoopOf,
  axesAmong,
  machineFileSchema,
  newAxis,
  newCommand,
  axisInputOf,
  readLibrary,
  servoDefinition,
  withValueAt,
  type AxisDocument,
  type CommandDocument,
} from './index.ts';
import { commandSchema } from './commandDocument.ts';

const file = (path: string) => readFileSync(new URL(path, import.meta.url), 'utf8');
const demo = machineFileSchema.parse(JSON.parse(file('../demo/tile-glazing-cell.json')));
const axisOf = (name: string): AxisDocument => {
  const found = axesAmong(demo.axes).find((axis) => axis.name === name);
  if (!found) throw new Error(`the demo has no ${name}`);
  return found;
};
const [pump, table, stop] = [axisOf('Glaze pump'), axisOf('Turntable'), axisOf('Tile stop')];
const library = readLibrary(file('../demo/library.json'));
if (library.kind === 'refused') throw new Error(library.problems.join());
const sheets = (axis: AxisDocument, own = true) => {
  const { input } = axisInputOf(axis);
  const item = own ? library.entries.find(({ id }) => id === axis.drive.entry?.id)?.item : undefined;
  return endSheets(axis, input, evaluateAxis(input), { drive: item?.shelf === 'drive' ? item.entry : undefined });
};
const keys = (rows: ReturnType<typeof sheets>['drive']) => Object.fromEntries(rows.map(({ code, key }) => [code, key]));
const kinds: readonly CommandDocument['kind'][] = [
  'stepDirection',
  'clockwisePulses',
  'quadrature',
  'untimedPulses',
  'analog',
  'pwm',
  'choice',
];

describe('commands of every kind', () => {
  it('begin so that an axis can be saved, whichever was there before, and give no number where none is known', () => {
    fc.assert(
      fc.property(fc.constantFrom(...kinds), fc.constantFrom(...kinds), fc.boolean(), (before, after, inverted) => {
        const earlier = { ...newCommand(before, { inverted }) };
        const command = newCommand(after, earlier);
        expect(commandSchema.parse(command)).toEqual(command);
        expect(command.inverted).toBe(inverted);
        const axis = { ...newAxis('New', 'linear'), command };
        expect(axisSchema.parse(axis)).toEqual(axis);
        const { input, problems } = axisInputOf(axis);
        expect(problems).toEqual([]);
        const results = evaluateAxis(input);
        expect(JSON.stringify({ ends: sheets(axis, false), speed: results.highestSpeed })).not.toMatch(/NaN|Infinity/);
      }),
      { numRuns: 60 },
    );
  });

  it('name the field that cannot be read, in the unit it has', () => {
    const problem = (axis: AxisDocument, path: readonly (string | number)[], value: unknown) =>
      axisInputOf(withValueAt(axis, path, value)).problems[0];
    expect(problem(table, ['command', 'to', 'signal'], '24 V')).toMatchObject({
      path: '/command/to/signal',
      message: 'Must be at most 12 V.',
    });
    expect(problem(table, ['command', 'to', 'signal'], '10 mA')?.message).toContain('cannot be used here. Use V');
    expect(problem(table, ['command', 'to', 'value'], '3 mm')?.message).toContain('Use rpm');
    expect(problem(pump, ['command', 'to', 'signal'], '120')?.message).toContain('at most 100');
    expect(problem(pump, ['command', 'rawFullScale'], '1.5')?.message).toContain('whole');
    expect(problem(table, ['command', 'loop', 'outputPulses'], 'x')?.path).toBe('/command/loop/outputPulses');
    expect(problem(stop, ['measured', 'travelCorrection'], '2')?.message).toContain('at most 1.1');
  });

  it('may be typed in other units of the same kind', () => {
    const volts = withValueAt(table, ['command', 'to', 'signal'], '10000 mV');
    const turns = withValueAt(volts, ['command', 'to', 'value'], '50 rev/s');
    expect(toNumber(valueOf(evaluateAxis(axisInputOf(turns).input).signalGain) ?? exact(0))).toBe(300);
  });

  it('a timer makes as many steps as its clock counts in a period, and the drive no more than it captures', () => {
    const timed = withValueAt(
      withValueAt(pump, ['command', 'generatorClock'], 16000000),
      ['command', 'captureClock'],
      245000,
    );
    const results = evaluateAxis(axisInputOf(timed).input);
    // 16 MHz / 490 Hz; 245 kHz / 490 Hz
    expect(valueOf(results.controllerSteps)).toBe(32653);
    expect(valueOf(results.driveSteps)).toBe(500);
    expect(valueOf(results.coarserEnd)).toEqual(['drive']);
  });
});

describe('what is to be keyed in for them', () => {
  it('the turntable: speed at 10 V, offset in mV with the creep, encoder output; loop in the controller', () => {
    const { drive, controller } = sheets(table);
    // 0.6 rpm of creep at 300 rpm a volt are 2 mV, taken off the offset the drive subtracts.
    expect(keys(drive)).toMatchObject({ 'G-01': '2', 'A-01': '3000', 'A-02': '2', 'A-04': '0.5', 'E-01': '2048' });
    // A drive that is told a speed holds no position.
    for (const code of ['R-02', 'R-05', 'L-02']) expect(keys(drive)[code]).toBeUndefined();
    expect(keys(controller)).toMatchObject({
      'Feedback counts per unit': '1638.4',
      'Position loop gain': '30',
      'Error limit': '8',
      'Speed at full command': '250',
    });
  });

  it('a scale that falls as its signal rises: the size of it, and inverted', () => {
    const falling = withValueAt(table, ['command', 'to', 'value'], '-3000 rpm');
    expect(keys(sheets(falling).drive)).toMatchObject({ 'A-01': '3000', 'A-05': '1' });
    const perVolt = withValueAt(falling, ['command', 'gainForm'], 'value for one of signal');
    expect(keys(sheets(perVolt, false).drive)).toMatchObject({
      'Value per unit of signal': '300',
      'Signal inverted': 'yes',
    });
    expect(keys(sheets(table).drive)['A-05']).toBe('0');
  });

  it('the pump: raw numbers as worked by hand', () => {
    expect(keys(sheets(pump).drive)).toMatchObject({
      P0: '1',
      P1: '1023',
      P2: '10000',
      P3: '3069',
      P4: '-167',
      P5: '1',
    });
  });

  it('nothing tells a drive to listen before the command has been switched on', () => {
    const off = withValueAt(table, ['command', 'switchedOn'], false);
    expect(keys(sheets(off).drive)['G-01']).toBeUndefined();
    expect(keys(sheets(off).drive)['A-01']).toBe('3000');
  });

  it('the stop: each move of each pattern, and the torque limits', () => {
    const { drive } = sheets(stop);
    expect(keys(drive)).toMatchObject({
      'C-01': '1',
      'C-02': '8',
      'C-03': '1',
      'Move 0: what it does': 'position',
      'Move 0: target': '10',
      'Move 1: target': '85',
      'Move 1: torque limit': '60',
      'Torque limit 1': '35',
    });
    expect(keys(drive)['Move 1: near fence']).toBeUndefined();
  });
});

describe('the plant of an axis that no pulses command', () => {
  it('makes its own profile, or takes speeds from the controller’s loop', () => {
    const { input } = axisInputOf(table);
    const results = evaluateAxis(input);
    expect(valueOf(servoDefinition(table, results))).toMatchObject({ gearNumerator: 1, gearDenominator: 1 });
    const loop = hostLoopOf(input, results);
    expect(loop && valueOf(loop)).toMatchObject({
      gain: 30,
      divider: 128,
      feedbackSign: 1,
      fullSpeed: 250,
      creep: 0.6 * (5 / 60),
      errorLimit: 8,
    });
    expect(hostLoopOf(axisInputOf(stop).input, results)).toBeUndefined();
    const unlimited = axisInputOf(withValueAt(table, ['command', 'loop', 'errorLimit'], null)).input;
    expect(hostLoopOf(unlimited, evaluateAxis(unlimited))).toMatchObject({ path: '/command/loop/errorLimit' });
  });
});

describe('measured travel', () => {
  it('lies on the plates: steps per unit and the gear wanted follow, the plates stay', () => {
    const screws = axisOf('Feed screws');
    const results = (axis: AxisDocument) => evaluateAxis(axisInputOf(axis).input);
    const number = (axis: AxisDocument, symbol: 'stepsPerUnit' | 'travelPerTurn' | 'wantedRatio') =>
      toNumber(valueOf(results(axis)[symbol]) ?? exact(0));
    const corrected = withValueAt(screws, ['measured', 'travelCorrection'], '1.0005');
    for (const [symbol, power] of [
      ['travelPerTurn', 1],
      ['stepsPerUnit', -1],
      ['wantedRatio', -1],
    ] as const)
      expect(number(corrected, symbol) / number(screws, symbol)).toBeCloseTo(1.0005 ** power, 12);
  });
});

describe('a command from the library', () => {
  const entries = (controller: string | undefined, drive: string | undefined) => {
    const itemOf = (id: string | undefined) => library.entries.find((entry) => entry.id === id)?.item;
    const [sends, takes] = [itemOf(controller), itemOf(drive)];
    return {
      controller: sends?.shelf === 'controller' ? sends.entry : undefined,
      drive: takes?.shelf === 'drive' ? takes.entry : undefined,
    };
  };
  it('takes over what either end is known to have, and keeps what is not known', () => {
    expect(commandFrom(table.command, entries('controller-motion', undefined))).toMatchObject({
      controllerBits: 12,
      driveBits: 14,
      loop: { inputRate: 1000000, outputRate: 1600000 },
    });
    expect(commandFrom(table.command, entries('controller-plc', 'drive-brushless'))).toMatchObject({
      controllerBits: 16,
      driveBits: 10,
      potentiometer: { inputResistance: 47000, referenceVoltage: 5, referenceCurrent: 0.005 },
    });
    expect(commandFrom(newCommand('pwm', {}), entries('controller-timer', 'drive-brushless'))).toMatchObject({
      generatorBits: 16,
      carrier: 20000,
      captureClock: 1000000,
      rawFullScale: '1023',
    });
    expect(commandFrom(newCommand('choice', {}), entries(undefined, 'drive-a'))).toMatchObject({ storedMoves: 16 });
    for (const each of [pump.command, table.command, stop.command]) expect(commandFrom(each, {})).toEqual(each);
  });
  it('has a name among those that drives take', () => {
    const forms: readonly string[] = commandForms;
    for (const kind of kinds) expect(forms).toContain(commandFormOf(newCommand(kind, {})));
  });
});
