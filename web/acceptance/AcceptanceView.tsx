import { acceptanceDigest } from '@kavrid/contract';
import { hasGear } from '@kavrid/core/chain';
import { acceptanceLimits, type AcceptanceRow, type AcceptanceVerdict } from '@kavrid/core/evidence';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { useMemo } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { byKindOnScreen, useMember, wordingOf } from '../member/memberContext.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useSavedVersion } from '../member/useSavedVersion.ts';
import { useAcceptanceQuery, useEvidenceQuery, useKeepAcceptanceMutation } from '../store/api.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';

const axisRules = {
  followingError: 'distance',
  settlingTime: 'dwell',
  peakTorque: 'percent',
  rmsTorque: 'percent',
  homingRepeatability: 'distance',
  positionRepeatability: 'distance',
  travelError: 'distance',
  lostPulses: 'countOrNone',
} as const;

const words: Readonly<Record<AcceptanceVerdict, string>> = {
  passed: 'passed',
  failed: 'failed',
  'not measured': 'not measured',
};

/** Limits that the user sets, judged by what was really measured, and kept as evidence. */
export function AcceptanceView() {
  const member = useMember();
  const units = useShownUnits(wordingOf(member));
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '330px minmax(0, 1fr)', alignItems: 'start' }}>
      <Panel title="Limits">
        <Box sx={{ display: 'grid', gap: 1 }}>
          {byKindOnScreen(member, {
            axis: () => <AxisLimits />,
            spindle: () => (
              <NumberField
                label={acceptanceLimits.speedError.label}
                path={['acceptance', 'speedError']}
                rule="percent"
              />
            ),
          })}
        </Box>
        <Typography variant="body2" color="text.secondary" sx={{ mt: 0.75 }}>
          An empty limit is not judged.
        </Typography>
      </Panel>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Judged units={units} />
        <KeptAcceptances units={units} />
      </Box>
    </Box>
  );
}

function AxisLimits() {
  const { document, computation } = useAxis();
  // Where no pulses command the axis, none are lost; what was set before can be cleared.
  const applies = (key: keyof typeof axisRules) =>
    key !== 'lostPulses' || hasGear(computation.input.command) || document.acceptance.lostPulses !== null;
  return axisKeys
    .filter(applies)
    .map((key) => (
      <NumberField key={key} label={acceptanceLimits[key].label} path={['acceptance', key]} rule={axisRules[key]} />
    ));
}
const axisKeys = Object.keys(axisRules) as readonly (keyof typeof axisRules)[];

/** The newest measurements against the limits, as the server judges them. */
function Judged({ units }: { readonly units: ShownUnits }) {
  const { memberId, document } = useMember();
  const [test, noun] = testWords[document.kind];
  const version = useSavedVersion();
  const { currentData: report, isError } = useAcceptanceQuery(
    { id: memberId, version: version ?? 0 },
    { skip: version === undefined, refetchOnMountOrArgChange: true },
  );
  const [keep, { isLoading, isError: isNotKept }] = useKeepAcceptanceMutation();
  const isNow = report !== undefined && report.version === version;
  return (
    <Panel
      title="Measured against the limits"
      aside={
        <Button
          variant="contained"
          disabled={!isNow || report.rows.length === 0 || isLoading}
          onClick={() => {
            if (isNow) void keep({ id: memberId, version: report.version });
          }}
        >
          Keep as evidence
        </Button>
      }
    >
      {isError && <Typography variant="body2">It cannot be judged just now: the database does not respond.</Typography>}
      {isNotKept && (
        <Typography variant="body2" color="error" role="status">
          It was not kept: there is a newer version, or the database does not respond.
        </Typography>
      )}
      {version === undefined && <Typography variant="body2">Waiting until the edits are saved …</Typography>}
      {isNow && report.rows.length === 0 && <Typography variant="body2">No limit is set yet.</Typography>}
      {isNow && report.rows.length > 0 && (
        <>
          <MeasuredTable
            label="Acceptance"
            heads={['Limit', 'At most', 'Measured', 'Result']}
            rows={report.rows.map((row) => ({ key: row.key, cells: cellsOf(row, units) }))}
          />
          <Typography sx={{ mt: 0.75, fontWeight: 600 }} color={colourOf(report.verdict)} role="status">
            {verdictWords(report.verdict, noun)}
          </Typography>
          <Typography variant="body2" color="text.secondary">
            {report.run
              ? `${test} of ${new Date(report.run.startedAt).toLocaleString()}, version ${report.run.axisVersion}${report.identity === '' ? '' : `, device ${report.identity}`}.`
              : `No ${test.toLowerCase()} has been recorded.`}
          </Typography>
        </>
      )}
    </Panel>
  );
}

/** What is judged, and what it is made at. */
const testWords = { axis: ['Test move', 'axis'], spindle: ['Run test', 'spindle'] } as const;

const verdictWords = (verdict: AcceptanceVerdict, noun: string): string =>
  verdict === 'passed'
    ? `The ${noun} is within all its limits.`
    : verdict === 'failed'
      ? `The ${noun} is not within its limits.`
      : 'Not everything has been measured yet.';
const colourOf = (verdict: AcceptanceVerdict): string =>
  verdict === 'passed' ? 'success.main' : verdict === 'failed' ? 'error' : 'text.primary';

function cellsOf({ key, limit, measured, verdict, because }: AcceptanceRow, units: ShownUnits): readonly string[] {
  const { label, unit } = acceptanceLimits[key];
  const name = (value: number) => `${formatNumber(units.shown(value, unit), 4)} ${units.name(unit)}`;
  return [
    label,
    name(limit),
    measured === undefined ? '—' : name(measured),
    because === undefined ? words[verdict] : `${words[verdict]}: ${because}`,
  ];
}

/** Acceptances that were kept, with what they hold good for. */
function KeptAcceptances({ units }: { readonly units: ShownUnits }) {
  const { memberId, document } = useMember();
  const { data: kept = [] } = useEvidenceQuery(memberId);
  const digest = useMemo(() => acceptanceDigest(document), [document]);
  const all = kept.flatMap((each) => (each.kind === 'acceptance' ? [each] : []));
  return (
    <Panel title="Kept as evidence">
      {all.length === 0 && <Typography variant="body2">None has been kept yet.</Typography>}
      {all.length > 0 && (
        <MeasuredTable
          label="Acceptances kept as evidence"
          heads={['When', 'Result', 'Limits', 'Device', 'Valid for']}
          rows={all.slice(0, 10).map(({ madeAt, revision, identity, digest: then, payload }) => ({
            key: madeAt,
            cells: [
              new Date(madeAt).toLocaleString(),
              words[payload.verdict],
              payload.rows
                .map(({ key, measured, verdict }) => {
                  const { label, unit } = acceptanceLimits[key];
                  return `${label} ${measured === undefined ? '—' : formatNumber(units.shown(measured, unit), 3)} (${words[verdict]})`;
                })
                .join('; '),
              identity || 'not known',
              then === digest ? `version ${revision}` : `plan changed since version ${revision}`,
            ],
          }))}
        />
      )}
    </Panel>
  );
}
