import { describe, expect, it } from 'vitest';
import { axisWords, evaluateAxis, stationsOf, type AxisInput, type Stage } from '../chain/index.ts';
import { planMove } from '../motion/index.ts';
import { exact, formatNumber, rational } from '../quantity/index.ts';
import { known, unknown } from '../sheet/index.ts';
import { carriage, everything } from '../test/sampleAxis.ts';
import { findingsOf } from './index.ts';

const quantity = (value: number, template: string) => `${formatNumber(value, 5)} ${axisWords(template, carriage)}`;
const found = (changes: Partial<AxisInput>) => {
  const input = { ...carriage, ...changes };
  const results = evaluateAxis(input);
  return findingsOf({ input, results, stations: stationsOf(input, results), quantity });
};
const limits = { numeratorMax: 32767n, denominatorMax: 32767n, ratioMin: rational(1, 50), ratioMax: rational(200) };

describe('findings', () => {
  it('a sound axis has none that stops or warns', () => {
    expect(found({}).filter((f) => f.severity !== 'note')).toEqual([]);
  });

  it.each<[string, Partial<AxisInput>, string]>([
    ['controllerRateExceeded', { controllerPulseRate: known(100000) }, '150\u202f000 pulses/s'],
    ['driveRateExceeded', { driveInputRate: known(100000) }, 'at most 100\u202f000'],
    ['motorOverspeed', { wantedSpeed: known(6000) }, '3\u202f375 rpm'],
    ['gearOutsideLimits', { gearLimits: known({ ...limits, ratioMax: rational(50) }) }, 'between 1/50 and 50'],
    [
      'gearOutsideLimits',
      { gearNumerator: known(exact(40000)), gearLimits: known(limits) },
      'numerator may be at most 32767',
    ],
    [
      'endlessNotExact',
      { endless: true, gearNumerator: known(exact(98)), gearDenominator: known(exact(1)) },
      'without bound',
    ],
    ['ratioInexact', { gearNumerator: known(exact(98)), gearDenominator: known(exact(1)) }, '5.721 mm'],
    // 99/98.304 gives 0.7 % more counts a pulse, by hand 7080 ppm.
    ['ratioInexact', { gearNumerator: known(exact(99)), gearDenominator: known(exact(1)) }, '7\u202f080.1 ppm more'],
    [
      'ratioInexact',
      { gearNumerator: known(exact(98)), gearDenominator: known(exact(1)) },
      'gives 3\u202f092.4 ppm less',
    ],
    ['counterWraps', { endless: true }, '2\u202f048 motor turns, 40.96 s'],
    ['counterWraps', { counterBits: known(24) }, '8 motor turns'],
    ['coarseCommand', { gearNumerator: known(exact(245760)) }, 'counts'],
    ['resolutionTooCoarse', { gearNumerator: known(exact(24576)) }, '0.02 mm, coarser than the 0.01'],
    ['encoderTooCoarse', { encoderCycles: known(exact(1000)) }, 'One encoder count'],
    ['plusMovesMinus', { commandInverted: true }, 'minus end'],
    ['highInertiaRatio', { movedMass: known(400) }, 'times the motor’s own'],
    ['peakTorqueExceeded', { peakTorque: known(1) }, 'peak is 1 N·m'],
    ['rmsTorqueExceeded', { ratedTorque: known(0.1) }, 'rated for 0.1 N·m'],
    [
      'testMoveTooFast',
      { testMove: known(planMove(1800, { speed: 2500, acceleration: 20000 })) },
      'controller pulse rate',
    ],
  ])('%s', (id, changes, words) => {
    const finding = found(changes).find((f) => f.id === id);
    expect(finding?.message).toContain(words);
    expect(finding?.path).toMatch(/^\//);
    expect(finding?.remedy.length).toBeGreaterThan(10);
  });

  const signal = (changes: Partial<AxisInput['signal']>): Partial<AxisInput> => ({
    signal: { ...carriage.signal, ...changes },
  });
  const protection = (changes: Partial<AxisInput['protection']>): Partial<AxisInput> => ({
    protection: { ...carriage.protection, ...changes },
  });
  const pair = (changes: Partial<NonNullable<AxisInput['pair']>>): Partial<AxisInput> => ({
    pair: { ...(everything.pair as NonNullable<AxisInput['pair']>), ...changes },
  });
  const dc = (changes: Partial<AxisInput['supply']>): Partial<AxisInput> => ({
    supply: { ...everything.supply, ...changes },
  });
  const train = {
    pulses: 1000,
    rate: 30000,
    repeatPeriod: undefined,
    speedLimit: 1200,
    acceleration: 4000,
    smoothing: 0,
  };
  const optocoupler = { ...carriage.signal.circuit, inputKind: 'optocoupler' as const };

  it.each<[string, 'stop' | 'warn' | 'note', Partial<AxisInput>, string]>([
    ['formsDiffer', 'stop', signal({ driveForm: 'clockwisePulses' }), 'a minus command moves it the wrong way'],
    ['pulseEdgesDiffer', 'warn', signal({ driveActive: 'low' }), 'counted at its'],
    ['pulseTooShort', 'stop', signal({ sent: { pulseWidth: 5e-8, directionSetUp: 1 } }), '0.05 µs'],
    [
      'directionTooLate',
      'warn',
      signal({ sent: { pulseWidth: undefined, directionSetUp: 1e-6 } }),
      'The direction changes 1 µs before the',
    ],
    // 150 000 pulses/s against 1 / (10 µs + 0.1 µs)
    ['widthLimitsRate', 'stop', signal({ sent: { pulseWidth: 1e-5, directionSetUp: 1 } }), '99\u202f010'],
    ['lineRuinous', 'stop', signal({ circuit: { ...optocoupler, outputVoltage: known(24) } }), 'is 103 mA'],
    [
      'lineTooWeak',
      'stop',
      signal({ circuit: { ...optocoupler, cableResistance: 2000 } }),
      'the one in the cable adds to it',
    ],
    ['lineDoesNotFit', 'stop', signal({ circuit: { ...carriage.signal.circuit, output: 'push-pull' } }), 'only one'],
    ['outputIsMissing', 'stop', signal({ outputs: ['push-pull'] }), 'it has: push-pull'],
    ['differentialAdvised', 'note', signal({ electrical: 'singleEnded' }), 'Both ends have differential'],
    ['referenceMissing', 'warn', signal({ commonReference: false }), 'float'],
    ['cableTooLong', 'warn', signal({ electrical: 'singleEnded', cableLength: 8 }), '8 m'],
    ['lineNotTerminated', 'note', signal({ cableLength: 25 }), '25 m without termination'],
    ['cableNotShielded', 'warn', signal({ shield: 'none' }), 'no shield'],
    [
      'enableInverted',
      'stop',
      protection({ enable: { isWired: true, controllerLevel: 'low', driveLevel: 'high' } }),
      'Enable is inverted: the drive is enabled',
    ],
    [
      'enabledWithoutSignal',
      'stop',
      protection({ enable: { isWired: true, controllerLevel: 'low', driveLevel: 'low' } }),
      'broken wire',
    ],
    [
      'alarmUnseen',
      'stop',
      protection({ alarm: { contact: 'normallyClosed', joined: 'parallel', drives: 2 } }),
      'the alarm of another is not seen',
    ],
    [
      'alarmWireUnseen',
      'warn',
      protection({ alarm: { contact: 'normallyOpen', joined: 'alone', drives: 1 } }),
      'healthy',
    ],
    [
      'alarmNotIdentified',
      'note',
      protection({ alarm: { contact: 'normallyClosed', joined: 'series', drives: 3 } }),
      'cannot tell which drive',
    ],
    [
      'limitsInverted',
      'stop',
      protection({ limits: { contact: 'normallyClosed', activeLevel: 'high', plusInputAt: 'plus' } }),
      'while the axis is',
    ],
    [
      'limitWireUnseen',
      'warn',
      protection({ limits: { contact: 'normallyOpen', activeLevel: 'high', plusInputAt: 'plus' } }),
      'The limit switches are normally open: a',
    ],
    [
      'limitAtWrongEnd',
      'stop',
      protection({ limits: { contact: 'normallyClosed', activeLevel: 'low', plusInputAt: 'minus' } }),
      'runs past',
    ],
    // Counts that run the other way make the other switch the right one.
    ['limitAtWrongEnd', 'stop', { plusIsClockwise: true }, 'to the minus end'],
    [
      'limitNotSettled',
      'note',
      protection({ limits: { contact: 'normallyClosed', activeLevel: 'low', plusInputAt: 'not settled' } }),
      'belongs at the plus end',
    ],
    [
      'brakeNotSettled',
      'warn',
      { incline: known(90), brake: { drivenBy: 'not settled', torque: unknown('?') } },
      'no holding brake',
    ],
    ['noBrake', 'warn', { incline: known(90) }, 'gravity moves it'],
    ['brakeTooWeak', 'stop', { incline: known(90), brake: { drivenBy: 'drive', torque: known(0.1) } }, 'holds 0.1'],
    ['torqueOffBridged', 'warn', protection({ safeTorqueOff: 'bridged' }), 'contactor'],
    ['torqueOffOneChannel', 'warn', protection({ safeTorqueOff: 'one channel' }), 'single fault'],
    ['pairFights', 'stop', pair({ secondIsClockwise: false }), 'same rotation sense'],
    ['pairFights', 'stop', pair({ mirrored: false }), 'opposite rotation senses'],
    ['pairTripsAlone', 'stop', pair({ commonTrip: false }), 'When one of the two motors trips'],
    ['pairNotSquared', 'warn', pair({ squaring: 'none' }), 'The two sides are not squared at'],
    ['pairSkewUnseen', 'warn', pair({ skewLimit: known(20) }), 'of 20 mm'],
    [
      'stageTooFast',
      'stop',
      { stages: carriage.stages.map((stage) => ({ ...stage, speedLimit: 200 })) },
      '355.56 mm/s',
    ],
    [
      'backlashSeen',
      'warn',
      { stages: carriage.stages.map((stage) => ({ ...stage, backlash: known(0.2) })) },
      'adds up',
    ],
    // 1000 pulses at 100 a mm are 10 mm: √(4000 · 10) · 100 = 20 000 pulses/s
    ['trainStarves', 'warn', { train: known({ ...train, rate: 10000 }) }, 'to 20\u202f000. The'],
    ['trainTooFast', 'stop', { train: known({ ...train, rate: 300000 }) }, 'allow 200\u202f000. Pulses'],
    ['trainTooSoon', 'warn', { train: known({ ...train, repeatPeriod: 0.05 }) }, 'takes 0.1 s'],
    // 1500 mm/s · 0.15 / 40 = 5.625 mm
    ['lagTrips', 'stop', { followingErrorWindow: known(5) }, 'of 5.625 mm'],
    ['lagNearAlarm', 'warn', { followingErrorWindow: known(8) }, '70.3 %'],
    // 1000 · (12 V − 0.4 Ω · 10 A) / 20 V are 400 rpm: 400 / 60 / 3 · 320 mm/s
    ['supplyLimitsSpeed', 'stop', dc({ voltage: known(12) }), 'the motor reaches 711.11 mm/s'],
    [
      'trainTooHard',
      'stop',
      { train: known({ ...train, acceleration: 1e6, pulses: 1e5 }) },
      'the motor’s peak is 7.16 N·m',
    ],
    ['trainOverheats', 'warn', { train: known({ ...train, acceleration: 20000 }) }, 'rated for 2.39'],
    [
      'trainLimitTooHigh',
      'warn',
      { train: known({ ...train, speedLimit: 9000 }) },
      'mechanics allow 5\u202f333.3 mm/s',
    ],
    ['supplyOutOfRange', 'stop', dc({ voltage: known(110) }), 'is 110 V'],
    ['supplyTooWeak', 'warn', dc({ otherCurrent: known(60) }), 'With all axes at peak the current'],
    ['supplyCannotTakeBack', 'stop', dc({ capacitance: known(0.001) }), 'raises the supply'],
    ['supplyCannotTakeBack', 'note', dc({ capacitance: unknown('?') }), 'depends on the capacitors'],
    [
      'supplyPolarity',
      'note',
      dc({ reversePolaritySafe: false }),
      'The drive has no reverse-polarity protection: swapping',
    ],
    ['ratioNotKeyable', 'stop', { ratioForm: 'pulses per revolution' }, 'whole pulses'],
    ['ratioNotKeyable', 'stop', { ratioForm: 'switch table' }, 'no position'],
    [
      'tooManyGearSets',
      'stop',
      { gearSets: [{ numerator: known(exact(1)), denominator: known(exact(1)) }] },
      'between 1',
    ],
    [
      'gearSwitchedInMotion',
      'stop',
      {
        gearSets: [{ numerator: known(exact(1)), denominator: known(exact(1)) }],
        gearSetsMax: 2,
        gearSwitchedInMotion: true,
      },
      'speed would jump',
    ],
  ])('%s (%s)', (id, severity, changes, words) => {
    expect(found({}).map((finding) => finding.id)).not.toContain(id);
    const finding = found(changes).find((each) => each.id === id);
    expect(finding).toMatchObject({ severity, message: expect.stringContaining(words) });
    expect(finding?.path).toMatch(/^\//);
    expect(finding?.remedy.length).toBeGreaterThan(10);
  });

  it('a screw that would whirl, and a belt that gives, are found with their numbers', () => {
    const screw: Stage = {
      ...(carriage.stages[0] as Stage),
      kind: 'screw',
      thread: 'rolling',
      lead: known(exact(20)),
      starts: known(exact(1)),
      leftHand: false,
      rootDiameter: known(13),
      freeLength: known(1400),
      bearings: 'supported at both',
    };
    const whirls = found({ stages: [screw] }).find(({ id }) => id === 'screwWhirls');
    expect(whirls?.message).toMatch(/critical speed of the screw in stage 1 is 80\d/);
    const belt = found({ stages: everything.stages }).find(({ id }) => id === 'beltStretches');
    expect(belt?.message).toContain('0.07315 mm');
  });

  it('lists what stops first, and is silent where numbers are unknown', () => {
    const list = found({ wantedSpeed: known(9000) });
    expect(list[0]?.severity).toBe('stop');
    expect(found({ gearNumerator: unknown('empty') }).map((f) => f.id)).not.toContain('ratioInexact');
  });
});
