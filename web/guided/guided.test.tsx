import type { GuideState, LiveState, ShownStep } from '@kavrid/contract';
import { act, fireEvent, screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { guidedStanding } from '../member/guidedStanding.ts';
import { live } from '../store/live.ts';
import { watchAxis } from '../store/liveLine.ts';
import { preferences } from '../store/preferences.ts';
import { linkedState } from '../test/liveState.ts';
import { axisRecord, show, typeInto } from '../test/screen.tsx';
import { FirstPowerView } from './FirstPowerView.tsx';
import { StopsView } from './StopsView.tsx';

const step = (id: string, more: Partial<ShownStep> = {}): ShownStep => ({
  id,
  phase: 'Control supply only',
  title: `Title of ${id}`,
  task: `What to do for ${id}.`,
  question: { kind: 'choice', text: `What is seen of ${id}?`, answers: { good: 'all is well', bad: 'all is not' } },
  isLinked: false,
  isDrill: false,
  isPassive: false,
  done: {},
  first: [],
  asks: [],
  ...more,
});
const result = (more: Partial<NonNullable<ShownStep['result']>>): NonNullable<ShownStep['result']> => ({
  verdict: 'passed',
  known: 'read back',
  sign: 'good',
  words: 'It was seen.',
  values: [],
  madeAt: '2026-11-29T10:00:00Z',
  revision: 3,
  ...more,
});

function open(view = <FirstPowerView />) {
  const heard: { type: string }[] = [];
  class Line {
    static OPEN = 1;
    readyState = 1;
    send(text: string) {
      heard.push(JSON.parse(text) as { type: string });
    }
  }
  vi.stubGlobal('WebSocket', Line);
  const shown = show(view, { axis: axisRecord() });
  act(() => void shown.store.dispatch(watchAxis('a')));
  const arrives = (guide: Partial<GuideState>, state: Partial<LiveState> = {}) =>
    act(() => {
      shown.store.dispatch(live.actions.liveArrived({ ...linkedState, ...state }));
      shown.store.dispatch(live.actions.guideArrived({ memberId: 'a', steps: [], faults: [], ...guide }));
    });
  const sent = (message: object) => vi.waitFor(() => expect(heard.at(-1)).toMatchObject(message));
  return { ...shown, arrives, sent };
}
const listed = (title: string) => screen.getByRole('button', { name: new RegExp(`^${title}`) });

describe('guided steps on screen', () => {
  it('say why there are none', () => {
    const { arrives } = open();
    expect(screen.getByText(/being worked out/)).toBeTruthy();
    arrives({ because: 'Complete the chain first.' });
    expect(screen.getByText('Complete the chain first.')).toBeTruthy();
  });

  it('tell what was read back from what was observed, failed, or does not hold any more', () => {
    const { arrives } = open();
    arrives({
      steps: [
        step('a', { result: result({}) }),
        step('b', { result: result({ known: 'observed' }) }),
        step('c', { result: result({ verdict: 'failed' }) }),
        step('d', { result: result({ staleBecause: 'the plan has changed since' }) }),
        step('e', { first: ['Title of c'] }),
        step('stop', { phase: 'Stops' }),
      ],
    });
    expect(listed('Title of a').textContent).toContain('passed');
    expect(listed('Title of b').textContent).toContain('observed');
    expect(listed('Title of b').textContent).not.toContain('passed');
    expect(listed('Title of c').textContent).toContain('failed');
    expect(listed('Title of d').textContent).toContain('out of date');
    expect(screen.queryByText('Title of stop')).toBeNull();
  });

  it('without a link a step is answered by what is seen; nothing else is an answer', async () => {
    const { arrives, user, sent } = open();
    arrives({ steps: [step('a')] }, { link: 'off' });
    await user.click(screen.getByRole('button', { name: 'Answer' }));
    await sent({ type: 'beginStep', step: 'a', isByHand: true });
    arrives(
      { steps: [step('a')], run: { step: 'a', isByHand: true, phase: 'asking', isHere: true, because: '' } },
      { link: 'off' },
    );
    const confirm = screen.getByRole<HTMLButtonElement>('button', { name: 'Confirm' });
    expect(confirm.disabled).toBe(true);
    await user.click(screen.getByRole('radio', { name: 'all is not' }));
    await user.click(confirm);
    await sent({ type: 'answerStep', step: 'a', answer: 'bad' });
  });

  it('is skipped only with a reason', async () => {
    const { arrives, user, sent } = open();
    arrives({ steps: [step('a', { isLinked: true })] });
    await user.click(screen.getByRole('button', { name: 'Skip …' }));
    const dialog = within(screen.getByRole('dialog'));
    expect(dialog.getByRole<HTMLButtonElement>('button', { name: 'Skip' }).disabled).toBe(true);
    await typeInto(user, dialog.getByLabelText('Reason'), 'no brake fitted');
    await user.click(dialog.getByRole('button', { name: 'Skip' }));
    await sent({ type: 'skipStep', step: 'a', because: 'no brake fitted' });
  });

  it('a step that switches the motor on says so; one that waits for another cannot begin', async () => {
    const { arrives, user, sent } = open();
    const drill = step('a', { isLinked: true, isDrill: true });
    arrives({ steps: [{ ...drill, first: ['Hardware stop proven'] }] });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /switches the motor on/ }).disabled).toBe(true);
    expect(screen.getByText('First: Hardware stop proven.')).toBeTruthy();
    arrives({ steps: [drill] }, { holder: 'another window' });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /switches the motor on/ }).disabled).toBe(true);
    arrives({ steps: [drill] });
    await user.click(screen.getByRole('button', { name: /switches the motor on/ }));
    await sent({ type: 'beginStep', step: 'a', isByHand: false, given: {} });
  });

  it('a higher torque limit is a choice of its own, and its number is on screen', async () => {
    const { arrives, user, sent } = open();
    const undecided = result({ verdict: 'undecided', sign: '', words: 'It did not move. Repeat with 40 %.' });
    arrives({
      steps: [step('bump', { isLinked: true, isDrill: true, torque: { percent: 25, next: 40 }, result: undecided })],
    });
    await user.click(screen.getByRole('button', { name: /switches the motor on/ }));
    await sent({ given: {} });
    await user.click(screen.getByRole('checkbox', { name: /torque limit of 40 % of rated torque instead of 25 %/ }));
    await user.click(screen.getByRole('button', { name: /switches the motor on/ }));
    await sent({ given: { torque: 40 } });
  });

  it('jogs at the speed of the step while the button is held, and in its direction only', async () => {
    const { arrives, sent } = open();
    const run = {
      step: 'jogPlus',
      isByHand: false,
      phase: 'ready',
      jog: { speed: 33.3, directions: [1] },
      isHere: true,
      because: '',
    } as const;
    arrives(
      { steps: [step('jogPlus', { isLinked: true, isDrill: true })], run },
      { deviceState: 'operation enabled', activity: 'idle' },
    );
    expect(screen.queryByRole('button', { name: 'Jog minus' })).toBeNull();
    const plus = screen.getByRole('button', { name: 'Jog plus' });
    fireEvent.keyDown(plus, { key: ' ' });
    await sent({ type: 'jog', direction: 1, speed: 33.3 });
    fireEvent.keyUp(plus, { key: ' ' });
    await sent({ type: 'jogEnd' });
    // In another window it is only told of.
    arrives({ steps: [step('jogPlus', { isLinked: true })], run: { ...run, isHere: false } });
    expect(screen.queryByRole('button', { name: 'Jog plus' })).toBeNull();
    expect(screen.getByText(/in another window/)).toBeTruthy();
  });

  it('a stop asks for its speed, in the unit on screen, and sends it in the unit of the axis', async () => {
    const { arrives, user, sent, store } = open(<StopsView />);
    const stop = step('stopRamp', {
      phase: 'Stops',
      isLinked: true,
      isDrill: true,
      asks: [{ key: 'speed', when: 'begin', isRequired: true }],
    });
    arrives({ steps: [stop] });
    const begin = screen.getByRole<HTMLButtonElement>('button', { name: /switches the motor on/ });
    expect(begin.disabled).toBe(true);
    await typeInto(user, screen.getByLabelText('Speed'), '120');
    await user.click(begin);
    await sent({ step: 'stopRamp', given: { speed: 120 } });
    act(() => void store.dispatch(preferences.actions.preferencesChanged({ lengths: 'inch' })));
    await user.clear(screen.getByLabelText('Speed'));
    await typeInto(user, screen.getByLabelText('Speed'), '2');
    await user.click(begin);
    await sent({ given: { speed: 50.8 } });
  });

  it('names what is wrong with the wire or value to change, and what cannot be told apart', () => {
    const { arrives } = open();
    const cause = (id: string) => ({ id, title: `Cause ${id}`, remedy: `Change ${id}.`, because: ['Title of a'] });
    arrives({
      steps: [step('a', { result: result({ verdict: 'failed' }) })],
      faults: [{ causes: [cause('x'), cause('y')], others: ['Cause z'] }],
    });
    const wrong = within(screen.getByRole('region', { name: 'What is wrong' }));
    expect(wrong.getByText(/do not distinguish them/)).toBeTruthy();
    expect(wrong.getByText('Change x.')).toBeTruthy();
    expect(wrong.getByText('Less likely: Cause z')).toBeTruthy();
  });
});

it('the steps of the job count what holds', () => {
  const guide = (...steps: ShownStep[]): GuideState => ({ memberId: 'a', steps, faults: [] });
  expect(guidedStanding(undefined)).toEqual({ firstPower: 'not begun', stops: 'not begun', homing: 'not begun' });
  const passed = step('a', { result: result({}) });
  expect(guidedStanding(guide(passed, step('b'))).firstPower).toBe('1 of 2 done');
  const stale = step('b', { result: result({ staleBecause: 'it was made with another device' }) });
  expect(guidedStanding(guide(passed, stale)).firstPower).toBe('1 of 2 done');
  const failed = step('s', { phase: 'Stops', result: result({ verdict: 'failed' }) });
  const homed = step('h', { phase: 'Homing', result: result({}) });
  expect(guidedStanding(guide(passed, failed, homed))).toEqual({
    firstPower: '1 of 1 done',
    stops: '1 failed',
    homing: '1 of 1 done',
  });
});
