import { ruleFor, sameJson, type LinkLive } from '@kavrid/contract';
import { fromRaw, type DriveParameter } from '@kavrid/core/drive';
import { tunedRoles, type TunedRole } from '@kavrid/core/procedure';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, styled, Typography } from '@mui/material';
import type { TuningPlan } from '../jobs/tuningJob.ts';
import { useEdit } from '../member/memberContext.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { linkLive } from '../store/live.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { sxOnce } from '../ui/sxOnce.ts';
import { numberFace } from '../ui/theme.ts';
import { gainRows, gainRowsOf } from './gainRows.ts';
import { suggestedSettings } from './suggestedSettings.ts';

const Table = styled('table')(
  sxOnce({
    borderCollapse: 'collapse',
    width: '100%',
    fontSize: 12.5,
    '& th': { textAlign: 'left', fontWeight: 400, py: 0.25, pr: 0.5 },
    '& thead th': { fontWeight: 600 },
    '& td': { px: 0.25, py: 0.25, textAlign: 'right', fontFamily: numberFace, fontSize: 12 },
    '& thead th:nth-of-type(n + 4)': { textAlign: 'right' },
    '& td.field': { width: 92 },
    '& td:nth-of-type(n + 3)': { whiteSpace: 'nowrap' },
    '& td.differs': { color: 'error.main', fontWeight: 600 },
    '& td.trial': { color: 'warning.main', fontWeight: 600 },
  }),
);

const rounded = (value: number): number => Number(value.toPrecision(3));
const shown = (value: number | null | undefined): string => (value == null ? '—' : formatNumber(value, 4));

/** Notch as wide as a resonance may be off, %, and as deep as common drives have it, dB. */
const [notchWidth, notchDepth] = [120, 20] as const;

/** What a drive's own tuning changes. */
const readRoles = ['inertiaRatio', ...tunedRoles] as const;
type ReadRole = (typeof readRoles)[number];

const none: LinkLive['temporary'] = [];

/** The gains as planned, as tried, as the drive has them, and as suggested: in the order in which a loop is tuned. */
export function GainsPanel({ plan }: { readonly plan: TuningPlan | undefined }) {
  const { document, memberId } = useAxis();
  const edit = useEdit();
  const dispatch = useAppDispatch();
  const { settings, tuning } = document;
  const held = useHeldGains();
  const rows = gainRowsOf(document);
  const ratio = plan?.suggested && rounded(plan.suggested.inertiaRatio);
  const suggestion = suggestedSettings(plan, settings.inertiaRatio ?? ratio ?? null);
  const notch = plan?.suggested?.gains.limitedBy === 'the resonance' ? plan.withNotch : undefined;
  const suggested: Partial<Record<TunedRole, number>> = suggestion
    ? {
        speedBandwidth: rounded(suggestion.speedBandwidth),
        speedIntegralTime: rounded(suggestion.speedIntegralTime),
        positionGain: rounded(suggestion.positionGain),
        ...(suggestion.accelerationFeedforward === undefined
          ? {}
          : { accelerationFeedforward: rounded(suggestion.accelerationFeedforward) }),
        ...(notch ? { notchFrequency: rounded(notch.hertz), notchWidth, notchDepth } : {}),
      }
    : {};
  /** A notch is planned by its own button. */
  const offered = Object.fromEntries(
    rows.flatMap(({ role }) =>
      suggested[role] === undefined || role.startsWith('notch') ? [] : [[role, suggested[role]]],
    ),
  );
  const loop = document.command.kind === 'analog' ? document.command.loop : null;
  const hostGain = loop ? plan?.suggested?.gains.positionGain : undefined;
  const differing = readRoles.filter((role) => {
    if (role !== 'inertiaRatio' && !rows.some((row) => row.role === role)) return false;
    const found = held.read[role];
    return found !== undefined && settings[role] !== null && Math.abs(found - (settings[role] ?? 0)) > 1e-9;
  });
  return (
    <Panel title="Gains">
      <Table aria-label="Gains">
        <thead>
          <tr>
            {['From the inside out', 'Planned', 'Trial', 'In the drive', 'Suggested'].map((head) => (
              <th key={head} scope="col">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">Inertia ratio</th>
            <td className="field">
              <NumberField bare label="Inertia ratio" path={['settings', 'inertiaRatio']} rule="inertiaRatio" />
            </td>
            <td />
            <td className={differing.includes('inertiaRatio') ? 'differs' : undefined}>
              {shown(held.read.inertiaRatio)}
            </td>
            <td>{shown(ratio)}</td>
          </tr>
          {rows.map(({ role, label, rule }) => (
            <tr key={role}>
              <th scope="row">{label}</th>
              <td className="field">
                <NumberField bare label={label} path={['settings', role]} rule={rule} />
              </td>
              <td className="field">
                <NumberField bare label={`${label}, trial`} path={['tuning', 'trial', role]} rule={rule} />
              </td>
              <td
                className={held.tried[role] !== undefined ? 'trial' : differing.includes(role) ? 'differs' : undefined}
              >
                {held.tried[role] ?? shown(held.read[role])}
              </td>
              <td>{suggested[role] === undefined ? '' : shown(suggested[role])}</td>
            </tr>
          ))}
          {loop && <HostRows gain={hostGain} />}
        </tbody>
      </Table>
      {loop && (
        <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
          Tune the speed loop in the drive first, with speed steps from the drive itself (Jog, home, test moves › Step
          and ramp). Then tune the position loop in the controller.
        </Typography>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, mt: 0.75 }}>
        <Button
          size="small"
          variant="outlined"
          disabled={!suggestion}
          onClick={() => {
            edit(['settings'], {
              ...settings,
              ...offered,
              ...(settings.inertiaRatio === null && ratio !== undefined ? { inertiaRatio: ratio } : {}),
            });
            if (hostGain !== undefined) edit(['command', 'loop', 'gain'], rounded(hostGain));
          }}
        >
          Plan the suggestion
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={!suggestion}
          onClick={() => edit(['tuning', 'trial'], { ...tuning.trial, ...offered })}
        >
          Suggestion as trial
        </Button>
        {ratio !== undefined &&
          settings.inertiaRatio !== null &&
          Math.abs(settings.inertiaRatio / ratio - 1) > 0.02 && (
            <Button size="small" variant="outlined" onClick={() => edit(['settings', 'inertiaRatio'], ratio)}>
              {`Plan an inertia ratio of ${formatNumber(ratio, 3)}`}
            </Button>
          )}
        {notch && (
          <Button
            size="small"
            variant="outlined"
            onClick={() =>
              edit(['settings'], { ...settings, notchFrequency: rounded(notch.hertz), notchWidth, notchDepth })
            }
          >
            {`Plan a notch at ${formatNumber(notch.hertz, 3)} Hz`}
          </Button>
        )}
        <Button
          size="small"
          variant="outlined"
          disabled={!held.isUp}
          onClick={() => void dispatch(act(memberId, (version) => ({ type: 'readDrive', version })))}
        >
          Read the drive
        </Button>
        {differing.length > 0 && (
          <Button
            size="small"
            variant="outlined"
            onClick={() =>
              edit(['settings'], {
                ...settings,
                ...Object.fromEntries(differing.map((role) => [role, held.read[role] ?? null])),
              })
            }
          >
            Adopt the gains of the drive
          </Button>
        )}
      </Box>
      {differing.length > 0 && (
        <Typography variant="body2" color="error" sx={{ mt: 0.5 }}>
          The drive has other gains than planned: perhaps it tuned itself. Adopt them, or write the plan on the page
          Drive data.
        </Typography>
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, mt: 1.5 }}>
        <NumberField label="Bandwidth wanted, speed loop" path={['tuning', 'wantedBandwidth']} rule="bandwidth" />
        <NumberField label="Lowest resonance" path={['tuning', 'resonance']} rule="resonance" />
      </Box>
    </Panel>
  );
}

/** The position loop in the controller: keyed in there, and neither tried nor read over the link of the drive. */
function HostRows({ gain }: { readonly gain: number | undefined }) {
  return hostRows.map(({ field, label, rule }) => (
    <tr key={field}>
      <th scope="row">{label}</th>
      <td className="field">
        <NumberField bare label={label} path={['command', 'loop', field]} rule={rule} />
      </td>
      <td />
      <td>keyed in</td>
      <td>{field === 'gain' && gain !== undefined ? shown(rounded(gain)) : ''}</td>
    </tr>
  ));
}
const hostRows = [
  { field: 'gain', label: 'Position gain, controller', rule: 'gain' },
  { field: 'integralGain', label: 'Integral gain, controller', rule: 'integralGain' },
  { field: 'velocityFeedforward', label: 'Velocity feedforward, controller', rule: 'percent' },
] as const;

/** Gains as they were read from the drive, in the units of the plan, and those that it holds for a trial, in words. */
function useHeldGains() {
  const isUp = useAppSelector((state) => linkLive(state)?.link === 'up' && linkLive(state)?.activity === 'idle');
  const comparisons = useAppSelector((state) => state.live.driveData?.comparisons);
  const temporary = useAppSelector((state) => linkLive(state)?.temporary ?? none, sameJson);
  const read: Partial<Record<ReadRole, number>> = {};
  const tried: Partial<Record<TunedRole, string>> = {};
  for (const { parameter, running } of comparisons ?? []) {
    const role = roleOf(parameter);
    if (role === undefined) continue;
    if (running !== undefined) read[role] = Number(fromRaw(parameter, running).toPrecision(10));
    const trial = temporary.find(({ key, isHere }) => isHere && key === parameter.key);
    if (trial && role !== 'inertiaRatio') tried[role] = trial.temporary;
  }
  return { isUp, read, tried };
}

/** Of a parameter that has the unit in which its gain is planned. */
function roleOf({ role, unit }: DriveParameter): ReadRole | undefined {
  if (role === 'inertiaRatio') return role;
  const row = gainRows.find((each) => each.role === role);
  return row && ruleFor(row.rule, 'mm').shownUnit === unit ? row.role : undefined;
}
