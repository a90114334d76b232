import {
  carriageWorld,
  makeHost,
  secondPlant,
  type AxisWorld,
  type BenchFaultId,
  type Host,
  type MakePlant,
} from '@kavrid/bench';
import { diagnose, stepContext, stepResults } from '@kavrid/core/procedure';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { PersonAtAxis } from '../test/personAtAxis.ts';
import { isProof, proofSeed, recordProof } from '../test/proof.ts';
import { seeded } from '../test/seeded.ts';
import { simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

let drive: SimulatedDrive;
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

async function carriage(world: AxisWorld = carriageWorld, makePlant?: MakePlant) {
  vi.useFakeTimers();
  let host: Host | undefined;
  drive = simulatedDrive(demoAxis, {
    world,
    ...(makePlant ? { makePlant } : {}),
    beside: (servo) => (host = makeHost(servo).device),
  });
  drive.holdsPlan();
  await drive.connected();
  return new PersonAtAxis(drive, host);
}

const guide = () => {
  const context = stepContext(drive.mailbox.state, {});
  if (!context) throw new Error('there is no plan');
  return context.guide;
};

/** What is named: for each fault its causes, the most probable first. */
const named = () =>
  diagnose(stepResults(drive.mailbox.state), guide()).map(({ causes, others }) =>
    [...causes, ...others].map(({ cause }) => cause.id),
  );

describe('first power of the carriage', () => {
  it('a healthy axis passes every step, and nothing is left changed in the drive', async () => {
    const person = await carriage();
    const before = { ...drive.servo.parameters.running };
    await person.goesThrough();
    const open = person.steps.filter((step) => person.result(step)?.verdict !== 'passed');
    expect(open).toEqual(['restored']);
    expect({ ...drive.servo.parameters.running, commandSource: before.commandSource }).toEqual(before);
    expect(named()).toEqual([]);
  });
});

/** What each fault of the bench is called; those that first power cannot show are left out. */
const causeOf: Partial<Record<BenchFaultId, string>> = {
  limitsSwapped: 'limitsExchanged',
  minusLimitBroken: 'limitBroken',
  plusLimitBroken: 'limitBroken',
  minusLimitShorted: 'limitBroken',
  plusLimitShorted: 'limitBroken',
  homeBroken: 'limitBroken',
  homeShorted: 'limitBroken',
  permitBroken: 'enableMissing',
  servoOnBroken: 'hostEnableBroken',
  servoOnShorted: 'hostEnableShorted',
  servoOnInverted: 'hostEnableInverted',
  torqueOffOpen1: 'torqueOffOpen',
  torqueOffOpen2: 'torqueOffOpen',
  hostAlarmBroken: 'alarmWire',
  hostAlarmShorted: 'alarmWire',
  pulseLineBroken: 'commandBroken',
  directionLineBroken: 'directionDead',
  pulseLinesSwapped: 'commandBroken',
  pulsesLost: 'pulsesLost',
  pulsesDoubled: 'pulsesDoubled',
  axisSticks: 'sticks',
  encoderSwapped: 'encoderReversed',
  phasesSwapped: 'phasesExchanged',
  travelDoubled: 'travelWrong',
  couplingSlips: 'couplingSlips',
};

const random = seeded(proofSeed);
/** Friction from half to three times, inertia from half to twice what the demo has; anywhere clear of the switches. */
const randomWorld = (): AxisWorld => ({
  ...carriageWorld,
  coulombFriction: carriageWorld.coulombFriction * (0.5 + 2.5 * random()),
  loadInertia: carriageWorld.loadInertia * (0.5 + 1.5 * random()),
  startCounts: Math.round(carriageWorld.plusLimit * (0.55 + 0.15 * random())),
  indexOffset: Math.round(random() * 2 ** 20),
});

describe('faults of the carriage are named, in random worlds', () => {
  const worlds = isProof ? 20 : 1;
  it.each(Object.entries(causeOf))('%s', async (id, cause) => {
    const ranks: number[] = [];
    for (let k = 0; k < worlds; k++) {
      const person = await carriage(randomWorld(), k % 2 === 1 ? secondPlant : undefined);
      person.fault(id as BenchFaultId);
      await person.goesThrough();
      const found = named();
      ranks.push(found.flat().indexOf(cause));
      console.log(
        id,
        JSON.stringify(found),
        Object.entries(stepResults(drive.mailbox.state))
          .filter(([, r]) => r?.verdict !== 'passed')
          .map(([s, r]) => `${s}:${r?.verdict}:${r?.sign}:${r?.words.slice(0, 60)}`)
          .join(' | '),
      );
      drive.end();
    }
    expect(ranks).toEqual(Array(worlds).fill(0));
  });
});
