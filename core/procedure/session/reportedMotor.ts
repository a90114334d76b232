import type { DriveProfile, PlateComparison } from '../../drive/index.ts';
import type { MemberPlan, PlateValue } from './memberPlan.ts';

/** Objects 0x608F, 0x6076 and a maker’s own of the CiA 402 drive profile: what a drive knows of its motor. */
const registers: readonly PlateValue['register'][] = ['encoderIncrements', 'motorRatedTorque', 'motorPeakTorque'];

export const reportedKeys = (profile: DriveProfile): readonly string[] =>
  registers.filter((key) => profile.registers[key] !== undefined);

/** The plates beside what the drive reports; what it does not report is left out. */
export const plateComparisons = (
  { plates }: MemberPlan,
  profile: DriveProfile,
  reported: Readonly<Record<string, number>>,
): readonly PlateComparison[] =>
  plates.flatMap(({ register, label, unit, value, tolerance }) => {
    const raw = reported[register];
    const place = profile.registers[register];
    if (raw === undefined || !place) return [];
    const drive = raw * place.scale;
    return [{ label, unit, plate: value, drive, agrees: Math.abs(drive - value) <= tolerance * Math.abs(value) }];
  });

/** Why the drive may not be enabled: it is set for another motor; undefined: nothing it reports says so. */
export function otherMotor(comparisons: readonly PlateComparison[]): string | undefined {
  const wrong = comparisons.find(({ agrees }) => !agrees);
  return (
    wrong &&
    `${wrong.label}: the drive reports ${wrong.drive} ${wrong.unit}, the nameplate says ${wrong.plate} ${wrong.unit}. Correct the nameplate data, or the motor selection in the drive.`
  );
}
