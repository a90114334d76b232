import { expect, test, type Page } from '@playwright/test';
import { connect, openAxis, openStep, useApp } from './steps.ts';

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

/** The plan goes into the drive, with the restart that its gear needs. */
async function planWritten(page: Page): Promise<void> {
  await openStep(page, /^Drive data/);
  await connect(page);
  await page.getByRole('button', { name: '1. Read and compare' }).click();
  await page.getByRole('button', { name: /^2\. Write/ }).click();
  await expect(page.getByRole('link', { name: /^Drive data/ })).toContainText('proven', { timeout: 30_000 });
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
  await drill(page, 'Sign of life withheld');
  await passed(page, 'Sign of life withheld');
  await drill(page, 'Bump from mid-travel');
  await passed(page, 'Bump from mid-travel');
  await jogged(page, 'Slow jog towards plus', 'Jog plus');
  await passed(page, 'Slow jog towards plus');
  await jogged(page, 'Slow jog towards minus', 'Jog minus');
  await passed(page, 'Slow jog towards minus');
  // The torque limit is back by itself; the command source waits for the button.
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
  await atBench(page, 'Encoder channels A and B exchanged', 0);
});

async function connectedHere(page: Page): Promise<void> {
  const button = page.getByRole('button', { name: 'Connect', exact: true });
  const linked = page.getByRole('region', { name: 'Steps of the first power' }).getByText('linked', { exact: true });
  await expect(button.or(linked)).toBeVisible();
  if (await button.isVisible()) await button.click();
  await expect(linked).toBeVisible();
}
