import {
  boundStep,
  withLook,
  type BoundStep,
  type Drill,
  type Judgement,
  type Known,
  type StepResult,
} from '../guided/index.ts';
import { beginActivity } from './beginActivity.ts';
import { identityMark } from './deviceIdentity.ts';
import type { SessionMessage } from './sessionMessages.ts';
import type { GuidedRun } from './sessionState.ts';
import { stepsOfDrill } from './stepsOfDrill.ts';
import { lookOf, motionOf, stepContext, stepDigest } from './stepContext.ts';
import { halt, rampDown, switchOff } from './stopping.ts';
import { driveState, isPowered, set, stands, tell, type Turn } from './turn.ts';
import { beginWalk, walkEvent } from './walkingSensors.ts';

type Message<T extends SessionMessage['type']> = Extract<SessionMessage, { readonly type: T }>;

/** ms for which the axis is watched after the motor has gone off: a load may drop, a stop may end. */
const settleTime = 800;
const longestSettling = 3000;

/** Begins a step: asks, watches, or makes the drive do what belongs to it. */
export function beginGuidedStep(turn: Turn, window: string, { step: id, isByHand, given }: Message<'beginStep'>): void {
  const context = stepContext(turn.state, given);
  const { plan } = turn.state;
  if (!context)
    return tell(turn, window, plan?.motion.kind === 'unknown' ? plan.motion.because : turn.state.planMissing);
  const step = boundStep(id, context);
  if (!step) return tell(turn, window, 'There is no such step here.');
  if (step.first.length > 0)
    return tell(
      turn,
      window,
      `First: ${step.first.map((title) => `“${title}”`).join(', ')}. Each can be skipped with a reason.`,
    );
  const run: GuidedRun = {
    step: id,
    window,
    isByHand,
    phase: 'watching',
    drill: undefined,
    given,
    startedAt: turn.now,
    looks: [],
    answer: undefined,
    answeredAt: undefined,
    drillEnd: undefined,
    because: '',
  };
  if (isByHand || !step.isWatched) return set(turn, { guided: { ...run, phase: 'asking' } });
  const { drill } = step;
  if (typeof drill === 'string') return tell(turn, window, drill);
  if (drill) return beginDrill(turn, window, run, drill);
  if (id === 'sensors') {
    beginWalk(turn, window);
    if (turn.state.walk?.window !== window) return;
  }
  set(turn, { guided: run });
}

function beginDrill(turn: Turn, window: string, run: GuidedRun, drill: Drill): void {
  const steps = stepsOfDrill(turn, run, drill);
  if (typeof steps === 'string') return tell(turn, window, steps);
  if (drill.kind !== 'compare') set(turn, { isLatched: false, linkMessage: '', beats: false, isReverse: false });
  set(turn, { guided: { ...run, phase: 'drilling', drill } });
  beginActivity(turn, window, 'guided step', steps);
}

const change = (turn: Turn, next: Partial<GuidedRun>): void => {
  if (turn.state.guided) set(turn, { guided: { ...turn.state.guided, ...next } });
};

export const isGuiding = (guided: GuidedRun | undefined): guided is GuidedRun =>
  guided !== undefined && guided.phase !== 'over';

/** The user answers, or says that what was to be done has been done. */
export function answerGuidedStep(turn: Turn, window: string, { step, answer, given }: Message<'answerStep'>): void {
  const { guided } = turn.state;
  if (!isGuiding(guided) || guided.step !== step) return tell(turn, window, 'This step is not under way any more.');
  if (guided.phase === 'drilling' || guided.phase === 'settling') return;
  change(turn, { answer, answeredAt: turn.now, given: { ...guided.given, ...given } });
  tendGuided(turn);
}

/** Leaves a step out, with a reason. */
export function skipGuidedStep(turn: Turn, window: string, { step: id, because }: Message<'skipStep'>): void {
  const context = stepContext(turn.state, {});
  if (!context || !boundStep(id, context)) return tell(turn, window, 'There is no such step here.');
  if (because.trim() === '') return tell(turn, window, 'Give a reason for skipping the step.');
  // What has been seen of it still counts for what may be wrong.
  const { sign = '', values = [] } = context.results[id] ?? {};
  keepResult(turn, id, { verdict: 'skipped', known: 'neither', sign, words: because.trim(), values });
}

/** Ends the step under way without a result; a motor that is on goes off. */
export function endGuidedStep(turn: Turn): void {
  const { guided } = turn.state;
  if (!isGuiding(guided)) return;
  if (guided.phase === 'ready' || guided.phase === 'drilling') {
    change(turn, { drillEnd: guided.drillEnd ?? { kind: 'ended', because: 'ended by the user', at: turn.now } });
    if (guided.phase === 'drilling') halt(turn, { kind: 'stopped', because: 'ended by the user' });
    return tendGuided(turn);
  }
  giveUp(turn, 'ended by the user');
}

/** A step that is given up; what is under way is stopped. */
export function giveUp(turn: Turn, because: string): void {
  const { guided } = turn.state;
  if (!isGuiding(guided)) return;
  if (guided.step === 'sensors') walkEvent(turn, { type: 'end', because });
  change(turn, { phase: 'over', because });
}

/** A new look at the drive. */
export function guidedSaw(turn: Turn): void {
  const { guided } = turn.state;
  if (!isGuiding(guided) || guided.isByHand || guided.phase === 'asking') return;
  const look = lookOf(turn.state);
  if (look) change(turn, { looks: withLook(guided.looks, look) });
}

/** Carries a step on: its drill has ended, the motor has gone off, the judgement is made. */
export function tendGuided(turn: Turn): void {
  const { guided, link } = turn.state;
  if (!isGuiding(guided)) return;
  const needsLink = !guided.isByHand && guided.phase !== 'asking';
  if (needsLink && link !== 'up') {
    const outlives = link !== 'off' && guided.phase === 'watching' && stepUnderWay(turn, guided)?.outlivesLink;
    return outlives ? undefined : giveUp(turn, 'the link was closed');
  }
  switch (guided.phase) {
    case 'drilling':
      return tendDrill(turn, guided);
    case 'ready':
      return tendReady(turn, guided);
    case 'settling':
      return tendSettling(turn, guided);
    case 'watching':
    case 'asking':
      return judge(turn, guided);
    case 'over':
      return;
  }
}

/** What a stop, a lost link or a window that closed has ended is no result. */
const isNoResult = (kind: string) => kind === 'stopped' || kind === 'link lost';

function tendDrill(turn: Turn, guided: GuidedRun): void {
  const { script, lastEnd, permits } = turn.state;
  if (script?.activity === 'guided step') return;
  const end = lastEnd?.end;
  if (!end) return;
  const because = 'because' in end ? end.because : '';
  if (isNoResult(end.kind)) return giveUp(turn, because);
  if (end.kind === 'refused' && guided.drill?.kind !== 'compare') {
    tell(turn, guided.window, because);
    return giveUp(turn, because);
  }
  if (guided.drill?.kind === 'jog' && end.kind === 'finished') return change(turn, { phase: 'ready' });
  if (permits.enable) letGo(turn);
  change(turn, { phase: 'settling', drillEnd: { kind: end.kind, because, at: turn.now } });
}

/** The motor goes off; a spindle runs out on its ramp first. */
const letGo = (turn: Turn): void =>
  turn.state.plan?.memberKind === 'spindle' ? rampDown(turn) : switchOff(turn, { kind: 'finished' });

/** The motor is on and waits for presses; each that has ended is judged. */
function tendReady(turn: Turn, guided: GuidedRun): void {
  const { permits, script, stop } = turn.state;
  if (!permits.enable) {
    // A fault is a result; a stop is none.
    const fault = driveState(turn.state, turn.now) === 'fault';
    const because =
      turn.state.lastEnd && 'because' in turn.state.lastEnd.end ? turn.state.lastEnd.end.because : 'stopped';
    if (!fault) return giveUp(turn, because);
    return change(turn, { phase: 'settling', drillEnd: { kind: 'fault', because, at: turn.now } });
  }
  if (script || stop) return;
  const judgement = judgementOf(turn, guided);
  if (judgement?.kind === 'wait' && guided.drillEnd === undefined) return;
  // Enough has been seen, or the user has ended it.
  switchOff(turn, { kind: 'finished' });
  change(turn, { phase: 'settling', drillEnd: { kind: 'finished', because: '', at: turn.now } });
}

function tendSettling(turn: Turn, guided: GuidedRun): void {
  const { stop, script } = turn.state;
  const { drillEnd } = guided;
  if (script || !drillEnd || turn.now - drillEnd.at < settleTime) return;
  const isStill = !stop && !isPowered(driveState(turn.state, turn.now)) && stands(turn.state);
  // A load that falls does not come to rest; it has been seen for long enough.
  const { motion } = turn.state.plan ?? {};
  const longest = longestSettling + (motion?.kind === 'spindle' ? 2000 * motion.rampDown : 0);
  if (guided.drill?.kind !== 'compare' && !isStill && turn.now - drillEnd.at < longest) return;
  judge(turn, guided);
}

function judgementOf(turn: Turn, guided: GuidedRun): Judgement | undefined {
  const step = stepUnderWay(turn, guided);
  if (!step) return undefined;
  const { looks, answer, answeredAt, drillEnd, isByHand, phase } = guided;
  const { markedAt } = turn.state;
  const isAnswered = isByHand || !step.isWatched || (phase === 'asking' && typeof answer === 'string');
  if (isAnswered) return answered(step, answer);
  const walk = guided.step === 'sensors' ? turn.state.walk?.walk : undefined;
  return step.judge({
    looks,
    elapsed: turn.now - guided.startedAt,
    ...(answer === undefined || answeredAt === undefined ? {} : { answer, sinceAnswer: turn.now - answeredAt }),
    ...(drillEnd ? { drillEnd } : {}),
    ...(markedAt !== undefined && markedAt >= guided.startedAt ? { orderAt: markedAt } : {}),
    ...(walk ? { walk } : {}),
  });
}

function stepUnderWay(turn: Turn, { step, given }: GuidedRun): BoundStep | undefined {
  const context = stepContext(turn.state, given);
  return context && boundStep(step, context);
}

/** What an answer of the user means. */
function answered(step: BoundStep, answer: string | number | undefined): Judgement {
  const { question } = step;
  if (question.kind === 'number')
    return typeof answer === 'number' && step.signOf
      ? { kind: 'judged', result: step.signOf(answer) }
      : { kind: 'ask' };
  const words = question.answers[String(answer)];
  if (words === undefined) return { kind: 'ask' };
  const verdict = step.passes.includes(String(answer)) ? 'passed' : 'failed';
  return { kind: 'judged', result: { verdict, sign: String(answer), words: sentenceOf(words), values: [] } };
}

const sentenceOf = (words: string) => `Observed: ${words}.`;

function judge(turn: Turn, guided: GuidedRun): void {
  const judgement = judgementOf(turn, guided);
  switch (judgement?.kind) {
    case undefined:
      return;
    case 'wait':
      // Nothing more comes once the motor is off.
      if (guided.phase !== 'settling') return;
      return finish(turn, guided, {
        verdict: 'undecided',
        known: 'neither',
        sign: '',
        words: guided.drillEnd?.because || 'It ended before enough was seen. Repeat the step.',
        values: [],
      });
    case 'ask':
      if (guided.phase !== 'asking') change(turn, { phase: 'asking' });
      return;
    case 'judged': {
      const isSeen = !guided.isByHand && guided.phase !== 'asking' && stepUnderWay(turn, guided)?.isWatched === true;
      const known: Known = isSeen ? 'read back' : 'observed';
      return finish(turn, guided, { ...judgement.result, known });
    }
  }
}

function finish(turn: Turn, guided: GuidedRun, result: StepResult): void {
  change(turn, { phase: 'over', because: '' });
  keepResult(turn, guided.step, result);
}

/** Keeps how a step has come out as evidence. */
function keepResult(turn: Turn, step: string, result: StepResult): void {
  const { plan, identity, clock, stepEvidence } = turn.state;
  const motion = motionOf(turn.state);
  if (!plan || !clock || !motion) return;
  const evidence = {
    kind: 'guided step',
    madeAt: new Date(clock.wall).toISOString(),
    revision: plan.version,
    identity: identity && turn.state.link === 'up' ? identityMark(identity) : '',
    digest: stepDigest(motion, step),
    payload: { step, ...result },
  } as const;
  set(turn, { stepEvidence: [...stepEvidence.filter(({ payload }) => payload.step !== step), evidence] });
  turn.commands.push({ type: 'keep proof', proof: evidence });
}
