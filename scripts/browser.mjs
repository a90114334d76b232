// A fresh copy of the whole app with a browser in front of it, for pictures and measurements. The browser draws in software beside it, so the
// app is told to be patient.
import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { findProgram, root, setUp } from './setup.mjs';

/**
 * @param {string} name of its own folder under var
 * @param {number} port the bench takes the one 800 above
 */
export async function openApp(name, port) {
  setUp({ forTests: true });
  const { chromium } = await import('@playwright/test');
  const varFolder = join(root, 'var', name);
  rmSync(varFolder, { recursive: true, force: true });
  const app = spawn(process.execPath, ['scripts/start.mjs'], {
    cwd: root,
    env: {
      ...process.env,
      PORT: String(port),
      KAVRID_VAR: varFolder,
      BENCH_PORT: String(port + 800),
      KAVRID_TEST_PATIENCE: '5',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((resolve, reject) => {
    app.stdout.on('data', (data) => String(data).includes('Open http') && resolve());
    app.on('exit', () => reject(new Error('the app did not start')));
  });
  const browser = await chromium.launch({
    executablePath: findProgram('chromium-headless-shell'),
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const close = async () => {
    await browser.close();
    app.kill('SIGINT');
    await new Promise((resolve) => app.once('exit', resolve));
  };
  return { page, base: `http://127.0.0.1:${port}`, close };
}
