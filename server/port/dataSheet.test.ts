import { readFileSync } from 'node:fs';
import { edsToMap, readDriveProfile, readEds } from '@kavrid/contract';
import { valuesOf } from '@kavrid/core/drive';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { profiles, simulatedDrive, type Misbehaviour, type Sent, type SimulatedDrive } from '../test/simulatedDrive.ts';

/** What the bench’s manual says of its addresses: base, registers an object and registers a sub-index. */
const rules = [
  { from: 0x1000, to: 0x10ff, base: 12288, stride: 8, step: 2 },
  { from: 0x2000, to: 0x207f, base: 14336, stride: 2, step: 2 },
  { from: 0x6000, to: 0x60ff, base: 14592, stride: 6, step: 2 },
];

function profileOf(changed = rules) {
  const sheet = readEds(readFileSync(new URL('../../bench/devices/servo/servo.eds', import.meta.url), 'utf8'));
  if (sheet.kind === 'refused') throw new Error(sheet.problems.join(' '));
  const map = edsToMap(sheet.eds, changed, { name: 'Unknown drive', wordOrder: 'high word first' });
  const read = readDriveProfile(map.csv);
  if (read.kind === 'refused') throw new Error(read.problems.join(' '));
  return { ...map, profile: read.profile };
}
const { profile, left, unproven } = profileOf();

let drive: SimulatedDrive;
const procedure = () => drive.mailbox.driveData().procedure;
const ended = () => drive.until(() => ['proven', 'failed', 'review'].includes(procedure().phase), 60_000);

async function begin(misbehave: (sent: Sent) => Misbehaviour | undefined = () => undefined, used = profile) {
  drive = simulatedDrive(demoAxis, { misbehave, profile: () => used });
  drive.come();
  drive.mailbox.news({ plan: drive.plan(), temporary: [], steps: [] });
  drive.say({ type: 'connect', version: 1 });
}

describe('the map made from a data sheet', () => {
  it('has every value of its own register map, with the same type, range and factory value', () => {
    expect([left, unproven]).toEqual([[], []]);
    for (const own of profiles.axis.parameters) {
      const found = profile.parameters.find(({ object, label }) =>
        own.object === undefined ? label === own.label : object === own.object,
      );
      expect(found, own.label).toMatchObject({
        type: own.type,
        minimum: Math.round(own.minimum / own.scale),
        maximum: Math.round(own.maximum / own.scale),
        factory: Math.round((own.factory ?? NaN) / own.scale),
      });
    }
  });
});

describe('a drive that is known by its data sheet alone', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => {
    drive.end();
    vi.useRealTimers();
  });

  it('is linked, compared, written, interrupted, and taken back to what it held before', async () => {
    let cuts = 0;
    const homing = profile.parameters.find(({ role }) => role === 'homingMethod');
    await begin(({ request }) =>
      request.kind === 'write' && request.address === homing?.address && cuts++ === 0 ? 'loses the answer' : undefined,
    );
    await drive.until(() => drive.mailbox.state.link === 'up' && drive.mailbox.state.reading !== undefined, 60_000);
    expect(drive.mailbox.state.identity).toMatchObject({ kind: 0x5301, firmware: 0x00010002 });
    const before = { ...drive.registers.device.parameters.written };
    drive.say({ type: 'readDrive', version: 1 });
    await drive.until(() => procedure().phase === 'review', 60_000);
    expect(procedure().toWrite.map(({ key }) => key)).toEqual([homing?.key]);
    drive.say({ type: 'writeDrive', version: 1 });
    await drive.pass(5);
    await ended();
    expect(procedure()).toMatchObject({ phase: 'failed', inDoubt: homing?.key, isStored: false });
    const [snapshot] = drive.snapshots;
    if (!snapshot) throw new Error('no snapshot');
    await drive.until(() => drive.mailbox.state.link === 'up' && drive.mailbox.state.stop === undefined, 60_000);
    drive.say({ type: 'readDrive', version: 1, target: { label: 'as it was', values: valuesOf(snapshot) } });
    await drive.pass(5);
    await drive.until(() => procedure().phase === 'review', 60_000);
    drive.say({ type: 'writeDrive', version: 1 });
    await drive.pass(5);
    await ended();
    expect(drive.registers.device.parameters.written).toEqual(before);
  });

  it('through wrong addresses it is not written to: object 0x1000 reads as no drive', async () => {
    const shifted = profileOf(rules.map((rule) => ({ ...rule, base: rule.base + 2 }))).profile;
    await begin(() => undefined, shifted);
    await drive.pass(3000);
    expect(drive.mailbox.state.linkMessage).toMatch(/object 0x1000|does not respond|exception/i);
    expect(drive.mailbox.state.link).not.toBe('up');
    expect(drive.sent.filter(({ request }) => request.kind === 'write')).toEqual([]);
  });
});
