import { evaluateAxis } from '@kavrid/core/chain';
import { valueOf } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import { axisInputOf } from './axisInputOf.ts';

/** A DC supply that axes of a machine name, with what they take from it together. */
export interface SharedSupply {
  readonly name: string;
  readonly axes: readonly {
    readonly name: string;
    /** A at the peak of its test move, J of one stop; undefined while not known */
    readonly peakCurrent: number | undefined;
    readonly brakingEnergy: number | undefined;
  }[];
  /** A; the lowest that any axis says of it */
  readonly ratedCurrent: number | undefined;
  /** A of those axes that are known */
  readonly totalCurrent: number;
  /** J when all stop at once */
  readonly totalEnergy: number;
  readonly takesEnergyBack: boolean;
  /** The axes tell different voltages. */
  readonly voltages: readonly number[];
}

/** The DC supplies of a machine, by the name its axes give them. */
export function suppliesOf(axes: readonly AxisDocument[]): readonly SharedSupply[] {
  const fed = axes.filter(({ drive, supply }) => drive.supply.kind === 'DC' && supply.name !== '');
  return [...new Set(fed.map(({ supply }) => supply.name))].map((name) => {
    const own = fed.filter(({ supply }) => supply.name === name);
    const figures = own.map((axis) => {
      const results = evaluateAxis(axisInputOf(axis).input);
      return {
        name: axis.name,
        peakCurrent: valueOf(results.supplyPeakCurrent),
        brakingEnergy: valueOf(results.brakingEnergy),
      };
    });
    const rated = own.flatMap(({ supply }) => supply.ratedCurrent ?? []);
    return {
      name,
      axes: figures,
      ratedCurrent: rated.length > 0 ? Math.min(...rated) : undefined,
      totalCurrent: figures.reduce((sum, { peakCurrent = 0 }) => sum + peakCurrent, 0),
      totalEnergy: figures.reduce((sum, { brakingEnergy = 0 }) => sum + brakingEnergy, 0),
      takesEnergyBack: own.every(({ supply }) => supply.takesEnergyBack),
      voltages: [...new Set(own.flatMap(({ supply }) => supply.voltage ?? []))],
    };
  });
}
