import { Box, Button, Typography } from '@mui/material';
import { useHeldJog } from './useHeldJog.ts';

/** Runs while it is held, by pointer or by the space bar; anything that takes the hold away ends the jog. */
export function JogButtons({
  enabled,
  version,
  speed,
  plusEnd,
  directions = [-1, 1],
  by,
}: {
  readonly enabled: boolean;
  /** What is saved and on screen; undefined while an edit is on its way. */
  readonly version: number | undefined;
  readonly speed: number | null;
  readonly plusEnd: string;
  readonly directions?: readonly (1 | -1)[];
  /** Ends in front of the ends of the test move, or is slow. */
  readonly by?: 'fenced' | 'slow' | undefined;
}) {
  const { begin: beginHeld, end } = useHeldJog();
  const button = (direction: 1 | -1) => {
    const begin = () => {
      if (speed === null || version === undefined) return;
      beginHeld({ direction, speed, version, by });
    };
    return (
      <Button
        key={direction}
        variant="outlined"
        disabled={!enabled || speed === null || version === undefined}
        sx={{ flex: 1, py: 0.75, userSelect: 'none', touchAction: 'none' }}
        onPointerDown={(event) => {
          // Only the first button of a mouse; a finger and a pen have no other.
          if (event.button !== 0 || !event.isPrimary) return end();
          event.currentTarget.setPointerCapture(event.pointerId);
          begin();
        }}
        onPointerUp={end}
        onPointerCancel={end}
        onLostPointerCapture={end}
        onKeyDown={(event) => {
          if (event.key === ' ' && !event.repeat) begin();
        }}
        onKeyUp={end}
        onBlur={end}
        onContextMenu={(event) => event.preventDefault()}
      >
        {direction === 1 ? 'Jog plus' : 'Jog minus'}
      </Button>
    );
  };
  return (
    <>
      <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
        {([-1, 1] as const).filter((direction) => directions.includes(direction)).map(button)}
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.25 }}>
        Held by pointer or space bar. {plusEnd ? `Plus is ${plusEnd}.` : ''}
      </Typography>
    </>
  );
}
