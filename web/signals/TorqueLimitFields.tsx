import { patternsOf } from '@kavrid/core/signal';
import { Box } from '@mui/material';
import { useEdit } from '../member/memberContext.ts';
import { fitted, NamesField } from '../chain/fields/ChoiceInputFields.tsx';
import { PointsTable } from '../member/PointsTable.tsx';
import { useChoiceCommand } from './useChoiceCommand.ts';

/** Torque limits that further inputs pick. */
export function TorqueLimitFields() {
  const { typed } = useChoiceCommand();
  const edit = useEdit();
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <NamesField
        label="Selecting inputs"
        names={typed.torqueInputs}
        change={(torqueInputs) =>
          edit(['command'], { ...typed, torqueInputs, torqueLimits: fitted(typed.torqueLimits, torqueInputs.length) })
        }
        most={4}
        least={0}
      />
      {typed.torqueInputs.length > 0 && (
        <PointsTable
          label="Torque limits"
          path={['command', 'torqueLimits']}
          rows={typed.torqueLimits}
          columns={[
            {
              field: 'pattern',
              title: 'Pattern',
              choices: patternsOf(typed.torqueInputs.length).map((value) => ({ value, label: value })),
            },
            { field: 'limit', title: 'Limit, %', rule: 'percent' },
          ]}
          blank={{ pattern: patternsOf(typed.torqueInputs.length)[typed.torqueLimits.length] ?? '0', limit: null }}
          what="limit"
        />
      )}
    </Box>
  );
}
