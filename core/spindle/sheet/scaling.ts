import { divide, exact, exactRatio, multiply, rationalFromNumber, toNumber, type Exact } from '../../quantity/index.ts';
import { formulaOf, known, map, unknown, type Formula } from '../../sheet/index.ts';
import { signalFor, signalPerHertz, spindleSignalRange, hertzOf, type SpindleCommand } from '../spindleCommand.ts';
import type { SpindleValues } from '../spindleValues.ts';
import { speedRange } from '../speedRange.ts';
import { hertzPerCount, largestCount } from '../speedWord.ts';

const formula = formulaOf<SpindleValues>();
const decimal = (value: number) => exactRatio(rationalFromNumber(value));

/** rpm of the tool for one step of an end. */
const perHertz = (v: { readonly hertzPerToolRpm: Exact }) => 1 / toNumber(v.hertzPerToolRpm);

export const scalingFormulas: readonly Formula<SpindleValues>[] = [
  formula({
    symbol: 'ratioNumber',
    label: 'Motor turns per tool turn',
    expression: '{beltRatio}',
    unit: '',
    source: 'belt step in use',
    inputs: ['beltRatio'],
    compute: (v) => known(toNumber(v.beltRatio)),
  }),
  formula({
    symbol: 'hertzPerToolRpm',
    label: 'Frequency per rpm of the tool',
    expression: '{beltRatio} · {poles} / 120',
    unit: 'Hz/rpm',
    source: 'IEC 60034-1: n = 120 · f / poles, through the belt',
    inputs: ['beltRatio', 'poles'],
    compute: (v) => known(multiply(v.beltRatio, exact(v.poles, 120))),
  }),
  formula({
    symbol: 'range',
    label: 'Speed limited by',
    expression: 'the highest of the lower limits, the lowest of the upper limits',
    unit: '',
    source: 'the lowest limit',
    inputs: ['ratioNumber', 'leastBounds', 'mostBounds'],
    compute: (v) =>
      v.mostBounds.length === 0
        ? unknown('no speed limit has been entered: bearings, belt, tool, highest frequency of the drive')
        : known(speedRange({ name: '', ratio: v.ratioNumber }, v.leastBounds, v.mostBounds)),
  }),
  formula({
    symbol: 'lowestToolSpeed',
    label: 'Lowest speed of the tool',
    expression: 'the highest of the lower limits',
    unit: 'rpm',
    source: 'cooling, lowest frequency of the drive',
    inputs: ['range'],
    compute: (v) => known(v.range.lowest),
  }),
  formula({
    symbol: 'lowestBy',
    label: 'Lowest speed limited by',
    expression: 'the highest of the lower limits',
    unit: '',
    source: 'ties name all',
    inputs: ['range'],
    compute: (v) => known(v.range.lowestBy),
  }),
  formula({
    symbol: 'highestToolSpeed',
    label: 'Highest speed of the tool',
    expression: 'the lowest of the upper limits',
    unit: 'rpm',
    source: 'bearings, belt, tool, highest frequency of the drive',
    inputs: ['range'],
    compute: (v) => known(v.range.highest),
  }),
  formula({
    symbol: 'highestBy',
    label: 'Highest speed limited by',
    expression: 'the lowest of the upper limits',
    unit: '',
    source: 'ties name all',
    inputs: ['range'],
    compute: (v) => known(v.range.highestBy),
  }),
  formula({
    symbol: 'rimSpeed',
    label: 'Rim speed of the tool',
    expression: 'π · {toolDiameter} · {highestToolSpeed} / 60',
    unit: 'm/s',
    source: 'definition',
    inputs: ['toolDiameter', 'highestToolSpeed'],
    compute: (v) => known((Math.PI * v.toolDiameter * v.highestToolSpeed) / 60),
  }),
  formula({
    symbol: 'hertzAtTop',
    label: 'Frequency at the highest speed',
    expression: '{highestToolSpeed} · {hertzPerToolRpm}',
    unit: 'Hz',
    source: 'IEC 60034-1',
    inputs: ['highestToolSpeed', 'hertzPerToolRpm'],
    compute: (v) => known(v.highestToolSpeed * toNumber(v.hertzPerToolRpm)),
  }),
  formula({
    symbol: 'hertzAtWanted',
    label: 'Frequency at the wanted speed',
    expression: '{wantedSpeed} · {hertzPerToolRpm}',
    unit: 'Hz',
    source: 'IEC 60034-1',
    inputs: ['wantedSpeed', 'hertzPerToolRpm'],
    compute: (v) => known(v.wantedSpeed * toNumber(v.hertzPerToolRpm)),
  }),
  formula({
    symbol: 'signalPerToolRpm',
    label: 'Spindle ratio for the controller',
    expression: '{hertzPerToolRpm} · signal for one hertz',
    unit: '{signal}/rpm',
    source: 'the signal for one rpm of the tool',
    inputs: ['hertzPerToolRpm', 'command', 'poles'],
    compute: (v) => map(signalPerHertz(v.command, v.poles), (each) => multiply(v.hertzPerToolRpm, each)),
  }),
  formula({
    symbol: 'toolRpmPerSignal',
    label: 'Tool rpm per unit of signal',
    expression: '1 / {signalPerToolRpm}',
    unit: 'rpm/{signal}',
    source: 'definition',
    inputs: ['signalPerToolRpm'],
    compute: (v) => known(divide(exact(1), v.signalPerToolRpm)),
  }),
  formula({
    symbol: 'signalAtWanted',
    label: 'Signal at the wanted speed',
    expression: '{wantedSpeed} · {hertzPerToolRpm}, as a signal',
    unit: '{signal}',
    source: 'scale of the command',
    inputs: ['hertzPerToolRpm', 'command', 'poles', 'wantedSpeed'],
    compute: (v) => signalNumber(v, v.wantedSpeed),
  }),
  formula({
    symbol: 'signalAtTop',
    label: 'Signal at the highest speed',
    expression: '{highestToolSpeed} · {hertzPerToolRpm}, as a signal',
    unit: '{signal}',
    source: 'scale of the command',
    inputs: ['hertzPerToolRpm', 'command', 'poles', 'highestToolSpeed'],
    compute: (v) => signalNumber(v, v.highestToolSpeed),
  }),
  formula({
    symbol: 'toolSpeedAtFullSignal',
    label: 'Tool speed at full signal',
    expression: 'hertz at the end of the signal / {hertzPerToolRpm}',
    unit: 'rpm',
    source: 'scale of the command',
    inputs: ['hertzPerToolRpm', 'command', 'poles'],
    compute: (v) => {
      const full = fullSignal(v.command);
      if (full === undefined) return unknown('this command has no full signal');
      return map(hertzOf(v.command, v.poles, full), (hertz) => toNumber(divide(hertz, v.hertzPerToolRpm)));
    },
  }),
  formula({
    symbol: 'takerStep',
    label: 'Drive step at the tool',
    expression: 'the drive’s frequency resolution, or one count',
    unit: 'rpm',
    source: 'the coarser of its converter and its output',
    inputs: ['hertzPerToolRpm', 'command', 'poles', 'driveResolution'],
    compute: (v) => map(takerHertz(v.command, v.poles, v.driveResolution), (hertz) => hertz * perHertz(v)),
  }),
  formula({
    symbol: 'senderStep',
    label: 'Controller step at the tool',
    expression: 'range of the signal / its steps',
    unit: 'rpm',
    source: 'definition',
    inputs: ['hertzPerToolRpm', 'command', 'poles'],
    compute: (v) => map(senderHertz(v.command, v.poles), (hertz) => hertz * perHertz(v)),
  }),
  formula({
    symbol: 'toolStep',
    label: 'Smallest tool speed step',
    expression: 'the coarser of {senderStep} and {takerStep}',
    unit: 'rpm',
    source: 'the coarser end decides',
    inputs: ['senderStep', 'takerStep'],
    compute: (v) => known(Math.max(v.senderStep, v.takerStep)),
  }),
  formula({
    symbol: 'coarserEnd',
    label: 'Resolution limited by',
    expression: 'the end with the coarser step',
    unit: '',
    source: 'a tie names both',
    inputs: ['senderStep', 'takerStep', 'toolStep', 'command'],
    compute: (v) =>
      known([
        ...(v.senderStep >= v.toolStep * (1 - 1e-9) ? [senderOf(v.command)] : []),
        ...(v.takerStep >= v.toolStep * (1 - 1e-9) ? ['the drive'] : []),
      ]),
  }),
];

interface Scaled {
  readonly hertzPerToolRpm: Exact;
  readonly command: SpindleCommand;
  readonly poles: number;
}

/** Who sets the speed. */
const senderOf = (command: SpindleCommand): string =>
  command.kind === 'signal' && command.signal === 'dial' ? 'the dial' : 'the controller';

const signalNumber = ({ hertzPerToolRpm, command, poles }: Scaled, toolSpeed: number) =>
  command.kind === 'fixedSpeeds'
    ? unknown('the speed is selected by inputs')
    : map(signalFor(command, poles, multiply(decimal(toolSpeed), hertzPerToolRpm)), ({ value }) => toNumber(value));

function fullSignal(command: SpindleCommand): Exact | undefined {
  switch (command.kind) {
    case 'fixedSpeeds':
      return undefined;
    case 'fieldBus':
      return command.word.state === 'known' ? exact(largestCount(command.word.value)) : undefined;
    case 'signal': {
      const { highest } = spindleSignalRange(command.signal);
      if (Number.isFinite(highest)) return exact(highest);
      return command.scale.state === 'known' ? command.scale.value.to.signal : undefined;
    }
  }
}

/** Hz of one step of a converter over the range of its signal. */
function hertzPerStep(command: Extract<SpindleCommand, { kind: 'signal' }>, steps: number): number {
  if (command.scale.state === 'unknown') return 0;
  const { from, to } = command.scale.value;
  const { lowest, highest } = spindleSignalRange(command.signal);
  const span = Number.isFinite(highest) ? highest - lowest : toNumber(to.signal);
  const gain = (toNumber(to.value) - toNumber(from.value)) / (toNumber(to.signal) - toNumber(from.signal));
  return Math.abs((gain * span) / steps);
}

function takerHertz(command: SpindleCommand, poles: number, resolution: number) {
  switch (command.kind) {
    case 'fixedSpeeds':
      return unknown('the speed is selected by inputs');
    case 'fieldBus':
      return map(command.word, ({ counts }) => Math.max(resolution, hertzPerCount(counts, poles)));
    case 'signal':
      return map(command.takerSteps, (steps) => Math.max(resolution, hertzPerStep(command, steps)));
  }
}

function senderHertz(command: SpindleCommand, poles: number) {
  switch (command.kind) {
    case 'fixedSpeeds':
      return unknown('the speed is selected by inputs');
    case 'fieldBus':
      return map(command.word, ({ counts }) => hertzPerCount(counts, poles));
    case 'signal':
      return map(command.senderSteps, (steps) => hertzPerStep(command, steps));
  }
}
