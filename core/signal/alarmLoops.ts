import { alarmCases, type AlarmCase, type AlarmWiring, type Contact } from './protection.ts';

/** The drives of one axis, and how its alarm contacts are joined. */
export interface AlarmMember {
  readonly name: string;
  /** Drives of the axis: two where two motors share it. */
  readonly drives: number;
  readonly alarm: AlarmWiring;
}

/** Alarm contacts that reach the controller by one input. */
export interface AlarmLoop {
  readonly joined: AlarmWiring['joined'];
  /** In the order in which the current passes them, drive by drive. */
  readonly contacts: readonly { readonly name: string; readonly contact: Contact }[];
  readonly cases: readonly AlarmCase[];
  /** What cannot be right, in words. */
  readonly problems: readonly string[];
}

/** The alarm loops of a machine: each axis that is alone has one, those in series share one, and so do those in parallel. */
export function alarmLoops(members: readonly AlarmMember[]): readonly AlarmLoop[] {
  const alone = members.filter(({ alarm }) => alarm.joined === 'alone').map((member) => loopOf('alone', [member]));
  const shared = (['series', 'parallel'] as const).flatMap((joined) => {
    const own = members.filter(({ alarm }) => alarm.joined === joined);
    return own.length > 0 ? [loopOf(joined, own)] : [];
  });
  return [...shared, ...alone];
}

function loopOf(joined: AlarmWiring['joined'], members: readonly AlarmMember[]): AlarmLoop {
  const contacts = members.flatMap(({ name, drives, alarm: { contact } }) =>
    Array.from({ length: drives }, (_, k) => ({ name: drives > 1 ? `${name}, drive ${k + 1}` : name, contact })),
  );
  const drives = contacts.length;
  const kinds = new Set(contacts.map(({ contact }) => contact));
  const isMixed = kinds.size > 1;
  const problems = [
    ...(isMixed ? [mixedWords] : []),
    ...(joined === 'alone' && drives > 1
      ? [`${members[0]?.name ?? ''} has ${drives} drives, but its alarm is entered as that of one.`]
      : []),
    ...(joined === 'alone' ? [] : members.flatMap((member) => countProblem(member, joined, drives))),
  ];
  // In a loop of both kinds nothing can be told.
  const [contact = 'normallyClosed'] = kinds;
  const cases = isMixed
    ? alarmCases({ contact, joined, drives }).map((each) => ({ ...each, isSeen: false, isIdentified: false }))
    : alarmCases({ contact, joined, drives });
  return { joined, contacts, cases, problems };
}

const mixedWords = 'Normally closed and normally open contacts share one loop, so it says nothing.';

function countProblem({ name, alarm }: AlarmMember, joined: string, drives: number): readonly string[] {
  return alarm.drives === drives
    ? []
    : [`${name} is entered with ${alarm.drives} drives in ${joined}, but ${drives} of this machine are in that loop.`];
}
