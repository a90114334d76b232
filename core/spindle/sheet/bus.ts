import { formulaOf, known, map, unknown, type Formula, type Outcome } from '../../sheet/index.ts';
import { busLoad, characterTime, lostLink, silence } from '../../signal/index.ts';
import { coastingTime } from '../rampsAndBraking.ts';
import type { LostLinkAction } from '../spindleInput.ts';
import type { SpindleValues } from '../spindleValues.ts';

const formula = formulaOf<SpindleValues>();
const specification = 'Modbus over Serial Line V1.02';

/** What the loss of the link does; the reason where nothing stops the spindle then. */
function afterLoss(v: {
  readonly timeOut: number;
  readonly lostLink: LostLinkAction;
  readonly wantedTop: number;
  readonly plannedStop: number;
  readonly totalInertia: number;
  readonly frictionTorque: number;
  readonly topOmega: number;
}): Outcome<ReturnType<typeof lostLink>> {
  if (!(v.timeOut > 0))
    return unknown('the drive never notices a lost link: no communication timeout is set', '/bus/timeOut');
  switch (v.lostLink) {
    case 'ramps to rest':
      return known(lostLink(v.wantedTop, v.timeOut, v.plannedStop));
    case 'coasts': {
      const time = coastingTime({ inertia: v.totalInertia, torque: v.frictionTorque }, v.topOmega);
      return Number.isFinite(time) ? known(lostLink(v.wantedTop, v.timeOut, time)) : unknown('it would not slow down');
    }
    case 'goes on':
      return unknown('the drive keeps running when its link is lost', '/bus/lostLink');
    case 'not settled':
      return unknown('it has not been stated what the drive does when its link is lost', '/bus/lostLink');
  }
}

const lossInputs = [
  'timeOut',
  'lostLink',
  'wantedTop',
  'plannedStop',
  'totalInertia',
  'frictionTorque',
  'topOmega',
] as const;

export const busFormulas: readonly Formula<SpindleValues>[] = [
  formula({
    symbol: 'characterTime',
    label: 'Time of one character',
    expression: '(start + 8 + parity + stop bits) / baud',
    unit: 's',
    source: specification,
    inputs: ['serialLine'],
    compute: (v) => known(characterTime(v.serialLine)),
  }),
  formula({
    symbol: 'silence',
    label: 'Silence between frames',
    expression: '3.5 · {characterTime}; 1.75 ms above 19 200 baud',
    unit: 's',
    source: specification,
    inputs: ['serialLine'],
    compute: (v) => known(silence(v.serialLine)),
  }),
  formula({
    symbol: 'busLoadResult',
    label: 'Time for the poll list',
    expression: 'frames, silences and answers',
    unit: '',
    source: specification,
    inputs: ['serialLine', 'pollMessages', 'pollPeriod'],
    compute: (v) => known(busLoad(v.serialLine, v.pollMessages, v.pollPeriod)),
  }),
  formula({
    symbol: 'pollRound',
    label: 'Time for one poll of all messages',
    expression: 'Σ (request + answer) · {characterTime} + 2 · {silence} + answer delay',
    unit: 's',
    source: specification,
    inputs: ['busLoadResult', 'characterTime', 'silence'],
    compute: (v) => known(v.busLoadResult.round),
  }),
  formula({
    symbol: 'busLoad',
    label: 'Bus load',
    expression: '100 · {pollRound} / {pollPeriod}',
    unit: '%',
    source: 'definition',
    inputs: ['busLoadResult', 'pollRound', 'pollPeriod'],
    compute: (v) => known(100 * v.busLoadResult.load),
  }),
  formula({
    symbol: 'leastTimeOut',
    label: 'Minimum communication timeout',
    expression: 'max(1.2 · period, period + one exchange), the period no less than {pollRound}',
    unit: 's',
    source: 'a late response is not a lost link (common practice)',
    inputs: ['busLoadResult', 'pollRound'],
    compute: (v) => known(v.busLoadResult.leastTimeOut),
  }),
  formula({
    symbol: 'lostLinkTime',
    label: 'Time from lost link to standstill',
    expression: '{timeOut} + ramp or coasting',
    unit: 's',
    source: 'as set in the drive',
    inputs: lossInputs,
    compute: (v) => map(afterLoss(v), ({ time }) => time),
  }),
  formula({
    symbol: 'lostLinkTurns',
    label: 'Tool turns until standstill',
    expression: '{wantedTop} / 60 · ({timeOut} + half the stop)',
    unit: 'rev',
    source: 'a straight ramp',
    inputs: lossInputs,
    compute: (v) => map(afterLoss(v), ({ turns }) => turns),
  }),
];
