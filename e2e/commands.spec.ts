import { expect, test, type Page } from '@playwright/test';
import { base } from './app.ts';
import { choose, chooseStation, noSeriousFinding, openAxis, openStep, result, saved, useApp } from './steps.ts';

useApp();

const tab = (page: Page, name: RegExp) => page.getByRole('tab', { name }).click();
const findings = (page: Page) => page.getByRole('region', { name: 'Findings' });
const fact = (page: Page, name: RegExp) => page.getByRole('row', { name });
const fill = (page: Page, label: string, text: string) => page.getByLabel(label, { exact: true }).fill(text);
const keyIn = (page: Page, code: string) => page.locator(`[data-code="${code}"]`);

/** The reading of a probe sent from a station. */
async function probe(page: Page, at: string, value: string, reads: Readonly<Record<string, string>>) {
  await page.getByLabel(at, { exact: true }).fill(value);
  for (const [station, text] of Object.entries(reads))
    await expect(page.getByLabel(station, { exact: true })).toHaveValue(text);
}

/** All of them in `npm run proof`. */
const sampled = ['4–20 mA'];
for (const [range, signal, zero, live] of [
  ['±10 V', '10 V', '0 V', false],
  ['0–10 V', '10 V', '5 V', true],
  ['0–5 V', '5 V', '2.5 V', true],
  ['0–20 mA', '20 mA', '10 mA', true],
  ['4–20 mA', '20 mA', '12 mA', true],
  ['potentiometer', '10 V', '5 V', true],
] as const) {
  if (!process.env.KAVRID_PROOF && !sampled.includes(range)) continue;
  test(`analog speed over ${range}: from the scale to the key-in sheet`, async ({ page }) => {
    await openAxis(page, 'Turntable', /Plates and scaling/);
    await chooseStation(page, 'Controller');
    await choose(page, 'Range', range);
    await fill(page, 'Signal A', zero);
    await fill(page, 'Signal B', signal);
    await fill(page, 'Value at signal B', '3000 rpm');
    await expect(result(page, 'valueAtFullSignal')).toContainText('3\u202f000');
    await probe(page, 'Load: deg/s', '-250', { 'Motor: rpm': '-3\u202f000' });
    await probe(page, `Controller: ${signal.split(' ')[1]}`, zero, { 'Load: deg/s': '0' });
    await openStep(page, /Signals/);
    await tab(page, /Zero/);
    await fill(page, 'Signal present at enable', zero);
    await expect(findings(page)).not.toContainText('the axis would move');
    await fill(page, 'Signal present at enable', signal);
    await expect(findings(page)).toContainText('the axis runs at 3\u202f000 rpm, 250 deg/s');
    await fill(page, 'Signal present at enable', zero);
    await tab(page, /Scale/);
    await page.getByLabel('Trip on signal loss').uncheck();
    if (live) await expect(findings(page)).toContainText('The drive takes a broken wire for a command');
    await page.getByLabel('Trip on signal loss').check();
    await expect(findings(page)).not.toContainText('The drive takes a broken wire');
    await openStep(page, /Key-in sheets/);
    await tab(page, /Drive/);
    await expect(keyIn(page, 'A-01')).toContainText('3000');
    await saved(page);
  });
}

for (const meaning of ['a torque', 'a position'] as const) {
  test(`analog: ${meaning}`, async ({ page }) => {
    await openAxis(page, 'Feed screws', /Plates and scaling/);
    await chooseStation(page, 'Controller');
    await choose(page, 'Command signal', 'An analog signal');
    await choose(page, 'Commanded quantity', meaning);
    await fill(page, 'Value at signal B', meaning === 'a torque' ? '200' : '400 mm');
    // ±10 V: 200 % of rated torque, or 400 mm, at 10 V.
    if (meaning === 'a torque') await probe(page, 'Controller: V', '5', { 'Drive: %': '100' });
    else await probe(page, 'Controller: V', '2.5', { 'Load: mm': '100' });
    await openStep(page, /Signals/);
    await tab(page, /Scale/);
    await expect(fact(page, /^Gain/)).toContainText(meaning === 'a torque' ? '20 %/V' : '40 mm/V');
    await expect(page.getByRole('tab', { name: /loop/i })).toHaveCount(0);
    await tab(page, /Zero/);
    await fill(page, 'Signal present at enable', meaning === 'a torque' ? '1 V' : '0 V');
    await expect(findings(page)).toContainText(
      meaning === 'a torque' ? 'pushes with 20 % of its rated torque' : 'goes to 0 mm',
    );
    await saved(page);
  });
}

test('the loop in the controller: runaway, prediction, and both ends', async ({ page }) => {
  await openAxis(page, 'Turntable', /Signals/);
  await tab(page, /loop/i);
  await fill(page, 'Error limit', '2');
  // Caught at 30/s · 2°: 60°/s; 2 + 1.2 + 60²/3000 = 4.4°
  await expect(fact(page, /Runaway distance, worst case/)).toContainText('4.4 deg');
  await fill(page, 'Error limit', '8');
  await page.getByLabel('Feedback direction opposite to command').check();
  await expect(findings(page)).toContainText('comes to rest after 32 deg');
  await openStep(page, /Jog, home/);
  await expect(page.getByText(/The prediction trips on following error/)).toBeVisible();
  await openStep(page, /Signals/);
  await tab(page, /loop/i);
  await page.getByLabel('Feedback direction opposite to command').uncheck();
  await openStep(page, /Jog, home/);
  // The controller lags by 80°/s over 30/s.
  await expect(page.getByRole('row', { name: /Predicted/ })).toContainText('2.6');
  await openStep(page, /Key-in sheets/);
  await tab(page, /Controller/);
  await expect(keyIn(page, 'Feedback counts per unit')).toContainText('1638.4');
  await saved(page);
});

test('a duty cycle, as a speed and as a position', async ({ page }) => {
  await openAxis(page, 'Glaze pump', /Signals/);
  await tab(page, /Scale/);
  await expect(fact(page, /Drive: N/)).toContainText('10000 / 3069 − 167');
  await fill(page, 'PWM resolution, bits', '8');
  // 100 % in 256 steps of 33.3 rpm a per cent
  await expect(fact(page, /Smallest step \(controller\)/)).toContainText('13.021 rpm');
  await page.getByLabel('Trip on signal loss').uncheck();
  await expect(findings(page)).toContainText('at 100 %, it runs at 3\u202f166.7 rpm');
  await choose(page, 'Commanded quantity', 'a position');
  await fill(page, 'Value at signal B', '90 mL');
  // One mL a per cent; 100 counts a mL
  await expect(fact(page, /^Gain/)).toContainText('1 mL/%');
  await noSeriousFinding(page);
  await openStep(page, /Key-in sheets/);
  await tab(page, /Drive/);
  await expect(keyIn(page, 'P1')).toContainText('1023');
  await saved(page);
});

test('moves picked by inputs: the first enable is shown before it surprises', async ({ page }) => {
  await openAxis(page, 'Tile stop', /Signals/);
  await tab(page, /Moves/);
  await page.getByRole('button', { name: 'Remove edge 1' }).click();
  await expect(page.getByText(/homes, then starts “down” by itself/)).toBeVisible();
  await fill(page, 'Inputs, first to last', 'DI3, DI4');
  for (const [pattern, kind] of [
    ['00', 'position'],
    ['10', 'fenced jog'],
    ['01', 'follow analog'],
    ['11', 'speed'],
  ] as const) {
    await page.getByRole('button', { name: pattern, exact: true }).click();
    await choose(page, 'Type of move', kind);
  }
  await fill(page, 'Speed', '60');
  await expect(page.getByRole('row', { name: /^11/ })).toContainText('60');
  await fill(page, 'Minimum input duration', '0');
  await expect(page.getByRole('list', { name: 'Between patterns' })).toContainText('From 00 to 11 it may do 10: up');
  await noSeriousFinding(page);
  await openStep(page, /Key-in sheets/);
  await tab(page, /Drive/);
  await expect(keyIn(page, 'Move 11: what it does')).toContainText('speed');
  await openStep(page, /Troubleshooting/);
  await expect(page.getByText('Do the input lamps show the pattern that is sent?')).toBeVisible();
  await page.getByText('Display patterns of this drive').first().click();
  await expect(page.getByText('Ready, not enabled.').first()).toBeVisible();
  await saved(page);
});

test('measured travel is taken with its evidence, as a revision with its name', async ({ page }) => {
  await openAxis(page, 'Feed screws', /Measure the scaling/);
  await expect(fact(page, /Measured over commanded/)).toContainText('1.000443');
  await page.getByRole('button', { name: 'Take × 1.000443' }).click();
  await expect(page.getByText(/Accepted: the nameplate values and this correction/)).toBeVisible();
  await noSeriousFinding(page);
  await saved(page);
  await openStep(page, /Revisions/);
  await expect(page.getByText(/“Travel by measurement: × 1.000443/)).toBeVisible();
  await openStep(page, /Plates and scaling/);
  await expect(result(page, 'travelPerTurn')).toContainText('5.002215');
  await page.goto(base);
});
