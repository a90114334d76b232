import {
  plannedSpindleValues,
  readSpindle,
  type ClientMessage,
  type MemberDocument,
  type ServerMessage,
  type SpindleDocument,
  type SpindleLive,
} from '@kavrid/contract';
import {
  controlword,
  deviceState,
  fromRaw,
  nextTowardsEnabled,
  operationMode,
  parameterOfRole,
  statusBit,
  type PlannedValues,
} from '@kavrid/core/drive';
import { runTestEvents, type SpindleEvent } from '@kavrid/core/plant';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';
import { evaluateSpindle, type SpindleInput, type SpindleValues } from '@kavrid/core/spindle';
import type { Store } from '../database/store.ts';
import { DriveSession } from './driveSession.ts';
import { faultText, spindleKeys, type SpindleKey } from './driveStatus.ts';
import { spindleTrace } from './recordedTraces.ts';
import { Refusal } from './refusal.ts';

/** Bit of the controlword that turns the output the other way round. */
const reverseBit = 0x0800;
/** rpm of the motor that count as standing still */
const standing = 20;
/** What the register of the trigger says before there is one. */
const notYet = 0xffffffff;
/** Steps of 0.5 ms between two samples. */
const traceSteps = 40;

/** The server's side of one spindle being commissioned. */
export class SpindleSession extends DriveSession<SpindleKey> {
  #document: SpindleDocument | undefined;
  #input: SpindleInput | undefined;
  #results: Evaluation<SpindleValues> | undefined;
  #isReverse = false;

  constructor(store: Store, axisId: string, publish: (message: ServerMessage) => void) {
    super({ store, axisId, publish, statusKeys: spindleKeys, watchdogRole: 'busTimeOut' });
  }

  protected take(document: MemberDocument): void {
    if (document.kind !== 'spindle') throw new Refusal('This is an axis, not a spindle.');
    this.#document = document;
    this.#input = readSpindle(document).input;
    this.#results = evaluateSpindle(this.#input);
  }

  live(clientId: string): SpindleLive {
    const { status } = this.link;
    const ratio = this.#results && valueOf(this.#results.ratioNumber);
    const motorSpeed = status && this.#scaled('actualMotorSpeed', status.actualMotorSpeed);
    return {
      ...this.linkLive(clientId),
      kind: 'spindle',
      hertz: status && this.#scaled('outputHertz', status.outputHertz),
      motorSpeed,
      toolSpeed: motorSpeed === undefined || ratio === undefined ? undefined : motorSpeed / ratio,
      current: status && this.#scaled('motorCurrent', status.motorCurrent),
      torque: status && this.#scaled('motorTorque', status.motorTorque),
      busVolts: status && this.#scaled('busVolts', status.busVolts),
      atSpeed: Boolean(status && status.statusword & statusBit.targetReached),
    };
  }

  #scaled(key: SpindleKey, raw: number): number {
    return raw * (this.link.known?.profile.registers[key]?.scale ?? 1);
  }

  protected planned(): PlannedValues {
    const profile = this.link.known?.profile;
    return this.#document && this.#input && this.#results && profile
      ? plannedSpindleValues(this.#document, this.#input, this.#results, profile)
      : {};
  }

  protected async act(message: ClientMessage): Promise<void> {
    switch (message.type) {
      case 'runSpindle':
        return this.#runAt(message.speed, message.reverse);
      case 'stopSpindle':
        return this.#stopOnRamp();
      case 'runTest':
        return this.#runTest();
      default:
        throw new Refusal('A spindle cannot do that.');
    }
  }

  #need() {
    if (!this.#input || !this.#results) throw new Refusal('The spindle has not been read yet.');
    return { input: this.#input, results: this.#results };
  }

  /** Hz for a speed of the tool, within what bounds it. */
  #hertzFor(toolSpeed: number): number {
    const { results } = this.#need();
    const perRpm = valueOf(results.hertzPerToolRpm);
    const range = valueOf(results.range);
    if (!perRpm || !range) throw new Refusal('The scaling of this spindle is not known yet. Complete its chain first.');
    if (toolSpeed > range.highest * 1.0005)
      throw new Refusal(
        `${toolSpeed} rpm is above the ${Math.round(range.highest)} rpm that ${range.highestBy.join(' and ')} allow.`,
      );
    return toolSpeed * toNumber(perRpm);
  }

  /** Refuses a run that nobody would end: the drive has to watch its link, and to stop when it is lost. */
  async #checkWatch(): Promise<void> {
    const drive = this.link.need();
    const parameter = parameterOfRole(drive.profile, 'busTimeOut');
    this.watchdog = parameter && fromRaw(parameter, await drive.readParameter(parameter.key));
    const action = parameterOfRole(drive.profile, 'lostLink');
    const choice = action && action.choices[String(await drive.readParameter(action.key))];
    if (!this.watchdog)
      throw new Refusal(
        'The drive does not watch its link, so nobody would stop the spindle when it fails. Set its time-out first.',
      );
    if (choice?.startsWith('goes on'))
      throw new Refusal('The drive would go on without its link. Let it ramp to rest or coast, and try again.');
  }

  async #setSpeed(hertz: number): Promise<void> {
    const drive = this.link.need();
    const register = drive.profile.registers.speedReference;
    if (!register) throw new Refusal('The register map has no speed reference.');
    const raw = Math.round(hertz / register.scale);
    if (raw > 0xffff) throw new Refusal(`${raw} does not fit the 16 bits of the speed reference.`);
    await drive.write('speedReference', raw, hertz === 0);
  }

  /** Through the states of CiA 402 to operation enabled. A drive that is switched on while its motor turns would trip. */
  async #enable(signal: AbortSignal): Promise<void> {
    const drive = this.link.need();
    const {
      actualMotorSpeed,
      outputHertz,
      statusword: now,
    } = await drive.read('actualMotorSpeed', 'outputHertz', 'statusword');
    const rpm = Math.abs(this.#scaled('actualMotorSpeed', actualMotorSpeed));
    const isFree = outputHertz === 0 || deviceState(now) === 'quick stop active';
    if (isFree && rpm > standing && deviceState(now) !== 'operation enabled')
      throw new Refusal(
        `The motor still turns with ${Math.round(rpm)} rpm. Wait until it stands: switched on now, the drive would trip.`,
      );
    await drive.write('modeOfOperation', operationMode.velocity);
    for (let k = 0; k < 8; k++) {
      const { statusword } = await drive.read('statusword');
      const state = deviceState(statusword);
      if (state === 'fault') throw new Refusal('The drive has tripped. Look at its cause, then reset it.');
      const next = state && nextTowardsEnabled(state);
      signal.throwIfAborted();
      if (next === undefined) return;
      await drive.write('controlword', next | (this.#isReverse ? reverseBit : 0));
    }
    throw new Refusal(
      'The drive did not start. Is its enable terminal wired, and does it take its run command from the field bus?',
    );
  }

  async #runAt(toolSpeed: number, reverse: boolean): Promise<void> {
    const hertz = this.#hertzFor(toolSpeed);
    await this.#checkWatch();
    await this.exclusive('idle', async (signal) => {
      const turns = reverse !== this.#isReverse;
      this.#isReverse = reverse;
      await this.#setSpeed(hertz);
      await this.#enable(signal);
      if (turns) await this.link.need().write('controlword', controlword.enableOperation | (reverse ? reverseBit : 0));
    });
  }

  async #stopOnRamp(): Promise<void> {
    await this.link.need().write('controlword', controlword.switchOn, true);
    await this.#setSpeed(0);
  }

  /** Does what the run test says, as far as the drive can be told; what it recorded is kept. */
  async #runTest(): Promise<void> {
    const { input, results } = this.#need();
    const test = runTestEvents(input, results);
    if (test.state === 'unknown') throw new Refusal(`The run test cannot be made, because ${test.because}.`);
    if (input.runTest.supplyCut)
      throw new Refusal(
        'A supply is cut in the prediction only. Take the cut out of the run test to make it at the drive.',
      );
    for (const { toolSpeed } of valueOf(input.runTest.speeds) ?? []) this.#hertzFor(toolSpeed);
    await this.#checkWatch();
    this.#isReverse = false;
    const { events, duration } = test.value;
    await this.record({
      kind: 'run test',
      periodSteps: traceSteps,
      before: async (signal) => {
        await this.#setSpeed(0);
        await this.#setLoad(0);
        await this.#enable(signal);
      },
      work: (signal) => this.#play(events, duration, signal),
      traceOf: spindleTrace,
    });
  }

  async #play(events: readonly SpindleEvent[], duration: number, signal: AbortSignal): Promise<void> {
    const period = traceSteps * (this.link.need().profile.registers.tracePeriod?.scale ?? 0.0005);
    try {
      let [next, now] = [0, 0];
      while (now < duration) {
        const status = await this.link.nextStatus(signal);
        // The drive's own clock, from the sample at which it was first told to run.
        now = status.traceTrigger === notYet ? 0 : (status.traceHead - status.traceTrigger) * period;
        if (deviceState(status.statusword) === 'fault') throw new Error(faultText(status) ?? 'The drive has tripped.');
        this.progress = `Run test, ${Math.floor(now)} of ${Math.round(duration)} s`;
        for (let event = events[next]; event && event.at <= now; event = events[++next]) await this.#carryOut(event);
      }
    } finally {
      if (this.link.state === 'up') {
        await this.#setLoad(0);
        await this.link.need().write('controlword', controlword.switchOn, true);
      }
    }
  }

  async #carryOut(event: SpindleEvent): Promise<void> {
    switch (event.kind) {
      case 'speed':
        if (event.hertz === 0) return this.link.need().write('controlword', controlword.switchOn, true);
        return this.#setSpeed(event.hertz);
      case 'load':
        return this.#setLoad(event.torque);
      case 'coast':
        return this.link.need().write('controlword', controlword.disableVoltage, true);
      case 'supply':
        // Refused before the test begins.
        return;
    }
  }

  /** Only the bench can load its spindle; at a real one the load is brought on by hand. */
  async #setLoad(torque: number): Promise<void> {
    const drive = this.link.need();
    const register = drive.profile.registers.benchLoad;
    if (register) await drive.write('benchLoad', Math.round(torque / register.scale));
  }
}
