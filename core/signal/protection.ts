/** Active levels are logical; an input without current reads low. */
export type ActiveLevel = 'high' | 'low';
export type Contact = 'normallyClosed' | 'normallyOpen';

/** How the enable of an axis is wired. */
export interface EnableWiring {
  /** What the controller's output does to enable. */
  readonly controllerLevel: ActiveLevel;
  /** What the drive takes for enabled. */
  readonly driveLevel: ActiveLevel;
  /** False: no wire; the drive is enabled otherwise. */
  readonly isWired: boolean;
}

/** Something that may happen, and what the drive makes of it. */
export interface EnableCase {
  readonly situation: 'controller enables' | 'controller disables' | 'broken wire' | 'controller without power';
  readonly input: ActiveLevel;
  readonly isEnabled: boolean;
  readonly isRight: boolean;
}

/** What follows from the levels at both ends. */
export function enableCases({ controllerLevel, driveLevel, isWired }: EnableWiring): readonly EnableCase[] {
  const other: ActiveLevel = controllerLevel === 'high' ? 'low' : 'high';
  const one = (situation: EnableCase['situation'], sent: ActiveLevel, isMeant: boolean): EnableCase => {
    const input = isWired ? sent : 'low';
    const isEnabled = input === driveLevel;
    return { situation, input, isEnabled, isRight: isEnabled === isMeant };
  };
  return [
    one('controller enables', controllerLevel, true),
    one('controller disables', other, false),
    one('broken wire', 'low', false),
    one('controller without power', 'low', false),
  ];
}

/** How the alarm contacts of one or more drives reach the controller. */
export interface AlarmWiring {
  readonly contact: Contact;
  readonly joined: 'alone' | 'series' | 'parallel';
  readonly drives: number;
}

export interface AlarmCase {
  readonly situation: 'a drive trips' | 'broken wire' | 'a drive without power';
  readonly isSeen: boolean;
  /** Whether the controller can tell which drive it is. */
  readonly isIdentified: boolean;
}

/**
 * What the controller notices. A closed contact opens on alarm: in series any one of them is seen, with broken wires and dead
 * drives; in parallel the healthy ones hold the loop closed. Open contacts the other way round, and a broken wire looks healthy.
 */
export function alarmCases({ contact, joined, drives }: AlarmWiring): readonly AlarmCase[] {
  const alone = joined === 'alone' || drives < 2;
  const one = (situation: AlarmCase['situation'], isSeen: boolean): AlarmCase => ({
    situation,
    isSeen,
    isIdentified: isSeen && alone && situation !== 'broken wire',
  });
  if (contact === 'normallyClosed') {
    const seen = alone || joined === 'series';
    return [one('a drive trips', seen), one('broken wire', seen), one('a drive without power', seen)];
  }
  const seen = alone || joined === 'parallel';
  return [one('a drive trips', seen), one('broken wire', false), one('a drive without power', false)];
}

/** How limit switches are wired. */
export interface LimitWiring {
  readonly contact: Contact;
  /** What the drive takes for struck. */
  readonly activeLevel: ActiveLevel;
  /** At which physical end the switch stands that is wired to the drive's plus limit. */
  readonly plusInputAt: 'plus' | 'minus' | 'not settled';
}

/** A struck switch and a broken wire both take the current from a closed contact: both read low. */
export function limitCases({ contact, activeLevel }: Omit<LimitWiring, 'plusInputAt'>): {
  readonly struckStops: boolean;
  readonly freeMoves: boolean;
  readonly brokenWireStops: boolean;
} {
  const level = (isClosed: boolean): ActiveLevel => (isClosed ? 'high' : 'low');
  const closedFree = contact === 'normallyClosed';
  return {
    struckStops: level(!closedFree) === activeLevel,
    freeMoves: level(closedFree) !== activeLevel,
    brokenWireStops: activeLevel === 'low',
  };
}

/** What the safe-torque-off inputs of a drive are joined to. */
export type SafeTorqueOff = 'none' | 'bridged' | 'one channel' | 'two channels';
