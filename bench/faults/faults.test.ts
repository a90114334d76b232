import { describe, expect, it } from 'vitest';
import { mapPath, readRegisterMap } from '../devices/registerMap.ts';
import { benchUnits, makeBench } from '../makeBench.ts';
import { answerPdu } from '../protocol/answerPdu.ts';
import { noTrouble, troubledReply } from '../protocol/replyTrouble.ts';
import { benchFaults, benchHands, type BenchFaultId } from './benchFaults.ts';
import { faultMapPath } from './faultPanel.ts';
import { hostMapPath } from '../host/host.ts';

const maps = {
  servo: readRegisterMap(mapPath('servo')),
  host: readRegisterMap(hostMapPath),
  faults: readRegisterMap(faultMapPath),
};

function bench() {
  const made = makeBench(() => ({}));
  const devices = new Map(
    Object.entries(made.parts).map(([part, each]) => [benchUnits[part as keyof typeof benchUnits], each]),
  );
  const at = (part: keyof typeof maps, key: string) => {
    const found =
      maps[part].registers.find((each) => each.key === key) ?? maps[part].parameters.find((each) => each.key === key);
    if (!found) throw new Error(`no register ${key}`);
    return found;
  };
  /** Reads a register over Modbus, like any other client. */
  const read = (part: keyof typeof maps, key: string) => {
    const { address, type } = at(part, key);
    const words = type.endsWith('32') ? 2 : 1;
    const pdu = answerPdu(devices, benchUnits[part], Uint8Array.of(3, address >> 8, address & 255, 0, words));
    const view = new DataView(pdu.buffer, pdu.byteOffset + 2);
    return words === 2 ? view.getInt32(0) : view.getUint16(0);
  };
  const write = (part: keyof typeof maps, key: string, value: number) => {
    const { address, type } = at(part, key);
    const bytes = type.endsWith('32') ? [value >> 24, value >> 16, value >> 8, value] : [value >> 8, value];
    const head = [16, address >> 8, address & 255, 0, bytes.length / 2, bytes.length];
    const pdu = answerPdu(devices, benchUnits[part], Uint8Array.of(...head, ...bytes.map((each) => each & 255)));
    return (pdu[0] ?? 0x80) < 0x80;
  };
  // Only the carriage and its controller are looked at.
  const { host, servo } = made.parts;
  const pass = (seconds: number) => {
    for (let t = 0; t < seconds - 1e-9; t += 0.004) for (const { device } of [host, servo]) device.advance(0.004);
  };
  /** Everything that shows at the terminals, the lines and in the drive after a little motion to and fro. */
  const look = () => {
    write('host', 'servoOn', 1);
    pass(0.02);
    write('host', 'moveBy', 5000);
    pass(0.4);
    const levels = read('servo', 'inputLevels');
    const counted = read('servo', 'pulsesCounted');
    write('host', 'moveBy', -5000);
    pass(0.6);
    const back = read('servo', 'pulsesCounted') - counted;
    write('host', 'alarmReset', 1);
    pass(0.01);
    const reset = read('servo', 'inputStates');
    write('host', 'alarmReset', 0);
    write('host', 'servoOn', 0);
    pass(0.2);
    return {
      levels,
      counted,
      back,
      reset,
      host: read('host', 'inputStates'),
      off: read('servo', 'inputLevels'),
    };
  };
  const fault = (id: BenchFaultId, isOn: boolean) => write('faults', id, isOn ? 1 : 0);
  return { ...made, read, write, pass, look, fault };
}

const bit = { minus: 1, plus: 2, home: 4, permit: 8, servoOn: 16, reset: 32, sto1: 64, sto2: 128 };

describe('faults of the bench', () => {
  it('have each a register in the map that the bench publishes, with the same label', () => {
    const listed = maps.faults.registers.map(({ key }) => key).filter((key) => !key.startsWith('identity'));
    expect(listed).toEqual([...Object.keys(benchHands), ...Object.keys(benchFaults)]);
  });

  it('none is there at first, and none says anything but 0 and 1', () => {
    const { read, write } = bench();
    for (const id of Object.keys(benchFaults) as BenchFaultId[]) expect(read('faults', id)).toBe(0);
    expect(write('faults', 'limitsSwapped', 2)).toBe(false);
    expect(write('faults', 'limitsSwapped', 1)).toBe(true);
    expect(read('faults', 'limitsSwapped')).toBe(1);
  });

  // Levels: normally closed limits, both relays and servo on carry current; 5 mm are 500 pulses.
  const sound = {
    levels: bit.minus | bit.plus | bit.permit | bit.servoOn | bit.sto1 | bit.sto2,
    moved: 500,
    hostAlarm: 0,
  };
  const levelsOf: Partial<Record<BenchFaultId, number>> = {
    minusLimitBroken: sound.levels & ~bit.minus,
    plusLimitBroken: sound.levels & ~bit.plus,
    homeShorted: sound.levels | bit.home,
    permitBroken: sound.levels & ~bit.permit,
    servoOnBroken: sound.levels & ~bit.servoOn,
    servoOnInverted: sound.levels & ~bit.servoOn,
    torqueOffOpen1: sound.levels & ~bit.sto1,
    torqueOffOpen2: sound.levels & ~bit.sto2,
  };
  // The pulse lines: plus counted, then minus counted. A broken direction line is low, which is minus.
  const countsOf: Partial<Record<BenchFaultId, readonly [number, number]>> = {
    pulseLineBroken: [0, 0],
    directionLineBroken: [-500, -500],
    // The direction now comes as one pulse, and pulses as a direction that is back before it counts.
    pulseLinesSwapped: [-1, 0],
    pulsesLost: [495, -495],
    pulsesDoubled: [505, -505],
    // The host does not move on an alarm input that is open.
    hostAlarmBroken: [0, 0],
  };
  it.each(Object.keys(benchFaults) as BenchFaultId[])(
    '%s changes what it says and nothing else, and leaves no trace',
    (id) => {
      const { look, fault, read } = bench();
      const normal = look();
      expect(normal).toMatchObject({ levels: sound.levels, counted: sound.moved, back: -sound.moved, host: 0 });
      const fresh = bench();
      fresh.fault(id, true);
      const faulty = fresh.look();
      expect(faulty.levels).toBe(levelsOf[id] ?? sound.levels);
      const [plus, minus] = countsOf[id] ?? [sound.moved, -sound.moved];
      expect([faulty.counted, faulty.back]).toEqual([plus, minus]);
      expect(faulty.host).toBe(id === 'hostAlarmBroken' ? 4 : 0);
      expect(faulty.reset & bit.reset).toBe(id === 'alarmResetBroken' ? 0 : bit.reset);
      expect(faulty.off & bit.servoOn).toBe(id === 'servoOnShorted' || id === 'servoOnInverted' ? bit.servoOn : 0);
      // On and off again, and everything is as if it had never been.
      fault(id, true);
      fault(id, false);
      expect(read('faults', id)).toBe(0);
      const again = look();
      expect({ ...again, counted: again.counted - normal.counted - normal.back }).toEqual(normal);
    },
  );

  it('swapped limits: the minus switch shows at the plus input, whichever way round the wires were before', () => {
    const { fault, parts, read, pass, write } = bench();
    fault('limitsSwapped', true);
    const { mechanics } = parts.servo.device;
    // Six turns by hand, beyond the minus limit.
    mechanics.turnedByHand = -200;
    pass(0.25);
    mechanics.turnedByHand = 0;
    expect(read('servo', 'inputs')).toBe(2);
    fault('limitsSwapped', false);
    pass(0.05);
    expect(read('servo', 'inputs')).toBe(1);
    expect(write('faults', 'limitsSwapped', 0)).toBe(true);
  });

  it('safe torque off takes the torque from a drive that runs, on either channel, and holds it off', () => {
    for (const id of ['torqueOffOpen1', 'torqueOffOpen2'] as const) {
      const { fault, write, read, pass } = bench();
      write('host', 'servoOn', 1);
      pass(0.02);
      expect(read('servo', 'statusword') & 0x6f).toBe(0x27);
      fault(id, true);
      pass(0.02);
      expect(read('servo', 'statusword') & 0x4f).toBe(0x40);
      fault(id, false);
      pass(0.02);
      // The terminals alone enable it: with servo on still there it comes back by itself.
      expect(read('servo', 'statusword') & 0x6f).toBe(0x27);
    }
  });

  it('locked parameters refuse every write until the code comes, and are locked again when power comes back', () => {
    const { fault, write, read, pass } = bench();
    fault('parametersLocked', true);
    expect(read('servo', 'locked')).toBe(1);
    expect(write('servo', 'positionGain', 500)).toBe(false);
    expect(write('servo', 'unlock', 1)).toBe(true);
    expect(write('servo', 'positionGain', 500)).toBe(false);
    write('servo', 'unlock', 0x2517);
    expect(write('servo', 'positionGain', 500)).toBe(true);
    write('servo', 'restart', 1);
    pass(1);
    expect(write('servo', 'positionGain', 510)).toBe(false);
    fault('parametersLocked', false);
    expect(write('servo', 'positionGain', 510)).toBe(true);
  });

  it('a sticking axis and a weak motor show in torque and following error', () => {
    const error = (id?: BenchFaultId) => {
      const { fault, write, read, pass } = bench();
      if (id) fault(id, true);
      write('servo', 'followingErrorWindow', 2_000_000_000);
      write('servo', 'inertiaRatio', 1640);
      write('host', 'servoOn', 1);
      pass(0.02);
      write('host', 'moveBy', 100000);
      pass(0.5);
      return {
        error: Math.abs(read('servo', 'followingErrorCounts')),
        torque: Math.abs((read('servo', 'torque') << 16) >> 16),
      };
    };
    const normal = error();
    expect(error('axisSticks').torque).toBeGreaterThan(2 * normal.torque);
    expect(error('torqueWeak').torque).toBeLessThanOrEqual(750);
  });

  it('replies are dropped, late, doubled, shortened or not sent at all, by number', () => {
    const frame = Uint8Array.of(1, 2, 3);
    const of = (trouble: Partial<ReturnType<typeof noTrouble>>, count: number) =>
      troubledReply({ ...noTrouble(), ...trouble }, frame, count);
    expect(of({}, 5)).toEqual({ frames: [frame], delay: 0 });
    expect(of({ dropsOneOf: 5 }, 5).frames).toEqual([]);
    expect(of({ dropsOneOf: 5 }, 6).frames).toEqual([frame]);
    expect(of({ shortensOneOf: 5 }, 10).frames).toEqual([Uint8Array.of(1, 2)]);
    expect(of({ delay: 400 }, 1)).toEqual({ frames: [frame], delay: 400 });
    expect(of({ isDoubled: true }, 1).frames).toHaveLength(2);
    expect(of({ isSilent: true, isDoubled: true }, 1).frames).toEqual([]);
  });
});
