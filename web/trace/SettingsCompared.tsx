import { changesBetween, fieldValueWords, fieldWords, pointerOf, type RunRecord } from '@kavrid/contract';
import { Typography } from '@mui/material';
import { Differences } from '../ui/Differences.tsx';

/** The settings in which the runs that are compared differ from the first. */
export function SettingsCompared({
  runs,
  nameOf,
}: {
  readonly runs: readonly RunRecord[];
  readonly nameOf: (id: string) => string;
}) {
  const [first, ...others] = runs;
  if (!first) return null;
  return others.map((run) => {
    const changes = changesBetween(first.axis, run.axis);
    const title = `${nameOf(run.id)} (v${run.axisVersion}) against ${nameOf(first.id)} (v${first.axisVersion})`;
    const devices = [first.trace.identity ?? '', run.trace.identity ?? ''];
    return (
      <div key={run.id}>
        {devices[0] !== devices[1] && (
          <Typography variant="body2" color="warning.main">
            {`They were recorded by different devices: ${devices.map((each) => each || 'unknown').join(' and ')}.`}
          </Typography>
        )}
        {changes.length === 0 ? (
          <Typography variant="body2">{`${title}: no setting differs.`}</Typography>
        ) : (
          <Differences
            title={title}
            heads={[nameOf(first.id), nameOf(run.id)]}
            rows={changes.map(({ path, before, after }) => ({
              key: pointerOf(path),
              label: fieldWords(path),
              was: fieldValueWords(before),
              is: fieldValueWords(after),
            }))}
          />
        )}
      </div>
    );
  });
}
