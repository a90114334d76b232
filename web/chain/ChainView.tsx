import { Box } from '@mui/material';
import { memo } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { axisPlace } from '../member/axisPlaces.ts';
import { Later } from '../member/Later.tsx';
import { useAt } from '../member/useAt.ts';
import { FindingList } from '../ui/FindingList.tsx';
import { useSteady } from '../ui/useSteady.ts';
import { Panel } from '../ui/Panel.tsx';
import { ChainStrip } from './ChainStrip.tsx';
import { CommandChoices } from './commandFaces.tsx';
import { Results } from './Results.tsx';
import { StationFields } from './StationFields.tsx';

/** Plates and scaling: the chain as a shaft, the fields of the chosen station, and what follows from them. */
export function ChainView() {
  const [chosen = 'drive', choose] = useAt();
  const steadyChoose = useSteady(choose);
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <ChainStrip chosen={chosen} choose={choose} />
      <Columns chosen={chosen} choose={steadyChoose} />
    </Box>
  );
}

/** Of itself it does not follow the axis: what is in it does, each part as far as it must. */
const Columns = memo(function Columns(props: { readonly chosen: string; readonly choose: (id: string) => void }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: '300px minmax(330px, 1fr) minmax(340px, 1fr)' },
        alignItems: 'start',
      }}
    >
      <StationFields chosen={props.chosen} choose={props.choose} />
      <Panel title="Results">
        <Results />
      </Panel>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Findings />
        <Later>
          <Choices />
        </Later>
      </Box>
    </Box>
  );
});

/** Ratios to choose among, where there is a gear; the scale, where there is one. */
function Choices() {
  return <CommandChoices command={useAxis().document.command} />;
}

function Findings() {
  const { document, computation } = useAxis();
  const { findings } = computation;
  return (
    <Panel title={`Findings (${findings.length})`}>
      <FindingList findings={findings} placeOf={(path) => axisPlace(document, path)} />
    </Panel>
  );
}
