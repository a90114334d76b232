import { add as addExact, divide, exact, isZero, multiply, negate, toNumber, type Exact } from '../quantity/index.ts';
import { all, known, map, type Evaluation, type Outcome } from '../sheet/index.ts';
import type { AxisInput } from './axisInput.ts';
import type { AxisValues } from './axisValues.ts';
import { carriedBy, commandEnds, type Carried } from './commandKinds.ts';
import { ratioOf, travelFactorsOf, turnsBack } from './stages/stage.ts';
import type { Station } from './station.ts';

const flip = (when: boolean): 1 | -1 => (when ? -1 : 1);

/** The chain of an axis from the command to the load, with the value and the sense of turning at each station. */
export function stationsOf(input: AxisInput, results: Evaluation<AxisValues>): readonly Station[] {
  const carried = carriedBy(input.command);
  const isLinear = input.motorForm === 'linear';
  const turns = map(all<[Exact, Exact]>(results.transmissionRatio, results.travelPerTurn), ([i, L]) => divide(i, L));
  const atLoad = loadUnit(input, carried);
  let after = motorShare(input, carried, turns);
  let sign: 1 | -1 = flip(input.commandInverted);
  const [controller, drive] = commandEnds({ input, results, motor: after, sign });
  sign = (sign * flip(input.plusIsClockwise)) as 1 | -1;
  const motorLeaves = {
    way: isLinear ? 'mm' : 'turns',
    speed: isLinear ? 'mm/s' : 'rpm',
    torque: isLinear ? 'N' : 'N·m',
  }[carried];
  const shaftLeaves = { way: 'turns', speed: 'rpm', torque: 'N·m' }[carried];
  const stations: Station[] = [
    controller,
    drive,
    { id: 'motor', kind: 'motor', leaves: motorLeaves, perLoadUnit: after, sign },
  ];
  input.stages.forEach((stage, index) => {
    sign = (sign * flip(turnsBack(stage))) as 1 | -1;
    after = map(all<[Exact, Exact]>(after, ratioOf(stage)), ([value, ratio]) =>
      carried === 'torque' ? multiply(value, ratio) : divide(value, ratio),
    );
    const travel = travelFactorsOf(stage);
    stations.push({
      id: `stage-${index}`,
      kind: 'stage',
      stage: stage.kind,
      leaves: travel ? atLoad : shaftLeaves,
      perLoadUnit: travel ? known(exact(1)) : after,
      sign,
    });
  });
  stations.push({ id: 'load', kind: 'load', leaves: atLoad, perLoadUnit: known(exact(1)), sign });
  return stations;
}

/** What the load is seen to do. */
function loadUnit({ axisUnit, motionKind }: AxisInput, carried: Carried): string {
  switch (carried) {
    case 'way':
      return axisUnit;
    case 'speed':
      return `${axisUnit}/s`;
    case 'torque':
      return motionKind === 'linear' ? 'N' : 'N·m';
  }
}

/** What leaves the motor for one at the load; losses are left out. */
function motorShare(input: AxisInput, carried: Carried, turns: Outcome<Exact>): Outcome<Exact> {
  switch (carried) {
    case 'way':
      return turns;
    case 'speed':
      return input.motorForm === 'linear' ? turns : map(turns, (each) => multiply(each, exact(60)));
    case 'torque':
      // Force times travel is torque times 2π: T = F · L / (2π · 1000 · i), in N·m for L in mm.
      if (input.motorForm === 'linear') return known(exact(1));
      return input.motionKind === 'linear'
        ? map(turns, (each) => divide(exact(1), multiply(each, exact(2000, 1, 1))))
        : map(all<Exact[]>(...input.stages.map(ratioOf)) as Outcome<Exact[]>, (ratios) =>
            divide(exact(1), multiply(...ratios)),
          );
  }
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
      ? map(
          all<[Exact, Exact, Exact, Exact]>(
            source.perLoadUnit,
            station.perLoadUnit,
            source.atZero ?? noSignal,
            station.atZero ?? noSignal,
          ),
          ([from, to, zeroFrom, zeroTo]) => {
            if (source === station) return value;
            const magnitude = divide(multiply(subtract(value, zeroFrom), to), from);
            return add(source.sign === station.sign ? magnitude : negate(magnitude), zeroTo);
          },
        )
      : { state: 'unknown', because: `there is no station ${at}` };
  }
  return result;
}

const noSignal = known(exact(0));

/** Nothing is added to what is exact with a π in it. */
const add = (a: Exact, b: Exact): Exact => (isZero(b) ? a : addExact(a, b));
const subtract = (a: Exact, b: Exact): Exact => (isZero(b) ? a : addExact(a, negate(b)));

/** +1 when a plus command moves the load towards the end declared plus, −1 when towards the other. */
export const loadSign = (stations: readonly Station[]): 1 | -1 => stations.at(-1)?.sign ?? 1;

/** +1 when counts that go up in the drive move the load towards the end declared plus. */
export const countsSign = (stations: readonly Station[]): 1 | -1 =>
  ((stations.find((station) => station.kind === 'drive')?.sign ?? 1) * loadSign(stations)) as 1 | -1;

/** Load travel in axis units for a number of encoder counts. */
export const unitsPerCount = (results: Evaluation<AxisValues>): Outcome<number> =>
  map(results.feedbackResolution, toNumber);
