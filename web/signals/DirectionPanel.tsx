import { countsSign, type Station } from '@kavrid/core/chain';
import { Box, Typography, useTheme } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { Pair } from '../ui/fieldParts.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { TextLine } from '../member/TextLine.tsx';
import { stationName } from '../member/stationName.ts';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { Panel } from '../ui/Panel.tsx';

/** Which physical end is plus, what turns which way for it, and which switch guards which end. */
export function DirectionPanel() {
  const { document, computation } = useAxis();
  const { settings, protection, stages, pair } = document;
  const { stations, input } = computation;
  const isLinear = document.motion.kind === 'linear';
  const ends = endNames(document.plusEnd);
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Panel title="Direction of plus">
        <EndsPicture />
        <Box sx={{ display: 'grid', gap: 1.25, gridTemplateColumns: '1fr 1fr', pt: 1 }}>
          <Box sx={{ display: 'grid', gap: 1.25, alignContent: 'start' }}>
            <TextLine
              label="Plus end"
              path={['plusEnd']}
              value={document.plusEnd}
              help="What is at that end: “towards the kiln”"
            />
            <DocumentChoice
              label={
                input.motorForm === 'linear'
                  ? 'Plus counts move, seen from the cable'
                  : 'Positive direction, viewed from the shaft end'
              }
              value={settings.rotationSense}
              path={['settings', 'rotationSense']}
              choices={[
                { value: 'counterClockwise', label: input.motorForm === 'linear' ? 'away' : 'counter-clockwise' },
                { value: 'clockwise', label: input.motorForm === 'linear' ? 'towards it' : 'clockwise' },
              ]}
            />
            {isLinear && (
              <DocumentChoice
                label="Switch wired to the drive’s plus limit input"
                value={protection.limits.plusInputAt}
                path={['protection', 'limits', 'plusInputAt']}
                choices={[
                  { value: 'not settled', label: 'not decided yet' },
                  { value: 'plus', label: `the plus end (${ends.plus})` },
                  { value: 'minus', label: `the minus end (${ends.minus})` },
                ]}
              />
            )}
          </Box>
          <Box sx={{ display: 'grid', alignContent: 'start' }}>
            <Toggle
              label="Direction inverted at the command"
              path={['command', 'inverted']}
              value={document.command.inverted}
            />
            {stages.map((stage, index) => (
              <Pair key={index}>
                <Toggle
                  label={`${stationName({ kind: 'stage', stage: stage.kind })} reverses direction`}
                  path={['stages', index, 'reverses']}
                  value={stage.reverses}
                />
                {stage.kind === 'screw' && (
                  <Toggle label="left-hand thread" path={['stages', index, 'leftHand']} value={stage.leftHand} />
                )}
              </Pair>
            ))}
            {pair && (
              <Typography variant="body2" color="text.secondary">
                The second motor is {pair.mirrored ? 'mirrored' : 'the same way round'} and turns{' '}
                {pair.secondSense === 'clockwise' ? 'clockwise' : 'counter-clockwise'} for plus.
              </Typography>
            )}
          </Box>
        </Box>
      </Panel>
      <Panel title="A plus command, station by station">
        <SignTable stations={stations} />
      </Panel>
    </Box>
  );
}

const endNames = (plusEnd: string) => ({
  plus: plusEnd || 'not named yet',
  minus: plusEnd ? `away from “${plusEnd}”` : 'the other one',
});

/** The axis between its two ends, where a plus command takes it, and the two limit switches with their inputs. */
function EndsPicture() {
  const { document, computation } = useAxis();
  const theme = useTheme();
  const { stations, input } = computation;
  const goesPlus = (stations.at(-1)?.sign ?? 1) === 1;
  const countsGoPlus = countsSign(stations) === 1;
  const isLinear = input.motionKind === 'linear';
  const { plusInputAt } = input.protection.limits;
  const ink = theme.palette.text.primary;
  const faded = theme.palette.text.secondary;
  const accent = goesPlus ? theme.palette.primary.main : theme.palette.error.main;
  const inputAt = (end: 'plus' | 'minus') =>
    plusInputAt === 'not settled' ? '?' : plusInputAt === end ? 'drive’s plus limit' : 'drive’s minus limit';
  const rightAt = (end: 'plus' | 'minus') =>
    (end === 'plus') === countsGoPlus ? 'drive’s plus limit' : 'drive’s minus limit';
  const colourOf = (end: 'plus' | 'minus') =>
    plusInputAt === 'not settled'
      ? theme.palette.warning.main
      : inputAt(end) === rightAt(end)
        ? theme.palette.primary.main
        : theme.palette.error.main;
  const text = { fontSize: 13, fill: ink };
  return (
    <svg
      viewBox="0 34 720 114"
      width="100%"
      role="img"
      aria-label={goesPlus ? 'Plus commands move to the plus end' : 'Plus commands move to the minus end'}
    >
      <path d="M60 84h600" stroke={theme.palette.divider} strokeWidth="10" />
      <path d="M60 64v40M660 64v40" stroke={ink} strokeWidth="3" />
      <text x="60" y="50" textAnchor="middle" style={{ ...text, fontWeight: 600 }}>
        minus end
      </text>
      <text x="660" y="50" textAnchor="end" style={{ ...text, fontWeight: 600 }}>
        plus end: {(document.plusEnd || 'not named yet').slice(0, 40)}
      </text>
      <rect x="310" y="66" width="100" height="36" fill={theme.palette.background.paper} stroke={ink} strokeWidth="2" />
      <text x="360" y="89" textAnchor="middle" style={text}>
        load
      </text>
      <g stroke={accent} strokeWidth="3" fill="none">
        {goesPlus ? <path d="M420 84h120M528 76l13 8-13 8" /> : <path d="M300 84H180M192 76l-13 8 13 8" />}
      </g>
      <text x={goesPlus ? 480 : 240} y="74" textAnchor="middle" style={{ fontSize: 13, fill: accent, fontWeight: 600 }}>
        plus command
      </text>
      {isLinear &&
        (['minus', 'plus'] as const).map((end) => {
          const x = end === 'minus' ? 90 : 630;
          return (
            <g key={end}>
              <path d={`M${x} 110v-14M${x - 8} 96h16`} stroke={colourOf(end)} strokeWidth="3" />
              <text
                x={x}
                y="126"
                textAnchor={end === 'minus' ? 'start' : 'end'}
                style={{ fontSize: 13, fill: colourOf(end), fontWeight: 600 }}
              >
                {inputAt(end) === '?' ? `belongs on the ${rightAt(end)}` : `on the ${inputAt(end)}`}
              </text>
              {inputAt(end) !== '?' && inputAt(end) !== rightAt(end) && (
                <text
                  x={x}
                  y="143"
                  textAnchor={end === 'minus' ? 'start' : 'end'}
                  style={{ fontSize: 12, fill: faded }}
                >
                  belongs on the {rightAt(end)}
                </text>
              )}
            </g>
          );
        })}
    </svg>
  );
}

/** What leaves each station for a plus command. */
function SignTable({ stations }: { readonly stations: readonly Station[] }) {
  const { document } = useAxis();
  const sense = document.settings.rotationSense === 'clockwise';
  const wordsFor = (station: Station): string => {
    const plus = station.sign === 1;
    switch (station.kind) {
      case 'controller':
        return plus ? 'positive command' : 'negative command';
      case 'drive':
        return plus ? 'counts go up' : 'counts go down';
      case 'motor': {
        // The motor's sign tells its physical sense: plus counts turn it as the drive is set.
        const countsUp = (stations.find(({ kind }) => kind === 'drive')?.sign ?? 1) === 1;
        if (document.motor.form === 'linear')
          return countsUp !== sense ? 'moves away from its cable' : 'moves towards its cable';
        return countsUp !== sense ? 'turns counter-clockwise' : 'turns clockwise';
      }
      case 'stage':
        return station.leaves === 'turns' || document.motion.kind !== 'linear'
          ? `turns in the ${plus ? 'positive' : 'negative'} direction`
          : `moves towards ${plus ? 'plus' : 'minus'}`;
      case 'load':
        return plus ? `moves towards plus: ${document.plusEnd || 'end not named'}` : 'moves towards minus';
    }
  };
  return (
    <Box
      component="table"
      aria-label="Direction at each station"
      sx={{ borderCollapse: 'collapse', fontSize: 13, '& td, & th': { px: 1, py: 0.25, textAlign: 'left' } }}
    >
      <tbody>
        {stations.map((station) => (
          <tr key={station.id}>
            <th scope="row" style={{ fontWeight: 600 }}>
              {stationName(station)}
            </th>
            <td aria-hidden>{station.sign === 1 ? '+' : '−'}</td>
            <td>{wordsFor(station)}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
