import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { threePlaces } from '../test/sampleCommands.ts';
import {
  between,
  firstEnable,
  mayChange,
  passingMoves,
  patternsOf,
  settlingTime,
  truthTable,
  untoldChanges,
  type ChoiceInputs,
} from './index.ts';

const direct: ChoiceInputs = { ...threePlaces, edges: [] };

describe('inputs that pick moves', () => {
  it('have a truth table without holes', () => {
    expect(patternsOf(2)).toEqual(['00', '10', '01', '11']);
    expect(truthTable(direct).map(({ kind, name }) => [kind, name])).toEqual([
      ['nothing', ''],
      ['position', 'near'],
      ['position', 'middle'],
      ['position', 'far'],
    ]);
  });

  it('pass through every mixture of two patterns but those two', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 6 }), fc.nat(), fc.nat(), (inputs, a, b) => {
        const all = patternsOf(inputs);
        const [from, to] = [all[a % all.length] as string, all[b % all.length] as string];
        const changing = [...from].filter((level, k) => level !== to[k]).length;
        const passed = between(from, to);
        expect(passed).toHaveLength(Math.max(0, 2 ** changing - 2));
        expect(new Set([...passed, from, to]).size).toBe(passed.length + (from === to ? 1 : 2));
        for (const pattern of passed)
          expect([...pattern].every((level, k) => level === from[k] || level === to[k])).toBe(true);
      }),
    );
  });

  it('from near to middle the far one, or nothing, may be seen on the way', () => {
    expect(passingMoves(direct).map(({ from, to, through }) => `${from} ${to} ${through.pattern}`)).toEqual([
      // From rest, with all inputs off, to both on.
      '00 11 10',
      '00 11 01',
      '10 01 11',
      '01 10 11',
      '11 00 01',
      '11 00 10',
    ]);
    // Standing still for longer than the inputs take to change, or looked at after they have settled.
    expect(passingMoves({ ...direct, minimumInputDuration: 0.005 })).toEqual([]);
    expect(passingMoves({ ...direct, startDelay: 0.005 })).toEqual([]);
    expect(passingMoves({ ...direct, minimumInputDuration: 0.003 })).toHaveLength(6);
    expect(passingMoves({ ...direct, skew: 0 })).toEqual([]);
    expect(passingMoves(threePlaces)).toEqual([]);
  });

  it('settle by hand: 4 ms of change and 8 ms of standing still are 12 ms', () => {
    const settles = (minimumInputDuration: number, startDelay: number) =>
      settlingTime({ minimumInputDuration, startDelay, skew: 0.004 });
    expect(settles(0.008, 0)).toBeCloseTo(0.012, 12);
    expect(settles(0, 0.008)).toBe(0.008);
    expect(settles(0, 0)).toBe(0.004);
    expect(settles(0.008, 0.02)).toBe(0.02);
  });

  it('tell what the first enable does', () => {
    const far = truthTable(direct)[3];
    expect(firstEnable({ ...direct, patternAtEnable: '11' })).toEqual(['home', far]);
    expect(firstEnable({ ...direct, patternAtEnable: '11', homing: 'never' })).toEqual([far]);
    expect(firstEnable({ ...threePlaces, patternAtEnable: '11', homing: 'never' })).toEqual([]);
    expect(firstEnable({ ...direct, homing: 'at every enable' })).toEqual(['home']);
  });
});

describe('a change that may move the axis', () => {
  it('is refused in every case but two: disabled, or enabling with nothing waiting', () => {
    const verdicts = untoldChanges.flatMap((change) =>
      [false, true].flatMap((isEnabled) =>
        ['none', '2 V', undefined].map((setPoint) => ({
          change,
          isEnabled,
          setPoint,
          may: mayChange(change, { isEnabled, setPoint, isMoving: false }).may,
        })),
      ),
    );
    for (const { change, isEnabled, setPoint, may } of verdicts)
      expect(may, `${change} ${isEnabled} ${setPoint}`).toBe(change === 'enable' ? setPoint === 'none' : !isEnabled);
  });

  it('says what the axis would do', () => {
    const because = (change: 'enable' | 'gear' | 'mode', setPoint: string | undefined) => {
      const verdict = mayChange(change, { isEnabled: change !== 'enable', setPoint, isMoving: true });
      return verdict.may ? '' : verdict.because;
    };
    expect(because('enable', '2 V')).toContain('2 V is present at the drive: the axis would move as soon as');
    expect(because('enable', undefined)).toContain('not known which set-point');
    expect(because('gear', 'none')).toContain('its speed would jump');
    expect(because('mode', 'none')).toContain('already present at the new mode');
  });
});
