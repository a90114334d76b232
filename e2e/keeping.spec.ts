import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { base, folder, killPart } from './app.ts';
import { chooseStation, noSeriousFinding, openCarriage, openStep, result, saved, undoAll, useApp } from './steps.ts';

useApp();

const teeth = (page: Page) => page.getByLabel('Pulley teeth');
const openBelt = async (page: Page) => {
  await openCarriage(page, /Plates and scaling/);
  await chooseStation(page, 'Belt');
  await saved(page);
};

test('whoever works here gives a name once, and every save bears it', async ({ page }) => {
  await page.goto(base);
  await page.getByRole('button', { name: 'Your name?' }).click();
  await page.getByLabel('Name').fill('Ada <i>Glazer</i>');
  await page.getByRole('button', { name: 'Keep' }).click();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Ada <i>Glazer</i>' })).toBeVisible();
  await openBelt(page);
  await teeth(page).fill('36');
  await saved(page);
  await openStep(page, /Revisions/);
  const newest = page.getByRole('table', { name: 'Revisions' }).getByRole('row').nth(1);
  await expect(newest).toContainText('Ada <i>Glazer</i>');
  await expect(newest).toContainText('stage 2 teeth 32 → 36');
});

test('undo and redo go back and forth across views, by key and by button, in sensible steps', async ({ page }) => {
  await openBelt(page);
  await teeth(page).fill('');
  await teeth(page).pressSequentially('40', { delay: 40 });
  await page
    .getByRole('button', { name: /^Adopt/ })
    .first()
    .click();
  await openStep(page, /Drive data/);
  await openStep(page, /Plates and scaling/);
  await expect(result(page, 'stepsPerUnit')).toContainText('100');
  await page.keyboard.press('Control+z');
  await expect(result(page, 'stepsPerUnit')).toContainText('80');
  await page.keyboard.press('Control+z');
  await chooseStation(page, 'Belt');
  await expect(teeth(page)).toHaveValue('36');
  await page.keyboard.press('Control+y');
  await expect(teeth(page)).toHaveValue('40');
  // Within a field, too: what is shown is what the document says.
  await teeth(page).focus();
  await page.keyboard.press('Control+z');
  await expect(teeth(page)).toHaveValue('36');
  await page.keyboard.press('Control+Shift+z');
  await expect(teeth(page)).toHaveValue('40');
  await undoAll(page);
});

/** Everything that this browser keeps of drafts, as text. */
const draftsInBrowser = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<string>((resolve) => {
        const opening = indexedDB.open('kavrid');
        opening.onsuccess = () => {
          const all = opening.result.transaction('drafts').objectStore('drafts').getAll();
          all.onsuccess = () => {
            opening.result.close();
            resolve(JSON.stringify(all.result));
          };
        };
      }),
  );

test('what is typed is there after the tab is closed before anything could be sent', async ({ page, context }) => {
  await openBelt(page);
  await page.route('**/api/axes/*', (route) => (route.request().method() === 'PUT' ? route.abort() : route.continue()));
  await teeth(page).fill('41');
  await expect.poll(() => draftsInBrowser(page)).toContain('"41"');
  await page.close();
  const next = await context.newPage();
  await openBelt(next);
  await expect(teeth(next)).toHaveValue('41');
  await next.reload();
  await chooseStation(next, 'Belt');
  await expect(teeth(next)).toHaveValue('41');
  await saved(next);
});

test('with a dead server everything is kept here, through a reload, until it is back', async ({ page }) => {
  await openBelt(page);
  for (const [part, teethTyped] of [
    ['server', '42'],
    ['data', '44'],
  ] as const) {
    killPart(part);
    await teeth(page).fill(teethTyped);
    await expect(page.getByText(/Kept here only: The (server|data process) does not respond/)).toBeVisible();
    await saved(page);
  }
  await page.reload();
  await chooseStation(page, 'Belt');
  await expect(teeth(page)).toHaveValue('44');
  await teeth(page).fill('36');
  await saved(page);
});

test('two windows: edits of different fields are put together, with a word about it', async ({ page, browser }) => {
  const other = await (await browser.newContext()).newPage();
  await openBelt(page);
  await openBelt(other);
  await other.getByLabel('Belt pitch').fill('8 mm');
  await saved(other);
  await expect(page.getByText(/saved: stage 2 pitch 10 mm → 8 mm/)).toBeVisible();
  await expect(page.getByLabel('Belt pitch')).toHaveValue('8 mm');
  // Both at once: this window hears of nothing until it sends.
  await page.route('**/api/axes/*', (route) => route.abort());
  await teeth(page).fill('50');
  await expect(page.getByText(/Kept here only/)).toBeVisible();
  await other.getByLabel('Belt pitch').fill('10 mm');
  await saved(other);
  await page.unroute('**/api/axes/*');
  await saved(page);
  await expect(page.getByLabel('Belt pitch')).toHaveValue('10 mm');
  await expect(other.getByLabel('Pulley teeth')).toHaveValue('50');
  await other.context().close();
});

test('two windows: edits of one field are both shown, one is chosen, the other comes back with undo', async ({
  page,
  browser,
}) => {
  const other = await (await browser.newContext()).newPage();
  await openBelt(page);
  await openBelt(other);
  await page.route('**/api/axes/*', (route) => route.abort());
  await teeth(page).fill('44');
  await page.getByLabel('Belt pitch').fill('5 mm');
  await expect(page.getByText(/Kept here only/)).toBeVisible();
  await teeth(other).fill('45');
  await saved(other);
  await page.unroute('**/api/axes/*');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('edited the same fields');
  await expect(dialog.getByRole('row', { name: /stage 2 teeth/ })).toContainText(/50.*45.*44/);
  // The stop stays within reach while it is asked.
  await page.getByRole('button', { name: 'Stop' }).click({ timeout: 3000 });
  await noSeriousFinding(page);
  await dialog.getByLabel('45').check();
  await page.getByRole('button', { name: 'Continue with these' }).click();
  await saved(page);
  await expect(teeth(page)).toHaveValue('45');
  await expect(other.getByLabel('Belt pitch')).toHaveValue('5 mm');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(teeth(page)).toHaveValue('44');
  await other.context().close();
});

test('revisions are compared with their results, named and restored', async ({ page }) => {
  await openBelt(page);
  await teeth(page).fill('38');
  await saved(page);
  await openStep(page, /Revisions/);
  const table = page.getByRole('table', { name: 'Revisions' });
  await table.getByRole('row').last().getByRole('button', { name: 'Name …' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('as shipped');
  await page.getByRole('button', { name: 'Give this name' }).click();
  await expect(table).toContainText('“as shipped”');
  await page.getByLabel('Compare from version 1', { exact: true }).check();
  await expect(page.getByRole('table', { name: 'Fields' })).toContainText('stage 2 teeth');
  await expect(
    page.getByRole('table', { name: 'Computed results' }).getByRole('row', { name: /Steps per unit/ }),
  ).toContainText('100');
  await noSeriousFinding(page);
  await page.getByRole('switch', { name: 'named ones only' }).check();
  // A click on a row that is about to be replaced would be lost.
  await expect(table.getByRole('row')).toHaveCount(2);
  await page.getByRole('button', { name: 'Restore version 1', exact: true }).click();
  await expect(page.getByText('No revision')).toHaveCount(0);
  await openStep(page, /Plates and scaling/);
  await chooseStation(page, 'Belt');
  await expect(teeth(page)).toHaveValue('32');
  await expect(page.getByLabel('Belt pitch')).toHaveValue('10 mm');
});

test('an edited library entry shows which axes change and how, and changes those that are chosen', async ({ page }) => {
  page.on('dialog', (dialog) => void dialog.accept());
  await page.goto(`${base}/library`);
  await page.getByLabel('Search by name or part number').fill('750');
  await page.getByRole('link', { name: /750 W/ }).click();
  await expect(page.getByRole('list', { name: 'Used by' })).toContainText('Tile glazing cell: Carriage');
  await expect(page.getByRole('button', { name: 'Delete' })).toBeDisabled();
  await page.getByLabel('Rotor inertia').fill('3.2 kg·cm²');
  await page.getByLabel('Peak torque').fill('a lot');
  await expect(page.getByText('is not a number')).toBeVisible();
  await page.getByLabel('Peak torque').fill('7.16');
  // Kept through a reload, like everything typed.
  await page.reload();
  await expect(page.getByLabel('Rotor inertia')).toHaveValue('0.00032');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Tile glazing cell: Carriage');
  await expect(dialog.getByRole('table', { name: 'Fields' })).toContainText('motor rotor inertia');
  await expect(dialog.getByRole('table', { name: 'Computed results' })).toContainText('Inertia ratio');
  await noSeriousFinding(page);
  await dialog.getByRole('checkbox').uncheck();
  await page.getByRole('button', { name: 'Save the entry only' }).click();
  await expect(page.getByText('Version 2')).toBeVisible();
  await openCarriage(page, /Plates and scaling/);
  await chooseStation(page, 'Motor');
  await page.getByRole('button', { name: 'Newer in the library: update' }).click();
  await expect(page.getByLabel('Rotor inertia')).toHaveValue('0.00032');
  await saved(page);
});

test('a drive’s lists are edited; an entry is duplicated and deleted; the library goes out and comes in', async ({
  page,
}) => {
  page.on('dialog', (dialog) => void dialog.accept());
  await page.goto(`${base}/library?shelf=drive`);
  await page.getByRole('link', { name: /Closed-loop stepper drive/ }).click();
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Closed-loop stepper drive (copy)');
  await page.getByRole('tab', { name: /Alarms/ }).click();
  await page.getByRole('button', { name: 'Add a row' }).click();
  await page.getByLabel('Shown as, row 3').fill('9 blinks');
  await page.getByLabel('Meaning, row 3').fill('Too <hot>');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Version 2')).toBeVisible();
  await noSeriousFinding(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'This shelf as CSV' }).click(),
  ]);
  const csv = readFileSync((await download.path()) as unknown as string, 'utf8');
  expect(csv).toContain('Too <hot>');
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByRole('link', { name: /\(copy\)/ })).toHaveCount(0);
  const give = (text: string) =>
    page.getByTestId('library-file').setInputFiles({ name: 'l.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await give('shelf,name\ndrive,\n');
  await expect(page.getByText(/cannot be used.*(Row|Line) 2/)).toBeVisible();
  await give(csv);
  await expect(page.getByText('1 added, 4 already existed.')).toBeVisible();
  await expect(page.getByRole('link', { name: /\(copy\)/ })).toBeVisible();
});

test('a machine goes out as a file, comes in beside itself and is refused when it is damaged', async ({ page }) => {
  await page.goto(base);
  await page.getByRole('link', { name: 'Tile glazing cell', exact: true }).click();
  await page.getByRole('button', { name: 'Export …' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export', exact: true }).click(),
  ]);
  await expect(page.getByText(/Finished/)).toBeVisible();
  expect(download.suggestedFilename()).toBe('Tile glazing cell.zip');
  const bytes = readFileSync((await download.path()) as unknown as string);
  await page.goto(base);
  await page.getByRole('button', { name: 'Import …' }).click();
  const give = (buffer: Buffer) =>
    page.getByTestId('machine-file').setInputFiles({ name: 'm.zip', mimeType: 'application/zip', buffer });
  await give(bytes.subarray(0, bytes.length - 100));
  await expect(page.getByText('This file cannot be used; nothing has changed.')).toBeVisible({ timeout: 20_000 });
  await give(bytes);
  await expect(page.getByText('This machine is here already')).toBeVisible({ timeout: 20_000 });
  await noSeriousFinding(page);
  await page.getByLabel(/Keep both/).check();
  await page.getByRole('button', { name: 'Import it' }).click();
  await page.getByRole('button', { name: 'Open the machine' }).click({ timeout: 20_000 });
  await expect(page.getByRole('heading', { name: 'Tile glazing cell (file)' })).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate …' }).click();
  await page.getByRole('button', { name: 'Duplicate', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Tile glazing cell (file) (copy)' })).toBeVisible();
});

test('a backup is written and restored while the app runs', async ({ page }) => {
  test.setTimeout(120_000);
  const run = (what: string) =>
    spawnSync(process.execPath, ['scripts/backup.mjs', what, `${folder}/all.gz`], {
      encoding: 'utf8',
      env: { ...process.env, KAVRID_VAR: folder },
    });
  expect(run('write').stdout).toContain('rows written');
  await openBelt(page);
  await teeth(page).fill('99');
  await saved(page);
  expect(run('restore').stdout).toContain('rows restored');
  await page.reload();
  await chooseStation(page, 'Belt');
  await expect(teeth(page)).toHaveValue('32');
  await teeth(page).fill('33');
  await saved(page);
});
