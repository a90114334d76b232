import {
  burstTable,
  isoProgram,
  plcProgram,
  stepCsv,
  stepHeader,
  type ProgramMove,
  type ProgramText,
} from '@kavrid/core/program';
import { hasGear } from '@kavrid/core/chain';
import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box, Button, Typography } from '@mui/material';
import { useMemo, useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { NumberInput } from '../ui/NumberInput.tsx';
import { Panel } from '../ui/Panel.tsx';
import { saveText } from '../ui/saveText.ts';

/** What a program can be written as, by the file it is kept in. */
const forms = {
  iso: { label: 'ISO 6983 (G-code)', file: 'moves.nc', isOfPulses: false },
  plc: { label: 'IEC 61131-3 text, PLCopen blocks', file: 'moves.st', isOfPulses: false },
  bursts: { label: 'Table of bursts, untimed pulses', file: 'bursts.csv', isOfPulses: true },
  csv: { label: 'Timer ticks of every pulse, CSV', file: 'steps.csv', isOfPulses: true },
  header: { label: 'Timer ticks of every pulse, C header', file: 'steps.h', isOfPulses: true },
} as const;
type Form = keyof typeof forms;

const timerBits = [8, 16, 24, 32] as const;

/** s that a program dwells after a move where the test move says nothing. */
const usualDwell = 0.3;
/** Characters of a program that are shown. */
const shownCharacters = 4000;

/** The planned moves as a program for the controller, in the language that it takes. */
export function ProgramPanel() {
  const { document, computation } = useAxis();
  const { input, results } = computation;
  const [form, setForm] = useState<Form>('iso');
  const [clock, setClock] = useState<number | null>(1_000_000);
  const [bits, setBits] = useState<(typeof timerBits)[number]>(16);
  const [rate, setRate] = useState<number | null>(null);
  const { distance, speed, repeats } = document.moves.host;
  const { acceleration, dwell } = document.testMove;
  const unit = input.axisUnit;
  const made = useMemo((): ProgramText => {
    if (distance === null || speed === null || repeats === null)
      return { because: 'Enter distance, speed and repeats of the moves first.' };
    if (acceleration === null)
      return { because: 'Enter the acceleration of the test move first: the program takes it.' };
    const move: ProgramMove = {
      name: document.name,
      unit,
      distance,
      speed,
      acceleration,
      repeats,
      dwell: Math.max(dwell ?? usualDwell, 0.2),
    };
    if (form === 'iso') return isoProgram(move);
    if (form === 'plc') return plcProgram(move);
    const steps = hasGear(input.command) ? valueOf(results.stepsPerUnit) : undefined;
    if (!steps) return { because: 'The steps per unit of this axis are not known.' };
    const pulsesPerUnit = toNumber(steps);
    const most = document.controller.maximumPulseRate;
    if (form === 'bursts') {
      const needed = pulsesPerUnit * Math.min(speed, Math.sqrt(acceleration * distance));
      return burstTable(move, pulsesPerUnit, rate ?? Math.ceil(needed), most);
    }
    if (clock === null) return { because: 'Enter the clock of the timer.' };
    const timer = { clock, bits };
    return form === 'csv' ? stepCsv(move, pulsesPerUnit, timer) : stepHeader(move, pulsesPerUnit, timer);
  }, [document, input, results, unit, distance, speed, repeats, acceleration, dwell, form, clock, bits, rate]);
  return (
    <Panel
      title="Program for the controller"
      aside={
        <Button
          variant="contained"
          disabled={'because' in made}
          onClick={() =>
            'text' in made && saveText(`${document.name || 'axis'} ${forms[form].file}`, made.text, 'text/plain')
          }
        >
          Save the program
        </Button>
      }
    >
      <Box sx={{ display: 'grid', gridTemplateColumns: '1.6fr 1fr 1fr', gap: 1 }}>
        <ChoiceField
          label="Written as"
          value={form}
          choices={(Object.keys(forms) as Form[])
            .filter((value) => hasGear(input.command) || !forms[value].isOfPulses)
            .map((value) => ({ value, label: forms[value].label }))}
          onChange={setForm}
        />
        {form === 'bursts' && (
          <NumberInput
            label="Pulse rate"
            rule="pulseRate"
            value={rate}
            help="Empty: as slow as the move allows"
            onValue={setRate}
          />
        )}
        {(form === 'csv' || form === 'header') && (
          <>
            <NumberInput label="Clock of the timer" rule="pulseRate" value={clock} onValue={setClock} />
            <ChoiceField
              label="Bits of the timer"
              value={bits}
              choices={timerBits.map((value) => ({ value, label: String(value) }))}
              onChange={setBits}
            />
          </>
        )}
      </Box>
      {'because' in made ? (
        <Typography sx={{ mt: 1 }}>{made.because}</Typography>
      ) : (
        <>
          {made.notes.map((note) => (
            <Typography key={note} variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
              {note}
            </Typography>
          ))}
          <Box
            component="pre"
            tabIndex={0}
            aria-label="Program"
            sx={{
              m: 0,
              mt: 0.5,
              p: 1,
              maxHeight: 190,
              overflow: 'auto',
              fontSize: 12,
              bgcolor: 'action.hover',
              borderRadius: 1,
            }}
          >
            {made.text.slice(0, shownCharacters)}
            {made.text.length > shownCharacters ? `\n… ${formatNumber(made.text.length, 6)} characters in all` : ''}
          </Box>
        </>
      )}
    </Panel>
  );
}
