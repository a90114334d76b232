import { carriageWorld, makeHost, type Host } from '@kavrid/bench';
import { judgedHostMoves } from '@kavrid/contract';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoAxis } from '../test/demoMembers.ts';
import { isMotionWord, simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

const hostMoves = { distance: 40, speed: 200, repeats: 2 };
const axis: typeof demoAxis = { ...demoAxis, moves: { ...demoAxis.moves, host: hostMoves } };
const version = 1;
let drive: SimulatedDrive;
let host: Host;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

async function linked() {
  drive = simulatedDrive(axis, {
    world: { ...carriageWorld, startCounts: Math.round(carriageWorld.plusLimit * 0.5) },
    beside: ({ servo }) => (host = makeHost(servo).device),
  });
  drive.holdsPlan();
  await drive.connected();
  const own = host.parameters;
  own.write('stepsPerUnit', 100_000);
  own.write('speed', 200_000);
  own.write('acceleration', 4_000_000);
  own.write('maximumRate', 100_000);
}

/** The moves, made at the controller while they are recorded. */
async function recorded() {
  drive.say({ type: 'recordController', version });
  await drive.until(() => drive.mailbox.state.progress.startsWith('Recording'));
  drive.servo.terminals.outputs.set('controller: servo on', true);
  await drive.pass(500);
  host.moveBy(hostMoves.distance);
  await drive.until(() => !host.isRunning, 60_000);
  await drive.pass(300);
  host.repeat(1);
  for (let k = 0; k < 2; k++) {
    await drive.until(() => !host.isRunning, 60_000);
    await drive.pass(300);
  }
  host.moveBy(-hostMoves.distance);
  await drive.until(() => !host.isRunning, 60_000);
  await drive.pass(500);
  drive.say({ type: 'endRecording' });
  await drive.until(() => drive.runs.length > 0 && !drive.mailbox.state.recording, 20_000);
  const run = drive.runs.at(-1);
  return { run, judged: judgedHostMoves(axis, drive.lastTrace()) };
}
const causes = (judged: ReturnType<typeof judgedHostMoves>) =>
  'because' in judged ? judged.because : judged.faults.map(({ cause }) => cause);

describe('moves by the controller, through the real command path', () => {
  it('are recorded without a word that moves anything, and judged: pulses, travel and speed are right', async () => {
    await linked();
    const { run, judged } = await recorded();
    expect(run).toMatchObject({ kind: 'controller move', end: 'finished' });
    expect(drive.sent.filter(isMotionWord)).toEqual([]);
    expect(causes(judged)).toEqual([]);
    if ('because' in judged) return;
    expect(judged.figures).toMatchObject({ moves: 4, pulsesWanted: 4000 });
    expect(judged.figures?.pulsesReceived).toBeCloseTo(4000, 6);
    expect(judged.figures?.pulsesDrifted).toBeCloseTo(0, 6);
    expect(judged.figures?.travelError).toBeLessThan(0.1);
    // The drive is the controller’s as before.
    expect(drive.temporary()).toEqual([]);
    expect(drive.servo.state).toBe('operation enabled');
  });

  it.each([
    ['steps per unit of twice as many', () => host.parameters.write('stepsPerUnit', 200_000), ['known factor']],
    ['steps per unit by the inch', () => host.parameters.write('stepsPerUnit', 3937), ['known factor']],
    ['direction inverted', () => host.parameters.write('directionInverted', 1), ['inverted']],
    ['two pulses for a direction', () => host.parameters.write('pulseForm', 1), ['one way']],
    ['an output that is too slow', () => host.parameters.write('maximumRate', 5000), ['too slow']],
    ['a pulse of two hundred lost', () => void (host.line.trouble.losesOneOf = 200), ['scale off']],
  ] as readonly (readonly [string, () => void, readonly string[]])[])('%s: found by name', async (_, wrong, found) => {
    await linked();
    wrong();
    const { judged } = await recorded();
    expect(causes(judged)).toEqual(found);
  });

  it('are not recorded while the motor is on from here, or the drive still listens to the link', async () => {
    await linked();
    drive.say({ type: 'enable', version, isPropped: false });
    await drive.until(
      () => drive.servo.state === 'operation enabled' && drive.mailbox.state.script === undefined,
      20_000,
    );
    drive.say({ type: 'recordController', version });
    expect(drive.lastRefusal()).toMatch(/Disable it: the controller is to enable it/);
    drive.say({ type: 'disable' });
    await drive.until(() => drive.servo.state === 'switch on disabled', 20_000);
    await drive.until(() => !drive.mailbox.state.isOurs && drive.mailbox.state.stop === undefined);
    drive.say({ type: 'recordController', version });
    expect(drive.lastRefusal()).toMatch(/command source is still set to this link/);
    drive.say({ type: 'endRecording' });
    expect(drive.lastRefusal()).toMatch(/No moves of the controller are being recorded/);
  });

  const endings: readonly (readonly [string, () => void, string])[] = [
    ['Stop is said', () => drive.say({ type: 'stop' }), 'stopped'],
    ['the window goes', () => drive.leave(), 'stopped'],
    ['the window is silent', () => drive.silence(), 'stopped'],
    ['the link is lost', () => drive.cut(), 'link lost'],
    ['the drive has an alarm', () => void (drive.servo.hasMainSupply = false), 'fault'],
  ];
  it.each(endings)('what was recorded is kept when %s; the controller is not stopped by it', async (_, end, as) => {
    await linked();
    drive.say({ type: 'recordController', version });
    await drive.until(() => drive.mailbox.state.progress.startsWith('Recording'));
    drive.servo.terminals.outputs.set('controller: servo on', true);
    await drive.pass(500);
    host.moveBy(hostMoves.distance);
    await drive.pass(100);
    end();
    await drive.until(() => drive.runs.length > 0 && drive.mailbox.state.script === undefined, 20_000);
    expect(drive.runs.at(-1)).toMatchObject({ kind: 'controller move', end: as });
    await drive.until(() => !host.isRunning, 60_000);
    expect(drive.sent.filter(isMotionWord)).toEqual([]);
    expect(drive.temporary()).toEqual([]);
  });
});
