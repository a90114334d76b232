import { formatNumber } from '@kavrid/core/quantity';
import { Box, useTheme } from '@mui/material';
import { memo, useCallback, useLayoutEffect, useRef, useState, useSyncExternalStore, type ReactNode } from 'react';
import { CartesianGrid, LineChart, ReferenceLine, ResponsiveContainer, usePlotArea, XAxis, YAxis } from 'recharts';
import { numberFace } from '../theme.ts';
import { curvePath, curveWidth, dash, drawCurves, type Curve, type Plot } from './curve.ts';
import { chartPointer, type ChartPointer } from './chartPointer.ts';
import { ticksWithin } from './ticks.ts';

/** A level across a chart, or a moment in it, with its words. */
export interface ChartMark {
  readonly at: number;
  readonly label: string;
  readonly isWrong?: boolean;
}

interface FrameProps {
  readonly height: number;
  readonly xRange: readonly [number, number];
  readonly yRange: readonly [number, number];
  readonly hideX?: boolean;
  /** x is the logarithm of what is shown along the axis. */
  readonly isLogarithmic?: boolean;
  /** Lines across, at a y. */
  readonly levels?: readonly ChartMark[];
  /** Lines upright, at an x. */
  readonly marks?: readonly ChartMark[];
}

/** px that a tick of each axis takes */
const [tickHigh, tickWide] = [26, 90];

/**
 * Curves over a common axis. Frame, grid and ticks are drawn as SVG, and only when they change; the curves on a canvas below
 * it, once each time; on paper they are SVG, too.
 */
export function CurveChart({
  label,
  curves,
  xUnit,
  pointer,
  ...frame
}: FrameProps & {
  readonly label: string;
  readonly xUnit: string;
  readonly curves: readonly Curve[];
  /** What a mouse or finger on the chart does. */
  readonly pointer?: ChartPointer;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [plot, setPlot] = useState<Plot>();
  const isPrinted = useIsPrinted();
  useLayoutEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || !plot) return;
    const sharp = window.devicePixelRatio || 1;
    const [wide, high] = [element.clientWidth * sharp, element.clientHeight * sharp].map(Math.round) as [
      number,
      number,
    ];
    if (element.width !== wide || element.height !== high) Object.assign(element, { width: wide, height: high });
    context.setTransform(sharp, 0, 0, sharp, 0, 0);
    context.clearRect(0, 0, wide, high);
    drawCurves(context, curves, plot);
  }, [curves, plot]);
  return (
    <Box
      role="img"
      aria-label={label}
      sx={{
        position: 'relative',
        height: frame.height,
        ...(pointer ? { cursor: 'crosshair', touchAction: 'none', userSelect: 'none' } : {}),
      }}
      onPointerDown={pointer && plot ? (event) => chartPointer(event, plot, pointer) : undefined}
    >
      <Box
        component="canvas"
        ref={canvas}
        sx={{ position: 'absolute', inset: 0, width: '100%', height: '100%', '@media print': { display: 'none' } }}
      />
      <Frame {...frame} onPlot={setPlot}>
        {isPrinted && plot && <PrintedCurves curves={curves} plot={plot} />}
      </Frame>
      {!frame.hideX && (
        <Box sx={{ position: 'absolute', right: 0, bottom: 5, fontSize: 11, lineHeight: 1, color: 'text.secondary' }}>
          {xUnit}
        </Box>
      )}
    </Box>
  );
}

const PrintedCurves = ({ curves, plot }: { readonly curves: readonly Curve[]; readonly plot: Plot }) =>
  curves.map((curve, k) => (
    <path
      key={k}
      d={curvePath(curve, plot)}
      fill="none"
      stroke={curve.colour}
      strokeWidth={curveWidth}
      strokeDasharray={curve.isDashed ? dash.join(' ') : ''}
    />
  ));

const printing = '(print)';
const useIsPrinted = () =>
  useSyncExternalStore(
    (changed) => {
      const media = matchMedia(printing);
      media.addEventListener('change', changed);
      return () => media.removeEventListener('change', changed);
    },
    () => matchMedia(printing).matches,
  );

const sameRange = (a: readonly [number, number], b: readonly [number, number]) => a[0] === b[0] && a[1] === b[1];
const sameMarks = (a: readonly ChartMark[] = [], b: readonly ChartMark[] = []) =>
  a.length === b.length && a.every((mark, k) => mark.at === b[k]?.at && mark.label === b[k]?.label);

const Frame = memo(
  function Frame(props: FrameProps & { readonly onPlot: (plot: Plot) => void; readonly children: ReactNode }) {
    const {
      height,
      xRange,
      yRange,
      hideX = false,
      isLogarithmic = false,
      levels = [],
      marks = [],
      onPlot,
      children,
    } = props;
    const { palette } = useTheme();
    const [wide, setWide] = useState(600);
    const tick = { fontSize: 11, fontFamily: numberFace, fill: palette.text.secondary };
    const text = { fontSize: 11, fill: palette.text.secondary };
    const format = (value: number) => formatNumber(value, 4);
    const placed = useCallback(
      (plot: Plot) => {
        setWide(plot.width);
        onPlot(plot);
      },
      [onPlot],
    );
    return (
      <ResponsiveContainer width="100%" height={height}>
        <LineChart data={[]} margin={{ top: 8, right: 36, bottom: hideX ? 7 : 0, left: 0 }}>
          <CartesianGrid stroke={palette.divider} />
          <XAxis
            type="number"
            dataKey="x"
            domain={[...xRange]}
            ticks={[...ticksWithin(...xRange, Math.max(2, Math.floor(wide / tickWide)))]}
            interval={0}
            allowDataOverflow
            hide={hideX}
            height={20}
            tick={tick}
            tickFormatter={isLogarithmic ? (exponent: number) => format(10 ** exponent) : format}
          />
          <YAxis
            type="number"
            dataKey="y"
            domain={[...yRange]}
            ticks={[...ticksWithin(...yRange, ticksHigh(height, hideX))]}
            interval={0}
            allowDataOverflow
            tick={tick}
            width={58}
            tickFormatter={format}
          />
          {yRange[0] < 0 && yRange[1] > 0 && <ReferenceLine y={0} stroke={palette.text.secondary} strokeWidth={0.5} />}
          {levels.map(({ at, label, isWrong = true }) => (
            <ReferenceLine
              key={label}
              y={at}
              stroke={isWrong ? palette.error.main : palette.text.secondary}
              strokeDasharray="2 3"
              label={{ value: label, position: 'insideTopRight', ...text }}
            />
          ))}
          {marks.map(({ at, label, isWrong }) => (
            <ReferenceLine
              key={`${label} ${at}`}
              x={at}
              stroke={isWrong ? palette.error.main : palette.text.secondary}
              strokeDasharray="3 3"
              label={{
                value: label,
                position: 'insideBottomLeft',
                ...text,
                ...(isWrong ? { fill: palette.error.main } : {}),
              }}
            />
          ))}
          <Measure xRange={xRange} yRange={yRange} onPlot={placed} />
          {children}
        </LineChart>
      </ResponsiveContainer>
    );
  },
  (a, b) =>
    a.height === b.height &&
    a.hideX === b.hideX &&
    a.children === b.children &&
    sameRange(a.xRange, b.xRange) &&
    sameRange(a.yRange, b.yRange) &&
    sameMarks(a.levels, b.levels) &&
    sameMarks(a.marks, b.marks),
);

/** How many parts the y axis of a chart is divided into. */
export const ticksHigh = (height: number, hideX: boolean) =>
  Math.max(2, Math.floor((height - (hideX ? 8 : 28)) / tickHigh));

/** Tells where the values lie, whenever that changes. */
function Measure({
  xRange,
  yRange,
  onPlot,
}: Pick<Plot, 'xRange' | 'yRange'> & { readonly onPlot: (plot: Plot) => void }) {
  const area = usePlotArea();
  const [xLow, xHigh] = xRange;
  const [yLow, yHigh] = yRange;
  const { x, y, width, height } = area ?? { x: 0, y: 0, width: 0, height: 0 };
  useLayoutEffect(() => {
    if (width > 0) onPlot({ x, y, width, height, xRange: [xLow, xHigh], yRange: [yLow, yHigh] });
  }, [x, y, width, height, xLow, xHigh, yLow, yHigh, onPlot]);
  return null;
}
