import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { byteFaults, faultySerialLine, type ByteFault } from '../test/faultyLine.ts';
import { isProof, proofSeed, recordProof } from '@kavrid/bench/test/proof.ts';
import { seeded } from '@kavrid/bench/test/seeded.ts';
import {
  misbehaviours,
  profiles,
  simulatedDrive,
  type Misbehaviour,
  type SimulatedDrive,
} from '../test/simulatedDrive.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const parameterAt = new Map(profiles.axis.parameters.map((each) => [each.address, each]));

/** Every write to a parameter: those that the link sent, and those that the drive carried out. */
interface Ledger {
  readonly sent: string[];
  readonly done: (readonly [key: string, raw: number])[];
}

function ledgerOf(drive: SimulatedDrive): Ledger {
  const ledger: Ledger = { sent: [], done: [] };
  const { registers } = drive;
  const write = registers.write.bind(registers);
  vi.spyOn(registers, 'write').mockImplementation((address, words) => {
    const error = write(address, words);
    const key = parameterAt.get(address)?.key;
    const raw = words.length === 2 ? ((words[0] ?? 0) << 16) | (words[1] ?? 0) : (words[0] ?? 0);
    if (key !== undefined && error === undefined) ledger.done.push([key, raw]);
    return error;
  });
  return ledger;
}

/** Writes the plan over a line with faults, again and again, until it is proven; what is told is compared with the ledger. */
async function world(drive: SimulatedDrive, ledger: Ledger, faults: { isOn: boolean }): Promise<number> {
  const told = () => drive.mailbox.driveData().procedure;
  const isUp = () => drive.mailbox.state.link === 'up' && drive.mailbox.state.stop === undefined;
  drive.come();
  drive.mailbox.news({ plan: drive.plan(), temporary: [], steps: [] });
  let writings = 0;
  for (let round = 0; round < 60; round++) {
    // In the end the line is mended, and everything has to come right.
    if (round === 40) faults.isOn = false;
    if (drive.mailbox.state.link === 'off') drive.say({ type: 'connect', version: 1 });
    await drive.pass(1500);
    if (!isUp()) continue;
    drive.say({ type: 'readDrive', version: 1, ...(round % 2 ? { target: 'as before' as const } : {}) });
    for (let k = 0; k < 400 && told().phase === 'reading'; k++) await drive.pass(25);
    if (told().phase !== 'review') continue;
    const shown = new Map(told().toWrite.map(({ key, to }) => [key, to]));
    const [sentFrom, doneFrom] = [ledger.sent.length, ledger.done.length];
    drive.say({ type: 'writeDrive', version: 1 });
    for (let k = 0; k < 2000 && !['review', 'failed', 'proven'].includes(told().phase); k++) await drive.pass(25);
    const { phase, written, inDoubt, toWrite } = told();
    const { comparisons } = drive.mailbox.driveData();
    // What is late arrives now.
    await drive.pass(600);
    const sent = ledger.sent.slice(sentFrom);
    const done = ledger.done.slice(doneFrom);
    writings++;
    // Sent once at the most, as it was shown, and nothing else.
    expect(new Set(sent).size).toBe(sent.length);
    for (const [key, raw] of done) expect([key, raw | 0]).toEqual([key, (shown.get(key) ?? NaN) | 0]);
    // What is told as written is in the drive; what the drive has done was told, or told to be in doubt.
    const doneKeys = new Set(done.map(([key]) => key));
    for (const key of written) expect(doneKeys.has(key), `${key} is told as written`).toBe(true);
    for (const key of doneKeys) expect([...written, inDoubt]).toContain(key);
    if (phase === 'failed') for (const { key } of toWrite) if (key !== inDoubt) expect(doneKeys.has(key)).toBe(false);
    if (phase !== 'proven') continue;
    const { running, stored } = drive.registers.device.parameters;
    for (const { parameter, planned } of comparisons)
      if (planned !== undefined) expect([running[parameter.key], stored[parameter.key]]).toEqual([planned, planned]);
    return writings;
  }
  throw new Error(`not proven in the end: ${told().phase} ${told().because} ${drive.mailbox.state.linkMessage}`);
}

const figures: Record<string, number> = {};

describe('writing a drive over a line with faults', () => {
  const worlds = isProof ? 150 : 6;

  it('over TCP: every write is carried out once, or told', async () => {
    let count = 0;
    for (let k = 0; k < worlds; k++) {
      const random = seeded(proofSeed + k);
      const share = 0.02 + 0.06 * random();
      const faults = { isOn: true };
      let ledger: Ledger = { sent: [], done: [] };
      const drive = simulatedDrive(demoAxis, {
        misbehave: ({ key }): Misbehaviour | undefined => {
          if (key !== undefined && profiles.axis.parameters.some((each) => each.key === key)) ledger.sent.push(key);
          if (!faults.isOn || random() > share) return undefined;
          count++;
          return misbehaviours[Math.floor(random() * misbehaviours.length)];
        },
      });
      ledger = ledgerOf(drive);
      figures.writings = (figures.writings ?? 0) + (await world(drive, ledger, faults));
      drive.end();
    }
    figures['faults over TCP'] = count;
    expect(count).toBeGreaterThan(worlds * 5);
  }, 900_000);

  it('over a serial line: lost, broken, cut, doubled and late frames', async () => {
    let count = 0;
    for (let k = 0; k < worlds; k++) {
      const random = seeded(proofSeed + 1000 + k);
      const share = 0.01 + 0.03 * random();
      const faults = { isOn: true };
      const document = {
        ...demoAxis,
        link: {
          kind: 'serial',
          path: '/dev/x',
          baud: 115200,
          parity: 'even',
          stopBits: 1,
          unit: demoAxis.link.unit,
          profileId: 'p',
        } as const,
      };
      let ledger: Ledger = { sent: [], done: [] };
      const faultOf = (what: 'request' | 'answer', frame: Uint8Array): ByteFault | undefined => {
        const isWrite = what === 'request' && (frame[1] === 6 || frame[1] === 16);
        const key = isWrite ? parameterAt.get((frame[2] ?? 0) * 256 + (frame[3] ?? 0))?.key : undefined;
        if (key !== undefined) ledger.sent.push(key);
        if (!faults.isOn || random() > share) return undefined;
        count++;
        return byteFaults[Math.floor(random() * byteFaults.length)];
      };
      const drive = simulatedDrive(document, { line: (devices) => faultySerialLine(devices, faultOf, random) });
      ledger = ledgerOf(drive);
      figures.writings = (figures.writings ?? 0) + (await world(drive, ledger, faults));
      drive.end();
    }
    figures['faults over a serial line'] = count;
    expect(count).toBeGreaterThan(worlds * 2);
    recordProof('writing over faulty lines', { worlds: 2 * worlds, ...figures });
  }, 900_000);
});
