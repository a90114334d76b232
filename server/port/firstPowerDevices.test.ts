import {
  benchFaults,
  grinderWorld,
  liftWorld,
  makeHost,
  makePwmHost,
  pumpWorld,
  type BenchFaultId,
  type FaultyBench,
  type Host,
} from '@kavrid/bench';
import {
  boundStep,
  diagnose,
  spindleCauses,
  startCauses,
  stepContext,
  stepIds,
  stepResults,
} from '@kavrid/core/procedure';
import { afterAll, afterEach, describe, expect, it, vi } from 'vitest';
import { demoAxisNamed, demoSpindle } from '../test/demoMembers.ts';
import { PersonAtHost, type HandsOnAxis } from '../test/personAtHost.ts';
import { isProof, proofSeed, recordProof } from '@kavrid/bench/test/proof.ts';
import { seeded } from '@kavrid/bench/test/seeded.ts';
import { simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';
import { shownGuide } from './shownGuide.ts';

let drive: SimulatedDrive;
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

/** How much of its plates a world has: friction from half to three times, inertia from half to twice. */
interface Share {
  readonly friction: number;
  readonly inertia: number;
}

/** A device that is no servo: it is set up, gone through by a person with a fault or without, and its causes are read. */
interface Cell {
  readonly name: string;
  /** What each fault of the bench is called there. */
  readonly causes: Partial<Readonly<Record<BenchFaultId, string>>>;
  readonly goesThrough: (share: Share, fault: BenchFaultId | undefined) => Promise<void>;
}

async function connected(): Promise<void> {
  drive.holdsPlan();
  await drive.connected();
}

async function atLift({ friction, inertia }: Share, fault: BenchFaultId | undefined): Promise<void> {
  let host: Host | undefined;
  // Its screw holds the load by friction: less than gravity would be no healthy one, and 0.15 N·m are three times what its plates say.
  const world = { coulombFriction: 0.105 + 0.018 * (friction - 0.5), inertia: liftWorld.inertia * inertia };
  drive = simulatedDrive(demoAxisNamed('Spray lift'), {
    device: { kind: 'stepper', world },
    beside: ({ stepper }) => (host = stepper && makeHost(stepper).device) ?? { advance: () => undefined },
  });
  await connected();
  const { stepper } = drive;
  if (!host || !stepper) return;
  // Thousandths; the screw has 10 mm a turn.
  host.parameters.write('stepsPerUnit', (1000 * stepper.pulsesPerRevolution) / 10);
  const bench: Partial<FaultyBench> = { stepper, liftHost: host, host };
  if (fault !== undefined) benchFaults[fault].set(bench as FaultyBench, true);
  const hands: HandsOnAxis = {
    enable: (isOn) => void stepper.terminals.outputs.set('controller: servo on', isOn),
    move: (distance) => void host?.moveBy(distance),
    jog: (speed) => void host?.jog(speed),
    turn: (isBegun) => void (stepper.mechanics.hand = isBegun ? { turnsLeft: 1 } : undefined),
    showsAlarm: () => host?.inputs.isActive('alarm') ?? false,
    load: () => (stepper.mechanics.positionCounts / stepper.mechanics.world.countsPerRevolution) * 10,
  };
  await new PersonAtHost(drive, hands).goesThrough();
}

/** A dosing head of 2.4 mL behind a gearbox of 10. */
const millilitresPerTurn = 0.24;

async function atPump({ friction, inertia }: Share, fault: BenchFaultId | undefined): Promise<void> {
  const world = { coulombFriction: pumpWorld.coulombFriction * friction, inertia: pumpWorld.inertia * inertia };
  drive = simulatedDrive(demoAxisNamed('Glaze pump'), { device: { kind: 'brushless', world } });
  await connected();
  const { brushless } = drive;
  if (!brushless) return;
  const host = makePwmHost(brushless);
  const cell = (key: string, value: number) => host.device.cells()[key]?.write?.(value);
  // Hundredths of a per cent: 5 % stands for 0 rpm.
  const zero = 500;
  cell('duty', zero);
  if (fault !== undefined) benchFaults[fault].set({ brushless } as FaultyBench, true);
  const hands: HandsOnAxis = {
    enable: (isOn) => void brushless.outputs.set('controller: enable', isOn),
    jog: (speed) => void cell('duty', speed > 0 ? 1000 : zero),
    showsAlarm: () => host.device.cells().alarm?.read() === 1,
    load: () => brushless.turns * millilitresPerTurn,
    isOneWay: true,
  };
  await new PersonAtHost(drive, hands).goesThrough();
}

async function atSpindle({ friction, inertia }: Share, fault: BenchFaultId | undefined): Promise<void> {
  drive = simulatedDrive(demoSpindle, {
    spindleWorld: { friction: grinderWorld.friction * friction, inertia: grinderWorld.inertia * inertia },
  });
  await connected();
  if (fault !== undefined) benchFaults[fault].set({ spindle: drive.vfd } as FaultyBench, true);
  const run = () => drive.mailbox.state.guided;
  const context = stepContext(drive.mailbox.state, {});
  for (const step of context ? stepIds(context) : []) {
    drive.say({ type: 'beginStep', version: drive.version(), step, isByHand: false, given: {} });
    if (run()?.step !== step) continue;
    await drive.pass(2500);
    if (step === 'restart') drive.say({ type: 'answerStep', step, answer: 'done', given: {} });
    await drive.until(() => ['asking', 'over'].includes(run()?.phase ?? ''), 60_000);
    await drive.until(() => drive.mailbox.state.script === undefined && drive.mailbox.state.stop === undefined);
    const now = stepContext(drive.mailbox.state, {});
    const answer = now && boundStep(step, now)?.passes[0];
    if (run()?.phase === 'asking') drive.say({ type: 'answerStep', step, answer: answer ?? '', given: {} });
    await drive.pass(50);
    if (drive.vfd.state === 'fault') {
      drive.say({ type: 'resetFault' });
      await drive.pass(500);
    }
  }
}

const cells: readonly Cell[] = [
  {
    name: 'Spray lift',
    goesThrough: atLift,
    causes: {
      liftEnableBroken: 'hostEnableBroken',
      liftEnableInverted: 'hostEnableInverted',
      liftPulsesBroken: 'commandBroken',
      liftDirectionBroken: 'directionDead',
      liftPulsesLost: 'pulsesLost',
      pulsesDoubled: 'pulsesDoubled',
      pulseLinesSwapped: 'commandBroken',
      hostAlarmBroken: 'alarmWire',
      liftSticks: 'sticks',
    },
  },
  {
    name: 'Glaze pump',
    goesThrough: atPump,
    causes: {
      pumpEnableBroken: 'hostEnableBroken',
      pumpEnableInverted: 'hostEnableInverted',
      pwmBroken: 'commandBroken',
    },
  },
  {
    name: 'Edge grinder',
    goesThrough: atSpindle,
    causes: { spindleSupplyLow: 'supplyWeak', spindleResistorOpen: 'returnedEnergy', spindleLoaded: 'spindleBraked' },
  },
];

function named(): readonly { readonly together: readonly string[]; readonly others: readonly string[] }[] {
  const context = stepContext(drive.mailbox.state, {});
  if (!context) throw new Error('there is no plan');
  return diagnose({ ...context, results: stepResults(drive.mailbox.state) }).map(({ causes, others }) => ({
    together: causes.map(({ cause }) => cause.id),
    others: others.map(({ cause }) => cause.id),
  }));
}

const failures = () =>
  Object.entries(stepResults(drive.mailbox.state)).flatMap(([step, result]) =>
    result && (result.verdict !== 'passed' || result.sign === '')
      ? [`${step}: ${result.verdict} ${result.sign} ${result.words}`]
      : [],
  );

const random = seeded(proofSeed);
const randomShare = (): Share => ({ friction: 0.5 + 2.5 * random(), inertia: 0.5 + 1.5 * random() });
const worlds = isProof ? 20 : 1;
const patience = isProof ? 1_200_000 : 60_000;
const tally = { worlds: 0, first: 0, firstTwo: 0, healthy: 0 };

describe.each(cells)('first power at the $name', ({ name, causes, goesThrough }) => {
  it(
    'accuses no healthy device, with up to three times the friction and twice the inertia',
    { timeout: patience },
    async () => {
      const all = [0.5, 3].flatMap((friction) => [0.5, 2].map((inertia) => ({ friction, inertia })));
      for (const share of isProof ? all : all.slice(-1)) {
        vi.useFakeTimers();
        await goesThrough(share, undefined);
        expect(named(), failures().join('\n')).toEqual([]);
        tally.healthy++;
        drive.end();
      }
    },
  );

  it.each(Object.entries(causes))('%s is named %s', { timeout: patience }, async (id, cause) => {
    const instead: string[] = [];
    let [first, firstTwo] = [0, 0];
    for (let k = 0; k < worlds; k++) {
      vi.useFakeTimers();
      await goesThrough(randomShare(), id as BenchFaultId);
      const found = named();
      const order = found.flatMap(({ together, others }) => [...together, ...others]);
      if (order[0] === cause) first++;
      else instead.push(order[0] ?? 'nothing');
      if (order.slice(0, 2).includes(cause)) firstTwo++;
      if (!isProof) expect(found[0]?.together, failures().join('\n')).toContain(cause);
      drive.end();
    }
    tally.worlds += worlds;
    tally.first += first;
    tally.firstTwo += firstTwo;
    recordProof(`first power, ${name}: ${benchFaults[id as BenchFaultId].label}`, {
      cause: [...startCauses, ...spindleCauses].find((each) => each.id === cause)?.title ?? cause,
      first,
      'first two': firstTwo,
      instead: [...new Set(instead)].join('; '),
    });
  });
});

it('a window is shown the causes of a spindle, with what to change', async () => {
  vi.useFakeTimers();
  await atSpindle({ friction: 1, inertia: 1 }, 'spindleResistorOpen');
  const [fault] = shownGuide('member', drive.mailbox.state, 'a').faults;
  expect(fault?.causes[0]).toMatchObject({
    title: 'The brake resistor is not connected, or the ramp down is too short',
  });
});

afterAll(() => {
  if (!isProof) return;
  const percent = (count: number) => `${((100 * count) / tally.worlds).toFixed(1)} %`;
  recordProof('faults named at lift, pump and grinder', {
    'faults in random worlds': tally.worlds,
    'right cause first': percent(tally.first),
    'among the first two': percent(tally.firstTwo),
    'healthy worlds, none accused': tally.healthy,
  });
  expect(tally.first / tally.worlds).toBeGreaterThan(0.9);
  expect(tally.firstTwo / tally.worlds).toBeGreaterThan(0.98);
});
