import { fileURLToPath } from 'node:url';
import { expect, test, type Page } from '@playwright/test';
import { connect, noSeriousFinding, openAxis, openStep, saved, useApp } from './steps.ts';

useApp();

/** Opens the link from the page of inputs, or finds it open. */
async function linked(page: Page): Promise<void> {
  const button = page.getByRole('button', { name: 'Connect', exact: true });
  const minus = page.getByRole('row', { name: /^Minus limit/ });
  await expect(button.or(minus)).toBeVisible();
  if (await button.isVisible()) await button.click();
  await expect(minus).toContainText('current flows');
}

const tripped = (page: Page, label: string) => page.getByRole('switch', { name: label });

/** Trips a sensor on the bench's page while the walk waits for it, and lets it go. */
async function trip(page: Page, label: string, sensor: string): Promise<void> {
  await openStep(page, /^Inputs/);
  await expect(page.getByText(`Trip this sensor by hand now: ${sensor}`)).toBeVisible();
  await openStep(page, /^Bench/);
  await tripped(page, label).click();
  await expect(tripped(page, label)).toBeChecked();
  await openStep(page, /^Inputs/);
  // It has been judged, or waits to be let go.
  await expect(page.getByText(`Trip this sensor by hand now: ${sensor}`)).toBeHidden();
  await openStep(page, /^Bench/);
  await tripped(page, label).click();
  await expect(tripped(page, label)).not.toBeChecked();
}

test('inputs are seen live; a walk along the sensors finds that the limits are swapped', async ({ page }) => {
  await openAxis(page, 'Carriage', /^Inputs/);
  await linked(page);
  const minus = page.getByRole('row', { name: /^Minus limit/ });
  await expect(minus).toContainText('not active');
  await openStep(page, /^Bench/);
  await tripped(page, 'Limit wires swapped at the drive').click();
  await tripped(page, 'Hold the plus limit switch tripped').click();
  await openStep(page, /^Inputs/);
  await expect(minus).toContainText('no current');
  await openStep(page, /^Bench/);
  await tripped(page, 'Hold the plus limit switch tripped').click();
  await openStep(page, /^Inputs/);
  await page.getByRole('button', { name: 'Start the walk' }).click();
  await trip(page, 'Hold the minus limit switch tripped', 'Minus limit');
  await trip(page, 'Hold the plus limit switch tripped', 'Plus limit');
  await trip(page, 'Hold a metal tool at the home switch', 'Home switch');
  await openStep(page, /^Inputs/);
  const results = page.getByRole('list', { name: 'Results of the walk' });
  await expect(results).toContainText('Home switch: proven');
  await expect(results).toContainText('Minus limit: swapped');
  await expect(results).toContainText('Plus limit reacted instead');
  await expect(page.getByRole('link', { name: /^Inputs/ })).toContainText('1 of 3 proven');
  await openStep(page, /^Bench/);
  await tripped(page, 'Limit wires swapped at the drive').click();
  await expect(tripped(page, 'Limit wires swapped at the drive')).not.toBeChecked();
});

test('a drive that stops answering is told, and its fault is taken back on the bench', async ({ page }) => {
  await openAxis(page, 'Carriage', /^Inputs/);
  await linked(page);
  await expect(page.getByRole('row', { name: /^Minus limit/ })).toContainText('current flows');
  await openStep(page, /^Bench/);
  await tripped(page, 'Servo drive does not answer').click();
  await expect(tripped(page, 'Servo drive does not answer')).toBeChecked();
  await openStep(page, /^Inputs/);
  await expect(page.getByRole('region', { name: 'Inputs and outputs of the drive' })).toContainText(
    /not connected|connecting/,
  );
  await openStep(page, /^Bench/);
  await tripped(page, 'Servo drive does not answer').click();
  await expect(tripped(page, 'Servo drive does not answer')).not.toBeChecked();
  await openStep(page, /^Inputs/);
  await expect(page.getByRole('row', { name: /^Minus limit/ })).toContainText('current flows');
});

test('the simulated controller moves the axis by pulses, which the drive counts by its own gear', async ({ page }) => {
  await openAxis(page, 'Carriage', /^Jog/);
  await connect(page);
  const position = page.getByTestId('position');
  await expect(position).not.toHaveText('—');
  const before = Number(await position.textContent());
  await openStep(page, /^Bench/);
  await tripped(page, 'Servo on').click();
  await page.getByLabel('Move by').fill('50 mm');
  await page.getByRole('button', { name: 'Plus', exact: true }).click();
  await expect(page.getByRole('row', { name: /^Pulses sent/ })).toContainText('5\u202f000');
  await openStep(page, /^Jog/);
  await expect(page.getByText(/enabled by its terminals or by another master/)).toBeVisible();
  // The drive has its factory gear of 1/1: 5000 counts, at 320/3 mm for 2²⁰.
  await expect.poll(async () => Math.abs(Number(await position.textContent()) - before - 0.5086)).toBeLessThan(0.05);
  await openStep(page, /^Bench/);
  // The next test finds the drive off.
  await tripped(page, 'Servo on').click();
  await expect(tripped(page, 'Servo on')).not.toBeChecked();
});

test('the other devices of the cell take their commands at their terminals: a loop in the controller, stored moves', async ({
  page,
}) => {
  const position = page.getByTestId('position');
  const reads = async () => Number(await position.textContent());
  await openAxis(page, 'Turntable', /^Jog/);
  await connect(page);
  await expect(position).not.toHaveText('—');
  const before = await reads();
  await openStep(page, /^Bench/);
  await tripped(page, 'Servo on').click();
  await page.getByLabel('Move by').fill('30 deg');
  await page.getByRole('button', { name: 'Plus', exact: true }).click();
  await expect(page.getByRole('row', { name: /^Commanded position/ })).toContainText('49\u202f152');
  await openStep(page, /^Jog/);
  await expect.poll(async () => Math.abs((await reads()) - before - 30)).toBeLessThan(0.05);
  await openStep(page, /^Bench/);
  await tripped(page, 'Servo on').click();
  await expect(tripped(page, 'Servo on')).not.toBeChecked();

  // The planned stored moves are written to the drive like any other value.
  await openAxis(page, 'Tile stop', /Drive data/);
  await connect(page);
  await page.getByRole('button', { name: '1. Read and compare' }).click();
  await expect(page.getByRole('region', { name: 'To be written, in this order' })).toContainText('Move 1: speed');
  await page.getByRole('button', { name: /2. Write what differs/ }).click();
  await expect(page.getByText('Every planned value is running and stored.').first()).toBeVisible({ timeout: 40_000 });
  await openStep(page, /^Bench/);
  await tripped(page, 'Servo on').click();
  await expect(page.getByRole('row', { name: /^Homed/ })).toContainText('yes', { timeout: 30_000 });
  await page.getByLabel(/^Pattern/).fill('1');
  await page.getByRole('button', { name: 'Set', exact: true }).click();
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await openStep(page, /^Jog/);
  await expect.poll(async () => Math.abs((await reads()) - 85)).toBeLessThan(0.1);
  await openStep(page, /^Bench/);
  // The next test finds the drive off.
  await tripped(page, 'Servo on').click();
  await expect(tripped(page, 'Servo on')).not.toBeChecked();
});

test('an input is forced with the motor off, listed until it is free, and free when the page is left', async ({
  page,
}) => {
  await openAxis(page, 'Carriage', /^Inputs/);
  await linked(page);
  const plus = page.getByRole('row', { name: /^Plus limit/ });
  const force = page.getByRole('combobox', { name: 'Force Plus limit' });
  await force.selectOption('forced active');
  await expect(force).toHaveValue('active');
  await expect(plus).toContainText('active');
  await expect(page.getByText('Changed for testing and not yet restored: Forced inputs.')).toBeVisible();
  await noSeriousFinding(page);
  await openStep(page, /^Jog/);
  await expect(page.getByText(/not yet restored/)).toBeHidden();
  await openStep(page, /^Inputs/);
  await expect(force).toHaveValue('free');
});

test('the closed-loop stepper of the spray lift is linked: read, told who enables it, and never moved from here', async ({
  page,
}) => {
  await openAxis(page, 'Spray lift', /^Drive data/);
  await page.getByRole('button', { name: 'Connect', exact: true }).click();
  await expect(page.getByText(/Kind 0x5401, firmware .*, serial number \d+/)).toBeVisible();
  await expect(page.getByText(/Enabled by: nobody/)).toBeVisible();
  await page.getByRole('button', { name: '1. Read and compare' }).click();
  await expect(page.locator('[data-parameter="switchPositions"]')).toContainText('400');
  await openStep(page, /^Jog/);
  await page.getByRole('checkbox').first().check();
  const enable = page.getByRole('button', { name: 'Enable' });
  if (await enable.isEnabled()) await enable.click();
  await expect(page.getByRole('button', { name: 'Jog plus' })).toBeDisabled();
});

test('an unknown drive is linked by its data sheet: addresses given, read, written, stored and proven', async ({
  page,
}) => {
  // A data sheet tells no units: a method is a number in any drive.
  await openAxis(page, 'Feed screws', /Planned values/);
  await page.getByRole('combobox', { name: 'Homing run by' }).click();
  await page.getByRole('option', { name: 'the drive' }).click();
  await openStep(page, /Drive data/);
  await page.getByRole('button', { name: 'Make one from an EDS file …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog
    .getByTestId('eds-file')
    .setInputFiles(fileURLToPath(new URL('../bench/devices/servo/servo.eds', import.meta.url)));
  await dialog.getByLabel('Name of the map').fill('Known by its data sheet');
  // As the manual of the bench says.
  const ranges = [
    ['0x1000', '0x10ff', '12288', '8', '2'],
    ['0x2000', '0x207f', '14336', '2', '2'],
    ['0x6000', '0x60ff', '14592', '6', '2'],
  ];
  const titles = ['From object', 'To object', 'First register', 'Registers per object', 'Registers per sub-index'];
  for (const [k, range] of ranges.entries()) {
    if (k > 0) await dialog.getByRole('button', { name: 'Add a range' }).click();
    for (const [at, title] of titles.entries())
      await dialog.getByRole('textbox', { name: `${title}, range ${k + 1}` }).fill(range[at] ?? '');
  }
  await noSeriousFinding(page);
  await dialog.getByRole('button', { name: 'Import the map' }).click();
  await expect(page.getByRole('combobox', { name: 'Register map' })).toContainText('Known by its data sheet');
  await saved(page);
  await connect(page);
  await expect(page.getByText(/Kind 0x5301, firmware 0x10002, serial number \d+/)).toBeVisible();
  await page.getByRole('button', { name: '1. Read and compare' }).click();
  await expect(page.getByRole('region', { name: 'To be written, in this order' })).toContainText('Homing method');
  await page.getByRole('button', { name: /2. Write what differs/ }).click();
  await expect(page.getByRole('list', { name: 'Log' })).toContainText('Wrote Homing method', { timeout: 30_000 });
});
