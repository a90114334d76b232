import { expect, test, type Page } from '@playwright/test';
import { base } from './app.ts';
import { layoutFaults } from './layoutFaults.ts';
import { useApp } from './steps.ts';

useApp();

const steps = (page: Page) => page.getByRole('navigation', { name: 'Steps of the job' }).getByRole('link');
const hrefs = (page: Page, selector: string) =>
  page.locator(selector).evaluateAll((links) => [...new Set(links.map((link) => link.getAttribute('href') ?? ''))]);
const spoken = (page: Page) => page.getByRole('progressbar').or(page.getByText(/Computing …|Reading the run …/));

/** Adds all that is wrong on screen; of an axis in mm and in inches. */
async function look(page: Page, where: string, faults: string[]): Promise<void> {
  await expect(spoken(page)).toHaveCount(0);
  const see = async (how: string) => {
    for (const fault of await layoutFaults(page)) faults.push(`${where}, ${how}: ${fault}`);
  };
  await see('mm');
  if (!page.url().includes('/axes/')) return;
  await page.getByRole('button', { name: 'inch', exact: true }).click();
  await see('in');
  await page.getByRole('button', { name: 'mm', exact: true }).click();
}

/** Every station of a chain, every tab of a page, one after the other. */
async function eachPart(page: Page, where: string, faults: string[]): Promise<void> {
  await look(page, where, faults);
  const parts = page.locator('[aria-label=Chain] button, main [role=tab]');
  for (let k = 0; k < (await parts.count()); k++) {
    await parts.nth(k).click();
    await look(page, `${where} ${k + 1}`, faults);
  }
}

/** Every finding of a page leads to a field on screen that it is about. */
async function followFindings(page: Page, where: string, faults: string[]): Promise<void> {
  for (const href of await hrefs(page, 'ul[aria-label=Findings] a')) {
    await page.locator(`ul[aria-label=Findings] a[href="${href}"]`).first().click();
    const path = decodeURIComponent(href.split('#')[1] ?? '');
    const focused = () =>
      page.evaluate(() => document.activeElement?.closest<HTMLElement>('[data-field]')?.dataset.field ?? '');
    const begins = `/${path.split('/')[1] ?? ''}`;
    await expect.poll(focused, { message: `${where}: ${href}` }).toContain(begins);
    const field = await focused();
    if (!field.startsWith(path) && !path.startsWith(field)) faults.push(`${where}: ${path} led to ${field}`);
    await page.goBack();
  }
}

test('on no view a text is cut off, hangs out or lies over another; each finding leads to its field', async ({
  page,
}) => {
  const faults: string[] = [];
  await page.goto(`${base}/machines`);
  await expect(page.getByRole('link', { name: 'Tile glazing cell' })).toBeVisible();
  await look(page, 'machines', faults);
  await page.getByRole('link', { name: 'Tile glazing cell' }).click();
  await expect(page.getByRole('link', { name: 'Carriage' })).toBeVisible();
  await look(page, 'machine', faults);
  const members = await hrefs(page, 'main a[href*="/axes/"], main a[href*="/spindles/"]');
  for (const [k, member] of members.entries()) {
    await page.goto(base + member);
    await expect(steps(page).first()).toBeVisible();
    const pages = await hrefs(page, 'nav[aria-label="Steps of the job"] a');
    // The pages of one kind of member are alike but for those where its command shows.
    const shown =
      k === 0 || member.includes('/spindles/') ? pages : pages.filter((each) => /chain|signals|values/.test(each));
    for (const each of shown) {
      await page.locator(`nav a[href="${each}"]`).click();
      await expect(page.getByRole('main').getByRole('region').or(page.locator('main section')).first()).toBeVisible();
      const name = `${member.slice(-6)} ${each.split('/').at(-1) ?? ''}`;
      await eachPart(page, name, faults);
      await followFindings(page, name, faults);
    }
  }
  await page.getByRole('button', { name: 'Dark theme' }).click();
  for (const shelf of ['motor', 'drive', 'controller', 'cable', 'spindle motor', 'spindle drive']) {
    await page.goto(`${base}/library?shelf=${encodeURIComponent(shelf)}`);
    await page.getByRole('table', { name: 'Entries' }).getByRole('link').first().click();
    await expect(page.getByRole('button', { name: 'Duplicate' })).toBeVisible();
    await look(page, `library ${shelf}`, faults);
    const parts = page.getByRole('tablist', { name: 'Parts of this entry' }).getByRole('tab');
    for (let k = 0; k < (await parts.count()); k++) {
      await parts.nth(k).click();
      await look(page, `library ${shelf} ${k + 1}`, faults);
    }
  }
  expect(faults).toEqual([]);
});
