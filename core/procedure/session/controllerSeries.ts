import { beginActivity } from './beginActivity.ts';
import { keepSeries, seriesRegister } from './homingSeries.ts';
import { set, stands, tell, type Turn } from './turn.ts';

/**
 * The controller has homed and stands where it always comes to after that: the counts of the encoder there are one more measurement.
 * Nothing is written to the drive.
 */
export function noteHomeNow(turn: Turn, window: string): void {
  const { plan, profile, homingSeries } = turn.state;
  if (plan?.motion.kind !== 'axis' || plan.motion.homingBy !== 'controller')
    return tell(turn, window, 'The plan says that the drive homes this axis. Run a series by the drive.');
  if (!profile?.registers[seriesRegister])
    return tell(turn, window, `The register map has no register ${seriesRegister}: measure with a gauge.`);
  if (!stands(turn.state)) return tell(turn, window, 'The axis is moving. Wait until it stands at home.');
  const going = homingSeries?.by === 'controller' ? homingSeries : undefined;
  const zeros = going?.zeros ?? [];
  set(turn, {
    homingSeries: {
      of: zeros.length + 1,
      zeros,
      startedAt: going?.startedAt ?? turn.now,
      by: 'controller',
      isPaused: false,
    },
  });
  beginActivity(turn, window, 'noting home', [{ do: 'note home' }]);
}

/** A series by the controller is over. */
export function endSeries(turn: Turn, window: string): void {
  const { homingSeries } = turn.state;
  if (homingSeries?.by !== 'controller' || homingSeries.zeros.length < 2)
    return tell(turn, window, 'Note home at least twice: one homing tells nothing of how it repeats.');
  keepSeries(turn, { kind: 'finished' });
  set(turn, { homingSeries: { ...homingSeries, by: 'over' } });
}
