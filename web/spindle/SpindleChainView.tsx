import { spindleStationKinds, type SpindleStationKind } from '@kavrid/core/spindle';
import { Box } from '@mui/material';
import type { ReactNode } from 'react';
import { Column } from '../ui/fieldParts.tsx';
import { FindingList } from '../ui/FindingList.tsx';
import { Panel } from '../ui/Panel.tsx';
import { BeltFields } from './fields/BeltFields.tsx';
import { SignalFields, WordFields } from './fields/CommandFields.tsx';
import { SpindleDriveFields } from './fields/SpindleDriveFields.tsx';
import { SpindleMotorFields } from './fields/SpindleMotorFields.tsx';
import { ToolFields } from './fields/ToolFields.tsx';
import { useSpindle } from '../member/useSpindle.ts';
import { SpindleResults, type SpindleResultGroup } from './SpindleResults.tsx';
import { SpindleStrip } from './SpindleStrip.tsx';
import { spindlePlace } from '../member/spindlePlaces.ts';
import { useAt } from '../member/useAt.ts';
import { spindleStationTitles } from '../member/spindleStationTitles.ts';

/** Plates and scaling of a spindle: its chain, the fields of the chosen station, and what follows from them. */
export function SpindleChainView() {
  const [at, choose] = useAt();
  const chosen = spindleStationKinds.find((kind) => kind === at) ?? 'signal';
  const { findings } = useSpindle().computation;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <SpindleStrip chosen={chosen} choose={choose} />
      <Box
        sx={{
          display: 'grid',
          gap: 1,
          gridTemplateColumns: { xs: '1fr', md: '300px minmax(330px, 1fr) minmax(340px, 1fr)' },
          alignItems: 'start',
        }}
      >
        <Panel title={spindleStationTitles[chosen]}>
          <Column>{fieldsOf(chosen)}</Column>
        </Panel>
        <Panel title="Results">
          <SpindleResults groups={groups} />
        </Panel>
        <Panel title={`Findings (${findings.length})`}>
          <FindingList findings={findings} placeOf={spindlePlace} />
        </Panel>
      </Box>
    </Box>
  );
}

const groups: readonly SpindleResultGroup[] = [
  {
    title: 'Tool speeds',
    symbols: ['lowestToolSpeed', 'lowestBy', 'highestToolSpeed', 'highestBy'],
    optional: ['rimSpeed'],
  },
  {
    title: 'Scaling',
    symbols: ['ratioNumber', 'hertzPerToolRpm', 'hertzAtWanted', 'hertzAtTop'],
    optional: ['signalPerToolRpm', 'toolRpmPerSignal', 'signalAtWanted', 'signalAtTop', 'toolSpeedAtFullSignal'],
  },
  { title: 'Resolution', symbols: [], optional: ['toolStep', 'coarserEnd', 'senderStep', 'takerStep'] },
  { title: 'Motor', symbols: ['poles', 'synchronousSpeed', 'slip', 'slipHertz', 'ratedTorque'] },
];

function fieldsOf(kind: SpindleStationKind): ReactNode {
  switch (kind) {
    case 'word':
      return <WordFields />;
    case 'signal':
      return <SignalFields />;
    case 'drive':
      return <SpindleDriveFields />;
    case 'motor':
      return <SpindleMotorFields />;
    case 'belt':
      return <BeltFields />;
    case 'tool':
      return <ToolFields />;
  }
}
