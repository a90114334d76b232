import { Box, Typography } from '@mui/material';
import { ConnectButton } from '../member/ConnectButton.tsx';
import { DriveNews } from '../member/DriveNews.tsx';
import { HoldNotice } from '../member/HoldNotice.tsx';
import { useLinkLive } from '../member/useLive.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { InputTable } from './InputTable.tsx';
import { OutputTable } from './OutputTable.tsx';
import { SensorWalkPanel } from './SensorWalkPanel.tsx';

/** Every input of the drive as it is now, and the sensors tripped by hand one after the other. */
export function InputsView() {
  const { link, count, hasOutputs, message } = useLinkLive((live) => ({
    link: live?.link ?? 'off',
    count: live?.inputs.length ?? 0,
    hasOutputs: (live?.outputs.length ?? 0) > 0,
    message: live?.message ?? '',
  }));
  const isUp = link === 'up';
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 3fr) minmax(0, 2fr)' },
        alignItems: 'start',
      }}
    >
      <Panel
        title="Inputs and outputs of the drive"
        style={windowHigh}
        aside={
          <Typography variant="body2" color="text.secondary">
            {isUp ? 'live' : link === 'connecting' ? 'connecting' : 'not connected'}
          </Typography>
        }
      >
        {!isUp && <ConnectButton />}
        {!isUp && message && <Hint>{message}</Hint>}
        {isUp && count === 0 && (
          <Hint>
            The register map of this drive lists no inputs. Rows of the kind “input” name them, each with its bit in the
            register inputStates.
          </Hint>
        )}
        {count > 0 && <InputTable />}
        {hasOutputs && <OutputTable />}
      </Panel>
      <Panel title="Sensor walk" style={windowHigh}>
        <DriveNews />
        <HoldNotice />
        <SensorWalkPanel />
      </Panel>
    </Box>
  );
}
