import type { HomingDefinition } from './homingMethod.ts';

/** What the drive sees at one moment. Positions in the unit of the definition. */
export interface HomingInputs {
  readonly minusLimit: boolean;
  readonly plusLimit: boolean;
  readonly position: number;
  readonly standsStill: boolean;
  /** Index pulses so far, and the position latched at the last one. */
  readonly indexPulses: number;
  readonly indexPosition: number;
}

export type HomingPhase = 'search' | 'turn' | 'leave' | 'index' | 'settle' | 'done' | 'failed';

export interface HomingState {
  readonly phase: HomingPhase;
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

export const startHoming = (definition: HomingDefinition, inputs: HomingInputs): HomingState =>
  definition.method === 37
    ? { phase: 'done', indexPulsesBefore: 0, latched: inputs.position }
    : { phase: inputs.minusLimit ? 'turn' : 'search', indexPulsesBefore: 0 };

/** One look at the inputs: the next state and the speed to run at. Done and failed ask for speed 0. */
export function stepHoming(definition: HomingDefinition, state: HomingState, inputs: HomingInputs): HomingStep {
  const go = (next: Partial<HomingState>, speed: number): HomingStep => ({ state: { ...state, ...next }, speed });
  switch (state.phase) {
    case 'search':
      if (inputs.plusLimit && !inputs.minusLimit) {
        return go({ phase: 'failed', because: 'the plus limit came on during the search for the minus limit' }, 0);
      }
      return inputs.minusLimit ? go({ phase: 'turn' }, 0) : { state, speed: -definition.searchSpeed };
    case 'turn':
      return inputs.standsStill ? go({ phase: 'leave' }, definition.creepSpeed) : { state, speed: 0 };
    case 'leave':
      if (inputs.minusLimit) return { state, speed: definition.creepSpeed };
      return definition.method === 1
        ? go({ phase: 'index', indexPulsesBefore: inputs.indexPulses }, definition.creepSpeed)
        : go({ phase: 'settle', latched: inputs.position }, 0);
    case 'index':
      if (inputs.plusLimit) return go({ phase: 'failed', because: 'no index pulse came before the plus limit' }, 0);
      return inputs.indexPulses > state.indexPulsesBefore
        ? go({ phase: 'settle', latched: inputs.indexPosition }, 0)
        : { state, speed: definition.creepSpeed };
    case 'settle':
      return inputs.standsStill ? go({ phase: 'done' }, 0) : { state, speed: 0 };
    case 'done':
    case 'failed':
      return { state, speed: 0 };
  }
}
