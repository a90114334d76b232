// `npm run screenshots`: starts a fresh copy of the app and takes the pictures of docs/screenshots.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { openApp } from './browser.mjs';
import { root } from './setup.mjs';

const folder = join(root, 'docs', 'screenshots');
mkdirSync(folder, { recursive: true });
const { page, base, close } = await openApp('screenshots', 4780);
const shot = async (name) => {
  await page.mouse.move(700, 30);
  await page.waitForTimeout(600);
  await page.screenshot({ path: join(folder, `${name}.png`) });
  console.log(`  ${name}.png`);
};
const step = (name) => page.getByRole('navigation', { name: 'Steps of the job' }).getByRole('link', { name }).click();
const button = (name) => page.getByRole('button', { name, exact: true });
const station = (name) => page.getByRole('region', { name: 'Chain' }).getByRole('button', { name });

await page.goto(base);
await page.getByRole('button', { name: 'Your name?' }).click();
await page.getByLabel('Name').fill('Ada');
await button('Keep').click();
await page.getByRole('link', { name: 'Carriage' }).click();
await station('Gearbox').waitFor();
await shot('chain');

await step(/Planned values/);
await page.getByRole('table', { name: 'Planned drive values' }).waitFor();
await shot('values');
await step(/Drive data/);
await button('Connect').click();
await button('1. Read and compare').click();
await page.getByText(/Not proven:/).waitFor();
await shot('drive');
await page.getByRole('button', { name: /2. Write what differs/ }).click();
await page.getByText('Every planned value is running and stored.').first().waitFor();

await step(/Inputs/);
await button('Start the walk').click();
await page.getByText(/Trip this sensor by hand now/).waitFor();
await shot('inputs');
await button('End the walk').click();

// An encoder with its channels exchanged, found by the shaft that is turned by hand.
const atBench = async (label) => {
  await step(/Bench/);
  await page.getByRole('switch', { name: label }).click();
};
await atBench('Encoder channels A and B exchanged');
await step(/First power/);
await page.getByRole('button', { name: /^Shaft turned by hand/ }).click();
await button('Start').click();
await page.getByText('Watching the drive …').waitFor();
await atBench('Turn the motor shaft by hand, one turn towards plus');
await step(/First power/);
await page.getByRole('region', { name: 'What is wrong' }).waitFor();
await page.keyboard.press('Home');
await shot('first-power');
await atBench('Turn the motor shaft by hand, one turn towards plus');
await atBench('Encoder channels A and B exchanged');
await step(/Jog, home/);
await page.getByRole('checkbox').check();
await button('Enable').click();
await button('Home').click();
await page.getByRole('combobox', { name: 'Run shown' }).getByText('homing · finished').waitFor({ timeout: 60_000 });
await page.getByRole('button', { name: /^Go to start at/ }).click();
await page.getByRole('button', { name: /^Go to start at/ }).waitFor({ state: 'hidden', timeout: 60_000 });
await button('Run').click();
await page.getByRole('combobox', { name: 'Run shown' }).getByText('test move · finished').waitFor({ timeout: 60_000 });
await page.getByRole('cell', { name: 'Measured' }).waitFor();
await shot('moves');
await button('Disable').click();
await step(/^Traces/);
await page.getByRole('tab', { name: 'Moves' }).click();
await page.getByRole('table', { name: 'Moves' }).waitFor();
await shot('traces');

await step(/^Tuning/);
await page.getByRole('table', { name: 'Analysis of the move' }).waitFor();
await page.getByRole('table', { name: 'Margins' }).waitFor();
await shot('tuning');
await step(/^Acceptance/);
await page.getByRole('table', { name: 'Acceptance' }).waitFor();
await button('Keep as evidence').click();
await page.getByRole('table', { name: 'Acceptances kept as evidence' }).waitFor();
await shot('acceptance');

await step(/Jog, home/);
await page.getByRole('button', { name: /^Restore/ }).click();
await page.getByRole('checkbox', { name: /enable is off/i }).check();
await page.getByRole('button', { name: 'Restore', exact: true }).click();
await step(/^Moves by the controller/);
await button('Start the recording').click();
await page.getByText(/^Recording\./).waitFor();
await page.getByRole('switch', { name: 'Servo on' }).click();
await page.waitForTimeout(500);
await page.getByLabel('Move by').fill('100');
for (const way of ['Plus', 'Minus', 'Plus', 'Minus', 'Plus', 'Minus']) {
  await button(way).click();
  await page.waitForTimeout(2000);
}
await button('End the recording').click();
await page.getByRole('table', { name: 'What the drive received' }).waitFor();
await page.getByRole('switch', { name: 'Servo on' }).click();
await shot('controller-moves');

await step(/^Homing/);
await button('Dark theme').click();
await page.getByRole('list', { name: 'Methods that fit' }).waitFor();
await shot('homing');
await button('Light theme').click();

await page.goto(base);
await page.getByRole('link', { name: 'Spray lift' }).click();
await step(/Signals/);
await page.getByRole('tab', { name: /Pulses/ }).click();
await shot('pulses');
await step(/Troubleshooting/);
const look = (question, words) =>
  page.getByRole('group', { name: question }).getByRole('button', { name: words, exact: true }).click();
await look(/What does the shaft do/, 'turns the same way for both');
await look(/How far did it go/, 'as far as commanded');
await shot('faults');

await page.goto(base);
await page.getByRole('link', { name: 'Feed screws' }).click();
await step(/Key-in sheets/);
await page.getByRole('tab', { name: /Drive/ }).click();
await button('Paste values found …').click();
await page.getByRole('textbox', { name: 'Values' }).fill('G-10 = 8192\nG-11 = 125\nL-01 = 300');
await button('Accept 3').click();
await page.getByLabel('Electronic gear, denominator is keyed in').check();
await page.getByRole('list', { name: 'Changes' }).waitFor();
await shot('key-in');

await page.goto(`${base}/library?shelf=drive`);
await page.getByRole('link', { name: /Servo drive A/ }).click();
await page.getByRole('tab', { name: /Values/ }).click();
await shot('library');

await page.goto(base);
await page.getByRole('link', { name: 'Feed screws' }).click();
await step(/Measure the scaling/);
await page.getByLabel('Turns', { exact: true }).fill('5');
await page.getByLabel('Counts changed by').fill('5242310');
await shot('measure');

await page.goto(base);
await page.getByRole('link', { name: 'Edge grinder' }).click();
await station('Belt').click();
await page.getByLabel('Speed command: rpm').fill('2001');
await shot('spindle');
await step(/Connection and curve/);
await page.getByRole('img', { name: 'Torque and power over tool speed' }).waitFor();
await shot('spindle-curve');
await step(/Drive data/);
await button('Connect').click();
await button('1. Read and compare').click();
await page.getByText(/Not proven:/).waitFor();
await page.getByRole('button', { name: /2. Write what differs/ }).click();
await page.getByText('Every planned value is running and stored.').first().waitFor();
await step(/Run test/);
await page.getByRole('checkbox', { name: /hardware stop/ }).check();
await button('Start the run test').click();
await page.getByText('Measured over predicted').waitFor({ timeout: 90_000 });
await shot('spindle-run');

await close();
