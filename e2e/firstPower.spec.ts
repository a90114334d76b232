import { expect, test, type Page } from '@playwright/test';
import { connect, noSeriousFinding, openAxis, openStep, planWritten, useApp } from './steps.ts';

useApp();

const step = (page: Page, title: string) =>
  page.getByRole('region', { name: 'Steps of the first power' }).getByRole('button', { name: new RegExp(`^${title}`) });
const begin = (page: Page) => page.getByRole('button', { name: /^(Start|Start: switches the motor on|Repeat)$/ });
const bench = (page: Page, label: string) => page.getByRole('switch', { name: label });

/** What a hand does at the bench, for a while. */
async function atBench(page: Page, label: string, ms: number): Promise<void> {
  await openStep(page, /^Bench/);
  await bench(page, label).click();
  await expect(bench(page, label)).toBeChecked();
  if (ms > 0) {
    // The hand holds on for so long.
    const until = Date.now() + ms;
    await expect.poll(() => Date.now() > until, { timeout: ms + 5000 }).toBe(true);
    await bench(page, label).click();
    await expect(bench(page, label)).not.toBeChecked();
  }
  await openStep(page, /^First power/);
}

const passed = (page: Page, title: string, verdict = 'passed') =>
  expect(step(page, title)).toContainText(verdict, { timeout: 20_000 });

async function answer(page: Page, title: string, words: string): Promise<void> {
  await step(page, title).click();
  await page.getByRole('button', { name: /^(Answer|Start|Repeat)$/ }).click();
  await page.getByRole('radio', { name: words }).click();
  await page.getByRole('button', { name: 'Confirm' }).click();
}

async function skip(page: Page, title: string): Promise<void> {
  await step(page, title).click();
  await page.getByRole('button', { name: 'Skip …' }).click();
  await page.getByLabel('Reason').fill('not today');
  await page.getByRole('button', { name: 'Skip', exact: true }).click();
  await passed(page, title, 'skipped');
}

async function turnedByHand(page: Page): Promise<void> {
  await step(page, 'Shaft turned by hand').click();
  await begin(page).click();
  await expect(page.getByText('Watching the drive …')).toBeVisible();
  await atBench(page, 'Turn the motor shaft by hand, one turn towards plus', 2500);
}

async function hardwareStop(page: Page): Promise<void> {
  await step(page, 'Hardware stop proven').click();
  await begin(page).click();
  await expect(page.getByText('Watching the drive …')).toBeVisible();
  await atBench(page, 'Press the hardware stop of the cell', 500);
  await passed(page, 'Hardware stop proven');
}

async function mainPower(page: Page): Promise<void> {
  await step(page, 'Main power on, alarms read').click();
  await begin(page).click();
  await page.getByRole('button', { name: 'Main power is on' }).click();
  await passed(page, 'Main power on, alarms read');
}

async function drill(page: Page, title: string): Promise<void> {
  await step(page, title).click();
  await begin(page).click();
}

async function jogged(page: Page, title: string, button: string): Promise<void> {
  await step(page, title).click();
  await begin(page).click();
  await expect(page.getByText('The motor is on. Hold a button to jog.')).toBeVisible({ timeout: 10_000 });
  await page.getByRole('button', { name: button }).hover();
  await page.mouse.down();
  const until = Date.now() + 1500;
  await expect.poll(() => Date.now() > until).toBe(true);
  await page.mouse.up();
}

test('a healthy carriage is taken through its first power to the slow jogs, and nothing is left changed', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openAxis(page, 'Carriage', /^First power/);
  await planWritten(page);
  await openStep(page, /^First power/);
  await drill(page, 'Plan read back');
  await passed(page, 'Plan read back');
  await turnedByHand(page);
  await passed(page, 'Shaft turned by hand');
  await answer(page, 'Residual voltage known', 'yes');
  await passed(page, 'Residual voltage known', 'observed');
  await hardwareStop(page);
  await mainPower(page);
  await drill(page, 'Enabled at standstill');
  await passed(page, 'Enabled at standstill');
  await drill(page, 'Bump from mid-travel');
  await passed(page, 'Bump from mid-travel');
  await jogged(page, 'Slow jog towards plus', 'Jog plus');
  await passed(page, 'Slow jog towards plus');
  await jogged(page, 'Slow jog towards minus', 'Jog minus');
  await passed(page, 'Slow jog towards minus');
  // The torque limit is restored automatically; the command source by its button.
  await expect(page.getByText(/Torque limit/).filter({ hasText: /→|instead/ })).toHaveCount(0);
  await expect(page.getByRole('region', { name: 'What is wrong' })).toHaveCount(0);
});

test('a swapped encoder is named, by the hand-turned shaft and by the bump', async ({ page }) => {
  test.setTimeout(120_000);
  await openAxis(page, 'Carriage', /^First power/);
  await connectedHere(page);
  await atBench(page, 'Encoder channels A and B exchanged', 0);
  await turnedByHand(page);
  await passed(page, 'Shaft turned by hand', 'failed');
  const wrong = page.getByRole('region', { name: 'What is wrong' });
  await expect(wrong).toContainText('Encoder channels are exchanged');
  await expect(step(page, 'Bump from mid-travel')).toContainText('out of date');
  await skip(page, 'Shaft turned by hand');
  await drill(page, 'Enabled at standstill');
  await passed(page, 'Enabled at standstill');
  await drill(page, 'Bump from mid-travel');
  await passed(page, 'Bump from mid-travel', 'failed');
  await expect(wrong).toContainText('Exchange channels A and B');
  await expect(wrong).toContainText('Less likely: Rotation sense');
  await page.getByRole('button', { name: 'Reset the fault' }).click();
  await toggled(page, 'Encoder channels A and B exchanged');
});

async function connectedHere(page: Page): Promise<void> {
  const button = page.getByRole('button', { name: 'Connect', exact: true });
  const linked = page.getByRole('region', { name: 'Steps of the first power' }).getByText('linked', { exact: true });
  await expect(button.or(linked)).toBeVisible();
  if (await button.isVisible()) await button.click();
  await expect(linked).toBeVisible();
}

test('exchanged limits are named by the walk along the sensors', async ({ page }) => {
  await openAxis(page, 'Carriage', /^First power/);
  await connectedHere(page);
  await atBench(page, 'Limit wires swapped at the drive', 0);
  await step(page, 'Sensors tripped by hand').click();
  await begin(page).click();
  for (const [hand, sensor] of [
    ['Hold the minus limit switch tripped', 'Minus limit'],
    ['Hold the plus limit switch tripped', 'Plus limit'],
    ['Hold a metal tool at the home switch', 'Home switch'],
  ] as const) {
    await expect(page.getByText(`Trip this sensor by hand now: ${sensor}`)).toBeVisible();
    await atBench(page, hand, 1000);
  }
  await passed(page, 'Sensors tripped by hand', 'failed');
  await expect(page.getByRole('region', { name: 'What is wrong' })).toContainText('Limit wires are exchanged');
  await toggled(page, 'Limit wires swapped at the drive');
});

test('an inverted enable of the controller is named', async ({ page }) => {
  await openAxis(page, 'Carriage', /^First power/);
  await connectedHere(page);
  await atBench(page, 'Servo-on output inverted', 0);
  await step(page, 'Enable from the controller').click();
  await begin(page).click();
  await expect(page.getByText('Watching the drive …')).toBeVisible();
  await atBench(page, 'Servo on', 800);
  await passed(page, 'Enable from the controller', 'failed');
  await expect(page.getByRole('region', { name: 'What is wrong' })).toContainText(
    'Enable of the controller is inverted',
  );
  await toggled(page, 'Servo-on output inverted');
});

test('a brake that stays shut is named when the planned torque does not move the axis', async ({ page }) => {
  test.setTimeout(180_000);
  await openAxis(page, 'Tile stop', /^First power/);
  await planWritten(page);
  await openStep(page, /^First power/);
  for (const title of [
    'Suspended load propped',
    'Shaft turned by hand',
    'Hardware stop proven',
    'Residual voltage known',
  ])
    await skip(page, title);
  await skip(page, 'Main power on, alarms read');
  await atBench(page, 'Holding brake stays shut', 0);
  await drill(page, 'Enabled at standstill');
  await passed(page, 'Enabled at standstill');
  await drill(page, 'Bump from mid-travel');
  // Each try has a higher torque limit, which the user has chosen.
  for (;;) {
    await expect(step(page, 'Bump from mid-travel')).toContainText(/undecided|failed/, { timeout: 20_000 });
    if ((await step(page, 'Bump from mid-travel').textContent())?.includes('failed')) break;
    await page.getByRole('checkbox', { name: /Repeat with a torque limit of/ }).check();
    await begin(page).click();
    await expect(step(page, 'Bump from mid-travel')).toContainText('under way');
  }
  const wrong = page.getByRole('region', { name: 'What is wrong' });
  await expect(wrong).toContainText('The holding brake stays shut, or its coil gets no current');
  await expect(wrong).toContainText('Measure the voltage at the coil');
  await toggled(page, 'Holding brake stays shut');
});

test('a drive without a link is taken through by answers, which are observed and never read back', async ({ page }) => {
  await openAxis(page, 'Spray lift', /^First power/);
  await expect(page.getByText('answered here as observed')).toBeVisible();
  await answer(page, 'Wires checked', 'yes, every wire');
  await passed(page, 'Wires checked', 'observed');
  await answer(page, 'Suspended load propped', 'yes');
  await answer(page, 'Shaft turned by hand', 'it counts down by one turn');
  await passed(page, 'Shaft turned by hand', 'failed');
  const wrong = page.getByRole('region', { name: 'What is wrong' });
  await expect(wrong).toContainText('One of these causes. The steps done so far do not distinguish them');
  await expect(page.getByText('observed by the user', { exact: false })).toBeVisible();
  // Another sense of rotation in the plan, and what was seen does not hold any more.
  await openStep(page, /^Planned values/);
  await expect(page.getByRole('navigation', { name: 'Steps of the job' })).toContainText('1 failed');
});

/** Switches something at the bench on or off, and stays there. */
async function toggled(page: Page, label: string): Promise<void> {
  await openStep(page, /^Bench/);
  await bench(page, label).click();
  await expect(bench(page, label)).not.toBeChecked();
}

test('a stop from a speed is measured against its prediction', async ({ page }) => {
  test.setTimeout(120_000);
  await openAxis(page, 'Carriage', /^First power/);
  await planWritten(page);
  await openStep(page, /^First power/);
  await answer(page, 'Residual voltage known', 'yes');
  for (const title of [
    'Hardware stop proven',
    'Shaft turned by hand',
    'Main power on, alarms read',
    'Enabled at standstill',
    'Bump from mid-travel',
    'Slow jog towards plus',
    'Slow jog towards minus',
  ])
    await skip(page, title);
  await openStep(page, /^Stops/);
  const ramp = page.getByRole('button', { name: /^Ramp/ });
  await ramp.click();
  const speed = page.getByLabel('Speed', { exact: true });
  await speed.fill('100');
  await begin(page).click();
  await expect(page.getByText('Home the axis first', { exact: false })).toBeVisible();
  await openStep(page, /^Jog, home/);
  await page.getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Enable' }).click();
  await page.getByRole('button', { name: 'Home', exact: true }).click();
  await expect(page.getByRole('status', { name: 'homed: on' })).toBeVisible({ timeout: 40_000 });
  await page.getByRole('button', { name: /^Disable/ }).click();
  await openStep(page, /^Stops/);
  await ramp.click();
  // A speed above what the axis may do is refused, with the number.
  await speed.fill('9000');
  await begin(page).click();
  await expect(page.getByText(/is above the highest speed of/)).toBeVisible();
  await speed.fill('100');
  await begin(page).click();
  await expect(ramp).toContainText('passed', { timeout: 20_000 });
  await expect(page.getByText('Predicted distance')).toBeVisible();
  // From 100 mm/s at the jog deceleration of the plan it is known by a closed form: v²/(2a).
  const shown = await page
    .getByRole('row', { name: /^Distance / })
    .first()
    .textContent();
  const distance = Number(/([\d.]+)/.exec((shown ?? '').replace('Distance', ''))?.[1]);
  expect(distance).toBeGreaterThan(0.5);
  expect(distance).toBeLessThan(40);
});

test('the carriage goes on from there to its acceptance: homing series, test move, hand-over, moves by its controller', async ({
  page,
}) => {
  test.setTimeout(300_000);
  await openAxis(page, 'Carriage', /^Jog, home/);
  await connect(page);
  await page.getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Enable' }).click();
  await expect(page.getByRole('button', { name: 'Jog plus' })).toBeEnabled();
  await openStep(page, /^Homing/);
  await page.getByRole('tab', { name: 'Measured and proven' }).click();
  await page.getByLabel(/^Starts/).fill('20 60');
  await page.getByRole('button', { name: 'Home 3 times' }).click();
  const series = page.getByRole('table', { name: 'Series kept as evidence' });
  await expect(series).toContainText('by the drive', { timeout: 90_000 });
  await openStep(page, /^Jog, home/);
  const goToStart = page.getByRole('button', { name: /^Go to start at / });
  await goToStart.click();
  await expect(goToStart).toBeHidden({ timeout: 40_000 });
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await expect(page.getByRole('combobox', { name: 'Run shown' })).toContainText('test move · finished', {
    timeout: 40_000,
  });

  // The drive is handed to its controller: the motor off, and the command source as planned.
  await page.getByRole('button', { name: /^Disable/ }).click();
  await page.getByRole('button', { name: 'Restore …' }).click();
  await page.getByRole('checkbox', { name: /enable is off/ }).check();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await expect(page.getByText(/^Changed for testing/)).toBeHidden();

  await openStep(page, /^Moves by the controller/);
  await page.getByRole('button', { name: 'Start the recording' }).click();
  await expect(page.getByText(/^Recording\./)).toBeVisible();
  await page.getByRole('switch', { name: 'Servo on' }).click();
  await page.getByLabel('Move by').fill('100');
  const commanded = page
    .getByRole('table', { name: 'Simulated controller' })
    .getByRole('row', { name: /^Commanded position/ });
  for (let k = 0; k < 3; k++) {
    await page.getByRole('button', { name: 'Plus', exact: true }).click();
    await expect(commanded).toContainText('10\u202f000 steps');
    await page.getByRole('button', { name: 'Minus', exact: true }).click();
    await expect(commanded).toHaveText(/position0 steps/);
  }
  await page.getByRole('button', { name: 'End the recording' }).click();
  await expect(page.getByText('Scale, direction and number of moves are as planned')).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole('table', { name: 'What the drive received' })).toContainText('10\u202f000');
  await page.getByRole('switch', { name: 'Servo on' }).click();
  await noSeriousFinding(page);

  await openStep(page, /^Acceptance/);
  const judged = page.getByRole('table', { name: 'Acceptance' });
  for (const limit of [
    'Peak following error',
    'Settling',
    'Peak torque',
    'RMS torque',
    'Repeatability of home',
    'Travel error',
    'Pulses lost or doubled',
  ])
    await expect(judged.getByRole('row', { name: new RegExp(`^${limit}`) })).toContainText('passed');
  await page.getByRole('button', { name: 'Keep as evidence' }).click();
  await expect(page.getByRole('table', { name: 'Acceptances kept as evidence' })).toContainText(/\d+:\d+/);
  // Nothing of all that is left in the drive.
  await expect(page.getByText(/^Changed for testing/)).toBeHidden();
  await openStep(page, /^Drive data/);
  await page.getByRole('button', { name: '1. Read and compare' }).click();
  await expect(page.getByText('Every planned value is running and stored.').first()).toBeVisible({ timeout: 30_000 });
  await noSeriousFinding(page);
});
