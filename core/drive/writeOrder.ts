import type { RawValues } from './compareValues.ts';
import { parameterOfRole, type DriveProfile } from './driveProfile.ts';

/**
 * The order in which values are written: what picks a mode or a form first, because ranges depend on it; then the others as the
 * map lists them. Of two soft limits that both change, the one goes first that keeps minus below plus on the way.
 * @param present raw values in the drive now
 * @param wanted raw values to write
 */
export function writeOrder(profile: DriveProfile, present: RawValues, wanted: RawValues): readonly string[] {
  const keys = profile.parameters.filter(({ key }) => wanted[key] !== undefined);
  const order = [...keys.filter(isChoice), ...keys.filter((each) => !isChoice(each))].map(({ key }) => key);
  const minus = parameterOfRole(profile, 'minusSoftLimit')?.key ?? '';
  const plus = parameterOfRole(profile, 'plusSoftLimit')?.key ?? '';
  const [minusAt, plusAt] = [order.indexOf(minus), order.indexOf(plus)];
  if (minusAt < 0 || plusAt < 0) return order;
  const isPlusFirst = (wanted[minus] ?? 0) >= (present[plus] ?? Infinity);
  if (isPlusFirst === plusAt < minusAt) return order;
  return order.map((key) => (key === minus ? plus : key === plus ? minus : key));
}

const isChoice = ({ choices }: { readonly choices: Readonly<Record<string, string>> }) =>
  Object.keys(choices).length > 0;
