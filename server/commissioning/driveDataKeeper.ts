import type { DriveData, LinkLive } from '@kavrid/contract';
import { compareValues, controlword, deviceState, parameterOfRole, type DriveReading } from '@kavrid/core/drive';
import {
  stepWriteAndVerify,
  writeAndVerify,
  type WriteAndVerifyCommand,
  type WriteAndVerifyEvent,
  type WriteAndVerifyState,
} from '@kavrid/core/procedure';
import { mayChange } from '@kavrid/core/signal';
import { setTimeout as pause } from 'node:timers/promises';
import type { Store } from '../database/store.ts';
import type { DriveLink } from '../link/driveLink.ts';
import { isException } from '../link/modbusClient.ts';
import { reasonOf } from '../reasonOf.ts';
import { Refusal } from './refusal.ts';

const saveSignature = 0x65766173;

/** The way to the drive, as far as its data need it. */
export interface DriveAccess {
  need(): DriveLink;
  readonly known: DriveLink | undefined;
  readonly state: LinkLive['link'];
  /** Set while the drive restarts and answers nothing. */
  isPaused: boolean;
}

/** What is in one drive: the last reading, the procedure that writes and proves, and the settings changed for a while. */
export class DriveDataKeeper {
  readonly #store: Store;
  readonly #axisId: string;
  readonly #link: DriveAccess;
  readonly #changed: () => void;
  #reading: DriveReading | undefined;
  #readAt: string | undefined;
  #procedure: WriteAndVerifyState | undefined;
  temporary: LinkLive['temporary'] = [];
  isRestarting = false;

  constructor(store: Store, axisId: string, link: DriveAccess, changed: () => void) {
    this.#store = store;
    this.#axisId = axisId;
    this.#link = link;
    this.#changed = changed;
  }

  data(planned: Readonly<Record<string, number>>): DriveData {
    const profile = this.#link.known?.profile;
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

  async read(drive: DriveLink): Promise<DriveReading> {
    this.#reading = await drive.readParameters();
    this.#readAt = new Date().toISOString();
    return this.#reading;
  }

  async refreshTemporary(): Promise<void> {
    this.temporary = await this.#store.temporarySettings.of(this.#axisId);
  }

  /** Remembers what a parameter was before it is changed for a while. */
  async setTemporary(role: 'commandSource', raw: number): Promise<void> {
    const drive = this.#link.need();
    const parameter = parameterOfRole(drive.profile, role);
    if (!parameter) return;
    const original = await drive.readParameter(parameter.key);
    if (original === raw) return;
    const { statusword } = await drive.read('statusword');
    const isEnabled = deviceState(statusword) === 'operation enabled';
    const verdict = mayChange('command source', { isEnabled, setPoint: undefined, isMoving: false });
    if (!verdict.may) throw new Refusal(`${parameter.label} cannot be changed now: ${verdict.because}.`);
    await this.#store.temporarySettings.remember(this.#axisId, {
      key: parameter.key,
      label: parameter.label,
      original,
      temporary: raw,
    });
    await drive.writeParameter(parameter.key, raw);
    await this.refreshTemporary();
  }

  /** Puts every temporary setting back; the motor must be off. */
  async restore(): Promise<void> {
    const drive = this.#link.need();
    for (const setting of this.temporary) {
      await drive.write('controlword', controlword.disableVoltage);
      await whenOff(drive);
      await drive.writeParameter(setting.key, setting.original);
      await this.#store.temporarySettings.forget(this.#axisId, setting.key);
    }
    await this.refreshTemporary();
    this.#changed();
  }

  /** Feeds the procedure and carries out what it commands, until it waits for the user. */
  async proceed(first: WriteAndVerifyEvent): Promise<void> {
    const drive = this.#link.need();
    let event: WriteAndVerifyEvent | undefined = first;
    this.#procedure ??= writeAndVerify(drive.profile);
    while (event) {
      const { state, commands }: ReturnType<typeof stepWriteAndVerify> = stepWriteAndVerify(this.#procedure, event);
      this.#procedure = state;
      this.#changed();
      const [command] = commands;
      event = command && (await this.#carryOut(command, drive));
    }
  }

  async #carryOut(command: WriteAndVerifyCommand, drive: DriveLink): Promise<WriteAndVerifyEvent> {
    try {
      switch (command.type) {
        case 'read':
          return { type: 'read', reading: await this.read(drive) };
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
    this.#setRestarting(true);
    try {
      await drive.write('restart', 1);
      for (const end = Date.now() + 10000; Date.now() < end;) {
        await pause(200);
        try {
          await drive.read('statusword');
          return;
        } catch (error) {
          if (!isException(error) && this.#link.state !== 'up') throw error;
        }
      }
      throw new Error('the drive did not come back within 10 s of the restart');
    } finally {
      this.#setRestarting(false);
    }
  }

  #setRestarting(is: boolean): void {
    this.isRestarting = is;
    this.#link.isPaused = is;
    this.#changed();
  }
}

async function whenOff(drive: DriveLink): Promise<void> {
  for (let k = 0; k < 100; k++) {
    const state = deviceState((await drive.read('statusword')).statusword);
    if (state !== 'operation enabled' && state !== 'quick stop active') return;
    await pause(20);
  }
  throw new Refusal('The drive does not switch off.');
}
