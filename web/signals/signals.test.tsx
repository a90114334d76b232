import { newAxis, type AxisDocument } from '@kavrid/contract';
import { screen, within } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import library from '../../demo/library.json';
import { axisRecord, demoAxes, demoAxis, replies, show, type Request, typeInto } from '../test/screen.tsx';
import { SignalsView } from './SignalsView.tsx';

const lift = demoAxes[1] as AxisDocument;

beforeEach(() => {
  for (const { id, item } of library.entries)
    replies.set(`GET /library/${id}`, { id, version: 1, updatedAt: '2026-01-01T00:00:00.000Z', usedBy: 1, item });
});

const open = async (topic: string, document: AxisDocument = demoAxis) => {
  const shown = show(<SignalsView />, { axis: axisRecord(1, document) });
  await shown.user.click(screen.getByRole('tab', { name: new RegExp(topic) }));
  return shown;
};
const choose = async (user: Awaited<ReturnType<typeof open>>['user'], label: string, option: string | RegExp) => {
  await user.click(screen.getByRole('combobox', { name: label }));
  await user.click(await screen.findByRole('option', { name: option }));
};
const findings = () => screen.getByRole('region', { name: 'Findings' }).textContent ?? '';
const rows = (name: string) =>
  within(screen.getByRole('table', { name }))
    .getAllByRole('row')
    .map((row) => row.textContent);

describe('direction', () => {
  it('says at every station which way plus goes, and which switch belongs where', async () => {
    const { user } = await open('Direction');
    expect(rows('Direction at each station')).toEqual([
      'Controller+positive command',
      'Drive+counts go up',
      'Motor+turns counter-clockwise',
      'Gearbox+turns in the positive direction',
      'Belt+moves towards plus',
      'Load+moves towards plus: towards the kiln',
    ]);
    await choose(user, 'Positive direction, viewed from the shaft end', 'clockwise');
    expect(rows('Direction at each station').slice(2)).toEqual([
      'Motor−turns clockwise',
      'Gearbox−turns in the negative direction',
      'Belt−moves towards minus',
      'Load−moves towards minus',
    ]);
    expect(screen.getByRole('img', { name: 'Plus commands move to the minus end' })).toBeTruthy();
    expect(findings()).toContain('switch of the wrong direction first');
    expect(findings()).toContain('the switch wired to the drive’s plus limit is at the plus end');
    // A belt that turns back puts both right again.
    await user.click(screen.getByLabelText('Belt reverses direction'));
    expect(findings()).toContain('No findings for');
    await choose(user, 'Switch wired to the drive’s plus limit input', 'not decided yet');
    expect(findings()).toContain('belongs at the plus end');
  });
});

describe('pulses', () => {
  it('a form that differs says what the axis would do; the same at both ends mends it', async () => {
    const { user, draft } = await open('Pulses');
    await choose(user, 'Drive pulse form', /Clockwise/);
    expect(screen.getByRole('status').textContent).toContain('a minus command moves it the wrong way');
    await choose(user, 'Controller pulse form', /Clockwise/);
    expect(draft().document.command).toEqual({ kind: 'clockwisePulses', electrical: 'differential', inverted: false });
    expect(screen.queryByRole('status')).toBeNull();
    await choose(user, 'Controller pulse form', /Quadrature/);
    expect(screen.getByText(/One increment is one edge of either phase: four increments per cycle/)).toBeTruthy();
  });

  it('names the true highest rate, and draws what is too short', async () => {
    const { user } = await open('Pulses', lift);
    expect(rows('Pulse rates')).toEqual([
      'The controller sends30\u202f000 /s',
      'The drive’s single-ended input accepts200\u202f000 /s',
      'Pulse and gap allow80\u202f000 /s',
      'Effective maximum30\u202f000 /s',
      'The wanted speed needs20\u202f000 /s',
    ]);
    const width = screen.getByLabelText('Pulse width');
    await user.clear(width);
    await typeInto(user, width, '2 us');
    expect(screen.getByRole('img', { name: /Timing: pulse 2 µs, needs 2.5 µs/ })).toBeTruthy();
    expect(findings()).toContain('are 2 µs wide; the drive needs at least 2.5 µs');
    await user.clear(width);
    await typeInto(user, width, '2 kg');
    expect(screen.getByText(/“kg” cannot be used here/)).toBeTruthy();
    expect(document.body.textContent).not.toMatch(/NaN|Infinity|undefined/);
  });

  it('says how large the file of pulses gets, and where its window may lie', async () => {
    const { user } = await open('Pulses', lift);
    const panel = within(screen.getByRole('region', { name: 'Pulse train as a file' }));
    // 200 mm at 200 pulses/mm
    expect(panel.getByText(/40 000 pulses of the test move, about 1.1 MB/)).toBeTruthy();
    await typeInto(user, panel.getByLabelText('From, s'), '9');
    expect(panel.getByText(/The window lies between 0 and 2.8 s/)).toBeTruthy();
    expect(panel.getByRole<HTMLButtonElement>('button', { name: 'Save as VCD' }).disabled).toBe(true);
  });
});

describe('levels', () => {
  it('5 V into 270 Ω fit; 24 V do not, until the resistor proposed is in the line', async () => {
    const { user, draft } = await open('Levels', lift);
    // (5 − 0.3 − 1.3) / 270
    expect(screen.getByRole('status').textContent).toContain('the current is 12.6 mA');
    const volts = screen.getByLabelText('Output voltage') as HTMLElement;
    await user.clear(volts);
    await typeInto(user, volts, '24');
    // (24 − 0.3 − 1.3) / 270 = 83 mA
    expect(screen.getByRole('status').textContent).toContain('Do not connect it: the current is 83 mA');
    expect(findings()).toContain('the current is 83 mA; the input is rated for 18 mA');
    // 22.4 V / 11.225 mA − 270 = 1726 Ω, nearest 1.8 kΩ
    await user.click(screen.getByRole('button', { name: /Put 1\s800 Ω into the line/ }));
    expect(draft().document.cable.resistor).toBe(1800);
    expect(screen.getByRole('status').textContent).toContain('It fits: the current is 10.8 mA');
    await choose(user, 'Output used', 'open collector, sinking');
    expect(screen.getByText(/into the controller’s output → 0 V/)).toBeTruthy();
    expect(findings()).toContain('has no output of the type');
  });
});

describe('cables', () => {
  beforeEach(
    () =>
      void replies.set('GET /library', ({ query }: Request) => {
        const items = library.entries
          .filter(({ item }) => item.shelf === query.get('shelf'))
          .map((each) => ({ ...each, version: 1, updatedAt: '2026-01-01T00:00:00.000Z', usedBy: 0 }));
        return { total: items.length, items };
      }),
  );

  it('one with its own resistors brings them along with its pins, and the finding that they are too much', async () => {
    const { user, draft } = await open('Levels', lift);
    expect(rows('Pins of the cable')).toContain('pulse, 1P3 → pulse +');
    await choose(user, 'Model, from the library', /2 kΩ inside/);
    expect(draft().document.cable).toMatchObject({ resistor: 2000, entry: { id: 'cable-24', version: 1 } });
    // (5 − 0.3 − 1.3) / 2270 = 1.5 mA
    expect(screen.getByRole('status').textContent).toContain('Pulses will be lost: the current is 1.5 mA');
    expect(findings()).toContain('the drive already has a resistor, and the one in the cable adds to it');
    expect(rows('Pins of the cable')[1]).toBe('pulse −, blueout 0 → A2');
    const resistor = screen.getByLabelText('Resistor');
    await user.clear(resistor);
    expect(screen.getByText('Changed here since it was taken from the library.')).toBeTruthy();
    expect(screen.getByRole('status').textContent).toContain('It fits');
  });
});

describe('enable, alarm, limits', () => {
  it('shows what happens with a broken wire, and how alarms clear', async () => {
    const { user } = await open('Enable');
    expect(rows('At enable')).toContain('Broken wireoff');
    await choose(user, 'Enable input active', /^low/);
    expect(rows('At enable')).toEqual([
      'Controller enablesoff',
      'Controller disableslive',
      'Broken wirelive',
      'Controller without powerlive',
    ]);
    expect(findings()).toContain('Enable is inverted');
    await choose(user, 'Alarm contact type', /normally open/);
    await choose(user, 'Alarm contact shared with others', 'in parallel');
    expect(rows('Faults detected by the controller')[1]).toBe('Broken wirenot seen');
    expect(await screen.findByRole('table', { name: 'Alarms of this drive' })).toBeTruthy();
    expect(rows('Alarms of this drive')[1]).toContain('by switching offlost: home again');
  });

  it('a new axis has all of it open, and nothing breaks', async () => {
    await open('Enable', newAxis('New', 'dosing'));
    for (const topic of ['Direction', 'Pulses', 'Levels']) {
      screen.getByRole('tab', { name: new RegExp(topic) }).click();
      expect(await screen.findByRole('tabpanel', { name: new RegExp(topic) })).toBeTruthy();
      expect(document.body.textContent).not.toMatch(/NaN|Infinity|undefined/);
    }
  });
});

describe('wires', () => {
  it('are listed from terminal to terminal with what a broken one does; a terminal given twice is told', async () => {
    const { user, draft } = await open('Wires');
    expect(rows('Wires').find((row) => row?.startsWith('Enable'))).toContain('the drive switches off');
    expect(rows('Wires').find((row) => row?.startsWith('Direction +'))).toContain('one direction only');
    const terminal = screen.getByLabelText('Terminal of the drive for Alarm');
    await user.clear(terminal);
    await user.paste('j2.15');
    await user.clear(screen.getByLabelText('Terminal of the drive for Enable'));
    await user.paste('J2.15');
    expect(screen.getByText('Terminal J2.15 of the drive is given to Enable and Alarm.')).toBeTruthy();
    // What the library entry of the drive lists.
    expect(
      screen.getByText('Alarm: terminal j2.15 of the drive is for something else (enable). Choose another terminal.'),
    ).toBeTruthy();
    expect(draft().document.wires.enable).toMatchObject({ to: 'J2.15', from: 'X4.1' });
    const source = screen.getByLabelText('Terminal of the controller for Alarm');
    const before = (source as HTMLInputElement).value;
    await user.clear(source);
    expect(screen.getByText(/^Alarm: terminal j2.15 of the drive is named, but none of the controller/)).toBeTruthy();
    await user.paste(before);

    // A length that cannot be read stays while other wires are edited.
    const alarm = screen.getByLabelText('Length of Alarm');
    await user.clear(alarm);
    await user.paste('long');
    await user.type(screen.getByLabelText('Core of Enable'), 'x');
    expect(draft().document.unread).toEqual({ '/wires/alarm/length': 'long' });

    // A wire of which nothing is said any more leaves nothing behind.
    const length = screen.getByLabelText('Length of Enable');
    await user.clear(length);
    for (const label of ['Terminal of the drive for Enable', 'Terminal of the controller for Enable', 'Core of Enable'])
      await user.clear(screen.getByLabelText(label));
    expect(draft().document.wires).not.toHaveProperty('enable');
    expect(draft().document.unread).toEqual({ '/wires/alarm/length': 'long' });
    expect(screen.queryByText(/is given to/)).toBeNull();
    const torqueOff = screen.getByLabelText('Terminal of the drive for Safe torque off, channel 2');
    await user.clear(torqueOff);
    expect(screen.getByText(/terminal J5.2 of the drive \(safe torque off\) is not wired/)).toBeTruthy();
    await user.paste('J9');
    expect(screen.getByText(/channel 2: the library entry lists no terminal J9 of the drive/)).toBeTruthy();
  });
});
