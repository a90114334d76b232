import { describe, expect, it } from 'vitest';
import { carriageWorld, grinderWorld, liftWorld, pumpWorld } from '../world/demoCell.ts';
import { makeBrushless } from './brushless/brushlessDevice.ts';
import { dataSheet, dictionaryOf, windowAddress } from './dataSheet.ts';
import { mapPath, readRegisterMap } from './registerMap.ts';
import { makeServo } from './servo/servoDevice.ts';
import { makeSpindle } from './spindle/spindleDevice.ts';
import { makeStepper } from './stepper/stepperDevice.ts';

const devices = {
  servo: { name: 'Bench servo drive', code: 0x5301, made: () => makeServo(carriageWorld) },
  stepper: { name: 'Bench closed-loop stepper', code: 0x5401, made: () => makeStepper(liftWorld) },
  brushless: { name: 'Bench brushless controller', code: 0x5501, made: () => makeBrushless(pumpWorld) },
  spindle: { name: 'Bench spindle drive', code: 0x5601, made: () => makeSpindle(grinderWorld) },
} as const;

describe.each(Object.entries(devices))('the data sheet of the %s', (device, { name, code, made }) => {
  const map = readRegisterMap(mapPath(device));
  const objects = dictionaryOf(map);
  const registers = made();

  it('is published beside its register map; after a change of the map, `npx vitest run bench -u` rewrites it', async () => {
    const text = dataSheet(objects, { name, code, file: `${device}.eds` }, (at) => registers.isWritable(at));
    await expect(`${text}\n`).toMatchFileSnapshot(`./${device}/${device}.eds`);
  });

  it('has each object once, at a place of its own, where it reads what its register reads', () => {
    const places = objects.map(windowAddress);
    expect(new Set(places).size).toBe(places.length);
    for (const { address, type, name: of, ...object } of objects) {
      const words = type.endsWith('32') ? 2 : 1;
      expect(registers.read(windowAddress(object), words), of).toEqual(registers.read(address, words));
    }
  });
});

describe('the windows of objects', () => {
  it('take writes as the registers do', () => {
    const registers = makeServo(carriageWorld);
    // Object 0x6065, the following-error window: 14592 + 0x65 · 6.
    expect(registers.write(14592 + 0x65 * 6, [1, 0])).toBeUndefined();
    expect(registers.device.parameters.value('followingErrorWindow')).toBe(65536);
    expect(registers.read(12288, 2)).toEqual([2, 0x192]);
    expect(registers.write(14592 + 0x41 * 6, [1])).toBe('illegal address');
  });
});
