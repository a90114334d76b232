import { expect, test, type Page } from '@playwright/test';
import { killPart } from './app.ts';
import { noSeriousFinding, openCarriage, openStep, saved, useApp } from './steps.ts';

useApp();

const speed = async (page: Page) => {
  const text = await page.getByRole('region', { name: 'Enable and jog' }).innerText();
  return Math.abs(Number(/Speed\s+(-?[\d.]+)/.exec(text)?.[1] ?? NaN));
};

test('a drive on a serial line is found among the ports, written, jogged, recorded, and stopped when its line ends', async ({
  page,
}) => {
  await openCarriage(page, /Drive data/);
  await page.getByRole('combobox', { name: 'Connection' }).click();
  await page.getByRole('option', { name: 'Modbus RTU, serial line' }).click();
  // A port that is not there is told, and nothing else happens.
  await page.getByRole('button', { name: 'Connect', exact: true }).click();
  await expect(page.getByText(/there is no serial port \/dev\/ttyUSB0/)).toBeVisible();
  await page.getByRole('button', { name: 'Disconnect' }).click();
  await page.getByRole('combobox', { name: 'Ports of this computer' }).click();
  await page.getByRole('option', { name: /bench\/serial$/ }).click();
  await page.getByRole('combobox', { name: 'Baud rate' }).click();
  await page.getByRole('option', { name: '115200' }).click();
  await saved(page);
  await noSeriousFinding(page);
  await page.getByRole('button', { name: 'Connect', exact: true }).click();
  await expect(page.getByText(/Kind 0x5301, firmware .*, serial number \d+/)).toBeVisible();
  await page.getByRole('button', { name: '1. Read and compare' }).click();
  await expect(page.getByRole('region', { name: 'To be written, in this order' })).toContainText('numerator');
  await page.getByRole('button', { name: /2. Write what differs/ }).click();
  await expect(page.getByText('Every planned value is running and stored.').first()).toBeVisible({ timeout: 40_000 });

  await openStep(page, /Jog, home/);
  await page.getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Enable' }).click();
  const plus = page.getByRole('button', { name: 'Jog plus' });
  await expect(plus).toBeEnabled();
  await plus.focus();
  await page.keyboard.down(' ');
  await expect.poll(() => speed(page)).toBeGreaterThan(50);
  await page.keyboard.up(' ');
  await expect.poll(() => speed(page)).toBeLessThan(1);
  // The recording of a homing is fetched when the motor is off.
  await page.getByRole('button', { name: 'Home', exact: true }).click();
  await expect(page.getByRole('status', { name: 'homed: on' })).toBeVisible({ timeout: 40_000 });
  await expect(page.getByText(/Switch the motor off: the recording is then fetched/)).toBeVisible();
  await page.getByRole('button', { name: 'Disable' }).click();
  await expect(page.getByRole('combobox', { name: 'Run shown' })).toContainText('homing · finished', {
    timeout: 60_000,
  });

  await page.getByRole('button', { name: 'Enable' }).click();
  await expect(plus).toBeEnabled();
  killPart('bench');
  await expect(page.getByText(/The link to the drive is lost|No response/).first()).toBeVisible();
  await expect(page.getByText('Connected').or(page.getByText('connected')).first()).toBeVisible({ timeout: 60_000 });
});
