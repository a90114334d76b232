import { Box, Button, ToggleButton, ToggleButtonGroup } from '@mui/material';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { NumberInput } from '../ui/NumberInput.tsx';
import type { ShownChannel } from './shownChannels.ts';
import { panned, zoomed, type TraceState, type Window } from './traceState.ts';

const chip = { py: 0, px: 0.75, fontSize: 12, textTransform: 'none', lineHeight: 1.7 } as const;

/** What is drawn of the traces, over what, from when, and which part. */
export function TraceTools(props: {
  readonly state: TraceState;
  readonly change: (part: Partial<TraceState>) => void;
  readonly channels: readonly ShownChannel[];
  /** A run is chosen, of which a prediction can be made. */
  readonly hasPrediction: boolean;
  /** It can be drawn over the position. */
  readonly hasPosition: boolean;
}) {
  const { state, change, channels, hasPrediction, hasPosition } = props;
  return (
    <>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}>
        <ToggleButtonGroup
          size="small"
          aria-label="Channels drawn"
          value={state.channels}
          onChange={(_, next: string[]) =>
            // In the order of the trace, whichever was pressed last.
            change({ channels: channels.map(({ id }) => id).filter((id) => next.includes(id)) })
          }
          sx={{ flexWrap: 'wrap' }}
        >
          {channels.map(({ id, label }) => (
            <ToggleButton key={id} value={id} sx={chip}>
              {label}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        {hasPosition && (
          <ToggleButtonGroup
            size="small"
            exclusive
            aria-label="Drawn over"
            value={state.over}
            onChange={(_, over: TraceState['over'] | null) => over && change({ over })}
          >
            <ToggleButton value="time" sx={chip}>
              over time
            </ToggleButton>
            <ToggleButton value="position" sx={chip}>
              over position
            </ToggleButton>
          </ToggleButtonGroup>
        )}
        {hasPrediction && (
          <ToggleButton
            value="prediction"
            size="small"
            selected={state.isPredicted}
            onChange={() => change({ isPredicted: !state.isPredicted })}
            sx={chip}
          >
            prediction
          </ToggleButton>
        )}
        <TriggerChoice {...{ state, change, channels }} />
      </Box>
      {state.trigger && <TriggerFields {...{ change, channels }} trigger={state.trigger} />}
    </>
  );
}

/** Which part of the time is shown. */
export function PartShown(props: {
  readonly state: TraceState;
  readonly change: (part: Partial<TraceState>) => void;
  readonly whole: Window;
}) {
  const { state, change, whole } = props;
  return (
    <Box role="group" aria-label="Part shown" sx={{ display: 'flex', gap: 0.25 }}>
      {(
        [
          ['←', 'Earlier', () => panned(state.window, whole, -0.5)],
          ['→', 'Later', () => panned(state.window, whole, 0.5)],
          ['+', 'Zoom in', () => zoomed(state.window, whole, 0.5)],
          ['−', 'Zoom out', () => zoomed(state.window, whole, 2)],
        ] as const
      ).map(([sign, label, next]) => (
        <Button
          key={sign}
          variant="outlined"
          aria-label={label}
          onClick={() => change({ window: next() })}
          sx={{ py: 0, px: 0, minWidth: 30 }}
        >
          {sign}
        </Button>
      ))}
      <Button variant="outlined" disabled={!state.window} onClick={() => change({ window: undefined })} sx={{ py: 0 }}>
        Whole
      </Button>
    </Box>
  );
}

function TriggerChoice(props: {
  readonly state: TraceState;
  readonly change: (part: Partial<TraceState>) => void;
  readonly channels: readonly ShownChannel[];
}) {
  const { state, change, channels } = props;
  return (
    <Box sx={{ '& .MuiTextField-root': { width: 210 } }}>
      <ChoiceField
        label="Time zero at"
        value={state.trigger?.channel ?? 'start'}
        choices={[
          { value: 'start', label: 'trigger of the recording' },
          ...channels.map(({ id, label }) => ({ value: id, label: `trigger on ${label.toLowerCase()}` })),
        ]}
        onChange={(id) =>
          change({
            ...otherZero,
            trigger: id === 'start' ? undefined : { level: 0, edge: 'rising', nth: 1, ...state.trigger, channel: id },
          })
        }
      />
    </Box>
  );
}

/** What was chosen by the time holds no more when zero is elsewhere. */
const otherZero: Partial<TraceState> = { window: undefined, cursors: [undefined, undefined] };

function TriggerFields(props: {
  readonly trigger: NonNullable<TraceState['trigger']>;
  readonly change: (part: Partial<TraceState>) => void;
  readonly channels: readonly ShownChannel[];
}) {
  const { trigger, change, channels } = props;
  const channel = channels.find(({ id }) => id === trigger.channel);
  const scale = channel?.scale ?? 1;
  const set = (part: Partial<typeof trigger>) => change({ ...otherZero, trigger: { ...trigger, ...part } });
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', mt: 1, '& .MuiTextField-root': { width: 150 } }}>
      <ChoiceField
        label="Edge"
        value={trigger.edge}
        choices={[
          { value: 'rising', label: 'rising' },
          { value: 'falling', label: 'falling' },
        ]}
        onChange={(edge) => set({ edge })}
      />
      <NumberInput
        label={channel && channel.unit !== '' ? `Trigger level, ${channel.unit}` : 'Trigger level'}
        rule="anyValue"
        value={trigger.level * scale}
        onValue={(level) => level !== null && set({ level: level / scale })}
      />
      <NumberInput
        label="Crossing number"
        rule="repeats"
        value={trigger.nth}
        onValue={(nth) => nth !== null && set({ nth })}
      />
    </Box>
  );
}
