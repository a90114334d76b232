import type { Station } from '@kavrid/core/chain';
import { Box } from '@mui/material';
import type { ReactNode } from 'react';
import { Panel } from '../ui/Panel.tsx';
import { ControllerFields } from './fields/ControllerFields.tsx';
import { DriveFields } from './fields/DriveFields.tsx';
import { LoadFields } from './fields/LoadFields.tsx';
import { MotorFields } from './fields/MotorFields.tsx';
import { StageFields } from './fields/StageFields.tsx';
import { stationName } from './stationName.ts';

/** The fields of the station chosen in the strip. */
export function StationFields({
  station,
  choose,
}: {
  readonly station: Station;
  readonly choose: (id: string) => void;
}) {
  return (
    <Panel title={stationName(station)}>
      <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>{fieldsOf(station, choose)}</Box>
    </Panel>
  );
}

function fieldsOf(station: Station, choose: (id: string) => void): ReactNode {
  switch (station.kind) {
    case 'controller':
      return <ControllerFields />;
    case 'drive':
      return <DriveFields />;
    case 'motor':
      return <MotorFields />;
    case 'stage':
      return <StageFields index={Number(station.id.replace('stage-', ''))} choose={choose} />;
    case 'load':
      return <LoadFields />;
  }
}
