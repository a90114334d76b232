import { toNumber } from '../quantity/index.ts';
import { allOf, known, map, type Evaluation, type Outcome } from '../sheet/index.ts';
import { resistanceShare, type SpindleInput, type SpindleValues } from '../spindle/index.ts';
import type { SpindleEvent } from './runSpindle.ts';
import type { SpindleDefinition } from './spindleDefinition.ts';

/** Largest torque over rated torque of small induction motors, and A at which a drive trips over its rated ones (common practice). */
const breakdown = 2.5;
const tripShare = 2;

/** The spindle as input of the plant, connected as on the nameplate and set as planned. */
export function spindleDefinition(
  { drive, settings, resistor, runTest }: SpindleInput,
  results: Evaluation<SpindleValues>,
): Outcome<SpindleDefinition> {
  const chopper = resistor && runTest.withResistor && drive.hasChopper;
  const given = allOf({
    poles: results.poles,
    ratedVolts: results.motorVolts,
    ratedHertz: results.plateHertz,
    ratedCurrent: results.motorCurrent,
    ratedTorque: results.ratedTorque,
    ratedSlip: map(results.slip, (slip) => slip / 100),
    noLoadCurrent: results.noLoadCurrent,
    curve: results.curve,
    inertia: results.totalInertia,
    friction: results.frictionTorque,
    rampUp: settings.rampUp,
    rampDown: settings.rampDown,
    holdCurrent: map(allOf({ rated: drive.ratedCurrent, share: drive.overload }), ({ rated, share }) => rated * share),
    protectionCurrent: settings.protectionCurrent,
    tripCurrent: map(drive.ratedCurrent, (rated) => tripShare * rated),
    tripVolts: map(results.brakingSupply, (supply) => supply.tripVolts),
    leastVolts: drive.leastVolts,
    capacitance: drive.capacitance,
    supplyVolts: results.busVolts,
    idlePower: drive.idlePower,
    resistor: chopper ? allOf({ ohms: resistor.ohms, volts: drive.chopperVolts }) : known(undefined),
  });
  return map(given, (values) => ({
    ...values,
    stepRate: 2000,
    breakdown,
    statorResistance: (resistanceShare * values.ratedVolts) / (Math.sqrt(3) * values.ratedCurrent),
    windage: 0,
  }));
}

/** The steps of the run test: tool speeds in Hz, the load on the motor, the stop, an interruption of the supply. */
export function runTestEvents(
  { runTest, settings }: SpindleInput,
  { hertzPerToolRpm, ratioNumber }: Evaluation<SpindleValues>,
): Outcome<{ readonly events: readonly SpindleEvent[]; readonly duration: number }> {
  const { speeds, load, stopAt, supplyCut, duration } = runTest;
  const given = allOf({ speeds, load, stopAt, duration, perRpm: map(hertzPerToolRpm, toNumber), ratio: ratioNumber });
  return map(given, ({ speeds: steps, load: pushed, stopAt: stop, duration: seconds, perRpm, ratio }) => {
    const events: SpindleEvent[] = steps.map(({ at, toolSpeed }) => ({ at, kind: 'speed', hertz: toolSpeed * perRpm }));
    if (pushed) {
      events.push({ at: pushed.at, kind: 'load', torque: pushed.torque / ratio });
      events.push({ at: pushed.until, kind: 'load', torque: 0 });
    }
    events.push(settings.stopWay === 'coast' ? { at: stop, kind: 'coast' } : { at: stop, kind: 'speed', hertz: 0 });
    if (supplyCut) {
      events.push({ at: supplyCut.at, kind: 'supply', isOn: false });
      events.push({ at: supplyCut.until, kind: 'supply', isOn: true });
    }
    return { events: events.sort((a, b) => a.at - b.at), duration: seconds };
  });
}
