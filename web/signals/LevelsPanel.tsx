import { lineResult, outputKinds, type LineResult } from '@kavrid/core/signal';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { Hint, Pair } from '../ui/fieldParts.tsx';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { CablePanel } from './CablePanel.tsx';
import { PinOut } from './PinOut.tsx';
import { CircuitPicture } from './CircuitPicture.tsx';
import { FactTable } from '../ui/FactTable.tsx';

const milliamperes = { unit: 'mA', of: 1000 };

/** Whether the two ends fit electrically, how the current goes, and which resistor it takes. */
export function LevelsPanel() {
  const { document, computation } = useAxis();
  const edit = useEdit();
  const { signal, drive } = document;
  const { circuit } = computation.input.signal;
  const line = lineResult(circuit);
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Panel title="Pulse line">
        <CircuitPicture circuit={circuit} line={line.state === 'known' ? line.value : undefined} />
        {line.state === 'known' ? <LineFacts line={line.value} /> : <Hint>Not known yet: {line.because}.</Hint>}
      </Panel>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'repeat(3, 1fr)', alignItems: 'start' }}>
        <Panel title="Controller’s output">
          <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
            <ChoiceField
              field="/signal/output"
              label="Output used"
              value={signal.output}
              choices={outputKinds.map((value) => ({ value, label: value }))}
              onChange={(value) => {
                edit(['signal', 'output'], value);
                edit(['command', 'electrical'], value === 'differential' ? 'differential' : 'singleEnded');
              }}
            />
            <Pair>
              <NumberField label="Output voltage" path={['controller', 'outputVoltage']} rule="voltage" />
              <NumberField label="Voltage drop" path={['controller', 'outputDrop']} rule="voltage" />
            </Pair>
            <NumberField
              label="Current limit of the output"
              path={['controller', 'outputCurrent']}
              rule="current"
              shownIn={milliamperes}
            />
          </Box>
        </Panel>
        <CablePanel />
        <Panel title="Drive’s input">
          <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
            <DocumentChoice
              label="Input circuit"
              value={drive.pulseInput.kind}
              choices={[
                { value: 'optocoupler', label: 'an optocoupler' },
                { value: 'receiver', label: 'a differential receiver' },
              ]}
              path={['drive', 'pulseInput', 'kind']}
            />
            {drive.pulseInput.kind === 'optocoupler' && (
              <Pair>
                <NumberField label="Forward voltage" path={['drive', 'pulseInput', 'forwardVoltage']} rule="voltage" />
                <NumberField
                  label="Series resistor"
                  path={['drive', 'pulseInput', 'resistance']}
                  rule="resistance"
                  help="0: none"
                />
                <NumberField
                  label="Least current"
                  path={['drive', 'pulseInput', 'minimumCurrent']}
                  rule="current"
                  shownIn={milliamperes}
                />
                <NumberField
                  label="Most current"
                  path={['drive', 'pulseInput', 'maximumCurrent']}
                  rule="current"
                  shownIn={milliamperes}
                />
              </Pair>
            )}
          </Box>
        </Panel>
      </Box>
    </Box>
  );
}

const fitWords: Readonly<Record<LineResult['fit'], string>> = {
  fits: 'It fits',
  ruinous: 'Do not connect it',
  'too weak': 'Pulses will be lost',
  'does not fit': 'It does not fit',
};

function LineFacts({ line }: { readonly line: LineResult }) {
  const edit = useEdit();
  const { document } = useAxis();
  const { resistor, fit } = line;
  const now = document.cable.resistor ?? 0;
  return (
    <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
      <Box>
        <Typography role="status" sx={{ fontWeight: 600, color: fit === 'fits' ? 'primary.main' : 'error.main' }}>
          {fitWords[fit]}: {line.because}.
        </Typography>
        {line.path.length > 0 && (
          <Typography variant="body2" color="text.secondary">
            The current’s path: {line.path.join(' → ')}.
          </Typography>
        )}
        <FactTable label="Terminals" rows={line.wires.map(({ from, to }) => ({ what: from, is: to }))} />
      </Box>
      <Box>
        {resistor && (
          <>
            <FactTable
              label="Resistor to fit"
              rows={[
                {
                  what: now > 0 ? 'Resistor to add to the line' : 'Resistor for the line',
                  is: `${formatNumber(resistor.ohms, 3)} Ω`,
                  strong: true,
                },
                { what: 'Current then', is: `${formatNumber(resistor.current * 1000, 3)} mA` },
                { what: 'Power dissipated', is: `${formatNumber(resistor.power, 2)} W` },
                { what: 'Power rating to choose', is: `${formatNumber(resistor.rating, 3)} W` },
              ]}
            />
            <Button onClick={() => edit(['cable', 'resistor'], now + resistor.ohms)}>
              {now > 0 ? 'Add' : 'Put'} {formatNumber(resistor.ohms, 3)} Ω {now > 0 ? 'to' : 'into'} the line
            </Button>
          </>
        )}
        <PinOut />
      </Box>
    </Box>
  );
}
