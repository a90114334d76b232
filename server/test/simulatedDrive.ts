import { readFileSync } from 'node:fs';
import {
  answerPdu,
  carriageWorld,
  grinderWorld,
  liftWorld,
  makeBrushless,
  makeServo,
  makeSpindle,
  makeStepper,
  mapPath,
  pumpWorld,
  type AxisWorld,
  type BrushlessDevice,
  type BrushlessWorld,
  type MakePlant,
  type RegisterCells,
  type ServoDevice,
  type SpindleWorld,
  type StepperDevice,
  type StepperWorld,
} from '@kavrid/bench';
import { memberPlan, readDriveProfile, type MemberDocument, type ServerMessage, type Trace } from '@kavrid/contract';
import { toRaw, type DriveProfile, type DriveSnapshot } from '@kavrid/core/drive';
import type { Evidence } from '@kavrid/core/evidence';
import { sessionTiming, type SessionMessage, type TemporarySetting } from '@kavrid/core/procedure';
import { vi } from 'vitest';
import type { DataService, RawRun } from '../port/dataService.ts';
import { recordedTrace } from '../runs/recordedTraces.ts';
import { Lines, type Connect } from '../port/lines.ts';
import { Mailbox } from '../port/mailbox.ts';
import { fullDuplex, tcpAnswerTime } from '../port/tcpTransport.ts';
import type { ModbusRequest, Transport } from '../port/transport.ts';

const profileOf = (path: string): DriveProfile => {
  const read = readDriveProfile(readFileSync(path, 'utf8'));
  if (read.kind === 'refused') throw new Error(read.problems.join(' '));
  return read.profile;
};
export const profiles = { axis: profileOf(mapPath('servo')), spindle: profileOf(mapPath('spindle')) };

/** What a member may be driven by, where it is not the servo or the spindle drive. */
export type OtherDevice =
  | { readonly kind: 'stepper'; readonly world?: Partial<StepperWorld> }
  | { readonly kind: 'brushless'; readonly world?: Partial<BrushlessWorld> };
const otherProfiles = { stepper: profileOf(mapPath('stepper')), brushless: profileOf(mapPath('brushless')) };
const made = (other: OtherDevice) =>
  other.kind === 'stepper'
    ? { stepper: makeStepper({ ...liftWorld, ...other.world }) }
    : { brushless: makeBrushless({ ...pumpWorld, ...other.world }) };

/** The devices of a simulated drive; which of them the line reaches is for the member to say. */
export interface SimulatedDevices {
  readonly servo: ServoDevice;
  readonly stepper?: StepperDevice | undefined;
  readonly brushless?: BrushlessDevice | undefined;
}

/** What a drive does with one request instead of answering it. */
export const misbehaviours = [
  'refuses 4',
  'refuses 6',
  'loses the request',
  'loses the answer',
  'answers late',
  'answers twice',
  'cuts',
] as const;
export type Misbehaviour = (typeof misbehaviours)[number];

export interface Sent {
  readonly at: number;
  readonly request: ModbusRequest;
  /** Its register, of what is written. */
  readonly key: string | undefined;
  readonly raw: number;
}

/**
 * A mailbox, its line and a bench drive in memory, on a fake clock: everything that leaves is recorded at the moment it does,
 * and the drive answers late, wrongly or not at all, as told.
 */
export function simulatedDrive(
  document: MemberDocument,
  options: {
    /** ms from a request to its answer; the drive acts half-way. */
    readonly delay?: number;
    readonly misbehave?: (sent: Sent, index: number) => Misbehaviour | undefined;
    readonly profile?: (profile: DriveProfile) => DriveProfile;
    readonly dataDelay?: number;
    /** The axis as it really is, and its plant. */
    readonly world?: AxisWorld;
    readonly makePlant?: MakePlant;
    /** What was set in it before it was delivered. */
    readonly setUp?: Readonly<Record<string, number>>;
    /** What stands beside the drive and has its own time. */
    readonly beside?: (devices: SimulatedDevices) => { advance(seconds: number): void };
    /** Another device than the servo and the spindle drive, and the spindle as it really is. */
    readonly device?: OtherDevice;
    readonly spindleWorld?: Partial<SpindleWorld>;
    /** Another line to the devices than the one in memory over TCP. */
    readonly line?: (devices: ReadonlyMap<number, RegisterCells>) => Connect;
  } = {},
) {
  const { delay = 0, misbehave = () => undefined, dataDelay = 1 } = options;
  const isAxis = document.kind === 'axis';
  const ownProfile = options.device ? otherProfiles[options.device.kind] : profiles[document.kind];
  const profile = (options.profile ?? ((each) => each))(ownProfile);
  const kept = options.setUp && { values: options.setUp, storeCount: 0 };
  const servo = makeServo(
    options.world ?? { ...carriageWorld, startCounts: 600000 },
    kept ? { kept } : {},
    options.makePlant,
  );
  const other: ReturnType<typeof made> | undefined = options.device && made(options.device);
  const { stepper, brushless } = { stepper: undefined, brushless: undefined, ...other };
  const beside = options.beside?.({ servo: servo.device, stepper: stepper?.device, brushless: brushless?.device });
  const vfd = makeSpindle({ ...grinderWorld, ...options.spindleWorld });
  const registers = stepper ?? brushless ?? (isAxis ? servo : vfd);
  const unit = document.link.unit;
  const devices = new Map([[unit, registers]]);
  let version = 1;
  let changed: MemberDocument = document;
  const record = () => ({ id: 'member', machineId: 'machine', version, updatedAt: '', document: changed });
  const plan = () => memberPlan(record(), { mark: 'map', profile });

  const sent: Sent[] = [];
  const steps: (() => void)[] = [];
  let transports = 0;
  let isReachable = true;
  let current: { drop: () => void } | undefined;
  /** Every moment at which something can be interleaved: before each sending and after each answer. */
  const moment = () => [...steps].forEach((step) => step());

  const keyAt = (address: number) =>
    Object.values(profile.registers).find((each) => each.address === address)?.key ??
    profile.parameters.find((each) => each.address === address)?.key;
  const signed = (words: readonly number[]) => {
    const value = words.length === 2 ? (words[0] ?? 0) * 65536 + (words[1] ?? 0) : (words[0] ?? 0);
    return words.length === 2 && value > 0x7fffffff ? value - 2 ** 32 : value;
  };
  const pduOf = (request: ModbusRequest): Uint8Array => {
    const two = (value: number) => [value >> 8, value & 0xff];
    if (request.kind === 'read') return Uint8Array.of(request.function, ...two(request.address), ...two(request.words));
    const { address, words } = request;
    return words.length === 1
      ? Uint8Array.of(6, ...two(address), ...two(words[0] ?? 0))
      : Uint8Array.of(16, ...two(address), ...two(words.length), 2 * words.length, ...words.flatMap(two));
  };

  const connect = (): Promise<Transport> => {
    if (!isReachable) return Promise.reject(new Error('refused'));
    transports++;
    let isOpen = true;
    let gone: (because: string) => void = () => undefined;
    const drop = () => {
      if (!isOpen) return;
      isOpen = false;
      gone('cut');
    };
    current = { drop };
    return Promise.resolve({
      ...fullDuplex,
      onClose: (listener) => void (gone = listener),
      reset: () => void (isOpen = false),
      end: () => void (isOpen = false),
      send: (_unit, request, answered) => {
        const one: Sent = {
          at: performance.now(),
          request,
          key: request.kind === 'write' ? keyAt(request.address) : undefined,
          raw: request.kind === 'write' ? signed(request.words) : 0,
        };
        sent.push(one);
        const fault = misbehave(one, sent.length - 1);
        moment();
        if (fault === 'cuts') return void setTimeout(drop, 0);
        const answer = (pdu: Uint8Array) => {
          if (!isOpen) return;
          const code = pdu[0] ?? 0;
          if (code & 0x80) answered({ kind: 'exception', code: pdu[1] ?? 0 });
          else {
            const words: number[] = [];
            if (request.kind === 'read')
              for (let k = 2; k + 1 < pdu.length; k += 2) words.push((pdu[k] ?? 0) * 256 + (pdu[k + 1] ?? 0));
            answered({ kind: 'answered', words });
          }
          moment();
        };
        if (fault === 'loses the request') return;
        const refusal = fault === 'refuses 4' ? 4 : fault === 'refuses 6' ? 6 : undefined;
        if (refusal !== undefined) return void setTimeout(() => answer(Uint8Array.of(0x80, refusal)), delay);
        setTimeout(() => {
          const pdu = answerPdu(devices, unit, pduOf(request));
          if (fault === 'loses the answer') return;
          const late = fault === 'answers late' ? tcpAnswerTime + 100 : 0;
          setTimeout(() => answer(pdu), delay / 2 + late);
          if (fault === 'answers twice') setTimeout(() => answer(pdu), delay / 2 + 1);
        }, delay / 2);
      },
    });
  };

  let temporary: TemporarySetting[] = [];
  let isDataUp = true;
  const runs: RawRun[] = [];
  const recordings: Int32Array[] = [];
  const proofs: Evidence[] = [];
  const snapshots: DriveSnapshot[] = [];
  const later = <T>(value: () => T): Promise<T> =>
    new Promise((resolve, reject) =>
      setTimeout(() => {
        if (isDataUp) resolve(value());
        else reject(new Error('down'));
        moment();
      }, dataDelay),
    );
  const data: DataService = {
    member: () =>
      later(() => ({
        plan: plan(),
        temporary,
        steps: proofs.filter((each): each is Evidence<'guided step'> => each.kind === 'guided step'),
      })),
    settingsOf: (identity, address) =>
      later(() => temporary.filter((each) => each.identity === identity && each.address === address)),
    remember: (_id, setting) =>
      later(() => {
        if (!temporary.some(({ key }) => key === setting.key))
          temporary = [...temporary, { ...setting, since: new Date().toISOString() }];
        return temporary;
      }),
    forget: (setting) => later(() => (temporary = temporary.filter(({ key }) => key !== setting.key))),
    proofOf: (_id, identity) =>
      later(
        () =>
          proofs.findLast((each) => each.kind === 'drive values' && each.identity === identity) as
            Evidence<'drive values'> | undefined,
      ),
    keepSnapshot: (_id, snapshot) => later(() => void snapshots.push(snapshot)),
    keepEvidence: (_id, evidence) => later(() => void proofs.push(evidence)),
    keepRun: (run, samples) =>
      later(() => {
        runs.push(run);
        recordings.push(samples);
        return {
          id: `run ${runs.length}`,
          memberId: 'member',
          kind: run.kind,
          name: '',
          notes: '',
          end: run.end,
          startedAt: run.startedAt,
          seconds: run.seconds,
          axisVersion: run.version,
        };
      }),
  };

  const published: { readonly window: string | undefined; readonly message: ServerMessage }[] = [];
  const makeMailbox = () =>
    new Mailbox({
      memberId: 'member',
      timing: sessionTiming,
      data,
      lines: new Lines(options.line?.(devices) ?? connect),
      publish: (message, window) => published.push({ window, message: message(window ?? 'a') }),
      heldElsewhere: () => heldElsewhere,
      clock: () => ({ now: performance.now(), wall: Date.now() }),
    });
  let mailbox = makeMailbox();
  const time = setInterval(() => {
    beside?.advance(0.004);
    registers.device.advance(0.004);
  }, 4);
  const living = new Set<string>();
  const alive = setInterval(() => {
    for (const window of living) mailbox.message(window, { type: 'alive' });
  }, 40);

  const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);
  const until = async (done: () => boolean, most = 20_000) => {
    for (let waited = 0; !done(); waited += 5) {
      if (waited > most)
        throw new Error(`waited in vain: ${mailbox.state.link} ${mailbox.state.linkMessage} ${lastRefusal() ?? ''}`);
      await pass(5);
    }
  };
  const lastRefusal = () =>
    published.flatMap(({ message }) => (message.type === 'refused' ? [message.because] : [])).at(-1);
  let heldElsewhere: string | undefined;
  const say = (message: SessionMessage, window = 'a', deviceHeldBy?: string) => {
    heldElsewhere = deviceHeldBy;
    mailbox.message(window, message);
    heldElsewhere = undefined;
  };
  const speed = () =>
    isAxis
      ? Math.abs(servo.device.mechanics.velocityCounts)
      : Math.abs(vfd.device.outputHertz) + Math.abs(vfd.device.speed) / 100;

  /** Puts the plan into the drive, as if it had been written, stored and proven. */
  function holdsPlan(): void {
    for (const parameter of ownProfile.parameters) {
      const planned = plan().planned[parameter.key];
      const raw = planned === undefined ? undefined : toRaw(parameter, planned);
      if (raw && 'raw' in raw) registers.device.parameters.write(parameter.key, raw.raw);
    }
    registers.device.parameters.store();
    registers.device.parameters.restart();
    registers.device.parametersChanged();
  }

  return {
    get mailbox() {
      return mailbox;
    },
    /** The server is gone at once, and another one takes its place. */
    serverKilled(window = 'a') {
      mailbox.dispose();
      mailbox = makeMailbox();
      mailbox.post({ type: 'window came', window });
      void mailbox.refresh();
    },
    registers,
    device: registers.device,
    servo: servo.device,
    vfd: vfd.device,
    stepper: stepper?.device,
    brushless: brushless?.device,
    sent,
    published,
    runs,
    recordings,
    /** What was recorded last, as it is kept. */
    lastTrace(): Trace {
      const [run, samples] = [runs.at(-1), recordings.at(-1)];
      if (!run || !samples) throw new Error('nothing has been recorded');
      return recordedTrace(changed, samples, run);
    },
    proofs,
    snapshots,
    pass,
    until,
    say,
    speed,
    holdsPlan,
    lastRefusal,
    temporary: () => temporary,
    setTemporary: (settings: TemporarySetting[]) => void (temporary = settings),
    version: () => version,
    plan,
    /** Saves a change of the document, as another window would. */
    save(change: Partial<MemberDocument>) {
      version++;
      changed = { ...changed, ...change } as MemberDocument;
      mailbox.news({ plan: plan(), temporary, steps: mailbox.state.stepEvidence });
    },
    setDataUp: (is: boolean) => void (isDataUp = is),
    setReachable: (is: boolean) => void (isReachable = is),
    cut: () => current?.drop(),
    transports: () => transports,
    /** Called at every moment at which something could come between. */
    atEachMoment: (step: () => void) => void steps.push(step),
    come(window = 'a') {
      living.add(window);
      mailbox.post({ type: 'window came', window });
    },
    silence: (window = 'a') => void living.delete(window),
    leave(window = 'a') {
      living.delete(window);
      mailbox.post({ type: 'window gone', window });
    },
    async connected(window = 'a') {
      this.come(window);
      void mailbox.refresh();
      await until(() => mailbox.state.plan !== undefined);
      say({ type: 'connect', version }, window);
      await until(
        () => mailbox.state.link === 'up' && mailbox.state.status !== undefined && mailbox.state.reading !== undefined,
      );
    },
    async enabled(window = 'a') {
      holdsPlan();
      await this.connected(window);
      say({ type: 'enable', version, isPropped: true }, window);
      await until(() => mailbox.state.permits.enable !== undefined);
    },
    end() {
      clearInterval(time);
      clearInterval(alive);
      mailbox.dispose();
    },
  };
}

export type SimulatedDrive = ReturnType<typeof simulatedDrive>;

/** Words that can set a drive in motion. */
export const isMotionWord = ({ key, raw }: Sent): boolean =>
  (key === 'targetVelocity' && raw !== 0) ||
  (key === 'speedReference' && raw !== 0) ||
  (key === 'controlword' && (raw & 0x0f) === 0x0f);
