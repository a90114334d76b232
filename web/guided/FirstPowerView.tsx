import { GuidedView } from './GuidedView.tsx';

/** The first power of an axis, step by step. */
export const FirstPowerView = () => (
  <GuidedView
    title="Steps of the first power"
    phases={['Control supply only', 'Before main power', 'Main power', 'First motion', 'Hand back']}
  />
);
