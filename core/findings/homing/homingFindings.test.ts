import { describe, expect, it } from 'vitest';
import { homingMethodFacts, longestHoming, type HomingDefinition, type HomingMethod } from '../../homing/index.ts';
import { exact } from '../../quantity/index.ts';
import { homingFindingsOf } from './homingFindingsOf.ts';
import type { AbsoluteEncoder, CheckedHoming } from './checkedHoming.ts';

const definition: HomingDefinition = {
  method: 17,
  searchSpeed: 100,
  creepSpeed: 5,
  acceleration: 500,
  positionAtHome: 0,
};
const world = { minusEdge: 0, plusEdge: 200, minusStop: -30, plusStop: 230, indexSpacing: 10, scanPeriod: 0.001 };

function found(
  method: HomingMethod,
  more: Partial<CheckedHoming> = {},
  changed: Partial<HomingDefinition> = {},
): readonly string[] {
  const d = { ...definition, method, ...changed };
  const w = { ...world, ...more.world };
  const checked: CheckedHoming = {
    by: 'drive',
    facts: homingMethodFacts(method),
    definition: d,
    indexAt: undefined,
    longest: longestHoming(d, w),
    travel: 200,
    isEndless: false,
    isSuspended: false,
    softLimits: { minus: null, plus: null },
    neededTorque: 20,
    torqueLimit: 100,
    countsPerTurn: 4000,
    pair: undefined,
    homeContact: 'normallyClosed',
    plusInputAt: 'plus',
    absolute: undefined,
    drive: undefined,
    quantity: (value, template) => `${value} ${template}`,
    ...more,
    world: w,
  };
  return homingFindingsOf(checked).map(({ id, severity }) => `${id} ${severity}`);
}
const square = (squaringOffset: number | undefined) => ({ squaring: 'two home switches', squaringOffset }) as const;
const encoder = (more: Partial<AbsoluteEncoder> = {}): AbsoluteEncoder => ({
  ...{ turns: 4096, lowest: 0, turnsAtHome: undefined, hasBattery: false, loadTurns: undefined },
  ...more,
});
const twoFlags = { world: { ...world, homeSwitch: { from: 60, to: 75, secondFrom: 120 } } };
const noLimits = {
  ...{ homeSwitch: { from: 60, to: 75 }, indexSpacing: 10, scanPeriod: 0.001, minusStop: -30, plusStop: 230 },
  ...{ minusEdge: undefined, plusEdge: undefined },
} as never;
const endless = {
  ...{ indexSpacing: 10, scanPeriod: 0.001 },
  ...{ minusEdge: undefined, plusEdge: undefined, minusStop: undefined, plusStop: undefined },
} as never;
const flag = (to: number) => ({ world: { ...world, homeSwitch: { from: 60, to } } });

describe('findings of a homing', () => {
  it.each<readonly [string, readonly string[], string | undefined]>([
    ['a sound one has none that stops', found(1, { indexAt: 5 }), undefined],
    // 100²/(2·500) and the scan: 10.1 to stop, 5²/1000 from creep speed.
    [
      'a stop nearer than the stopping distance',
      found(17, { world: { ...world, minusStop: -9 } }),
      'limitRoomShort stop',
    ],
    [
      'a stop of which nobody knows',
      found(17, { world: { minusEdge: 0, plusEdge: 200, indexSpacing: 10, scanPeriod: 0.001 } as never }),
      undefined,
    ],
    ['a flag that is overrun', found(23, flag(69)), 'homeSwitchShort note'],
    ['a flag that creep speed overruns', found(23, flag(60.02)), 'homeSwitchShort stop'],
    ['a flag that is long enough', found(23, flag(75)), undefined],
    ['a pulse next to the edge', found(1, { indexAt: 0.5 }), 'indexNearEdge warn'],
    ['a pulse a whole turn away', found(1, { indexAt: 9.5 }), 'indexNearEdge warn'],
    ['a delay at creep speed', found(17), 'edgeSeenLate note'],
    [
      'a pulse too short for a controller',
      found(1, { by: 'controller', countsPerTurn: 100000 }),
      'indexPulseShort warn',
    ],
    ['a method that fails', found('minusStop'), 'homingFails stop'],
    ['limits of an endless axis', found(17, { isEndless: true }), 'endlessOnLimit stop'],
    ['an index pulse that comes twenty times', found(33), 'indexAmbiguous warn'],
    ['a load searched downwards', found(17, { isSuspended: true }), 'homesDownwards warn'],
    ['too little torque', found(17, { torqueLimit: 15 }), 'homingTorqueLow stop'],
    ['a stop pressed hard', found('plusStop', { world: { ...world, plusStop: 190 } }), 'stopPushedHard warn'],
    [
      'a rest outside the soft limits',
      found(17, { softLimits: { minus: 5, plus: 190 } }),
      'restsOutsideSoftLimits warn',
    ],
    ['a pair homed by its drives', found(17, { pair: square(0) }), 'pairHomedBySide stop'],
    ['a square pair of which nobody knows', found(17, { pair: square(undefined) }), 'squaringOffsetUnknown warn'],
    [
      'a home switch whose broken wire is not seen',
      found(23, { ...flag(75), homeContact: 'normallyOpen' }),
      'homeSwitchOpen warn',
    ],
    ['limits wired the other way', found(17, { plusInputAt: 'minus' }), 'homingLimitsDisagree stop'],
    // Towards plus from between the flags it meets the second.
    ['two flags', found(23, twoFlags), 'twoFlags stop'],
    ['a start beyond the flag', found(23, flag(75)), 'starts-beyond note'],
    ['a start beyond the flag and no limits', found(23, { world: noLimits }), 'starts-beyond warn'],
    ['an absolute encoder', found(17, { absolute: encoder() }), 'absoluteHomedOnce note'],
    ['its battery', found(17, { absolute: encoder({ hasBattery: true }) }), 'absoluteBattery note'],
    // 200 of travel are 20 turns of 10.
    ['its turns', found(17, { absolute: encoder({ turns: 20 }) }), 'absoluteRangeShort stop'],
    ['its turns, clear of both ends', found(17, { absolute: encoder({ turns: 64, turnsAtHome: 30 }) }), undefined],
    ['its place, not known', found(17, { absolute: encoder({ turns: 32 }) }), 'absoluteRolloverUnknown warn'],
    // Home is at 0; 20 turns towards plus, or −20 where the turns count against plus: both pass an end of 0 to 31.
    ['its roll-over', found(17, { absolute: encoder({ turns: 32, turnsAtHome: 15 }) }), 'absoluteRollover stop'],
    ['its roll-over one way', found(17, { absolute: encoder({ turns: 32, turnsAtHome: 5 }) }), 'absoluteRollover warn'],
    // 4096 turns through a gear of 5 are 819.2 turns of the table.
    [
      'an endless axis whose turns do not come out even',
      found(33, { isEndless: true, absolute: encoder({ loadTurns: exact(4096, 5n) }) }),
      'absoluteEndlessRatio stop',
    ],
    [
      'an endless axis whose turns do',
      found(33, { isEndless: true, world: endless, absolute: encoder({ loadTurns: exact(1024) }) }),
      undefined,
    ],
  ])('%s', (_, ids, expected) => {
    if (expected === undefined) expect(ids.filter((id) => id.endsWith('stop'))).toEqual([]);
    else expect(ids).toContain(expected);
  });

  it('of a drive whose map says too little', () => {
    const drive = { hasMethod: false, hasInput: () => false, saysOffset: false, saysSoftLimits: false };
    const ids = found(17, { drive, softLimits: { minus: -5, plus: 300 } }, { positionAtHome: 3 });
    expect(ids).toEqual(
      expect.arrayContaining([
        'methodNotInDrive stop',
        'homingSwitchMissing stop',
        'homeOffsetNotSaid warn',
        'softLimitsNotSaid warn',
      ]),
    );
    const knowing = { hasMethod: true, hasInput: () => true, saysOffset: true, saysSoftLimits: true };
    expect(found(17, { drive: knowing }, { positionAtHome: 3 }).some((id) => /Said|methodNot|Missing/.test(id))).toBe(
      false,
    );
  });
});
