import { expect, test, type Page } from '@playwright/test';
import { noSeriousFinding, openAxis, openStep, planWritten, useApp } from './steps.ts';

useApp();

const legs = (page: Page) => page.getByRole('table', { name: 'Legs of the homing' });

async function enabled(page: Page): Promise<void> {
  await openStep(page, /^Jog, home/);
  await page.getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Enable' }).click();
  await expect(page.getByRole('button', { name: 'Jog plus' })).toBeEnabled();
}

/** Switches faults of the bench on or off. */
async function toggled(page: Page, labels: readonly string[], isOn: boolean): Promise<void> {
  await openStep(page, /^Bench/);
  for (const label of labels) {
    await page.getByRole('switch', { name: label }).click();
    await expect(page.getByRole('switch', { name: label })).toBeChecked({ checked: isOn });
  }
}

test('a homing is chosen, seen, run by the drive, and ends still where its switches are stuck', async ({ page }) => {
  test.setTimeout(240_000);
  await openAxis(page, 'Carriage', /^Homing/);
  await expect(page.getByText('home reads 0 mm')).toBeVisible();
  await expect(legs(page)).toContainText('Creep to the index pulse');
  // Another start, by mouse: from the plus end the way begins there.
  const start = page.getByRole('slider', { name: 'Start of the homing' });
  await start.focus();
  await page.keyboard.press('End');
  await expect(start).toHaveAttribute('aria-valuenow', '1905');
  await page.keyboard.press('PageDown');
  const box = await start.boundingBox();
  if (!box) throw new Error('there is no start');
  await page.mouse.move(box.x + 14, box.y + 12);
  await page.mouse.down();
  await page.mouse.move(box.x - 250, box.y + 12, { steps: 4 });
  await page.mouse.up();
  await expect(start).not.toHaveAttribute('aria-valuenow', '1712.5');
  // What matters is asked, and the plan follows the choice.
  const offered = page.getByRole('list', { name: 'Methods that fit' });
  await offered.getByRole('button', { name: 'Use' }).first().click();
  await expect(legs(page)).toContainText('Search for the home switch');
  await expect(page.getByRole('combobox', { name: 'Homing method' })).not.toContainText('1 · Minus limit');

  await planWritten(page);
  await enabled(page);
  await openStep(page, /^Homing/);
  await page.getByRole('button', { name: 'Home', exact: true }).click();
  const isHomed = page.getByRole('link', { name: /^Homing\s*homed$/ });
  await expect(isHomed).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('now', { exact: true })).toBeVisible();

  // A series from two starts, kept as evidence, laid over what was predicted.
  await page.getByRole('tab', { name: 'Measured and proven' }).click();
  await page.getByLabel(/^Starts/).fill('20 60');
  await page.getByRole('button', { name: 'Home 3 times' }).click();
  await page.getByRole('button', { name: 'Pause at home' }).click();
  await expect(page.getByText(/pauses once it is home/)).toBeVisible();
  await page.getByRole('button', { name: 'Go on' }).click();
  const kept = page.getByRole('table', { name: 'Series kept as evidence' });
  await expect(kept.getByRole('row')).toHaveCount(2, { timeout: 90_000 });
  await expect(kept).toContainText('by the drive');
  await kept.getByRole('button').click();
  await expect(page.getByRole('table', { name: 'Repeatability, predicted' })).toContainText('Measured in 3 homings');
  await expect(page.getByRole('table', { name: 'Two zeros' })).toContainText('Drive less controller');
  await noSeriousFinding(page);

  const broken = ['Minus limit wire broken', 'Plus limit wire broken'];
  await toggled(page, broken, true);
  await openStep(page, /^Homing/);
  await page.getByRole('button', { name: 'Home', exact: true }).click();
  await expect(isHomed).toBeHidden({ timeout: 20_000 });
  await openStep(page, /^Jog, home/);
  await expect(page.getByText(/Homing failed: both limit switches are active/).first()).toBeVisible();
  await toggled(page, broken, false);
});
