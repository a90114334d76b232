import type { DriveData, RunSummary, ServerMessage } from '@kavrid/contract';
import { compareValues, driveStanding } from '@kavrid/core/drive';
import { settingsDigest, staleBecause, type Evidence } from '@kavrid/core/evidence';
import {
  addressText,
  holdsDevice,
  identityMark,
  isLive,
  longestRead,
  newSession,
  plannedRaw,
  plateComparisons,
  reduceSession,
  rolesNotInMap,
  type Recording,
  type SessionCommand,
  type SessionEvent,
  type SessionMessage,
  type SessionState,
  type SessionTiming,
  type End,
} from '@kavrid/core/procedure';
import { reasonOf } from '../reasonOf.ts';
import type { DataService, MemberNews } from './dataService.ts';
import { askDevice } from './deviceRequests.ts';
import type { Line, LineResult } from './line.ts';
import type { Lines } from './lines.ts';
import { liveOf } from './liveOf.ts';
import { runRecorder } from './runRecorder.ts';
import { shownGuide } from './shownGuide.ts';
import { shownProcedure } from './shownProcedure.ts';

/** ms between two ticks of a mailbox, and between two live states that bring only new readings */
const tickTime = 10;
const liveTime = 50;

export interface MailboxOptions {
  readonly memberId: string;
  readonly timing: SessionTiming;
  readonly data: DataService;
  readonly lines: Lines;
  /** To one window, or to all that watch. */
  readonly publish: (message: (window: string) => ServerMessage, window?: string) => void;
  /** Another member that works with the device of this one. */
  readonly heldElsewhere?: (mailbox: Mailbox) => string | undefined;
  readonly clock?: () => { readonly now: number; readonly wall: number };
}

const realClock = () => ({ now: performance.now(), wall: Date.now() });

/** s that is kept of a recording from before its trigger. */
const keptBefore = 0.2;

/**
 * The mailbox of one axis or spindle: events go in one at a time and are reduced at once; what the reducer commands is begun,
 * and its result comes back as an event. Nothing here waits.
 */
export class Mailbox {
  readonly memberId: string;
  readonly #options: MailboxOptions;
  readonly #inbox: SessionEvent[] = [];
  readonly #clock: () => { readonly now: number; readonly wall: number };
  readonly #recorder = runRecorder();
  #state: SessionState;
  #isReducing = false;
  #asked = 0;
  #line: Line | undefined;
  #letGo: (() => void) | undefined;
  #timer: NodeJS.Timeout | undefined;
  #published: readonly unknown[] = [];
  #publishedGuide: readonly unknown[] = [];
  #publishedAt = -Infinity;
  readonly #whenClosed: (() => void)[] = [];

  constructor(options: MailboxOptions) {
    this.memberId = options.memberId;
    this.#options = options;
    this.#clock = options.clock ?? realClock;
    this.#state = newSession(options.timing);
  }

  get state(): SessionState {
    return this.#state;
  }

  /** Nobody watches, and nothing is connected: it can be let go. */
  get isIdle(): boolean {
    return this.#state.watchers.length === 0 && this.#state.link === 'off';
  }

  /** The device that it works with, or would have to stop. */
  get heldDevice(): string | undefined {
    const { address } = this.#state;
    return address && holdsDevice(this.#state) ? addressText(address) : undefined;
  }

  /** Reads the newest plan; at the start, and whenever it has been saved. */
  async refresh(): Promise<void> {
    const asked = ++this.#asked;
    try {
      const news = await this.#options.data.member(this.memberId);
      // An answer that was overtaken by a newer question is out of date.
      if (asked === this.#asked) this.news(news);
    } catch {
      if (!this.#state.plan) this.post({ type: 'plan missing', because: 'The database does not respond.' });
    }
  }

  news(news: MemberNews | undefined): void {
    if (news) this.post({ type: 'saved', ...news });
    else this.post({ type: 'plan missing', because: 'There is no such axis or spindle any more.' });
  }

  message(window: string, message: SessionMessage): void {
    this.post({ type: 'message', window, message, deviceHeldBy: this.#heldElsewhere() });
  }

  post(event: SessionEvent): void {
    this.#inbox.push(event);
    if (this.#isReducing) return;
    this.#isReducing = true;
    try {
      for (let next = this.#inbox.shift(); next; next = this.#inbox.shift()) {
        const { state, commands } = reduceSession(this.#state, next, this.#clock());
        this.#state = state;
        for (const command of commands) this.#carryOut(command);
      }
    } finally {
      this.#isReducing = false;
    }
    this.#keepTime();
    this.#publishChanges();
    if (this.#state.link === 'off') for (const closed of this.#whenClosed.splice(0)) closed();
  }

  /** Settled when its link is closed. */
  get closed(): Promise<void> {
    if (this.#state.link === 'off') return Promise.resolve();
    return new Promise((resolve) => this.#whenClosed.push(resolve));
  }

  #carryOut(command: SessionCommand): void {
    switch (command.type) {
      case 'connect':
        return this.#connect(command);
      case 'close':
        return this.#close();
      case 'send':
        return this.#send(command);
      case 'remember':
        return this.#keep(command.id, this.#options.data.remember(this.memberId, command.setting));
      case 'forget':
        return this.#keep(command.id, this.#options.data.forget(command.setting));
      case 'look up':
        return this.#lookUp(command);
      case 'keep proof':
        return this.#keepProof(command.proof);
      case 'keep snapshot':
        return this.#keepSnapshot(command);
      case 'record':
        return this.#recorder.start();
      case 'skip samples':
        return this.#recorder.skip(command.count);
      case 'keep run':
        return this.#keepRun(command.recording, command.end, command.endedAt);
      case 'tell':
        return this.#options.publish(() => ({ type: 'refused', because: command.because }), command.window);
      case 'drive data changed':
        return this.#options.publish(() => ({ type: 'driveData', driveData: this.driveData() }));
    }
  }

  #connect({ attempt, address }: Extract<SessionCommand, { type: 'connect' }>): void {
    this.#letGo?.();
    this.#line = undefined;
    this.#letGo = this.#options.lines.use(address, {
      up: (line) => {
        this.#line = line;
        this.post({ type: 'line up', attempt });
      },
      lost: (because) => {
        this.#line = undefined;
        this.post({ type: 'line lost', attempt, because });
      },
    });
  }

  #close(): void {
    this.#line = undefined;
    this.#letGo?.();
    this.#letGo = undefined;
  }

  #send({ id, request, permit, priority, isMotion }: Extract<SessionCommand, { type: 'send' }>): void {
    const line = this.#line;
    const { profile, address } = this.#state;
    if (!line || !profile || !address)
      return this.post({ type: 'not sent', id, because: 'there is no link to the drive' });
    let leftAt: number | undefined;
    const mayLeave = () => {
      const isAllowed = permit === undefined || isLive(this.#state, permit);
      if (isAllowed) leftAt ??= this.#clock().now;
      return isAllowed;
    };
    const ask = (modbus: Parameters<Parameters<typeof askDevice>[2]>[0]) =>
      new Promise<LineResult>((settled) =>
        line.ask({
          unit: address.unit,
          request: modbus,
          isAllowed: mayLeave,
          priority,
          isMotion,
          settled,
        }),
      );
    void askDevice(profile, request, ask, longestRead(address)).then((result) => {
      switch (result.kind) {
        case 'answer':
          if (result.samples) this.#recorder.add(result.samples);
          return this.post({ type: 'answered', id, answer: result.answer, leftAt: leftAt ?? this.#clock().now });
        case 'impossible':
          return this.post({ type: 'not sent', id, because: result.because });
        case 'failed':
          return this.post(failureEvent(id, result.result));
      }
    });
  }

  #keep(id: number, call: ReturnType<DataService['forget']>): void {
    call.then(
      (temporary) => this.post({ type: 'kept', id, temporary, isHeldElsewhere: this.#heldElsewhere() !== undefined }),
      (error: unknown) => this.post({ type: 'not kept', id, because: reasonOf(error) }),
    );
  }

  #lookUp({ id, identity, address }: Extract<SessionCommand, { type: 'look up' }>): void {
    const { data } = this.#options;
    Promise.all([data.settingsOf(identity, address), data.proofOf(this.memberId, identity)]).then(
      ([temporary, proof]) =>
        this.post({ type: 'kept', id, temporary, proof, isHeldElsewhere: this.#heldElsewhere() !== undefined }),
      (error: unknown) => this.post({ type: 'not kept', id, because: reasonOf(error) }),
    );
  }

  #keepProof(proof: Evidence): void {
    this.#options.data.keepEvidence(this.memberId, proof).then(
      () => this.#options.publish(() => ({ type: 'evidenceKept', memberId: this.memberId })),
      (error: unknown) =>
        this.#options.publish(() => ({
          type: 'refused',
          because: `What was proven could not be kept: ${reasonOf(error)}`,
        })),
    );
  }

  #keepSnapshot({ id, snapshot, isAutomatic }: Extract<SessionCommand, { type: 'keep snapshot' }>): void {
    this.#options.data.keepSnapshot(this.memberId, snapshot, isAutomatic).then(
      () => {
        this.#options.publish(() => ({ type: 'snapshotKept', memberId: this.memberId, name: snapshot.name }));
        this.post({ type: 'snapshot kept', id });
      },
      (error: unknown) => this.post({ type: 'not kept', id, because: reasonOf(error) }),
    );
  }

  #keepRun(recording: Recording, end: End, endedAt: number): void {
    const seconds = (endedAt - recording.startedAt) / 1000;
    const { profile } = this.#state;
    const scale = profile?.registers.tracePeriod?.scale ?? 0.000125;
    const choices = profile?.tracedInputs ? profile.inputs.filter(({ role }) => role === 'choice') : [];
    const period = recording.periodSteps * scale;
    const { trigger = 0 } = recording;
    const before = Math.min(trigger, Math.round(keptBefore / period));
    const samples = this.#recorder.take(trigger - before);
    const run = {
      memberId: this.memberId,
      kind: recording.kind,
      end:
        end.kind === 'finished' || end.kind === 'stopped' || end.kind === 'link lost' ? end.kind : ('fault' as const),
      because: [...(end.kind === 'finished' ? [] : [end.because]), ...gapWords(recording)].join('; ').slice(0, 400),
      startedAt: new Date(this.#clock().wall - 1000 * seconds).toISOString(),
      seconds,
      version: recording.version,
      period,
      before,
      choiceBits: choices.map(({ bit }) => bit),
      identity: this.#state.identity ? identityMark(this.#state.identity) : '',
    };
    void this.#offer(() => this.#options.data.keepRun(run, samples), 300);
  }

  /** Without a database the run is kept here and offered again, for ten minutes. */
  async #offer(keep: () => Promise<RunSummary>, tries: number): Promise<void> {
    try {
      const run = await keep();
      this.#options.publish(() => ({ type: 'runSaved', run }));
    } catch {
      if (tries === 300)
        this.#options.publish(() => ({
          type: 'refused',
          because: 'The database does not respond. The recording is kept and saved when it is back.',
        }));
      if (tries > 1) setTimeout(() => void this.#offer(keep, tries - 1), 2000).unref();
    }
  }

  driveData(): DriveData {
    const { profile, plan, reading, readAt, reported, survived, proof, identity, procedure } = this.#state;
    const comparisons = profile && plan ? compareValues(profile, plan.planned, reading, survived) : [];
    const plates = profile && plan ? plateComparisons(plan, profile, reported) : [];
    const now = {
      identity: identity && identityMark(identity),
      digest: profile && plan && settingsDigest(plannedRaw(comparisons)),
    };
    const stale = proof && staleBecause(proof, now);
    return {
      comparisons,
      plates,
      notInMap: profile && plan ? rolesNotInMap(profile, plan.memberKind) : [],
      standing: driveStanding(reading !== undefined, comparisons, plates, plan?.waitsFor),
      ...(readAt === undefined ? {} : { readAt: new Date(readAt).toISOString() }),
      ...(proof
        ? {
            proof: {
              madeAt: proof.madeAt,
              revision: proof.revision,
              identity: proof.identity,
              ...(stale === undefined ? {} : { staleBecause: stale }),
            },
          }
        : {}),
      procedure: shownProcedure(procedure),
    };
  }

  #heldElsewhere(): string | undefined {
    return this.#options.heldElsewhere?.(this);
  }

  /** Ticks only while there is a link to tend. */
  #keepTime(): void {
    const needed = this.#state.link !== 'off';
    if (needed && !this.#timer) this.#timer = setInterval(() => this.post({ type: 'tick' }), tickTime);
    if (needed || !this.#timer) return;
    clearInterval(this.#timer);
    this.#timer = undefined;
  }

  /** Readings are published twenty times a second; changes of activity, holder or state at once. */
  #publishChanges(): void {
    const { status, link, linkMessage, script, stop, permits, temporary, holder, progress, isConfirmed, plan } =
      this.#state;
    const now = this.#clock().now;
    const shown = [
      link,
      linkMessage,
      script?.activity,
      stop?.how,
      permits.enable,
      temporary,
      holder?.window,
      progress,
      isConfirmed,
      plan,
      status?.values.statusword,
      status?.values.inputStates,
      status?.values.outputStates,
      this.#state.walk,
    ];
    this.#publishGuide();
    const isNew = shown.some((each, index) => each !== this.#published[index]);
    // Its kind is not known until its plan is.
    if (!plan) return;
    if (!isNew && (link === 'off' || now - this.#publishedAt < liveTime)) return;
    this.#published = shown;
    this.#publishedAt = now;
    this.#options.publish((window) => ({ type: 'live', live: liveOf(this.memberId, this.#state, window, now) }));
  }

  /** The guided steps, whenever something of them has changed. */
  #publishGuide(): void {
    const { plan, link, guided, stepEvidence, temporary, identity, watchdog, profile } = this.#state;
    if (!plan) return;
    const shown = [
      plan,
      link,
      identity,
      watchdog,
      profile,
      stepEvidence,
      temporary.length,
      guided?.step,
      guided?.phase,
      guided?.window,
      guided?.because,
    ];
    if (shown.every((each, index) => each === this.#publishedGuide[index])) return;
    this.#publishedGuide = shown;
    this.#options.publish((window) => ({ type: 'guide', guide: shownGuide(this.memberId, this.#state, window) }));
  }

  /** For a window that has just come. */
  greet(window: string): void {
    const { now } = this.#clock();
    if (!this.#state.plan) return;
    this.#options.publish(() => ({ type: 'live', live: liveOf(this.memberId, this.#state, window, now) }), window);
    this.#options.publish(() => ({ type: 'driveData', driveData: this.driveData() }), window);
    this.#options.publish(() => ({ type: 'guide', guide: shownGuide(this.memberId, this.#state, window) }), window);
  }

  /** Lets go of everything at once; what still moves is left to its watchdog. */
  dispose(): void {
    this.#close();
    clearInterval(this.#timer);
  }
}

function failureEvent(id: number, result: Exclude<LineResult, { readonly kind: 'answered' }>): SessionEvent {
  switch (result.kind) {
    case 'exception':
      return { type: 'refused', id, exception: result.code };
    case 'timed out':
      return { type: 'timed out', id };
    case 'not allowed':
      return { type: 'not sent', id, because: 'it was stopped' };
    case 'lost':
      return { type: 'not sent', id, because: 'the link was lost' };
  }
}

const gapWords = ({ missing }: Recording): readonly string[] =>
  missing === 0 ? [] : [`${missing} samples are missing, because the drive overwrote them before they were fetched`];
