import { formatNumber } from '@kavrid/core/quantity';
import type { TimingLine, TimingPicture as Picture } from '@kavrid/core/signal';
import { useTheme } from '@mui/material';
import { numberFace } from '../ui/theme.ts';

const width = 720;
const left = 96;
const right = 700;
const rows = [
  { high: 24, low: 58 },
  { high: 96, low: 130 },
] as const;

/** Time in words: µs below a millisecond. */
const time = (seconds: number) =>
  seconds < 1e-6
    ? `${formatNumber(seconds * 1e9, 3)} ns`
    : seconds < 1e-3
      ? `${formatNumber(seconds * 1e6, 3)} µs`
      : `${formatNumber(seconds * 1e3, 3)} ms`;

/** The two lines over time, to scale, with the times that the drive needs. */
export function TimingPicture({ picture }: { readonly picture: Picture }) {
  const theme = useTheme();
  const x = (at: number) => left + (at / picture.duration) * (right - left);
  const words = picture.marks
    .map(
      ({ label, from, to, needed, isEnough }) =>
        `${label} ${time(to - from)}${isEnough ? '' : `, needs ${time(needed)}`}`,
    )
    .join('; ');
  return (
    <svg viewBox={`0 0 ${width} 200`} width="100%" role="img" aria-label={`Timing: ${words}`}>
      {picture.lines.map((line, index) => (
        <g key={line.name}>
          <text
            x={left - 8}
            y={(rows[index]?.low ?? 0) - 12}
            textAnchor="end"
            fontSize="13"
            fill={theme.palette.text.primary}
          >
            {line.name}
          </text>
          <path d={trace(line, index as 0 | 1, x)} fill="none" stroke={theme.palette.primary.main} strokeWidth="2" />
        </g>
      ))}
      {picture.marks.map((mark, index) => {
        const colour = mark.isEnough ? theme.palette.text.secondary : theme.palette.error.main;
        const y = 148 + index * 16;
        const [from, to] = [x(mark.from), x(mark.to)];
        const isLate = to > (left + right) / 2;
        return (
          <g key={mark.label} stroke={colour} fill={colour}>
            <path
              d={`M${from} ${rows[mark.line].high - 8}V${y}M${to} ${rows[mark.line].high - 8}V${y}`}
              strokeDasharray="2 3"
              strokeWidth="1"
            />
            <path d={`M${from} ${y}H${to}`} strokeWidth="2" />
            <text
              x={isLate ? from - 6 : to + 6}
              textAnchor={isLate ? 'end' : 'start'}
              y={y + 4}
              fontSize="12"
              stroke="none"
              fontFamily={numberFace}
            >
              {mark.label} {time(mark.to - mark.from)}, {mark.isEnough ? 'wanted' : 'too short: needs'}{' '}
              {time(mark.needed)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

function trace(line: TimingLine, index: 0 | 1, x: (at: number) => number): string {
  const y = (level: boolean) => (level ? rows[index].high : rows[index].low);
  const steps = line.edges.map(({ at, level }) => `H${x(at).toFixed(1)}V${y(level)}`);
  return `M${left} ${y(line.start)}${steps.join('')}H${right}`;
}
