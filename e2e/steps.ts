import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, test, type Page } from '@playwright/test';
import { base, startApp, stopApp } from './app.ts';

const axeSource = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** A fresh app for the tests of one file, in their order; a console that complains fails the test. */
export function useApp(): void {
  const complaints: string[] = [];
  test.describe.configure({ mode: 'serial' });
  test.beforeAll(async () => {
    test.setTimeout(240_000);
    await startApp(true);
  });
  test.afterAll(() => stopApp());
  test.beforeEach(({ page }) => {
    complaints.length = 0;
    page.on('console', (message) => {
      // A browser logs refused and failed requests by itself; those are what some tests are about.
      if (
        ['warning', 'error'].includes(message.type()) &&
        !/Failed to load resource|WebSocket connection/.test(message.text())
      )
        complaints.push(message.text());
    });
    page.on('pageerror', (error) => complaints.push(error.message));
  });
  test.afterEach(() => expect(complaints).toEqual([]));
}

export const result = (page: Page, symbol: string) => page.locator(`[data-result="${symbol}"]`);

export const chooseStation = (page: Page, name: string) =>
  page.getByRole('region', { name: 'Chain' }).getByRole('button', { name }).click();

/** Goes to a step of the job. */
export const openStep = (page: Page, name: RegExp) =>
  page.getByRole('navigation', { name: 'Steps of the job' }).getByRole('link', { name }).click();

/** Opens an axis of the demo at a step of the job. */
export const openAxis = async (page: Page, name: string, view: RegExp) => {
  await page.goto(base);
  const cell = page.getByRole('link', { name: 'Tile glazing cell', exact: true });
  await page.getByRole('row').filter({ has: cell }).getByRole('link', { name, exact: true }).click();
  await openStep(page, view);
};

export const openCarriage = (page: Page, view: RegExp) => openAxis(page, 'Carriage', view);

export const choose = async (page: Page, label: string, option: string | RegExp) => {
  await page.getByRole('combobox', { name: label }).click();
  await page.getByRole('option', { name: option, exact: typeof option === 'string' }).click();
};

export const saved = (page: Page) => expect(page.getByText(/^Saved, version/)).toBeVisible({ timeout: 20_000 });

/** Opens the link, or waits until it stands when another window has opened it. */
export const connect = async (page: Page) => {
  const button = page.getByRole('button', { name: 'Connect', exact: true });
  const standing = page.getByText(/switch on disabled|switched on|ready to switch on/).first();
  await expect(button.or(standing).first()).toBeVisible();
  if (await standing.isHidden()) await button.click();
  await expect(standing).toBeVisible();
};

/** Takes back everything that was edited in this window. */
export const undoAll = async (page: Page) => {
  const undo = page.getByRole('button', { name: 'Undo' });
  while (await undo.isEnabled()) await undo.click();
  await saved(page);
};

export const noSeriousFinding = async (page: Page) => {
  await page.evaluate(axeSource);
  const serious = await page.evaluate(async () => {
    const axe = (
      window as unknown as {
        axe: { run: () => Promise<{ violations: { id: string; impact: string; nodes: { html: string }[] }[] }> };
      }
    ).axe;
    const { violations } = await axe.run();
    return violations
      .filter(({ impact }) => impact === 'serious' || impact === 'critical')
      .map(({ id, nodes }) => `${id}: ${nodes[0]?.html ?? ''}`);
  });
  expect(serious).toEqual([]);
};

/** The plan goes into the drive, with the restart that its gear needs. */
export async function planWritten(page: Page): Promise<void> {
  await openStep(page, /^Drive data/);
  await connect(page);
  await page.getByRole('button', { name: '1. Read and compare' }).click();
  await page.getByRole('button', { name: /^2\. Write/ }).click();
  await expect(page.getByRole('link', { name: /^Drive data/ })).toHaveText(/^Drive data\s*proven$/, {
    timeout: 30_000,
  });
}
