import { toNumber } from '../../quantity/index.ts';
import { formulaOf, known, type Formula } from '../../sheet/index.ts';
import type { AxisValues } from '../axisValues.ts';

const formula = formulaOf<AxisValues>();
const standardGravity = 9.80665;

export const mechanicsFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'backlashCounts',
    label: 'Backlash, in counts',
    expression: '{backlash} / {feedbackResolution}',
    unit: 'counts',
    source: 'definition',
    inputs: ['backlash', 'feedbackResolution'],
    compute: (v) => known(v.backlash / toNumber(v.feedbackResolution)),
  }),
  formula({
    symbol: 'testMoveForce',
    label: 'Peak force on the load',
    expression: '{movedMass} · (a + 9.80665 · |sin({incline}°)|) + {frictionLoad}',
    unit: 'N',
    source: 'Newton’s second law, at the peak acceleration a of the test move',
    inputs: ['testMove', 'movedMass', 'incline', 'frictionLoad'],
    compute: (v) =>
      known(
        v.movedMass *
          (v.testMove.peakAcceleration / 1000 + standardGravity * Math.abs(Math.sin((v.incline * Math.PI) / 180))) +
          v.frictionLoad,
      ),
  }),
  formula({
    symbol: 'beltStretch',
    label: 'Belt stretch',
    expression: '{testMoveForce} · {beltCompliance}',
    unit: '{u}',
    source: 'Hooke’s law: pull · free length / specific stiffness',
    inputs: ['testMoveForce', 'beltCompliance'],
    compute: (v) => known(v.testMoveForce * v.beltCompliance),
  }),
  formula({
    symbol: 'skewAngle',
    label: 'Angle of the largest skew',
    expression: 'arctan({skewLimit} / {pairSpacing})',
    unit: 'deg',
    source: 'right triangle',
    inputs: ['skewLimit', 'pairSpacing'],
    compute: (v) => known((Math.atan2(v.skewLimit, v.pairSpacing) * 180) / Math.PI),
  }),
  formula({
    symbol: 'skewCounts',
    label: 'Largest skew, in counts',
    expression: '{skewLimit} / {feedbackResolution}',
    unit: 'counts',
    source: 'definition',
    inputs: ['skewLimit', 'feedbackResolution'],
    compute: (v) => known(v.skewLimit / toNumber(v.feedbackResolution)),
  }),
];
