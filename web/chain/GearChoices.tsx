import { gearCandidates, resolutionChoices } from '@kavrid/core/chain';
import { formatNumber, rationalToText, toNumber, toRational, type Rational } from '@kavrid/core/quantity';
import { all, valueOf } from '@kavrid/core/sheet';
import {
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { memo, useMemo, useState } from 'react';
import { useAxis, useEdit } from '../axis/axisContext.ts';
import { numberFace } from '../theme.ts';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';

/** Gear ratios to adopt: the fractions near the wanted resolution, or the whole trade of resolution against speed. */
export const GearChoices = memo(function GearChoices() {
  const [which, setWhich] = useState<'fractions' | 'range'>('fractions');
  return (
    <Panel
      title="Gear ratios"
      aside={
        <ToggleButtonGroup
          size="small"
          exclusive
          value={which}
          onChange={(_, chosen: typeof which | null) => chosen && setWhich(chosen)}
          aria-label="Which ratios"
        >
          <ToggleButton value="fractions" sx={{ py: 0 }}>
            this resolution
          </ToggleButton>
          <ToggleButton value="range" sx={{ py: 0 }}>
            all resolutions
          </ToggleButton>
        </ToggleButtonGroup>
      }
    >
      {which === 'fractions' ? <Fractions /> : <Range />}
    </Panel>
  );
});

function useAdopt() {
  const edit = useEdit();
  return (fraction: Rational) =>
    edit(['gear'], { numerator: String(fraction.numerator), denominator: String(fraction.denominator) });
}

function Fractions() {
  const { document, computation } = useAxis();
  const { wantedRatio, gearLimits, travel } = computation.results;
  const adopt = useAdopt();
  const units = useShownUnits(computation.input.axisUnit);
  const candidates = useMemo(() => {
    const both = all(wantedRatio, gearLimits);
    if (both.state === 'unknown') return both;
    const [wanted, limits] = both.value as [
      NonNullable<Parameters<typeof toRational>[0]>,
      Parameters<typeof gearCandidates>[1],
    ];
    return { state: 'known' as const, value: gearCandidates(toRational(wanted), limits, 6) };
  }, [wantedRatio, gearLimits]);
  if (candidates.state === 'unknown')
    return <Typography color="text.secondary">Unknown, because {candidates.because}.</Typography>;
  const length = valueOf(travel);
  return (
    <Table
      size="small"
      aria-label="Fractions for the wanted resolution"
      sx={{
        '& td, & th': { px: 0.5, whiteSpace: 'nowrap' },
        '& td': { fontFamily: numberFace, fontSize: 12 },
        '& .MuiButton-root': { minWidth: 0 },
      }}
    >
      <TableHead>
        <TableRow>
          <TableCell>N / D</TableCell>
          <TableCell align="right">error, ppm</TableCell>
          <TableCell align="right">over travel, {units.unit}</TableCell>
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {candidates.value.map(({ fraction, ppm }) => {
          const text = rationalToText(fraction);
          const isNow =
            document.gear.numerator === String(fraction.numerator) &&
            document.gear.denominator === String(fraction.denominator);
          return (
            <TableRow key={text} selected={isNow}>
              <TableCell>{text}</TableCell>
              <TableCell align="right">{ppm === 0 ? 'exact' : formatNumber(ppm, 4)}</TableCell>
              <TableCell align="right">
                {length ? formatNumber(units.shown((ppm / 1e6) * toNumber(length), '{u}'), 3) : '—'}
              </TableCell>
              <TableCell align="right" sx={{ width: 70 }}>
                {isNow ? (
                  'in use'
                ) : (
                  <Button size="small" sx={{ py: 0 }} onClick={() => adopt(fraction)} aria-label={`Adopt ${text}`}>
                    Adopt
                  </Button>
                )}
              </TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}

function Range() {
  const { document, computation } = useAxis();
  const { results } = computation;
  const adopt = useAdopt();
  const edit = useEdit();
  const units = useShownUnits(computation.input.axisUnit);
  const limits = valueOf(results.gearLimits);
  const choices = useMemo(() => (limits ? resolutionChoices(results, limits) : []), [results, limits]);
  if (choices.length === 0)
    return (
      <Typography color="text.secondary">
        Unknown until encoder, mechanics, both pulse rates and the motor’s speed are given.
      </Typography>
    );
  const wanted = valueOf(results.wantedSpeed);
  return (
    <>
      <Table
        size="small"
        aria-label="Speed against resolution"
        sx={{
          '& td, & th': { px: 0.5, whiteSpace: 'nowrap' },
          '& td': { fontFamily: numberFace, fontSize: 12 },
          '& .MuiButton-root': { minWidth: 0 },
        }}
      >
        <TableHead>
          <TableRow>
            <TableCell>{units.unit}/pulse</TableCell>
            <TableCell>N / D</TableCell>
            <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
              top {units.unit}/s
            </TableCell>
            <TableCell sx={{ whiteSpace: 'nowrap' }}>limited by</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {choices.map((choice) => {
            const text = rationalToText(choice.fraction);
            const enough = wanted === undefined || choice.highestSpeed >= wanted;
            const isNow =
              document.gear.numerator === String(choice.fraction.numerator) &&
              document.gear.denominator === String(choice.fraction.denominator);
            return (
              <TableRow key={text} selected={isNow}>
                <TableCell>{formatNumber(units.shown(toNumber(choice.resolution), '{u}'), 4)}</TableCell>
                <TableCell>{text}</TableCell>
                <TableCell align="right" sx={{ color: enough ? 'success.main' : 'error.main' }}>
                  {formatNumber(units.shown(choice.highestSpeed, '{u}'), 4)}
                  {enough ? '' : ' ✕'}
                </TableCell>
                <TableCell>
                  {choice.binding
                    .map((limit) => limit.replace(' pulse rate', '').replace(' rate', '').replace(' speed', ''))
                    .join(', ')}
                </TableCell>
                <TableCell align="right">
                  {isNow ? (
                    'in use'
                  ) : (
                    <Button
                      size="small"
                      sx={{ py: 0 }}
                      aria-label={`Adopt ${text}`}
                      onClick={() => {
                        adopt(choice.fraction);
                        edit(['wanted', 'resolution'], `${toNumber(choice.resolution)} ${computation.input.axisUnit}`);
                      }}
                    >
                      Adopt
                    </Button>
                  )}
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
      <Typography variant="body2" color="text.secondary">
        ✕ slower than wanted. Adopting takes the resolution with it.
      </Typography>
    </>
  );
}
