import { parameterOfRole } from '../../drive/index.ts';
import { beginActivity } from './beginActivity.ts';
import { endScript } from './endScript.ts';
import { pressRoles, type CheckedRole } from './planChecks.ts';
import type { Step } from './step.ts';
import { settingsHere } from './temporarySetting.ts';
import { set, tell, type Turn } from './turn.ts';

/** s that a recording of the controller's moves lasts at most */
const longest = 600;

/** What the moves of a controller mean depends on these. */
const hostRoles: readonly CheckedRole[] = ['commandSource', ...pressRoles];

const steps: readonly Step[] = [
  { do: 'check', roles: hostRoles },
  { do: 'record', kind: 'controller move', periodSteps: 8 },
  { do: 'tell', progress: 'Recording. Make the moves at the controller now.' },
  { do: 'listen', seconds: longest },
];

/** Records what the drive does while its controller commands it. Nothing is written that could move it. */
export function recordController(turn: Turn, window: string): void {
  const because = recordingRefusal(turn);
  if (because !== undefined) return tell(turn, window, because);
  beginActivity(turn, window, 'controller move', steps);
}

function recordingRefusal({ state }: Turn): string | undefined {
  const { plan, profile, isOurs, permits } = state;
  if (plan?.motion.kind !== 'axis')
    return plan?.motion.kind === 'unknown' ? plan.motion.because : 'A spindle has no moves.';
  if (!profile?.registers.traceRun || !profile.registers.traceMemory)
    return 'The register map has no trace memory. Record the moves at the controller, and import them as a table.';
  if (isOurs || permits.enable) return 'The motor is enabled from here. Disable it: the controller is to enable it.';
  const source = parameterOfRole(profile, 'commandSource');
  if (source && settingsHere(state).some(({ key }) => key === source.key))
    return 'The command source is still set to this link. Restore it first, so that the controller commands the drive.';
  return undefined;
}

/** The moves have been made: what was recorded is kept. */
export function endRecordingController(turn: Turn, window: string): void {
  const { script, permits } = turn.state;
  if (script?.activity !== 'controller move' || permits.act?.window !== window)
    return tell(turn, window, 'No moves of the controller are being recorded from this window.');
  set(turn, { permits: { ...permits, act: undefined } });
  endScript(turn, { kind: 'finished' });
}
