import { patternsOf } from '@kavrid/core/signal';
import { Box } from '@mui/material';
import { useState } from 'react';
import { useLocation } from 'react-router';
import { ChoiceDriveFields, ChoiceInputFields } from '../chain/fields/ChoiceInputFields.tsx';
import { Panel } from '../ui/Panel.tsx';
import { EdgeFields } from './EdgeFields.tsx';
import { FirstEnable } from './FirstEnable.tsx';
import { MoveFields } from './MoveFields.tsx';
import { TorqueLimitFields } from './TorqueLimitFields.tsx';
import { TruthTable } from './TruthTable.tsx';
import { useChoiceCommand } from './useChoiceCommand.ts';

/** Which pattern of inputs does what, and what happens on the way from one to the next. */
export function MovesPanel() {
  const { typed, choice } = useChoiceCommand();
  const { hash, key } = useLocation();
  // A finding leads to a move by its index.
  const led = typed.moves[Number(/^#\/command\/moves\/(\d+)/.exec(hash)?.[1])]?.pattern;
  const [picked, setPicked] = useState<{ readonly key: string; readonly pattern: string }>();
  const pattern = picked?.key === key ? picked.pattern : (led ?? picked?.pattern);
  const patterns = patternsOf(choice.inputs.length);
  const open = pattern && patterns.includes(pattern) ? pattern : typed.moves[0]?.pattern;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 3fr) minmax(0, 2fr)', alignItems: 'start' }}>
        <Panel title="Truth table">
          <TruthTable open={open} choose={(next) => setPicked({ key, pattern: next })} />
        </Panel>
        <Panel title={open === undefined ? 'A move' : `Move of ${open}`}>
          <MoveFields pattern={open} />
        </Panel>
      </Box>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
        <Panel title="Inputs and timing">
          <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
            <ChoiceInputFields command={typed} />
            <ChoiceDriveFields command={typed} />
          </Box>
        </Panel>
        <Box sx={{ display: 'grid', gap: 1 }}>
          <Panel title="Sequence of moves">
            <FirstEnable />
          </Panel>
          <Panel title="Edges of inputs">
            <EdgeFields />
          </Panel>
          <Panel title="Torque limits switched by inputs">
            <TorqueLimitFields />
          </Panel>
        </Box>
      </Box>
    </Box>
  );
}
