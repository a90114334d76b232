import {
  newStage,
  partOfAxis,
  sameJson,
  type DocumentPath,
  type LibraryKind,
  type StageDocument,
} from '@kavrid/contract';
import { givesTravel, travelKinds, turningKinds, type Station } from '@kavrid/core/chain';
import { Box, Button, FormControlLabel, Switch, TextField, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { useAxis, useEdit } from '../axis/axisContext.ts';
import { useLibraryQuery } from '../store/api.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { Panel } from '../ui/Panel.tsx';
import { ExactField, NumberField } from '../ui/QuantityField.tsx';
import { stageNames, stationName } from './stationName.ts';

/** The fields of the station chosen in the strip. */
export function StationFields({
  station,
  choose,
}: {
  readonly station: Station;
  readonly choose: (id: string) => void;
}) {
  return (
    <Panel title={stationName(station)}>
      <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>{fieldsOf(station, choose)}</Box>
    </Panel>
  );
}

function fieldsOf(station: Station, choose: (id: string) => void): ReactNode {
  switch (station.kind) {
    case 'controller':
      return <ControllerFields />;
    case 'drive':
      return <DriveFields />;
    case 'motor':
      return <MotorFields />;
    case 'stage':
      return <StageFields index={Number(station.id.replace('stage-', ''))} choose={choose} />;
    case 'load':
      return <LoadFields />;
  }
}

/** Two fields side by side. */
const Pair = ({ children }: { readonly children: ReactNode }) => (
  <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, alignItems: 'start' }}>{children}</Box>
);

function TextLine({
  label,
  path,
  value,
  help,
}: {
  readonly label: string;
  readonly path: DocumentPath;
  readonly value: string;
  readonly help?: string;
}) {
  const edit = useEdit();
  return (
    <TextField
      label={label}
      value={value}
      helperText={help}
      onChange={(event) => edit(path, event.target.value)}
      slotProps={{ htmlInput: { maxLength: 80 } }}
    />
  );
}

function Toggle({
  label,
  path,
  value,
}: {
  readonly label: string;
  readonly path: DocumentPath;
  readonly value: boolean;
}) {
  const edit = useEdit();
  return (
    <FormControlLabel
      control={<Switch size="small" checked={value} onChange={(_, checked) => edit(path, checked)} />}
      label={label}
      sx={{ '& .MuiFormControlLabel-label': { fontSize: 13 } }}
    />
  );
}

const ownData = 'typed here';

/** Takes the data of a library entry into the axis; they can be changed there, and it is shown when they were. */
function FromLibrary({ shelf }: { readonly shelf: LibraryKind }) {
  const { document } = useAxis();
  const { data } = useLibraryQuery({ shelf, search: '', page: 0, size: 200 });
  const edit = useEdit();
  const now = document[shelf];
  const partOf = (id: string) => {
    const record = data?.items.find((each) => each.id === id);
    return record && partOfAxis(record.item, { id, version: record.version })?.[shelf];
  };
  const entries = (data?.items ?? []).filter(({ id }) => partOf(id) !== undefined);
  const part = now.entry && partOf(now.entry.id);
  const isNewer = part?.entry && now.entry && part.entry.version > now.entry.version;
  const isChanged = part && !isNewer && !sameJson(part, now);
  const label = now.entry && !part ? `${now.name} (no longer in the library)` : `${now.name} (${ownData})`;
  return (
    <>
      <ChoiceField
        label="Kind, from the library"
        value={part ? (now.entry?.id ?? ownData) : ownData}
        choices={[
          ...(part ? [] : [{ value: ownData, label }]),
          ...entries.map(({ id, item }) => ({ value: id, label: item.entry.name })),
        ]}
        onChange={(id) => {
          const chosen = partOf(id);
          if (chosen) edit([shelf], chosen);
        }}
        {...(isChanged ? { help: 'Changed here since it was taken from the library.' } : {})}
      />
      {isNewer && (
        <Button variant="outlined" color="warning" onClick={() => edit([shelf], part)}>
          Newer in the library: take it over
        </Button>
      )}
    </>
  );
}

function ControllerFields() {
  const { document, computation } = useAxis();
  const edit = useEdit();
  return (
    <>
      <FromLibrary shelf="controller" />
      <NumberField
        label="Highest pulse rate"
        path={['controller', 'maximumPulseRate']}
        rule="pulseRate"
        help="What it can really send, all axes running."
      />
      <ChoiceField
        label="Line to the drive"
        value={document.command.electrical}
        onChange={(value) => edit(['command', 'electrical'], value)}
        choices={[
          { value: 'differential', label: 'Differential (line driver)' },
          { value: 'singleEnded', label: 'Single-ended' },
        ]}
      />
      <Toggle
        label="Direction inverted at the command"
        path={['command', 'inverted']}
        value={document.command.inverted}
      />
      <Pair>
        <ExactField label="Wanted resolution" path={['wanted', 'resolution']} rule="resolution" help="a pulse" />
        <NumberField label="Wanted speed" path={['wanted', 'speed']} rule="speed" />
      </Pair>
      {computation.input.axisUnit === 'mm' && (
        <Typography variant="body2" color="text.secondary">
          Units may be typed: 10 um, 0.0004 in, 60 m/min.
        </Typography>
      )}
    </>
  );
}

function DriveFields() {
  const { document } = useAxis();
  const edit = useEdit();
  return (
    <>
      <Pair>
        <ExactField label="Gear numerator N" path={['gear', 'numerator']} rule="gearRegister" />
        <ExactField label="Gear denominator D" path={['gear', 'denominator']} rule="gearRegister" />
      </Pair>
      <Typography variant="body2" color="text.secondary">
        Counts = pulses × N / D
      </Typography>
      <FromLibrary shelf="drive" />
      <Pair>
        <ExactField label="Largest N" path={['drive', 'numeratorMax']} rule="gearRegister" />
        <ExactField label="Largest D" path={['drive', 'denominatorMax']} rule="gearRegister" />
        <ExactField label="Smallest N/D" path={['drive', 'ratioMin']} rule="ratioBound" />
        <ExactField label="Largest N/D" path={['drive', 'ratioMax']} rule="ratioBound" />
        <NumberField label="Differential input" path={['drive', 'differentialRate']} rule="pulseRate" />
        <NumberField label="Single-ended input" path={['drive', 'singleEndedRate']} rule="pulseRate" />
        <NumberField label="Position counter, bits" path={['drive', 'counterBits']} rule="counterBits" />
      </Pair>
      <ChoiceField
        label="Plus turns the shaft, seen from the shaft side"
        value={document.settings.rotationSense}
        onChange={(value) => edit(['settings', 'rotationSense'], value)}
        choices={[
          { value: 'counterClockwise', label: 'counter-clockwise' },
          { value: 'clockwise', label: 'clockwise' },
        ]}
      />
    </>
  );
}

function MotorFields() {
  const { document } = useAxis();
  const edit = useEdit();
  const { encoder } = document.motor;
  return (
    <>
      <FromLibrary shelf="motor" />
      <ChoiceField
        label="Encoder known by"
        value={encoder.kind}
        onChange={(kind) => edit(['motor', 'encoder'], kind === 'lines' ? { kind, lines: '' } : { kind, bits: '' })}
        choices={[
          { value: 'bits', label: 'bits a revolution' },
          { value: 'lines', label: 'lines (four counts each)' },
        ]}
      />
      {encoder.kind === 'bits' ? (
        <ExactField label="Encoder bits" path={['motor', 'encoder', 'bits']} rule="encoderBits" />
      ) : (
        <ExactField label="Encoder lines" path={['motor', 'encoder', 'lines']} rule="encoderLines" />
      )}
      <Pair>
        <NumberField label="Rated torque" path={['motor', 'ratedTorque']} rule="torque" />
        <NumberField label="Peak torque" path={['motor', 'peakTorque']} rule="torque" />
        <NumberField label="Rated speed" path={['motor', 'ratedSpeed']} rule="motorSpeed" />
        <NumberField label="Highest speed" path={['motor', 'topSpeed']} rule="motorSpeed" />
      </Pair>
      <NumberField
        label="Rotor inertia"
        path={['motor', 'rotorInertia']}
        rule="rotorInertia"
        help="kg·cm² may be typed"
      />
    </>
  );
}

function StageFields({ index, choose }: { readonly index: number; readonly choose: (id: string) => void }) {
  const { document } = useAxis();
  const edit = useEdit();
  const stage = document.stages[index];
  if (!stage) return null;
  const last = index === document.stages.length - 1;
  const linear = document.motion.kind === 'linear';
  const kinds = last && linear ? [...travelKinds, ...turningKinds] : turningKinds;
  const path = (field: string): DocumentPath => ['stages', index, field];
  const replace = (stages: readonly StageDocument[], next: number) => {
    edit(['stages'], stages);
    choose(`stage-${next}`);
  };
  return (
    <>
      <ChoiceField
        label="Kind of stage"
        value={stage.kind}
        choices={kinds.map((kind) => ({ value: kind, label: stageNames[kind] }))}
        onChange={(kind) => edit(['stages', index], newStage(kind))}
      />
      {stage.kind === 'gearbox' && (
        <ExactField
          label="Ratio, turns in to one out"
          path={path('ratio')}
          rule="gearboxRatio"
          help="As 3, 3.5 or exactly 491/49"
        />
      )}
      {stage.kind === 'beltDrive' && (
        <Pair>
          <ExactField label="Pulley teeth" path={path('teeth')} rule="teeth" />
          <ExactField label="Belt pitch" path={path('pitch')} rule="beltPitch" />
        </Pair>
      )}
      {stage.kind === 'screw' && (
        <Pair>
          <ExactField label="Lead" path={path('lead')} rule="lead" help="travel a turn" />
          <ExactField label="Starts" path={path('starts')} rule="starts" help="pitch = lead / starts" />
        </Pair>
      )}
      {stage.kind === 'beltReduction' && (
        <Pair>
          <ExactField label="Driving teeth" path={path('drivingTeeth')} rule="teeth" />
          <ExactField label="Driven teeth" path={path('drivenTeeth')} rule="teeth" />
        </Pair>
      )}
      {stage.kind === 'rack' && (
        <>
          <Pair>
            <ExactField label="Pinion teeth" path={path('teeth')} rule="teeth" />
            <ExactField label="Module" path={path('module')} rule="module" help="normal module" />
          </Pair>
          <ExactField
            label="Helix angle"
            path={path('helixAngle')}
            rule="helixAngle"
            help="0 for a straight rack. Its cosine is taken to 45 digits."
          />
        </>
      )}
      {stage.kind === 'roller' && (
        <ExactField label="Diameter" path={path('diameter')} rule="diameter" help="Slip is measured, not computed." />
      )}
      {stage.kind === 'wireDrum' && (
        <Pair>
          <ExactField label="Drum diameter" path={path('drumDiameter')} rule="diameter" help="under the wire" />
          <ExactField label="Wire diameter" path={path('wireDiameter')} rule="diameter" />
        </Pair>
      )}
      {stage.kind === 'worm' && (
        <Pair>
          <ExactField label="Wheel teeth" path={path('wheelTeeth')} rule="teeth" />
          <ExactField label="Worm starts" path={path('starts')} rule="starts" />
        </Pair>
      )}
      <Pair>
        <NumberField label="Efficiency" path={path('efficiency')} rule="efficiency" help="0 to 1" />
        <NumberField label="Inertia" path={path('inertia')} rule="inertia" help="at its input shaft" />
      </Pair>
      <Toggle
        label={givesTravel(stage.kind) ? 'Plus turns move towards minus' : 'Turns the other way at its output'}
        path={path('reverses')}
        value={stage.reverses}
      />
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button
          onClick={() =>
            replace([...document.stages.slice(0, index), newStage('gearbox'), ...document.stages.slice(index)], index)
          }
        >
          Add a stage before
        </Button>
        <Button
          color="error"
          disabled={document.stages.length === 1}
          onClick={() =>
            replace(
              document.stages.filter((_, k) => k !== index),
              Math.max(0, index - 1),
            )
          }
        >
          Remove
        </Button>
      </Box>
    </>
  );
}

function LoadFields() {
  const { document } = useAxis();
  const { motion } = document;
  return (
    <>
      <TextLine label="Name of the axis" path={['name']} value={document.name} />
      <ExactField
        label={motion.kind === 'dosing' ? 'Largest dose' : 'Travel'}
        path={['motion', 'travel']}
        rule="travel"
      />
      {motion.kind === 'rotary' && (
        <Toggle label="Turns on and on, without an end" path={['motion', 'endless']} value={motion.endless} />
      )}
      {motion.kind === 'dosing' && (
        <ExactField label="Output per turn" path={['motion', 'outputPerTurn']} rule="outputPerTurn" />
      )}
      <TextLine
        label="Plus is the end"
        path={['plusEnd']}
        value={document.plusEnd}
        help="What one sees there: “towards the kiln”"
      />
      {motion.kind === 'linear' ? (
        <Pair>
          <NumberField label="Moved mass" path={['load', 'mass']} rule="mass" />
          <NumberField label="Incline" path={['load', 'incline']} rule="incline" help="90 is straight up" />
        </Pair>
      ) : (
        <NumberField label="Load inertia, at the last shaft" path={['load', 'inertia']} rule="inertia" />
      )}
      <NumberField
        label={motion.kind === 'linear' ? 'Friction along the travel' : 'Friction at the last shaft'}
        path={['load', 'friction']}
        rule={motion.kind === 'linear' ? 'friction' : 'frictionTorque'}
      />
      <NotesField value={document.notes} />
    </>
  );
}

function NotesField({ value }: { readonly value: string }) {
  const edit = useEdit();
  return (
    <TextField
      label="Notes"
      multiline
      minRows={2}
      maxRows={5}
      value={value}
      onChange={(event) => edit(['notes'], event.target.value)}
      slotProps={{ htmlInput: { maxLength: 4000 } }}
    />
  );
}
