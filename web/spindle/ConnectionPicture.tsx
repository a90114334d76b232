import type { Connection } from '@kavrid/core/spindle';
import { useTheme } from '@mui/material';

const columns = [40, 95, 150] as const;

/** The motor's terminal box with its links, and the leads of the drive at the lower row (IEC 60034-8). */
export function ConnectionPicture({ connection }: { readonly connection: Connection }) {
  const { palette } = useTheme();
  const ink = palette.text.primary;
  const text = { fill: palette.text.secondary, fontSize: 11, textAnchor: 'middle' as const };
  const link = { stroke: palette.primary.main, strokeWidth: 5, strokeLinecap: 'round' as const };
  return (
    <svg
      viewBox="0 0 250 118"
      width="100%"
      role="img"
      aria-label={
        connection === 'star' ? 'Star: W2, U2 and V2 are connected' : 'Delta: U1 with W2, V1 with U2, W1 with V2'
      }
    >
      <rect x="12" y="8" width="166" height="84" rx="4" fill={palette.background.default} stroke={ink} />
      {connection === 'star' ? (
        <path d={`M${columns[0]} 32H${columns[2]}`} {...link} />
      ) : (
        columns.map((x) => <path key={x} d={`M${x} 32V68`} {...link} />)
      )}
      {(['W2', 'U2', 'V2'] as const).map((name, k) => (
        <g key={name}>
          <circle cx={columns[k]} cy="32" r="7" fill={palette.background.paper} stroke={ink} />
          <text x={columns[k]} y="21" {...text}>
            {name}
          </text>
        </g>
      ))}
      {(['U1', 'V1', 'W1'] as const).map((name, k) => (
        <g key={name}>
          <path d={`M${columns[k]} 75V110`} stroke={ink} strokeWidth="1.6" />
          <circle cx={columns[k]} cy="68" r="7" fill={palette.background.paper} stroke={ink} />
          <text x={(columns[k] ?? 0) + 17} y="72" {...text}>
            {name}
          </text>
        </g>
      ))}
      <text x="214" y="36" {...text} fill={ink}>
        {connection}
      </text>
      <text x="214" y="106" {...text}>
        from the drive
      </text>
    </svg>
  );
}
