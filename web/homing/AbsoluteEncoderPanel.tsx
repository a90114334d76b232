import type { AxisDocument } from '@kavrid/contract';
import { Box, Typography } from '@mui/material';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { useEdit } from '../member/memberContext.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { useAxis } from '../member/useAxis.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { Panel } from '../ui/Panel.tsx';

const newEncoder: NonNullable<AxisDocument['homing']['absolute']> = {
  turns: null,
  counts: 'from zero',
  turnsAtHome: null,
  hasBattery: false,
};

/** An encoder that keeps its position without power. */
export function AbsoluteEncoderPanel() {
  const { absolute } = useAxis().document.homing;
  const edit = useEdit();
  return (
    <Panel title="Absolute encoder">
      <Box sx={{ display: 'grid', gap: 1 }}>
        <ChoiceField
          field="/homing/absolute"
          label="Without power the encoder"
          value={absolute ? 'keeps' : 'loses'}
          choices={[
            { value: 'loses', label: 'loses its position' },
            { value: 'keeps', label: 'keeps its position (absolute)' },
          ]}
          onChange={(choice) => edit(['homing', 'absolute'], choice === 'keeps' ? newEncoder : null)}
        />
        {absolute && (
          <>
            <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
              <NumberField label="Motor turns" path={['homing', 'absolute', 'turns']} rule="encoderTurns" />
              <NumberField label="Turns read at home" path={['homing', 'absolute', 'turnsAtHome']} rule="turnsRead" />
            </Box>
            <DocumentChoice
              label="Its turns count"
              value={absolute.counts}
              path={['homing', 'absolute', 'counts']}
              choices={[
                { value: 'from zero', label: 'from 0 up' },
                { value: 'to both sides', label: 'to both sides of 0' },
              ]}
            />
            <Toggle
              label="A battery keeps them"
              path={['homing', 'absolute', 'hasBattery']}
              value={absolute.hasBattery}
            />
            <Typography variant="body2" color="text.secondary">
              Motor turns that it tells apart: 1 for a single-turn encoder, 4096 for 12 bits of turns.
            </Typography>
          </>
        )}
      </Box>
    </Panel>
  );
}
