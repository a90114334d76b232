import { eachAlone } from './screen.tsx';
// What views load when they need it is there before a test ends.
import '../chain/GearComparison.tsx';
import '../moves/TracePanel.tsx';
import '../ui/chart/XyChart.tsx';

eachAlone();
