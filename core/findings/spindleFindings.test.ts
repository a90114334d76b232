import { describe, expect, it } from 'vitest';
import { exact } from '../quantity/index.ts';
import { known, unknown } from '../sheet/index.ts';
import { evaluateSpindle, type SignalCommand, type SpindleInput } from '../spindle/index.ts';
import { grinder, highFrequency } from '../test/sampleSpindle.ts';
import { spindleFindingsOf, type Severity } from './index.ts';

const found = (input: SpindleInput) => spindleFindingsOf({ input, results: evaluateSpindle(input) });
const { settings, supply, drive, bus, interlocks, plate, wanted } = grinder;
if (!bus) throw new Error('the sample has no bus');
const withSettings = (changes: Partial<SpindleInput['settings']>): SpindleInput => ({
  ...grinder,
  settings: { ...settings, ...changes },
});
const withBus = (changes: Partial<NonNullable<SpindleInput['bus']>>): SpindleInput => ({
  ...grinder,
  bus: { ...bus, ...changes },
});
const volts: SignalCommand = {
  kind: 'signal',
  signal: '0–10 V',
  scale: known({ from: { signal: exact(0), value: exact(0) }, to: { signal: exact(10), value: exact(60) } }),
  senderSteps: known(4096),
  takerSteps: known(1024),
  controllerTop: known(2400),
};
const byVolts = (changes: Partial<SignalCommand>): SpindleInput => ({
  ...grinder,
  settings: { ...settings, speedSource: 'analog' },
  bus: undefined,
  interlocks: { ...interlocks, atSpeed: 'input of the controller' },
  command: { ...volts, ...changes },
});

describe('findings of a spindle', () => {
  it('one that is set up right has none', () => {
    expect(found(grinder)).toEqual([]);
    expect(found(highFrequency(400, 400)).filter(({ severity }) => severity === 'stop')).toEqual([]);
    expect(found(byVolts({}))).toEqual([]);
  });

  it.each<[id: string, severity: Severity, input: SpindleInput, words: string]>([
    ['plate-speed', 'stop', { ...grinder, plate: { ...plate, poles: known(4) } }, '2 poles would match'],
    ['plate-power', 'warn', { ...grinder, plate: { ...plate, power: known(900) } }, 'an efficiency of'],
    ['plate-power', 'stop', { ...grinder, plate: { ...plate, power: known(4000) } }, 'less than the 4 kW at the shaft'],
    ['plate-amps', 'warn', { ...grinder, plate: { ...plate, star: { volts: 400, amps: 8 } } }, '√3'],
    [
      'noConnection',
      'stop',
      { ...grinder, supply: { ...supply, volts: known(110) } },
      'no connection of this motor suits 110 V',
    ],
    // Star on 230 V: 57.5 % of its volts, a third of its torque.
    ['wrongConnection', 'stop', withSettings({ connection: 'star' }), '57.5 % of its rated voltage and give 33 %'],
    // 230 V at the base on a supply of 400 V: delta as well.
    [
      'wrongConnection',
      'note',
      { ...grinder, supply: { ...supply, volts: known(400) } },
      'only as long as the base voltage stays at 230 V',
    ],
    ['protectionCurrent', 'stop', withSettings({ protectionCurrent: known(9) }), 'burns out before it trips'],
    ['protectionCurrent', 'warn', withSettings({ protectionCurrent: known(6) }), 'trips before'],
    ['driveTooSmall', 'warn', { ...grinder, drive: { ...drive, ratedCurrent: known(6) } }, '75 %'],
    ['supplyPhases', 'stop', { ...grinder, drive: { ...drive, phases: '3' } }, 'one phase'],
    [
      'supplyVolts',
      'stop',
      { ...grinder, drive: { ...drive, supplyLeast: known(380), supplyMost: known(480) } },
      '380 to 480 V',
    ],
    ['noEarth', 'stop', { ...grinder, supply: { ...supply, isEarthed: false } }, 'protective earth'],
    ['fuseTooSmall', 'warn', { ...grinder, supply: { ...supply, fuse: known(10) } }, '16.7 A'],
    // The classic ruin: a 300 or 400 Hz spindle on a base of 50 or 60 Hz.
    ['ruin', 'stop', highFrequency(400, 50), '8 times its rated volts per hertz'],
    ['ruin', 'stop', highFrequency(300, 60), '5 times its rated volts per hertz'],
    ['ruin', 'stop', withSettings({ points: [{ hertz: 10, volts: 90 }] }), 'a point at 10 Hz'],
    ['weakField', 'warn', withSettings({ base: known({ hertz: 87, volts: 230 }) }), '57.5 %'],
    ['baseAboveOutput', 'warn', withSettings({ base: known({ hertz: 50, volts: 400 }) }), 'can give only 230 V'],
    ['boostTooHigh', 'warn', withSettings({ boost: known(50) }), '22 %'],
    [
      'curveOutOfOrder',
      'stop',
      withSettings({
        points: [
          { hertz: 30, volts: 100 },
          { hertz: 20, volts: 120 },
        ],
      }),
      'not in order',
    ],
    // 100 Hz are 6000 rpm of the motor; its bearings bear 4500, 3000 of the tool.
    ['tooFastAllowed', 'stop', withSettings({ highestHertz: known(100) }), '4 000 rpm at the tool'],
    ['aboveRange', 'stop', { ...grinder, wanted: { ...wanted, topSpeed: known(2600) } }, '2 400 rpm'],
    ['belowRange', 'warn', { ...grinder, wanted: { ...wanted, speed: known(500) } }, '800 rpm'],
    ['noSpeedLeft', 'stop', { ...grinder, coolingHertz: known(90) }, 'No speed is possible: at least 3'],
    ['belowCooling', 'warn', withSettings({ lowestHertz: known(5) }), 'only from 20 Hz'],
    // 400 Hz at 0.01 Hz a count are 40 000: not in 16 bits signed (common practice).
    [
      'wordOverflows',
      'stop',
      {
        ...highFrequency(400, 400),
        command: { kind: 'fieldBus', word: known({ counts: { kind: 'hertz', each: 0.01 }, signed: true, bits: 16 }) },
      },
      '-25536',
    ],
    ['coarseSpeed', 'warn', byVolts({ takerSteps: known(64) }), 'limited by the drive'],
    ['endsDiffer', 'stop', byVolts({ controllerTop: known(3000) }), 'wrong by -20 %'],
    [
      'fullSignalTooSlow',
      'stop',
      byVolts({
        scale: known({ from: { signal: exact(0), value: exact(0) }, to: { signal: exact(10), value: exact(50) } }),
        controllerTop: known(2000),
      }),
      '2 000 rpm, below',
    ],
    [
      'fullSignalTooFast',
      'note',
      byVolts({
        scale: known({ from: { signal: exact(0), value: exact(0) }, to: { signal: exact(10), value: exact(80) } }),
        controllerTop: known(3200),
      }),
      '3 200 rpm',
    ],
    [
      'scaleOutside',
      'stop',
      byVolts({
        scale: known({ from: { signal: exact(0), value: exact(0) }, to: { signal: exact(12), value: exact(60) } }),
      }),
      '12 V',
    ],
    [
      'patternTwice',
      'stop',
      {
        ...grinder,
        command: {
          kind: 'fixedSpeeds',
          speeds: [
            { pattern: '01', hertz: known(30) },
            { pattern: '01', hertz: known(40) },
          ],
        },
      },
      'pattern 01 selects',
    ],
    [
      'speedWithoutInputs',
      'stop',
      { ...grinder, command: { kind: 'fixedSpeeds', speeds: [{ pattern: '00', hertz: known(30) }] } },
      'broken wire',
    ],
    [
      'fixedTooFast',
      'stop',
      { ...grinder, command: { kind: 'fixedSpeeds', speeds: [{ pattern: '10', hertz: known(70) }] } },
      '70 Hz',
    ],
    ['speedSource', 'stop', withSettings({ speedSource: 'dial' }), '“dial”'],
    ['runSource', 'stop', withSettings({ runSource: 'terminals' }), 'The run command source set in the'],
    ['rampUpTooShort', 'warn', withSettings({ rampUp: known(0.2) }), 'lengthen the ramp, or trip'],
    ['startTooSlow', 'note', withSettings({ rampUp: known(6) }), '5.5 s'],
    ['stopTooSlow', 'warn', withSettings({ rampDown: known(8) }), 'on its ramp'],
    ['stopTooSlow', 'warn', withSettings({ stopWay: 'coast' }), 'of coasting'],
    ['stopTrips', 'stop', { ...grinder, resistor: undefined }, 'trips on overvoltage'],
    ['noChopper', 'stop', { ...grinder, drive: { ...drive, hasChopper: false } }, 'no chopper'],
    ['resistorTooSmall', 'stop', { ...grinder, resistor: { ohms: known(22), power: known(200) } }, '47 Ω'],
    ['resistorTooLarge', 'warn', { ...grinder, resistor: { ohms: known(2000), power: known(200) } }, 'W at its start'],
    ['resistorTooWeak', 'stop', { ...grinder, resistor: { ohms: known(100), power: known(2) } }, 'on average'],
    [
      'longCoast',
      'warn',
      { ...grinder, frictionTorque: known(0.2), interlocks: { ...interlocks, guardLock: false } },
      'coasts for 14 s',
    ],
    ['pollPeriod', 'stop', withBus({ period: known(0.05) }), 'One poll cycle of all messages takes'],
    ['pollPeriod', 'warn', withBus({ period: known(0.07) }), 'is 79 %'],
    ['timeOut', 'stop', withBus({ timeOut: known(0) }), 'does not monitor the link'],
    ['timeOut', 'stop', withBus({ timeOut: known(0.1) }), '120 ms'],
    ['timeOut', 'warn', withBus({ timeOut: known(5) }), '5 s'],
    ['lostLink', 'stop', withBus({ lostLink: 'goes on' }), 'When the link is lost the drive'],
    [
      'line-parity',
      'stop',
      withBus({ controller: { ...bus.controller, line: known({ baud: 38400, parity: 'none', stopBits: 1 }) } }),
      'parity none',
    ],
    ['addressDiffers', 'stop', withBus({ controller: { ...bus.controller, address: known(1) } }), 'address 1'],
    [
      'notElevenBits',
      'note',
      withBus({ drive: { ...bus.drive, line: known({ baud: 38400, parity: 'none', stopBits: 1 }) } }),
      'eleven bits',
    ],
    ['pairCrossed', 'stop', withBus({ crossed: true }), 'The two wires of the pair are'],
    ['pairLabels', 'note', withBus({ controller: { ...bus.controller, positiveLabel: 'A' } }), 'labelled A'],
    ['enableOpen', 'stop', { ...grinder, interlocks: { ...interlocks, enable: 'nothing there' } }, 'will not start'],
    [
      'enableLinked',
      'warn',
      { ...grinder, interlocks: { ...interlocks, enable: 'link in place' } },
      'A wire link keeps the drive enabled',
    ],
    [
      'tripUnheard',
      'stop',
      { ...grinder, interlocks: { ...interlocks, tripStopsMachine: false } },
      'When the drive trips, the axes keep',
    ],
    ['feedBeforeSpeed', 'stop', { ...grinder, interlocks: { ...interlocks, atSpeed: 'nothing' } }, 'feed begins'],
    [
      'feedByTime',
      'note',
      { ...grinder, interlocks: { ...interlocks, atSpeed: 'dwell' } },
      'The feed waits for a fixed time',
    ],
    ['atSpeedWithoutBus', 'stop', { ...byVolts({}), interlocks }, 'read over a field bus'],
    [
      'measuredScale',
      'warn',
      {
        ...grinder,
        tachometer: [800, 1400, 2000, 2200].map((commanded) => ({ commanded, measured: 0.97 * commanded })),
      },
      '3 % less',
    ],
    [
      'measuredBow',
      'warn',
      {
        ...grinder,
        tachometer: [600, 1000, 1400, 1800, 2200].map((commanded) => ({
          commanded,
          measured: commanded - ((commanded - 1400) / 800) ** 2 * 150,
        })),
      },
      'deviate from a straight line',
    ],
  ])('%s (%s)', (id, severity, input, words) => {
    const findings = found(input);
    const finding = findings.find((each) => each.id === id);
    expect(finding).toMatchObject({ severity });
    expect(finding?.message.replace(/[\u202f\u00a0]/g, ' ')).toContain(words);
    expect(finding?.path).toMatch(/^\//);
    expect(finding?.remedy.length).toBeGreaterThan(5);
    // The gravest stand first.
    const ranks = findings.map((each) => ['stop', 'warn', 'note'].indexOf(each.severity));
    expect(ranks).toEqual([...ranks].sort());
  });

  it('tells both ways to make two ends agree', () => {
    const finding = found(byVolts({ controllerTop: known(3000) })).find(({ id }) => id === 'endsDiffer');
    // 3000 rpm of the tool are 75 Hz.
    expect(finding?.remedy.replace(/\u202f/g, ' ')).toContain(
      'Set 2 400 rpm at the controller, or set the drive’s frequency at full signal to 75 Hz',
    );
  });

  it('is silent where the numbers are unknown', () => {
    const none = unknown('not filled in');
    const bare: SpindleInput = {
      ...grinder,
      plate: {
        ...plate,
        power: none,
        hertz: none,
        speed: none,
        poles: none,
        powerFactor: none,
        star: undefined,
        delta: undefined,
      },
      supply: { ...supply, volts: none, fuse: none },
      settings: { ...settings, base: none, highestHertz: none, protectionCurrent: none },
      tool: { diameter: none, topSpeed: none, rimSpeed: none, inertia: none },
      bearingSpeed: none,
      beltSpeed: none,
      frictionTorque: none,
    };
    expect(found(bare)).toEqual([]);
  });
});
