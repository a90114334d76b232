import { homingMethodFacts, type HomingDefinition } from './homingMethod.ts';

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
}

/**
 * - `search` for the switch, `turn` at the limit that came first, `halt` on the switch, `return` to a switch that was overrun,
 * - `leave` it, wait for the `index` pulse, `settle`.
 */
export type HomingPhase = 'search' | 'turn' | 'halt' | 'return' | 'leave' | 'index' | 'settle' | 'done' | 'failed';

export interface HomingState {
  readonly phase: HomingPhase;
  /** Of the search. */
  readonly direction: -1 | 1;
  /** The limit behind is still on, because the search began there; `known` when the search itself came to it. */
  readonly behind: 'off' | 'on at the start' | 'known';
  readonly returned: boolean;
  readonly indexPulsesBefore: number;
  /** The position of the switch edge or index pulse, once latched. */
  readonly latched?: number;
  readonly because?: string;
}

export interface HomingStep {
  readonly state: HomingState;
  /** Wanted speed, signed. */
  readonly speed: number;
}

type Limit = 'minusLimit' | 'plusLimit';
const limitTowards = (direction: -1 | 1): Limit => (direction < 0 ? 'minusLimit' : 'plusLimit');
const words = { minusLimit: 'minus limit', plusLimit: 'plus limit', homeSwitch: 'home switch' } as const;
const against = (direction: -1 | 1): -1 | 1 => (direction < 0 ? 1 : -1);

export function startHoming(definition: HomingDefinition, inputs: HomingInputs): HomingState {
  const { homesOn, search } = homingMethodFacts(definition.method);
  const state: HomingState = {
    phase: 'search',
    direction: search,
    behind: inputs[limitTowards(against(search))] ? 'on at the start' : 'off',
    returned: false,
    indexPulsesBefore: 0,
  };
  if (homesOn === 'none') return { ...state, phase: 'done', latched: inputs.position };
  if (inputs.minusLimit && inputs.plusLimit)
    return { ...state, phase: 'failed', because: 'both limit switches are active: a wire may be broken' };
  return inputs[homesOn] ? { ...state, phase: 'halt' } : state;
}

/** One look at the inputs: the next state and the speed to run at. Done and failed ask for speed 0. */
export function stepHoming(definition: HomingDefinition, state: HomingState, inputs: HomingInputs): HomingStep {
  const { homesOn, search, leave, usesIndex } = homingMethodFacts(definition.method);
  const { searchSpeed, creepSpeed } = definition;
  const { direction } = state;
  const go = (next: Partial<HomingState>, speed: number): HomingStep => ({ state: { ...state, ...next }, speed });
  const fail = (because: string): HomingStep => go({ phase: 'failed', because }, 0);
  if (homesOn === 'none') return { state, speed: 0 };
  const isOn = inputs[homesOn];
  switch (state.phase) {
    case 'search': {
      if (isOn) return go({ phase: 'halt' }, 0);
      const [ahead, behind] = [limitTowards(direction), limitTowards(against(direction))];
      if (inputs[ahead]) {
        return homesOn === 'homeSwitch' && direction === search
          ? go({ phase: 'turn' }, 0)
          : fail(`the ${words[ahead]} came on during the search for the ${words[homesOn]}`);
      }
      if (!inputs[behind]) return go({ behind: 'off' }, direction * searchSpeed);
      // Away from a limit at creep speed until it is off: the switches may be on the wrong ends.
      if (state.behind === 'on at the start') return { state, speed: direction * Math.min(creepSpeed, searchSpeed) };
      return state.behind === 'known'
        ? { state, speed: direction * searchSpeed }
        : fail(`the ${words[behind]} came on during the search for the ${words[homesOn]}`);
    }
    case 'turn':
      return inputs.standsStill
        ? go({ phase: 'search', direction: against(direction), behind: 'known' }, against(direction) * searchSpeed)
        : { state, speed: 0 };
    case 'halt':
      if (!inputs.standsStill) return { state, speed: 0 };
      if (isOn) return go({ phase: 'leave' }, leave * creepSpeed);
      return state.returned
        ? fail(`the ${words[homesOn]} is shorter than the distance needed to stop from creep speed`)
        : go({ phase: 'return', returned: true }, against(direction) * creepSpeed);
    case 'return':
      if (isOn) return go({ phase: 'halt' }, 0);
      return inputs[limitTowards(against(direction))]
        ? fail(`the ${words[homesOn]} was overrun and not found on the way back`)
        : { state, speed: against(direction) * creepSpeed };
    case 'leave':
      if (inputs[limitTowards(leave)])
        return fail(`the ${words[limitTowards(leave)]} came on before the ${words[homesOn]} went off`);
      if (isOn) return { state, speed: leave * creepSpeed };
      return usesIndex
        ? go({ phase: 'index', indexPulsesBefore: inputs.indexPulses }, leave * creepSpeed)
        : go({ phase: 'settle', latched: inputs.position }, 0);
    case 'index':
      if (inputs[limitTowards(leave)]) return fail(`no index pulse came before the ${words[limitTowards(leave)]}`);
      return inputs.indexPulses > state.indexPulsesBefore
        ? go({ phase: 'settle', latched: inputs.indexPosition }, 0)
        : { state, speed: leave * creepSpeed };
    case 'settle':
      return inputs.standsStill ? go({ phase: 'done' }, 0) : { state, speed: 0 };
    case 'done':
    case 'failed':
      return { state, speed: 0 };
  }
}
