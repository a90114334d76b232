import { GuidedView } from './GuidedView.tsx';

/** Every way of stopping an axis, measured, and the tests of the whole machine. */
export const StopsView = () => <GuidedView title="Stops, measured" phases={['Stops', 'Machine test']} />;
