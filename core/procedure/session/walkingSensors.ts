import { isSensor } from '../../drive/index.ts';
import { settingsDigest } from '../../evidence/index.ts';
import { isWalking, startWalk, stepWalk, type WalkEvent } from '../sensorWalk.ts';
import { identityMark } from './deviceIdentity.ts';
import { forcedBecause } from './forcingInputs.ts';
import { driveState, isPowered, set, tell, type Turn } from './turn.ts';

/** Begins a walk along the sensors of the drive, in the order of its map. */
export function beginWalk(turn: Turn, window: string): void {
  const { profile } = turn.state;
  const order = (profile?.inputs ?? []).filter(isSensor).map(({ key }) => key);
  if (order.length === 0) return tell(turn, window, 'The register map of this drive lists no limit or home inputs.');
  const drive = driveState(turn.state, turn.now);
  if (drive === undefined) return tell(turn, window, 'The state of the drive is not known.');
  if (isPowered(drive))
    return tell(turn, window, 'Disable the drive first: sensors are tripped by hand with the motor off.');
  const forced = forcedBecause(turn);
  if (forced !== undefined) return tell(turn, window, forced);
  set(turn, { walk: { window, walk: startWalk(order, turn.now) } });
}

/** Passes an event to the walk that is under way, and keeps what it has found when it is done. */
export function walkEvent(turn: Turn, event: WalkEvent): void {
  const { walk: walking, plan, identity, clock, reading } = turn.state;
  if (!walking || !isWalking(walking.walk)) return;
  const walk = stepWalk(walking.walk, event);
  if (walk === walking.walk) return;
  set(turn, { walk: { ...walking, walk } });
  if (walk.phase !== 'done' || !plan || !identity || !clock) return;
  turn.commands.push({
    type: 'keep proof',
    proof: {
      kind: 'sensors',
      madeAt: new Date(clock.wall).toISOString(),
      revision: plan.version,
      identity: identityMark(identity),
      // What the drive is set to decides what its inputs mean.
      digest: settingsDigest(reading?.running ?? {}),
      payload: {
        verdicts: Object.fromEntries(Object.entries(walk.verdicts).map(([key, { kind }]) => [key, kind])),
      },
    },
  });
}

/** What a look at the drive shows of its inputs. A motor that is switched on ends the walk. */
export function walkSaw(turn: Turn): void {
  const { status, profile } = turn.state;
  const states = status?.values.inputStates;
  if (!turn.state.walk || states === undefined || !profile) return;
  if (isPowered(driveState(turn.state, turn.now)))
    return walkEvent(turn, { type: 'end', because: 'the drive was enabled' });
  const active = profile.inputs.filter(({ bit }) => ((states >>> bit) & 1) === 1).map(({ key }) => key);
  walkEvent(turn, { type: 'seen', active: new Set(active), at: turn.now });
}
