import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { equals, exact, exactRatio, rationalFromNumber, toNumber, type Exact } from '../quantity/index.ts';
import { known, unknown, valueOf, workingOf, type Outcome } from '../sheet/index.ts';
import { grinder, highFrequency } from '../test/sampleSpindle.ts';
import {
  evaluateSpindle,
  hertzOf,
  patternValue,
  probeSpindle,
  rangesOfSteps,
  signalFor,
  spindleSheet,
  spindleStationKinds,
  type SignalCommand,
  type SpindleCommand,
  type SpindleInput,
  type SpindleValues,
} from './index.ts';

const results = evaluateSpindle(grinder);
const value = <K extends keyof SpindleValues>(symbol: K, input: SpindleInput = grinder) =>
  valueOf(evaluateSpindle(input)[symbol] as Outcome<SpindleValues[K]>);
const number = (outcome: Outcome<Exact>) => toNumber(valueOf(outcome) ?? exact(-1));
const ten: SignalCommand = {
  kind: 'signal',
  signal: '0–10 V',
  scale: known({ from: { signal: exact(0), value: exact(0) }, to: { signal: exact(10), value: exact(60) } }),
  senderSteps: known(4096),
  takerSteps: known(1024),
  controllerTop: known(2400),
};

describe('the sheet of a spindle', () => {
  it('counts with the connection that is made, not with the one that the supply wants', () => {
    // 230/400 V, 8/4.6 A on 230 V: delta is right, and star is what was chosen.
    const inStar: SpindleInput = { ...grinder, settings: { ...grinder.settings, connection: 'star' } };
    expect(['connection', 'motorVolts', 'motorCurrent'].map((each) => value(each as 'motorVolts', inStar))).toEqual([
      'delta',
      400,
      4.6,
    ]);
    const unknownStar = { ...inStar, plate: { ...grinder.plate, star: undefined } };
    expect(evaluateSpindle(unknownStar).motorVolts).toMatchObject({ state: 'unknown', path: '/motor/starVolts' });
  });

  it.each([
    // By hand, with the formulas that each working names.
    ['synchronousSpeed', 3000], // 120 · 50 / 2
    ['slip', 100 * (1 - 2860 / 3000)],
    ['ratedTorque', 2200 / (2860 * (Math.PI / 30))],
    ['motorCurrent', 8],
    ['plateEfficiency', (100 * 2200) / (Math.sqrt(3) * 230 * 8 * 0.86)],
    ['worstFlux', 100],
    ['constantPowerFrom', 2000], // 3000 / 1.5
    ['torqueAtTop', 100 * (50 / 60)],
    ['lowestToolSpeed', 800], // 20 Hz → 1200 rpm → 800
    ['highestToolSpeed', 2400], // 60 Hz → 3600 rpm → 2400
    ['hertzAtWanted', 47.5], // 1900 · 1.5 / 60
    ['signalAtWanted', 4750],
    ['toolStep', 0.4],
    ['totalInertia', 0.0022 + 0.0006 + 0.012 / 2.25],
    ['kineticEnergy', 0.5 * (0.0028 + 0.012 / 2.25) * (2200 * 1.5 * (Math.PI / 30)) ** 2],
    ['capacitorEnergy', 0.5 * 0.00164 * (410 ** 2 - 2 * 230 ** 2)],
    ['plannedStop', (3 * 55) / 60], // the ramp counts to 60 Hz, the top is 55
    ['coastingTime', ((0.0028 + 0.012 / 2.25) * 2200 * 1.5 * (Math.PI / 30)) / 0.35],
    ['characterTime', 11 / 38400],
    ['silence', 0.00175],
    ['pollRound', (16 + 16 + 19) * (11 / 38400) + 6 * 0.00175 + 0.03],
    ['lostLinkTime', 0.5 + 2.75],
    ['lostLinkTurns', (2200 / 60) * (0.5 + 1.375)],
  ] as const)('%s is %d', (symbol, expected) => {
    expect(value(symbol)).toBeCloseTo(expected, 9);
    const working = workingOf(spindleSheet, results, symbol);
    expect(working?.source).not.toBe('');
    expect(working?.numbers).not.toContain('?');
  });

  it('names what binds, and the ratio field as an exact number', () => {
    expect(value('connection')).toBe('delta');
    expect(value('lowestBy')).toEqual(['cooling of the motor', 'lowest frequency set in the drive']);
    expect(value('highestBy')).toEqual(['highest frequency set in the drive']);
    expect(valueOf(results.signalPerToolRpm)).toEqual(exact(5, 2));
    expect(rangesOfSteps(grinder, results).map(({ range }) => valueOf(range)?.highest)).toEqual([2400, 1440]);
    // 35 m/s at 150 mm are 4456 rpm; without the drive's limit the tool's own 4200 bind, or the motor's 4500 / 1.5.
    const free = {
      ...grinder,
      settings: { ...grinder.settings, highestHertz: known(400) },
      step: { name: '', ratio: known(exact(1)) },
    };
    expect(value('highestBy', free)).toEqual(['tool']);
  });

  it('300 and 400 Hz spindles turn at 18 000 and 24 000 rpm (common practice)', () => {
    expect(value('highestToolSpeed', highFrequency(300, 300))).toBe(18000);
    expect(value('highestToolSpeed', highFrequency(400, 400))).toBe(24000);
    expect(value('saturatedCurrent', highFrequency(400, 400))).toBeUndefined();
    expect(value('saturatedCurrent', highFrequency(400, 50))).toBeGreaterThan(40);
  });

  it('says what is missing instead of counting with it, and recomputes only what an edit touches', () => {
    const empty = unknown('not filled in', '/x');
    const without = evaluateSpindle({ ...grinder, plate: { ...grinder.plate, hertz: empty } });
    expect(without.synchronousSpeed).toBe(empty);
    expect(without.totalInertia.state).toBe('known');
    for (const outcome of Object.values(without) as Outcome<unknown>[])
      expect(outcome.state === 'known' && Number.isNaN(outcome.value)).toBe(false);
    const edited = evaluateSpindle({ ...grinder, pulleyInertia: known(0.001) }, results);
    expect(edited.totalInertia).not.toBe(results.totalInertia);
    for (const symbol of ['synchronousSpeed', 'range', 'busLoadResult'] as const)
      expect(edited[symbol]).toBe(results[symbol]);
  });

  it('explains what no lost link would end', () => {
    const bus = grinder.bus;
    const because = (change: Partial<NonNullable<SpindleInput['bus']>>) => {
      const outcome = evaluateSpindle({ ...grinder, bus: bus && { ...bus, ...change } }).lostLinkTime;
      return outcome.state === 'unknown' ? outcome.because : outcome.value;
    };
    expect(because({ lostLink: 'goes on' })).toContain('the drive keeps running when its link is lost');
    expect(because({ timeOut: known(0) })).toContain('never notices');
    expect(because({ lostLink: 'coasts' })).toBeCloseTo(0.5 + (value('coastingTime') ?? 0), 9);
  });

  it('the coarser end makes the step of the tool', () => {
    const input = { ...grinder, command: ten };
    // 60 Hz over 1024 steps are 0.0586 Hz, 2.34 rpm of the tool; 4096 steps 0.586 rpm.
    expect(value('takerStep', input)).toBeCloseTo(60 / 1024 / 0.025, 9);
    expect(value('senderStep', input)).toBeCloseTo(60 / 4096 / 0.025, 9);
    expect(value('coarserEnd', input)).toEqual(['the drive']);
    expect(value('toolSpeedAtFullSignal', input)).toBe(2400);
    expect(number(evaluateSpindle(input).signalPerToolRpm)).toBeCloseTo(10 / 2400, 12);
  });
});

describe('the probe', () => {
  const commands: readonly SpindleCommand[] = [
    grinder.command,
    ten,
    {
      ...ten,
      signal: '4–20 mA',
      scale: known({ from: { signal: exact(4), value: exact(0) }, to: { signal: exact(20), value: exact(60) } }),
    },
    {
      kind: 'fieldBus',
      word: known({ counts: { kind: 'share', fullScale: 10000, hertz: 60 }, signed: true, bits: 16 }),
    },
  ];

  it('there and back is the same, exactly, from every station', () => {
    const station = fc.constantFrom(...spindleStationKinds.filter((kind) => kind !== 'word' && kind !== 'signal'));
    fc.assert(
      fc.property(fc.constantFrom(...commands), station, fc.integer({ min: 1, max: 2000 }), (command, at, typed) => {
        const input = { ...grinder, command };
        const own = evaluateSpindle(input);
        const first = probeSpindle(input, own, at, exact(typed));
        for (const kind of ['drive', 'motor', 'belt', 'tool'] as const) {
          const there = valueOf(first[kind]);
          const back = there && valueOf(probeSpindle(input, own, kind, there.value)[at]);
          expect(back && equals(back.value, exact(typed)), `${kind} → ${at}`).toBe(true);
        }
      }),
    );
  });

  it('the edge grinder by hand: 2000 rpm of the tool are 5000 counts, 50 Hz, 3000 rpm, 15.7 m/s', () => {
    const probe = probeSpindle(grinder, results, 'word', exact(2000));
    const at = (kind: 'signal' | 'drive' | 'motor' | 'belt' | 'tool') =>
      toNumber(valueOf(probe[kind])?.value ?? exact(-1));
    expect([at('signal'), at('drive'), at('motor'), at('belt')]).toEqual([5000, 50, 3000, 2000]);
    expect(at('tool')).toBeCloseTo((Math.PI * 0.15 * 2000) / 60, 9);
  });

  it('the word is rounded to whole counts on its way, and the tool turns as they say', () => {
    const probe = probeSpindle(grinder, results, 'word', exact(2001));
    // 2001 rpm are 5002.5 counts: 5003 are sent, 50.03 Hz, 2001.2 rpm.
    expect(toNumber(valueOf(probe.signal)?.value ?? exact(0))).toBe(5003);
    expect(toNumber(valueOf(probe.belt)?.value ?? exact(0))).toBeCloseTo(2001.2, 9);
    const tooMuch = probeSpindle(grinder, results, 'word', exact(30000));
    expect(tooMuch.signal).toMatchObject({ because: expect.stringContaining('it would read 9464') });
    expect(tooMuch.tool.state).toBe('unknown');
    expect(tooMuch.word.state).toBe('known');
  });

  it('fixed speeds: the nearest is picked, and a pattern stands for its speed', () => {
    const command: SpindleCommand = {
      kind: 'fixedSpeeds',
      speeds: [
        { pattern: '01', hertz: known(20) },
        { pattern: '10', hertz: known(40) },
        { pattern: '11', hertz: known(55) },
      ],
    };
    const input = { ...grinder, command };
    const own = evaluateSpindle(input);
    const probe = probeSpindle(input, own, 'word', exact(1900));
    expect(valueOf(probe.signal)?.text).toBe('10');
    expect(toNumber(valueOf(probe.belt)?.value ?? exact(0))).toBe(1600);
    const typed = valueOf(patternValue('11'));
    expect(typed && toNumber(valueOf(probeSpindle(input, own, 'signal', typed).belt)?.value ?? exact(0))).toBe(2200);
    expect(patternValue('12').state).toBe('unknown');
    expect(hertzOf(command, 2, exact(0))).toMatchObject({ because: expect.stringContaining('no speed is stored') });
    expect(own.signalPerToolRpm.state).toBe('unknown');
    expect(signalFor({ ...command, speeds: [] }, 2, exact(1))).toMatchObject({ path: '/command/speeds' });
  });

  it('without plate or belt it says which is missing, everywhere but where one types', () => {
    const blind = { ...grinder, step: { name: '', ratio: unknown('the ratio has not been entered') } };
    const probe = probeSpindle(blind, evaluateSpindle(blind), 'drive', exactRatio(rationalFromNumber(12.5)));
    expect(probe.drive.state).toBe('known');
    expect(probe.tool).toMatchObject({ because: 'the ratio has not been entered' });
  });
});
