import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { zeroSignal, valueAt, type SignalRange, type TwoPointScale } from '@kavrid/core/signal';
import { useTheme } from '@mui/material';

const [width, height, left, bottom, top, right] = [420, 200, 58, 26, 10, 14];

/** Which value each signal means: the line through the two points, the deadband, and the steps where they are coarse. */
export function ScalePicture(props: {
  readonly scale: TwoPointScale;
  readonly range: SignalRange;
  readonly deadband: number;
  /** Signal of one step, the coarser end's; drawn where it can be seen. */
  readonly step: number | undefined;
  readonly valueUnit: string;
  /** From the unit of the scale to the one shown. */
  readonly shown: (value: number) => number;
}) {
  const { scale, range, deadband, step, valueUnit, shown } = props;
  const { palette } = useTheme();
  const [low, high] = [toNumber(range.lowest), toNumber(range.highest)];
  const ends = [shown(toNumber(valueAt(scale, range.lowest))), shown(toNumber(valueAt(scale, range.highest)))] as const;
  const [least, most] = [Math.min(0, ...ends), Math.max(0, ...ends)];
  const x = (signal: number) => left + ((signal - low) / (high - low)) * (width - left - right);
  const y = (value: number) => height - bottom - ((value - least) / (most - least || 1)) * (height - bottom - top);
  const value = (signal: number) => ends[0] + ((ends[1] - ends[0]) * (signal - low)) / (high - low);
  const zero = toNumber(zeroSignal(scale));
  const zeroInside = zero >= low && zero <= high;
  const isStepped = step !== undefined && Number.isFinite(step) && (high - low) / step <= 160 && step > 0;
  const steps = isStepped ? Math.round((high - low) / step) : 0;
  const staircase = Array.from({ length: steps }, (_, k) => {
    const [from, to] = [low + (k * (high - low)) / steps, low + ((k + 1) * (high - low)) / steps];
    return `${k === 0 ? 'M' : 'L'}${x(from)} ${y(value(from))}L${x(to)} ${y(value(from))}`;
  }).join('');
  const text = { fill: palette.text.secondary, fontSize: 11 };
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width="100%"
      style={{ maxHeight: 210 }}
      role="img"
      aria-label={`From ${formatNumber(low)} ${range.unit} (${formatNumber(ends[0], 5)} ${valueUnit}) to ${formatNumber(high)} ${range.unit} (${formatNumber(ends[1], 5)} ${valueUnit})`}
    >
      <path
        d={`M${left} ${top}V${height - bottom}H${width - right}`}
        fill="none"
        stroke={palette.text.secondary}
        strokeWidth="1"
      />
      <path d={`M${left} ${y(0)}H${width - right}`} stroke={palette.divider} />
      {deadband > 0 && zeroInside && (
        <rect
          x={x(Math.max(low, zero - deadband))}
          y={top}
          width={Math.max(1, x(Math.min(high, zero + deadband)) - x(Math.max(low, zero - deadband)))}
          height={height - bottom - top}
          fill={palette.warning.main}
          opacity="0.25"
        />
      )}
      <path
        d={isStepped ? staircase : `M${x(low)} ${y(ends[0])}L${x(high)} ${y(ends[1])}`}
        fill="none"
        stroke={palette.primary.main}
        strokeWidth="2"
      />
      {[scale.from, scale.to].map((point, k) => (
        <g key={k}>
          <circle
            cx={x(toNumber(point.signal))}
            cy={y(shown(toNumber(point.value)))}
            r="4.5"
            fill={palette.background.paper}
            stroke={palette.text.primary}
            strokeWidth="1.6"
          />
          <text
            x={x(toNumber(point.signal)) + (x(toNumber(point.signal)) > width / 2 ? -8 : 8)}
            y={y(shown(toNumber(point.value))) + (y(shown(toNumber(point.value))) < height / 2 ? 14 : -8)}
            textAnchor={x(toNumber(point.signal)) > width / 2 ? 'end' : 'start'}
            fill={palette.text.primary}
            fontSize="11"
          >
            {k === 0 ? 'A' : 'B'}
          </text>
        </g>
      ))}
      {zeroInside && <path d={`M${x(zero)} ${height - bottom}v-5`} stroke={palette.text.primary} strokeWidth="1.6" />}
      <text x={left} y={height - 8} {...text}>
        {formatNumber(low)} {range.unit}
      </text>
      <text x={width - right} y={height - 8} textAnchor="end" {...text}>
        {formatNumber(high)} {range.unit}
      </text>
      {[most, least, ...(least < -0.12 * most && most > -0.12 * least ? [0] : [])].map((each) => (
        <text key={each} x={left - 5} y={y(each) + 4} textAnchor="end" {...text}>
          {formatNumber(each, 4)}
        </text>
      ))}
      <text x={left + 6} y={top + 9} {...text}>
        {valueUnit}
      </text>
    </svg>
  );
}
