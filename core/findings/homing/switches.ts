import { homingInputWords, predictHoming, secondFlag, telltaleStarts } from '../../homing/index.ts';
import { when } from '../finding.ts';
import { stoppingDistance, type HomingCheck } from './checkedHoming.ts';

// Switches, flags, stops and index pulses against the way that the axis needs.

export const flagShort: HomingCheck = (homing) => {
  const { facts, definition, world, quantity } = homing;
  if (facts.kind !== 'edge' || facts.range !== 'flag' || !world.homeSwitch) return [];
  const length = world.homeSwitch.to - world.homeSwitch.from;
  const [search, creep] = [definition.searchSpeed, definition.creepSpeed].map((speed) =>
    stoppingDistance(homing, speed),
  );
  if (search === undefined || creep === undefined || length >= search) return [];
  const isTooShort = length < creep;
  return [
    {
      id: 'homeSwitchShort',
      severity: isTooShort ? 'stop' : 'note',
      station: 'homing',
      path: '/homing/homeSwitchLength',
      message: isTooShort
        ? `The home switch is on over ${quantity(length, '{u}')}; even from creep speed the axis needs ${quantity(creep, '{u}')} to stop.`
        : `The home switch is on over ${quantity(length, '{u}')}, and the axis needs ${quantity(search, '{u}')} to stop from search speed: it is overrun and searched back at creep speed.`,
      remedy: isTooShort
        ? 'Use a longer flag, a lower creep speed or a higher acceleration.'
        : 'Use a longer flag or a lower search speed to save that time.',
    },
  ];
};

export const limitRoomShort: HomingCheck = (homing) => {
  const { facts, definition, world, quantity } = homing;
  if (facts.kind !== 'edge') return [];
  const needed = stoppingDistance(homing, definition.searchSpeed);
  const ends = [
    ['minus', world.minusEdge, world.minusStop],
    ['plus', world.plusEdge, world.plusStop],
  ] as const;
  return ends.flatMap(([end, edge, stop]) => {
    const isMet = facts.input === `${end}Limit` || (facts.input === 'homeSwitch' && facts.range === 'flag');
    if (!isMet || edge === undefined) return [];
    const finding = { station: 'homing', path: `/homing/${end}Stop` } as const;
    if (stop === undefined)
      return [
        {
          ...finding,
          id: 'stopUnknown',
          severity: 'note' as const,
          message: `The axis runs up to ${quantity(needed, '{u}')} past the ${end} limit; where the hard stop is has not been entered.`,
          remedy: 'Measure the way from the limit switch to the hard stop, and enter it.',
        },
      ];
    const room = Math.abs(stop - edge);
    return when(room < needed, {
      ...finding,
      id: 'limitRoomShort',
      severity: 'stop' as const,
      message: `From search speed the axis needs ${quantity(needed, '{u}')} to stop past the ${end} limit; the hard stop is ${quantity(room, '{u}')} behind it.`,
      remedy: 'Lower the search speed, raise the acceleration, or move the switch inwards.',
    });
  });
};

export const homeSwitchOpen: HomingCheck = ({ facts, homeContact }) =>
  when(facts.kind === 'edge' && facts.input === 'homeSwitch' && homeContact === 'normallyOpen', {
    id: 'homeSwitchOpen',
    severity: 'warn',
    station: 'homing',
    path: '/homing/homeContact',
    message:
      'The home switch is normally open: a broken wire is not noticed, and the search runs on to a limit or a hard stop.',
    remedy: 'Use a normally closed switch, or a longest search that ends it before.',
  });

/** With two flags home is one or the other, by where it starts. */
export const twoFlags: HomingCheck = ({ facts, definition, world, indexAt = 0, quantity }) => {
  const [second] = world.homeSwitch ? secondFlag(world.homeSwitch) : [];
  if (facts.kind !== 'edge' || facts.input !== 'homeSwitch' || !second) return [];
  const homes = telltaleStarts(world).flatMap((start) => {
    const { home, because } = predictHoming(definition, { ...world, start, indexAt });
    return because === undefined ? [home] : [];
  });
  const [low, high] = [Math.min(...homes), Math.max(...homes)];
  const isEither = high - low > Math.abs(second[0] - (world.homeSwitch?.from ?? 0)) / 2;
  return [
    {
      id: 'twoFlags',
      severity: isEither ? 'stop' : 'note',
      station: 'homing',
      path: '/homing/secondFlagFrom',
      message: isEither
        ? `Two flags trip the home switch: depending on where the axis starts, home is at ${quantity(low, '{u}')} or at ${quantity(high, '{u}')}.`
        : 'Two flags trip the home switch; with this method home is at the same one from every start.',
      remedy: isEither
        ? 'Remove one flag, or home on a limit switch.'
        : 'Check this from both sides, and between the flags.',
    },
  ];
};

/** A start on the switch, or beyond it as the search goes. */
export const startsOnSwitch: HomingCheck = ({ facts, definition, world, indexAt = 0, quantity }) => {
  if (facts.kind !== 'edge') return [];
  const { minusEdge, plusEdge, homeSwitch, minusStop, plusStop } = world;
  const on =
    facts.input === 'homeSwitch'
      ? homeSwitch && [homeSwitch.from, homeSwitch.to].filter(Number.isFinite).at(facts.search < 0 ? -1 : 0)
      : facts.input === 'minusLimit'
        ? minusEdge
        : plusEdge;
  if (on === undefined) return [];
  const nudge = 1e-6 * world.indexSpacing * facts.search;
  const beyondFlag =
    facts.input === 'homeSwitch' && facts.range === 'flag' && homeSwitch
      ? (facts.search < 0 ? homeSwitch.from : homeSwitch.to) + nudge
      : undefined;
  const from = (start: number) => predictHoming(definition, { ...world, start, indexAt });
  const starts = [
    { where: 'on', run: from(on + nudge) },
    ...(beyondFlag === undefined ? [] : [{ where: 'beyond', run: from(beyondFlag) }]),
  ];
  const word = homingInputWords[facts.input];
  return starts.flatMap(({ where, run }) => {
    const finding = { id: `starts-${where}`, station: 'homing', path: '/homing/method' } as const;
    if (run.because !== undefined)
      return [
        {
          ...finding,
          severity: 'warn' as const,
          message: `Starting ${where} the ${word}, homing fails: ${run.because}.`,
          remedy: 'Jog the axis off the switch first, or choose a method that reverses at a limit.',
        },
      ];
    const isFar = where === 'beyond' && (minusStop !== undefined || plusStop !== undefined || minusEdge !== undefined);
    return when(isFar, {
      ...finding,
      severity: 'note' as const,
      message: `If the axis starts beyond the ${word}, it runs to ${quantity(facts.search < 0 ? run.lowest : run.highest, '{u}')} before it reverses; homing takes ${quantity(run.seconds, 's')}.`,
      remedy: 'Keep that end clear, or choose the method that searches from the other side.',
    });
  });
};

/** Of a turn to each side of an edge: nearer than that, an index pulse is a gamble. Common practice. */
const safeShare = 0.1;

export const indexNearEdge: HomingCheck = ({ facts, definition, world, indexAt, travel, quantity }) => {
  if (facts.kind === 'index' || !facts.usesIndex || indexAt === undefined) return [];
  const { indexMargin } = predictHoming(definition, { ...world, start: travel / 2, indexAt }, { search: 0, cross: 0 });
  if (indexMargin === undefined) return [];
  const share = indexMargin / world.indexSpacing;
  const shift = world.indexSpacing * (share < 0.5 ? 0.5 - share : share - 0.5);
  return when(share < safeShare || share > 1 - safeShare, {
    id: 'indexNearEdge',
    severity: 'warn',
    station: 'homing',
    path: '/homing/indexAt',
    message: `The index pulse comes ${quantity(indexMargin, '{u}')} after the edge, ${Math.round(100 * share)} % of a motor turn: a little more or less, and home jumps by ${quantity(world.indexSpacing, '{u}')}.`,
    remedy: `Move the switch, or turn the motor in its coupling, by about ${quantity(shift, '{u}')}, so that the pulse comes half a turn after the edge.`,
  });
};

export const edgeSeenLate: HomingCheck = ({ facts, definition, world, quantity }) => {
  if (facts.kind !== 'edge' || facts.usesIndex) return [];
  const { scanPeriod, debounce = 0 } = world;
  const late = definition.creepSpeed * (scanPeriod + debounce);
  return [
    {
      id: 'edgeSeenLate',
      severity: 'note',
      station: 'homing',
      path: '/homing/creepSpeed',
      message: `At creep speed the edge is seen up to ${quantity(late, '{u}')} late, ${quantity(definition.creepSpeed * scanPeriod, '{u}')} of it from homing to homing.`,
      remedy: 'Lower the creep speed, or home on the index pulse.',
    },
  ];
};

export const indexPulseShort: HomingCheck = ({ by, facts, definition, world, countsPerTurn, quantity }) => {
  if (by !== 'controller' || !facts.usesIndex || countsPerTurn === undefined) return [];
  // One line of the encoder, four counts: common where the index is not gated narrower.
  const pulse = (4 * world.indexSpacing) / countsPerTurn / definition.creepSpeed;
  return when(pulse < world.scanPeriod, {
    id: 'indexPulseShort',
    severity: 'warn',
    station: 'homing',
    path: '/homing/creepSpeed',
    message: `At creep speed an index pulse of one encoder line lasts ${quantity(1e6 * pulse, 'µs')}; the controller looks every ${quantity(1e6 * world.scanPeriod, 'µs')}.`,
    remedy: 'Use an input of the controller that latches the position by hardware, or a lower creep speed.',
  });
};
