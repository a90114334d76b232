import type { AxisDocument } from '@kavrid/contract';
import { screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { demoAxes, demoAxis, show } from '../test/screen.tsx';
import { AlarmChain } from './AlarmChain.tsx';

const withAlarm = (name: string, alarm: Partial<AxisDocument['protection']['alarm']>): AxisDocument => ({
  ...demoAxis,
  name,
  pair: null,
  protection: { ...demoAxis.protection, alarm: { ...demoAxis.protection.alarm, ...alarm } },
});
const chain = (names: string) => within(screen.getByRole('list', { name: `Alarm loop of ${names}` }));

describe('the alarm and stop chain', () => {
  it('draws each loop in its order, and says what the controller sees and whether it knows which drive', () => {
    show(
      <AlarmChain
        axes={[withAlarm('A', { joined: 'series', drives: 2 }), withAlarm('B', { joined: 'series', drives: 2 })]}
      />,
    );
    expect(
      chain('A, B')
        .getAllByRole('listitem')
        .map((each) => each.textContent),
    ).toEqual(['supply', 'Aopens on alarm', 'Bopens on alarm', 'controller input, contacts in series']);
    expect(document.body.textContent).toContain('If a drive trips: seen, but not which drive');
    expect(document.body.textContent).toContain('If a wire breaks: seen, but not which drive');
    // In parallel they lie beside each other, and the healthy one keeps the loop closed.
    show(
      <AlarmChain
        axes={[withAlarm('P', { joined: 'parallel', drives: 2 }), withAlarm('Q', { joined: 'parallel', drives: 2 })]}
      />,
    );
    expect(chain('P, Q').getAllByRole('listitem')).toHaveLength(3);
    expect(document.body.textContent).toContain('If a drive trips: not seen');
  });

  it('names what cannot be right, and what stops each axis in hardware', () => {
    show(<AlarmChain axes={demoAxes} />);
    expect(chain('Feed screws, drive 1, Feed screws, drive 2').getAllByRole('listitem')).toHaveLength(4);
    const stop = screen.getByRole('table', { name: 'Hardware stop of each axis' });
    expect(within(stop).getByRole('row', { name: /^Spray lift/ }).textContent).toContain('no safe torque off');
    expect(within(stop).getByRole('row', { name: /^Carriage/ }).textContent).toContain('two channels');
  });

  it('is absent where there is no axis, and tells contacts that never say anything', () => {
    const { router } = show(<AlarmChain axes={[]} />);
    expect(router.state.location.pathname).toBe('/');
    expect(screen.queryByText('Alarm and stop chain')).toBeNull();
    show(<AlarmChain axes={[withAlarm('C', { contact: 'normallyOpen' })]} />);
    expect(document.body.textContent).toContain('If a wire breaks: not seen');
  });
});
