import { readFileSync } from 'node:fs';
import { connect } from 'node:net';
import { carriageWorld, makeServo, mapPath, serveModbus, type RunningServer } from '@kavrid/bench';
import { type AxisRecord, type RunRecord, type RunSummary } from '@kavrid/contract';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { WebSocket } from 'ws';
import { tcpLink } from '../test/demoMembers.ts';
import { freePort } from '../test/freePort.ts';
import { windowsOf } from '../test/liveWindow.ts';
import { slowWire } from '../test/slowWire.ts';
import { demoAxis, useServer } from '../test/testServer.ts';
import { channelsOfRun } from '../test/traces.ts';

const csv = readFileSync(mapPath('servo'), 'utf8');
const test = useServer();
const { openWindow, closeAll } = windowsOf(() => test.port);
const jogSpeed = demoAxis.jogSpeed ?? 0;
/** True when a live state has come that was not there before. */
const nextLive = ({ newest }: Awaited<ReturnType<typeof openWindow>>) => {
  const now = newest('live');
  return () => newest('live') !== now;
};
/** Waits for the device itself. */
const seen = (what: () => boolean) => vi.waitUntil(what, { timeout: 60_000, interval: 3 });

describe('commissioning an axis on the bench, over TCP', { timeout: 180_000 }, () => {
  let bench: RunningServer;
  let registers: ReturnType<typeof makeServo>;
  let benchPort = 0;
  let axis: AxisRecord;
  const isFast = () => registers.device.mechanics.velocityCounts > 500_000;
  const isSlow = () => Math.abs(registers.device.mechanics.velocityCounts) < 5000;
  beforeAll(async () => {
    benchPort = await freePort();
    registers = makeServo({ ...carriageWorld, startCounts: 600000 });
    // Server, bench and window share one thread here, on a computer that others use too.
    registers.device.parameters.write('watchdogTime', 10_000);
    registers.device.parameters.store();
    bench = await serveModbus(new Map([[1, registers]]), benchPort);
    const profile = (await (
      await fetch(`${test.base}/profiles`, { method: 'POST', body: csv, headers: { 'content-type': 'text/csv' } })
    ).json()) as { id: string };
    axis = await test.addAxis({
      ...demoAxis,
      link: { kind: 'tcp', host: '127.0.0.1', port: benchPort, unit: 1, profileId: profile.id },
      testMove: { ...demoAxis.testMove, from: 30, distance: 200, repeats: 1 },
    });
  });
  afterEach(async () => {
    closeAll();
    await seen(() => test.server.live.mailboxCount === 0 || registers.device.state !== 'operation enabled');
  });
  afterAll(() => bench.close());

  const enabled = async () => {
    const window = await openWindow(axis.id);
    await window.until('watched', () => window.state()?.version !== undefined);
    if (window.state()?.link !== 'up') window.say({ type: 'connect', version: window.version() });
    await window.until('linked', () => window.state()?.deviceState !== undefined && !window.state()?.isStopping);
    if (window.state()?.deviceState === 'fault') window.say({ type: 'resetFault' });
    // A window closed just now may still be on its way out, and stops the drive when it goes.
    await window.until('off', () => {
      const state = window.state();
      const isFree = state?.link === 'up' && state.holder === 'nobody' && !state.isStopping;
      return isFree && state.deviceState === 'switch on disabled';
    });
    window.say({ type: 'enable', version: window.version(), isPropped: false });
    await window.until('enabled', () => window.state()?.deviceState === 'operation enabled');
    await window.until('idle', () => window.state()?.activity === 'idle');
    return window;
  };
  const jogging = async () => {
    const window = await enabled();
    window.say({ type: 'jog', version: window.version(), press: 1, direction: 1, speed: jogSpeed });
    await seen(isFast);
    return window;
  };

  it('goes all the way: read, write, store, restart, prove; enable, jog, home, test move', async () => {
    const window = await openWindow(axis.id);
    const { say, until, state, newest, version, refused } = window;
    await window.prove();
    expect(registers.device.parameters.stored.gearNumerator).toBe(12288);
    expect(registers.device.parameters.running.gearNumerator).toBe(12288);
    expect(state()?.identity).toMatchObject({ serial: 1, isWeak: false, isConfirmed: true });

    say({ type: 'enable', version: version(), isPropped: false });
    await until('enabled', () => state()?.deviceState === 'operation enabled' && state()?.activity === 'idle');
    expect(state()?.temporary).toMatchObject([
      { key: 'commandSource', original: 'pulse input', temporary: 'field bus', isHere: true },
    ]);
    say({ type: 'jog', version: version(), press: 1, direction: 1, speed: jogSpeed });
    await until('jogging', () => (state()?.readings.values.speed ?? 0) > jogSpeed * 0.9);
    say({ type: 'jogEnd', press: 1 });
    await until('standing', () => Math.abs(state()?.readings.values.speed ?? 9) < 1);
    expect(registers.device.state).toBe('operation enabled');

    say({ type: 'testMove', version: version() });
    await refused('Home the axis first');
    say({ type: 'home', version: version() });
    await until('homed', () => newest('runSaved')?.run.kind === 'homing');
    expect(newest('runSaved')?.run.end).toBe('finished');
    expect(state()?.homed).toBe(true);
    await until('idle', () => state()?.activity === 'idle');

    say({ type: 'goToStart', version: version() });
    await until('on the way', () => state()?.activity === 'going to start');
    await until('there', () => state()?.activity === 'idle');
    say({ type: 'testMove', version: version() });
    await until('moved', () => newest('runSaved')?.run.kind === 'test move');
    const summary = newest('runSaved')?.run as RunSummary;
    expect(summary.end).toBe('finished');
    const { body: run } = await test.send<RunRecord>('GET', `/runs/${summary.id}`);
    const channel = await channelsOfRun(test.base, run);
    const actualSpeed = channel('actualSpeed');
    expect(run.trace.period).toBeCloseTo(0.001, 12);
    expect(Math.max(...channel('actualPosition'))).toBeCloseTo(230, 0);
    expect(channel('demandPosition')[0]).toBeCloseTo(30, 1);
    // S-curve by hand: 200 mm at 4000 mm/s², 40 000 mm/s³ peaks where (Ta − Tj)·a, Ta = 0.05 + √(0.0025 + 0.05) = 0.27913: 716.5 mm/s.
    expect(Math.max(...actualSpeed)).toBeGreaterThan(700);
    expect(Math.max(...actualSpeed)).toBeLessThan(740);

    await until('idle', () => state()?.activity === 'idle');
    say({ type: 'disable' });
    await until('off', () => state()?.deviceState === 'switch on disabled' && !state()?.isStopping);
    say({ type: 'restore', isHostQuiet: true });
    await until('restored', () => state()?.temporary.length === 0);
    expect(registers.device.parameters.running.commandSource).toBe(0);
    say({ type: 'disconnect' });
    await until('off', () => state()?.link === 'off');
  });

  it('stops when the window is closed, gives stopped responding, or another one says stop', async () => {
    (await jogging()).close();
    await seen(isSlow);
    await seen(() => registers.device.state === 'switch on disabled');
    expect(registers.device.error).toBe(0);

    (await jogging()).silence();
    await seen(() => registers.device.state === 'switch on disabled');
    closeAll();

    await jogging();
    const other = await openWindow(axis.id);
    await other.until('watched', () => other.state()?.holder === 'another window');
    other.say({ type: 'home', version: other.version() });
    await other.refused('Another window controls');
    other.say({ type: 'stop' });
    await seen(() => registers.device.state === 'switch on disabled');
    expect(registers.device.error).toBe(0);
  });

  it('another axis on the same drive waits, and does not drop what the first has enabled by watching', async () => {
    const window = await enabled();
    const second = await test.addAxis(axis.document);
    const other = await openWindow(second.id);
    await other.until('watched', () => other.state()?.version !== undefined);
    other.say({ type: 'connect', version: other.version() });
    await other.until('linked', () => other.state()?.deviceState === 'operation enabled');
    expect(other.state()?.isWatchOnly).toBe(true);
    other.say({ type: 'enable', version: other.version(), isPropped: false });
    await other.refused('is using the same drive');
    other.close();
    await window.until('still enabled', () => window.state()?.deviceState === 'operation enabled');
    expect(registers.device.state).toBe('operation enabled');
  });

  it('a link that is lost stops the axis, is told at once, and comes back by itself', async () => {
    const window = await jogging();
    await bench.close();
    await window.until('lost', () => window.state()?.link === 'lost');
    expect(window.state()?.message).toContain('watchdog has to stop it');
    bench = await serveModbus(new Map([[1, registers]]), benchPort);
    await window.until('linked again', () => window.state()?.link === 'up');
    await seen(() => registers.device.state === 'switch on disabled');
  });

  it.each([15, 30])('short taps on a drive that answers after %i ms never run away', async (delay) => {
    const wire = await slowWire(benchPort, delay);
    const slow = await test.addAxis({ ...axis.document, link: { ...tcpLink(axis.document), port: wire.port } });
    const window = await openWindow(slow.id);
    const { say, until, state, version } = window;
    await until('watched', () => state()?.version !== undefined);
    say({ type: 'connect', version: version() });
    await until('linked', () => state()?.deviceState === 'switch on disabled' && !state()?.isStopping);
    say({ type: 'enable', version: version(), isPropped: false });
    await until('enabled', () => state()?.deviceState === 'operation enabled' && state()?.activity === 'idle');
    for (let press = 1; press <= 12; press++) {
      say({ type: 'jog', version: version(), press, direction: press % 2 ? 1 : -1, speed: jogSpeed });
      // With the very next message, or after some that the server answers meanwhile.
      for (let k = 0; k < press % 4; k++) await until('a look', nextLive(window));
      say({ type: 'jogEnd', press });
    }
    await until('all ended', () => state()?.activity === 'idle' && state()?.isStopping === false);
    await seen(isSlow);
    expect(registers.device.state).toBe('operation enabled');
    say({ type: 'stop' });
    await seen(() => registers.device.state === 'switch on disabled');
    wire.close();
  });

  it('refuses nonsense on the live line, and survives a refused upgrade that is reset', async () => {
    const socket = new WebSocket(`ws://127.0.0.1:${test.port}/live`);
    await new Promise((resolve) => socket.on('open', resolve));
    let refusals = 0;
    const all = new Promise<void>((resolve) =>
      socket.on('message', (data) => {
        if (String(data).includes('refused') && ++refusals === 6) resolve();
      }),
    );
    for (const text of [
      '',
      '{',
      '[]',
      '{"type":"explode"}',
      '{"type":"home","version":1}',
      '{"type":"watch","memberId":"nobody"}',
    ])
      socket.send(text);
    await all;
    const closed = new Promise((resolve) => socket.on('close', resolve));
    socket.send('x'.repeat(2 ** 18 + 1));
    await closed;
    for (let k = 0; k < 5; k++) {
      const foreign = new WebSocket(`ws://127.0.0.1:${test.port}/live`, { origin: 'http://stranger.example' });
      await new Promise((resolve) => foreign.on('error', resolve));
      foreign.terminate();
    }
    for (let k = 0; k < 20; k++) {
      const raw = connect({ port: test.port, host: '127.0.0.1' });
      await new Promise((resolve) => raw.once('connect', resolve));
      const upgrade = ['GET /live HTTP/1.1', `Host: 127.0.0.1:${test.port}`, 'Origin: http://stranger.example'];
      const more = [
        'Connection: Upgrade',
        'Upgrade: websocket',
        'Sec-WebSocket-Version: 13',
        'Sec-WebSocket-Key: AAAA',
      ];
      raw.write(`${[...upgrade, ...more].join('\r\n')}\r\n\r\n`);
      const reset = new Promise((resolve) => raw.once('close', resolve));
      raw.resetAndDestroy();
      await reset;
    }
    expect((await test.send('GET', '/health')).status).toBe(200);
  });

  it('goes on while the data process is gone, starts nothing then, and keeps the recording', async () => {
    const window = await enabled();
    await test.endData();
    window.say({ type: 'jog', version: window.version(), press: 1, direction: 1, speed: jogSpeed });
    await seen(isFast);
    window.say({ type: 'jogEnd', press: 1 });
    await seen(isSlow);
    expect(registers.device.state).toBe('operation enabled');
    window.say({ type: 'disable' });
    await window.until(
      'off',
      () => window.state()?.deviceState === 'switch on disabled' && !window.state()?.isStopping,
    );
    window.say({ type: 'enable', version: window.version(), isPropped: false });
    await window.refused('database does not respond');
    const answer = await fetch(`${test.base}/health`);
    expect([answer.status, (await answer.json()) as unknown]).toMatchObject([
      503,
      { title: 'The data process does not respond.' },
    ]);
  });
});
