import { holdsPosition, type AxisDocument, type RuleName } from '@kavrid/contract';
import type { ParameterRole } from '@kavrid/core/drive';
import type { MemberPath } from '../member/memberContext.ts';

/** A value that is planned for a drive by typing it. */
export interface PlannedRow {
  readonly role: ParameterRole;
  readonly label: string;
  readonly path: MemberPath<number | null>;
  readonly rule: RuleName;
  /** The test move cannot be predicted without it. */
  readonly isPredicted?: boolean;
  /** It is keyed in at the controller. */
  readonly atController?: boolean;
}

interface PlannedGroup {
  readonly title: string;
  readonly rows: readonly PlannedRow[];
}

type NumberSetting = {
  [Role in ParameterRole & keyof AxisDocument['settings']]: AxisDocument['settings'][Role] extends number | null
    ? Role
    : never;
}[ParameterRole & keyof AxisDocument['settings']];

const settings = (role: NumberSetting, label: string, rule: RuleName, isPredicted = false): PlannedRow => ({
  role,
  label,
  path: ['settings', role],
  rule,
  isPredicted,
});

const speedLoop = [
  settings('inertiaRatio', 'Inertia ratio', 'inertiaRatio', true),
  settings('speedBandwidth', 'Speed loop bandwidth', 'bandwidth', true),
  settings('speedIntegralTime', 'Speed loop integral time', 'integralTime', true),
];
const positionLoop = [
  settings('positionGain', 'Position loop gain', 'gain', true),
  settings('velocityFeedforward', 'Velocity feedforward', 'percent', true),
  settings('accelerationFeedforward', 'Acceleration feedforward', 'percent'),
];
const torqueCommand = [
  settings('torqueFilter', 'Filter of the torque command', 'filterTime'),
  settings('notchFrequency', 'Notch frequency', 'notchFrequency'),
  settings('notchWidth', 'Notch width', 'notchWidth'),
  settings('notchDepth', 'Notch depth', 'notchDepth'),
];

const brakeDelays: readonly PlannedRow[] = [
  { role: 'brakeReleaseDelay', label: 'Release delay', path: ['brake', 'releaseDelay'], rule: 'dwell' },
  { role: 'brakeEngageDelay', label: 'Engage delay', path: ['brake', 'engageDelay'], rule: 'dwell' },
];

/** The drive values that are typed in for an axis like this one. Values computed from the chain and the signals are not listed. */
export function plannedGroups(axis: AxisDocument): readonly PlannedGroup[] {
  const holds = holdsPosition(axis);
  const { homing, brake } = axis;
  const at =
    (end: string) =>
    (row: PlannedRow): PlannedRow => ({ ...row, atController: end === 'controller' });
  const byHoming = at(homing.by);
  return [
    { title: 'Loops', rows: [...speedLoop, ...(holds ? positionLoop : []), ...torqueCommand] },
    {
      title: 'Limits',
      rows: [
        settings('torqueLimit', 'Torque limit', 'percent', true),
        ...(holds ? [settings('followingErrorWindow', 'Following-error window', 'distance', true)] : []),
        byHoming(settings('minusSoftLimit', 'Minus soft limit', 'position')),
        byHoming(settings('plusSoftLimit', 'Plus soft limit', 'position')),
      ],
    },
    {
      title: 'Homing',
      rows: (
        [
          { role: 'homingSearchSpeed', label: 'Homing search speed', path: ['homing', 'searchSpeed'], rule: 'speed' },
          { role: 'homingCreepSpeed', label: 'Homing creep speed', path: ['homing', 'creepSpeed'], rule: 'speed' },
          {
            role: 'homingAcceleration',
            label: 'Homing acceleration',
            path: ['homing', 'acceleration'],
            rule: 'acceleration',
          },
          { role: 'homeOffset', label: 'Position at home', path: ['homing', 'positionAtHome'], rule: 'position' },
        ] satisfies readonly PlannedRow[]
      ).map(byHoming),
    },
    {
      title: 'Holding brake',
      rows: brake.drivenBy === 'drive' || brake.drivenBy === 'controller' ? brakeDelays.map(at(brake.drivenBy)) : [],
    },
  ];
}

const isTyped = (axis: AxisDocument, { path: [part, field] }: PlannedRow): boolean =>
  (axis as unknown as Readonly<Record<string, Readonly<Record<string, unknown>>>>)[String(part)]?.[String(field)] !==
  null;

/** Of what a prediction needs, how much is planned. */
export function plannedStanding(axis: AxisDocument): string {
  const needed = plannedGroups(axis)
    .flatMap(({ rows }) => rows)
    .filter(({ isPredicted }) => isPredicted);
  const open = needed.filter((row) => !isTyped(axis, row)).length;
  return open === 0 ? 'planned' : open === needed.length ? 'open' : `${open} empty`;
}
