import { valueOf } from '@kavrid/core/sheet';
import { formatNumber } from '@kavrid/core/quantity';
import type { LineCircuit, LineResult } from '@kavrid/core/signal';
import { useTheme } from '@mui/material';

const terminals: Readonly<Record<LineCircuit['output'], readonly [string, string]>> = {
  differential: ['line +', 'line −'],
  'push-pull': ['output', '0 V'],
  'open collector, sourcing': ['output', '0 V'],
  'open collector, sinking': ['supply +', 'output'],
};

/** One line from the controller to the drive and back, with the way the current goes. */
export function CircuitPicture(props: { readonly circuit: LineCircuit; readonly line: LineResult | undefined }) {
  const { circuit, line } = props;
  const theme = useTheme();
  const ink = theme.palette.text.primary;
  const flows = line?.path.length ? (line.fit === 'fits' ? theme.palette.primary.main : theme.palette.error.main) : ink;
  const [above, below] = terminals[circuit.output];
  const volts = valueOf(circuit.outputVoltage);
  const own = valueOf(circuit.inputResistance);
  const isOptocoupler = circuit.inputKind === 'optocoupler';
  const wire = { stroke: flows, strokeWidth: 2, fill: 'none' };
  const box = { stroke: ink, strokeWidth: 1.6, fill: theme.palette.background.default };
  const text = { fontSize: 13, fill: ink };
  const small = { fontSize: 12, fill: theme.palette.text.secondary };
  const ohms = (value: number) => `${formatNumber(value, 3)} Ω`;
  return (
    <svg
      viewBox="0 0 720 170"
      width="100%"
      role="img"
      aria-label={`${circuit.output} output into ${isOptocoupler ? 'an optocoupler' : 'a receiver'}`}
    >
      <rect x="12" y="12" width="170" height="146" {...box} />
      <text x="24" y="32" style={{ ...text, fontWeight: 600 }}>
        Controller
      </text>
      <text x="24" y="90" style={small}>
        {circuit.output}
      </text>
      <text x="24" y="107" style={small}>
        {volts === undefined ? 'volts unknown' : `${formatNumber(volts, 3)} V`}
      </text>
      <rect x="520" y="12" width="188" height="146" {...box} />
      <text x="612" y="32" style={{ ...text, fontWeight: 600 }}>
        Drive
      </text>
      {(
        [
          [182, 56, above, 'end'],
          [182, 132, below, 'end'],
          [520, 56, 'line +', 'start'],
          [520, 132, 'line −', 'start'],
        ] as const
      ).map(([x, y, label, anchor]) => (
        <g key={`${x}/${y}`}>
          <circle cx={x} cy={y} r="4" fill={theme.palette.background.paper} stroke={ink} strokeWidth="1.6" />
          <text x={anchor === 'end' ? x - 10 : x + 10} y={y + 16} textAnchor={anchor} style={small}>
            {label}
          </text>
        </g>
      ))}
      {circuit.cableResistance > 0 ? (
        <>
          <path d="M186 56h110M380 56h136" {...wire} />
          <rect x="296" y="47" width="84" height="18" {...box} />
          <text x="338" y="40" textAnchor="middle" style={text}>
            {ohms(circuit.cableResistance)} in the cable
          </text>
        </>
      ) : (
        <path d="M186 56h330" {...wire} />
      )}
      <path d="M186 132h330" {...wire} />
      {isOptocoupler ? (
        <>
          <path d="M524 56h106v18M630 114v18H524" {...wire} />
          {own !== undefined && own > 0 && (
            <>
              <rect x="560" y="49" width="52" height="14" {...box} />
              <text x="586" y="80" textAnchor="middle" style={small}>
                {ohms(own)}
              </text>
            </>
          )}
          <path d="M618 74h24l-12 20z" fill={flows} stroke={flows} />
          <path d="M617 96h26" stroke={flows} strokeWidth="2.4" />
          <path d="M630 96v20" {...wire} />
          <path d="M650 80l14-8M650 90l14-8" stroke={ink} strokeWidth="1.2" />
          <path d="M676 70v30M676 78l14-12M676 92l14 12" stroke={ink} strokeWidth="1.6" fill="none" />
        </>
      ) : (
        <>
          <path d="M524 56h70M524 132h70" {...wire} />
          <path d="M594 44v100l62-50z" {...box} />
          <text x="602" y="62" style={text}>
            +
          </text>
          <text x="602" y="136" style={text}>
            −
          </text>
        </>
      )}
      {line && line.path.length > 0 && (
        <g fill={flows}>
          <path d="M236 50l12 6-12 6zM456 50l12 6-12 6zM466 126l-12 6 12 6zM246 126l-12 6 12 6z" />
          {line.current !== undefined && (
            <text x="350" y="106" textAnchor="middle" style={{ fontSize: 15, fill: flows, fontWeight: 600 }}>
              {formatNumber(line.current * 1000, 3)} mA
            </text>
          )}
        </g>
      )}
    </svg>
  );
}
