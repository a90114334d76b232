import { valuesOf } from '@kavrid/core/drive';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { profiles, simulatedDrive, type Misbehaviour, type Sent, type SimulatedDrive } from '../test/simulatedDrive.ts';

let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

const keys = new Set(profiles.axis.parameters.map(({ key }) => key));
const isValue = ({ key = '' }: Sent) => keys.has(key);
const procedure = () => drive.mailbox.driveData().procedure;
const has = (phase: string) => drive.until(() => procedure().phase === phase);
const held = () => ({ ...drive.registers.device.parameters.written });

async function begin(misbehave: (sent: Sent) => Misbehaviour | undefined = () => undefined) {
  drive = simulatedDrive(demoAxis, { misbehave });
  await drive.connected();
  drive.say({ type: 'readDrive', version: 1 });
  await has('review');
}

/** Writes what was shown, until it has ended one way or the other. */
async function write() {
  drive.say({ type: 'writeDrive', version: 1 });
  await drive.pass(5);
  await drive.until(() => ['proven', 'failed', 'review'].includes(procedure().phase));
}

describe('a writing that is interrupted', () => {
  it.each(['cuts', 'loses the answer', 'loses the request', 'refuses 4'] as const)(
    'at any value (%s) says what was written, and goes on, or back to the snapshot',
    async (fault) => {
      await begin();
      const wanted = procedure().toWrite;
      const before = held();
      drive.end();
      expect(wanted.length).toBeGreaterThan(8);
      for (const at of [0, 3, wanted.length - 1])
        for (const way of ['on', 'back'] as const) {
          let count = 0;
          await begin((sent) => (isValue(sent) && count++ === at ? fault : undefined));
          await write();
          expect(procedure()).toMatchObject({ phase: 'failed', isStored: false });
          expect(procedure().written).toEqual(wanted.slice(0, at).map(({ key }) => key));
          expect(procedure().toWrite.map(({ key }) => key)).toEqual(wanted.slice(at).map(({ key }) => key));
          expect(procedure().inDoubt).toBe(fault === 'refuses 4' ? undefined : wanted[at]?.key);
          expect(drive.snapshots).toHaveLength(1);
          const [snapshot] = drive.snapshots;
          if (!snapshot) throw new Error('no snapshot');
          expect(valuesOf(snapshot)).toEqual(before);

          await drive.until(() => drive.mailbox.state.link === 'up' && drive.mailbox.state.stop === undefined);
          const values = valuesOf(snapshot);
          drive.say({
            type: 'readDrive',
            version: 1,
            target: way === 'on' ? 'as before' : { label: 'snapshot “A”', values },
          });
          await has('review');
          await write();
          expect(procedure().because).toBeUndefined();
          expect(procedure().phase).toBe('proven');
          if (way === 'back') expect(held()).toEqual(before);
          else for (const { key, to } of wanted) expect(held()[key]).toBe(to);
          // Only the plan, once proven, is a proof of it.
          await drive.pass(5);
          expect(drive.proofs).toHaveLength(way === 'on' ? 1 : 0);
          drive.end();
        }
    },
  );

  it('does not begin without its snapshot, in another device, or in a drive that has changed since it was shown', async () => {
    await begin();
    drive.setDataUp(false);
    await write();
    expect(procedure()).toMatchObject({ phase: 'failed', written: [] });
    expect(procedure().because).toContain('so nothing was written');
    drive.setDataUp(true);

    drive.say({ type: 'readDrive', version: 1 });
    await has('review');
    const { parameters } = drive.registers.device;
    parameters.write('positionGain', 333);
    drive.registers.device.parametersChanged();
    await write();
    expect(procedure()).toMatchObject({ phase: 'review', written: [] });
    expect(procedure().log.at(-1)).toContain('has changed since it was read');

    const { registers } = drive;
    const serial = profiles.axis.registers.identitySerial?.address ?? NaN;
    const read = registers.read.bind(registers);
    vi.spyOn(registers, 'read').mockImplementation((address, length) => {
      const words = read(address, length);
      return typeof words === 'string' ? words : words.map((word, k) => (address + k === serial + 1 ? word + 1 : word));
    });
    await write();
    expect(procedure()).toMatchObject({ phase: 'failed', written: [] });
    expect(procedure().because).toContain('another device');
    expect(drive.sent.filter(isValue)).toEqual([]);
  });
});

describe('a locked drive', () => {
  it('is unlocked by the code of its map for the writing, and locked again when it is over', async () => {
    await begin();
    const { servo } = drive;
    servo.locksAtPowerOn = true;
    servo.isLocked = true;
    await write();
    expect(procedure().because).toBeUndefined();
    expect(procedure().phase).toBe('proven');
    await drive.until(() => servo.isLocked);
    expect(procedure().log).toContain('The parameters have been unlocked.');
    drive.end();

    // The link goes in the midst of it: that it stays unlocked is told.
    let values = 0;
    await begin((sent) => (isValue(sent) && ++values === 3 ? 'cuts' : undefined));
    drive.servo.isLocked = true;
    await write();
    expect(procedure().phase).toBe('failed');
    await drive.pass(5);
    expect(drive.servo.isLocked).toBe(false);
    expect(drive.lastRefusal()).toContain('could not be locked again');
    drive.end();

    // Another code: the drive says no to the first value, which is named with the meaning of its refusal.
    drive = simulatedDrive(demoAxis, { profile: (profile) => ({ ...profile, unlockCode: 1 }) });
    await drive.connected();
    drive.servo.isLocked = true;
    drive.say({ type: 'readDrive', version: 1 });
    await has('review');
    await write();
    expect(procedure().phase).toBe('failed');
    expect(procedure().because).toMatch(/^Homing method: .*does not take this value now \(Modbus exception 3\)/);
    expect(procedure()).toMatchObject({ written: [] });
  });
});

describe('values from elsewhere', () => {
  it('are compared and shown before they are written; what the map lacks, or the drive cannot take, is told', async () => {
    await begin();
    const ask = async (values: Readonly<Record<string, number>>) => {
      drive.say({ type: 'readDrive', version: 1, target: { label: 'file “x”', values } });
      await drive.pass(5);
      await has('review');
    };
    await ask({ positionGain: 777, ghost: 1 });
    expect(procedure()).toMatchObject({
      target: { label: 'file “x”' },
      toWrite: [{ key: 'positionGain', from: drive.registers.device.parameters.written.positionGain, to: 777 }],
    });
    expect(procedure().log).toContain('Left out, because the register map does not have them: ghost.');
    await write();
    expect(procedure().phase).toBe('proven');
    expect(drive.sent.filter(isValue).map(({ key, raw }) => [key, raw])).toEqual([['positionGain', 777]]);
    expect(procedure().log.at(-1)).toBe('Every value of file “x” is running and stored.');
    expect(drive.mailbox.driveData().standing.kind).toBe('open');

    await ask({ positionGain: 99_999_999 });
    await write();
    expect(procedure()).toMatchObject({ phase: 'failed', because: 'Position loop gain takes 1 to 1000 1/s' });
    expect(drive.sent.filter(isValue)).toHaveLength(1);
  });

  it('are kept under a name on request, and what cannot be kept is told', async () => {
    await begin();
    drive.say({ type: 'takeSnapshot', version: 1, name: 'Before service' });
    await drive.until(() => drive.snapshots.length === 1);
    expect(drive.snapshots[0]).toMatchObject({ name: 'Before service', map: 'Bench servo drive' });
    await drive.pass(5);
    expect(drive.published.some(({ message }) => message.type === 'snapshotKept')).toBe(true);
    // One at a time, and nothing is written meanwhile.
    drive.say({ type: 'takeSnapshot', version: 1, name: 'Second' });
    drive.say({ type: 'takeSnapshot', version: 1, name: 'Third' });
    expect(drive.lastRefusal()).toBe('A snapshot is being taken already.');
    drive.say({ type: 'writeDrive', version: 1 });
    expect(drive.lastRefusal()).toContain('A snapshot is being taken.');
    await drive.until(() => drive.snapshots.length === 2 && drive.mailbox.state.snapshot === undefined);
    expect(drive.sent.filter(isValue)).toEqual([]);
    drive.setDataUp(false);
    drive.say({ type: 'takeSnapshot', version: 1, name: 'Lost' });
    await drive.pass(500);
    expect(drive.lastRefusal()).toContain('No snapshot was kept');
    drive.cut();
    await drive.pass(5);
    drive.say({ type: 'takeSnapshot', version: 1, name: 'Nowhere' });
    expect(drive.lastRefusal()).toContain('Connect first');
    expect(drive.snapshots).toHaveLength(2);
  });
});
