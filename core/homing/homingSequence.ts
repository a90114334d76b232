import type { HomingFailure } from './homingFailure.ts';
import {
  homingMethodFacts,
  leavesSwitch,
  type HomingDefinition,
  type HomingInput,
  type HomingMethodFacts,
} from './homingMethod.ts';

/** What the drive sees at one moment. Positions in the unit of the definition. */
export interface HomingInputs {
  readonly minusLimit: boolean;
  readonly plusLimit: boolean;
  readonly homeSwitch: boolean;
  readonly position: number;
  readonly standsStill: boolean;
  /** Number of index pulses since the start, and the position latched at the last one. */
  readonly indexPulses: number;
  readonly indexPosition: number;
  /** The axis stands against something and pushes with the torque that homing may have. */
  readonly isBlocked: boolean;
  /** s since the homing began */
  readonly seconds: number;
}

/**
 * - `search` for the switch, `turn` at the limit that came first, `exit` from a switch that is on up to the end, `halt`,
 * - `approach` the side from which the edge is crossed, `rest` there, `cross` the edge,
 * - `clear` a limit that stands in the way, `push` against a hard stop, wait for the `index` pulse, `settle`.
 */
export type HomingPhase =
  | 'search'
  | 'turn'
  | 'exit'
  | 'halt'
  | 'approach'
  | 'rest'
  | 'cross'
  | 'clear'
  | 'push'
  | 'index'
  | 'settle'
  | 'done'
  | 'failed';

export interface HomingState {
  readonly phase: HomingPhase;
  /** Of the search or the exit. */
  readonly direction: -1 | 1;
  /** The limit behind is still on, because the search began there; `known` when the search itself came to it. */
  readonly behind: 'off' | 'on at the start' | 'known';
  /** The switch has been met on the way to the side from which its edge is crossed. */
  readonly hasMet: boolean;
  readonly indexPulsesBefore: number;
  /** Where the leg began. */
  readonly from: number;
  /** The position of the switch edge or index pulse, once latched. */
  readonly latched?: number;
  /** Why it failed: which kind, and in words. */
  readonly failure?: HomingFailure;
  readonly because?: string;
}

export interface HomingStep {
  readonly state: HomingState;
  /** Wanted speed, signed. */
  readonly speed: number;
}

type Limit = 'minusLimit' | 'plusLimit';
const limitTowards = (direction: -1 | 1): Limit => (direction < 0 ? 'minusLimit' : 'plusLimit');
export const homingInputWords = {
  minusLimit: 'minus limit',
  plusLimit: 'plus limit',
  homeSwitch: 'home switch',
} as const satisfies Record<HomingInput, string>;
const words = homingInputWords;
const against = (direction: -1 | 1): -1 | 1 => (direction < 0 ? 1 : -1);

/** The phase in which a homing begins, by what its inputs show. */
function firstPhase(facts: HomingMethodFacts, inputs: HomingInputs): Pick<HomingState, 'phase'> & Partial<HomingState> {
  switch (facts.kind) {
    case 'here':
      return { phase: 'done', latched: inputs.position };
    case 'hard stop':
      return { phase: 'push' };
    case 'index':
      return inputs[limitTowards(facts.search)] ? { phase: 'clear' } : { phase: 'index' };
    case 'edge':
      if (!inputs[facts.input]) return { phase: 'search' };
      // A limit is short, and so is a flag; a switch that is on up to the end may be long.
      return facts.input === 'homeSwitch' && facts.range !== 'flag'
        ? { phase: 'exit', direction: facts.edge }
        : { phase: 'halt' };
  }
}

export function startHoming(definition: HomingDefinition, inputs: HomingInputs): HomingState {
  const facts = homingMethodFacts(definition.method);
  const direction = facts.kind === 'here' ? 1 : facts.search;
  const state: HomingState = {
    phase: 'failed',
    direction,
    behind: inputs[limitTowards(against(direction))] ? 'on at the start' : 'off',
    hasMet: false,
    indexPulsesBefore: inputs.indexPulses,
    from: inputs.position,
  };
  if (facts.kind !== 'here' && inputs.minusLimit && inputs.plusLimit)
    return {
      ...state,
      failure: 'both limits',
      because: 'both limit switches are active: a wire may be broken',
    };
  return { ...state, ...firstPhase(facts, inputs) };
}

const isAtRest: ReadonlySet<HomingPhase> = new Set(['turn', 'halt', 'rest', 'settle', 'done', 'failed']);

/** One look at the inputs: the next state and the speed to run at. Done and failed ask for speed 0. */
export function stepHoming(definition: HomingDefinition, state: HomingState, inputs: HomingInputs): HomingStep {
  const { phase } = state;
  if (phase === 'done' || phase === 'failed') return { state, speed: 0 };
  const tooFar = overstepped(definition, state, inputs);
  if (tooFar) return failing(state, ...tooFar);
  const step = nextStep(definition, state, inputs);
  const isNewLeg = step.state.phase !== phase || step.state.direction !== state.direction;
  return isNewLeg ? { ...step, state: { ...step.state, from: inputs.position } } : step;
}

/** Why a homing is given up that takes too long or goes too far. */
function overstepped(
  { mostTravel = Infinity, mostSeconds = Infinity }: HomingDefinition,
  { phase, from }: HomingState,
  { position, seconds }: HomingInputs,
): Failing | undefined {
  if (seconds > mostSeconds) return ['time over', `it was not at its end after ${mostSeconds} s`];
  if (isAtRest.has(phase) || Math.abs(position - from) <= mostTravel) return undefined;
  switch (phase) {
    case 'search':
      return [
        'switch not found',
        'the switch was not found within the longest search distance allowed: it or its wire may be broken',
      ];
    case 'exit':
    case 'approach':
    case 'cross':
    case 'clear':
      return ['switch stuck', 'the switch did not change within the longest search distance allowed: it may be stuck'];
    case 'push':
      return ['no stop', 'no hard stop was found within the longest search distance allowed'];
    default:
      return ['no index', 'no index pulse came within the longest search distance allowed'];
  }
}

function nextStep(definition: HomingDefinition, state: HomingState, inputs: HomingInputs): HomingStep {
  const facts = homingMethodFacts(definition.method);
  switch (facts.kind) {
    case 'here':
      return { state, speed: 0 };
    case 'edge':
      return edgeStep(facts, definition, state, inputs);
    case 'index':
    case 'hard stop':
      return stopStep(facts, definition, state, inputs);
  }
}

const going =
  (state: HomingState) =>
  (next: Partial<HomingState>, speed: number): HomingStep => ({ state: { ...state, ...next }, speed });
type Failing = readonly [failure: HomingFailure, because: string];
const failing = (state: HomingState, ...[failure, because]: Failing): HomingStep =>
  going(state)({ phase: 'failed', failure, because }, 0);

/** Waiting for index pulses at creep speed. */
function awaitIndex(
  { creepSpeed, indexPulse = 1 }: HomingDefinition,
  state: HomingState,
  inputs: HomingInputs,
  direction: -1 | 1,
): HomingStep {
  const limit = limitTowards(direction);
  if (inputs[limit]) return failing(state, 'no index', `no index pulse came before the ${words[limit]}`);
  return inputs.indexPulses >= state.indexPulsesBefore + indexPulse
    ? going(state)({ phase: 'settle', latched: inputs.indexPosition }, 0)
    : { state, speed: direction * creepSpeed };
}

const settle = (state: HomingState, { standsStill }: HomingInputs): HomingStep =>
  standsStill ? going(state)({ phase: 'done' }, 0) : { state, speed: 0 };

function edgeStep(
  facts: Extract<HomingMethodFacts, { readonly kind: 'edge' }>,
  definition: HomingDefinition,
  state: HomingState,
  inputs: HomingInputs,
): HomingStep {
  const { input, search, cross, usesIndex } = facts;
  const { searchSpeed, creepSpeed } = definition;
  const { direction } = state;
  const leaves = leavesSwitch(facts);
  const go = going(state);
  const fail = (...why: Failing) => failing(state, ...why);
  const isOn = inputs[input];
  const begin = (phase: 'search' | 'approach' | 'cross', more: Partial<HomingState>, speed: number) =>
    go({ ...more, phase, hasMet: isOn }, speed);

  switch (state.phase) {
    case 'search': {
      if (isOn) return go({ phase: 'halt' }, 0);
      const [ahead, behind] = [limitTowards(direction), limitTowards(against(direction))];
      if (inputs[ahead])
        return input === 'homeSwitch' && facts.range === 'flag' && direction === search
          ? go({ phase: 'turn' }, 0)
          : fail('limit in the way', `the ${words[ahead]} came on during the search for the ${words[input]}`);
      if (!inputs[behind]) return go({ behind: 'off' }, direction * searchSpeed);
      // Away from a limit at creep speed until it is off: the switches may be on the wrong ends.
      if (state.behind === 'on at the start') return { state, speed: direction * Math.min(creepSpeed, searchSpeed) };
      return state.behind === 'known'
        ? { state, speed: direction * searchSpeed }
        : fail('limit in the way', `the ${words[behind]} came on during the search for the ${words[input]}`);
    }
    case 'turn':
      return inputs.standsStill
        ? begin('search', { direction: against(direction), behind: 'known' }, against(direction) * searchSpeed)
        : { state, speed: 0 };
    case 'exit':
      if (!isOn) return go({ phase: 'halt' }, 0);
      return inputs[limitTowards(direction)]
        ? fail('switch stuck', `the ${words[limitTowards(direction)]} came on before the ${words[input]} went off`)
        : { state, speed: direction * searchSpeed };
    case 'halt':
      if (!inputs.standsStill) return { state, speed: 0 };
      // On the side from which the edge is crossed: on the switch, or off it where it is entered.
      if (isOn === leaves && (leaves || direction !== cross)) return begin('cross', {}, cross * creepSpeed);
      return leaves
        ? begin('approach', { direction: against(direction) }, against(direction) * creepSpeed)
        : begin('approach', { direction: against(cross) }, against(cross) * creepSpeed);
    case 'approach': {
      const ahead = limitTowards(direction);
      if (leaves ? isOn : state.hasMet && !isOn) return go({ phase: 'rest' }, 0);
      if (inputs[ahead] && ahead !== input)
        return state.hasMet
          ? fail('switch stuck', `the ${words[ahead]} came on before the ${words[input]} went off`)
          : fail('switch overrun', `the ${words[input]} was overrun and not found on the way back`);
      return go({ hasMet: state.hasMet || isOn }, direction * creepSpeed);
    }
    case 'rest':
      if (!inputs.standsStill) return { state, speed: 0 };
      return isOn === leaves
        ? begin('cross', {}, cross * creepSpeed)
        : leaves
          ? fail('switch short', `the ${words[input]} is shorter than the distance needed to stop from creep speed`)
          : fail('bounces', `the ${words[input]} came on again: it bounces, or another one follows`);
    case 'cross': {
      const ahead = limitTowards(cross);
      if (isOn !== leaves)
        return usesIndex
          ? go({ phase: 'index', indexPulsesBefore: inputs.indexPulses }, cross * creepSpeed)
          : go({ phase: 'settle', latched: inputs.position }, 0);
      if (inputs[ahead] && ahead !== input)
        return leaves
          ? fail('switch stuck', `the ${words[ahead]} came on before the ${words[input]} went off`)
          : fail('switch overrun', `the ${words[ahead]} came on before the ${words[input]}`);
      return { state, speed: cross * creepSpeed };
    }
    case 'index':
      return leaves && isOn
        ? fail('bounces', `the ${words[input]} came on again after it had gone off: it bounces`)
        : awaitIndex(definition, state, inputs, cross);
    case 'settle':
      return leaves && isOn && !usesIndex
        ? fail('bounces', `the ${words[input]} came on again after it had gone off: it bounces`)
        : settle(state, inputs);
    case 'clear':
    case 'push':
    case 'done':
    case 'failed':
      return { state, speed: 0 };
  }
}

/** Homing without a switch: on an index pulse alone, or on a hard stop. */
function stopStep(
  { kind, search, usesIndex }: Extract<HomingMethodFacts, { readonly kind: 'index' | 'hard stop' }>,
  definition: HomingDefinition,
  state: HomingState,
  inputs: HomingInputs,
): HomingStep {
  const { searchSpeed, creepSpeed, indexPulse = 1 } = definition;
  const go = going(state);
  const ahead = limitTowards(search);
  const back = against(search);
  switch (state.phase) {
    case 'push':
      if (inputs.isBlocked)
        return usesIndex
          ? go({ phase: 'index', indexPulsesBefore: inputs.indexPulses }, back * creepSpeed)
          : go({ phase: 'settle', latched: inputs.position }, 0);
      return inputs[ahead]
        ? failing(state, 'limit in the way', `the ${words[ahead]} came on before the hard stop`)
        : { state, speed: search * searchSpeed };
    case 'clear':
      // Off the limit, and past as many index pulses as will be counted on the way back.
      if (inputs[ahead]) return go({ indexPulsesBefore: inputs.indexPulses }, back * creepSpeed);
      if (inputs[limitTowards(back)])
        return failing(state, 'no index', `no index pulse came before the ${words[limitTowards(back)]}`);
      return inputs.indexPulses >= state.indexPulsesBefore + indexPulse
        ? go({ phase: 'rest' }, 0)
        : { state, speed: back * creepSpeed };
    case 'rest':
      return inputs.standsStill
        ? go({ phase: 'index', indexPulsesBefore: inputs.indexPulses }, search * creepSpeed)
        : { state, speed: 0 };
    case 'index':
      return awaitIndex(definition, state, inputs, kind === 'index' ? search : back);
    case 'settle':
      return settle(state, inputs);
    default:
      return { state, speed: 0 };
  }
}
