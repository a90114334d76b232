import { formatNumber } from '@kavrid/core/quantity';
import { useTheme } from '@mui/material';

const [width, height, left, right, top, bottom] = [420, 120, 66, 10, 12, 20];

/** What is left of each point when the line is taken away: a bow or a step says that the line is not all there is. */
export function ResidualPicture(props: {
  readonly points: readonly { readonly x: number; readonly residual: number; readonly group?: 'plus' | 'minus' }[];
  readonly xUnit: string;
  readonly unit: string;
}) {
  const { points, xUnit, unit } = props;
  const { palette } = useTheme();
  const xs = points.map(({ x }) => x);
  const [low, high] = [Math.min(...xs), Math.max(...xs)];
  const most = Math.max(...points.map(({ residual }) => Math.abs(residual))) || 1;
  const x = (value: number) => left + ((value - low) / (high - low || 1)) * (width - left - right);
  const y = (value: number) => top + ((1 - value / most) / 2) * (height - top - bottom);
  const text = { fill: palette.text.secondary, fontSize: 11 };
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width="100%"
      style={{ maxHeight: 150 }}
      role="img"
      aria-label={`Residuals of ${points.length} points, at most ${formatNumber(most, 3)} ${unit}`}
    >
      <path d={`M${left} ${top}V${height - bottom}`} stroke={palette.text.secondary} />
      <path d={`M${left} ${y(0)}H${width - right}`} stroke={palette.divider} />
      {points.map(({ x: at, residual, group }, k) => (
        <g key={k} stroke={palette.primary.main} strokeWidth="1.5">
          <path d={`M${x(at)} ${y(0)}V${y(residual)}`} />
          {group === 'minus' ? (
            <rect x={x(at) - 3.5} y={y(residual) - 3.5} width="7" height="7" fill={palette.background.paper} />
          ) : (
            <circle cx={x(at)} cy={y(residual)} r="3.5" fill={palette.primary.main} />
          )}
        </g>
      ))}
      <text x={left - 4} y={y(most) + 4} textAnchor="end" {...text}>
        +{formatNumber(most, 2)} {unit}
      </text>
      <text x={left - 4} y={y(-most) + 4} textAnchor="end" {...text}>
        −{formatNumber(most, 2)} {unit}
      </text>
      <text x={left} y={height - 5} {...text}>
        {formatNumber(low, 5)} {xUnit}
      </text>
      <text x={width - right} y={height - 5} textAnchor="end" {...text}>
        {formatNumber(high, 5)} {xUnit}
      </text>
    </svg>
  );
}
