import { predictedHoming, type DriveEntry } from '@kavrid/contract';
import { homingMethodFacts } from '@kavrid/core/homing';
import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { all, map, valueOf, type Outcome } from '@kavrid/core/sheet';
import { Alert, Box, Button, Link, styled, Typography } from '@mui/material';
import { skipToken } from '@reduxjs/toolkit/query';
import type { ReactNode } from 'react';
import { Link as RouterLink } from 'react-router';
import { useAxis } from '../member/useAxis.ts';
import { ResultsOf } from '../chain/Results.tsx';
import type { ResultGroup } from '../chain/resultGroup.ts';
import { axisPlace } from '../member/axisPlaces.ts';
import { useEdit } from '../member/memberContext.ts';
import { HomingMethodField } from '../moves/HomingMethodField.tsx';
import { useReadEntryQuery } from '../store/api.ts';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { FindingList } from '../ui/FindingList.tsx';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { NumberInput } from '../ui/NumberInput.tsx';
import { sxOnce } from '../ui/sxOnce.ts';
import { useShownUnits } from '../ui/units.ts';
import { plannedGroups, type PlannedRow } from './plannedRows.ts';

const results: readonly ResultGroup[] = [
  { title: 'Load', symbols: ['inertiaRatio', 'runningTorque', 'gravityTorque'] },
  { title: 'Following error', symbols: ['steadyLag', 'lagShare', 'followingErrorCounts', 'followingErrorAngle'] },
];
/** What the findings of this page are about. */
const own = /^\/(settings|homing|brake)\//;

/** Values planned for the drive, with or without a link to it: each typed, worked out, or empty. */
export function PlannedValuesView() {
  const { document, computation } = useAxis();
  const entry = useReadEntryQuery(document.drive.entry?.id ?? skipToken).data?.item;
  const list = entry?.shelf === 'drive' && entry.entry.values.length > 0 ? entry.entry.values : undefined;
  const groups = plannedGroups(document);
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) 330px', alignItems: 'start' }}>
      <Panel title="Planned drive values" style={windowHigh}>
        <Planned aria-label="Planned drive values">
          <thead>
            <tr>
              <th>Value</th>
              <th>Planned</th>
              <th>Computed</th>
              <th>{list ? 'In the drive’s list' : ''}</th>
            </tr>
          </thead>
          <tbody>
            {groups.map(({ title, rows }) => (
              <GroupRows key={title} title={title} rows={rows} list={list} />
            ))}
          </tbody>
        </Planned>
        <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
          Empty values are not printed, written or checked. Gear, pulse form, levels and signal scaling follow from the{' '}
          <Link component={RouterLink} to="../chain" relative="path">
            chain
          </Link>{' '}
          and the{' '}
          <Link component={RouterLink} to="../signals" relative="path">
            signals
          </Link>
          .
        </Typography>
      </Panel>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Panel title="Results">
          <ResultsOf groups={results} />
          <HomingTime />
        </Panel>
        <Panel title="Findings">
          <FindingList
            findings={computation.findings.filter(({ path }) => own.test(path))}
            placeOf={(path) => axisPlace(document, path)}
          />
        </Panel>
      </Box>
    </Box>
  );
}

type List = DriveEntry['values'];

function GroupRows(props: {
  readonly title: string;
  readonly rows: readonly PlannedRow[];
  readonly list: List | undefined;
}) {
  const { title, rows, list } = props;
  return (
    <>
      <tr className="group">
        <th colSpan={4} scope="colgroup">
          {title}
        </th>
      </tr>
      {title === 'Homing' && <HomingChoices />}
      {title === 'Holding brake' && <BrakeChoices />}
      {rows.map((row) => (
        <ValueRow key={row.role} label={row.label} role={row.role} list={list} atController={row.atController ?? false}>
          <NumberField bare label={row.label} path={row.path} rule={row.rule} />
        </ValueRow>
      ))}
    </>
  );
}

function ValueRow(props: {
  readonly label: string;
  readonly role?: PlannedRow['role'];
  readonly list?: List | undefined;
  readonly atController?: boolean;
  /** It takes the place of what is computed, too. */
  readonly isWide?: boolean;
  readonly children: ReactNode;
}) {
  const { label, role, list, atController = false, isWide = false, children } = props;
  const listed = role && !atController && list?.find((each) => each.role === role);
  return (
    <tr>
      <th scope="row">{label}</th>
      <td className="field" colSpan={isWide ? 2 : 1}>
        {children}
      </td>
      {!isWide && <td>{role && <Computed role={role} />}</td>}
      <td className="code">
        {listed ? (
          <>
            <code title={listed.label}>{listed.code}</code>
            {listed.factory === '' ? '' : ` factory ${listed.factory} ${listed.unit}`.trimEnd()}
          </>
        ) : (
          role && (atController ? 'on the controller’s sheet' : list && 'not in its list')
        )}
      </td>
    </tr>
  );
}

/** What the sheet says of a value, to be taken over or compared. */
function Computed({ role }: { readonly role: PlannedRow['role'] }) {
  switch (role) {
    case 'inertiaRatio':
      return <TakenOver role={role} />;
    case 'torqueLimit':
      return <LeastTorque />;
    case 'followingErrorWindow':
      return <WindowAsAngle />;
    default:
      return null;
  }
}

function TakenOver({ role }: { readonly role: 'inertiaRatio' }) {
  const { document, computation } = useAxis();
  const edit = useEdit();
  const worked = valueOf(computation.results[role]);
  if (worked === undefined) return null;
  const rounded = Number(worked.toPrecision(4));
  return document.settings[role] === rounded ? (
    <>{formatNumber(rounded, 4)}, as planned</>
  ) : (
    <Button size="small" onClick={() => edit(['settings', role], rounded)} sx={{ py: 0 }}>
      Take {formatNumber(rounded, 4)}
    </Button>
  );
}

/** A limit below what friction and gravity take stops the axis before it moves. */
function LeastTorque() {
  const { results: sheetResults } = useAxis().computation;
  const share = map(
    all<[number, number]>(sheetResults.runningTorque, sheetResults.ratedTorque),
    ([running, rated]) => (100 * Math.abs(running)) / rated,
  );
  const percent = valueOf(share);
  return percent === undefined ? null : <>friction and gravity: {formatNumber(percent, 3)} %</>;
}

/** The window is often given as an angle of the motor. */
function WindowAsAngle() {
  const { document, computation } = useAxis();
  const edit = useEdit();
  const { travelPerTurn, transmissionRatio } = computation.results;
  const perDegree = valueOf(
    map(
      all(travelPerTurn, transmissionRatio) as Outcome<readonly [never, never]>,
      ([travel, ratio]) => toNumber(travel) / toNumber(ratio) / 360,
    ),
  );
  if (perDegree === undefined || document.motor.form === 'linear') return null;
  const { followingErrorWindow } = document.settings;
  return (
    <NumberInput
      bare
      label="Following-error window as an angle of the motor"
      rule="motorAngle"
      value={followingErrorWindow === null ? null : Number((followingErrorWindow / perDegree).toPrecision(9))}
      onValue={(angle) =>
        edit(['settings', 'followingErrorWindow'], angle === null ? null : Number((angle * perDegree).toPrecision(9)))
      }
    />
  );
}

function HomingChoices() {
  const { document } = useAxis();
  const { by, method } = document.homing;
  const facts = homingMethodFacts(method);
  return (
    <>
      <ValueRow label="Homing run by">
        <DocumentChoice
          bare
          label="Homing run by"
          value={by}
          path={['homing', 'by']}
          choices={[
            { value: 'drive', label: 'the drive' },
            { value: 'controller', label: 'the controller' },
          ]}
        />
      </ValueRow>
      <ValueRow isWide label="Homing method" {...(by === 'drive' ? { role: 'homingMethod' } : {})}>
        <HomingMethodField bare />
      </ValueRow>
      {facts.kind === 'edge' && facts.input === 'homeSwitch' && (
        <>
          <ValueRow label="Home switch, from the minus limit">
            <NumberField
              bare
              label="Home switch, from the minus limit"
              path={['homing', 'homeSwitchFrom']}
              rule="position"
            />
          </ValueRow>
          <ValueRow label="Home switch, length">
            <NumberField bare label="Home switch, length" path={['homing', 'homeSwitchLength']} rule="distance" />
          </ValueRow>
        </>
      )}
    </>
  );
}

function BrakeChoices() {
  const { document } = useAxis();
  const { drivenBy } = document.brake;
  return (
    <>
      <ValueRow label="Holding brake">
        <DocumentChoice
          bare
          label="Holding brake"
          value={drivenBy}
          path={['brake', 'drivenBy']}
          choices={[
            { value: 'not settled', label: 'not decided yet' },
            { value: 'none', label: 'none' },
            { value: 'drive', label: 'driven by the drive' },
            { value: 'controller', label: 'driven by the controller' },
          ]}
        />
      </ValueRow>
      {(drivenBy === 'drive' || drivenBy === 'controller') && (
        <ValueRow label="Holding torque, at the motor">
          <NumberField bare label="Holding torque, at the motor" path={['brake', 'torque']} rule="torque" />
        </ValueRow>
      )}
    </>
  );
}

function HomingTime() {
  const { document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const predicted = predictedHoming(document, computation.results);
  if (predicted.state === 'unknown')
    return (
      <Typography variant="body2" sx={{ mt: 0.5 }}>
        Homing time not known: {predicted.because}.
      </Typography>
    );
  const { longest } = predicted.value;
  if (longest.because !== undefined) return <Alert severity="error">Homing fails: {longest.because}.</Alert>;
  return (
    <Typography variant="body2" sx={{ mt: 0.5 }}>
      Homing: at most {formatNumber(longest.seconds, 3)} s, runs up to{' '}
      {formatNumber(units.shown(longest.overrun, '{u}'), 3)} {units.unit} past the switch.
    </Typography>
  );
}

const Planned = styled('table')(
  sxOnce({
    width: '100%',
    tableLayout: 'fixed',
    borderCollapse: 'collapse',
    fontSize: 13,
    '& th': { textAlign: 'left', fontWeight: 400, py: 0.25, pr: 1, whiteSpace: 'nowrap' },
    '& thead th': { color: 'text.secondary', borderBottom: 1, borderColor: 'divider' },
    '& .group th': { fontWeight: 600, color: 'text.secondary', pt: 1 },
    '& td': { py: 0.25, pr: 1, verticalAlign: 'middle' },
    '& thead th:first-of-type': { width: 205 },
    '& thead th:nth-of-type(2)': { width: 195 },
    '& thead th:nth-of-type(3)': { width: 165 },
    '& td input, & td .MuiSelect-select': { fontSize: 13, py: 0 },
    '& td .MuiInputBase-root': { fontSize: 13 },
    '& td.code': { color: 'text.secondary', fontSize: 12.5 },
  }),
);
