import { missingSample } from '@kavrid/contract';
import { deviceState } from '@kavrid/core/drive';
import { addressText } from '@kavrid/core/procedure';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis, demoAxisNamed, demoSpindle, tcpLink } from '../test/demoMembers.ts';
import { liveOf } from './liveOf.ts';
import { isMotionWord, simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

const axis = { ...demoAxis, testMove: { ...demoAxis.testMove, from: 30, distance: 200, repeats: 1 } };
const jogSpeed = axis.jogSpeed ?? 0;
let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});
type Profile = Parameters<NonNullable<Options['profile']>>[0];
type Options = NonNullable<Parameters<typeof simulatedDrive>[1]>;

describe('a mailbox and the drive of an axis', () => {
  const make = (options: Options = {}) => (drive = simulatedDrive(axis, options));
  const { version } = { version: 1 };
  const jog = (press: number, direction: 1 | -1 = 1, window = 'a') =>
    drive.say({ type: 'jog', version, press, direction, speed: jogSpeed }, window);
  const up = (press: number, window = 'a') => drive.say({ type: 'jogEnd', press }, window);
  const stands = () => drive.speed() < 1000;
  const jogging = async (options: Options = {}) => {
    await make(options).enabled();
    jog(1);
    await drive.until(() => drive.speed() > 500_000);
  };
  /** Whatever has been sent since a moment. */
  const since = (at: number) => drive.sent.slice(at);
  const homed = async () => {
    drive.say({ type: 'home', version });
    await drive.until(() => drive.runs.length === 1, 60_000);
    expect(drive.runs[0]).toMatchObject({ kind: 'homing', end: 'finished' });
    await drive.until(() => drive.mailbox.state.script === undefined);
  };

  it('enables, jogs, comes to rest when the key comes up, and is switched off', async () => {
    await jogging();
    expect(drive.temporary().map(({ key }) => key)).toEqual(['commandSource', '(motor)']);
    up(1);
    await drive.until(stands);
    await drive.until(() => drive.mailbox.state.stop === undefined);
    expect(drive.servo.state).toBe('operation enabled');
    drive.say({ type: 'disable' });
    await drive.until(() => drive.servo.state === 'switch on disabled');
    await drive.until(() => drive.temporary().every(({ key }) => key !== '(motor)'));
  });

  it('a pair is not enabled over the link of one of its motors', async () => {
    const pair = demoAxisNamed('Feed screws');
    expect(pair.pair).not.toBeNull();
    drive = simulatedDrive(pair);
    drive.holdsPlan();
    await drive.connected();
    drive.say({ type: 'enable', version, isPropped: false });
    expect(drive.lastRefusal()).toMatch(/^Two motors move this axis/);
    await drive.pass(500);
    expect(drive.sent.filter(isMotionWord)).toEqual([]);
  });

  it('with a hand at the axis nothing is switched on, and what another window takes over is given up', async () => {
    await make().connected();
    drive.holdsPlan();
    drive.say({ type: 'beginStep', version, step: 'handTurn', isByHand: false, given: {} });
    expect(drive.mailbox.state.guided?.phase).toBe('watching');
    drive.say({ type: 'enable', version, isPropped: false });
    expect(drive.lastRefusal()).toMatch(/^A guided step is under way/);
    drive.say({ type: 'writeDrive', version });
    expect(drive.lastRefusal()).toMatch(/^A guided step is under way/);
    drive.come('b');
    drive.say({ type: 'takeOver' }, 'b');
    expect(drive.mailbox.state.guided).toMatchObject({ phase: 'over', because: 'another window has taken over' });
    drive.say({ type: 'beginStep', version, step: 'handTurn', isByHand: false, given: {} }, 'b');
    drive.leave('b');
    expect(drive.mailbox.state.guided).toMatchObject({ phase: 'over' });
    await drive.pass(500);
    expect(drive.sent.filter(isMotionWord)).toEqual([]);
  });

  it('a guided jog has the speed and the direction of its step, and no other', async () => {
    await make().connected();
    drive.holdsPlan();
    for (const step of ['hardwareStop', 'warnings', 'handTurn', 'mainPower', 'standstill', 'bump'])
      drive.say({ type: 'skipStep', version, step, because: 'not for this test' });
    drive.say({ type: 'beginStep', version, step: 'jogPlus', isByHand: false, given: {} });
    await drive.until(() => drive.mailbox.state.guided?.phase === 'ready');
    const { drill } = drive.mailbox.state.guided ?? {};
    const speed = drill?.kind === 'jog' ? drill.speed : 0;
    for (const [direction, at, because] of [
      [1, jogSpeed, 'is not what is planned'],
      [1, speed * 2, 'is not what is planned'],
      [-1, speed, 'in the other direction'],
    ] as const) {
      drive.say({ type: 'jog', version, press: 1, direction, speed: at });
      expect(drive.lastRefusal()).toContain(because);
    }
    drive.say({ type: 'home', version });
    expect(drive.lastRefusal()).toMatch(/^A guided step is under way/);
    await drive.pass(300);
    expect(stands()).toBe(true);
    expect(drive.servo.parameters.value('torqueLimit')).toBeLessThan(100);
  });

  it('homes by the method on screen and makes the test move after its approach has been asked for', async () => {
    await make().enabled();
    drive.say({ type: 'testMove', version });
    expect(drive.lastRefusal()).toContain('Home the axis first');
    await homed();
    drive.say({ type: 'testMove', version });
    expect(drive.lastRefusal()).toContain('Go to the start first');
    drive.say({ type: 'goToStart', version });
    await drive.until(() => drive.mailbox.state.script === undefined, 60_000);
    drive.say({ type: 'testMove', version });
    await drive.until(() => drive.runs.length === 2, 60_000);
    expect(drive.runs[1]).toMatchObject({ kind: 'test move', end: 'finished', because: '' });
  });

  it('a recording that the drive overwrites before it is fetched has a gap; motion and link go on', async () => {
    await make().enabled();
    drive.say({ type: 'home', version });
    await drive.until(() => (drive.mailbox.state.recording?.taken ?? 0) > 100);
    // The drive is 4000 samples ahead at once, as after a stall of the line: its memory holds 3072.
    const { trace } = drive.servo;
    for (let k = 0; k < 4000; k++) trace.record([k, 0, 0, 0, 0, 0, 0, 0]);
    await drive.until(() => drive.runs.length === 1, 60_000);
    expect(drive.runs[0]).toMatchObject({ kind: 'homing', end: 'finished' });
    expect(drive.runs[0]?.because).toMatch(/^\d+ samples are missing, because the drive overwrote them/);
    const missing = Number(/^\d+/.exec(drive.runs[0]?.because ?? '')?.[0]);
    const samples = drive.recordings[0] ?? new Int32Array();
    expect(samples.filter((each) => each === missingSample)).toHaveLength(missing * 8);
    expect(missing).toBeGreaterThan(1000);
    expect(drive.mailbox.state.link).toBe('up');
    // What was recorded up to the end of the run is there, sample by sample.
    const last = samples.slice(-8);
    expect(last).not.toContain(missingSample);
  });

  it('what is only shown is looked at apart from what stops depend on', async () => {
    await make({ delay: 30 }).enabled();
    const isAnalog = ({ request }: SimulatedDrive['sent'][number]) => request.kind === 'read' && request.address === 76;
    const at = drive.sent.length;
    await drive.pass(1000);
    const reads = since(at).filter(({ request }) => request.kind === 'read');
    expect(reads.filter(isAnalog).length).toBeGreaterThan(1);
    expect(reads.filter(isAnalog).length).toBeLessThan(reads.length / 3);
    expect(liveOf('member', drive.mailbox.state, 'a', performance.now()).readings.values).toMatchObject({
      analogInput: 0,
    });
  });

  it('a drive that holds another method, gear or stop option than planned is not moved, and the difference is named', async () => {
    await make().enabled();
    drive.registers.device.parameters.write('homingMethod', 1);
    drive.save({ homing: { ...axis.homing, method: 37 } } as never);
    drive.say({ type: 'home', version: 2 });
    await drive.until(() => drive.lastRefusal() !== undefined);
    expect(drive.lastRefusal()).toMatch(/Homing method is minus limit, index in the drive and current position/);
    expect(stands()).toBe(true);
    drive.registers.device.parameters.running.gearNumerator = 4096;
    drive.say({ type: 'jog', version: 2, press: 1, direction: 1, speed: jogSpeed });
    await drive.until(() => drive.lastRefusal()?.includes('numerator') ?? false);
    drive.say({ type: 'disable' });
    await drive.until(() => drive.mailbox.state.stop === undefined && drive.mailbox.state.script === undefined);
    drive.holdsPlan();
    drive.registers.device.parameters.write('quickStopOption', 0);
    await drive.pass(100);
    drive.say({ type: 'enable', version: 2, isPropped: false });
    await drive.until(() => drive.lastRefusal()?.includes('coast') ?? false);
    drive.registers.device.parameters.write('quickStopOption', 2);
    drive.registers.device.parameters.write('watchdogTime', 0);
    drive.say({ type: 'enable', version: 2, isPropped: false });
    await drive.until(() => drive.lastRefusal()?.includes('watchdog is off') ?? false);
    expect(drive.servo.state).not.toBe('operation enabled');
  });

  it('an axis that its controller homes is not homed from here', async () => {
    await make().enabled();
    drive.save({ homing: { ...axis.homing, by: 'controller' } });
    drive.say({ type: 'home', version: 2 });
    await drive.until(() => drive.lastRefusal()?.includes('the controller homes this axis') ?? false);
    expect(drive.sent.filter(({ key, raw }) => key === 'modeOfOperation' && raw === 6)).toEqual([]);
    expect(stands()).toBe(true);
  });

  it('another version, a speed that is not planned, a press that has ended: nothing moves', async () => {
    await make().enabled();
    drive.say({ type: 'jog', version: 7, press: 1, direction: 1, speed: jogSpeed });
    expect(drive.lastRefusal()).toContain('version 7');
    drive.say({ type: 'jog', version, press: 2, direction: 1, speed: 99_999 });
    expect(drive.lastRefusal()).toContain('not what is planned');
    up(3);
    jog(3);
    await drive.pass(500);
    expect(drive.sent.filter(({ key, raw }) => key === 'targetVelocity' && raw !== 0)).toEqual([]);
    drive.save({ jogSpeed: 9000 });
    drive.say({ type: 'jog', version: 2, press: 4, direction: 1, speed: 9000 });
    expect(drive.lastRefusal()).toMatch(/is above 250 mm\/s, limited by the reduced speed/);
  });

  it.each([0, 15, 30])('short taps never run away, with a drive that answers after %i ms', async (delay) => {
    await make({ delay }).enabled();
    for (let press = 1; press <= 8; press++) {
      jog(press, press % 2 === 0 ? -1 : 1);
      await drive.pass(7 * press);
      up(press);
      // The other direction at once, with the next turn of the loop.
    }
    await drive.until(() => drive.mailbox.state.stop === undefined && drive.mailbox.state.script === undefined);
    await drive.until(stands, 1500);
  });

  it('a key-up that the drive refuses or loses is repeated, and becomes a quick stop', async () => {
    let isStubborn = false;
    await make({
      misbehave: ({ key, raw }) => (isStubborn && key === 'targetVelocity' && raw === 0 ? 'refuses 4' : undefined),
    }).enabled();
    jog(1);
    await drive.until(() => drive.speed() > 500_000);
    isStubborn = true;
    up(1);
    const at = drive.sent.length;
    await drive.until(stands, 1000);
    expect(drive.mailbox.state.isLatched).toBe(true);
    await drive.pass(500);
    expect(since(at).filter((sent) => isMotionWord(sent) || sent.key === 'heartbeat')).toEqual([]);
    jog(2);
    expect(drive.lastRefusal()).toContain('Enable the drive first');
  });

  it('a stop that is refused or lost is repeated until the drive stands, and no heartbeat keeps it going', async () => {
    for (const fault of ['refuses 6', 'loses the request', 'loses the answer'] as const) {
      let left = 0;
      await make({
        misbehave: ({ key, raw }) => (key === 'controlword' && raw === 2 && left-- > 0 ? fault : undefined),
      }).enabled();
      jog(1);
      await drive.until(() => drive.speed() > 500_000);
      left = 3;
      const at = drive.sent.length;
      drive.say({ type: 'stop' });
      await drive.until(stands, 800);
      await drive.until(() => drive.mailbox.state.stop === undefined);
      expect(since(at).filter((sent) => isMotionWord(sent) || sent.key === 'heartbeat')).toEqual([]);
      drive.end();
    }
  });

  it('a drive that ignores stops and counts every message is left in silence until its watchdog has run out', async () => {
    await make({
      profile: (profile) => ({ ...profile, watchdogFedBy: 'any message' }),
      misbehave: ({ key, raw }) => (key === 'controlword' && raw === 2 ? 'loses the request' : undefined),
    }).connected();
    const before = drive.sent.length;
    // The bench’s own watchdog is fed by its register: here the silence itself is looked at.
    drive.mailbox.post({ type: 'message', window: 'a', message: { type: 'readDrive', version } });
    await drive.pass(500);
    drive.holdsPlan();
    drive.say({ type: 'enable', version, isPropped: true });
    await drive.pass(300);
    drive.say({ type: 'stop' });
    await drive.pass(6000);
    const gaps = drive.sent.slice(before).map(({ at }, k, all) => at - (all[k - 1]?.at ?? at));
    expect(Math.max(...gaps)).toBeGreaterThan(200);
  });

  it('… however often Stop is said meanwhile', async () => {
    await make({
      profile: (profile) => ({ ...profile, watchdogFedBy: 'any write' }),
      misbehave: ({ key, raw }) => (key === 'controlword' && raw === 2 ? 'loses the request' : undefined),
    }).enabled();
    // Its watchdog is fed by any write here: the bench’s own register is written to beside.
    const beats = drive.sent.filter(({ key }) => key === 'quickStopDeceleration').length;
    await drive.pass(300);
    expect(drive.sent.filter(({ key }) => key === 'quickStopDeceleration').length).toBeGreaterThan(beats + 3);
    const at = drive.sent.length;
    for (let k = 0; k < 100; k++) {
      drive.say({ type: 'stop' });
      await drive.pass(33);
    }
    const gaps = since(at).map(({ at: now }, k, all) => now - (all[k - 1]?.at ?? now));
    expect(Math.max(...gaps)).toBeGreaterThan(200);
    expect(since(at).filter(({ key }) => key === 'quickStopDeceleration')).toEqual([]);
  });

  it('a link that is cut with the key down does not run on when it is back', async () => {
    await jogging();
    drive.servo.parameters.write('watchdogTime', 10_000);
    drive.cut();
    up(1);
    await drive.pass(400);
    const at = drive.sent.length;
    expect(drive.mailbox.state.linkMessage).toContain('watchdog has to stop it');
    await drive.until(() => drive.mailbox.state.link === 'up');
    expect(drive.mailbox.state.linkMessage).toContain('has been restored');
    await drive.until(stands, 600);
    expect(since(at).filter((sent) => isMotionWord(sent) || sent.key === 'heartbeat')).toEqual([]);
    const writes = since(at).filter(({ key }) => key !== undefined);
    expect(writes[0]).toMatchObject({ key: 'controlword', raw: 2 });
  });

  it('another drive at the address is met with reads only', async () => {
    await jogging();
    drive.cut();
    const at = drive.sent.length;
    const { identity } = drive.mailbox.state;
    // The identity that was known is another one.
    Object.assign(drive.mailbox.state, { identity: { ...identity, serial: 77 } });
    drive.setTemporary(drive.temporary().map((each) => ({ ...each, identity: `${0x5301}:77` })));
    await drive.until(() => drive.mailbox.state.link === 'up');
    await drive.pass(300);
    expect(since(at).filter(({ key }) => key !== undefined)).toEqual([]);
    expect(drive.mailbox.state.linkMessage).toContain('Another drive responds');
  });

  it('a drive that others have enabled is only watched', async () => {
    make().holdsPlan();
    drive.servo.terminals.outputs.set('controller: servo on', true);
    await drive.connected();
    await drive.pass(200);
    drive.say({ type: 'enable', version, isPropped: true });
    expect(drive.lastRefusal()).toContain('only watched');
    drive.say({ type: 'disable' });
    drive.say({ type: 'stop' });
    drive.leave();
    await drive.pass(500);
    expect(drive.sent.filter(({ key }) => key !== undefined)).toEqual([]);
    expect(drive.servo.state).toBe('operation enabled');
  });

  it('a drive that an earlier server has switched on is stopped at the next connect, and its source put back when confirmed', async () => {
    make().holdsPlan();
    const device = { identity: `${0x5301}:1`, address: addressText(axis.link) };
    drive.setTemporary([
      { key: '(motor)', label: 'Motor', original: 0, temporary: 1, since: '', ...device },
      { key: 'commandSource', label: 'Command source', original: 0, temporary: 1, since: '', ...device },
    ]);
    drive.registers.device.parameters.write('commandSource', 1);
    drive.registers.device.parameters.write('watchdogTime', 0);
    for (const word of [6, 7, 15]) drive.servo.control(word);
    await drive.connected();
    await drive.until(() => drive.servo.state === 'switch on disabled');
    await drive.until(() => drive.mailbox.state.stop === undefined);
    drive.say({ type: 'restore', isHostQuiet: false });
    expect(drive.lastRefusal()).toContain('host’s enable is off');
    drive.say({ type: 'restore', isHostQuiet: true });
    await drive.until(() => drive.temporary().length === 0);
    expect(drive.registers.device.parameters.running.commandSource).toBe(0);
  });

  it('a silent window, a hidden one, a sleeping computer and a mute drive end a jog', async () => {
    await jogging();
    drive.silence();
    await drive.until(stands, 700);
    expect(drive.mailbox.state.linkMessage).toContain('stopped responding');
    drive.end();

    await jogging();
    vi.setSystemTime(Date.now() + 5000);
    await drive.until(stands, 400);
    expect(drive.mailbox.state.linkMessage).toContain('clock');
    drive.end();

    let isMute = false;
    await jogging({ misbehave: ({ key }) => (isMute && key === undefined ? 'refuses 6' : undefined) });
    isMute = true;
    await drive.until(stands, 700);
    expect(drive.mailbox.state.linkMessage).toContain('has not reported its state');
  });

  it('only the window that holds the drive acts; taking over stops it first', async () => {
    await jogging();
    drive.come('b');
    drive.say({ type: 'home', version }, 'b');
    expect(drive.published.at(-1)).toMatchObject({ window: 'b', message: { type: 'refused' } });
    up(1, 'b');
    await drive.pass(100);
    expect(stands()).toBe(false);
    drive.say({ type: 'takeOver' }, 'b');
    await drive.until(stands, 600);
    drive.say({ type: 'enable', version, isPropped: true }, 'a');
    expect(drive.published.at(-1)).toMatchObject({ window: 'a', message: { type: 'refused' } });
    await drive.until(() => drive.mailbox.state.stop === undefined);
    drive.say({ type: 'enable', version, isPropped: true }, 'b', 'Another axis');
    expect(drive.lastRefusal()).toContain('Another axis is using the same drive');
  });

  it('nothing moves without a database, and what runs goes on without one', async () => {
    await make().connected();
    drive.holdsPlan();
    drive.setDataUp(false);
    drive.say({ type: 'enable', version, isPropped: true });
    await drive.until(() => drive.lastRefusal()?.includes('database does not respond') ?? false);
    expect(drive.sent.filter(isMotionWord)).toEqual([]);
    drive.end();
    await jogging();
    drive.setDataUp(false);
    await drive.pass(400);
    expect(drive.speed()).toBeGreaterThan(500_000);
    up(1);
    await drive.until(stands, 800);
  });

  it('a plan that changes while it moves ends the motion; a note does not', async () => {
    await jogging();
    drive.save({ notes: 'greased' });
    await drive.pass(200);
    expect(stands()).toBe(false);
    drive.save({ jogSpeed: 50 });
    await drive.until(stands, 800);
  });

  it('a suspended load is not enabled unless it is propped', async () => {
    const lift = { ...axis, load: { ...axis.load, incline: 90, mass: 50 } };
    drive = simulatedDrive(lift);
    drive.holdsPlan();
    await drive.connected();
    drive.say({ type: 'enable', version, isPropped: false });
    expect(drive.lastRefusal()).toContain('suspended');
    drive.say({ type: 'enable', version, isPropped: true });
    await drive.until(() => drive.servo.state === 'operation enabled');
  });

  it('a dwell ends with the stop, and the recording is kept', async () => {
    drive = simulatedDrive({ ...axis, testMove: { ...axis.testMove, dwell: 3600 } });
    await drive.enabled();
    await homed();
    drive.say({ type: 'goToStart', version });
    await drive.until(() => drive.mailbox.state.script === undefined, 60_000);
    drive.say({ type: 'testMove', version });
    await drive.pass(4000);
    drive.say({ type: 'stop' });
    await drive.until(() => drive.runs.length === 2);
    expect(drive.runs[1]).toMatchObject({ kind: 'test move', end: 'stopped' });
  });

  it('connecting and disconnecting again and again leaves one connection or none', async () => {
    make().come();
    void drive.mailbox.refresh();
    await drive.pass(10);
    for (let k = 0; k < 40; k++) {
      drive.say({ type: 'connect', version });
      await drive.pass(k % 7);
      drive.say({ type: 'disconnect' });
      await drive.pass(k % 3);
    }
    await drive.until(() => drive.mailbox.state.link === 'off');
    const before = drive.sent.length;
    await drive.pass(2000);
    expect(drive.sent.length).toBe(before);
  });

  it('a link that nobody watches is closed after a while, its motor off before, and the mailbox can be let go', async () => {
    await jogging();
    drive.leave();
    await drive.until(() => drive.servo.state === 'switch on disabled');
    await drive.pass(5000);
    expect(drive.mailbox.state.link).toBe('up');
    await drive.until(() => drive.mailbox.isIdle, 10_000);
    // Who comes back in time finds it as it was.
    await make().connected();
    drive.leave();
    await drive.pass(9000);
    drive.come('b');
    await drive.pass(5000);
    expect(drive.mailbox.state.link).toBe('up');
  });

  it('a map without a watchdog, or that does not say what feeds it, moves nothing', async () => {
    for (const profile of [
      (each: Profile): Profile => ({ ...each, watchdogFedBy: 'nothing' }),
      (each: Profile): Profile => ({
        ...each,
        parameters: each.parameters.filter(({ key }) => key !== 'watchdogTime'),
      }),
    ]) {
      make({ profile }).holdsPlan();
      await drive.connected();
      drive.say({ type: 'enable', version, isPropped: true });
      expect(drive.lastRefusal()).toMatch(/watchdog.*Motion is refused/);
      drive.end();
    }
  });

  it('a stop while the motor is being remembered leaves nothing behind for the next connect', async () => {
    make({ dataDelay: 40 }).holdsPlan();
    await drive.connected();
    drive.say({ type: 'enable', version, isPropped: true });
    await drive.until(() => drive.mailbox.state.isOurs);
    drive.say({ type: 'stop' });
    await drive.until(() => drive.mailbox.state.stop === undefined);
    await drive.pass(500);
    expect(drive.temporary().map(({ key }) => key)).not.toContain('(motor)');
    expect(drive.sent.filter(isMotionWord)).toEqual([]);
  });

  it('a drive that refuses to say who it is after a lost link is asked again, and stopped once it does', async () => {
    let isMute = false;
    await jogging({ misbehave: ({ key }) => (isMute && key === undefined ? 'refuses 6' : undefined) });
    drive.servo.parameters.write('watchdogTime', 10_000);
    isMute = true;
    drive.cut();
    await drive.pass(1500);
    expect(drive.mailbox.state.link).not.toBe('off');
    isMute = false;
    await drive.until(stands, 2000);
  });

  it('a database that answers too late enables nothing', async () => {
    make({ dataDelay: 3000 }).holdsPlan();
    await drive.connected();
    await drive.pass(4000);
    drive.say({ type: 'enable', version, isPropped: true });
    await drive.pass(8000);
    expect(drive.lastRefusal()).toContain('in time');
    expect(drive.sent.filter(isMotionWord)).toEqual([]);
  });

  it('inputs are forced with the motor off only, forbid motion while they are, and are free when their window has gone', async () => {
    make().holdsPlan();
    await drive.connected();
    const { inputs } = drive.servo.terminals;
    const force = async (key: string, to: 'active' | 'not active' | 'free') => {
      drive.say({ type: 'forceInput', version, key, to });
      await drive.pass(100);
    };
    await force('torqueOff1', 'active');
    expect(drive.lastRefusal()).toBe('Safe torque off is never forced.');
    drive.say({ type: 'forceInput', version, key: 'minusLimit', to: 'active' });
    // As soon as the first is done, before the drive has been looked at by itself.
    await drive.until(() => inputs.forced === 1 && drive.mailbox.state.script === undefined);
    await force('homeSwitch', 'not active');
    expect([inputs.forced, inputs.active & 5]).toEqual([0b101, 1]);
    expect(drive.temporary().map(({ label }) => label)).toEqual(['Forced inputs']);
    drive.say({ type: 'enable', version, isPropped: true });
    await drive.pass(100);
    expect(drive.lastRefusal()).toContain('Inputs of the drive are forced');
    drive.say({ type: 'sensorWalk', version });
    expect(drive.mailbox.state.walk).toBeUndefined();
    expect(drive.sent.filter(isMotionWord)).toEqual([]);
    await force('minusLimit', 'free');
    expect(inputs.forced).toBe(0b100);
    drive.leave();
    await drive.until(() => inputs.forced === 0 && drive.temporary().length === 0);

    // Enabled: nothing is forced, and what is asked for is refused.
    drive.come();
    await drive.pass(100);
    drive.say({ type: 'enable', version, isPropped: true });
    await drive.until(
      () => drive.mailbox.state.permits.enable !== undefined && drive.mailbox.state.script === undefined,
    );
    await force('minusLimit', 'not active');
    expect(drive.lastRefusal()).toContain('Disable the drive first');
    expect(inputs.forced).toBe(0);
  });

  it('forced inputs are free by themselves when the link has gone, and are not left in the list', async () => {
    make().holdsPlan();
    await drive.connected();
    drive.say({ type: 'forceInput', version, key: 'plusLimit', to: 'active' });
    await drive.until(() => drive.servo.terminals.inputs.forced === 2);
    drive.setReachable(false);
    drive.cut();
    await drive.until(() => drive.servo.terminals.inputs.forced === 0);
    expect(drive.temporary()).toHaveLength(1);
    drive.setReachable(true);
    await drive.until(() => drive.mailbox.state.link === 'up' && drive.temporary().length === 0);
  });

  it('a host outside this computer and private networks is connected only when that is confirmed', async () => {
    drive = simulatedDrive({ ...axis, link: { ...tcpLink(axis), host: 'drive.example' } });
    drive.come();
    void drive.mailbox.refresh();
    await drive.pass(100);
    drive.say({ type: 'connect', version });
    await drive.pass(100);
    expect(drive.lastRefusal()).toContain('drive.example is not on this computer or in a private network');
    expect(drive.transports()).toBe(0);
    drive.say({ type: 'connect', version, isFarConfirmed: true });
    await drive.until(() => drive.mailbox.state.link === 'up');
  });

  it('over a serial line, a motor is switched on only if a round fits into its watchdog three times', async () => {
    const over = (baud: 9600 | 115200) => ({
      ...axis,
      link: {
        kind: 'serial',
        path: '/dev/x',
        baud,
        parity: 'even',
        stopBits: 1,
        unit: axis.link.unit,
        profileId: 'p',
      } as const,
    });
    for (const [baud, because] of [
      [9600, /One round over this serial line takes up to \d+ ms at 9600 baud.*watchdog is set to 200 ms/],
      [115200, /Set it to \d+ ms or more/],
    ] as const) {
      drive = simulatedDrive(over(baud));
      drive.holdsPlan();
      await drive.connected();
      drive.say({ type: 'enable', version, isPropped: true });
      await drive.pass(3000);
      expect(drive.lastRefusal()).toMatch(because);
      expect(drive.sent.filter(isMotionWord)).toEqual([]);
      drive.end();
    }
    drive = simulatedDrive(over(115200));
    drive.registers.device.parameters.write('watchdogTime', 1000);
    drive.holdsPlan();
    await drive.connected();
    drive.say({ type: 'enable', version, isPropped: true });
    await drive.until(
      () => drive.mailbox.state.permits.enable !== undefined && drive.mailbox.state.script === undefined,
    );
    // No request is longer than the line may be kept.
    const reads = drive.sent.flatMap(({ request }) => (request.kind === 'read' ? [request.words] : []));
    expect(Math.max(...reads)).toBeLessThanOrEqual(125);
  });

  it('writes, stores, restarts and proves; a stop in between ends it before the next value', async () => {
    await make().connected();
    drive.say({ type: 'readDrive', version });
    await drive.until(() => drive.mailbox.state.procedure?.phase === 'review');
    drive.say({ type: 'writeDrive', version });
    await drive.until(() => drive.mailbox.state.procedure?.phase === 'proven');
    expect(drive.registers.device.parameters.stored.gearNumerator).toBe(12288);
    drive.end();

    await make({ delay: 20 }).connected();
    drive.say({ type: 'readDrive', version });
    await drive.until(() => drive.mailbox.state.procedure?.phase === 'review');
    drive.say({ type: 'writeDrive', version });
    await drive.until(() => drive.mailbox.state.procedure?.written.length === 2);
    const at = drive.sent.length;
    drive.say({ type: 'stop' });
    await drive.pass(1000);
    expect(drive.mailbox.state.procedure?.phase).toBe('failed');
    expect(since(at).filter(({ key }) => key !== undefined)).toEqual([]);
  });

  it('a walk along the sensors proves each that reacts alone, names those that are swapped, and keeps what it saw', async () => {
    await make().connected();
    const walk = async () => {
      drive.say({ type: 'sensorWalk', version });
      for (const source of ['minus limit switch', 'plus limit switch', 'home switch']) {
        await drive.until(() => drive.mailbox.state.walk?.walk.phase === 'trip');
        drive.servo.terminals.tripped.add(source);
        await drive.pass(600);
        drive.servo.terminals.tripped.delete(source);
        await drive.pass(800);
      }
      expect(drive.mailbox.state.walk?.walk.phase).toBe('done');
      return drive.mailbox.state.walk?.walk.verdicts;
    };
    expect(await walk()).toEqual({
      minusLimit: { kind: 'proven' },
      plusLimit: { kind: 'proven' },
      homeSwitch: { kind: 'proven' },
    });
    drive.servo.terminals.wiring.swap('minus limit', 'plus limit');
    expect(await walk()).toEqual({
      minusLimit: { kind: 'swapped', with: 'plusLimit' },
      plusLimit: { kind: 'swapped', with: 'minusLimit' },
      homeSwitch: { kind: 'proven' },
    });
    await drive.pass(100);
    expect(drive.proofs).toMatchObject([
      { kind: 'sensors', revision: 1, payload: { verdicts: { minusLimit: 'proven', homeSwitch: 'proven' } } },
      { kind: 'sensors', revision: 1, payload: { verdicts: { minusLimit: 'swapped', homeSwitch: 'proven' } } },
    ]);
    // It only reads.
    expect(drive.sent.filter(({ key }) => key !== undefined)).toEqual([]);
  });

  it('nothing is enabled while a hand is at the axis; a walk ends with its window, its link, or a drive that others enable', async () => {
    await make().enabled();
    drive.say({ type: 'sensorWalk', version });
    expect(drive.lastRefusal()).toContain('Disable the drive first');
    drive.say({ type: 'disable' });
    await drive.until(() => drive.servo.state === 'switch on disabled' && drive.mailbox.state.stop === undefined);
    await drive.pass(200);
    const phase = () => drive.mailbox.state.walk?.walk.phase;
    const start = async (window = 'a') => {
      drive.say({ type: 'sensorWalk', version }, window);
      await drive.until(() => phase() === 'trip');
    };
    await start();
    drive.say({ type: 'enable', version, isPropped: true });
    expect(drive.lastRefusal()).toContain('a hand at the axis');
    drive.say({ type: 'home', version });
    expect(drive.lastRefusal()).toContain('a hand at the axis');
    drive.say({ type: 'walkOn', what: 'nothing', because: '' });
    drive.say({ type: 'walkOn', what: 'skip', because: 'not fitted' });
    drive.say({ type: 'walkOn', what: 'end', because: '' });
    expect(drive.mailbox.state.walk?.walk).toMatchObject({
      phase: 'ended',
      verdicts: { minusLimit: { kind: 'no change' }, plusLimit: { kind: 'skipped', because: 'not fitted' } },
    });
    await start();
    drive.cut();
    await drive.until(() => phase() === 'ended');
    await drive.until(() => drive.mailbox.state.link === 'up');
    await drive.pass(300);
    await start();
    drive.registers.device.parameters.write('commandSource', 0);
    drive.servo.terminals.outputs.set('controller: servo on', true);
    await drive.until(() => phase() === 'ended');
    drive.servo.terminals.outputs.set('controller: servo on', false);
    await drive.pass(300);
    drive.come('b');
    drive.say({ type: 'takeOver' }, 'b');
    await start('b');
    drive.leave('b');
    expect(drive.mailbox.state.walk?.walk).toMatchObject({
      phase: 'ended',
      because: 'the window that asked for it has closed',
    });
    expect(drive.proofs.filter(({ kind }) => kind === 'sensors')).toEqual([]);
  });

  it('what reads as no drive of CiA 402 through its map is not met, and nothing is written', async () => {
    const identityKind = (profile: Profile) => profile.registers.identityKind ?? { address: 0 };
    make({
      profile: (profile) => ({
        ...profile,
        registers: {
          ...profile.registers,
          deviceType: { key: 'deviceType', type: 'u32', scale: 1, unit: '', address: identityKind(profile).address },
        },
      }),
    });
    drive.come();
    void drive.mailbox.refresh();
    await drive.until(() => drive.mailbox.state.plan !== undefined);
    drive.say({ type: 'connect', version });
    await drive.until(() => drive.mailbox.state.linkMessage.includes('0x1000'));
    expect(drive.mailbox.state.link).toBe('off');
    expect(drive.mailbox.state.linkMessage).toContain('reads 0x5301');
    expect(drive.sent.filter(({ key }) => key !== undefined)).toEqual([]);
  });

  it('a drive without a serial number is confirmed at each connect', async () => {
    await make({
      profile: ({ registers: { identitySerial: _, ...registers }, ...profile }) => ({ ...profile, registers }),
    }).connected();
    drive.holdsPlan();
    drive.say({ type: 'enable', version, isPropped: true });
    expect(drive.lastRefusal()).toContain('reports no serial number');
    // Left switched on at this address by an earlier session: stopped once it is confirmed to be that drive.
    const device = { identity: `${0x5301}:?`, address: addressText(axis.link) };
    Object.assign(drive.mailbox.state, {
      temporary: [{ key: '(motor)', label: 'Motor', original: 0, temporary: 1, since: '', ...device }],
    });
    drive.say({ type: 'confirmIdentity', mark: `${0x5301}:?` });
    expect(drive.mailbox.state.stop?.how).toBe('quick stop');
    await drive.until(() => drive.mailbox.state.stop === undefined);
    drive.say({ type: 'enable', version, isPropped: true });
    await drive.until(() => drive.servo.state === 'operation enabled');
  });
});

describe('a mailbox and the drive of a spindle', () => {
  const make = (options: Options = {}) => (drive = simulatedDrive(demoSpindle, options));
  const run = (speed = 900, reverse = false) => drive.say({ type: 'runSpindle', version: 1, speed, reverse });
  const running = async (options: Options = {}) => {
    make(options).holdsPlan();
    await drive.connected();
    run();
    await drive.until(() => drive.speed() > 2000);
  };

  it('runs, changes its speed and stops on its ramp', async () => {
    await running();
    run(1200);
    await drive.until(() => drive.vfd.outputHertz > 2990);
    drive.say({ type: 'stopSpindle' });
    await drive.until(() => drive.vfd.outputHertz === 0, 10_000);
    await drive.until(() => drive.mailbox.state.stop === undefined, 10_000);
    expect(deviceState(drive.vfd.statusword)).toBe('switched on');
    run(5000);
    expect(drive.lastRefusal()).toContain('above the 2400 rpm');
  });

  it.each([0, 15, 30])('Run and Stop at once never leave it turning, with answers after %i ms', async (delay) => {
    for (const gap of [0, 1, 10, 40, 90]) {
      make({ delay }).holdsPlan();
      await drive.connected();
      run();
      await drive.pass(gap);
      const at = drive.sent.length;
      drive.say({ type: 'stopSpindle' });
      await drive.pass(2500);
      expect(drive.vfd.outputHertz).toBe(0);
      expect(drive.sent.slice(at).filter(isMotionWord)).toEqual([]);
      drive.end();
    }
  });

  it('whose new speed is refused goes on under its window, and stops when that goes', async () => {
    await running();
    drive.registers.device.parameters.write('busTimeOut', 0);
    run(1200);
    await drive.until(() => drive.lastRefusal()?.includes('communication timeout is off') ?? false);
    expect(drive.vfd.state).toBe('operation enabled');
    drive.leave();
    await drive.until(() => drive.vfd.outputHertz === 0, 10_000);
    expect(drive.vfd.state).not.toBe('operation enabled');
  });

  it('does not run where nobody would stop it, and stops when its window goes', async () => {
    await running();
    drive.leave();
    await drive.pass(20);
    expect(drive.vfd.state).toBe('quick stop active');
    drive.end();
    make().holdsPlan();
    await drive.connected();
    drive.registers.device.parameters.write('lostLink', 0);
    run();
    await drive.until(() => drive.lastRefusal()?.includes('keep running without its link') ?? false);
    expect(drive.sent.filter(isMotionWord)).toEqual([]);
  });
});
