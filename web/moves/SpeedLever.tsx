import { formatNumber } from '@kavrid/core/quantity';
import { Box, Typography } from '@mui/material';
import { useRef, useState } from 'react';
import { useHeldJog } from '../member/useHeldJog.ts';
import { leverSpeed } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';
import type { ShownUnits } from '../ui/units.ts';

/** ms between two words about the speed while the lever is held */
const tellTime = 80;
/** Share of the way to an end that the speed begins at, and that an arrow key stands for. */
const [deadShare, keyShare] = [0.04, 0.25];

/**
 * A lever that springs back: it runs the axis while it is held, as fast as it is pulled, up to the limit of a jog. Anything that takes
 * the hold away ends the jog.
 */
export function SpeedLever({
  enabled,
  version,
  limit,
  units,
}: {
  readonly enabled: boolean;
  /** What is saved and on screen; undefined while an edit is on its way. */
  readonly version: number | undefined;
  /** axis units/s at the ends of the lever */
  readonly limit: number | undefined;
  readonly units: ShownUnits;
}) {
  const dispatch = useAppDispatch();
  const [share, setShare] = useState<number>();
  const wanted = useRef(0);
  const teller = useRef<ReturnType<typeof setInterval>>(undefined);
  const isUsable = enabled && version !== undefined && limit !== undefined && Number.isFinite(limit);
  const { begin, end } = useHeldJog(() => {
    clearInterval(teller.current);
    setShare(undefined);
  });
  const pull = (next: number) => {
    const bounded = Math.max(-1, Math.min(1, next));
    const moved = Math.sign(bounded) * Math.max(0, (Math.abs(bounded) - deadShare) / (1 - deadShare));
    setShare(moved);
    wanted.current = Number((moved * (limit ?? 0)).toPrecision(3));
    if (wanted.current === 0 || !isUsable) return;
    const press = begin({ direction: moved > 0 ? 1 : -1, speed: Math.abs(wanted.current), version, by: 'lever' });
    if (press === undefined) return;
    // Said again and again: a word that comes before the axis is under way is not taken.
    teller.current = setInterval(() => dispatch(leverSpeed({ press, speed: wanted.current })), tellTime);
  };
  const shareAt = (element: HTMLElement, clientX: number) => {
    const { left, width } = element.getBoundingClientRect();
    return (2 * (clientX - left)) / width - 1;
  };
  const speed = share === undefined ? 0 : share * (limit ?? 0);
  return (
    <Box sx={{ mt: 1 }}>
      <Box
        role="slider"
        tabIndex={isUsable ? 0 : -1}
        aria-label="Speed lever"
        aria-disabled={!isUsable}
        aria-valuemin={-100}
        aria-valuemax={100}
        aria-valuenow={Math.round(100 * (share ?? 0))}
        aria-valuetext={`${formatNumber(units.shown(speed, '{u}/s'), 3)} ${units.name('{u}/s')}`}
        onPointerDown={(event) => {
          if (!isUsable) return;
          if (event.button !== 0 || !event.isPrimary) return end();
          event.currentTarget.setPointerCapture(event.pointerId);
          // It begins in the middle, wherever it is taken: the axis does not start at a speed that a hand has hit.
          setShare(0);
          wanted.current = 0;
        }}
        onPointerMove={(event) => {
          if (share !== undefined && event.buttons === 1) pull(shareAt(event.currentTarget, event.clientX));
        }}
        onPointerUp={end}
        onPointerCancel={end}
        onLostPointerCapture={end}
        onKeyDown={(event) => {
          const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
          if (way === 0 || !isUsable) return;
          event.preventDefault();
          if (!event.repeat) pull(way * (event.shiftKey ? 1 : keyShare));
        }}
        onKeyUp={end}
        onBlur={end}
        sx={{
          position: 'relative',
          height: 34,
          border: 1,
          borderColor: 'divider',
          borderRadius: 1,
          bgcolor: 'action.hover',
          opacity: isUsable ? 1 : 0.5,
          cursor: isUsable ? 'grab' : 'default',
          touchAction: 'none',
          userSelect: 'none',
        }}
      >
        <Box
          sx={{ position: 'absolute', left: '50%', top: 0, bottom: 0, borderLeft: 1, borderColor: 'text.secondary' }}
        />
        <Box
          sx={{
            position: 'absolute',
            top: 3,
            bottom: 3,
            width: 16,
            ml: '-8px',
            left: `${50 + 50 * (share ?? 0)}%`,
            borderRadius: 0.5,
            bgcolor: 'primary.main',
          }}
        />
      </Box>
      <Box sx={{ display: 'flex', justifyContent: 'space-between' }}>
        <Typography variant="body2" color="text.secondary">
          Minus
        </Typography>
        <Typography variant="body2">
          {`${formatNumber(units.shown(speed, '{u}/s'), 3)} ${units.name('{u}/s')}`}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          Plus
        </Typography>
      </Box>
      <Typography variant="body2" color="text.secondary">
        {limit === undefined || !Number.isFinite(limit)
          ? 'No speed limit of the axis is known.'
          : `Pull and hold; it springs back. At the ends ${formatNumber(units.shown(limit, '{u}/s'), 4)} ${units.name('{u}/s')}. Keys: hold ← or →, a quarter; with Shift the whole.`}
      </Typography>
    </Box>
  );
}
