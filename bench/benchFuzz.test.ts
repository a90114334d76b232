import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mapPath, readRegisterMap, type RegisterMap } from './devices/registerMap.ts';
import { choiceHostMapPath } from './host/choiceHost.ts';
import { hostMapPath } from './host/host.ts';
import { loopHostMapPath } from './host/loopHost.ts';
import { pwmHostMapPath } from './host/pwmHost.ts';
import { faultMapPath } from './faults/faultPanel.ts';
import { makeBench, type BenchPart } from './makeBench.ts';
import { runs } from './test/runs.ts';
import { corePlant } from './world/axisPlant.ts';
import { secondPlant } from './world/secondPlant.ts';

const servo = readRegisterMap(mapPath('servo'));
const pulses = readRegisterMap(hostMapPath);
const maps: Readonly<Partial<Record<BenchPart, RegisterMap>>> = {
  servo,
  turntable: servo,
  tileStop: servo,
  stepper: readRegisterMap(mapPath('stepper')),
  brushless: readRegisterMap(mapPath('brushless')),
  host: pulses,
  feedHost: pulses,
  tableHost: readRegisterMap(loopHostMapPath),
  stopHost: readRegisterMap(choiceHostMapPath),
  pumpHost: readRegisterMap(pwmHostMapPath),
  faults: readRegisterMap(faultMapPath),
};
const parts = Object.keys(maps) as BenchPart[];
const places = parts.flatMap((part) =>
  [...(maps[part]?.registers ?? []), ...(maps[part]?.parameters ?? [])].map(({ address, type }) => ({
    part,
    address,
    size: type.endsWith('32') ? 2 : 1,
  })),
);
const word = fc.oneof(
  fc.constantFrom(0, 1, 2, 3, 5, 6, 7, 15, 31, 0x80, 500, 0xffff),
  fc.integer({ min: 0, max: 65535 }),
);
const step = fc.record({
  place: fc.constantFrom(...places),
  words: fc.tuple(word, word),
  // 32-bit values are mostly small.
  isSmall: fc.boolean(),
  pause: fc.integer({ min: 0, max: 10 }),
});

describe('whatever is written to any part of the bench, hosts and faults too', () => {
  it.each([
    ['the plant of the predictions', corePlant, runs(40, 1000)],
    ['the second plant', secondPlant, runs(6, 200)],
  ])(
    'on %s, it answers, its mechanics stay numbers, and no motor is on without what it needs',
    (_, makePlant, numRuns) => {
      fc.assert(
        fc.property(fc.array(step, { minLength: 5, maxLength: 60 }), (steps) => {
          const { parts: bench } = makeBench(() => ({}), makePlant);
          // All that hosts command are on when it begins.
          for (const host of [bench.host, bench.tableHost, bench.stopHost, bench.feedHost]) host.write(0, [1]);
          for (let k = 0; k < 15; k++) for (const { device } of Object.values(bench)) device.advance(0.004);
          expect(bench.tileStop.device.state).toBe('operation enabled');
          for (const { place, words, isSmall, pause } of steps) {
            const sent = place.size === 1 ? [words[0]] : [isSmall ? 0 : words[0], words[1]];
            const answer = bench[place.part].write(place.address, sent);
            expect([undefined, 'illegal address', 'illegal value', 'busy']).toContain(answer);
            for (let k = 0; k < pause; k++) for (const { device } of Object.values(bench)) device.advance(0.004);
            for (const { device } of [bench.servo, bench.turntable, bench.tileStop, bench.feed]) {
              const { mechanics, terminals, state } = device;
              for (const value of [
                mechanics.loadCounts,
                mechanics.positionCounts,
                mechanics.demandCounts,
                mechanics.velocityCounts,
                mechanics.torque,
                device.encoderOutput,
                device.signals.volts,
              ])
                expect(Number.isFinite(value)).toBe(true);
              const isOn = mechanics.servo.enabled !== 0;
              // One look at the terminals later there is no torque without both channels.
              if (isOn && pause > 0) expect(terminals.hasTorque).toBe(true);
              if (state === 'fault') expect(isOn).toBe(false);
              if (isOn && state === 'operation enabled') expect(terminals.inputs.forced).toBe(0);
            }
          }
        }),
        { numRuns, seed: 15 },
      );
    },
  );
});
