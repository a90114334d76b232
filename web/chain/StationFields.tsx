import type { Station } from '@kavrid/core/chain';
import { memo, type ReactNode } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { Panel } from '../ui/Panel.tsx';
import { ControllerFields } from './fields/ControllerFields.tsx';
import { DriveFields } from './fields/DriveFields.tsx';
import { LoadFields } from './fields/LoadFields.tsx';
import { MotorFields } from './fields/MotorFields.tsx';
import { Column } from '../ui/fieldParts.tsx';
import { StageFields } from './fields/StageFields.tsx';
import { stationName } from '../member/stationName.ts';

type Choose = (id: string) => void;

/** The fields of the station chosen in the strip; of the first one where that station is gone. */
export function StationFields({ chosen, choose }: { readonly chosen: string; readonly choose: Choose }) {
  const { stations } = useAxis().computation;
  const station = stations.find(({ id }) => id === chosen) ?? stations[0];
  return (
    station && (
      <FieldsPanel key={station.id} id={station.id} kind={station.kind} title={stationName(station)} choose={choose} />
    )
  );
}

const FieldsPanel = memo(function FieldsPanel(
  props: Pick<Station, 'id' | 'kind'> & { readonly title: string; readonly choose: Choose },
) {
  return (
    <Panel title={props.title}>
      <Column>{fieldsOf(props, props.choose)}</Column>
    </Panel>
  );
});

function fieldsOf({ id, kind }: Pick<Station, 'id' | 'kind'>, choose: Choose): ReactNode {
  switch (kind) {
    case 'controller':
      return <ControllerFields />;
    case 'drive':
      return <DriveFields />;
    case 'motor':
      return <MotorFields />;
    case 'stage':
      return <StageFields index={Number(id.replace('stage-', ''))} choose={choose} />;
    case 'load':
      return <LoadFields />;
  }
}
