import { wantedPicks } from '@kavrid/contract';
import { commandsOneWay } from '@kavrid/core/chain';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { DriveNews } from '../member/DriveNews.tsx';
import { HoldNotice } from '../member/HoldNotice.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { TemporarySettings } from '../member/TemporarySettings.tsx';
import { useAxis } from '../member/useAxis.ts';
import { useAxisLive } from '../member/useLive.ts';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { hostWay } from './hostWay.ts';

/** The moves that are to be made, and their recording. */
export function RecordPanel() {
  const { memberId, document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const dispatch = useAppDispatch();
  const { link, activity, mayWatch, progress, position } = useAxisLive((live) => ({
    link: live?.link,
    activity: live?.activity,
    // A drive that its controller has enabled is just what is recorded.
    mayWatch: live?.holder !== 'another window' && live?.identity?.isConfirmed === true,
    progress: live?.progress ?? '',
    position: live?.position,
  }));
  const isRecording = activity === 'controller move';
  const { distance, repeats, speed } = document.moves.host;
  const picks = wantedPicks(document);
  const way = hostWay(document);
  const isOneWay = commandsOneWay(computation.input.command, computation.results) === true;
  const ordered = (): { readonly isPlanned: boolean; readonly order: string } => {
    switch (way) {
      case 'picks':
        return picks.length > 0
          ? {
              isPlanned: true,
              order: `Pick the moves to positions in the order of their list, ${picks.map(({ pattern }) => pattern).join(', ')}, each until it has come to rest.`,
            }
          : { isPlanned: false, order: 'Plan moves to positions on the page Signals first.' };
      case 'speed':
        return {
          isPlanned: true,
          order: `Enable at the controller; command ${
            speed === null ? 'the full speed' : units.quantity(speed, '{u}/s')
          } ${isOneWay ? 'and then zero' : 'towards plus, then zero, then as fast towards minus'}, each held for 0.25 s at least.`,
        };
      case 'moves':
        return distance !== null && repeats !== null
          ? {
              isPlanned: true,
              order: `Enable at the controller; move ${formatNumber(units.shown(distance, '{u}'), 6)} ${units.unit} towards plus and back, ${repeats} ${repeats === 1 ? 'time' : 'times'}, with a dwell of at least 0.2 s.`,
            }
          : {
              isPlanned: false,
              order: 'Enable at the controller, and make the moves; enter distance and repeats first.',
            };
    }
  };
  const { isPlanned, order } = ordered();
  return (
    <Panel title="Moves by the controller">
      {way === 'speed' && (
        <NumberField
          label={isOneWay ? 'Speed' : 'Speed at both ends'}
          path={['moves', 'host', 'speed']}
          rule="speed"
          help="empty: full command"
        />
      )}
      {way === 'moves' && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 0.8fr', gap: 0.75 }}>
          <NumberField label="Distance" path={['moves', 'host', 'distance']} rule="distance" />
          <NumberField label="Speed" path={['moves', 'host', 'speed']} rule="speed" />
          <NumberField label="Repeats" path={['moves', 'host', 'repeats']} rule="repeats" />
        </Box>
      )}
      <Box component="ol" sx={{ pl: 2.5, my: 1, fontSize: 13.5, '& li': { mb: 0.25 } }}>
        <li>Drive data proven, motor off here, command source at the controller.</li>
        {way === 'picks' && <li>Enable at the controller, and let it home.</li>}
        <li>Start the recording here.</li>
        <li>{order}</li>
        <li>End the recording here.</li>
      </Box>
      <DriveNews />
      <HoldNotice />
      <TemporarySettings />
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', my: 1 }}>
        {link !== 'up' ? (
          <Button
            variant="contained"
            disabled={link === 'connecting'}
            onClick={() => void dispatch(act(memberId, (version) => ({ type: 'connect', version })))}
          >
            Connect
          </Button>
        ) : isRecording ? (
          <Button variant="contained" color="warning" onClick={() => dispatch(command({ type: 'endRecording' }))}>
            End the recording
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={!mayWatch || activity !== 'idle' || !isPlanned}
            onClick={() => void dispatch(act(memberId, (version) => ({ type: 'recordController', version })))}
          >
            Start the recording
          </Button>
        )}
        {position !== undefined && (
          <Typography variant="body2">{`Position ${formatNumber(units.shown(position, '{u}'), 6)} ${units.unit}`}</Typography>
        )}
      </Box>
      <Typography role="status" variant="body2" color="primary">
        {progress}
      </Typography>
      <Typography variant="body2" color="text.secondary">
        Kavrid only watches: Stop here does not stop the controller. Use the stop of the machine.
      </Typography>
    </Panel>
  );
}
