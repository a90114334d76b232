import { describe, expect, it } from 'vitest';
import { axisWords, evaluateAxis, stationsOf, type AxisInput, type ScaledCommand } from '../chain/index.ts';
import { exact, formatNumber } from '../quantity/index.ts';
import { known, unknown } from '../sheet/index.ts';
import { rangeOf, type ChoiceInputs } from '../signal/index.ts';
import { carriage } from '../test/sampleAxis.ts';
import {
  analogSpeed,
  dutyPulses,
  dutySpeed,
  hostLoop,
  threePlaces,
  turntable,
  withCommand,
} from '../test/sampleCommands.ts';
import { findingsOf } from './index.ts';

const found = (input: AxisInput) => {
  const results = evaluateAxis(input);
  const quantity = (value: number, template: string) => `${formatNumber(value, 5)} ${axisWords(template, input)}`;
  return findingsOf({ input, results, stations: stationsOf(input, results), quantity });
};
/** Fine enough, and no faster than the motor. */
const sound: ScaledCommand = { ...analogSpeed, controllerSteps: known(65536), driveSteps: known(65536) };
const scaled = (changes: Partial<ScaledCommand>, axis: Partial<AxisInput> = {}) =>
  withCommand({ ...sound, ...changes }, { ...carriage, ...axis });
const duty = (changes: Partial<ScaledCommand>) =>
  withCommand({ ...dutySpeed, ...changes }, { ...carriage, motionKind: 'dosing' });
const pulses = (changes: Partial<typeof dutyPulses>) => duty({ pulses: { ...dutyPulses, ...changes } });
const loop = (changes: Partial<typeof hostLoop>, axis: Partial<AxisInput> = {}) => ({
  ...turntable,
  ...axis,
  command: { ...sound, hostLoop: { ...hostLoop, ...changes } },
});
const choice = (changes: Partial<ChoiceInputs>, storedMoves?: number): AxisInput =>
  withCommand({ kind: 'choice', choice: { ...threePlaces, ...changes }, storedMoves });
const firstMove = (changes: Partial<ChoiceInputs['moves'][number]>) =>
  choice({ moves: threePlaces.moves.map((move, k) => (k === 0 ? { ...move, ...changes } : move)) });
const pot = (resistance: number, inputResistance: number) =>
  scaled({
    range: rangeOf('potentiometer', 10),
    fromSignal: known(exact(5)),
    standing: known(exact(5)),
    faultDetected: true,
    potentiometer: known({ resistance, deadEnd: 0.03, referenceVoltage: 10, referenceCurrent: 0.005, inputResistance }),
  });

describe('findings of signals and inputs', () => {
  it('sound axes of every kind have none that stops or warns', () => {
    const grave = (input: AxisInput) => found(input).filter(({ severity }) => severity !== 'note');
    expect(grave(scaled({}))).toEqual([]);
    expect(grave({ ...turntable, endless: false, command: { ...sound, hostLoop } })).toEqual([]);
    expect(grave(choice({ homing: 'never', moves: [] }))).toEqual([]);
    // A potentiometer with its zero in the middle has no break that could be told from a command.
    expect(grave(pot(5000, 1000000)).map(({ id }) => id)).toEqual(['brokenWireMoves', 'brokenReferenceMoves']);
  });

  it.each<[string, 'stop' | 'warn' | 'note', AxisInput, string]>([
    // 2 V are 600 rpm, 10/3 turns of 320 mm a second
    ['setPointAtEnable', 'stop', scaled({ standing: known(exact(2)) }), '600 rpm, 1\u202f066.7 mm/s'],
    ['setPointNotSettled', 'warn', scaled({ standing: unknown('?') }), 'It is not known which set-point is'],
    ['setPointAtEnable', 'stop', scaled({ meaning: 'position', toValue: known(exact(1000)) }), 'goes to 0 mm'],
    [
      'setPointAtEnable',
      'stop',
      choice({ edges: [], patternAtEnable: '11' }),
      'Pattern 11, at which the axis goes to 1\u202f000 mm',
    ],
    [
      'brokenWireMoves',
      'stop',
      scaled({ range: rangeOf('0–10 V', 10), fromSignal: known(exact(5)), standing: known(exact(5)) }),
      'with the signal wire broken, at 0 V, it runs at -3\u202f000 rpm',
    ],
    [
      'liveZeroUnwatched',
      'warn',
      scaled({ range: rangeOf('4–20 mA', 10), fromSignal: known(exact(4)), toSignal: known(exact(20)) }),
      'below 3.6 mA or above 21 mA',
    ],
    ['brokenWireMoves', 'stop', duty({ faultDetected: false }), 'at 100 %, it runs at 3\u202f166.7 rpm'],
    // 0 % lies on the scale: a line that rests low cannot be told from it, whatever the drive watches.
    [
      'brokenWireMoves',
      'stop',
      duty({
        pulses: { ...dutyPulses, directions: 'both' },
        fromSignal: known(exact(0)),
        fromValue: known(exact(-3000)),
      }),
      'cannot distinguish this break from a command: with the line stuck low, at 0 %, it runs at -3\u202f000 rpm',
    ],
    ['brokenWireMoves', 'stop', scaled({ creep: known(30) }), 'with the signal wire broken, at 0 V, it runs at 30 rpm'],
    ['brokenReferenceMoves', 'note', scaled({}), 'with the 0 V wire broken and the input drifting down, at -10 V'],
    ['brokenReferenceMoves', 'warn', pot(10000, 1000000), '0 V end of the potentiometer broken, at 10 V'],
    ['pointOutsideRange', 'stop', scaled({ range: rangeOf('0–5 V', 10) }), 'from 0 to 5 V'],
    ['scaleFlat', 'stop', scaled({ toSignal: known(exact(0)) }), 'have the same signal'],
    ['scaleFlat', 'stop', scaled({ toValue: known(exact(0)) }), 'have the same value'],
    ['fullCommandOverspeed', 'warn', scaled({ toValue: known(exact(4000)) }), '4\u202f000 rpm'],
    ['commandTooSlow', 'stop', scaled({ toValue: known(exact(500)) }), '888.89 mm/s'],
    ['oneWayOnly', 'warn', scaled({ range: rangeOf('0–10 V', 10) }), 'one direction only'],
    ['coarseSteps', 'note', scaled({ controllerSteps: known(256) }), 'the controller limits it'],
    [
      'coarseSteps',
      'warn',
      scaled({ meaning: 'position', toValue: known(exact(1000)), controllerSteps: known(1000) }),
      '2 mm, coarser than the 0.01 mm',
    ],
    ['creeps', 'warn', scaled({ creep: known(3), trimStep: known(0.001) }), 'offset of -0.01 V, -10 steps'],
    ['referenceOverloaded', 'stop', pot(1000, 1000000), '10.01 mA'],
    ['potentiometerSags', 'note', pot(10000, 20000), 'range. 94 %'],
    // 10 V · 0.5 / (1 + 0.25 · 10 / 200) = 4.938 V at mid-turn
    ['potentiometerSags', 'note', pot(10000, 200000), 'is 4.938 V instead of 5 V'],
    ['inputServesTwo', 'stop', pulses({ sharedWith: 'a home switch' }), 'The PWM input terminal is also assigned'],
    ['rawScaleOff', 'warn', pulses({ numeratorMax: known(exact(3)), denominatorMax: known(exact(1)) }), 'off by'],
    ['commandIsOff', 'note', scaled({ switchedOn: false }), 'The command is planned as switched off'],
    ['analogNotShielded', 'warn', { ...scaled({}), signal: { ...carriage.signal, shield: 'none' } }, 'no shield'],
    [
      'referenceMissing',
      'warn',
      { ...scaled({}), signal: { ...carriage.signal, commonReference: false } },
      'no reference',
    ],
    ['feedbackBackwards', 'stop', loop({ feedbackInverted: true }), 'comes to rest after 32 deg'],
    ['errorUnwatched', 'stop', loop({ errorLimit: unknown('empty') }), 'nothing stops the axis'],
    ['runawayHitsEnd', 'warn', loop({}, { endless: false, travel: known(exact(60)) }), 'only 30 deg'],
    ['encoderTooFast', 'stop', loop({ inputRate: known(50000) }), '102\u202f400 pulses/s'],
    ['outputFinerThanEncoder', 'stop', loop({ outputPulses: known(exact(500000)) }), 'cannot give more counts'],
    ['dividerNotWhole', 'note', loop({ outputPulses: known(exact(2500)) }), '104.9 encoder counts'],
    ['loopRings', 'warn', loop({ gain: known(120) }), 'is only 0.6'],
    ['loopRings', 'stop', loop({ gain: known(150), period: known(0.005) }), 'and rings'],
    ['stepHoldsError', 'note', loop({ gain: known(0.1), errorLimit: known(8) }), 'error: at rest'],
    ['deadbandInLoop', 'warn', { ...turntable, command: { ...sound, deadband: 0.02, hostLoop } }, 'below 6 rpm'],
    // 90°/s over 30/s are 3°
    ['lagTrips', 'stop', loop({ errorLimit: known(2) }), 'of 3 deg'],
    ['homesAtEnable', 'warn', choice({}), 'At the first enable the axis starts homing'],
    ['passesThroughMoves', 'warn', choice({ edges: [] }), 'from 00 to 11 the drive may read 10, and'],
    ['patternWrong', 'stop', firstMove({ pattern: '2' }), 'the 2 inputs'],
    ['patternTwice', 'stop', firstMove({ pattern: '01' }), 'picks two moves'],
    ['moveIncomplete', 'warn', firstMove({ target: undefined }), 'Missing: target'],
    [
      'moveIncomplete',
      'warn',
      firstMove({ kind: 'move until torque', torqueLimit: undefined }),
      'Missing: torque limit',
    ],
    ['moveOutside', 'stop', firstMove({ target: 2000 }), 'goes to 2\u202f000 mm'],
    ['moveTooFast', 'stop', firstMove({ speed: 9000 }), 'runs at 9\u202f000 mm/s'],
    // Twice the travel of 1850 mm, with no soft limits set.
    [
      'moveOutside',
      'stop',
      { ...firstMove({ target: 3700 }), minusSoftLimit: undefined, plusSoftLimit: undefined },
      'the travel of 1\u202f850 mm',
    ],
    ['moveOutside', 'stop', firstMove({ kind: 'distance', target: -1900 }), 'goes -1\u202f900 mm'],
    ['moveSpeedWrong', 'stop', firstMove({ speed: -5 }), 'speed of -5 mm/s'],
    ['moveSpeedWrong', 'stop', firstMove({ kind: 'speed', speed: 0 }), 'speed of 0 mm/s'],
    ['moveTooHard', 'stop', firstMove({ acceleration: 1e6, torqueLimit: undefined }), 'acceleration; 299.6 %'],
    ['moveTooHard', 'stop', firstMove({ deceleration: 1e6 }), 'deceleration; 60 %'],
    ['moveTorqueAbovePeak', 'warn', firstMove({ torqueLimit: 310 }), 'peak is 299.6 %'],
    ['moveWindowTooSmall', 'stop', firstMove({ window: 1e-6 }), 'less than one encoder count'],
    [
      'moveFencesCrossed',
      'stop',
      firstMove({ kind: 'fenced jog', fence: 50, target: 10 }),
      'lies at or beyond its far fence',
    ],
    ['followScaleMissing', 'warn', firstMove({ kind: 'follow analog' }), 'its scale has not been entered'],
    [
      'followScaleFlat',
      'stop',
      firstMove({ kind: 'follow analog', scale: { signalFrom: 2, valueFrom: 0, signalTo: 2, valueTo: 100 } }),
      'have the same signal',
    ],
    ['followUnarmed', 'warn', firstMove({ kind: 'follow analog' }), 'the analog signal at once'],
    [
      'edgeWithoutInput',
      'stop',
      choice({ edges: [{ input: '', edge: 'rising', action: 'stop' }] }),
      'No input is assigned to the rising',
    ],
    ['nothingNotKnown', 'warn', choice({ edges: [], nothing: 'not known' }), 'whether the axis stops'],
    ['tooManyMoves', 'stop', choice({}, 2), '3 moves are planned; the drive stores 2'],
    ['movesBeforeHome', 'warn', choice({ homing: 'never' }), 'nothing homes the axis'],
    [
      'edgeInPattern',
      'warn',
      choice({ edges: [{ input: 'A', edge: 'falling', action: 'stop' }] }),
      'A is part of the pattern, and',
    ],
    ['patternBeforeEdge', 'note', choice({}), '4 ms before S starts'],
    ['torqueTooLow', 'warn', choice({ torqueLimits: [{ pattern: '0', limit: 5 }] }), 'of 5 %'],
  ])('%s (%s)', (id, severity, axis, words) => {
    const finding = found(axis).find((each) => each.id === id);
    expect(finding).toMatchObject({ severity, message: expect.stringContaining(words) });
    expect(finding?.path).toMatch(/^\//);
    expect(finding?.remedy.length).toBeGreaterThan(10);
  });

  it('a drive for one direction takes what lies beyond zero for zero', () => {
    const moves = found(duty({ faultDetected: false })).find(({ id }) => id === 'brokenWireMoves');
    expect(moves?.message).not.toContain('at 0 %');
    expect(found(duty({ standing: known(exact(2)) })).map(({ id }) => id)).not.toContain('setPointAtEnable');
  });

  it('nothing is said of pulses where none come', () => {
    const odd: Partial<AxisInput> = {
      gearNumerator: known(exact(10n ** 15n)),
      signal: { ...carriage.signal, driveForm: 'quadrature' },
    };
    const ids = found(scaled({}, odd)).map(({ id }) => id);
    expect(ids).not.toContain('gearOutsideLimits');
    expect(ids).not.toContain('formsDiffer');
  });
});
