import { newAxis, type AxisDocument } from '@kavrid/contract';
import { valueOf } from '@kavrid/core/sheet';
import { screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { axisComputation } from '../member/axisComputation.ts';
import { axisRecord, demoAxis, demoAxes, show, typeInto } from '../test/screen.tsx';
import { PlannedValuesView } from './PlannedValuesView.tsx';
import { plannedGroups, plannedStanding } from './plannedRows.ts';

const open = (document: AxisDocument) => {
  const shown = show(<PlannedValuesView />, { axis: { ...axisRecord(), document } });
  const settings = () => (Object.values(shown.store.getState().drafts)[0]?.document as AxisDocument) ?? document;
  return { ...shown, settings };
};
const table = () => screen.getByRole('table', { name: 'Planned drive values' });
const row = (name: string) => within(table()).getByRole('row', { name: new RegExp(`^${name}`) });

describe('planned drive values', () => {
  it('are typed, taken from the sheet, or given as an angle, with or without a link', async () => {
    const { user, settings } = open({
      ...demoAxis,
      settings: { ...demoAxis.settings, inertiaRatio: null, followingErrorWindow: null },
    });
    await user.click(within(row('Inertia ratio')).getByRole('button', { name: /^Take / }));
    const ratio = settings().settings.inertiaRatio ?? 0;
    expect(ratio).toBeGreaterThan(10);
    // What was taken over is what the sheet says, to four digits.
    const { results } = axisComputation(demoAxis, 'metric');
    expect(ratio).toBeCloseTo(valueOf(results.inertiaRatio) ?? NaN, 2);
    expect(within(row('Inertia ratio')).getByText(/as planned/)).toBeTruthy();
    await typeInto(user, screen.getByLabelText('Following-error window as an angle of the motor'), '36');
    // 320 mm a turn of the pulley over a ratio of 3: 36° are 10.667 mm.
    expect(settings().settings.followingErrorWindow).toBeCloseTo((320 / 3) * 0.1, 6);
    expect(row('Torque limit').textContent).toMatch(/friction and gravity: [\d.]+ %/);
  });

  it('homing stands where it is run, a brake has its delays where it is driven', async () => {
    const { user, settings } = open(demoAxis);
    expect(within(table()).queryByText('Position at home')).toBeTruthy();
    await user.click(screen.getByRole('combobox', { name: 'Homing run by' }));
    await user.click(screen.getByRole('option', { name: 'the controller' }));
    expect(settings().homing.by).toBe('controller');
    expect(
      plannedGroups(settings()).flatMap(({ rows }) => rows.filter(({ atController }) => atController)),
    ).toHaveLength(6);
    await user.click(screen.getByRole('combobox', { name: 'Holding brake' }));
    await user.click(screen.getByRole('option', { name: 'driven by the drive' }));
    await typeInto(user, screen.getByLabelText('Release delay'), '60 ms');
    expect(settings().brake).toMatchObject({ drivenBy: 'drive', releaseDelay: 0.06 });
    await user.click(screen.getByRole('combobox', { name: 'Homing method' }));
    await user.click(screen.getByRole('option', { name: /^7 · / }));
    await user.clear(screen.getByLabelText('Home switch, length'));
    expect(screen.getByText('Homing time not known: the length of the home switch has not been entered.')).toBeTruthy();
    await typeInto(user, screen.getByLabelText('Home switch, length'), '20');
    expect(screen.getByText(/^Homing: at most/)).toBeTruthy();
  });

  it('nothing is planned that nobody chose, and a drive that is bySpeed a speed has no position loop', () => {
    const fresh = newAxis('New', 'linear');
    expect(plannedStanding(fresh)).toBe('open');
    expect(plannedStanding(demoAxis)).toBe('planned');
    expect(plannedStanding({ ...demoAxis, settings: { ...demoAxis.settings, torqueLimit: null } })).toBe('1 empty');
    const bySpeed = demoAxes.find(({ command }) => command.kind === 'analog' && command.meaning === 'speed');
    if (!bySpeed) throw new Error('the demo has no axis commanded by a speed');
    const roles = plannedGroups(bySpeed).flatMap(({ rows }) => rows.map((each) => each.role));
    expect(roles).toContain('speedBandwidth');
    expect(roles).not.toContain('positionGain');
    expect(roles).not.toContain('followingErrorWindow');
  });
});
