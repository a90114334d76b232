import { useMemo } from 'react';
import { axisWords, type AxisUnit, type AxisWording } from '@kavrid/core/chain';
import { conversion, formatNumber, toNumber } from '@kavrid/core/quantity';
import type { Preferences } from '../store/preferences.ts';
import { useAppSelector } from '../store/store.ts';

/** How values of an axis are shown: in its own unit, or in inches where lengths are wanted so. */
export interface ShownUnits {
  readonly unit: AxisUnit | 'in';
  /** `{u}/s²` → `mm/s²`, `{torque}` → `N·m` */
  readonly name: (template: string) => string;
  /** From the unit of the axis to the one shown; the template says how the unit enters. */
  readonly shown: (value: number, template: string) => number;
  readonly own: (value: number, template: string) => number;
  /** For reading, with its unit. */
  readonly quantity: (value: number, template: string) => string;
}

const perInch = toNumber(conversion('in', 'mm'));

/** The power with which the unit of the axis enters: 1 for `{u}/s`, −1 for `pulses/{u}`. */
const powerOf = (template: string): number => (template.startsWith('{u}') ? 1 : template.includes('/{u}') ? -1 : 0);

export function shownUnits(axis: AxisWording, lengths: Preferences['lengths']): ShownUnits {
  const { axisUnit } = axis;
  const inches = axisUnit === 'mm' && lengths === 'inch';
  const unit = inches ? 'in' : axisUnit;
  // A signal that commands a position has values in the unit of the axis.
  const isPlace = axis.command !== undefined && 'meaning' in axis.command && axis.command.meaning === 'position';
  const own = (template: string) => (isPlace ? template.replace('{value}', '{u}') : template);
  const factor = (template: string) => (inches ? perInch ** powerOf(own(template)) : 1);
  const name = (template: string) => axisWords(own(template), axis, unit);
  const shown = (value: number, template: string) => value / factor(template);
  return {
    unit,
    name,
    shown,
    own: (value, template) => value * factor(template),
    quantity: (value, template) => `${formatNumber(shown(value, template), 5)} ${name(template)}`,
  };
}

export function useShownUnits({ axisUnit, motorForm, command }: AxisWording): ShownUnits {
  const lengths = useAppSelector((state) => state.preferences.lengths);
  // A command is read again at every keystroke; its words change seldom.
  const { unit, meaning } = command && 'range' in command ? { unit: command.range.unit, meaning: command.meaning } : {};
  return useMemo(
    () =>
      shownUnits({ axisUnit, motorForm, command: unit && meaning ? { range: { unit }, meaning } : undefined }, lengths),
    [axisUnit, motorForm, unit, meaning, lengths],
  );
}
