import type {
  Activity,
  ClientMessage,
  DriveData,
  LinkLive,
  LiveState,
  MemberDocument,
  MemberRecord,
  RunEnd,
  RunKind,
  ServerMessage,
  SpindleLive,
  Trace,
} from '@kavrid/contract';
import {
  controlword,
  deviceState,
  fromRaw,
  parameterOfRole,
  type ParameterRole,
  type PlannedValues,
  type SpindleDriveRole,
} from '@kavrid/core/drive';
import { setTimeout as pause } from 'node:timers/promises';
import type { Store } from '../database/store.ts';
import type { DriveLink } from '../link/driveLink.ts';
import { reasonOf } from '../reasonOf.ts';
import { DriveDataKeeper } from './driveDataKeeper.ts';
import { faultText, type StatusOf } from './driveStatus.ts';
import { LinkKeeper } from './linkKeeper.ts';
import { Refusal } from './refusal.ts';
import { TraceCapture } from './traceCapture.ts';

/**
 * ms without a sign of life from the window that holds the axis, after which it is stopped: while a key is held, and
 * otherwise, when a window may be busy drawing a chart. A key that comes up, a closed window or a lost link stop at once
 * and do not wait for this.
 */
const aliveTime = { jogging: 400, otherwise: 1500 };

/**
 * The server's side of one axis or spindle being commissioned: who holds it, and what is being done with it. What its drive
 * can be told is the matter of the kinds of it.
 */
export abstract class DriveSession<K extends string> {
  readonly axisId: string;
  protected readonly link: LinkKeeper<K | 'traceHead' | 'traceTrigger'>;
  protected readonly data: DriveDataKeeper;
  protected activity: Activity = 'idle';
  protected progress = '';
  protected watchdog: number | undefined;
  readonly #store: Store;
  readonly #publish: (message: ServerMessage) => void;
  readonly #watchdogRole: ParameterRole | SpindleDriveRole;
  #record: MemberRecord | undefined;
  #abort: AbortController | undefined;
  #capture: TraceCapture | undefined;
  #holder: string | undefined;
  #aliveAt = 0;

  protected constructor(options: {
    readonly store: Store;
    readonly axisId: string;
    readonly publish: (message: ServerMessage) => void;
    readonly statusKeys: readonly K[];
    /** The parameter after whose time without a message the drive stops by itself. */
    readonly watchdogRole: ParameterRole | SpindleDriveRole;
  }) {
    this.#store = options.store;
    this.axisId = options.axisId;
    this.#publish = options.publish;
    this.#watchdogRole = options.watchdogRole;
    this.link = new LinkKeeper<K | 'traceHead' | 'traceTrigger'>({
      statusKeys: [...options.statusKeys, 'traceHead', 'traceTrigger'],
      target: () => this.#target(),
      arrived: (drive) => this.#arrived(drive),
      looked: (status) => this.#looked(status),
      isHeld: () => this.#isHeld,
      lost: () => this.#abort?.abort(new Error('link lost')),
      changed: () => this.publishAll(),
      live: () => this.#publishLive(),
    });
    this.data = new DriveDataKeeper(options.store, options.axisId, this.link, () => this.publishAll());
  }

  /** Takes the newest document in. */
  protected abstract take(document: MemberDocument): void;
  /** What is planned for the drive now. */
  protected abstract planned(): PlannedValues;
  /** Carries out a message of a window that holds the drive. */
  protected abstract act(message: ClientMessage): Promise<void>;
  abstract live(clientId: string): LiveState | SpindleLive;

  /** Reads the newest document; at the start and whenever it has been saved. */
  async refresh(): Promise<void> {
    const record = await this.#store.axes.read(this.axisId);
    if (!record) throw new Refusal('There is no such axis or spindle any more.');
    this.#record = record;
    this.take(record.document);
    await this.data.refreshTemporary();
    this.publishAll();
  }

  /** What the screen is told of every drive. */
  protected linkLive(clientId: string): LinkLive {
    const { status } = this.link;
    return {
      axisId: this.axisId,
      link: this.link.state,
      message: this.link.message,
      deviceState: status && deviceState(status.statusword),
      activity: this.data.isRestarting ? 'restarting' : this.activity,
      fault: status && faultText(status),
      progress: this.progress,
      watchdog: this.watchdog,
      temporary: this.data.temporary,
      heldElsewhere: this.#holder !== undefined && this.#holder !== clientId,
    };
  }

  driveData(): DriveData {
    return this.data.data(this.planned());
  }

  /** Does what a window asks. Refusals go back as messages; the window that acts holds the drive until it lets go. */
  async handle(message: ClientMessage, clientId: string): Promise<void> {
    try {
      await this.#receive(message, clientId);
    } catch (error) {
      this.#publish({ type: 'refused', because: reasonOf(error) });
    }
  }

  async #receive(message: ClientMessage, clientId: string): Promise<void> {
    switch (message.type) {
      case 'watch':
        return;
      case 'jogEnd':
        return clientId === this.#holder ? this.endJog() : undefined;
      case 'stop':
        return this.stop();
      case 'alive':
        if (clientId === this.#holder) this.#aliveAt = Date.now();
        return;
      case 'connect':
        await this.refresh();
        return this.link.open();
      case 'disconnect':
        return this.#disconnect();
      default:
        this.#hold(clientId);
    }
    switch (message.type) {
      case 'disable':
        await this.link.need().write('controlword', controlword.disableVoltage, true);
        this.#holder = undefined;
        return;
      case 'resetFault':
        await this.link.need().write('controlword', 0);
        return this.link.need().write('controlword', controlword.faultReset);
      case 'readDrive':
        return this.exclusive('writing drive data', () =>
          this.data.proceed({ type: 'start', planned: this.planned() }),
        );
      case 'writeDrive':
        return this.#writeDrive();
      case 'restore':
        return this.data.restore();
      default:
        return this.act(message);
    }
  }

  /** A key has come up. */
  protected endJog(): Promise<void> {
    return Promise.resolve();
  }

  #hold(clientId: string): void {
    if (this.#holder !== undefined && this.#holder !== clientId && Date.now() - this.#aliveAt < 1000) {
      throw new Refusal('Another window is working with this axis. Release it there first.');
    }
    this.#holder = clientId;
    this.#aliveAt = Date.now();
  }

  get #isHeld(): boolean {
    const time = this.activity === 'jogging' ? aliveTime.jogging : aliveTime.otherwise;
    return this.#holder !== undefined && Date.now() - this.#aliveAt < time;
  }

  /** A window has gone. If it held the axis, the axis stops. */
  windowGone(clientId: string): void {
    if (clientId !== this.#holder) return;
    this.#holder = undefined;
    void this.stop();
  }

  /** Quick stop, before everything that waits. */
  async stop(): Promise<void> {
    const stopped = new Error('stopped');
    this.#abort?.abort(stopped);
    this.link.rejectWaits(stopped);
    if (this.link.state !== 'up') return;
    try {
      await this.link.need().write('controlword', controlword.quickStop, true);
    } catch (error) {
      // Whatever failed here, the device's own watchdog stops the axis: no heartbeat follows a stop.
      this.link.message = `The stop was not answered (${reasonOf(error)}); the drive’s watchdog stops the axis.`;
      this.#aliveAt = 0;
    }
  }

  async #disconnect(): Promise<void> {
    if (this.link.state === 'up') {
      await this.stop();
      await this.data.restore().catch(() => undefined);
    }
    this.link.close();
    this.#holder = undefined;
  }

  async #target() {
    if (!this.#record) throw new Refusal('The document has not been read yet.');
    const { link } = this.#record.document;
    const profile = link.profileId
      ? await this.#store.registerMaps.read(link.profileId).catch(() => undefined)
      : undefined;
    return { link, profile };
  }

  /** First things after connecting: the watchdog, and what an earlier session left changed. */
  async #arrived(drive: DriveLink): Promise<void> {
    const watchdog = parameterOfRole(drive.profile, this.#watchdogRole);
    this.watchdog = watchdog ? fromRaw(watchdog, await drive.readParameter(watchdog.key)) : undefined;
    await this.data.refreshTemporary().catch(() => undefined);
    const { statusword } = await drive.read('statusword');
    if (this.data.temporary.length > 0 && deviceState(statusword) !== 'operation enabled') await this.data.restore();
    await this.data.read(drive);
    this.publishAll();
  }

  async #looked(status: StatusOf<'traceHead' | 'traceTrigger'>): Promise<void> {
    // An axis that nobody holds any more is stopped.
    if (deviceState(status.statusword) === 'operation enabled' && !this.#isHeld) {
      this.link.message = 'Stopped: the window that held the axis gave no sign of life.';
      await this.stop();
    }
    await this.#capture?.drain(status.traceHead, status.traceTrigger);
  }

  protected async exclusive<T>(activity: Activity, work: (signal: AbortSignal) => Promise<T>): Promise<T> {
    if (this.activity !== 'idle' && this.activity !== 'jogging')
      throw new Refusal(`The axis is busy: ${this.activity}.`);
    const abort = new AbortController();
    this.#abort = abort;
    this.activity = activity;
    this.publishAll();
    try {
      return await work(abort.signal);
    } finally {
      this.activity = 'idle';
      this.progress = '';
      this.#abort = undefined;
      this.publishAll();
    }
  }

  /** Records an activity and keeps the record however it ends. */
  protected async record(options: {
    readonly kind: RunKind;
    readonly periodSteps: number;
    readonly before?: (signal: AbortSignal) => Promise<void>;
    readonly work: (signal: AbortSignal) => Promise<void>;
    readonly traceOf: (recorded: ReturnType<TraceCapture['finish']>) => Trace;
  }): Promise<void> {
    const { kind, periodSteps, before, work, traceOf } = options;
    const drive = this.link.need();
    const axisVersion = this.#record?.version ?? 1;
    const startedAt = new Date();
    let [end, because]: [RunEnd, string] = ['finished', ''];
    await this.exclusive(kind, async (signal) => {
      try {
        await before?.(signal);
        this.#capture = await TraceCapture.start(drive, periodSteps);
        await work(signal);
        await pause(150);
      } catch (error) {
        because = reasonOf(error);
        end =
          because === 'stopped'
            ? 'stopped'
            : because === 'link lost' || this.link.state !== 'up'
              ? 'link lost'
              : 'fault';
      }
      await this.#fetchRest(drive);
    });
    const capture = this.#capture;
    this.#capture = undefined;
    if (!capture) throw new Refusal(because);
    await this.#keepRun({
      axisId: this.axisId,
      kind,
      end,
      because: because.slice(0, 400),
      startedAt,
      seconds: (Date.now() - startedAt.getTime()) / 1000,
      axisVersion,
      trace: traceOf(capture.finish()),
    });
  }

  /** Ends the recording and takes what the drive still holds of it, however the run ended. */
  async #fetchRest(drive: DriveLink): Promise<void> {
    if (!this.#capture || this.link.state !== 'up') return;
    try {
      await drive.write('traceRun', 0);
      const patience = AbortSignal.timeout(5000);
      let status = await this.link.nextStatus(patience);
      while (this.#capture.isBehind(status.traceHead)) status = await this.link.nextStatus(patience);
    } catch {
      // The link is gone or too slow: what has been fetched is kept.
    }
  }

  /** Without a database the run is kept here and offered again, for ten minutes. */
  async #keepRun(run: Parameters<Store['runs']['add']>[0]): Promise<void> {
    for (let attempt = 0; ; attempt++) {
      try {
        this.#publish({ type: 'runSaved', run: await this.#store.runs.add(run) });
        return;
      } catch (error) {
        if (attempt >= 300) throw error;
        if (attempt === 0)
          this.#publish({
            type: 'refused',
            because: 'The database does not answer. The recording is kept and saved when it is back.',
          });
        await pause(2000);
      }
    }
  }

  async #writeDrive(): Promise<void> {
    if (this.link.isEnabled) {
      throw new Refusal('Disable the drive first: values are written with the motor off.');
    }
    await this.exclusive('writing drive data', async () => {
      // A temporary value must not be stored as if it were planned.
      await this.data.restore();
      await this.data.proceed({ type: 'confirm' });
    });
  }

  #publishLive(): void {
    this.#publish({ type: 'live', live: this.live('') });
  }

  protected publishAll(): void {
    this.#publishLive();
    this.#publish({ type: 'driveData', driveData: this.driveData() });
  }

  async close(): Promise<void> {
    await this.#disconnect();
  }
}
