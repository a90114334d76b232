import type { AxisDocument, LinkLive } from '@kavrid/contract';
import { deviceState, type DriveProfile } from '@kavrid/core/drive';
import { setTimeout as pause } from 'node:timers/promises';
import { DriveLink } from '../link/driveLink.ts';
import { isException, ModbusClient } from '../link/modbusClient.ts';
import { reasonOf } from '../reasonOf.ts';
import { faultText, type StatusOf } from './driveStatus.ts';
import { Refusal } from './refusal.ts';

/** ms between two looks at the drive; live state goes out at every second one. */
const tickTime = 25;
/** ms between two heartbeats to the drive, whose watchdog usually waits 200. */
const heartbeatTime = 40;

/** What the link needs from the one who keeps it, and tells them. */
export interface LinkOwner<K extends string> {
  /** Registers read at every look. */
  readonly statusKeys: readonly K[];
  /** Where the drive is and how it is read; asked anew at every attempt. */
  target(): Promise<{ readonly link: AxisDocument['link']; readonly profile: DriveProfile | undefined }>;
  /** The connection stands. What is done here is done before the first look. */
  arrived(drive: DriveLink): Promise<void>;
  looked(status: StatusOf<K>): Promise<void>;
  /** Whether a window is there to hold the axis alive. */
  isHeld(): boolean;
  lost(): void;
  changed(): void;
  /** 20 times a second while the link is up. */
  live(): void;
}

/** Keeps the link to one drive: connects, looks at it again and again, passes heartbeats on, reconnects when it is lost. */
export class LinkKeeper<K extends string> {
  readonly #owner: LinkOwner<K>;
  #wanted = false;
  #client: ModbusClient | undefined;
  #drive: DriveLink | undefined;
  #waiters: { readonly resolve: (status: StatusOf<K>) => void; readonly reject: (error: Error) => void }[] = [];
  #pulsing = false;
  state: LinkLive['link'] = 'off';
  message = '';
  status: StatusOf<K> | undefined;
  /** Set while the drive restarts and answers nothing. */
  isPaused = false;

  constructor(owner: LinkOwner<K>) {
    this.#owner = owner;
  }

  /** The drive as last connected, for what is known of it; undefined before the first connection. */
  get known(): DriveLink | undefined {
    return this.#drive;
  }

  get isEnabled(): boolean {
    return this.status !== undefined && deviceState(this.status.statusword) === 'operation enabled';
  }

  need(): DriveLink {
    if (!this.#drive || this.state !== 'up') throw new Refusal('There is no link to the drive. Connect first.');
    return this.#drive;
  }

  needEnabled(): DriveLink {
    const drive = this.need();
    if (!this.isEnabled) throw new Refusal('Enable the drive first.');
    return drive;
  }

  open(): void {
    if (this.#wanted) return;
    this.#wanted = true;
    void this.#keepConnected();
  }

  close(): void {
    this.#wanted = false;
    this.#client?.close();
    this.#lost('off', '');
  }

  /** Ends every wait for the drive's next status. */
  rejectWaits(error: Error): void {
    for (const waiter of this.#waiters.splice(0)) waiter.reject(error);
  }

  /** The next status of the drive, or a rejection when the link is lost or the activity is stopped. */
  nextStatus(signal: AbortSignal): Promise<StatusOf<K>> {
    signal.throwIfAborted();
    return new Promise((resolve, reject) => this.#waiters.push({ resolve, reject }));
  }

  /** Waits until something is so; fails when the axis is no longer enabled, has a fault, or after some seconds. */
  async until(signal: AbortSignal, seconds: number, what: string, done: (status: StatusOf<K>) => boolean) {
    const end = Date.now() + seconds * 1000;
    for (;;) {
      const status = await this.nextStatus(signal);
      const state = deviceState(status.statusword);
      if (state === 'fault' || state === 'fault reaction active')
        throw new Error(faultText(status) ?? 'The drive has a fault.');
      if (state !== 'operation enabled') throw new Error('stopped');
      if (done(status)) return status;
      if (Date.now() > end) throw new Error(`${what} did not end within ${seconds.toFixed(0)} s.`);
    }
  }

  async #keepConnected(): Promise<void> {
    while (this.#wanted) {
      const { link, profile } = await this.#owner.target();
      const never = this.state !== 'lost';
      if (!profile) {
        this.#wanted = false;
        this.#lost('off', 'Choose or import the register map of this drive first.');
        return;
      }
      const silent = (reason: string) =>
        this.#lost(
          'lost',
          never && this.state !== 'up'
            ? `No answer from ${link.host}:${link.port} (${reason}). Trying again …`
            : `The link to the drive is lost (${reason}). Its own watchdog stops the axis. Trying again …`,
        );
      try {
        if (never) this.state = 'connecting';
        this.#owner.changed();
        const client = await ModbusClient.connect(link, () => client.close());
        this.#client = client;
        const drive = new DriveLink(client, profile);
        this.#drive = drive;
        this.state = 'up';
        this.message = '';
        await this.#owner.arrived(drive);
        const pulse = setInterval(() => void this.#pulse(), heartbeatTime);
        try {
          for (let tick = 0; this.#wanted && client.open; tick++) {
            await this.#look(drive);
            if (tick % 2 === 0) this.#owner.live();
            await pause(tickTime);
          }
        } finally {
          clearInterval(pulse);
        }
        if (this.#wanted) silent('the connection was closed');
      } catch (error) {
        this.#client?.close();
        if (this.#wanted) silent(reasonOf(error));
      }
      await pause(500);
    }
  }

  async #look(drive: DriveLink): Promise<void> {
    if (this.isPaused) return;
    try {
      this.status = await drive.read<K | 'statusword' | 'errorCode'>(
        'statusword',
        'errorCode',
        ...this.#owner.statusKeys,
      );
    } catch (error) {
      if (!isException(error)) throw error;
      return;
    }
    const { status } = this;
    await this.#owner.looked(status);
    for (const waiter of this.#waiters.splice(0)) waiter.resolve(status);
  }

  /** Passes the window's sign of life on to the drive, ahead of all that waits in the queue. */
  async #pulse(): Promise<void> {
    // Some drives count every message as a sign of life.
    if (!this.#drive?.profile.registers.heartbeat) return;
    if (!this.isEnabled || this.#pulsing || !this.#owner.isHeld()) return;
    this.#pulsing = true;
    // A link that fails is noticed by the next look at the drive.
    await this.#drive.write('heartbeat', 1, true).catch(() => undefined);
    this.#pulsing = false;
  }

  #lost(state: LinkLive['link'], message: string): void {
    this.state = state;
    this.message = message;
    this.status = undefined;
    this.rejectWaits(new Error('link lost'));
    this.#owner.lost();
    this.#owner.changed();
  }
}
