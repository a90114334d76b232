import { isWalking } from '../sensorWalk.ts';
import { addressText, lineText } from './deviceAddress.ts';
import type { SessionMessage } from './sessionMessages.ts';
import { mayPress } from './stopping.ts';
import { isActing, isBusy, type Turn } from './turn.ts';

const heldElsewhere = 'Another window controls this drive. Use “Take over” first; it stops any motion.';

/** Needs neither a holder nor a link: what ends something, or asks nothing of the drive. */
const isFree = (message: SessionMessage): boolean =>
  [
    'alive',
    'stop',
    'jogEnd',
    'jogSpeed',
    'stopSpindle',
    'connect',
    'disconnect',
    'confirmIdentity',
    'takeOver',
  ].includes(message.type);

/** Asks nothing of the drive: the user looks, and answers. */
const isByHand = (message: SessionMessage, { guided, link }: Turn['state']): boolean =>
  (message.type === 'beginStep' && message.isByHand && link !== 'up') ||
  message.type === 'skipStep' ||
  message.type === 'endStep' ||
  (message.type === 'answerStep' && (guided?.isByHand === true || guided?.phase === 'asking'));

/** Why a message is refused; undefined: it is carried out. */
export function messageRefusal(
  turn: Turn,
  window: string,
  message: SessionMessage,
  deviceHeldBy: string | undefined,
): string | undefined {
  const { state, now } = turn;
  const { plan, planMissing, link, identity, holder, timing } = state;
  if ('version' in message) {
    if (!plan) return planMissing;
    if (message.version !== plan.version)
      return `This command was for version ${message.version}, but version ${plan.version} is the newest saved one. Nothing was done; check the values and try again.`;
  }
  const isHeldElsewhere =
    holder !== undefined && holder.window !== window && now - holder.aliveAt < timing.silentOtherwise;
  if (message.type === 'disconnect' && window !== '' && isHeldElsewhere && isActing(state)) return heldElsewhere;
  if (isFree(message) || isByHand(message, state)) return undefined;
  if (link !== 'up') return 'There is no link to the drive. Connect first.';
  if (state.closingBy !== undefined) return 'The link is being closed.';
  if (!state.isConfirmed && message.type !== 'readDrive')
    return 'This drive reports no serial number. Confirm first that it is the right one.';
  if (identity && plan && state.address && addressText(plan.address) !== addressText(state.address))
    return `The link has been edited. Disconnect from ${lineText(state.address)} first.`;
  if (deviceHeldBy !== undefined && message.type !== 'readDrive')
    return `${deviceHeldBy} is using the same drive. Switch it off there first.`;
  if (isHeldElsewhere) return heldElsewhere;
  return busyRefusal(turn, message);
}

/** What may come while a step watches or moves a drive: what belongs to it, ends it, or only reads or restores. */
const duringWatch: readonly SessionMessage['type'][] = [
  'answerStep',
  'beginStep',
  'disable',
  'readDrive',
  'resetFault',
  'restore',
  'walkOn',
];
const duringDrill: readonly SessionMessage['type'][] = ['answerStep', 'disable'];

function interruptsStep({ guided }: Turn['state'], { type }: SessionMessage): boolean {
  switch (guided?.phase) {
    case 'watching':
      return !guided.isByHand && !duringWatch.includes(type);
    case 'drilling':
    case 'settling':
      return !duringDrill.includes(type);
    case 'ready':
      return type !== 'jog' && !duringDrill.includes(type);
    case 'asking':
    case 'over':
    case undefined:
      return false;
  }
}

function busyRefusal(turn: Turn, message: SessionMessage): string | undefined {
  const { state } = turn;
  const { script, recording } = state;
  if (message.type === 'disable') return undefined;
  const isHandAtAxis = state.walk !== undefined && isWalking(state.walk.walk);
  if (isHandAtAxis && message.type !== 'walkOn' && message.type !== 'readDrive')
    return 'A sensor walk is under way, with a hand at the axis. End it first.';
  if (message.type === 'pauseSeries' || message.type === 'endRecording') return undefined;
  if (script && !(script.activity === 'running' && message.type === 'runSpindle'))
    return message.type === 'jog' && script.activity === 'jogging'
      ? 'A jog is under way.'
      : `The drive is busy: ${script.activity}.`;
  if (interruptsStep(state, message))
    return 'A guided step is under way, perhaps with a hand at the axis. End it first.';
  if (isBusy(state)) return 'The drive is busy: writing drive data.';
  if (state.snapshot && message.type === 'writeDrive') return 'A snapshot is being taken. Try again in a moment.';
  if (recording) return 'The last recording is still being fetched.';
  if (state.stop && !(message.type === 'jog' || mayPress(state))) return 'The drive is still being stopped.';
  return undefined;
}
