import { formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box } from '@mui/material';
import { Panel } from '../ui/Panel.tsx';
import { useSpindle } from '../member/useSpindle.ts';

/** min that one waits where the drive's own time is not known (common practice). */
const waitTime = 15;

/** In which order things are done, with the numbers of this spindle. */
export function OrderOfWork() {
  const { document, computation } = useSpindle();
  const { results, input } = computation;
  const wait = Math.max(waitTime, valueOf(input.drive.dischargeTime) ?? waitTime);
  const volts = valueOf(results.motorVolts);
  const hertz = valueOf(results.plateHertz);
  const amps = valueOf(results.motorCurrent);
  const idle = valueOf(results.noLoadCurrent);
  const connection = valueOf(results.connection);
  const n = (value: number | undefined, unit: string) =>
    value === undefined ? `? ${unit}` : `${formatNumber(value, 3)} ${unit}`;
  return (
    <Panel title="Order of work">
      <Box component="ol" sx={{ m: 0, pl: 2.5, fontSize: 13, display: 'grid', gap: 0.4 }}>
        <li>
          Switch off, lock it off, and wait {wait} minutes before touching a terminal; then measure that the DC bus is
          empty.
        </li>
        <li>
          Connect supply and protective earth to the drive. Leave the motor leads disconnected: a drive as delivered is
          not set for this motor.
        </li>
        <li>
          Key in motor, base ({n(hertz, 'Hz')}, {n(volts, 'V')}), protection ({n(amps, 'A')}) and limits from the key-in
          sheet, and keep them.
        </li>
        <li>Run the drive without the motor: does the output frequency follow the command?</li>
        <li>
          Switch off and wait again. Connect the motor in {connection ?? '?'}, then connect its leads and its earth.
        </li>
        <li>
          Run at the lowest speed without a tool{document.tool.name ? ` (${document.tool.name})` : ''}: is the direction
          right, at about {n(idle, 'A')}? To reverse it, swap two motor leads.
        </li>
        <li>Then the run test, first without load; fit the tool last.</li>
      </Box>
    </Panel>
  );
}
