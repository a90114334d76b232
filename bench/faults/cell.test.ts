import { describe, expect, it } from 'vitest';
import { benchFaults, benchHands } from './benchFaults.ts';
import { makeBench } from '../makeBench.ts';
import { corePlant } from '../world/axisPlant.ts';
import { secondPlant } from '../world/secondPlant.ts';

type Id = keyof typeof benchFaults | keyof typeof benchHands;
const switches = { ...benchHands, ...benchFaults };

/** The whole cell with its time. */
function cell(makePlant = corePlant) {
  const { parts } = makeBench(() => ({}), makePlant);
  const { servo, turntable, tileStop, feed, secondFeed, stepper, brushless, spindle } = parts;
  const hosts = { table: parts.tableHost.device, feed: parts.feedHost.device };
  const pass = (seconds: number) => {
    for (let t = 0; t < seconds - 1e-9; t += 0.004)
      for (const { device } of Object.values(parts)) device.advance(0.004);
  };
  const bench = {
    servo: servo.device,
    spindle: spindle.device,
    host: parts.host.device,
    stepper: stepper.device,
    liftHost: parts.liftHost.device,
    brushless: brushless.device,
    turntable: turntable.device,
    tableHost: hosts.table,
    tileStop: tileStop.device,
    feed: feed.device,
    replies: { dropsOneOf: 0, shortensOneOf: 0, delay: 0, isDoubled: false, isSilent: false },
  };
  const fault = (id: Id, isOn = true) => switches[id].set(bench, isOn);
  const on = (device: { readonly terminals: { readonly outputs: Map<string, boolean> } }, is = true) =>
    device.terminals.outputs.set('controller: servo on', is);
  return {
    ...bench,
    secondFeed: secondFeed.device,
    hosts,
    stopHost: parts.stopHost,
    pass,
    fault,
    on,
  };
}

/** Of the turntable: counts of the motor in a degree, behind a worm of 72. */
const countsPerDegree = (2 ** 20 * 72) / 360;

describe('a position loop in the controller', () => {
  const runs = (id?: Id) => {
    const world = cell();
    const { turntable, hosts, pass, fault, on } = world;
    if (id) fault(id);
    on(turntable);
    pass(0.5);
    const start = turntable.mechanics.loadCounts;
    hosts.table.moveBy(90);
    pass(0.6);
    const lag = hosts.table.followingError;
    pass(3);
    return { ...world, lag, moved: (turntable.mechanics.loadCounts - start) / countsPerDegree };
  };

  it('goes 90° and follows with speed over gain: 80°/s at 30 1/s are 2.67°', () => {
    const { lag, moved, turntable } = runs();
    // One feedback count is 1/1638.4°, one step of the drive's converter 0.03°/s.
    expect(moved).toBeCloseTo(90, 1);
    expect(lag / 1638.4).toBeCloseTo(80 / 30, 1);
    expect(turntable.state).toBe('operation enabled');
  });

  it('holds against a drifted command with the drift over the gain: 0.2 V are 5°/s, so 0.167°', () => {
    const { hosts, moved } = runs('analogDrift');
    expect(-hosts.table.followingError / 1638.4).toBeCloseTo(5 / 30, 1);
    expect(moved).toBeCloseTo(90, 0);
  });

  it.each(['analogReversed', 'feedbackSwapped'] as const)(
    'runs away with %s until the error limit takes servo on',
    (id) => {
      const { hosts, turntable, moved } = runs(id);
      expect(hosts.table.hasTripped).toBe(true);
      expect(turntable.state).toBe('switch on disabled');
      expect(Math.abs(moved)).toBeGreaterThan(1);
      expect(Math.abs(turntable.mechanics.velocityCounts)).toBeLessThan(1);
    },
  );

  it.each(['analogBroken', 'feedbackBroken'] as const)('trips at its error limit with %s', (id) => {
    const { hosts, moved } = runs(id);
    expect(hosts.table.hasTripped).toBe(true);
    if (id === 'analogBroken') expect(moved).toBeCloseTo(0, 1);
    else expect(moved).toBeGreaterThan(8);
  });

  it('homes by its own inputs on the flag and the index pulse, wherever it begins, to the same place', () => {
    const { turntable, hosts, pass, on } = cell();
    on(turntable);
    pass(0.1);
    const { parameters } = hosts.table;
    for (const [key, raw] of [
      ['homingMethod', 7],
      ['homingSearchSpeed', 30_000],
      ['positionAtHome', 12_000],
    ] as const)
      parameters.write(key, raw);
    const zeros = [1, 2].map(() => {
      expect(hosts.table.home()).toBe(true);
      for (let waited = 0; hosts.table.isRunning && waited < 60; waited += 0.5) pass(0.5);
      expect(hosts.table.isHomed).toBe(true);
      hosts.table.moveTo(12);
      pass(2);
      const at = turntable.mechanics.loadCounts / countsPerDegree;
      hosts.table.moveBy(100);
      pass(3);
      return at;
    });
    expect((zeros[1] ?? 0) - (zeros[0] ?? 0)).toBeCloseTo(360, 1);
  });

  it('a signal that is there moves the axis as soon as servo on comes', () => {
    const { turntable, pass, on } = cell();
    turntable.parameters.write('commandSource', 2);
    turntable.signals.analog.sent = 1;
    pass(0.1);
    expect(turntable.mechanics.velocityCounts).toBe(0);
    on(turntable);
    turntable.signals.analog.sent = 1;
    // 3000 rpm at 10 V; the host, which closes its loop, takes its own command at once.
    turntable.advance(0.2);
    expect((turntable.mechanics.velocityCounts * 60) / 2 ** 20).toBeCloseTo(300, -1);
  });
});

describe('signals of a servo drive', () => {
  it.each([
    ['speed by a duty cycle', 4, { rawNumerator: 3000, rawDenominator: 1023 }, 1500],
    ['torque by a duty cycle', 5, { rawNumerator: 20, rawDenominator: 1023 }, undefined],
    ['torque by a voltage', 3, { signalFullTorque: 200 }, undefined],
  ] as const)('%s', (_, source, settings, rpm) => {
    const { turntable, pass, on } = cell();
    for (const [key, raw] of Object.entries({ commandSource: source, ...settings }))
      turntable.parameters.write(key, raw);
    turntable.parametersChanged();
    turntable.signals.pwm.sent = 0.5;
    on(turntable);
    turntable.signals.analog.sent = 5;
    turntable.advance(0.3);
    if (rpm) expect((turntable.mechanics.velocityCounts * 60) / 2 ** 20).toBeCloseTo(rpm, -1);
    // Half of 20 %, both ways.
    else expect(turntable.mechanics.torque / 10).toBeCloseTo(10, 0);
    turntable.signals.pwm.isBroken = true;
    turntable.advance(0.01);
    expect(turntable.state).toBe(source === 3 ? 'operation enabled' : 'fault');
    on(turntable, false);
    pass(0.01);
  });

  it('a pair gets the same pulses; mirrored, the second motor turns the other way', () => {
    const { feed, secondFeed, hosts, pass, on } = cell();
    for (const device of [feed, secondFeed]) {
      device.parameters.write('gearNumerator', 131072);
      device.parameters.write('gearDenominator', 625);
      Object.assign(device.parameters.running, device.parameters.written);
      device.parametersChanged();
      on(device);
    }
    pass(0.05);
    const [a, b] = [feed.mechanics.demandCounts, secondFeed.mechanics.demandCounts];
    hosts.feed.moveBy(10);
    pass(1.5);
    // 10 mm at 100 pulses/mm are 1000 pulses, 209 715.2 counts.
    expect(Math.abs(feed.mechanics.demandCounts - a - 209_715.2)).toBeLessThan(1);
    expect(Math.abs(secondFeed.mechanics.demandCounts - b - 209_715.2)).toBeLessThan(1);
    expect(Math.sign(feed.mechanics.loadCounts - 150 * (2 ** 20 / 5))).toBe(1);
    expect(Math.sign(secondFeed.mechanics.loadCounts - 150 * (2 ** 20 / 5))).toBe(1);
    expect(Math.sign(secondFeed.mechanics.servo.motorAngle - feed.mechanics.servo.motorAngle)).toBe(-1);
  });
});

describe('stored moves picked by inputs', () => {
  const perMillimetre = 2 ** 17 / 5;
  const moves = {
    move0Kind: 1,
    move0Target: 10 * perMillimetre,
    move1Kind: 1,
    move1Target: 85 * perMillimetre,
    move2Kind: 4,
    move2Speed: -10 * perMillimetre,
    move2TorqueLimit: 300,
    plusSoftLimit: 98 * perMillimetre,
    minusSoftLimit: -100 * perMillimetre,
    homingMethod: 17,
    homingSearchSpeed: 20 * perMillimetre,
    homingCreepSpeed: 2 * perMillimetre,
    homingAcceleration: 200 * perMillimetre,
    followingErrorWindow: 3 * perMillimetre,
    velocityFeedforward: 900,
  };
  const stop = () => {
    const world = cell();
    const { tileStop, stopHost, pass, on } = world;
    for (const [key, raw] of Object.entries(moves)) tileStop.parameters.write(key, Math.round(raw));
    for (const n of [0, 1, 2]) {
      tileStop.parameters.write(`move${n}Acceleration`, 1500 * perMillimetre);
      tileStop.parameters.write(`move${n}Deceleration`, 1000 * perMillimetre);
      if (n < 2) tileStop.parameters.write(`move${n}Speed`, 150 * perMillimetre);
    }
    tileStop.parametersChanged();
    const pick = (pattern: number) => {
      stopHost.device.cells().pattern?.write?.(pattern);
      stopHost.device.cells().start?.write?.(1);
    };
    const at = () => tileStop.mechanics.positionCounts / perMillimetre;
    const homed = () => {
      on(tileStop);
      for (let waited = 0; !tileStop.homed && waited < 20; waited += 0.2) pass(0.2);
      pass(0.3);
    };
    return { ...world, pick, at, homed };
  };

  it('homes when it is enabled, goes up and down by pattern and start, and is in position', () => {
    const { tileStop, pick, at, homed, pass } = stop();
    homed();
    expect(tileStop.homed).toBe(true);
    pick(1);
    pass(0.03);
    expect(tileStop.isInPosition).toBe(false);
    // 75 mm and more at 150 mm/s with ramps of 0.1 and 0.15 s.
    pass(1);
    expect(at()).toBeCloseTo(85, 1);
    expect(tileStop.isInPosition).toBe(true);
    pick(0);
    pass(1.2);
    expect(at()).toBeCloseTo(10, 1);
  });

  it('a stop input that goes off stops on its ramp; nothing starts while it is off', () => {
    const { tileStop, pick, at, homed, pass } = stop();
    homed();
    pick(1);
    pass(0.3);
    tileStop.terminals.outputs.set('controller: stop', false);
    pass(0.4);
    const stood = at();
    expect(stood).toBeGreaterThan(10);
    expect(stood).toBeLessThan(80);
    pick(0);
    pass(0.5);
    expect(at()).toBeCloseTo(stood, 1);
    tileStop.terminals.outputs.set('controller: stop', true);
    pass(0.5);
    expect(at()).toBeCloseTo(stood, 1);
  });

  it('a broken start wire starts nothing, a broken choice wire picks another move', () => {
    const starts = stop();
    starts.homed();
    starts.fault('startWireBroken');
    const before = starts.at();
    starts.pick(1);
    starts.pass(1);
    expect(starts.at()).toBeCloseTo(before, 1);
    const choice = stop();
    choice.homed();
    choice.fault('choiceWireBroken');
    choice.pick(1);
    choice.pass(1.2);
    expect(choice.at()).toBeCloseTo(10, 1);
  });

  it('pushes against what holds it with the torque of its move, and stays', () => {
    const { tileStop, pick, homed, pass } = stop();
    homed();
    pick(1);
    pass(1.2);
    tileStop.mechanics.trouble.friction = 60;
    tileStop.mechanics.changed();
    pick(2);
    pass(1.5);
    expect(Math.abs(tileStop.mechanics.torque)).toBeLessThanOrEqual(301);
    expect(tileStop.state).toBe('operation enabled');
    expect(tileStop.mechanics.velocityCounts).toBe(0);
  });

  it.each([
    ['brakeStaysShut', 'up'],
    ['brakeStaysOpen', 'falls'],
    ['brakeSlips', 'falls'],
    ['brakeWireBroken', 'up'],
    [undefined, 'up'],
  ] as const)('%s: with the motor off the load %s', (id, what) => {
    const { tileStop, homed, fault, on, pass } = stop();
    homed();
    if (id) fault(id);
    pass(0.2);
    const before = tileStop.mechanics.loadCounts;
    on(tileStop, false);
    pass(0.6);
    const fell = (before - tileStop.mechanics.loadCounts) / perMillimetre;
    if (what === 'falls') expect(fell).toBeGreaterThan(1);
    // The brake shuts before the torque goes: it gives way by less than 0.05 mm.
    else expect(Math.abs(fell)).toBeLessThan(0.05);
  });

  it('a brake that stays shut holds against the motor, which trips', () => {
    const { tileStop, pick, homed, fault, pass } = stop();
    homed();
    pick(1);
    pass(1.2);
    fault('brakeStaysShut');
    tileStop.parameters.write('torqueChoice0', 500);
    pick(0);
    pass(1);
    expect(tileStop.state).toBe('fault');
    expect(tileStop.error).toBe(0x8611);
  });
});

describe.each([
  ['the plant of the predictions', corePlant],
  ['the second plant', secondPlant],
])('wires of motor, encoder and mechanics, on %s', (_, makePlant) => {
  const moved = (id?: Id) => {
    const world = cell(makePlant);
    const { servo, host, pass, fault, on } = world;
    if (id) fault(id);
    for (const [key, raw] of Object.entries({ gearNumerator: 12288, gearDenominator: 125, inertiaRatio: 1640 }))
      servo.parameters.write(key, raw);
    Object.assign(servo.parameters.running, servo.parameters.written);
    servo.parametersChanged();
    on(servo);
    pass(0.05);
    const start = servo.mechanics.loadCounts;
    host.moveBy(100);
    pass(3);
    return { ...world, millimetres: (servo.mechanics.loadCounts - start) / ((2 ** 20 * 3) / 320) };
  };

  it.each(['encoderSwapped', 'phasesSwapped'] as const)(
    '%s: the axis runs away until the following-error window',
    (id) => {
      const { servo } = moved(id);
      expect([servo.state, servo.error]).toEqual(['fault', 0x8611]);
    },
  );

  it('the shaft turned by hand tells the two apart: only exchanged channels count backwards', () => {
    const counted = (id?: Id) => {
      const { servo, fault, pass } = cell(makePlant);
      if (id) fault(id);
      const before = servo.mechanics.positionCounts;
      fault('turnPlus');
      pass(2);
      fault('turnPlus', false);
      pass(0.2);
      return (servo.mechanics.positionCounts - before) / 2 ** 20;
    };
    expect(counted()).toBeCloseTo(1, 1);
    expect(counted('phasesSwapped')).toBeCloseTo(1, 1);
    expect(counted('encoderSwapped')).toBeCloseTo(-1, 1);
  });

  it('a wrong pulley goes twice as far, a slipping coupling less far; the encoder sees neither', () => {
    expect(moved().millimetres).toBeCloseTo(100, 0);
    const wrong = moved('travelDoubled');
    expect(wrong.millimetres).toBeCloseTo(200, 0);
    const slipping = moved('couplingSlips');
    expect(slipping.millimetres).toBeLessThan(99);
    for (const { servo } of [wrong, slipping]) expect(servo.mechanics.positionIncrements).toBeCloseTo(10_000, -1);
  });

  it('without main supply nothing is switched on, and what is on trips', () => {
    const { servo, fault, on, pass } = cell(makePlant);
    fault('mainSupplyOff');
    on(servo);
    pass(0.05);
    expect(servo.state).toBe('switch on disabled');
    fault('mainSupplyOff', false);
    pass(0.05);
    expect(servo.state).toBe('operation enabled');
    fault('mainSupplyOff');
    pass(0.05);
    expect([servo.state, servo.error]).toEqual(['fault', 0x3220]);
    // Power that returns restarts nothing.
    fault('mainSupplyOff', false);
    pass(0.2);
    expect(servo.state).toBe('fault');
  });
});

describe('other devices of the cell', () => {
  it('the lift pushed out of its position trips, and the pump without its signal', () => {
    const { stepper, brushless, fault, pass } = cell();
    stepper.terminals.outputs.set('controller: servo on', true);
    brushless.parameters.write('signalLossTrips', 1);
    brushless.outputs.set('controller: enable', true);
    brushless.line.sent = 0.5;
    pass(0.5);
    expect([stepper.state, brushless.state]).toEqual(['operation enabled', 'operation enabled']);
    fault('pushLift');
    fault('pwmBroken');
    pass(0.5);
    expect([stepper.state, brushless.state]).toEqual(['fault', 'fault']);
  });

  it('a spindle on low mains trips on undervoltage, and without its resistor on overvoltage', () => {
    const run = (id: Id) => {
      const { spindle, fault, pass } = cell();
      for (const [key, raw] of Object.entries({
        runSource: 2,
        speedSource: 3,
        rampDown: 10,
        rampUp: 30,
        brakeResistor: 1,
      }))
        spindle.parameters.write(key, raw);
      Object.assign(spindle.parameters.running, spindle.parameters.written);
      spindle.parametersChanged();
      const cells = spindle.cells();
      const start = () => {
        for (const word of [6, 7, 15]) spindle.control(word);
      };
      start();
      cells.speedReference?.write?.(5000);
      for (let t = 0; t < 4; t += 0.1) {
        spindle.heard();
        pass(0.1);
      }
      fault(id);
      cells.speedReference?.write?.(id === 'spindleResistorOpen' ? 0 : 5000);
      for (let t = 0; t < 2; t += 0.1) {
        spindle.heard();
        pass(0.1);
      }
      return [spindle.state, spindle.error];
    };
    expect(run('spindleSupplyLow')).toEqual(['fault', 0x3220]);
    expect(run('spindleResistorOpen')).toEqual(['fault', 0x3210]);
  });
});
