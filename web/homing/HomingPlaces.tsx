import { Box, Typography } from '@mui/material';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { Panel } from '../ui/Panel.tsx';

/** Where switches, stops and pulses are. */
export function HomingPlaces() {
  const { by, homeContact } = useAxis().document.homing;
  return (
    <Panel title="Switches, stops, speeds">
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        <NumberField label="Search speed" path={['homing', 'searchSpeed']} rule="speed" />
        <NumberField label="Creep speed" path={['homing', 'creepSpeed']} rule="speed" />
        <NumberField label="Acceleration" path={['homing', 'acceleration']} rule="acceleration" />
        <NumberField label="Position at home" path={['homing', 'positionAtHome']} rule="position" />
        <NumberField label="Home switch from" path={['homing', 'homeSwitchFrom']} rule="position" />
        <NumberField label="Home switch length" path={['homing', 'homeSwitchLength']} rule="distance" />
        <NumberField label="Minus hard stop at" path={['homing', 'minusStop']} rule="position" />
        <NumberField label="Plus hard stop at" path={['homing', 'plusStop']} rule="position" />
        <NumberField label="An index pulse at" path={['homing', 'indexAt']} rule="position" />
        <NumberField label="Index pulse that counts" path={['homing', 'indexPulse']} rule="indexPulse" />
        <NumberField label="Second flag from" path={['homing', 'secondFlagFrom']} rule="position" />
        <NumberField label="Ramp jerk" path={['homing', 'jerk']} rule="jerk" />
        <NumberField label="Switch hysteresis" path={['homing', 'hysteresis']} rule="distance" />
        <NumberField label="Switch scatter (1 σ)" path={['homing', 'switchScatter']} rule="distance" />
        <NumberField label="Switch drift, ±" path={['homing', 'switchDrift']} rule="distance" />
        <DocumentChoice
          label="Home switch contact"
          value={homeContact}
          path={['homing', 'homeContact']}
          choices={[
            { value: 'not settled', label: 'not settled' },
            { value: 'normallyClosed', label: 'normally closed' },
            { value: 'normallyOpen', label: 'normally open' },
          ]}
        />
        <NumberField label={`Scan of the ${by}`} path={['homing', 'scanPeriod']} rule="dwell" />
        <NumberField label="Input debounce" path={['homing', 'debounce']} rule="dwell" />
        <NumberField label="Longest search" path={['homing', 'mostTravel']} rule="distance" />
        <NumberField label="Torque limit homing" path={['homing', 'torqueLimit']} rule="percent" />
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.75 }}>
        Places count from the minus limit, where that switches.
      </Typography>
    </Panel>
  );
}
