import { homingDigest, type MeasuredHomes } from '@kavrid/contract';
import { scatterOf } from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Typography } from '@mui/material';
import { useMemo } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { useEvidenceQuery } from '../store/api.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';

const byWords = { drive: 'by the drive', controller: 'by the controller', gauge: 'at a gauge' } as const;

/** Homing series that were measured before, with what they hold good for; the chosen one is drawn over the prediction. */
export function KeptSeries(props: {
  readonly chosen: MeasuredHomes | undefined;
  readonly onChoose: (series: MeasuredHomes | undefined) => void;
}) {
  const { chosen, onChoose } = props;
  const { memberId, document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const { data: kept = [], isError } = useEvidenceQuery(memberId);
  const digest = useMemo(() => homingDigest(document), [document]);
  const series = kept.filter(
    (each): each is MeasuredHomes => each.kind === 'homing series' && each.payload.homes.length > 1,
  );
  return (
    <Panel title="Series kept as evidence">
      {isError && <Typography variant="body2">They cannot be read just now: the database does not respond.</Typography>}
      {!isError && series.length === 0 && <Typography variant="body2">None has been measured yet.</Typography>}
      {series.length > 0 && (
        <MeasuredTable
          label="Series kept as evidence"
          heads={['Measured', 'Homings', `1 σ, ${units.unit}`, `Range, ${units.unit}`, 'Valid for']}
          rows={series.slice(0, 8).map((each) => {
            const { homes, of, by = 'drive' } = each.payload;
            const { standardDeviation, range } = scatterOf(homes);
            return {
              key: each.madeAt,
              cells: [
                `${new Date(each.madeAt).toLocaleString()}, ${byWords[by]}`,
                homes.length < of ? `${homes.length} of ${of}` : String(of),
                formatNumber(units.shown(standardDeviation, '{u}'), 3),
                formatNumber(units.shown(range, '{u}'), 3),
                each.digest === digest ? `version ${each.revision}` : `plan changed since version ${each.revision}`,
              ],
              isChosen: each.madeAt === chosen?.madeAt,
              onChoose: () => onChoose(each.madeAt === chosen?.madeAt ? undefined : each),
            };
          })}
        />
      )}
    </Panel>
  );
}
