import { readFile } from 'node:fs/promises';
import { expect, test, type Page } from '@playwright/test';
import { extractText, getDocumentProxy } from 'unpdf';
import {
  choose,
  chooseStation,
  noSeriousFinding,
  openAxis,
  openCarriage,
  openStep,
  result,
  saved,
  undoAll,
  useApp,
} from './steps.ts';

useApp();

test.beforeEach(async ({ page }) => {
  // Without a file picker a long file becomes a download, which a test can read.
  await page.addInitScript(() => {
    (window as { showSaveFilePicker?: unknown }).showSaveFilePicker = undefined;
  });
});

const tab = (page: Page, name: RegExp) => page.getByRole('tab', { name }).click();
const findings = (page: Page) => page.getByRole('region', { name: 'Findings' });
const downloaded = async (page: Page, button: RegExp) => {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: button }).click(),
  ]);
  return { name: download.suggestedFilename(), path: await download.path() };
};

for (const form of [
  'Step and direction',
  'Clockwise and counter-clockwise pulses',
  'Quadrature (two phases)',
] as const) {
  if (!process.env.KAVRID_PROOF && form !== 'Quadrature (two phases)') continue;
  test(`${form}: a mismatch is named, both ends agree, and the move’s pulses are in the file`, async ({ page }) => {
    await openAxis(page, 'Spray lift', /Signals/);
    await tab(page, /Pulses/);
    const other = form === 'Quadrature (two phases)' ? 'Step and direction' : 'Quadrature (two phases)';
    await choose(page, 'Controller pulse form', form);
    await choose(page, 'Drive pulse form', other);
    await expect(findings(page)).toContainText('Set the same pulse form at both ends');
    await choose(page, 'Drive pulse form', form);
    await expect(findings(page)).not.toContainText('same form');
    await expect(page.getByRole('img', { name: /^Timing: / })).toBeVisible();
    await noSeriousFinding(page);
    // The first 0.2 s: 2 · 400 mm/s² … limited by jerk 4000 mm/s³: s = j · t³ / 6 until 0.1 s, then as below.
    await page.getByLabel('To, s').fill('0.2');
    const { name, path } = await downloaded(page, /Save as VCD/);
    expect(name).toBe('Spray lift pulses.vcd');
    const dump = await readFile(path, 'utf8');
    // The first value of each line is where it begins.
    const edges = [/^[01]!$/gm, /^[01]"$/gm].map((line) => (dump.match(line)?.length ?? 0) - 1);
    // By hand: after 0.1 s of jerk 4000 the speed is 20 mm/s at 0.667 mm; 0.1 s more at 400 mm/s² give 2 + 2 = 4 mm: 4.667 mm.
    const increments = Math.round(4.6667 * 200);
    const expected = {
      'Step and direction': [2 * increments, 0],
      'Clockwise and counter-clockwise pulses': [2 * increments, 0],
      'Quadrature (two phases)': [increments / 2, increments / 2],
    }[form];
    expect(Math.abs((edges[0] ?? 0) - (expected[0] ?? 0))).toBeLessThanOrEqual(3);
    expect(Math.abs((edges[1] ?? 0) - (expected[1] ?? 0))).toBeLessThanOrEqual(1);
    await undoAll(page);
  });
}

test('a long pulse file is cancelled half-way', async ({ page }) => {
  await openCarriage(page, /Plates and scaling/);
  await chooseStation(page, 'Drive');
  await page.getByLabel('Gear numerator N').fill('12');
  await openStep(page, /Signals/);
  await tab(page, /Pulses/);
  // 800 mm at 2²⁰ · 125 · 3 / (12 · 320) pulses/mm: 82 million pulses.
  await expect(page.getByText(/81\s920\s000 pulses of the test move, about 2.3 GB/)).toBeVisible();
  await page.getByRole('button', { name: 'Save as VCD' }).click();
  await expect(page.getByRole('progressbar', { name: 'Written so far' })).toBeVisible();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByText('Cancelled; nothing was kept.')).toBeVisible();
  await undoAll(page);
});

test('a ruinous level is a stop, and the resistor proposed mends it', async ({ page }) => {
  await openAxis(page, 'Spray lift', /Signals/);
  await tab(page, /Levels/);
  await expect(page.getByRole('status').filter({ hasText: 'mA' })).toContainText('It fits: the current is 12.6 mA');
  await page.getByLabel('Output voltage').fill('24');
  await expect(findings(page)).toContainText('the current is 83 mA; the input is rated for 18 mA');
  await page.getByLabel('Series resistor').fill('0');
  await expect(findings(page)).toContainText('no resistance for the remaining');
  // 22.4 V / 11.2 mA = 1996 Ω
  await page.getByRole('button', { name: /Put 2\s000 Ω into the line/ }).click();
  await expect(page.getByRole('status').filter({ hasText: 'mA' })).toContainText('It fits: the current is 11.2 mA');
  await page.getByLabel('Resistor', { exact: true }).fill('-5');
  await expect(page.getByText(/at least 0/)).toBeVisible();
  await expect(page.locator('main')).not.toContainText(/NaN|Infinity|undefined/);
  await noSeriousFinding(page);
  await undoAll(page);
});

test('which switch guards which end follows the direction, and enable and alarm say what a broken wire does', async ({
  page,
}) => {
  await openAxis(page, 'Feed screws', /Signals/);
  await choose(page, 'Positive direction, viewed from the shaft end', 'clockwise');
  await expect(findings(page)).toContainText('the load moves to the minus end');
  await page.getByLabel('left-hand thread').check();
  // A left-hand screw turns it back, but the second motor now stands against the first.
  await expect(findings(page)).not.toContainText('the load moves to the minus end');
  await expect(findings(page)).toContainText('the motors work against each other');
  await noSeriousFinding(page);
  await tab(page, /Enable/);
  await choose(page, 'Alarm contact shared with others', 'in parallel');
  await expect(findings(page)).toContainText('the alarm of another is not seen');
  await expect(page.getByRole('table', { name: 'Alarms of this drive' })).toContainText('lost: home again');
  await noSeriousFinding(page);
  await undoAll(page);
});

test('both ends are keyed in from one plan: found values compared, ticked, noted, printed and saved as PDF', async ({
  page,
}) => {
  await openCarriage(page, /Key-in sheets/);
  await expect(page.getByRole('row', { name: /axis.steps/ })).toContainText('100');
  await page.getByRole('tab', { name: /Drive/ }).click();
  await page.getByRole('button', { name: 'Paste values found …' }).click();
  await page.getByRole('textbox', { name: 'Values' }).fill('G-10 = 8192\nG-11 = 125');
  await page.getByRole('button', { name: 'Accept 2' }).click();
  await expect(page.getByRole('list', { name: 'Changes' })).toHaveText(/Drive G-10 .*8192 → 12288/);
  await page.getByLabel('Electronic gear, numerator is keyed in').check();
  await page.getByLabel('Note on Torque limit').fill('Zoë: press twice');
  await noSeriousFinding(page);
  const { path } = await downloaded(page, /Save both as PDF/);
  const { text } = await extractText(await getDocumentProxy(new Uint8Array(await readFile(path))), {
    mergePages: true,
  });
  for (const words of [
    'Tile glazing cell, axis Carriage',
    '8192',
    'Checked by',
    'Carriage: Drive',
    'G-10',
    '12288',
    'Zoë: press twice',
    '8 µs',
    'Steps per unit',
  ])
    expect(text.replaceAll('μ', 'µ')).toContain(words);
  await page.getByRole('button', { name: 'Print both sheets' }).click();
  await expect(page.locator('iframe[title="Sheets to print"]')).toHaveAttribute('src', /^blob:/);
  await saved(page);
  await page.reload();
  await page.getByRole('tab', { name: /Drive: 1 of/ }).click();
  await expect(page.getByLabel('Note on Torque limit')).toHaveValue('Zoë: press twice');
});

test('a switch table, an untimed train and a linear motor are worked out as they are chosen', async ({ page }) => {
  await openAxis(page, 'Spray lift', /Plates and scaling/);
  await choose(page, 'Switches', /: 400$/);
  // 400 pulses on 10 mm
  await expect(result(page, 'stepsPerUnit')).toContainText('40');
  await page.getByRole('button', { name: 'Compare …' }).click();
  const all = page.getByRole('table', { name: 'All ratios' });
  await expect(page.getByRole('img', { name: 'Top speed over resolution' })).toBeVisible();
  await all.getByRole('button', { name: 'pulses/rev' }).click();
  await noSeriousFinding(page);
  await all.getByRole('button', { name: 'Adopt 1600' }).click();
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(result(page, 'stepsPerUnit')).toContainText('160');
  await chooseStation(page, 'Controller');
  await choose(page, 'Command signal', /untimed/);
  await page.getByLabel('Pulses of a train').fill('1000');
  await page.getByLabel('Pulse rate of the train').fill('30 kHz');
  await page.getByLabel('Drive’s speed limit').fill('100');
  await page.getByLabel('Drive’s acceleration').fill('1000');
  await expect(result(page, 'trainTime')).toContainText('0.0333333');
  await chooseStation(page, 'Motor');
  await choose(page, 'The motor', 'pushes along a line');
  await page.getByLabel('Counts per mm').fill('1 m');
  await expect(page.getByText(/plain number/)).toBeVisible();
  await page.getByLabel('Counts per mm').fill('2000');
  await expect(result(page, 'countsPerRevolution')).toContainText('Counts per mm');
  await expect(page.locator('main')).not.toContainText(/rpm|NaN|Infinity|undefined/);
  await undoAll(page);
});

test('a fault is found by observing and measuring, and the plan’s own findings come first', async ({ page }) => {
  await openAxis(page, 'Feed screws', /Troubleshooting/);
  const first = page
    .getByRole('list', { name: /Causes/ })
    .getByRole('listitem')
    .first();
  const answer = (question: RegExp, words: string) =>
    page.getByRole('group', { name: question }).getByRole('button', { name: words, exact: true }).click();
  await answer(/can the shaft be turned/, 'yes, it is free');
  await answer(/safe-torque-off/, 'none at one or both');
  await expect(first).toContainText('Safe torque off is open');
  await noSeriousFinding(page);
  await page.reload();
  await expect(first).toContainText('Safe torque off is open');
  await page.getByRole('button', { name: 'Start over' }).click();
  await expect(page.getByText('Possible causes, before any observation')).toBeVisible();
});
