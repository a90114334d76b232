import { benchFaults, LoopHost, type BenchFaultId, type FaultyBench, type Host } from '@kavrid/bench';
import { boundStep, motionTorque, stepContext, stepIds, stepResults, type StepResult } from '@kavrid/core/procedure';
import type { SimulatedDrive } from './simulatedDrive.ts';

/** Somebody at a simulated axis who does what each step asks for, and answers by what the world shows. */
export class PersonAtAxis {
  readonly #drive: SimulatedDrive;
  readonly #host: Host | LoopHost | undefined;
  #press = 0;

  constructor(drive: SimulatedDrive, host?: Host | LoopHost) {
    this.#drive = drive;
    this.#host = host;
  }

  fault(id: BenchFaultId, isOn = true): void {
    const { servo } = this.#drive;
    const host = this.#host instanceof LoopHost ? { tableHost: this.#host } : this.#host ? { host: this.#host } : {};
    const bench: Partial<FaultyBench> = { servo, tileStop: servo, turntable: servo, ...host };
    benchFaults[id].set(bench as FaultyBench, isOn);
  }

  get #context() {
    const context = stepContext(this.#drive.mailbox.state, {});
    if (context?.kind !== 'axis') throw new Error('there is no plan');
    return context;
  }

  /** The steps of the first power of this axis, in their order. */
  get steps(): readonly string[] {
    const context = this.#context;
    return stepIds(context).filter(
      (id) => !['Stops', 'Machine test', 'Homing'].includes(boundStep(id, context)?.phase ?? ''),
    );
  }

  result(step: string): StepResult | undefined {
    return stepResults(this.#drive.mailbox.state)[step];
  }

  get #run() {
    return this.#drive.mailbox.state.guided;
  }

  /** Counts of the load, towards plus. */
  get #load(): number {
    return this.#drive.servo.mechanics.loadCounts;
  }

  skip(step: string): void {
    this.#drive.say({ type: 'skipStep', version: this.#drive.version(), step, because: 'not for this test' });
  }

  answer(step: string, answer: string | number, given: Readonly<Record<string, number>> = {}): void {
    this.#drive.say({ type: 'answerStep', step, answer, given });
  }

  /** Goes through all steps as one would: what failed is left out with a reason where only motion can tell more. */
  async goesThrough(): Promise<void> {
    this.#drive.servo.hasMainSupply = false;
    // A suspended load came with its prop.
    const { mechanics } = this.#drive.servo;
    mechanics.proppedAt = mechanics.world.gravityTorque === 0 ? undefined : mechanics.loadCounts;
    for (const step of this.steps) {
      if (step === 'restored') continue;
      let result = await this.does(step);
      // Each try has a higher torque limit, as the step itself offers.
      const isRaised = ['bump', 'jogPlus', 'jogMinus'].includes(step);
      for (let tries = 0; result?.verdict === 'undecided' && isRaised && tries < 6; tries++) {
        if (this.#drive.servo.state === 'fault') await this.#reset();
        result = await this.does(step, this.#nextTorque());
      }
      if (result?.verdict === 'failed' && step === 'handTurn') this.skip(step);
      if (this.#drive.servo.state === 'fault') {
        if (step === 'alarm') this.#hostAlarm = this.#seenAtHost();
        await this.#reset();
      }
    }
  }

  async #reset(): Promise<void> {
    await this.#drive.pass(300);
    this.#drive.say({ type: 'resetFault' });
    await this.#drive.pass(500);
  }

  #nextTorque(): Readonly<Record<string, number>> {
    const torque = motionTorque(this.#context);
    return 'percent' in torque && torque.next !== undefined ? { torque: torque.next } : {};
  }

  /** When the controller shows an alarm: with the alarm of the drive, which is there now, and without. */
  #seenAtHost(): string {
    const host = this.#host;
    if (!host) return 'right';
    const shows = host.inputs.isActive('alarm');
    return shows ? (this.#alarmAtRest ? 'always' : 'right') : this.#alarmAtRest ? 'inverted' : 'never';
  }
  #alarmAtRest = false;

  /** Carries a step out, and waits for its result. @returns the result; undefined: it was refused, or given up */
  async does(step: string, given: Readonly<Record<string, number>> = {}): Promise<StepResult | undefined> {
    const drive = this.#drive;
    const from = this.#load;
    const told = drive.published.length;
    drive.say({ type: 'beginStep', version: drive.version(), step, isByHand: false, given });
    if (this.#run?.step !== step || this.#run.phase === 'over') return undefined;
    this.#alarmAtRest = this.#host?.inputs.isActive('alarm') === true && this.#drive.servo.state !== 'fault';
    const doing = this.#doing[step];
    if (doing) await doing(from);
    else if (this.#run?.phase === 'asking') this.answer(step, boundStep(step, this.#context)?.passes[0] ?? '');
    await drive
      .until(() => this.#run?.phase === 'over' || this.#run?.phase === 'asking', 30_000)
      .catch(() => {
        throw new Error(
          `${step} does not end: ${this.#run?.phase} ${JSON.stringify(drive.published.slice(told).filter(({ message }) => message.type === 'refused'))}`,
        );
      });
    if (this.#run?.phase === 'asking')
      throw new Error(`${step} asks: ${boundStep(step, this.#context)?.question.text}`);
    // What it has changed in the drive is put back.
    await drive.until(() => drive.mailbox.state.script === undefined && drive.mailbox.state.stop === undefined);
    await drive.until(() =>
      drive.temporary().every(({ key }) => !['torqueLimit', 'followingErrorWindow', '(motor)'].includes(key)),
    );
    return this.#run?.because === '' ? this.result(step) : undefined;
  }

  readonly #doing: Readonly<Record<string, (from: number) => Promise<void>>> = {
    sensors: () => this.#walk(),
    handTurn: () => this.#turn(),
    hardwareStop: () => this.#pressStop(),
    mainPower: async () => {
      await this.#drive.pass(200);
      this.#drive.servo.hasMainSupply = true;
      await this.#drive.pass(200);
      this.answer('mainPower', 'done');
    },
    stopTorqueOff: () =>
      this.#stopsByHand(async () => {
        this.#drive.servo.terminals.tripped.add('stop relay');
        await this.#drive.pass(1500);
        this.#drive.servo.terminals.tripped.delete('stop relay');
      }),
    stopSupply: () =>
      this.#stopsByHand(async () => {
        this.#drive.servo.hasMainSupply = false;
        // A suspended load came with its prop.
        const { mechanics } = this.#drive.servo;
        mechanics.proppedAt = mechanics.world.gravityTorque === 0 ? undefined : mechanics.loadCounts;
        await this.#drive.pass(1500);
        this.#drive.servo.hasMainSupply = true;
      }),
    stopLimit: () =>
      this.#stopsByHand(async () => {
        this.#drive.servo.terminals.tripped.add('plus limit switch');
        await this.#drive.pass(2500);
        this.#drive.servo.terminals.tripped.delete('plus limit switch');
      }),
    jogPlus: () => this.#hold(1, 1500),
    jogMinus: () => this.#hold(-1, 1500),
    direction: async () => {
      await this.#drive.pass(10);
      this.answer('direction', this.#went > 0 ? 'plus' : 'minus');
    },
    travel: () => this.#travel(),
    marks: async () => {
      await this.#drive.pass(10);
      // What has gone another way than the motor did, without a wrong ratio.
      this.answer('marks', this.#drive.servo.mechanics.trouble.slipsAbove < this.#hardest ? 'parted' : 'straight');
    },
    softLimitPlus: () => this.#hold(1, 4000),
    softLimitMinus: () => this.#hold(-1, 4000),
    powerCycle: () => this.#cyclePower(),
    limitPlus: () => this.#limit(1),
    limitMinus: () => this.#limit(-1),
    hostEnable: () => this.#hostEnable(),
    hostMove: () => this.#hostMove(),
    hostAlarm: async () => {
      await this.#drive.pass(10);
      this.answer('hostAlarm', this.#hostAlarm);
    },
    propped: async () => {
      const { mechanics } = this.#drive.servo;
      mechanics.proppedAt = mechanics.loadCounts - mechanics.world.countsPerRevolution / 2;
      await this.#drive.pass(10);
      this.answer('propped', 'propped');
    },
    brakeTest: async () => {
      const { terminals } = this.#drive.servo;
      terminals.brakeHand = 'unplugged';
      await this.#drive.until(() => this.#run?.phase === 'over');
      terminals.brakeHand = undefined;
      await this.#drive.pass(100);
    },
    loopOpen: async () => {
      if (!(this.#host instanceof LoopHost)) return this.answer('loopOpen', 'none');
      const { counted } = this.#host.cells();
      const before = counted?.read() ?? 0;
      this.#drive.servo.mechanics.hand = { turnsLeft: 1 };
      await this.#drive.pass(2200);
      this.#drive.servo.mechanics.hand = undefined;
      const steps = (counted?.read() ?? 0) - before;
      this.answer('loopOpen', Math.abs(steps) < 100 ? 'still' : steps > 0 ? 'right' : 'reversed');
    },
    drift: async () => {
      await this.#toHost();
      this.#host?.parameters.write('loopGain', 0);
      this.#hostServoOn(true);
      await this.#drive.pass(3000);
      if (this.#run?.phase === 'watching' && this.#drive.servo.state !== 'operation enabled')
        this.answer('drift', 'done');
      await this.#drive.until(() => this.#run?.phase === 'over');
      this.#hostServoOn(false);
      this.#host?.parameters.write('loopGain', 3000);
      await this.#drive.pass(500);
    },
  };

  /** The hardest push of the motor in the jogs, as a share of rated torque. */
  get #hardest(): number {
    const value = this.result('jogPlus')?.values.find(({ label }) => label === 'Steady torque')?.value ?? 0;
    return Math.abs(value) / 100;
  }

  /** Which way the load went in the last jog towards plus, and how an alarm showed at the controller. */
  #went = 1;
  #hostAlarm = 'right';

  async #walk(): Promise<void> {
    const { servo, say, until, pass, mailbox } = this.#drive;
    const sources: Readonly<Record<string, string>> = {
      minusLimit: 'minus limit switch',
      plusLimit: 'plus limit switch',
      homeSwitch: 'home switch',
    };
    const over = () => this.#run?.phase === 'over' || mailbox.state.walk?.walk.phase === 'done';
    while (!over()) {
      const walk = mailbox.state.walk?.walk;
      const key = walk?.order[walk.at] ?? '';
      await until(
        () => over() || mailbox.state.walk?.walk.phase === 'trip' || mailbox.state.walk?.walk.at !== walk?.at,
      );
      if (over() || mailbox.state.walk?.walk.at !== walk?.at) continue;
      servo.terminals.tripped.add(sources[key] ?? '');
      await pass(1000);
      if (mailbox.state.walk?.walk.phase === 'trip' && mailbox.state.walk.walk.at === walk?.at)
        say({ type: 'walkOn', what: 'nothing', because: '' });
      servo.terminals.tripped.delete(sources[key] ?? '');
      await pass(700);
    }
  }

  /** One turn by hand, so that the load goes towards plus; a brake is opened for it. */
  async #turn(): Promise<void> {
    const { servo, pass, until } = this.#drive;
    servo.mechanics.hand = { turnsLeft: 1 };
    servo.terminals.brakeHand = 'fed';
    await pass(2200);
    const isBlocked = (servo.mechanics.hand?.turnsLeft ?? 0) > 0.9;
    servo.terminals.brakeHand = undefined;
    // The hand stays until it has been seen.
    for (let waited = 0; this.#run?.phase === 'watching' && waited < 2700; waited += 100) await pass(100);
    servo.mechanics.hand = undefined;
    if (this.#run?.phase === 'watching') this.answer('handTurn', isBlocked ? 'blocked' : 'done');
    await until(() => this.#run?.phase !== 'watching');
  }

  async #pressStop(): Promise<void> {
    const { servo, pass } = this.#drive;
    await pass(200);
    servo.terminals.tripped.add('stop relay');
    await pass(500);
    servo.terminals.tripped.delete('stop relay');
    await pass(3000);
    if (this.#run?.phase === 'watching') this.answer('hardwareStop', 'done');
    await pass(8000);
  }

  /** All supplies off for three seconds. */
  async #cyclePower(): Promise<void> {
    const { servo, pass, setReachable, cut, until, mailbox } = this.#drive;
    await pass(500);
    setReachable(false);
    cut();
    await pass(2000);
    servo.restart();
    await pass(1500);
    setReachable(true);
    await until(() => mailbox.state.link === 'up' || this.#run?.phase === 'over', 20_000);
    await pass(3000);
  }

  async #ready(): Promise<boolean> {
    await this.#drive.until(() => this.#run?.phase !== 'drilling', 30_000);
    return this.#run?.phase === 'ready';
  }

  async #hold(direction: 1 | -1, ms: number): Promise<void> {
    const { say, pass, mailbox } = this.#drive;
    if (!(await this.#ready())) return;
    const { drill } = this.#run ?? {};
    const speed = drill?.kind === 'jog' ? drill.speed : 0;
    const from = this.#load;
    say({ type: 'jog', version: this.#drive.version(), press: ++this.#press, direction, speed });
    await pass(ms);
    say({ type: 'jogEnd', press: this.#press });
    await this.#drive.until(() => mailbox.state.script === undefined && mailbox.state.stop === undefined);
    if (direction > 0 && ms > 1000) this.#went = Math.sign(this.#load - from);
  }

  async #travel(): Promise<void> {
    const from = this.#load;
    await this.#hold(1, 3000);
    if (this.#run?.phase === 'ready' && this.#drive.mailbox.state.guided?.drillEnd === undefined)
      this.#drive.say({ type: 'endStep' });
    await this.#drive.until(() => this.#run?.phase === 'asking' || this.#run?.phase === 'over');
    // By a rule, to a tenth of a millimetre or so.
    if (this.#run?.phase === 'asking')
      this.answer('travel', (this.#load - from) * Math.abs(this.#context.unitsPerCount));
  }

  async #limit(direction: 1 | -1): Promise<void> {
    const { servo, pass, say, mailbox, until } = this.#drive;
    if (!(await this.#ready())) return;
    const { drill } = this.#run ?? {};
    const speed = drill?.kind === 'jog' ? drill.speed : 0;
    const source = direction > 0 ? 'plus limit switch' : 'minus limit switch';
    const version = this.#drive.version();
    say({ type: 'jog', version, press: ++this.#press, direction, speed });
    await pass(400);
    servo.terminals.tripped.add(source);
    await pass(900);
    say({ type: 'jogEnd', press: this.#press });
    await until(() => mailbox.state.script === undefined && mailbox.state.stop === undefined);
    if (this.#run?.phase === 'ready') {
      say({ type: 'jog', version, press: ++this.#press, direction: direction === 1 ? -1 : 1, speed });
      await pass(900);
      say({ type: 'jogEnd', press: this.#press });
      await until(() => mailbox.state.script === undefined && mailbox.state.stop === undefined);
    }
    servo.terminals.tripped.delete(source);
    await pass(100);
    if (this.#run?.phase === 'ready') say({ type: 'endStep' });
  }

  /** Acts when the axis has had its speed for a moment. */
  async #stopsByHand(acts: () => Promise<void>): Promise<void> {
    const { until, pass, mailbox } = this.#drive;
    await until(() => mailbox.state.progress.endsWith(' now') || this.#run?.phase !== 'drilling', 30_000);
    await pass(400);
    await acts();
  }

  /** The command source goes back to the controller. */
  async #toHost(): Promise<void> {
    const { say, until, temporary, mailbox } = this.#drive;
    if (temporary().length === 0) return;
    say({ type: 'restore', isHostQuiet: true });
    await until(() => temporary().length === 0 && mailbox.state.script === undefined);
  }

  #hostServoOn(isOn: boolean): void {
    this.#drive.servo.terminals.outputs.set('controller: servo on', isOn);
  }

  async #hostEnable(): Promise<void> {
    await this.#drive.pass(300);
    this.#hostServoOn(true);
    await this.#drive.pass(800);
    this.#hostServoOn(false);
    await this.#drive.pass(500);
    if (this.#run?.phase === 'watching') this.answer('hostEnable', 'done');
  }

  async #hostMove(): Promise<void> {
    const { pass } = this.#drive;
    if (!this.#host) return;
    await this.#toHost();
    this.#hostServoOn(true);
    await pass(200);
    this.#host.moveBy(50);
    await pass(2500);
    this.#host.moveBy(-50);
    await pass(2500);
    this.#hostServoOn(false);
    await pass(200);
    this.answer('hostMove', 'done', { commanded: 50 });
    await pass(50);
  }
}
