import { toNumber } from '../../quantity/index.ts';
import { formulaOf, known, type Formula } from '../../sheet/index.ts';
import type { AxisValues } from '../axisValues.ts';

const formula = formulaOf<AxisValues>();

export const followingErrorFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'followingErrorCounts',
    label: 'Following-error alarm, in counts',
    expression: '{followingErrorWindow} / {feedbackResolution}',
    unit: 'counts',
    source: 'definition',
    inputs: ['followingErrorWindow', 'feedbackResolution'],
    compute: (v) => known(v.followingErrorWindow / toNumber(v.feedbackResolution)),
  }),
  formula({
    symbol: 'followingErrorAngle',
    label: 'Following error as an angle of the motor',
    expression: '{degreesPerTurn} · {followingErrorCounts} / {countsPerRevolution}',
    unit: '{deg}',
    source: '400 of 4000 counts are 36°',
    inputs: ['degreesPerTurn', 'followingErrorCounts', 'countsPerRevolution'],
    compute: (v) => known((v.degreesPerTurn * v.followingErrorCounts) / toNumber(v.countsPerRevolution)),
  }),
  formula({
    symbol: 'steadyLag',
    label: 'Following error at the wanted speed',
    expression: '{wantedSpeed} · (1 − {velocityFeedforward} / 100) / {positionGain}',
    unit: '{u}',
    source: 'proportional position loop: error = speed / gain',
    inputs: ['wantedSpeed', 'velocityFeedforward', 'positionGain'],
    compute: (v) => known((v.wantedSpeed * Math.abs(1 - v.velocityFeedforward / 100)) / v.positionGain),
  }),
  formula({
    symbol: 'lagShare',
    label: 'Following error as a share of the alarm',
    expression: '100 · {steadyLag} / {followingErrorWindow}',
    unit: '%',
    source: 'definition',
    inputs: ['steadyLag', 'followingErrorWindow'],
    compute: (v) => known((100 * v.steadyLag) / v.followingErrorWindow),
  }),
];
