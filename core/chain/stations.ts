import { divide, exact, multiply, negate, toNumber, type Exact } from '../quantity/index.ts';
import { all, known, map, type Evaluation, type Outcome } from '../sheet/index.ts';
import type { AxisInput } from './axisInput.ts';
import type { AxisValues } from './axisSheet.ts';
import { ratioOf, travelFactorsOf, turnsBack, type Stage } from './stages/stage.ts';

/** One place on the way of a value from the controller to the load. */
export interface Station {
  readonly id: string;
  readonly kind: 'controller' | 'drive' | 'motor' | 'stage' | 'load';
  readonly stage?: Stage['kind'];
  readonly leaves: string;
  /** What leaves this station when the load moves one axis unit towards plus, without sign. */
  readonly perLoadUnit: Outcome<Exact>;
  /** +1: plus here is plus at the controller. The product of all inversions so far. */
  readonly sign: 1 | -1;
}

const flip = (when: boolean): 1 | -1 => (when ? -1 : 1);

/** The chain of an axis from the command to the load, with the value and the sense of turning at each station. */
export function stationsOf(input: AxisInput, results: Evaluation<AxisValues>): readonly Station[] {
  const { axisUnit } = input;
  const motorLeaves = input.motorForm === 'linear' ? 'mm' : 'turns';
  const stepsPerUnit = results.stepsPerUnit;
  const turns = map(all<[Exact, Exact]>(results.transmissionRatio, results.travelPerTurn), ([i, L]) => divide(i, L));
  const counts = map(all<[Exact, Exact]>(turns, results.countsPerRevolution), ([t, Q]) => multiply(t, Q));
  let sign: 1 | -1 = flip(input.commandInverted);
  const stations: Station[] = [
    { id: 'controller', kind: 'controller', leaves: 'pulses', perLoadUnit: stepsPerUnit, sign },
    { id: 'drive', kind: 'drive', leaves: 'counts', perLoadUnit: counts, sign },
  ];
  sign = (sign * flip(input.plusIsClockwise)) as 1 | -1;
  stations.push({ id: 'motor', kind: 'motor', leaves: motorLeaves, perLoadUnit: turns, sign });
  let after = turns;
  input.stages.forEach((stage, index) => {
    sign = (sign * flip(turnsBack(stage))) as 1 | -1;
    after = map(all<[Exact, Exact]>(after, ratioOf(stage)), ([t, ratio]) => divide(t, ratio));
    const travel = travelFactorsOf(stage);
    stations.push({
      id: `stage-${index}`,
      kind: 'stage',
      stage: stage.kind,
      leaves: travel ? axisUnit : 'turns',
      perLoadUnit: travel ? known(exact(1)) : after,
      sign,
    });
  });
  stations.push({ id: 'load', kind: 'load', leaves: axisUnit, perLoadUnit: known(exact(1)), sign });
  return stations;
}

/** A value sent down the chain: `value` leaves station `at`; the answer is what leaves every station, by id. */
export function probe(
  stations: readonly Station[],
  at: string,
  value: Exact,
): Readonly<Record<string, Outcome<Exact>>> {
  const source = stations.find((station) => station.id === at);
  const result: Record<string, Outcome<Exact>> = {};
  for (const station of stations) {
    result[station.id] = source
      ? map(all<[Exact, Exact]>(source.perLoadUnit, station.perLoadUnit), ([from, to]) => {
          const magnitude = divide(multiply(value, to), from);
          return source.sign === station.sign ? magnitude : negate(magnitude);
        })
      : { state: 'unknown', because: `there is no station ${at}` };
  }
  return result;
}

/** +1 when a plus command moves the load towards the end declared plus, −1 when towards the other. */
export const loadSign = (stations: readonly Station[]): 1 | -1 => stations.at(-1)?.sign ?? 1;

/** +1 when counts that go up in the drive move the load towards the end declared plus. */
export const countsSign = (stations: readonly Station[]): 1 | -1 =>
  ((stations.find((station) => station.kind === 'drive')?.sign ?? 1) * loadSign(stations)) as 1 | -1;

/** Load travel in axis units for a number of encoder counts. */
export const unitsPerCount = (results: Evaluation<AxisValues>): Outcome<number> =>
  map(results.feedbackResolution, toNumber);
