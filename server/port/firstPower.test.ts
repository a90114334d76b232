import { makeHost, type Host } from '@kavrid/bench';
import { diagnose, leadingCauses, stepResults } from '@kavrid/core/procedure';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { PersonAtAxis } from '../test/personAtAxis.ts';
import { simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';
import { carriageWorld } from '@kavrid/bench';

let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

async function carriage() {
  let host: Host | undefined;
  drive = simulatedDrive(demoAxis, {
    world: carriageWorld,
    beside: (servo) => (host = makeHost(servo).device),
  });
  drive.holdsPlan();
  await drive.connected();
  return new PersonAtAxis(drive, host);
}

const causes = () => leadingCauses(diagnose(stepResults(drive.mailbox.state))).map(({ cause }) => cause.id);

describe('first power of the carriage', () => {
  it('a healthy axis passes every step, and nothing is left changed in the drive', async () => {
    const person = await carriage();
    const before = drive.servo.parameters.running;
    const kept = { ...before };
    for (const step of person.steps) {
      if (step === 'restored') continue;
      const result = await person.does(step);
      console.log(step, result?.verdict, result?.known, result?.sign, result?.words, JSON.stringify(result?.values));
      if (step === 'alarm') drive.say({ type: 'resetFault' });
      if (step === 'alarm') await drive.pass(500);
    }
    expect({ ...drive.servo.parameters.running, commandSource: 0 }).toEqual({ ...kept, commandSource: 0 });
    expect(causes()).toEqual([]);
  });
});
