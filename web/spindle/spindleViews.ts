// The views of a spindle are loaded together: most of what they need they have in common.
export { BusView } from './BusView.tsx';
export { CurveView } from './CurveView.tsx';
export { RampsView } from './RampsView.tsx';
export { RunTestView } from './RunTestView.tsx';
export { SpindleChainView } from './SpindleChainView.tsx';
export { SpindleLayout } from './SpindleLayout.tsx';
export { TachometerView } from './TachometerView.tsx';
