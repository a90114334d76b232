import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis, demoSpindle } from '../test/demoMembers.ts';
import { simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

const standing = () => drive.mailbox.driveData().standing.kind;
const phase = () => drive.mailbox.driveData().procedure.phase;

/** Reads, writes what differs and proves, as from the screen. */
async function prove() {
  drive.say({ type: 'readDrive', version: drive.version() });
  await drive.until(() => phase() === 'review');
  drive.say({ type: 'writeDrive', version: drive.version() });
  await drive.until(() => phase() === 'proven' || phase() === 'failed');
  expect(drive.mailbox.driveData().procedure.because).toBeUndefined();
}

describe('proven', () => {
  it('is what was read back of this device for this plan, and ends with the first of them', async () => {
    drive = simulatedDrive(demoAxis);
    await drive.connected();
    expect(standing()).toBe('open');
    await prove();
    expect(standing()).toBe('proven');
    await drive.pass(50);
    expect(drive.proofs).toHaveLength(1);
    expect(drive.proofs[0]).toMatchObject({ kind: 'drive values', revision: 1 });

    // Another plan.
    const { positionGain } = demoAxis.settings;
    drive.save({ settings: { ...demoAxis.settings, positionGain: (positionGain ?? 40) + 5 } });
    expect(standing()).toBe('open');
    expect(drive.mailbox.driveData().proof?.staleBecause).toContain('the plan has changed');
    drive.save({ settings: demoAxis.settings });
    expect(standing()).toBe('proven');

    // A factory reset from elsewhere, seen at the next look.
    drive.registers.device.parameters.loadFactory();
    drive.registers.device.parametersChanged();
    drive.say({ type: 'readDrive', version: drive.version() });
    await drive.until(() => phase() === 'review');
    expect(standing()).toBe('open');
    await prove();

    // The link was away: nothing is known of what happened meanwhile until it has been read.
    drive.cut();
    await drive.until(() => drive.mailbox.state.link !== 'up');
    expect(standing()).toBe('not read');
    expect(phase()).not.toBe('proven');
    await drive.until(() => drive.mailbox.state.reading !== undefined);
    expect(standing()).toBe('proven');
  });

  it('needs a restart where the stored copy cannot be read, and a later session takes that proof over', async () => {
    drive = simulatedDrive(demoSpindle);
    await drive.connected();
    await prove();
    expect(standing()).toBe('proven');
    expect(drive.mailbox.driveData().procedure.log).toContain('Restarted.');

    drive.say({ type: 'disconnect' });
    await drive.until(() => drive.mailbox.state.link === 'off');
    expect(drive.mailbox.driveData()).toMatchObject({ standing: { kind: 'not read' } });
    drive.say({ type: 'connect', version: drive.version() });
    await drive.until(() => drive.mailbox.state.reading !== undefined && drive.mailbox.state.proof !== undefined);
    await drive.until(() => standing() === 'proven');

    // Changed and changed back by somebody who did not store it: what is stored is not known any more.
    const { parameters } = drive.registers.device;
    const before = parameters.running.rampUp ?? 0;
    parameters.write('rampUp', before + 10);
    drive.registers.device.parametersChanged();
    drive.say({ type: 'readDrive', version: drive.version() });
    await drive.until(() => phase() === 'review');
    parameters.write('rampUp', before);
    drive.registers.device.parametersChanged();
    drive.say({ type: 'readDrive', version: drive.version() });
    await drive.pass(50);
    await drive.until(() => phase() === 'review');
    expect(drive.mailbox.driveData().standing).toMatchObject({
      kind: 'open',
      differing: [{ parameter: { key: 'rampUp' }, standing: 'not stored' }],
    });
  });

  it('waits for a field whose text cannot be taken: nothing is enabled, written or moved by the value before it', async () => {
    drive = simulatedDrive(demoAxis);
    await drive.connected();
    await prove();
    drive.save({ unread: { '/gear/numerator': '16k' } });
    expect(drive.mailbox.driveData().standing).toMatchObject({ kind: 'waiting' });
    const at = drive.sent.length;
    for (const asked of [
      { type: 'enable', version: drive.version(), isPropped: true },
      { type: 'writeDrive', version: drive.version() },
      { type: 'jog', version: drive.version(), press: 1, direction: 1, speed: demoAxis.jogSpeed ?? 0 },
    ] as const) {
      drive.say(asked);
      await drive.pass(100);
      expect(drive.lastRefusal(), asked.type).toContain('16k');
    }
    expect(drive.sent.slice(at).filter(({ request }) => request.kind === 'write')).toEqual([]);
    drive.save({ unread: {} });
    expect(standing()).toBe('proven');
  });

  it('does not go with the plates of another motor, and neither does power', async () => {
    const { motor } = demoAxis;
    if (motor.form !== 'rotary') throw new Error('the demo has a rotary motor');
    drive = simulatedDrive({ ...demoAxis, motor: { ...motor, encoder: { kind: 'bits', bits: '17' } } });
    await drive.connected();
    expect(drive.mailbox.driveData().standing).toMatchObject({
      kind: 'other motor',
      differing: [{ label: 'Encoder', plate: 131072, drive: 1048576 }],
    });
    drive.say({ type: 'enable', version: drive.version(), isPropped: true });
    await drive.pass(500);
    expect(drive.lastRefusal()).toContain('the drive reports 1048576 counts per revolution, the nameplate says 131072');
    expect(drive.sent.some(({ key, raw }) => key === 'controlword' && (raw & 0x0f) === 0x0f)).toBe(false);
  });
});
