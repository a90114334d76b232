import { checkedHoming, homingMeans, homingModel, type LiveState } from '@kavrid/contract';
import { homingFindingsOf, type CheckedHoming } from '@kavrid/core/findings';
import {
  homingMethodFacts,
  homingMethods,
  predictHoming,
  type HomingMethod,
  type HomingMeans,
  type HomingPriority,
} from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, Typography } from '@mui/material';
import { useMemo, useState } from 'react';
import type { HomingPlan, HomingRequest } from '../jobs/homingJob.ts';
import { useJob } from '../jobs/useJob.ts';
import { axisPlace } from '../member/axisPlaces.ts';
import { isReady } from '../member/isReady.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { act } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { FindingList } from '../ui/FindingList.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { HomingChoices } from './HomingChoices.tsx';
import { HomingDrawing } from './HomingDrawing.tsx';
import { HomingSeriesPanel } from './HomingSeriesPanel.tsx';
import { HomingSpread } from './HomingSpread.tsx';

const startWorker = () => new Worker(new URL('../jobs/homing.worker.ts', import.meta.url), { type: 'module' });

/** Choosing a homing method, seeing its way, what it needs and how well it repeats. */
export function HomingView() {
  const { document, computation } = useAxis();
  const [changed, setChanged] = useState<Partial<HomingMeans>>({});
  const mapped = useMappedHoming();
  const [priority, setPriority] = useState<HomingPriority>('repeatability');
  const means = useMemo(
    () => ({
      ...homingMeans(document, computation.results),
      known:
        document.homing.by === 'drive'
          ? mapped?.methods && homingMethods.filter((each) => each in (mapped.methods ?? {}))
          : undefined,
      ...changed,
    }),
    [document, computation.results, changed, mapped],
  );
  const request = useMemo((): HomingRequest => ({ axis: document, means, priority }), [document, means, priority]);
  const plan = useJob<HomingRequest, HomingPlan>(startWorker, request)?.result;
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '310px minmax(0, 1fr)', alignItems: 'start' }}>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <HomingChoices
          means={means}
          onMeans={setChanged}
          priority={priority}
          onPriority={setPriority}
          choices={plan?.choices}
        />
        <Places />
      </Box>
      <Way plan={plan} />
    </Box>
  );
}

type MappedHoming = NonNullable<LiveState['homing']>;

/** What the register map of the drive says of its homing; the same object as long as it says the same. */
function useMappedHoming(): MappedHoming | undefined {
  const text = useAppSelector(({ live: { live } }) =>
    live?.kind === 'axis' && live.homing ? JSON.stringify(live.homing) : undefined,
  );
  return useMemo(() => (text === undefined ? undefined : (JSON.parse(text) as MappedHoming)), [text]);
}

/** A method as the drive has it. */
const driveHoming = (
  { methods, homeOffset, softLimitsFrom, switches }: MappedHoming,
  method: HomingMethod,
): CheckedHoming['drive'] => ({
  hasMethod: methods === undefined || methods[method] !== undefined,
  hasInput: (input) => switches.length === 0 || switches.includes(input),
  saysOffset: homeOffset !== undefined,
  saysSoftLimits: softLimitsFrom !== undefined,
});

/** Where switches, stops and pulses are. */
function Places() {
  const { by } = useAxis().document.homing;
  return (
    <Panel title="Switches, stops, speeds">
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        <NumberField label="Search speed" path={['homing', 'searchSpeed']} rule="speed" />
        <NumberField label="Creep speed" path={['homing', 'creepSpeed']} rule="speed" />
        <NumberField label="Acceleration" path={['homing', 'acceleration']} rule="acceleration" />
        <NumberField label="Position at home" path={['homing', 'positionAtHome']} rule="position" />
        <NumberField label="Home switch from" path={['homing', 'homeSwitchFrom']} rule="position" />
        <NumberField label="Home switch length" path={['homing', 'homeSwitchLength']} rule="distance" />
        <NumberField label="Minus hard stop at" path={['homing', 'minusStop']} rule="position" />
        <NumberField label="Plus hard stop at" path={['homing', 'plusStop']} rule="position" />
        <NumberField label="An index pulse at" path={['homing', 'indexAt']} rule="position" />
        <NumberField label="Index pulse that counts" path={['homing', 'indexPulse']} rule="indexPulse" />
        <NumberField label="Switch hysteresis" path={['homing', 'hysteresis']} rule="distance" />
        <NumberField label="Switch scatter (1 σ)" path={['homing', 'switchScatter']} rule="distance" />
        <NumberField label={`Scan of the ${by}`} path={['homing', 'scanPeriod']} rule="dwell" />
        <NumberField label="Input debounce" path={['homing', 'debounce']} rule="dwell" />
        <NumberField label="Longest search" path={['homing', 'mostTravel']} rule="distance" />
        <NumberField label="Torque limit homing" path={['homing', 'torqueLimit']} rule="percent" />
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.75 }}>
        Places count from the minus limit, where that switches.
      </Typography>
    </Panel>
  );
}

function Way({ plan }: { readonly plan: HomingPlan | undefined }) {
  const { memberId, document, computation } = useAxis();
  const dispatch = useAppDispatch();
  const units = useShownUnits(computation.input);
  const [typedStart, setStart] = useState<number>();
  const model = useMemo(() => homingModel(document, computation.results), [document, computation.results]);
  const ready = useAppSelector(({ live: { live } }) => isReady(live));
  const now = useAppSelector(({ live: { live } }) => (live?.kind === 'axis' && live.homed ? live.position : undefined));
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
      <Panel title="Way of the homing" aside={home}>
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
      <Panel title="Way of the homing" aside={home}>
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
          <HomingSeriesPanel indexSpacing={world.indexSpacing} />
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
          {plan?.spread && <HomingSpread spread={plan.spread} />}
          <Panel title="Findings">
            <FindingList findings={findings} placeOf={(path) => axisPlace(document, path)} />
          </Panel>
        </Box>
      </Box>
    </Box>
  );
}
