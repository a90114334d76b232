import {
  isAxis,
  plannedValues,
  type Activity,
  type AxisRecord,
  type ClientMessage,
  type DriveData,
  type LiveState,
  type RunEnd,
  type RunKind,
  type ServerMessage,
} from '@kavrid/contract';
import { controlword, deviceState, fromRaw, parameterOfRole } from '@kavrid/core/drive';
import { setTimeout as pause } from 'node:timers/promises';
import type { Store } from '../database/store.ts';
import type { DriveLink } from '../link/driveLink.ts';
import { reasonOf } from '../reasonOf.ts';
import { axisScaling, type AxisScaling } from './axisScaling.ts';
import { DriveDataKeeper } from './driveDataKeeper.ts';
import { enableDrive, goToStart, homeAxis, makeTestMove, prepareJog, type MotionOrder } from './driveMotion.ts';
import { faultText, type DriveStatus } from './driveStatus.ts';
import { LinkKeeper } from './linkKeeper.ts';
import { Refusal } from './refusal.ts';
import { TraceCapture } from './traceCapture.ts';

/**
 * ms without a sign of life from the window that holds the axis, after which it is stopped: while a key is held, and
 * otherwise, when a window may be busy drawing a chart. A key that comes up, a closed window or a lost link stop at once
 * and do not wait for this.
 */
const aliveTime = { jogging: 400, otherwise: 1500 };

/** The server's side of one axis being commissioned: who holds it, and what is being done with it. */
export class AxisSession {
  readonly axisId: string;
  readonly #store: Store;
  readonly #publish: (message: ServerMessage) => void;
  readonly #link: LinkKeeper;
  readonly #data: DriveDataKeeper;
  #axis: AxisRecord | undefined;
  #scaling: AxisScaling | undefined;
  #activity: Activity = 'idle';
  #abort: AbortController | undefined;
  #progress = '';
  #capture: TraceCapture | undefined;
  #holder: string | undefined;
  #aliveAt = 0;
  #watchdog: number | undefined;

  constructor(store: Store, axisId: string, publish: (message: ServerMessage) => void) {
    this.#store = store;
    this.axisId = axisId;
    this.#publish = publish;
    this.#link = new LinkKeeper({
      target: () => this.#target(),
      arrived: (drive) => this.#arrived(drive),
      looked: (status) => this.#looked(status),
      isHeld: () => this.#isHeld,
      lost: () => this.#abort?.abort(new Error('link lost')),
      changed: () => this.#publishAll(),
      live: () => this.#publishLive(),
    });
    this.#data = new DriveDataKeeper(store, axisId, this.#link, () => this.#publishAll());
  }

  /** Reads the newest document; at the start and whenever the axis has been saved. */
  async refresh(): Promise<void> {
    const axis = await this.#store.axes.read(this.axisId);
    if (!axis) throw new Refusal('There is no such axis any more.');
    const { document } = axis;
    if (!isAxis(document)) throw new Refusal('This is a spindle, not an axis.');
    this.#axis = { ...axis, document };
    const scaling = axisScaling(document);
    this.#scaling = 'because' in scaling ? undefined : scaling;
    await this.#data.refreshTemporary();
    this.#publishAll();
  }

  live(clientId: string): LiveState {
    const { status } = this.#link;
    const units = this.#scaling?.unitsPerCount;
    const scaled = (counts: number | undefined) =>
      counts === undefined || units === undefined ? undefined : counts * units;
    return {
      axisId: this.axisId,
      link: this.#link.state,
      message: this.#link.message,
      deviceState: status && deviceState(status.statusword),
      activity: this.#data.isRestarting ? 'restarting' : this.#activity,
      position: scaled(status?.positionCounts),
      speed: scaled(status?.velocityCounts),
      followingError: scaled(status?.followingErrorCounts),
      torque: status && status.torque * 0.1 * (this.#scaling?.sign ?? 1),
      minusLimit: Boolean(status && status.inputs & 1),
      plusLimit: Boolean(status && status.inputs & 2),
      homed: status?.homed === 1,
      fault: status && faultText(status),
      progress: this.#progress,
      watchdog: this.#watchdog,
      temporary: this.#data.temporary,
      heldElsewhere: this.#holder !== undefined && this.#holder !== clientId,
    };
  }

  driveData(): DriveData {
    return this.#data.data(this.#planned());
  }

  #planned() {
    const profile = this.#link.known?.profile;
    return this.#axis && this.#scaling && profile
      ? plannedValues(this.#axis.document, this.#scaling.results, profile)
      : {};
  }

  /** Does what a window asks. Refusals go back as messages; the window that acts holds the axis until it lets go. */
  async handle(message: ClientMessage, clientId: string): Promise<void> {
    try {
      await this.#act(message, clientId);
    } catch (error) {
      this.#publish({ type: 'refused', because: reasonOf(error) });
    }
  }

  async #act(message: ClientMessage, clientId: string): Promise<void> {
    switch (message.type) {
      case 'watch':
        return;
      case 'jogEnd':
        return this.#endJog(clientId);
      case 'stop':
        return this.stop();
      case 'alive':
        if (clientId === this.#holder) this.#aliveAt = Date.now();
        return;
      case 'connect':
        await this.refresh();
        return this.#link.open();
      case 'disconnect':
        return this.#disconnect();
      default:
        this.#hold(clientId);
    }
    switch (message.type) {
      case 'enable':
        return this.#enable();
      case 'disable':
        await this.#link.need().write('controlword', controlword.disableVoltage, true);
        this.#holder = undefined;
        return;
      case 'resetFault':
        await this.#link.need().write('controlword', 0);
        return this.#link.need().write('controlword', controlword.faultReset);
      case 'jog':
        return this.#jog(message.direction * message.speed);
      case 'home':
        return this.#run('homing', 32, homeAxis);
      case 'testMove':
        return this.#run('test move', 8, makeTestMove, goToStart);
      case 'readDrive':
        return this.#exclusive('writing drive data', () =>
          this.#data.proceed({ type: 'start', planned: this.#planned() }),
        );
      case 'writeDrive':
        return this.#writeDrive();
      case 'restore':
        return this.#data.restore();
    }
  }

  #hold(clientId: string): void {
    if (this.#holder !== undefined && this.#holder !== clientId && Date.now() - this.#aliveAt < 1000) {
      throw new Refusal('Another window is working with this axis. Release it there first.');
    }
    this.#holder = clientId;
    this.#aliveAt = Date.now();
  }

  get #isHeld(): boolean {
    const time = this.#activity === 'jogging' ? aliveTime.jogging : aliveTime.otherwise;
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
    this.#link.rejectWaits(stopped);
    if (this.#link.state !== 'up') return;
    try {
      await this.#link.need().write('controlword', controlword.quickStop, true);
    } catch (error) {
      // Whatever failed here, the device's own watchdog stops the axis: no heartbeat follows a stop.
      this.#link.message = `The stop was not answered (${reasonOf(error)}); the drive’s watchdog stops the axis.`;
      this.#aliveAt = 0;
    }
  }

  #need(): { readonly document: AxisRecord['document']; readonly version: number; readonly scaling: AxisScaling } {
    if (!this.#axis) throw new Refusal('The axis has not been read yet.');
    if (!this.#scaling) throw new Refusal('The scaling of this axis is not known yet. Complete its chain first.');
    return { document: this.#axis.document, version: this.#axis.version, scaling: this.#scaling };
  }

  async #disconnect(): Promise<void> {
    if (this.#link.state === 'up') {
      await this.stop();
      await this.#data.restore().catch(() => undefined);
    }
    this.#link.close();
    this.#holder = undefined;
  }

  async #target() {
    if (!this.#axis) throw new Refusal('The axis has not been read yet.');
    const { link } = this.#axis.document;
    const profile = link.profileId
      ? await this.#store.registerMaps.read(link.profileId).catch(() => undefined)
      : undefined;
    return { link, profile };
  }

  /** First things after connecting: the watchdog, and what an earlier session left changed. */
  async #arrived(drive: DriveLink): Promise<void> {
    const watchdog = parameterOfRole(drive.profile, 'watchdogTime');
    this.#watchdog = watchdog ? fromRaw(watchdog, await drive.readParameter(watchdog.key)) : undefined;
    await this.#data.refreshTemporary().catch(() => undefined);
    const { statusword } = await drive.read('statusword');
    if (this.#data.temporary.length > 0 && deviceState(statusword) !== 'operation enabled') await this.#data.restore();
    await this.#data.read(drive);
    this.#publishAll();
  }

  async #looked(status: DriveStatus): Promise<void> {
    // An axis that nobody holds any more is stopped.
    if (deviceState(status.statusword) === 'operation enabled' && !this.#isHeld) {
      this.#link.message = 'Stopped: the window that held the axis gave no sign of life.';
      await this.stop();
    }
    await this.#capture?.drain(status.traceHead, status.traceTrigger);
  }

  async #exclusive<T>(activity: Activity, work: (signal: AbortSignal) => Promise<T>): Promise<T> {
    if (this.#activity !== 'idle' && this.#activity !== 'jogging')
      throw new Refusal(`The axis is busy: ${this.#activity}.`);
    const abort = new AbortController();
    this.#abort = abort;
    this.#activity = activity;
    this.#publishAll();
    try {
      return await work(abort.signal);
    } finally {
      this.#activity = 'idle';
      this.#progress = '';
      this.#abort = undefined;
      this.#publishAll();
    }
  }

  #order(signal: AbortSignal): MotionOrder {
    const { document, scaling } = this.#need();
    const tell = (progress: string) => {
      this.#progress = progress;
    };
    return { link: this.#link, document, scaling, signal, tell };
  }

  async #enable(): Promise<void> {
    this.#link.need();
    if (!this.#watchdog) {
      throw new Refusal(
        'The drive’s watchdog is off, so nobody would stop the axis when the link fails. Set its time first.',
      );
    }
    this.#link.message = '';
    await this.#exclusive('idle', async (signal) => {
      const order = this.#order(signal);
      await this.#data.setTemporary('commandSource', 1);
      await enableDrive(order);
    });
  }

  /** @param speed axis units/s, signed; 0 ends the jog */
  async #jog(speed: number): Promise<void> {
    const drive = this.#link.needEnabled();
    const { document, scaling } = this.#need();
    if (this.#activity !== 'idle' && this.#activity !== 'jogging')
      throw new Refusal(`The axis is busy: ${this.#activity}.`);
    if (this.#activity === 'idle') {
      this.#activity = 'jogging';
      await prepareJog({ link: this.#link, document, scaling });
    }
    await drive.write('targetVelocity', Math.round(speed * scaling.incrementsPerUnit));
  }

  /** The key is up. */
  async #endJog(clientId: string): Promise<void> {
    if (this.#activity !== 'jogging' || clientId !== this.#holder) return;
    this.#activity = 'idle';
    await this.#link.known?.write('targetVelocity', 0, true);
  }

  /** Records an activity and keeps the record however it ends. */
  async #run(
    kind: RunKind,
    periodSteps: number,
    work: (order: MotionOrder) => Promise<void>,
    before?: (order: MotionOrder) => Promise<void>,
  ): Promise<void> {
    const drive = this.#link.needEnabled();
    const { version, scaling } = this.#need();
    const startedAt = new Date();
    let [end, because]: [RunEnd, string] = ['finished', ''];
    await this.#exclusive(kind, async (signal) => {
      try {
        const order = this.#order(signal);
        await before?.(order);
        this.#capture = await TraceCapture.start(drive, periodSteps);
        await work(order);
        await pause(150);
      } catch (error) {
        because = reasonOf(error);
        end =
          because === 'stopped'
            ? 'stopped'
            : because === 'link lost' || this.#link.state !== 'up'
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
      axisVersion: version,
      trace: capture.finish(scaling),
    });
  }

  /** Ends the recording and takes what the drive still holds of it, however the run ended. */
  async #fetchRest(drive: DriveLink): Promise<void> {
    if (!this.#capture || this.#link.state !== 'up') return;
    try {
      await drive.write('traceRun', 0);
      const patience = AbortSignal.timeout(5000);
      let status = await this.#link.nextStatus(patience);
      while (this.#capture.isBehind(status.traceHead)) status = await this.#link.nextStatus(patience);
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
    if (this.#link.isEnabled) {
      throw new Refusal('Disable the drive first: values are written with the motor off.');
    }
    await this.#exclusive('writing drive data', async () => {
      // A temporary value must not be stored as if it were planned.
      await this.#data.restore();
      await this.#data.proceed({ type: 'confirm' });
    });
  }

  #publishLive(): void {
    this.#publish({ type: 'live', live: this.live('') });
  }

  #publishAll(): void {
    this.#publishLive();
    this.#publish({ type: 'driveData', driveData: this.driveData() });
  }

  async close(): Promise<void> {
    await this.#disconnect();
  }
}
