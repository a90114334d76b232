import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { base, killPart } from './app.ts';
import {
  choose,
  chooseStation,
  connect,
  noSeriousFinding,
  openAxis,
  openStep,
  result,
  saved,
  undoAll,
  useApp,
} from './steps.ts';

useApp();

const button = (page: Page, name: string) => page.getByRole('button', { name, exact: true });
const fill = (page: Page, label: string, text: string) => page.getByLabel(label, { exact: true }).fill(text);
const findings = (page: Page) => page.getByRole('region', { name: /^Findings/ });
const grinder = (page: Page, view: RegExp) => openAxis(page, 'Edge grinder', view);
const tool = (page: Page) => page.getByLabel('Tool speed', { exact: true }).and(page.locator('output'));

test('a new spindle goes from its plate to its key-in sheet', async ({ page }) => {
  await page.goto(base);
  await page.getByRole('link', { name: 'Tile glazing cell', exact: true }).click();
  await button(page, 'New spindle').click();
  await page.getByLabel('Name').fill('Deburring head');
  await button(page, 'Create').click();
  await chooseStation(page, 'Motor');
  await expect(page.getByText('the rated frequency has not been entered')).toBeVisible();
  // A plate that cannot be: 24 000 rpm at 50 Hz.
  await fill(page, 'Power', '2.2');
  await fill(page, 'Rated frequency', '50');
  await fill(page, 'Rated speed', '23450');
  await fill(page, 'Poles', '2');
  await fill(page, 'Star: volts', '220');
  await fill(page, 'Star: amps', '8.4');
  await fill(page, 'Power factor, cos φ', '0.84');
  await expect(findings(page)).toContainText('390.83 Hz would match');
  // The library knows the real one.
  await choose(page, 'Model, from the library', 'High-frequency spindle 2.2 kW, 400 Hz');
  await expect(findings(page)).not.toContainText('contradict each other');
  await expect(result(page, 'synchronousSpeed')).toContainText('24\u202f000');
  await chooseStation(page, 'Drive');
  await choose(page, 'Model, from the library', 'Frequency drive A, 2.2 kW, one phase');
  await chooseStation(page, 'Signal');
  await fill(page, 'Upper signal, V', '10');
  await page.getByLabel('Upper frequency').fill('400');
  await fill(page, 'Controller: speed at full signal', '20000');
  await openStep(page, /Connection and curve/);
  await fill(page, 'Supply', '230');
  await choose(page, 'Phases', 'one');
  await fill(page, 'Protection current', '8.4');
  // The classic ruin, found before the leads are on.
  await fill(page, 'Base frequency', '50');
  await fill(page, 'Base voltage', '220');
  await fill(page, 'Highest frequency', '400');
  await expect(findings(page)).toContainText('8 times its rated volts per hertz');
  await fill(page, 'Base frequency', '400');
  await expect(findings(page)).not.toContainText('times its rated volts per hertz');
  await expect(page.getByRole('img', { name: 'Voltage over tool speed' })).toBeVisible();
  await openStep(page, /Plates and scaling/);
  await expect(findings(page)).toContainText(
    'sends its full signal for 20 000 rpm, but the drive runs the tool at 24 000 rpm'.replace(
      /(\d) (\d)/g,
      '$1\u202f$2',
    ),
  );
  await fill(page, 'Controller: speed at full signal', '24000');
  await expect(findings(page)).not.toContainText('sends its full signal');
  await openStep(page, /Key-in sheets/);
  await page.getByRole('tab', { name: /^Drive/ }).click();
  await expect(page.locator('[data-code="C20"]')).toContainText('400.00');
  await expect(page.locator('[data-code="K44"]')).toContainText('400.00');
  await saved(page);
  await noSeriousFinding(page);
});

test('the edge grinder: probe, belt, ramps, bus, undo', async ({ page }) => {
  await grinder(page, /Plates and scaling/);
  await page.getByLabel('Speed command: rpm').fill('2000');
  for (const [station, value] of [
    ['Signal: counts', '5\u202f000'],
    ['Drive: Hz', '50'],
    ['Motor: rpm', '3\u202f000'],
    ['Tool: m/s', '15.708'],
  ] as const)
    await expect(page.getByLabel(station)).toHaveValue(value);
  await chooseStation(page, 'Belt');
  await choose(page, 'Pulley step in use', 'polishing');
  await expect(result(page, 'highestToolSpeed')).toContainText('1\u202f440');
  await expect(findings(page)).toContainText('the highest possible speed, 1\u202f440 rpm');
  await openStep(page, /Ramps and braking/);
  await choose(page, 'Stop method', 'coasting');
  await expect(page.getByRole('img', { name: 'DC bus voltage during a stop' })).toBeVisible();
  await choose(page, 'Stop method', 'ramp to standstill');
  await button(page, 'Remove').click();
  await noSeriousFinding(page);
  await openStep(page, /Command and interlocks/);
  await page.getByLabel('Controller: baud').fill('9600');
  await expect(findings(page)).toContainText('baud rate 9600 at the controller, 38400 at the drive');
  await page.getByLabel('Communication timeout').fill('0');
  await expect(findings(page)).toContainText('does not monitor the link');
  await page.getByLabel('Communication timeout').fill('soon');
  await expect(page.getByText(/“soon” is not a number/)).toBeVisible();
  await expect(findings(page)).toContainText('“soon” cannot be used');
  await noSeriousFinding(page);
  await undoAll(page);
  await expect(findings(page)).not.toContainText('9600');
});

test('the drive is read, written, stored and proven; it runs, trips and is reset', async ({ page }) => {
  await grinder(page, /Drive data/);
  await button(page, 'Connect').click();
  await button(page, '1. Read and compare').click();
  await expect(page.getByText(/Not proven:.*Highest frequency/)).toBeVisible({ timeout: 20_000 });
  await page.getByRole('button', { name: /2. Write what differs/ }).click();
  await expect(page.getByText('Every planned value is running and stored.').first()).toBeVisible({ timeout: 30_000 });
  await openStep(page, /Run test/);
  await expect(button(page, 'Run')).toBeDisabled();
  await page.getByRole('checkbox', { name: /hardware stop/ }).check();
  await fill(page, 'Run speed', '1900');
  await button(page, 'Run').click();
  await expect(page.getByText('at speed', { exact: true })).toBeVisible({ timeout: 20_000 });
  await expect(tool(page)).toHaveText(/^18[89]\d$/);
  await fill(page, 'Run speed', '9000');
  await button(page, 'Set the speed').click();
  await expect(page.getByText(/above the 2400 rpm/)).toBeVisible();
  await button(page, 'Ramp down').click();
  await expect(tool(page)).toHaveText('0', { timeout: 20_000 });
});

test('the run test is made, measured against predicted, and kept as CSV', async ({ page }) => {
  await grinder(page, /Run test/);
  for (const _ of [0, 1, 2]) await page.getByRole('button', { name: 'Remove speed 2' }).click();
  await fill(page, 'Load applied at', '3');
  await fill(page, 'Load removed at', '4');
  await fill(page, 'Stop at', '5');
  await fill(page, 'Ends at', '8');
  await expect(page.getByText('Predicted: the drive completes it without a trip.')).toBeVisible();
  await connect(page);
  await page.getByRole('checkbox', { name: /hardware stop/ }).check();
  await button(page, 'Start the run test').click();
  await expect(page.getByRole('region', { name: 'Measured over predicted' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('combobox', { name: 'Run shown' })).toContainText('run test · finished');
  await expect(page.getByText(/, measured /).first()).toBeVisible();
  const id = new URL(page.url()).pathname.split('/').at(-2) ?? '';
  const runs = (await (await page.request.get(`${base}/api/axes/${id}/runs`)).json()) as { id: string }[];
  const csv = await (await page.request.get(`${base}/api/runs/${runs[0]?.id ?? ''}/trace.csv`)).text();
  expect(csv.split('\r\n')[0]).toContain('Output frequency (Hz),Motor speed (rpm)');
  // 1900 rpm of the tool are 47.5 Hz.
  expect(csv).toContain(',47.5,');
  await noSeriousFinding(page);
  // The same run on the page of traces, over its prediction, with its steady speeds.
  await page.getByRole('link', { name: 'Open in Traces' }).click();
  await page.getByRole('tab', { name: 'Steady speeds' }).click();
  const steady = page.getByRole('table', { name: 'Steady speeds' });
  await expect(steady.getByRole('row', { name: /^measured/ }).first()).toContainText('1\u202f900');
  await expect(steady.getByRole('row', { name: /^prediction/ }).first()).toContainText('1\u202f900');
  await noSeriousFinding(page);
  await openStep(page, /^Run test/);
  // A stop without its resistor is foretold to trip.
  await page.getByRole('switch', { name: 'With the brake resistor' }).click();
  await page.getByRole('combobox', { name: 'Run shown' }).click();
  await page.getByRole('option', { name: 'prediction only' }).click();
  await expect(page.getByText(/Predicted: the drive trips on overvoltage at/)).toBeVisible();
  await undoAll(page);
});

test('a lost link is told, and the drive is found again', async ({ page }) => {
  await grinder(page, /Run test/);
  await connect(page);
  killPart('bench');
  await expect(page.getByText(/The link to the drive is lost/)).toBeVisible({ timeout: 20_000 });
  await expect(page.getByText(/The link to the drive is lost/)).toBeHidden({ timeout: 30_000 });
});

test('the tachometer corrects the scaling, and the whole goes into a file and the library', async ({ page }) => {
  await grinder(page, /Tachometer/);
  for (const [k, measured] of [776, 1164, 1552, 1843, 2134].entries())
    await page.getByLabel(`Measured, point ${k + 1}`).fill(String(measured));
  await button(page, 'Take over 0.97').click();
  await saved(page);
  await openStep(page, /Plates and scaling/);
  // 2.5 counts for one rpm become 2.5 / 0.97.
  await expect(result(page, 'signalPerToolRpm')).toContainText('2.577');
  await openStep(page, /Revisions/);
  await expect(page.getByText(/speed corrected to 0.97/)).toBeVisible();
  await page.getByRole('link', { name: 'Tile glazing cell' }).click();
  await button(page, 'Export …').click();
  const [download] = await Promise.all([page.waitForEvent('download'), button(page, 'Export').click()]);
  const bytes = readFileSync((await download.path()) as unknown as string);
  await page.goto(base);
  await button(page, 'Import …').click();
  await page.getByTestId('machine-file').setInputFiles({ name: 'm.zip', mimeType: 'application/zip', buffer: bytes });
  await page.getByLabel(/Keep both/).check({ timeout: 20_000 });
  await button(page, 'Import it').click();
  await button(page, 'Open the machine').click({ timeout: 20_000 });
  await expect(page.getByRole('heading', { name: 'Tile glazing cell (file)' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Edge grinder', exact: true })).toBeVisible();
  await page.goto(`${base}/library?shelf=spindle%20drive`);
  await page.getByRole('link', { name: /Frequency drive B/ }).click();
  await expect(page.getByLabel('Highest frequency')).toHaveValue('1000');
  await page.getByRole('tab', { name: /^Registers/ }).click();
  await expect(page.getByRole('table', { name: 'Registers' })).toBeVisible();
  await noSeriousFinding(page);
});
