import type { DriveData } from '@kavrid/contract';
import {
  fromRaw,
  type DriveParameter,
  type DriveStanding,
  type ParameterComparison,
  type ParameterStanding,
} from '@kavrid/core/drive';
import { toNumber, formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import {
  Alert,
  Box,
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Tooltip,
  Typography,
} from '@mui/material';
import { Fragment, type ReactNode } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { LinkPanel } from './LinkPanel.tsx';
import { byKindOnScreen, useMember, wordingOf } from '../member/memberContext.ts';
import { linkLive } from '../store/live.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { numberFace } from '../ui/theme.ts';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { useShownUnits } from '../ui/units.ts';

/** Drive data: what is planned beside what is running, stored and as delivered; written only where it differs. */
export function DriveDataView() {
  const driveData = useAppSelector((state) => state.live.driveData);
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) 256px', alignItems: 'start' }}>
      <Panel title="Drive values" style={windowHigh}>
        {driveData && driveData.comparisons.length > 0 ? (
          <ValueTable driveData={driveData} />
        ) : (
          <Typography color="text.secondary">
            Nothing has been read yet. Connect to the drive: it is read before anything is written. Values of the plan
            appear here beside what the drive holds.
          </Typography>
        )}
      </Panel>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <LinkPanel />
        <ProcedurePanel driveData={driveData} />
      </Box>
    </Box>
  );
}

const standingLook: Readonly<Record<ParameterStanding, { readonly words: string; readonly colour: string }>> = {
  proven: { words: 'proven', colour: 'success.main' },
  differs: { words: 'differs', colour: 'error.main' },
  'not stored': { words: 'not stored', colour: 'warning.main' },
  'needs restart': { words: 'needs restart', colour: 'warning.main' },
  'cannot be written': { words: 'cannot be written', colour: 'error.main' },
  'not planned': { words: 'not planned', colour: 'text.secondary' },
  'not read': { words: 'not read', colour: 'text.secondary' },
};

function ValueTable({ driveData }: { readonly driveData: DriveData }) {
  const groups = [...new Set(driveData.comparisons.map((each) => each.parameter.group))];
  return (
    <Table
      size="small"
      stickyHeader
      aria-label="Drive values"
      sx={{ '& td': { fontSize: 12.5 }, '& th': { py: 0.25 } }}
    >
      <TableHead>
        <TableRow>
          {['Value', 'Planned', 'Running', 'Stored', 'Factory', 'Standing'].map((title) => (
            <TableCell key={title} align={['Running', 'Stored', 'Factory'].includes(title) ? 'right' : 'left'}>
              {title}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {groups.map((group) => (
          <Fragment key={group}>
            <TableRow>
              <TableCell colSpan={6} sx={{ fontWeight: 600, color: 'text.secondary', pt: 0.75 }}>
                {group}
              </TableCell>
            </TableRow>
            {driveData.comparisons
              .filter((each) => each.parameter.group === group)
              .map((each) => (
                <ValueRow key={each.parameter.key} comparison={each} />
              ))}
          </Fragment>
        ))}
      </TableBody>
    </Table>
  );
}

const oneLine = { whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis', maxWidth: 118 } as const;

function ValueRow({ comparison }: { readonly comparison: ParameterComparison }) {
  const { parameter, planned, written, running, stored, factory, standing, because } = comparison;
  const show = useShownRaw(parameter);
  // What is planned for a spindle is typed at its other views.
  const hasFields = byKindOnScreen(useMember(), { axis: () => true, spindle: () => false });
  const look = standingLook[standing];
  const cell = (raw: number | undefined, strong: boolean, written?: number) => (
    <TableCell
      align="right"
      title={raw === undefined ? '' : `${formatNumber(fromRaw(parameter, raw), 12)} ${parameter.unit}`}
      sx={{
        fontFamily: numberFace,
        fontWeight: strong ? 600 : 400,
        color: strong ? look.colour : undefined,
        ...oneLine,
      }}
    >
      {show(raw)}
      {written !== undefined && (
        <Box component="div" sx={{ fontSize: 11.5, color: 'text.secondary' }}>
          after restart {show(written)}
        </Box>
      )}
    </TableCell>
  );
  return (
    <TableRow hover data-parameter={parameter.key}>
      <TableCell sx={{ whiteSpace: 'nowrap' }}>
        <Tooltip
          title={`${parameter.help} ${parameter.object ? `Object ${parameter.object}. ` : ''}Register ${parameter.address}.`}
        >
          <span>
            {parameter.label}
            {parameter.takesEffect === 'after restart' ? ' ↻' : ''}
          </span>
        </Tooltip>
      </TableCell>
      <TableCell
        sx={{
          width: 150,
          ...oneLine,
          maxWidth: 150,
          fontFamily: numberFace,
          '& input': { fontSize: 12.5, py: 0 },
          '& .MuiFormHelperText-root': { whiteSpace: 'normal' },
          '& .MuiSelect-select': { fontSize: 12.5, py: 0 },
        }}
      >
        {(hasFields && plannedField(parameter.role, parameter.label)) || (planned === undefined ? '' : show(planned))}
      </TableCell>
      {cell(running, planned !== undefined && running !== planned, written !== running ? written : undefined)}
      {cell(stored, planned !== undefined && stored !== planned)}
      {cell(factory, false)}
      <TableCell sx={{ color: look.colour, fontWeight: standing === 'not planned' ? 400 : 600, whiteSpace: 'nowrap' }}>
        <Tooltip title={because ?? ''}>
          <span>{look.words}</span>
        </Tooltip>
      </TableCell>
    </TableRow>
  );
}

/** A raw value for reading: its words, its value with the unit, or, where it counts encoder counts, the travel they are. */
function useShownRaw(parameter: DriveParameter): (raw: number | undefined) => string {
  const member = useMember();
  const units = useShownUnits(wordingOf(member));
  const resolution = resolutionOf(member);
  return (raw) => {
    if (raw === undefined) return '—';
    const value = fromRaw(parameter, raw);
    const words = parameter.choices[String(value)];
    if (words !== undefined) return words;
    if (!parameter.unit.startsWith('counts') || !resolution)
      return `${formatNumber(value, 10)} ${parameter.unit}`.trim();
    const template = parameter.unit.replace('counts', '{u}');
    return `${formatNumber(units.shown(value * toNumber(resolution), template), 5)} ${units.name(template)}`;
  };
}

/** Travel of one count, where there is an axis with counts. */
const resolutionOf = (member: ReturnType<typeof useMember>) =>
  byKindOnScreen(member, {
    axis: ({ computation }) => valueOf(computation.results.feedbackResolution),
    spindle: () => undefined,
  });

/** Where a planned value is typed here; the others follow from the chain or from the homing. */
function plannedField(role: DriveParameter['role'], label: string): ReactNode {
  switch (role) {
    case 'inertiaRatio':
      return <NumberField bare label={label} path={['settings', role]} rule="inertiaRatio" />;
    case 'positionGain':
      return <NumberField bare label={label} path={['settings', role]} rule="gain" />;
    case 'speedBandwidth':
      return <NumberField bare label={label} path={['settings', role]} rule="bandwidth" />;
    case 'speedIntegralTime':
      return <NumberField bare label={label} path={['settings', role]} rule="integralTime" />;
    case 'velocityFeedforward':
    case 'torqueLimit':
      return <NumberField bare label={label} path={['settings', role]} rule="percent" />;
    case 'followingErrorWindow':
      return <NumberField bare label={label} path={['settings', role]} rule="distance" />;
    case 'minusSoftLimit':
    case 'plusSoftLimit':
      return <NumberField bare label={label} path={['settings', role]} rule="position" />;
    case 'homingSearchSpeed':
      return <NumberField bare label={label} path={['homing', 'searchSpeed']} rule="speed" />;
    case 'homingCreepSpeed':
      return <NumberField bare label={label} path={['homing', 'creepSpeed']} rule="speed" />;
    case 'homingAcceleration':
      return <NumberField bare label={label} path={['homing', 'acceleration']} rule="acceleration" />;
    case 'homeOffset':
      return <NumberField bare label={label} path={['homing', 'homeOffset']} rule="position" />;
    case 'enableActiveLevel':
    case 'limitActiveLevel':
      return <LevelField role={role} label={label} />;
    default:
      return undefined;
  }
}

function LevelField({
  role,
  label,
}: {
  readonly role: 'enableActiveLevel' | 'limitActiveLevel';
  readonly label: string;
}) {
  const { document } = useAxis();
  return (
    <DocumentChoice
      bare
      label={label}
      value={document.settings[role]}
      path={['settings', role]}
      choices={[
        { value: 'low', label: role === 'limitActiveLevel' ? 'low (normally closed)' : 'low' },
        { value: 'high', label: role === 'limitActiveLevel' ? 'high (normally open)' : 'high' },
      ]}
    />
  );
}

const shownMoment = (iso: string) => new Date(iso).toLocaleString();

/** How the drive stands to the plan, by what was read of it last, and its last proof. */
function Standing({ driveData: { standing, proof, readAt } }: { readonly driveData: DriveData }) {
  return (
    <>
      {standingText(standing)}
      {readAt && (
        <Typography variant="body2" color="text.secondary">
          Read {shownMoment(readAt)}.
        </Typography>
      )}
      {proof && (
        <Typography variant="body2" color={proof.staleBecause ? 'warning.main' : 'text.secondary'}>
          Proof of {shownMoment(proof.madeAt)}, revision {proof.revision}
          {proof.staleBecause ? `: no longer valid, because ${proof.staleBecause}.` : '.'}
        </Typography>
      )}
    </>
  );
}

function standingText(standing: DriveStanding): ReactNode {
  switch (standing.kind) {
    case 'not read':
      return null;
    case 'waiting':
      return <Alert severity="warning">{standing.because}</Alert>;
    case 'nothing planned':
      return <Typography variant="body2">Nothing is planned for this drive yet.</Typography>;
    case 'other motor':
      return (
        <Alert severity="error">
          The drive is set for another motor:{' '}
          {standing.differing
            .map(
              ({ label, unit, drive, plate }) =>
                `${label}: ${formatNumber(drive, 8)} ${unit} in the drive, ${formatNumber(plate, 8)} on the plate`,
            )
            .join('; ')}
          .
        </Alert>
      );
    case 'open':
      return (
        <Typography variant="body2">
          Not proven: {standing.differing.map(({ parameter }) => parameter.label).join(', ')}.
        </Typography>
      );
    case 'proven':
      return <Alert severity="success">Every planned value is running and stored.</Alert>;
  }
}

function ProcedurePanel({ driveData }: { readonly driveData: DriveData | undefined }) {
  const member = useMember();
  const { memberId, draft } = member;
  const up = useAppSelector((state) => linkLive(state)?.link === 'up');
  const busy = useAppSelector(
    (state) => (linkLive(state)?.activity ?? 'idle') !== 'idle' || linkLive(state)?.holder === 'another window',
  );
  const dispatch = useAppDispatch();
  const units = useShownUnits(wordingOf(member));
  const phase = driveData?.procedure.phase ?? 'idle';
  const resolution = resolutionOf(member);
  return (
    <Panel title="Write and verify">
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Button
          variant="outlined"
          disabled={!up || busy}
          onClick={() => {
            void dispatch(act(memberId, (version) => ({ type: 'readDrive', version })));
          }}
        >
          1. Read and compare
        </Button>
        <Button
          variant="contained"
          disabled={!up || busy || phase !== 'review' || draft.state.kind !== 'saved'}
          onClick={() => void dispatch(act(memberId, (version) => ({ type: 'writeDrive', version })))}
        >
          2. Write what differs, store, restart, prove
        </Button>
        {draft.state.kind !== 'saved' && (
          <Typography variant="body2">The plan is not saved yet; reading saves it first.</Typography>
        )}
        {driveData && <Standing driveData={driveData} />}
        {phase === 'failed' && <Alert severity="error">{driveData?.procedure.because}</Alert>}
        <Box
          component="ol"
          aria-label="Log"
          tabIndex={0}
          sx={{ m: 0, pl: 2.5, fontSize: 12.5, color: 'text.secondary', maxHeight: 180, overflow: 'auto' }}
        >
          {driveData?.procedure.log.map((line, index) => (
            <li key={index}>{line}</li>
          ))}
        </Box>
        {resolution && (
          <Typography variant="body2" color="text.secondary">
            1000 counts are {formatNumber(units.shown(1000 * toNumber(resolution), '{u}'), 4)} {units.unit} here. ↻
            takes effect after a restart.
          </Typography>
        )}
      </Box>
    </Panel>
  );
}
