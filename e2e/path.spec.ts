import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { base, killPart, startApp, stopApp } from './app.ts';
import {
  chooseStation,
  connect,
  noSeriousFinding,
  openCarriage,
  openStep,
  result,
  saved,
  undoAll,
  useApp,
} from './steps.ts';

useApp();

const connectAndEnable = async (page: Page) => {
  await openCarriage(page, /Jog, home/);
  await connect(page);
  await page.getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Enable' }).click();
  await expect(page.getByRole('button', { name: 'Jog plus' })).toBeEnabled();
};
const speed = async (page: Page) => {
  const text = await page.getByRole('region', { name: 'Enable and jog' }).innerText();
  return Math.abs(Number(/Speed\s+(-?[\d.]+)/.exec(text)?.[1] ?? NaN));
};
test('the demo’s scaling follows what is typed, with workings and findings', async ({ page }) => {
  await openCarriage(page, /Plates and scaling/);
  await expect(result(page, 'stepsPerUnit')).toContainText('100');
  await expect(result(page, 'pulsesPerRevolution')).toContainText('32000/3');
  await chooseStation(page, 'Belt');
  // 40 teeth instead of 32, by hand: 400 mm a turn, so 1250 pulses less a metre: 80 pulses/mm, 2500 mm/s at 200 kHz.
  await page.getByLabel('Pulley teeth').fill('40');
  await expect(result(page, 'stepsPerUnit')).toContainText('80');
  await expect(result(page, 'highestSpeed')).toContainText('2\u202f500');
  await expect(page.getByText('more travel per pulse than the wanted resolution')).toBeVisible();
  // 2²⁰ · 3 · 0.01 / 400, by hand: 78.6432 = 49152/625
  await page.getByRole('button', { name: 'Adopt 49152/625' }).click();
  await expect(result(page, 'stepsPerUnit')).toContainText('100');
  await result(page, 'stepsPerUnit').click();
  await expect(page.getByRole('dialog', { name: 'Working of Steps per unit' })).toContainText('P · i / L');
  await page.keyboard.press('Escape');
  for (const [text, message] of [
    ['0', 'at least 1'],
    ['abc', 'not a number'],
    ['-4', 'at least 1'],
    ['3 kg', 'plain number'],
    ['', ''],
  ] as const) {
    await page.getByLabel('Pulley teeth').fill(text);
    if (message) {
      // The last valid number stands, marked, and what was typed stays beside its reason.
      await expect(page.getByText(message).first()).toBeVisible();
      await expect(page.getByText('40 is kept until then')).toBeVisible();
      await expect(page.getByText(`“${text}” cannot be used`).first()).toBeVisible();
      await expect(result(page, 'stepsPerUnit')).toContainText('100');
      await page.getByLabel('Pulley teeth').blur();
      await expect(page.getByLabel('Pulley teeth')).toHaveValue(text);
      await page.getByLabel('Pulley teeth').fill('40');
    } else await expect(result(page, 'stepsPerUnit')).toContainText('unknown');
    await expect(page.locator('main')).not.toContainText(/NaN|Infinity|undefined/);
  }
  await noSeriousFinding(page);
  await undoAll(page);
  await expect(page.getByLabel('Pulley teeth')).toHaveValue('32');
  await expect(result(page, 'stepsPerUnit')).toContainText('100');
});

test('a probe typed at any station fills the others', async ({ page }) => {
  await openCarriage(page, /Plates and scaling/);
  const pulses = page.getByLabel('Controller: pulses');
  await pulses.fill('32000');
  await expect(page.getByLabel('Load: mm')).toHaveValue('320');
  await expect(page.getByLabel('Motor: turns')).toHaveValue('3');
  await page.getByLabel('Load: mm').fill('1 in');
  await expect(pulses).toHaveValue('2\u202f540');
  await page.getByRole('button', { name: 'inch' }).click();
  await expect(result(page, 'stepsPerUnit')).toContainText('2\u202f540');
  await page.getByRole('button', { name: 'mm', exact: true }).click();
});

test('a machine of one’s own with a screw axis is made and saved', async ({ page }) => {
  await page.goto(base);
  await page.getByRole('button', { name: 'New machine' }).click();
  await page.getByLabel('Name').fill('Press <b>two</b>');
  await page.getByRole('button', { name: 'Create' }).click();
  await page.getByRole('button', { name: 'New axis' }).click();
  await page.getByLabel('Name').fill('Lift');
  await page.getByRole('button', { name: 'Create' }).click();
  await chooseStation(page, 'Screw');
  await page.getByLabel('Lead').fill('0.2 in');
  await chooseStation(page, 'Motor');
  await page.getByLabel('Encoder bits').fill('17');
  await expect(page.getByText(/Saved, version [2-9]/)).toBeVisible();
  await page.reload();
  // 2¹⁷ counts over 5.08 mm, by hand: 25 801.57 pulses/mm
  await expect(result(page, 'stepsPerUnit')).toContainText('25\u202f801.575');
  await page.goto(base);
  await expect(page.getByRole('link', { name: 'Press <b>two</b>' })).toBeVisible();
  await noSeriousFinding(page);
});

test('the drive is read, written where it differs, stored, restarted and proven', async ({ page }) => {
  await openCarriage(page, /Drive data/);
  await page.getByRole('button', { name: 'Connect', exact: true }).click();
  await expect(page.getByText('Connected. Drive: switch on disabled.')).toBeVisible();
  await expect(page.getByText(/Kind 0x5301, firmware .*, serial number \d+/)).toBeVisible();
  await expect(page.getByLabel('Host')).toBeDisabled();
  await page.getByRole('button', { name: '1. Read and compare' }).click();
  const gear = page.locator('[data-parameter="gearNumerator"]');
  await expect(page.getByText(/Not proven:.*Electronic gear, numerator/)).toBeVisible();
  await expect(gear).toContainText('differs');
  await page.getByRole('button', { name: /2. Write what differs/ }).click();
  await expect(page.getByText('Every planned value is running and stored.').first()).toBeVisible({ timeout: 20_000 });
  await expect(gear).toContainText('proven');
  await expect(gear).toContainText('12\u202f288');
  await noSeriousFinding(page);
});

test('the drive goes back to the snapshot that was kept before the writing, and forward to the plan', async ({
  page,
}) => {
  await openCarriage(page, /Drive data/);
  const gear = page.locator('[data-parameter="gearNumerator"]');
  const done = (text: RegExp) =>
    expect(page.getByRole('list', { name: 'Log' })).toContainText(text, { timeout: 20_000 });
  await page.getByRole('button', { name: 'Snapshots …' }).click();
  const kept = page.getByRole('dialog').getByRole('row', { name: /Before writing revision/ });
  await page.getByLabel('Compare Planned').click();
  await kept.getByRole('checkbox').click();
  await noSeriousFinding(page);
  await page.getByRole('button', { name: 'Compare the two' }).click();
  await expect(gear).toContainText('different');
  await page.getByRole('button', { name: 'End the comparison' }).click();
  await page.getByRole('button', { name: 'Snapshots …' }).click();
  await kept.getByRole('button', { name: /Write/ }).click();
  await expect(page.getByText(/Values of snapshot “Before writing revision .*, not of the plan/)).toBeVisible();
  await page.getByRole('button', { name: /2. Write what differs/ }).click();
  await done(/Every value of snapshot “Before writing revision .* is running and stored/);
  await expect(gear).toContainText('differs');
  await page.getByRole('button', { name: '1. Read and compare' }).click();
  await expect(page.getByRole('region', { name: 'To be written, in this order' })).toContainText('numerator');
  await page.getByRole('button', { name: /2. Write what differs/ }).click();
  await done(/Every planned value is running and stored/);
  await expect(gear).toContainText('proven');
});

test('a wrong register map is refused with its places; the right one is taken', async ({ page }) => {
  await openCarriage(page, /Drive data/);
  await page.getByRole('button', { name: 'Disconnect' }).click();
  const give = (text: string) =>
    page
      .getByTestId('register-map')
      .setInputFiles({ name: 'map.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await give('kind,key\nparameter,gear\n');
  await expect(page.getByText(/This register map cannot be used.*Line 1/)).toBeVisible();
  const good = readFileSync(new URL('../bench/devices/servo/servo.csv', import.meta.url), 'utf8').replace(
    'Bench servo drive',
    'Imported drive',
  );
  await give(good);
  await expect(page.getByRole('combobox', { name: 'Register map' })).toContainText('Imported drive');
  await saved(page);
  await page.getByRole('button', { name: 'Manage register maps …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText(/Used by Tile glazing cell: Carriage/)).toBeVisible();
  await noSeriousFinding(page);
  await dialog.getByRole('button', { name: 'Close' }).click();
});

test('a machine is named and tagged, its axis removed and put back, the machine archived and deleted', async ({
  page,
}) => {
  page.on('dialog', (dialog) => void dialog.accept());
  await page.goto(base);
  await page.getByRole('link', { name: 'Press <b>two</b>' }).click();
  await page.getByRole('button', { name: 'Edit name, tags and notes' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Feeder');
  await page.getByRole('textbox', { name: 'Tags' }).fill('press, spare , press');
  await page.getByRole('textbox', { name: 'Notes' }).fill('in front of the press');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('heading', { name: 'Feeder' })).toContainText('pressspare');
  await page.getByRole('button', { name: 'Duplicate axis Lift' }).click();
  await expect(page.getByRole('link', { name: 'Lift (copy)' })).toBeVisible();
  await page.getByRole('button', { name: 'Remove axis Lift', exact: true }).click();
  await page.getByRole('button', { name: 'Lift: put back' }).click();
  await expect(page.getByRole('link', { name: 'Lift', exact: true })).toBeVisible();
  await page.goto(base);
  await page.getByLabel('Search').fill('front of');
  await expect(page.getByRole('link', { name: 'Tile glazing cell' })).toHaveCount(0);
  await page.getByRole('link', { name: 'Feeder' }).click();
  await page.getByRole('button', { name: 'Archive', exact: true }).click();
  await page.goto(base);
  await expect(page.getByRole('link', { name: 'Tile glazing cell' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Feeder' })).toHaveCount(0);
  await page.getByRole('switch', { name: 'archived' }).check();
  await page.getByRole('button', { name: 'spare' }).click();
  await page.getByRole('link', { name: 'Feeder' }).click();
  await page.getByRole('button', { name: 'Delete for good' }).click();
  await expect(page.getByRole('link', { name: 'Tile glazing cell' })).toBeVisible();
});

test('a motor from the library, dark theme and inches stay after a reload', async ({ page }) => {
  await openCarriage(page, /Plates and scaling/);
  await chooseStation(page, 'Motor');
  await page.getByRole('combobox', { name: 'Model, from the library' }).click();
  await page.getByRole('option', { name: /1.5 kW, 23 bit/ }).click();
  await expect(result(page, 'countsPerRevolution')).toContainText('8\u202f388\u202f608');
  // 2²³ · 3 · 0.01 / 320, by hand: 786.432
  await expect(result(page, 'wantedRatio')).toContainText('786.432');
  await page.getByRole('button', { name: 'Dark theme' }).click();
  await page.getByRole('button', { name: 'inch' }).click();
  await noSeriousFinding(page);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Light theme' })).toBeVisible();
  await expect(result(page, 'stepsPerUnit')).toContainText('pulses/in');
  await chooseStation(page, 'Motor');
  await page.getByRole('combobox', { name: 'Model, from the library' }).click();
  await page.getByRole('option', { name: /750 W/ }).click();
  await expect(result(page, 'countsPerRevolution')).toContainText('1\u202f048\u202f576');
  await saved(page);
  await page.getByRole('button', { name: 'Light theme' }).click();
  await page.getByRole('button', { name: 'mm', exact: true }).click();
});

test('jog while held, home on the minus limit, test move measured over predicted', async ({ page }) => {
  await connectAndEnable(page);
  const plus = page.getByRole('button', { name: 'Jog plus' });
  await plus.focus();
  await page.keyboard.down(' ');
  await expect.poll(() => speed(page)).toBeGreaterThan(50);
  await page.keyboard.up(' ');
  await expect.poll(() => speed(page)).toBeLessThan(1);
  await page.getByRole('button', { name: 'Home', exact: true }).click();
  await expect(page.getByRole('status', { name: 'homed: on' })).toBeVisible({ timeout: 40_000 });
  await page.getByLabel('Repeats').fill('1');
  // The approach is shown with its distance and speed, and started by a button of its own.
  await expect(page.getByText(/The start is .* mm towards/)).toBeVisible();
  await page.getByRole('button', { name: /^Go to start at / }).click();
  await expect(page.getByRole('button', { name: /^Go to start at / })).toBeHidden({ timeout: 40_000 });
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await expect(page.getByRole('combobox', { name: 'Run shown' })).toContainText('test move · finished', {
    timeout: 40_000,
  });
  const figures = page.getByRole('table', { name: 'Predicted and measured' });
  await expect(figures).toContainText('Measured');
  await expect(figures).toContainText('Predicted');
  await noSeriousFinding(page);

  // The same run on the page of traces: its moves one by one, a cursor, and a name that is kept with it.
  await openStep(page, /^Traces/);
  await page.getByRole('tab', { name: 'Moves' }).click();
  await expect(
    page.getByRole('table', { name: 'Moves' }).getByRole('row', { name: /^measured, move 2/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'measured, move 1' }).click();
  await page.getByRole('tab', { name: 'Cursors' }).click();
  await page.getByRole('img', { name: 'Following error over time' }).click({ position: { x: 300, y: 40 } });
  await expect(page.getByLabel('Cursor A')).not.toHaveValue('');
  await page.getByRole('button', { name: 'Name and notes' }).click();
  await page.getByLabel('Name', { exact: true }).fill('First move');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('combobox', { name: 'Trace' })).toContainText('First move');
  await noSeriousFinding(page);

  // What the move says of the loops; an advice is taken into the plan, and the model judges it.
  await openStep(page, /^Tuning/);
  await expect(page.getByRole('heading', { name: 'Analysis of a move' })).toBeVisible();
  await expect(page.getByRole('table', { name: 'Analysis of the move' })).toContainText('Lag behind the demand');
  await expect(page.getByRole('table', { name: 'Margins' })).toContainText('Speed loop, suggested');
  await noSeriousFinding(page);
  // Other gains are tried on the drive: the same move before and after, and then put back.
  await page.getByRole('button', { name: 'Try the gains' }).click();
  const compared = page.getByRole('table', { name: 'Before and after' });
  await expect(compared.getByRole('row', { name: /^Peak following error/ })).toContainText('mm', { timeout: 60_000 });
  const left = page.getByText(/^Changed for testing and not yet restored: .*Position loop gain/);
  await expect(left).toBeVisible();
  await noSeriousFinding(page);
  await page.getByRole('button', { name: 'Put back' }).click();
  await expect(left).toBeHidden();
  // The axis is judged by that move, and the result is kept with its device.
  await openStep(page, /^Acceptance/);
  const judged = page.getByRole('table', { name: 'Acceptance' });
  await expect(judged.getByRole('row', { name: /^Peak following error/ })).toContainText(/passed|failed/);
  await expect(judged.getByRole('row', { name: /^Repeatability of home/ })).toContainText('there is no homing series');
  await page.getByRole('button', { name: 'Keep as evidence' }).click();
  await expect(page.getByRole('table', { name: 'Acceptances kept as evidence' })).toContainText(/\d+:\d+/);
  await noSeriousFinding(page);
});

test('a tab closed while jogging stops the axis', async ({ page, context }) => {
  await connectAndEnable(page);
  await page.getByRole('button', { name: 'Jog plus' }).hover();
  await page.mouse.down();
  await expect.poll(() => speed(page)).toBeGreaterThan(50);
  await page.close();
  const other = await context.newPage();
  await openCarriage(other, /Jog, home/);
  await expect.poll(() => speed(other)).toBeLessThan(1);
  await expect(other.getByText('switch on disabled').first()).toBeVisible();
});

test('a second window only looks until it takes over; the command source is restored when the host is quiet', async ({
  page,
  context,
}) => {
  await connectAndEnable(page);
  const other = await context.newPage();
  await openCarriage(other, /Jog, home/);
  await expect(other.getByText(/Another window controls this drive/)).toBeVisible();
  await expect(other.getByRole('button', { name: 'Jog plus' })).toBeDisabled();
  await other.getByRole('button', { name: 'Take over' }).click();
  await expect(other.getByText('switch on disabled').first()).toBeVisible();
  await expect(page.getByText(/Another window controls this drive/)).toBeVisible();
  await page.close();
  await other.getByRole('button', { name: 'Restore …' }).click();
  await other.getByRole('checkbox', { name: /enable is off/ }).check();
  await noSeriousFinding(other);
  await other.getByRole('button', { name: 'Restore', exact: true }).click();
  await expect(other.getByText(/Command source: field bus for now/)).toBeHidden();
});

test('a bench killed in mid-move is told at once, its record is kept, the link comes back', async ({ page }) => {
  await connectAndEnable(page);
  await page.getByRole('button', { name: 'Home', exact: true }).click();
  await expect.poll(() => speed(page)).toBeGreaterThan(50);
  killPart('bench');
  await expect(page.getByText(/The link to the drive is lost/)).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Run shown' })).toContainText('homing · link lost', {
    timeout: 10_000,
  });
  await expect(page.getByText('This run ended early: link lost')).toBeVisible();
  await expect(page.getByText(/has been restored\. Nothing that was under way continues/)).toBeVisible({
    timeout: 20_000,
  });
  await expect(page.getByText('switch on disabled').first()).toBeVisible({ timeout: 20_000 });
});

test('edits made while the database is away are kept and saved when it is back', async ({ page }) => {
  await openCarriage(page, /Plates and scaling/);
  await chooseStation(page, 'Load');
  killPart('database');
  await page.getByLabel('Notes').fill('typed without a database');
  // At once: the database is back within two seconds.
  await page.keyboard.press('Control+s');
  await expect(page.getByText(/Kept here only: The database does not respond/)).toBeVisible();
  await expect(page.getByText(/Saved, version/)).toBeVisible({ timeout: 40_000 });
});

test('after a restart of everything, even a hard one, it is all still there', async ({ page }) => {
  test.setTimeout(240_000);
  await stopApp('SIGKILL');
  await startApp(false);
  await openCarriage(page, /Jog, home/);
  await expect(page.getByRole('combobox', { name: 'Run shown' })).toContainText(/homing|test move/);
  await openStep(page, /Plates and scaling/);
  await chooseStation(page, 'Load');
  await expect(page.getByLabel('Notes')).toHaveValue('typed without a database');
  await openStep(page, /Drive data/);
  await connect(page);
  await expect(page.locator('[data-parameter="gearNumerator"]')).toContainText('proven');
});
