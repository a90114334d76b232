import { homingMethodFacts, type HomingPrediction } from '@kavrid/core/homing';
import type { HomingModel } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, useTheme } from '@mui/material';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { numberFace } from '../ui/theme.ts';
import { placesOf, speedLine } from './drawnPlaces.ts';

const [width, left, right] = [860, 12, 12];
const railAt = 62;
const firstLeg = 110;
const legHeight = 15;
const speedHeight = 54;

/** Travel, switches, stops and index pulses to scale, and the way of a homing from where it starts. */
export function HomingDrawing(props: {
  readonly model: HomingModel;
  readonly prediction: HomingPrediction;
  readonly start: number;
  readonly onStart: (start: number) => void;
  readonly softLimits: { readonly minus: number | null; readonly plus: number | null };
  /** Where the axis is now, by its position; undefined: it is not homed, or not connected. */
  readonly now: number | undefined;
  readonly shown: (value: number) => string;
  readonly name: (position: number) => string;
}) {
  const { model, prediction, start, onStart, softLimits, now, shown, name } = props;
  const { palette } = useTheme();
  const svg = useRef<SVGSVGElement>(null);
  const { world, travel, definition } = model;
  const places = placesOf(model, prediction);
  const { low, high } = places;
  const x = (position: number) => left + ((position - low) / (high - low)) * (width - left - right);
  const place = (px: number) => low + ((px - left) / (width - left - right)) * (high - low);
  const [first, last] = [
    world.minusStop ?? (model.isEndless ? 0 : low),
    world.plusStop ?? (model.isEndless ? travel : high),
  ];
  const within = (position: number) => Math.min(last, Math.max(first, position));
  const legs = prediction.legs;
  const speedTop = firstLeg + legs.length * legHeight + 22;
  const height = speedTop + speedHeight + 20;
  const ink = palette.text.primary;
  const quiet = palette.text.secondary;
  const accent = palette.primary.main;
  const brass = palette.warning.main;
  const drag = (event: PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || event.buttons === 0) return;
    onStart(within(place(((event.clientX - box.left) / box.width) * width)));
  };
  const step = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -0.01, ArrowRight: 0.01, PageDown: -0.1, PageUp: 0.1 }[event.key];
    if (by === undefined && event.key !== 'Home' && event.key !== 'End') return;
    event.preventDefault();
    onStart(by === undefined ? (event.key === 'Home' ? first : last) : within(start + by * (last - first)));
  };
  const toWorld = (position: number) => prediction.home + position - definition.positionAtHome;
  const isDone = prediction.because === undefined;
  // Away from the label of home, and within the drawing.
  const isLabelLeft = x(start) > width - 150 || (x(start) > 150 && prediction.home > start);
  const usesIndex = homingMethodFacts(definition.method).usesIndex;
  return (
    <Box sx={{ '& text': { fontFamily: 'inherit' }, '& .n': { fontFamily: numberFace } }}>
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        style={{ width: '100%', display: 'block', touchAction: 'none' }}
        onPointerMove={drag}
        fontSize="11"
      >
        <title>
          Drawing to scale of the travel and of the way of this homing; the table below says the same in words.
        </title>
        {/* Hard stops */}
        {[world.minusStop, world.plusStop].map((stop, k) =>
          stop === undefined ? null : (
            <g key={k}>
              <rect x={x(stop) - (k === 0 ? 8 : 0)} y={railAt - 16} width={8} height={32} fill={ink} opacity={0.75} />
              <text
                x={x(stop) + (k === 0 ? -8 : 8)}
                y={railAt + 28}
                fill={quiet}
                textAnchor={k === 0 ? 'start' : 'end'}
              >
                hard stop
              </text>
            </g>
          ),
        )}
        <path d={`M${x(first)} ${railAt}H${x(last)}`} stroke={ink} strokeWidth={2} />
        {places.switches.map(({ label, from, to, isUsed }) => {
          const [a, b] = [x(Math.max(low, from)), x(Math.min(high, to))];
          return (
            <g key={label}>
              <rect
                x={a}
                y={railAt - 9}
                width={Math.max(3, b - a)}
                height={9}
                fill={isUsed ? accent : quiet}
                opacity={isUsed ? 0.85 : 0.45}
              />
              <text
                x={Math.min(width - 40, Math.max(40, (a + b) / 2))}
                y={railAt - 14}
                textAnchor="middle"
                fill={isUsed ? accent : quiet}
              >
                {label}
              </text>
            </g>
          );
        })}
        {places.pulses.map((pulse) => (
          <path key={pulse} d={`M${x(pulse)} ${railAt}v6`} stroke={usesIndex ? brass : quiet} strokeWidth={1.2} />
        ))}
        {(
          [
            ['minus', softLimits.minus],
            ['plus', softLimits.plus],
          ] as const
        ).map(([end, position]) =>
          position === null || !isDone || model.isEndless ? null : (
            <g key={end}>
              <path
                d={`M${x(toWorld(position))} ${railAt - 2}v22`}
                stroke={quiet}
                strokeDasharray="3 3"
                strokeWidth={1.2}
              />
              <text
                x={x(toWorld(position)) + (end === 'minus' ? 3 : -3)}
                y={railAt + 18}
                fill={quiet}
                textAnchor={end === 'minus' ? 'start' : 'end'}
              >
                soft limit
              </text>
            </g>
          ),
        )}
        {/* The way, a line for each leg */}
        <path d={`M${x(start)} 34V${firstLeg}`} stroke={ink} strokeWidth={1} strokeDasharray="2 3" />
        {legs.map((leg, k) => {
          const y = firstLeg + k * legHeight;
          const isCounting = leg.phase === 'cross' || leg.phase === 'index';
          const colour = isCounting ? brass : accent;
          const way = leg.to - leg.from;
          const tip = x(leg.to);
          const head = Math.sign(way) * 5;
          const isLong = Math.abs(tip - x(leg.from)) > 8;
          return (
            <g key={k} stroke={colour} fill={colour}>
              <path d={`M${x(leg.from)} ${y}H${tip}`} strokeWidth={isCounting ? 2.4 : 1.6} fill="none" />
              {isLong && <path d={`M${tip} ${y}l${-head} -3.5v7z`} stroke="none" />}
              {k > 0 && (
                <path d={`M${x(leg.from)} ${y - legHeight}V${y}`} strokeWidth={0.8} opacity={0.5} fill="none" />
              )}
              <circle cx={tip} cy={y} r={isLong ? 0 : 2.2} stroke="none" />
            </g>
          );
        })}
        {isDone && (
          <g>
            <path
              d={`M${x(prediction.home)} ${railAt - 30}V${speedTop + speedHeight}`}
              stroke={brass}
              strokeWidth={1.2}
            />
            <text
              className="n"
              x={Math.min(width - 70, Math.max(70, x(prediction.home)))}
              y={railAt - 34}
              textAnchor="middle"
              fill={brass}
              fontWeight={600}
            >
              {`home reads ${name(definition.positionAtHome)}`}
            </text>
          </g>
        )}
        {/* Speed along the path */}
        <path d={`M${left} ${speedTop + speedHeight}H${width - right}`} stroke={quiet} strokeWidth={0.8} />
        <text x={left} y={speedTop - 6} fill={quiet}>{`Speed along the path, up to ${shown(places.fastest)}/s`}</text>
        <path
          d={speedLine(prediction, x, speedTop + speedHeight, speedHeight - 6, places.fastest)}
          fill="none"
          stroke={accent}
          strokeWidth={1.4}
        />
        {now !== undefined && isDone && (
          <g fill={ink}>
            <path d={`M${x(toWorld(now))} ${railAt + 4}l-5 9h10z`} />
            <text x={x(toWorld(now))} y={railAt + 26} textAnchor="middle">
              now
            </text>
          </g>
        )}
        <text className="n" x={left} y={height - 4} fill={quiet}>
          {name(low)}
        </text>
        <text className="n" x={width - right} y={height - 4} textAnchor="end" fill={quiet}>
          {name(high)}
        </text>
        <text x={width / 2} y={height - 4} textAnchor="middle" fill={quiet}>
          {model.isEndless ? 'once round' : 'from the minus limit'}
        </text>
        <g
          role="slider"
          tabIndex={0}
          aria-label="Start of the homing"
          aria-valuemin={first}
          aria-valuemax={last}
          aria-valuenow={Number(formatNumber(start, 5).replace(/\s/g, ''))}
          aria-valuetext={name(start)}
          onKeyDown={step}
          style={{ cursor: 'ew-resize' }}
        >
          <rect x={x(start) - 14} y={6} width={28} height={30} fill="transparent" />
          <path d={`M${x(start)} 34l-8 -12v-8h16v8z`} fill={ink} />
          <text
            x={x(start) + (isLabelLeft ? -12 : 12)}
            y={20}
            fill={ink}
            className="n"
            textAnchor={isLabelLeft ? 'end' : 'start'}
          >{`start at ${name(start)}`}</text>
        </g>
      </svg>
    </Box>
  );
}
