import { describe, expect, it } from 'vitest';
import { evaluateAxis, stationsOf, type AxisInput } from '../chain/index.ts';
import { planMove } from '../motion/index.ts';
import { exact, formatNumber, rational } from '../quantity/index.ts';
import { known, unknown } from '../sheet/index.ts';
import { carriage } from '../test/sampleAxis.ts';
import { findingsOf } from './index.ts';

const quantity = (value: number, template: string) => `${formatNumber(value, 5)} ${template.replace('{u}', 'mm')}`;
const found = (changes: Partial<AxisInput>) => {
  const input = { ...carriage, ...changes };
  const results = evaluateAxis(input);
  return findingsOf({ input, results, stations: stationsOf(input, results), quantity });
};
const limits = { numeratorMax: 32767n, denominatorMax: 32767n, ratioMin: rational(1, 50), ratioMax: rational(200) };

describe('findings', () => {
  it('a sound axis has none that stops or warns', () => {
    expect(found({}).filter((f) => f.severity !== 'note')).toEqual([]);
  });

  it.each<[string, Partial<AxisInput>, string]>([
    ['controllerRateExceeded', { controllerPulseRate: known(100000) }, '150\u202f000 pulses/s'],
    ['driveRateExceeded', { driveInputRate: known(100000) }, 'at most 100\u202f000'],
    ['motorOverspeed', { wantedSpeed: known(6000) }, '3\u202f375 rpm'],
    ['gearOutsideLimits', { gearLimits: known({ ...limits, ratioMax: rational(50) }) }, 'between 1/50 and 50'],
    [
      'gearOutsideLimits',
      { gearNumerator: known(exact(40000)), gearLimits: known(limits) },
      'numerator may be at most 32767',
    ],
    [
      'endlessNotExact',
      { endless: true, gearNumerator: known(exact(98)), gearDenominator: known(exact(1)) },
      'without bound',
    ],
    ['ratioInexact', { gearNumerator: known(exact(98)), gearDenominator: known(exact(1)) }, '5.721 mm'],
    // 99/98.304 gives 0.7 % more counts a pulse, by hand 7080 ppm.
    ['ratioInexact', { gearNumerator: known(exact(99)), gearDenominator: known(exact(1)) }, '7\u202f080.1 ppm more'],
    [
      'ratioInexact',
      { gearNumerator: known(exact(98)), gearDenominator: known(exact(1)) },
      'gives 3\u202f092.4 ppm less',
    ],
    ['counterWraps', { endless: true }, '2\u202f048 motor turns, 40.96 s'],
    ['counterWraps', { counterBits: known(24) }, '8 motor turns'],
    ['coarseCommand', { gearNumerator: known(exact(245760)) }, 'counts'],
    ['resolutionTooCoarse', { gearNumerator: known(exact(24576)) }, '0.02 mm, coarser than the 0.01'],
    ['resolutionTooCoarse', { encoderCycles: known(exact(1000)) }, 'One encoder count'],
    ['plusMovesMinus', { commandInverted: true }, 'minus end'],
    ['highInertiaRatio', { movedMass: known(400) }, 'times the rotor'],
    ['peakTorqueExceeded', { peakTorque: known(1) }, 'peak is 1 N·m'],
    ['rmsTorqueExceeded', { ratedTorque: known(0.1) }, 'rated torque is 0.1'],
    [
      'testMoveTooFast',
      { testMove: known(planMove(1800, { speed: 2500, acceleration: 20000 })) },
      'controller pulse rate',
    ],
  ])('%s', (id, changes, words) => {
    const finding = found(changes).find((f) => f.id === id);
    expect(finding?.message).toContain(words);
    expect(finding?.path).toMatch(/^\//);
    expect(finding?.remedy.length).toBeGreaterThan(10);
  });

  it('lists what stops first, and is silent where numbers are unknown', () => {
    const list = found({ wantedSpeed: known(9000) });
    expect(list[0]?.severity).toBe('stop');
    expect(found({ gearNumerator: unknown('empty') }).map((f) => f.id)).not.toContain('ratioInexact');
  });
});
