import { quickStop } from './stopping.ts';
import { set, stands, type Turn } from './turn.ts';

/** ms that an enabled axis may move while nothing is under way: it settles, or a hand pushes it */
const restlessTime = 500;

/** An enabled axis that goes on moving although nothing commands it from here is stopped: another master, or a demand that was left in the drive. */
export function tendRest(turn: Turn): void {
  const { permits, script, stop, waitingPress, plan, status, restlessSince } = turn.state;
  const isIdle = permits.enable !== undefined && !script && !stop && !waitingPress;
  const isSeen =
    plan?.motion.kind === 'axis' && plan.motion.standstill > 0 && status?.values.velocityCounts !== undefined;
  if (!isIdle || !isSeen || stands(turn.state))
    return restlessSince === undefined ? undefined : set(turn, { restlessSince: undefined });
  if (restlessSince === undefined) return set(turn, { restlessSince: turn.now });
  if (turn.now - restlessSince < restlessTime) return;
  const because = 'the axis moved without a command from Kavrid';
  quickStop(turn, { kind: 'stopped', because });
  set(turn, { restlessSince: undefined, linkMessage: `Stopped: ${because}.` });
}
