import {
  isAxis,
  plannedValues,
  type AxisDocument,
  type ClientMessage,
  type LiveState,
  type MemberDocument,
  type ServerMessage,
} from '@kavrid/contract';
import type { PlannedValues } from '@kavrid/core/drive';
import type { Store } from '../database/store.ts';
import { axisScaling, type AxisScaling } from './axisScaling.ts';
import { enableDrive, goToStart, homeAxis, makeTestMove, prepareJog, type MotionOrder } from './driveMotion.ts';
import { DriveSession } from './driveSession.ts';
import { statusKeys, type ServoKey } from './driveStatus.ts';
import { axisTrace } from './recordedTraces.ts';
import { Refusal } from './refusal.ts';

/** The server's side of one axis being commissioned. */
export class AxisSession extends DriveSession<ServoKey> {
  #document: AxisDocument | undefined;
  #scaling: AxisScaling | undefined;

  constructor(store: Store, axisId: string, publish: (message: ServerMessage) => void) {
    super({ store, axisId, publish, statusKeys, watchdogRole: 'watchdogTime' });
  }

  protected take(document: MemberDocument): void {
    if (!isAxis(document)) throw new Refusal('This is a spindle, not an axis.');
    this.#document = document;
    const scaling = axisScaling(document);
    this.#scaling = 'because' in scaling ? undefined : scaling;
  }

  live(clientId: string): LiveState {
    const { status } = this.link;
    const units = this.#scaling?.unitsPerCount;
    const scaled = (counts: number | undefined) =>
      counts === undefined || units === undefined ? undefined : counts * units;
    return {
      ...this.linkLive(clientId),
      kind: 'axis',
      position: scaled(status?.positionCounts),
      speed: scaled(status?.velocityCounts),
      followingError: scaled(status?.followingErrorCounts),
      torque: status && status.torque * 0.1 * (this.#scaling?.sign ?? 1),
      minusLimit: Boolean(status && status.inputs & 1),
      plusLimit: Boolean(status && status.inputs & 2),
      homed: status?.homed === 1,
    };
  }

  protected planned(): PlannedValues {
    const profile = this.link.known?.profile;
    return this.#document && this.#scaling && profile
      ? plannedValues(this.#document, this.#scaling.results, profile)
      : {};
  }

  protected async act(message: ClientMessage): Promise<void> {
    switch (message.type) {
      case 'enable':
        return this.#enable();
      case 'jog':
        return this.#jog(message.direction * message.speed);
      case 'home':
        return this.#run('homing', 32, homeAxis);
      case 'testMove':
        return this.#run('test move', 8, makeTestMove, goToStart);
      default:
        throw new Refusal('An axis cannot do that.');
    }
  }

  #need(): { readonly document: AxisDocument; readonly scaling: AxisScaling } {
    if (!this.#document) throw new Refusal('The axis has not been read yet.');
    if (!this.#scaling) throw new Refusal('The scaling of this axis is not known yet. Complete its chain first.');
    return { document: this.#document, scaling: this.#scaling };
  }

  #order(signal: AbortSignal): MotionOrder {
    const { document, scaling } = this.#need();
    const tell = (progress: string) => {
      this.progress = progress;
    };
    return { link: this.link, document, scaling, signal, tell };
  }

  async #enable(): Promise<void> {
    this.link.need();
    if (!this.watchdog) {
      throw new Refusal(
        'The drive’s watchdog is off, so nobody would stop the axis when the link fails. Set its time first.',
      );
    }
    this.link.message = '';
    await this.exclusive('idle', async (signal) => {
      const order = this.#order(signal);
      await this.data.setTemporary('commandSource', 1);
      await enableDrive(order);
    });
  }

  /** @param speed axis units/s, signed; 0 ends the jog */
  async #jog(speed: number): Promise<void> {
    const drive = this.link.needEnabled();
    const { document, scaling } = this.#need();
    if (this.activity !== 'idle' && this.activity !== 'jogging')
      throw new Refusal(`The axis is busy: ${this.activity}.`);
    if (this.activity === 'idle') {
      this.activity = 'jogging';
      await prepareJog({ link: this.link, document, scaling });
    }
    await drive.write('targetVelocity', Math.round(speed * scaling.incrementsPerUnit));
  }

  protected override async endJog(): Promise<void> {
    if (this.activity !== 'jogging') return;
    this.activity = 'idle';
    await this.link.known?.write('targetVelocity', 0, true);
  }

  async #run(
    kind: 'homing' | 'test move',
    periodSteps: number,
    work: (order: MotionOrder) => Promise<void>,
    before?: (order: MotionOrder) => Promise<void>,
  ): Promise<void> {
    this.link.needEnabled();
    const { scaling } = this.#need();
    await this.record({
      kind,
      periodSteps,
      ...(before ? { before: (signal: AbortSignal) => before(this.#order(signal)) } : {}),
      work: (signal) => work(this.#order(signal)),
      traceOf: (recorded) => axisTrace(recorded, scaling),
    });
  }
}
