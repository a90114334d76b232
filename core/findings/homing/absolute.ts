import { formatNumber, isWhole, toNumber } from '../../quantity/index.ts';
import { when } from '../finding.ts';
import type { HomingCheck } from './checkedHoming.ts';

// An encoder that keeps its position without power: what it can tell apart, and what makes it lose home.

export const absoluteHomedOnce: HomingCheck = ({ absolute, facts }) =>
  when(absolute !== undefined && (absolute.loadTurns === undefined || isWhole(absolute.loadTurns)), {
    id: 'absoluteHomedOnce',
    severity: 'note',
    station: 'homing',
    path: '/homing/absolute',
    message: `With an absolute encoder the axis is homed once${facts.kind === 'here' ? '' : ', not after each start'}. Changing the motor, the gear ratio or the direction of rotation, or work on the coupling, invalidates its zero.`,
    remedy: 'Home again after each of these, and run the check “Position after a power cycle”.',
  });

export const absoluteBattery: HomingCheck = ({ absolute }) =>
  when(absolute?.hasBattery === true, {
    id: 'absoluteBattery',
    severity: 'note',
    station: 'homing',
    path: '/homing/absolute/hasBattery',
    message:
      'A battery keeps the turns of this encoder: when it is flat, or unplugged without control power, home is lost.',
    remedy: 'Change the battery with control power on, let the drive report it early, and home again after its alarm.',
  });

export const absoluteRangeShort: HomingCheck = ({ absolute, isEndless, travel, world }) => {
  if (!absolute || isEndless) return [];
  const needed = travel / world.indexSpacing;
  return when(needed >= absolute.turns, {
    id: 'absoluteRangeShort',
    severity: 'stop',
    station: 'homing',
    path: '/homing/absolute/turns',
    message: `The travel takes ${formatNumber(needed, 4)} motor turns; the encoder distinguishes ${absolute.turns}: one reading stands for several positions.`,
    remedy: 'Use an encoder with more turns, or home after each start.',
  });
};

export const absoluteRollover: HomingCheck = ({ absolute, isEndless, travel, world, longest, quantity }) => {
  if (!absolute || isEndless || longest.because !== undefined || travel / world.indexSpacing >= absolute.turns)
    return [];
  const { turns, lowest, turnsAtHome } = absolute;
  if (turnsAtHome === undefined)
    return when(2 * travel > turns * world.indexSpacing, {
      id: 'absoluteRolloverUnknown',
      severity: 'warn',
      station: 'homing',
      path: '/homing/absolute/turnsAtHome',
      message:
        'The travel takes more than half the turns of the encoder, and what it reads at home has not been entered: it may roll over within the travel.',
      remedy: 'Read the turns of the encoder at home, and enter them.',
    });
  // The reading may run either way along the travel: whichever sense is wired, both have to be clear.
  const at = (place: number, sense: 1 | -1) => turnsAtHome + (sense * (place - longest.home)) / world.indexSpacing;
  const over = ([1, -1] as const).filter((sense) =>
    [0, travel].some((end) => at(end, sense) < lowest || at(end, sense) >= lowest + turns),
  );
  const room = Math.min(turnsAtHome - lowest, lowest + turns - turnsAtHome) * world.indexSpacing;
  return when(over.length > 0, {
    id: 'absoluteRollover',
    severity: over.length === 2 ? 'stop' : 'warn',
    station: 'homing',
    path: '/homing/absolute/turnsAtHome',
    message: `The encoder rolls over ${quantity(room, '{u}')} from home, within the travel${over.length === 2 ? '' : ' if its turns count towards minus'}: after a power cycle beyond that point the position is off by all its turns.`,
    remedy: 'Reset the turns of the encoder near mid-travel, then home.',
  });
};

export const absoluteEndless: HomingCheck = ({ absolute }) => {
  if (!absolute?.loadTurns || isWhole(absolute.loadTurns)) return [];
  const loadTurns = toNumber(absolute.loadTurns);
  const off = loadTurns - Math.floor(loadTurns);
  return [
    {
      id: 'absoluteEndlessRatio',
      severity: 'stop',
      station: 'homing',
      path: '/homing/absolute/turns',
      message: `The ${absolute.turns} turns of the encoder are ${formatNumber(loadTurns, 7)} turns of the axis: each time it rolls over, the position after a power cycle is off by another ${formatNumber(off, 4)} of a turn.`,
      remedy:
        'Home after each start, use a drive that counts the turns of the load itself, or a ratio that divides the turns of the encoder.',
    },
  ];
};
