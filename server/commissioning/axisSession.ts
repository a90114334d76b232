import {
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
import {
  compareValues,
  controlBit,
  controlword,
  deviceState,
  fromRaw,
  nextTowardsEnabled,
  operationMode,
  parameterOfRole,
  statusBit,
  type DriveReading,
} from '@kavrid/core/drive';
import {
  stepWriteAndVerify,
  writeAndVerify,
  type WriteAndVerifyCommand,
  type WriteAndVerifyEvent,
  type WriteAndVerifyState,
} from '@kavrid/core/procedure';
import { setTimeout as pause } from 'node:timers/promises';
import type { Store } from '../database/store.ts';
import { DriveLink } from '../link/driveLink.ts';
import { isException, ModbusClient } from '../link/modbusClient.ts';
import { reasonOf } from '../reasonOf.ts';
import { axisScaling, type AxisScaling } from './axisScaling.ts';
import { TraceCapture } from './traceCapture.ts';

/** ms between two looks at the drive; live state goes out at every second one. */
const tickTime = 25;
/** ms between two heartbeats to the drive, whose watchdog usually waits 200. */
const heartbeatTime = 40;
/**
 * ms without a sign of life from the window that holds the axis, after which it is stopped: while a key is held, and
 * otherwise, when a window may be busy drawing a chart. A key that comes up, a closed window or a lost link stop at once
 * and do not wait for this.
 */
const aliveTime = { jogging: 400, otherwise: 1500 };
const saveSignature = 0x65766173;

const statusKeys = [
  'statusword',
  'modeDisplay',
  'positionCounts',
  'velocityCounts',
  'followingErrorCounts',
  'torque',
  'inputs',
  'errorCode',
  'traceHead',
  'traceTrigger',
  'homed',
] as const;
type Status = Record<(typeof statusKeys)[number], number>;

const faults: Readonly<Record<number, string>> = {
  0x8130: 'The watchdog stopped the axis: no sign of life came from the screen.',
  0x8611: 'Following error beyond its window: the axis did not follow the command.',
  0xff01: 'Homing failed: a limit switch came on where it should not.',
};

/** A refusal that the screen shows; not a failure of ours. */
class Refusal extends Error {}

/** The server's side of one axis being commissioned: its link, what is known of the drive, and what is being done. */
export class AxisSession {
  readonly axisId: string;
  readonly #store: Store;
  readonly #publish: (message: ServerMessage) => void;
  #axis: AxisRecord | undefined;
  #scaling: AxisScaling | undefined;
  #wanted = false;
  #client: ModbusClient | undefined;
  #drive: DriveLink | undefined;
  #status: Status | undefined;
  #link: LiveState['link'] = 'off';
  #message = '';
  #activity: Activity = 'idle';
  #abort: AbortController | undefined;
  #progress = '';
  #capture: TraceCapture | undefined;
  #holder: string | undefined;
  #aliveAt = 0;
  #watchdog: number | undefined;
  #reading: DriveReading | undefined;
  #readAt: string | undefined;
  #procedure: WriteAndVerifyState | undefined;
  #temporary: LiveState['temporary'] = [];
  #waiters: { readonly resolve: (status: Status) => void; readonly reject: (error: Error) => void }[] = [];

  constructor(store: Store, axisId: string, publish: (message: ServerMessage) => void) {
    this.#store = store;
    this.axisId = axisId;
    this.#publish = publish;
  }

  /** Reads the newest document; at the start and whenever the axis has been saved. */
  async refresh(): Promise<void> {
    const axis = await this.#store.axis(this.axisId);
    if (!axis) throw new Refusal('There is no such axis any more.');
    this.#axis = axis;
    const scaling = axisScaling(axis.document);
    this.#scaling = 'because' in scaling ? undefined : scaling;
    this.#temporary = await this.#store.temporarySettings(this.axisId);
    this.#publishAll();
  }

  live(clientId: string): LiveState {
    const status = this.#status;
    const units = this.#scaling?.unitsPerCount;
    const scaled = (counts: number | undefined) =>
      counts === undefined || units === undefined ? undefined : counts * units;
    return {
      axisId: this.axisId,
      link: this.#link,
      message: this.#message,
      deviceState: status && deviceState(status.statusword),
      activity: this.#activity,
      position: scaled(status?.positionCounts),
      speed: scaled(status?.velocityCounts),
      followingError: scaled(status?.followingErrorCounts),
      torque: status && status.torque * 0.1 * (this.#scaling?.sign ?? 1),
      minusLimit: Boolean(status && status.inputs & 1),
      plusLimit: Boolean(status && status.inputs & 2),
      homed: status?.homed === 1,
      fault:
        status && status.errorCode !== 0
          ? (faults[status.errorCode] ?? `Drive error 0x${status.errorCode.toString(16)}.`)
          : undefined,
      progress: this.#progress,
      watchdog: this.#watchdog,
      temporary: this.#temporary,
      heldElsewhere: this.#holder !== undefined && this.#holder !== clientId,
    };
  }

  driveData(): DriveData {
    const { profile } = this.#drive ?? {};
    const planned = this.#planned();
    return {
      reading: this.#reading,
      readAt: this.#readAt,
      comparisons: profile ? compareValues(profile, planned, this.#reading) : [],
      procedure: {
        phase: this.#procedure?.phase ?? 'idle',
        log: this.#procedure?.log ?? [],
        ...(this.#procedure?.because ? { because: this.#procedure.because } : {}),
      },
    };
  }

  #planned() {
    return this.#axis && this.#scaling && this.#drive
      ? plannedValues(this.#axis.document, this.#scaling.results, this.#drive.profile)
      : {};
  }

  /** Does what a window asks. Refusals go back as messages; the window that acts holds the axis until it lets go. */
  async handle(message: ClientMessage, clientId: string): Promise<void> {
    try {
      await this.#act(message, clientId);
    } catch (error) {
      const because = reasonOf(error);
      this.#publish({ type: 'refused', because });
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
        return this.#connect();
      case 'disconnect':
        return this.#disconnect();
      default:
        this.#hold(clientId);
    }
    switch (message.type) {
      case 'enable':
        return this.#enable();
      case 'disable':
        await this.#need().write('controlword', controlword.disableVoltage, true);
        this.#holder = undefined;
        return;
      case 'resetFault':
        await this.#need().write('controlword', 0);
        return this.#need().write('controlword', controlword.faultReset);
      case 'jog':
        return this.#jog(message.direction * message.speed);
      case 'home':
        return this.#run('homing', 32, (signal) => this.#home(signal));
      case 'testMove':
        return this.#run('test move', 8, (signal) => this.#testMove(signal));
      case 'readDrive':
        return this.#exclusive('writing drive data', async () => {
          await this.#procedureEvent({ type: 'start', planned: this.#planned() });
        });
      case 'writeDrive':
        return this.#writeDrive();
      case 'restore':
        return this.#restore();
    }
  }

  #hold(clientId: string): void {
    if (this.#holder !== undefined && this.#holder !== clientId && Date.now() - this.#aliveAt < 1000) {
      throw new Refusal('Another window is working with this axis. Release it there first.');
    }
    this.#holder = clientId;
    this.#aliveAt = Date.now();
  }

  /** A window has gone. If it held the axis, the axis stops. */
  windowGone(clientId: string): void {
    if (clientId !== this.#holder) return;
    this.#holder = undefined;
    void this.stop();
  }

  #abortActivity(error: Error): void {
    this.#abort?.abort(error);
    for (const waiter of this.#waiters.splice(0)) waiter.reject(error);
  }

  /** Quick stop, before everything that waits. */
  async stop(): Promise<void> {
    this.#abortActivity(new Error('stopped'));
    if (!this.#drive || this.#link !== 'up') return;
    try {
      await this.#drive.write('controlword', controlword.quickStop, true);
    } catch (error) {
      // Whatever failed here, the device's own watchdog stops the axis: no heartbeat follows a stop.
      this.#message = `The stop was not answered (${reasonOf(error)}); the drive’s watchdog stops the axis.`;
      this.#aliveAt = 0;
    }
  }

  #need(): DriveLink {
    if (!this.#drive || this.#link !== 'up') throw new Refusal('There is no link to the drive. Connect first.');
    return this.#drive;
  }

  #needScaling(): AxisScaling {
    if (!this.#scaling) throw new Refusal('The scaling of this axis is not known yet. Complete its chain first.');
    return this.#scaling;
  }

  #needAxis(): AxisRecord {
    if (!this.#axis) throw new Refusal('The axis has not been read yet.');
    return this.#axis;
  }

  async #connect(): Promise<void> {
    if (this.#wanted) return;
    await this.refresh();
    this.#wanted = true;
    void this.#keepConnected();
  }

  async #disconnect(): Promise<void> {
    this.#wanted = false;
    if (this.#link === 'up') {
      await this.stop();
      await this.#restore().catch(() => undefined);
    }
    this.#client?.close();
    this.#lost('off', '');
    this.#holder = undefined;
  }

  async #keepConnected(): Promise<void> {
    while (this.#wanted) {
      const { link } = this.#needAxis().document;
      const profile = link.profileId ? await this.#store.profile(link.profileId).catch(() => undefined) : undefined;
      if (!profile) {
        this.#wanted = false;
        this.#lost('off', 'Choose or import the register map of this drive first.');
        return;
      }
      try {
        if (this.#link !== 'lost') this.#link = 'connecting';
        this.#publishAll();
        this.#client = await ModbusClient.connect(link, () => this.#client?.close());
        this.#drive = new DriveLink(this.#client, profile);
        await this.#arrive();
        const pulse = setInterval(() => void this.#pulse(), heartbeatTime);
        try {
          while (this.#wanted && this.#client.open) {
            await this.#tick();
            await pause(tickTime);
          }
        } finally {
          clearInterval(pulse);
        }
        if (this.#wanted) this.#lostOrSilent('the connection was closed');
      } catch (error) {
        this.#client?.close();
        if (this.#wanted) this.#lostOrSilent(reasonOf(error));
      }
      await pause(500);
    }
  }

  /** First things after connecting: the watchdog, and what an earlier session left changed. */
  async #arrive(): Promise<void> {
    const drive = this.#drive;
    if (!drive) return;
    const watchdog = parameterOfRole(drive.profile, 'watchdogTime');
    this.#watchdog = watchdog ? fromRaw(watchdog, await drive.readParameter(watchdog.key)) : undefined;
    this.#link = 'up';
    this.#message = '';
    this.#temporary = await this.#store.temporarySettings(this.axisId).catch(() => this.#temporary);
    const { statusword } = await drive.read('statusword');
    if (this.#temporary.length > 0 && deviceState(statusword) !== 'operation enabled') await this.#restore();
    this.#reading = await drive.readParameters();
    this.#readAt = new Date().toISOString();
    this.#publishAll();
  }

  #lostOrSilent(reason: string): void {
    const { host, port } = this.#needAxis().document.link;
    const never = this.#link === 'connecting';
    this.#lost(
      'lost',
      never
        ? `No answer from ${host}:${port} (${reason}). Trying again …`
        : `The link to the drive is lost (${reason}). Its own watchdog stops the axis. Trying again …`,
    );
  }

  #lost(link: LiveState['link'], message: string): void {
    this.#link = link;
    this.#message = message;
    this.#status = undefined;
    this.#abortActivity(new Error('link lost'));
    this.#publishAll();
  }

  #ticks = 0;
  async #tick(): Promise<void> {
    const drive = this.#drive;
    if (!drive) return;
    if (this.#activity !== 'restarting') {
      try {
        this.#status = await drive.read(...statusKeys);
      } catch (error) {
        if (!isException(error)) throw error;
        return;
      }
      await this.#watchHolder(this.#status);
      await this.#capture?.drain(this.#status.traceHead, this.#status.traceTrigger);
      for (const waiter of this.#waiters.splice(0)) waiter.resolve(this.#status);
    }
    if (++this.#ticks % 2 === 0) this.#publishLive();
  }

  get #aliveTime(): number {
    return this.#activity === 'jogging' ? aliveTime.jogging : aliveTime.otherwise;
  }

  get #isHeld(): boolean {
    return this.#holder !== undefined && Date.now() - this.#aliveAt < this.#aliveTime;
  }

  #pulsing = false;
  /** Passes the window's sign of life on to the drive, ahead of all that waits in the queue. */
  async #pulse(): Promise<void> {
    const enabled = this.#status && deviceState(this.#status.statusword) === 'operation enabled';
    if (!enabled || this.#pulsing || !this.#isHeld) return;
    this.#pulsing = true;
    // A link that fails is noticed by the next look at the drive.
    await this.#drive?.write('heartbeat', 1, true).catch(() => undefined);
    this.#pulsing = false;
  }

  /** Stops an axis that nobody holds any more. */
  async #watchHolder(status: Status): Promise<void> {
    if (deviceState(status.statusword) !== 'operation enabled') return;
    if (this.#isHeld) return;
    this.#message = 'Stopped: the window that held the axis gave no sign of life.';
    await this.stop();
  }

  /** The next status of the drive, or a rejection when the link is lost or the activity is stopped. */
  #nextStatus(signal: AbortSignal): Promise<Status> {
    signal.throwIfAborted();
    return new Promise<Status>((resolve, reject) => this.#waiters.push({ resolve, reject }));
  }

  async #until(signal: AbortSignal, seconds: number, what: string, done: (status: Status) => boolean): Promise<Status> {
    const end = Date.now() + seconds * 1000;
    for (;;) {
      const status = await this.#nextStatus(signal);
      const state = deviceState(status.statusword);
      if (state === 'fault' || state === 'fault reaction active')
        throw new Error(faults[status.errorCode] ?? 'The drive has a fault.');
      if (state !== 'operation enabled') throw new Error('stopped');
      if (done(status)) return status;
      if (Date.now() > end) throw new Error(`${what} did not end within ${seconds.toFixed(0)} s.`);
    }
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

  async #enable(): Promise<void> {
    const drive = this.#need();
    const scaling = this.#needScaling();
    const { document } = this.#needAxis();
    if (!this.#watchdog) {
      throw new Refusal(
        'The drive’s watchdog is off, so nobody would stop the axis when the link fails. Set its time first.',
      );
    }
    this.#message = '';
    await this.#exclusive('idle', async (signal) => {
      await this.#setTemporary('commandSource', 1);
      const braking = 2 * (document.testMove.acceleration ?? document.homing.acceleration ?? 1000);
      await drive.write('quickStopDeceleration', this.#increments(braking, scaling));
      await drive.write('modeOfOperation', operationMode.profileVelocity);
      await drive.write('targetVelocity', 0);
      for (let k = 0; k < 8; k++) {
        const { statusword } = await drive.read('statusword');
        const state = deviceState(statusword);
        if (state === 'fault') throw new Refusal('The drive has a fault. Look at its cause, then reset it.');
        const next = state && nextTowardsEnabled(state);
        if (next === undefined) return;
        signal.throwIfAborted();
        await drive.write('heartbeat', 1);
        await drive.write('controlword', next);
      }
      throw new Refusal('The drive did not enable. Is its enable input on, and its active level right?');
    });
  }

  #increments = (perUnit: number, scaling: AxisScaling): number =>
    Math.max(1, Math.round(perUnit * Math.abs(scaling.incrementsPerUnit)));

  #enabled(): DriveLink {
    const drive = this.#need();
    if (!this.#status || deviceState(this.#status.statusword) !== 'operation enabled')
      throw new Refusal('Enable the drive first.');
    return drive;
  }

  /** @param speed axis units/s, signed; 0 ends the jog */
  async #jog(speed: number): Promise<void> {
    const drive = this.#enabled();
    const scaling = this.#needScaling();
    if (this.#activity !== 'idle' && this.#activity !== 'jogging')
      throw new Refusal(`The axis is busy: ${this.#activity}.`);
    const { document } = this.#needAxis();
    const acceleration = this.#increments(
      document.homing.acceleration ?? document.testMove.acceleration ?? 500,
      scaling,
    );
    if (this.#activity === 'idle') {
      this.#activity = 'jogging';
      if (this.#status?.modeDisplay !== operationMode.profileVelocity)
        await drive.write('modeOfOperation', operationMode.profileVelocity);
      await drive.write('profileAcceleration', acceleration);
      await drive.write('profileDeceleration', 2 * acceleration);
    }
    await drive.write('targetVelocity', Math.round(speed * scaling.incrementsPerUnit));
  }

  /** The key is up. */
  async #endJog(clientId: string): Promise<void> {
    if (this.#activity !== 'jogging' || clientId !== this.#holder) return;
    this.#activity = 'idle';
    await this.#drive?.write('targetVelocity', 0, true);
  }

  /** Records an activity and keeps the record however it ends. */
  async #run(kind: RunKind, periodSteps: number, work: (signal: AbortSignal) => Promise<void>): Promise<void> {
    const drive = this.#enabled();
    const scaling = this.#needScaling();
    const axis = this.#needAxis();
    const startedAt = new Date();
    let [end, because]: [RunEnd, string] = ['finished', ''];
    await this.#exclusive(kind, async (signal) => {
      try {
        if (kind === 'test move') await this.#goToStart(signal);
        this.#capture = await TraceCapture.start(drive, periodSteps);
        await work(signal);
        await pause(150);
        await drive.write('traceRun', 0);
        let status = await this.#nextStatus(signal);
        while (this.#capture.isBehind(status.traceHead)) status = await this.#nextStatus(signal);
      } catch (error) {
        because = reasonOf(error);
        end =
          because === 'stopped' ? 'stopped' : because === 'link lost' || this.#link !== 'up' ? 'link lost' : 'fault';
      }
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
      axisVersion: axis.version,
      axisDocument: axis.document,
      trace: capture.finish(scaling),
    });
  }

  /** Without a database the run is kept here and offered again, for ten minutes. */
  async #keepRun(run: Parameters<Store['addRun']>[0]): Promise<void> {
    for (let attempt = 0; ; attempt++) {
      try {
        this.#publish({ type: 'runSaved', run: await this.#store.addRun(run) });
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

  async #home(signal: AbortSignal): Promise<void> {
    const drive = this.#enabled();
    this.#progress = 'Homing';
    await drive.write('modeOfOperation', operationMode.homing);
    await drive.write('controlword', controlword.enableOperation);
    await drive.write('controlword', controlword.enableOperation | controlBit.startHoming);
    const ended = statusBit.acknowledged | statusBit.targetReached;
    // The first status may still be of the time before the start.
    await this.#nextStatus(signal);
    const status = await this.#until(
      signal,
      120,
      'Homing',
      ({ statusword }) => (statusword & ended) === ended || (statusword & statusBit.homingError) !== 0,
    );
    if (status.statusword & statusBit.homingError) throw new Error(faults[status.errorCode] ?? 'Homing failed.');
  }

  #testMoveFields() {
    const { testMove, settings } = this.#needAxis().document;
    const { from, distance, speed, acceleration, jerk, dwell, repeats } = testMove;
    if (
      from === null ||
      distance === null ||
      speed === null ||
      acceleration === null ||
      dwell === null ||
      repeats === null
    ) {
      throw new Refusal('The test move is not filled in.');
    }
    if (this.#status?.homed !== 1) throw new Refusal('Home the axis first: a test move is between two positions.');
    const { minusSoftLimit, plusSoftLimit } = settings;
    if (
      (minusSoftLimit !== null && from < minusSoftLimit) ||
      (plusSoftLimit !== null && from + distance > plusSoftLimit)
    ) {
      throw new Refusal('The test move leaves the soft limits.');
    }
    return { from, distance, speed, acceleration, jerk, dwell, repeats };
  }

  async #prepareMove(speed: number, acceleration: number, jerk: number | null): Promise<void> {
    const drive = this.#enabled();
    const scaling = this.#needScaling();
    await drive.write('modeOfOperation', operationMode.profilePosition);
    await drive.write('profileVelocity', this.#increments(speed, scaling));
    await drive.write('profileAcceleration', this.#increments(acceleration, scaling));
    await drive.write('profileDeceleration', this.#increments(acceleration, scaling));
    await drive.write('profileJerk', jerk === null ? 0 : this.#increments(jerk, scaling));
  }

  async #goToStart(signal: AbortSignal): Promise<void> {
    const { from, speed, acceleration, jerk } = this.#testMoveFields();
    this.#progress = 'Going to the start';
    await this.#prepareMove(Math.min(speed, this.#needAxis().document.jogSpeed ?? speed), acceleration, jerk);
    await this.#moveTo(from, signal, 600);
  }

  async #testMove(signal: AbortSignal): Promise<void> {
    const { from, distance, speed, acceleration, jerk, dwell, repeats } = this.#testMoveFields();
    await this.#prepareMove(speed, acceleration, jerk);
    for (let k = 0; k < 2 * repeats; k++) {
      this.#progress = `Move ${k + 1} of ${2 * repeats}`;
      await this.#moveTo(k % 2 === 0 ? from + distance : from, signal, 60 + distance / speed);
      await pause(dwell * 1000);
    }
  }

  async #moveTo(position: number, signal: AbortSignal, seconds: number): Promise<void> {
    const drive = this.#enabled();
    signal.throwIfAborted();
    await drive.write('targetPosition', Math.round(position * this.#needScaling().incrementsPerUnit));
    await drive.write('controlword', controlword.enableOperation);
    await drive.write('controlword', controlword.enableOperation | controlBit.newSetPoint);
    const { statusword } = await drive.read('statusword');
    if ((statusword & statusBit.acknowledged) === 0)
      throw new Error('The drive did not accept the target. Is it outside the soft limits?');
    await this.#nextStatus(signal);
    await this.#until(signal, seconds, 'A move', (status) => (status.statusword & statusBit.targetReached) !== 0);
  }

  async #setTemporary(role: 'commandSource', raw: number): Promise<void> {
    const drive = this.#need();
    const parameter = parameterOfRole(drive.profile, role);
    if (!parameter) return;
    const original = await drive.readParameter(parameter.key);
    if (original === raw) return;
    await this.#store.rememberTemporary(this.axisId, {
      key: parameter.key,
      label: parameter.label,
      original,
      temporary: raw,
    });
    await drive.writeParameter(parameter.key, raw);
    this.#temporary = await this.#store.temporarySettings(this.axisId);
  }

  /** Puts every temporary setting back; the motor must be off. */
  async #restore(): Promise<void> {
    const drive = this.#need();
    for (const setting of this.#temporary) {
      await drive.write('controlword', controlword.disableVoltage);
      await this.#whenOff(drive);
      await drive.writeParameter(setting.key, setting.original);
      await this.#store.forgetTemporary(this.axisId, setting.key);
    }
    this.#temporary = await this.#store.temporarySettings(this.axisId);
    this.#publishAll();
  }

  async #whenOff(drive: DriveLink): Promise<void> {
    for (let k = 0; k < 100; k++) {
      const state = deviceState((await drive.read('statusword')).statusword);
      if (state !== 'operation enabled' && state !== 'quick stop active') return;
      await pause(20);
    }
    throw new Refusal('The drive does not switch off.');
  }

  async #writeDrive(): Promise<void> {
    if (this.#status && deviceState(this.#status.statusword) === 'operation enabled') {
      throw new Refusal('Disable the drive first: values are written with the motor off.');
    }
    await this.#exclusive('writing drive data', async () => {
      // A temporary value must not be stored as if it were planned.
      await this.#restore();
      await this.#procedureEvent({ type: 'confirm' });
    });
  }

  /** Feeds the procedure and carries out what it commands, until it waits for the user. */
  async #procedureEvent(first: WriteAndVerifyEvent): Promise<void> {
    const drive = this.#need();
    let event: WriteAndVerifyEvent | undefined = first;
    this.#procedure ??= writeAndVerify(drive.profile);
    while (event) {
      const { state, commands }: ReturnType<typeof stepWriteAndVerify> = stepWriteAndVerify(this.#procedure, event);
      this.#procedure = state;
      this.#publishDriveData();
      const [command] = commands;
      event = command && (await this.#carryOut(command, drive));
    }
  }

  async #carryOut(command: WriteAndVerifyCommand, drive: DriveLink): Promise<WriteAndVerifyEvent> {
    try {
      switch (command.type) {
        case 'read': {
          this.#reading = await drive.readParameters();
          this.#readAt = new Date().toISOString();
          return { type: 'read', reading: this.#reading };
        }
        case 'write':
          await drive.writeParameter(command.key, command.raw);
          return { type: 'written', key: command.key };
        case 'store':
          await drive.write('store', saveSignature);
          return { type: 'stored' };
        case 'restart':
          await this.#restartDrive(drive);
          return { type: 'restarted' };
      }
    } catch (error) {
      return { type: 'failed', because: reasonOf(error) };
    }
  }

  async #restartDrive(drive: DriveLink): Promise<void> {
    await drive.write('controlword', controlword.disableVoltage);
    this.#activity = 'restarting';
    this.#publishAll();
    await drive.write('restart', 1);
    for (const end = Date.now() + 10000; Date.now() < end;) {
      await pause(200);
      try {
        await drive.read('statusword');
        this.#activity = 'writing drive data';
        return;
      } catch (error) {
        if (!isException(error) && this.#link !== 'up') throw error;
      }
    }
    throw new Error('the drive did not come back within 10 s of the restart');
  }

  #publishLive(): void {
    this.#publish({ type: 'live', live: this.live('') });
  }

  #publishDriveData(): void {
    this.#publish({ type: 'driveData', driveData: this.driveData() });
  }

  #publishAll(): void {
    this.#publishLive();
    this.#publishDriveData();
  }

  async close(): Promise<void> {
    await this.#disconnect();
  }
}
