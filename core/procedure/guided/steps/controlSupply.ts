import { formatNumber } from '../../../quantity/index.ts';
import { isSensor } from '../../../drive/index.ts';
import { isWalking, walkWords } from '../../sensorWalk.ts';
import {
  ask,
  judged,
  wait,
  type GuidedStep,
  type Judgement,
  type StepContext,
  type StepRecord,
} from '../guidedStep.ts';
import { figuresOf } from '../look.ts';
import { compareStep } from './everyDrive.ts';

// Everything that can be known while the motor has no power.

const always = () => true;
const hasMap = ({ profile }: StepContext) => profile !== undefined;

/** ms without a change after which something stands still */
const steadyFor = 1500;
const restFor = 3000;

const factors: readonly (readonly [factor: number, name: string])[] = [
  [2, '2'],
  [4, '4: quadrature counted once, or counted twice over'],
  [10, '10'],
  [25.4, '25.4: inches taken for millimetres'],
];

/** The factor by which a measured distance is off; 'right' within a tolerance, 'odd' for no factor that has a name. */
export function factorOf(
  measured: number,
  expected: number,
  ratios: readonly number[] = [],
): { sign: string; words: string } {
  const ratio = Math.abs(measured / expected);
  if (Math.abs(ratio - 1) < 0.04) return { sign: 'right', words: '' };
  for (const [factor, words] of [
    ...factors,
    ...ratios
      .filter((each) => each !== 1)
      .map((each) => [each, `${formatNumber(each, 4)}: the ratio of a stage`] as const),
  ])
    for (const value of [factor, 1 / factor])
      if (Math.abs(ratio / value - 1) < 0.04) return { sign: 'factor', words: `off by a factor of ${words}` };
  return {
    sign: ratio < 1 ? 'short' : 'long',
    words: `${formatNumber(100 * ratio, 3)} % of what was expected`,
  };
}

/** Position that moved by at least half a turn and then stood still. */
function turned({ looks, answer }: StepRecord, { guide }: StepContext): Judgement {
  if (looks.some(({ state }) => state === 'operation enabled'))
    return judged(
      'failed',
      'energised',
      'The motor is energised: its enable input is on. Switch it off at the controller.',
    );
  if (answer === 'blocked')
    return judged('failed', 'blocked', 'The shaft cannot be turned by hand: its brake is shut, or something jams.');
  const figures = figuresOf(looks);
  if (!figures) return answer === undefined ? wait : ask;
  const last = looks.at(-1)?.at ?? 0;
  const recent = figuresOf(looks.filter(({ at }) => last - at < steadyFor));
  const stood = recent !== undefined && recent.farthestPlus + recent.farthestMinus < guide.unitsPerTurn / 50;
  const turns = figures.moved / guide.unitsPerTurn;
  const has = Math.abs(turns) > 0.15 && stood && last - (looks[0]?.at ?? 0) > steadyFor;
  if (!has && answer === undefined) return wait;
  const [done, one, unit] = guide.isLinearMotor
    ? (['Moved', '1 mm', 'mm'] as const)
    : (['Turned', 'One turn', 'turns'] as const);
  const values = [{ label: `${done} by the feedback`, value: turns, unit }];
  if (Math.abs(turns) < 0.15)
    return judged('failed', 'still', 'The feedback did not count. Check the encoder cable and its supply.', values);
  // Nobody turns a shaft by hand to better than a tenth.
  const { sign, words } = Math.abs(Math.abs(turns) - 1) < 0.2 ? { sign: 'right', words: '' } : factorOf(turns, 1);
  if (sign !== 'right')
    return judged('failed', 'factor', `${one} by hand counted as ${shown(turns)} ${unit}: ${words}.`, values);
  return turns > 0
    ? judged('passed', 'right', `${one} towards plus counted up, by the right amount.`, values)
    : judged('failed', 'reversed', 'Motion towards plus counted down.', values);
}

export const controlSupplySteps = {
  propped: {
    phase: 'Control supply only',
    title: 'Suspended load propped',
    needs: [],
    // A prop is taken away again.
    holdsFor: 3_600_000,
    applies: ({ guide }) => guide.isSuspended,
    task: () =>
      'The load is suspended: it falls when the motor lets go. Prop it so that it cannot come down, whatever the brake does.',
    question: () => ({
      kind: 'choice',
      text: 'Is the load propped?',
      answers: { propped: 'yes', loose: 'no' },
    }),
    passes: ['propped'],
  },
  identity: {
    phase: 'Control supply only',
    title: 'The right device',
    needs: [],
    applies: always,
    task: () => 'Compare the nameplate of the drive with what is planned, and with what the link reports.',
    question: () => ({
      kind: 'choice',
      text: 'Is it the drive that is planned for this axis?',
      answers: { same: 'yes, model and supply voltage agree', other: 'no' },
    }),
    passes: ['same'],
  },
  planRead: compareStep(
    'Plan read back',
    'The values that matter for motion are read from the drive and compared with the plan.',
  ),
  wires: {
    phase: 'Control supply only',
    title: 'Wires checked',
    needs: [],
    applies: always,
    task: () =>
      'Go through the connection sheet on the page Signals, wire by wire, with the supply off. Pull at each wire.',
    question: () => ({
      kind: 'choice',
      text: 'Does every wire of the connection sheet end where it says?',
      answers: { right: 'yes, every wire', wrong: 'no' },
    }),
    passes: ['right'],
  },
  sensors: {
    phase: 'Control supply only',
    title: 'Sensors tripped by hand',
    needs: [],
    applies: ({ guide, inputs }) => !guide.isEndless || inputs.some(isSensor),
    task: () =>
      'Trip each limit and home switch by hand, one after the other, and watch that its own input alone changes.',
    question: () => ({
      kind: 'choice',
      text: 'Trip each switch by hand. Which input reacts at the controller or drive?',
      answers: {
        right: 'each time the right one alone',
        swapped: 'plus and minus are exchanged',
        'no reaction': 'one does not react',
        'always active': 'one is active without being tripped',
        bounces: 'one comes and goes',
      },
    }),
    passes: ['right'],
    linked: {
      judge: ({ walk }, { inputs }) => {
        if (!walk || isWalking(walk)) return wait;
        if (walk.phase === 'ended') return judged('undecided', '', `The walk ended early: ${walk.because}.`);
        const labelOf = (key: string) => inputs.find((input) => input.key === key)?.label ?? key;
        const wrong = Object.entries(walk.verdicts).filter(([, { kind }]) => kind !== 'proven');
        const first = wrong[0];
        if (!first) return judged('passed', 'right', 'Each switch changed its own input alone.');
        const words = wrong.map(([key, verdict]) => `${labelOf(key)}: ${walkWords(verdict, labelOf)}`).join(' ');
        const [, { kind }] = first;
        if (wrong.every(([, verdict]) => verdict.kind === 'skipped')) return judged('undecided', '', words);
        const sign =
          kind === 'no change' ? 'no reaction' : kind === 'skipped' ? 'right' : kind === 'several' ? 'swapped' : kind;
        return judged('failed', sign, words);
      },
    },
  },
  handTurn: {
    phase: 'Control supply only',
    title: 'Shaft turned by hand',
    needs: ['propped'],
    applies: always,
    task: ({ guide }) =>
      guide.isLinearMotor
        ? 'Main power off. Push the slide 1 mm towards plus.'
        : `Main power off. Turn the motor shaft one turn so that the load goes towards plus${guide.brake.drivenBy === 'drive' || guide.brake.drivenBy === 'controller' ? '; open the holding brake for it, with the load propped' : ''}.`,
    question: () => ({
      kind: 'choice',
      text: 'Turn the shaft one turn towards plus by hand. What does the position display do?',
      answers: {
        right: 'it counts up by one turn',
        reversed: 'it counts down by one turn',
        still: 'it does not count',
        factor: 'it counts another number of turns',
        blocked: 'the shaft cannot be turned',
      },
    }),
    passes: ['right'],
    linked: { done: { done: 'Turned; nothing was counted', blocked: 'It cannot be turned' }, judge: turned },
  },
  rest: {
    phase: 'Control supply only',
    title: 'Feedback and inputs at rest',
    needs: [],
    applies: hasMap,
    task: () => 'Leave the axis alone, clear of its switches.',
    question: () => ({
      kind: 'choice',
      text: 'With the axis at rest and clear of its switches, do position and inputs stay as they are?',
      answers: {
        quiet: 'yes',
        'counts change': 'the position changes',
        'input active': 'a limit or home input is active',
      },
    }),
    passes: ['quiet'],
    linked: {
      judge: ({ looks, elapsed }, { unitsPerCount }) => {
        if (elapsed < restFor) return wait;
        const figures = figuresOf(looks);
        const wandered = figures && figures.farthestPlus + figures.farthestMinus;
        const values = wandered === undefined ? [] : [{ label: 'Wandered', value: wandered, unit: '{u}' }];
        const active = looks
          .flatMap((look) => look.active)
          .find((input) => input.role === 'minusLimit' || input.role === 'plusLimit');
        if (active) return judged('failed', 'input active', `${active.label} is active.`, values);
        return wandered !== undefined && wandered > 8 * Math.abs(unitsPerCount)
          ? judged(
              'failed',
              'counts change',
              'The feedback counts although nothing moves: check shield and earth of the encoder cable.',
              values,
            )
          : judged('passed', 'quiet', 'Nothing changes at rest.', values);
      },
    },
  },
  hostEnable: {
    phase: 'Control supply only',
    title: 'Enable from the controller',
    needs: [],
    applies: ({ guide, inputs }) => guide.commandedBy !== 'inputs' && inputs.some(({ role }) => role === 'enable'),
    task: () => 'Main power off: switch the enable output of the controller on for a second, then off.',
    question: () => ({
      kind: 'choice',
      text: 'Enable output of the controller on, then off: what does the enable input of the drive do?',
      answers: { right: 'it follows', inverted: 'it is inverted', never: 'it stays off', always: 'it stays on' },
    }),
    passes: ['right'],
    linked: {
      done: { done: 'Switched on and off; nothing changed' },
      judge: ({ looks, answer, elapsed }, { inputs }) => {
        const own = inputs.filter(({ role }) => role === 'enable');
        const states = looks.map((look) =>
          own.map(({ key }) => (look.active.some((each) => each.key === key) ? '1' : '0')).join(''),
        );
        const changes = states.filter((state, k) => k > 0 && state !== states[k - 1]).length;
        if (changes >= 2) {
          const first = (states[0] ?? '').split('1').length;
          const most = Math.max(...states.map((state) => state.split('1').length));
          return most > first
            ? judged('passed', 'right', 'The enable input followed the output of the controller.')
            : judged(
                'failed',
                'inverted',
                'The enable input went off when the controller switched enable on: the level is inverted.',
              );
        }
        if (answer === undefined || elapsed < 500) return wait;
        return (states.at(-1) ?? '').includes('0')
          ? judged('failed', 'never', 'The enable input stayed off: the wire is broken, or its common is missing.')
          : judged('failed', 'always', 'The enable input stayed on: its wire is shorted, or the output is.');
      },
    },
  },
  loopOpen: {
    phase: 'Control supply only',
    title: 'Signs with the host’s loop open',
    needs: ['handTurn'],
    applies: ({ guide }) => guide.loopIn === 'controller' || guide.commandedBy === 'signal',
    task: () =>
      'Open the position loop of the controller. Turn the shaft towards plus by hand: its position must count up, and a tachometer must give a voltage of the sign that the amplifier expects.',
    question: () => ({
      kind: 'choice',
      text: 'Shaft turned towards plus, the loop of the controller open: what does the position of the controller do?',
      answers: {
        right: 'it counts up',
        reversed: 'it counts down',
        still: 'it does not count',
        none: 'the controller has no feedback',
      },
    }),
    passes: ['right', 'none'],
  },
} as const satisfies Record<string, GuidedStep>;

const shown = (value: number): string => formatNumber(value, 3);
