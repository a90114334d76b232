import { describe, expect, it } from 'vitest';
import type { AxisGuide } from '../axisGuide.ts';
import type { StepContext, StepRecord } from '../guidedStep.ts';
import type { Look } from '../look.ts';
import { machineTestSteps } from './machineTest.ts';

const context = {
  kind: 'axis',
  guide: { unit: 'mm', unitsPerTurn: 10, isLinearMotor: false } as AxisGuide,
  unitsPerCount: 0.001,
  inputs: [],
  results: {},
  given: {},
} as unknown as StepContext;

const limit = { key: 'plus', label: 'Plus limit', role: 'plusLimit', bit: 1 } as const;
const look = (at: number, more: Partial<Look> = {}): Look => ({
  at,
  state: 'switch on disabled',
  errorCode: 0,
  position: 0,
  speed: 0,
  torque: 0,
  active: [],
  outputs: [],
  pressed: 0,
  ...more,
});
const moving = (at: number): Look => look(at, { state: 'operation enabled', speed: 100, position: at / 10 });
const judge = (step: keyof typeof machineTestSteps, looks: readonly Look[], more: Partial<StepRecord> = {}) => {
  const judgement = machineTestSteps[step].linked.judge({ looks, elapsed: 10_000, ...more }, context);
  return judgement.kind === 'judged' ? `${judgement.result.verdict}: ${judgement.result.sign}` : judgement.kind;
};
const done = { answer: 'done', sinceAnswer: 1000 } as const;

describe.each(['machineStop', 'machineSupply'] as const)('%s', (step) => {
  const stopped = [moving(0), moving(100), look(200, { position: 11 }), look(4000, { position: 12 })];

  it('waits for motion, for the end of power, and for three quiet seconds', () => {
    expect(judge(step, [look(0)])).toBe('wait');
    expect(judge(step, [moving(0), moving(100)])).toBe('wait');
    expect(judge(step, stopped)).toBe('wait');
    expect(judge(step, stopped.slice(0, 3), done)).toBe('wait');
    expect(judge(step, stopped, done)).toBe('passed: stops');
  });

  it('fails what goes on, and what restarts; what never moved proves nothing', () => {
    expect(judge(step, [moving(0), moving(4000)], done)).toBe('failed: no reaction');
    expect(judge(step, [...stopped, moving(5000)])).toBe('failed: restarts');
    expect(judge(step, [look(0), look(4000)], done)).toBe('undecided: ');
  });
});

describe('the spindle through its range', () => {
  it('changes neither a count nor an input of an axis at rest', () => {
    const still = [look(0), look(2000, { position: 0.001 }), look(4000)];
    expect(judge('spindleAlone', still)).toBe('wait');
    expect(judge('spindleAlone', still, done)).toBe('passed: quiet');
    expect(judge('spindleAlone', [...still, look(5000, { position: 0.01 })], done)).toBe('failed: changes');
    expect(judge('spindleAlone', [look(0), look(1000, { active: [limit] }), look(4000)], done)).toBe('failed: changes');
  });

  it('lets an axis come back to where it was, without an alarm', () => {
    const back = [look(0), moving(1000), look(5000, { position: 0.001 })];
    expect(judge('spindleMoving', back, done)).toBe('passed: fine');
    expect(judge('spindleMoving', [...back, look(6000, { position: 1 })], done)).toBe('failed: lost');
    expect(judge('spindleMoving', [...back, look(6000, { state: 'fault', errorCode: 0x8611 })])).toBe('failed: trips');
    expect(judge('spindleMoving', [look(0), look(5000)], done)).toBe('undecided: ');
  });
});
