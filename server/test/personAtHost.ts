import { boundStep, startSpeed, stepContext, stepIds, stepResults, type StepResult } from '@kavrid/core/procedure';
import type { SimulatedDrive } from './simulatedDrive.ts';

/** What somebody can do at an axis that only its controller moves. */
export interface HandsOnAxis {
  readonly enable: (isOn: boolean) => void;
  /** Axis units towards plus, one after the other; absent: the controller cannot. */
  readonly move?: (distance: number) => void;
  /** Axis units/s; 0: it slows down to rest. */
  readonly jog: (speed: number) => void;
  /** One turn of the shaft by hand, begun and let go; absent: nobody can reach it. */
  readonly turn?: (isBegun: boolean) => void;
  /** Whether the controller shows an alarm. */
  readonly showsAlarm: () => boolean;
  /** Where the load is, in axis units. */
  readonly load: () => number;
  /** It turns towards plus only. */
  readonly isOneWay?: boolean;
}

/** Somebody at an axis that Kavrid only watches, who does what each step asks for at the controller, and answers by what the world shows. */
export class PersonAtHost {
  readonly #drive: SimulatedDrive;
  readonly #hands: HandsOnAxis;
  /** Where the load was before and after the jog towards plus. */
  #jogged = 0;

  constructor(drive: SimulatedDrive, hands: HandsOnAxis) {
    this.#drive = drive;
    this.#hands = hands;
  }

  get #context() {
    const context = stepContext(this.#drive.mailbox.state, {});
    if (!context) throw new Error('there is no plan');
    return context;
  }
  get #run() {
    return this.#drive.mailbox.state.guided;
  }

  /** The steps of the first power, in their order; a walk along the sensors is not for an axis without any. */
  get steps(): readonly string[] {
    const context = this.#context;
    const later = ['Stops', 'Machine test', 'Homing', 'Hand back'];
    return stepIds(context).filter((id) => !later.includes(boundStep(id, context)?.phase ?? ''));
  }

  result(step: string): StepResult | undefined {
    return stepResults(this.#drive.mailbox.state)[step];
  }
  #answer(step: string, answer: string | number, given = {}): void {
    this.#drive.say({ type: 'answerStep', step, answer, given });
  }
  #skip(step: string): void {
    this.#drive.say({ type: 'skipStep', version: this.#drive.version(), step, because: 'not at this axis' });
  }

  /** Goes through all steps; what cannot be done here, or has failed and stands in the way, is left out with a reason. */
  async goesThrough(): Promise<void> {
    const { say, version } = this.#drive;
    for (const step of this.steps) {
      if (this.#isNotHere(step)) {
        this.#skip(step);
        continue;
      }
      // Its own outputs of the controller are no inputs of a drive; a switch is looked at by a person.
      const isByHand = step === 'sensors' || step === 'hardwareStop' || step === 'mainPower';
      say({ type: 'beginStep', version: version(), step, isByHand, given: {} });
      if (this.#run?.step !== step || this.#run.phase === 'over') continue;
      await (this.#doing[step] ?? this.#passes)(step);
      await this.#drive
        .until(() => this.#run?.phase === 'over', 30_000)
        .catch(() => {
          throw new Error(`${step} does not end: ${this.#run?.phase}`);
        });
      const result = this.result(step);
      // A wrong direction does not keep one from jogging the other way, slowly.
      if (result?.verdict === 'failed' && (step === 'handTurn' || result.sign === 'opposite')) this.#skip(step);
    }
  }

  #isNotHere(step: string): boolean {
    const { turn, isOneWay } = this.#hands;
    return (step === 'handTurn' && !turn) || (isOneWay === true && ['jogMinus', 'hostMove', 'bump'].includes(step));
  }

  readonly #passes = async (step: string): Promise<void> => {
    await this.#drive.pass(20);
    if (this.#run?.phase === 'watching' && boundStep(step, this.#context)?.question)
      await this.#drive.until(() => this.#run?.phase !== 'watching', 30_000).catch(() => undefined);
    if (this.#run?.phase === 'asking') this.#answer(step, this.#right(step));
  };

  /** The answer by which a step passes, of those that it offers. */
  #right(step: string): string {
    const { passes, question } = boundStep(step, this.#context) ?? { passes: [], question: undefined };
    const offered = question?.kind === 'choice' ? Object.keys(question.answers) : [];
    return passes.find((each) => offered.includes(each)) ?? '';
  }

  readonly #doing: Readonly<Record<string, (step: string) => Promise<void>>> = {
    handTurn: async (step) => {
      this.#hands.turn?.(true);
      await this.#drive.pass(4700);
      this.#hands.turn?.(false);
      if (this.#run?.phase === 'watching') this.#answer(step, 'done');
    },
    hostEnable: async (step) => {
      await this.#enabled(800);
      if (this.#run?.phase === 'watching') this.#answer(step, 'done');
    },
    standstill: async (step) => {
      await this.#enabled(2300);
      this.#done(step);
    },
    drop: async (step) => {
      await this.#enabled(2300);
      this.#done(step);
    },
    drift: async (step) => {
      await this.#drive.pass(300);
      this.#hands.enable(true);
      await this.#drive.until(() => this.#run?.phase === 'over', 8000).catch(() => this.#done(step));
      this.#hands.enable(false);
      await this.#drive.pass(600);
    },
    bump: async (step) => {
      await this.#enabled(700, () => this.#hands.move?.(0.03));
      this.#done(step);
    },
    jogPlus: async (step) => {
      const before = this.#hands.load();
      await this.#jogs(1);
      this.#jogged = this.#hands.load() - before;
      this.#done(step);
    },
    jogMinus: async (step) => {
      await this.#jogs(-1);
      this.#done(step);
    },
    direction: async (step) => {
      await this.#drive.pass(10);
      this.#answer(step, Math.abs(this.#jogged) < 0.2 ? 'still' : this.#jogged > 0 ? 'plus' : 'minus');
    },
    travel: async (step) => {
      const before = this.#hands.load();
      await this.#jogs(1);
      this.#done(step);
      await this.#drive.pass(20);
      this.#answer(step, this.#hands.load() - before, { commanded: this.#hands.load() - before });
    },
    hostAlarm: async (step) => {
      await this.#drive.pass(10);
      this.#answer(step, this.#hands.showsAlarm() === (this.#drive.device.state === 'fault') ? 'right' : 'always');
    },
    hostMove: async (step) => {
      await this.#enabled(5200, () => {
        this.#hands.move?.(20);
        return this.#drive.pass(2500).then(() => this.#hands.move?.(-20));
      });
      this.#answer(step, 'done', { commanded: 20 });
    },
  };

  #done(step: string): void {
    if (this.#run?.phase === 'watching') this.#answer(step, 'done');
  }

  /** Enabled at the controller for so many ms, in which something is done. */
  async #enabled(ms: number, act?: () => unknown): Promise<void> {
    const { pass } = this.#drive;
    await pass(300);
    this.#hands.enable(true);
    await pass(300);
    await act?.();
    await pass(ms);
    this.#hands.enable(false);
    await pass(600);
  }

  /** As the step says. */
  get #jogSpeed(): number {
    const context = this.#context;
    const speed = context.kind === 'axis' ? startSpeed(context.guide, context.watchdog ?? 0.2) : undefined;
    return speed && 'speed' in speed ? speed.speed : 4;
  }

  #jogs(direction: 1 | -1): Promise<void> {
    return this.#enabled(500, async () => {
      this.#hands.jog(direction * this.#jogSpeed);
      await this.#drive.pass(1500);
      this.#hands.jog(0);
    });
  }
}
