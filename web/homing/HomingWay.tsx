import { checkedHoming, homingModel } from '@kavrid/contract';
import { homingFindingsOf } from '@kavrid/core/findings';
import { homingMethodFacts, predictHoming } from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { useMemo, useState } from 'react';
import type { HomingPlan } from '../jobs/homingJob.ts';
import { axisPlace } from '../member/axisPlaces.ts';
import { isReady } from '../member/isReady.ts';
import { useAxis } from '../member/useAxis.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { FindingList } from '../ui/FindingList.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { HomingDrawing } from './HomingDrawing.tsx';
import { HomingSpread } from './HomingSpread.tsx';
import { driveHoming, useMappedHoming } from './mappedHoming.ts';
import { usePlaceNow } from './usePlaceNow.ts';

/** The way of a homing from a start that is dragged, and what it needs from any start. */
export function HomingWay({ plan }: { readonly plan: HomingPlan | undefined }) {
  const { memberId, document, computation } = useAxis();
  const dispatch = useAppDispatch();
  const units = useShownUnits(computation.input);
  const [typedStart, setStart] = useState<number>();
  const model = useMemo(() => homingModel(document, computation.results), [document, computation.results]);
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  const now = usePlaceNow();
  const mapped = useMappedHoming();
  const name = (value: number) => units.quantity(value, '{u}');
  const place = (value: number) => formatNumber(units.shown(value, '{u}'), 4);
  const home = (
    <Button
      variant="contained"
      disabled={!ready || document.homing.by !== 'drive'}
      onClick={() => {
        void dispatch(act(memberId, (version) => ({ type: 'home', version })));
      }}
    >
      Home
    </Button>
  );
  if (model.state === 'unknown')
    return (
      <Panel title="Homing path" aside={home}>
        <Typography>{`There is no drawing: ${model.because}.`}</Typography>
      </Panel>
    );
  const { definition, world, travel, indexAt, isScanAssumed, isWithoutLag } = model.value;
  const start = typedStart ?? travel / 2;
  const prediction = predictHoming(definition, { ...world, start, indexAt: indexAt ?? 0 });
  const longest = plan?.longest;
  const findings = longest
    ? homingFindingsOf({
        ...checkedHoming(
          document,
          computation.results,
          model.value,
          longest,
          mapped && driveHoming(mapped, definition.method),
        ),
        quantity: units.quantity,
      })
    : [];
  const { minusSoftLimit: minus, plusSoftLimit: plus } = document.settings;
  const { kind, usesIndex } = homingMethodFacts(definition.method);
  const assumptions = [
    ...(isScanAssumed ? ['a scan of 1 ms is assumed'] : []),
    ...(document.homing.switchScatter === null && kind !== 'index' ? ['the scatter of the switch is not entered'] : []),
    ...(isWithoutLag ? ['the following error is left out, because no position gain is planned'] : []),
    ...(indexAt === undefined && usesIndex ? ['the place of the index pulse is not entered: one at 0 is assumed'] : []),
  ];
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Panel title="Homing path" aside={home}>
        <HomingDrawing
          model={model.value}
          prediction={prediction}
          start={start}
          onStart={setStart}
          softLimits={{ minus, plus }}
          now={now}
          shown={name}
          name={name}
        />
        <Typography variant="body2" color="text.secondary">
          {`Drag the start. ${document.homing.by === 'controller' ? 'The controller homes this axis: home it there. ' : ''}${assumptions.length > 0 ? `${assumptions.join('; ')}.`.replace(/^./, (each) => each.toUpperCase()) : ''}`}
        </Typography>
      </Panel>
      <Box
        sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1.25fr) minmax(0, 1fr)', alignItems: 'start' }}
      >
        <Box sx={{ display: 'grid', gap: 1 }}>
          <Panel title="From this start">
            <FactTable
              label="Legs of the homing"
              rows={[
                ...prediction.legs.map(({ name: leg, from, to, seconds }, k) => ({
                  what: `${k + 1}. ${leg}`,
                  is: `${place(from)} → ${place(to)}, ${formatNumber(seconds, 3)} s`,
                })),
                prediction.because === undefined
                  ? { what: 'At rest the position reads', is: name(prediction.reads), strong: true }
                  : { what: 'It fails', is: prediction.because, isWrong: true },
              ]}
            />
          </Panel>
        </Box>
        <Box sx={{ display: 'grid', gap: 1 }}>
          <Panel title="From any start">
            {longest?.because === undefined ? (
              <FactTable
                label="From any start"
                rows={
                  longest
                    ? [
                        { what: 'Time, at most', is: `${formatNumber(longest.seconds, 3)} s`, strong: true },
                        { what: 'Overrun past a switch', is: name(longest.overrun) },
                        ...(longest.lowest < 0
                          ? [{ what: 'Room behind the minus limit', is: name(-longest.lowest) }]
                          : []),
                        ...(longest.highest > travel && !model.value.isEndless
                          ? [{ what: 'Room behind the plus limit', is: name(longest.highest - travel) }]
                          : []),
                      ]
                    : []
                }
              />
            ) : (
              <Typography variant="body2" color="error">{`It fails from some starts: ${longest.because}.`}</Typography>
            )}
          </Panel>
          {plan?.spread && <HomingSpread spread={plan.spread} measured={undefined} />}
          <Panel title="Findings">
            <FindingList findings={findings} placeOf={(path) => axisPlace(document, path)} />
          </Panel>
        </Box>
      </Box>
    </Box>
  );
}
