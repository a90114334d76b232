import { describe, expect, it } from 'vitest';
import { alarmLoops, type AlarmMember, type AlarmWiring } from './index.ts';

const member = (name: string, alarm: Partial<AlarmWiring> = {}, drives = 1): AlarmMember => ({
  name,
  drives,
  alarm: { contact: 'normallyClosed', joined: 'alone', drives, ...alarm },
});

/**
 * The loop as a circuit, on its own: current flows where every contact in series is closed, or any in parallel. What the controller
 * can see is a change of that current.
 */
function flows(joined: AlarmWiring['joined'], closed: readonly boolean[], isBroken: boolean): boolean {
  if (isBroken) return false;
  return joined === 'parallel' ? closed.some(Boolean) : closed.every(Boolean);
}

describe('the alarm loops of a machine', () => {
  it('are one for each axis alone, one for all in series, one for all in parallel', () => {
    const loops = alarmLoops([
      member('A'),
      member('B', { joined: 'series', drives: 3 }),
      member('C'),
      member('D', { joined: 'series', drives: 3 }, 2),
    ]);
    expect(loops.map(({ joined, contacts }) => [joined, contacts.map(({ name }) => name)])).toEqual([
      ['series', ['B', 'D, drive 1', 'D, drive 2']],
      ['alone', ['A']],
      ['alone', ['C']],
    ]);
    expect(loops.flatMap(({ problems }) => problems)).toEqual([]);
    expect(alarmLoops([])).toEqual([]);
  });

  it('tell what the circuit tells, whatever the contacts and however they are joined', () => {
    for (const contact of ['normallyClosed', 'normallyOpen'] as const)
      for (const joined of ['series', 'parallel'] as const)
        for (const drives of [2, 3]) {
          const names = Array.from({ length: drives }, (_, k) => member(`M${k}`, { contact, joined, drives }));
          const [loop] = alarmLoops(names);
          const closed = names.map(() => contact === 'normallyClosed');
          const healthy = flows(joined, closed, false);
          const tripped = closed.map((is, k) => (k === 0 ? !is : is));
          // A contact of a drive without power is open.
          const dead = closed.map((is, k) => (k === 0 ? false : is));
          const seen = {
            'a drive trips': flows(joined, tripped, false) !== healthy,
            'broken wire':
              flows(
                joined,
                closed.map((is, k) => (joined === 'parallel' && k > 0 ? is : false)),
                false,
              ) !== healthy,
            'a drive without power': flows(joined, dead, false) !== healthy,
          };
          for (const { situation, isSeen, isIdentified } of loop?.cases ?? []) {
            expect([contact, joined, drives, situation, isSeen]).toEqual([
              contact,
              joined,
              drives,
              situation,
              seen[situation],
            ]);
            expect(isIdentified).toBe(false);
          }
        }
  });

  it('that cannot be right say so: both kinds of contact in one loop, another number of drives than entered', () => {
    const [mixed] = alarmLoops([
      member('A', { joined: 'series', drives: 2 }),
      member('B', { joined: 'series', drives: 2, contact: 'normallyOpen' }),
    ]);
    expect(mixed?.problems).toEqual([expect.stringContaining('share one loop')]);
    expect(mixed?.cases.some(({ isSeen }) => isSeen)).toBe(false);
    const [counted] = alarmLoops([
      member('A', { joined: 'series', drives: 3 }),
      member('B', { joined: 'series', drives: 2 }),
    ]);
    expect(counted?.problems).toEqual([
      'A is entered with 3 drives in series, but 2 of this machine are in that loop.',
    ]);
    expect(alarmLoops([member('P', {}, 2)])[0]?.problems).toEqual([
      'P has 2 drives, but its alarm is entered as that of one.',
    ]);
  });
});
