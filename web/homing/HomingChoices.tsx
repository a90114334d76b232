import { pointerOf } from '@kavrid/contract';
import {
  homingMethodLabel,
  homingPriorities,
  type HomeRange,
  type HomingChoice,
  type HomingMeans,
  type HomingPriority,
} from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { useUncheckedEdit } from '../member/memberContext.ts';
import { useAxis } from '../member/useAxis.ts';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { HomingMethodField } from '../moves/HomingMethodField.tsx';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';

const priorityWords: Readonly<Record<HomingPriority, string>> = {
  repeatability: 'repeatability',
  time: 'time',
  room: 'room behind the switches',
};
const switchWords: Readonly<Record<HomeRange | 'none', string>> = {
  none: 'none',
  flag: 'a short flag',
  'to the plus end': 'on from its edge to the plus end',
  'to the minus end': 'on from its edge to the minus end',
};

/** What there is to home on, what matters, and the methods that fit. */
export function HomingChoices(props: {
  readonly means: HomingMeans;
  readonly onMeans: (changed: Partial<HomingMeans>) => void;
  readonly priority: HomingPriority;
  readonly onPriority: (priority: HomingPriority) => void;
  readonly choices: readonly HomingChoice[] | undefined;
}) {
  const { means, onMeans, priority, onPriority, choices } = props;
  const { document } = useAxis();
  const { by } = document.homing;
  const isPulsed = document.command.kind !== 'choice' && !('from' in document.command);
  const has = (key: 'hasLimits' | 'hasIndex' | 'hasMinusStop' | 'hasPlusStop' | 'hasAbsolute', label: string) => (
    <label key={key}>
      <input type="checkbox" checked={means[key]} onChange={(event) => onMeans({ [key]: event.target.checked })} />
      {` ${label}`}
    </label>
  );
  return (
    <Panel title="Choose a method">
      <Box sx={{ display: 'grid', gap: 1 }}>
        <DocumentChoice
          label="Homing run by"
          value={by}
          path={['homing', 'by']}
          choices={[
            { value: 'drive', label: 'the drive' },
            { value: 'controller', label: 'the controller' },
          ]}
        />
        {isPulsed && by === 'drive' && (
          <Typography variant="body2" color="text.secondary">
            This drive is commanded by pulses: a homing by the drive does not set the position of the controller.
            Usually the controller homes.
          </Typography>
        )}
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.25, fontSize: 13 }}>
          {[
            ...(means.isEndless ? [] : [has('hasLimits', 'limit switches')]),
            has('hasIndex', 'index pulse'),
            has('hasAbsolute', 'absolute encoder'),
            ...(means.isEndless ? [] : [has('hasMinusStop', 'minus hard stop'), has('hasPlusStop', 'plus hard stop')]),
          ]}
        </Box>
        <ChoiceField
          label="Home switch"
          value={means.homeSwitch}
          choices={Object.entries(switchWords).map(([value, label]) => ({ value, label }))}
          onChange={(homeSwitch) => onMeans({ homeSwitch: homeSwitch as HomingMeans['homeSwitch'] })}
        />
        <ChoiceField
          label="What matters most"
          value={priority}
          choices={homingPriorities.map((value) => ({ value, label: priorityWords[value] }))}
          onChange={(value) => onPriority(value as HomingPriority)}
        />
        <Choices choices={choices} />
        <HomingMethodField />
      </Box>
    </Panel>
  );
}

function Choices({ choices }: { readonly choices: readonly HomingChoice[] | undefined }) {
  const { document, computation } = useAxis();
  const edit = useUncheckedEdit();
  const units = useShownUnits(computation.input);
  const { method: planned } = document.homing;
  if (!choices) return <Typography variant="body2">Comparing the methods …</Typography>;
  if (choices.length === 0)
    return (
      <Typography variant="body2">
        No method fits what there is, or a value for its prediction is missing: enter speeds, acceleration and the
        places of the switches.
      </Typography>
    );
  return (
    <Box
      component="ul"
      aria-label="Methods that fit"
      sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 0.75 }}
    >
      {choices.map(({ method, prediction, scatter, why, costs }) => (
        <Box
          component="li"
          key={method}
          sx={{ borderLeft: 3, borderColor: method === planned ? 'primary.main' : 'divider', pl: 1 }}
        >
          <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 1, alignItems: 'start' }}>
            <Typography variant="body2" sx={{ fontWeight: 600 }}>
              {homingMethodLabel(method)}
            </Typography>
            {method === planned ? (
              <Typography variant="body2" color="primary">
                planned
              </Typography>
            ) : (
              <Button
                size="small"
                data-field={pointerOf(['homing', 'method'])}
                onClick={() => edit(['homing', 'method'], method)}
              >
                Use
              </Button>
            )}
          </Box>
          <Typography variant="body2" color="text.secondary">
            {`At most ${formatNumber(prediction.seconds, 3)} s; ±${formatNumber(units.shown(2 * scatter, '{u}'), 2)} ${units.unit}. ${sentence(why)} ${sentence(costs)}`}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}

const sentence = (parts: readonly string[]): string => {
  const text = parts.join('; ');
  return text === '' ? '' : `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
};
