import type { DriveParameter } from '@kavrid/core/drive';
import type { ReactNode } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { NumberField } from '../member/QuantityField.tsx';

/** Where a planned value is typed here; the others follow from the chain or from the homing. */
export function plannedField(role: DriveParameter['role'], label: string): ReactNode {
  switch (role) {
    case 'inertiaRatio':
      return <NumberField bare label={label} path={['settings', role]} rule="inertiaRatio" />;
    case 'positionGain':
      return <NumberField bare label={label} path={['settings', role]} rule="gain" />;
    case 'speedBandwidth':
      return <NumberField bare label={label} path={['settings', role]} rule="bandwidth" />;
    case 'speedIntegralTime':
      return <NumberField bare label={label} path={['settings', role]} rule="integralTime" />;
    case 'velocityFeedforward':
    case 'accelerationFeedforward':
    case 'torqueLimit':
      return <NumberField bare label={label} path={['settings', role]} rule="percent" />;
    case 'torqueFilter':
      return <NumberField bare label={label} path={['settings', role]} rule="filterTime" />;
    case 'notchFrequency':
    case 'notchWidth':
    case 'notchDepth':
      return <NumberField bare label={label} path={['settings', role]} rule={role} />;
    case 'followingErrorWindow':
      return <NumberField bare label={label} path={['settings', role]} rule="distance" />;
    case 'minusSoftLimit':
    case 'plusSoftLimit':
      return <NumberField bare label={label} path={['settings', role]} rule="position" />;
    case 'homingSearchSpeed':
      return <NumberField bare label={label} path={['homing', 'searchSpeed']} rule="speed" />;
    case 'homingCreepSpeed':
      return <NumberField bare label={label} path={['homing', 'creepSpeed']} rule="speed" />;
    case 'homingAcceleration':
      return <NumberField bare label={label} path={['homing', 'acceleration']} rule="acceleration" />;
    case 'homeOffset':
      return <NumberField bare label={label} path={['homing', 'positionAtHome']} rule="position" />;
    case 'enableActiveLevel':
    case 'limitActiveLevel':
      return <LevelField role={role} label={label} />;
    default:
      return undefined;
  }
}

function LevelField({
  role,
  label,
}: {
  readonly role: 'enableActiveLevel' | 'limitActiveLevel';
  readonly label: string;
}) {
  const { document } = useAxis();
  return (
    <DocumentChoice
      bare
      label={label}
      value={document.settings[role]}
      path={['settings', role]}
      choices={[
        { value: 'low', label: role === 'limitActiveLevel' ? 'low (normally closed)' : 'low' },
        { value: 'high', label: role === 'limitActiveLevel' ? 'high (normally open)' : 'high' },
      ]}
    />
  );
}
