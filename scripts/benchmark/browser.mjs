// What a person waits for, measured in a real browser: rows of the benchmark's table.
import { openApp } from '../browser.mjs';

const { page, base, close } = await openApp('benchmark', 4770);
const row = (what, budget, got) => console.log(`| ${what} | ${budget} | ${got} |`);
const percentile = (values, share) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))];

await page.goto(base);
await page.getByRole('link', { name: 'Carriage' }).waitFor();
const firstViews = [];
for (let k = 0; k < 5; k++) {
  const fresh = await page
    .context()
    .browser()
    .newContext({ viewport: { width: 1280, height: 800 } });
  const other = await fresh.newPage();
  const began = Date.now();
  await other.goto(base);
  await other.getByRole('link', { name: 'Carriage' }).waitFor();
  firstViews.push(Date.now() - began);
  await fresh.close();
}
row('first view on loopback, nothing cached', '0.8 s', `${percentile(firstViews, 0.5)} ms, median of 5`);

/** ms from the input event to the frame after the numbers have changed, a hundred keystrokes. */
async function keystrokes(label, texts) {
  const field = page.getByLabel(label, { exact: true });
  await field.click();
  return field.evaluate(async (input, typed) => {
    const setValue = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
    const frame = () => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
    const times = [];
    for (let k = 0; k < 100; k++) {
      await frame();
      const began = performance.now();
      setValue?.call(input, typed[k % typed.length]);
      input.dispatchEvent(new Event('input', { bubbles: true }));
      await frame();
      times.push(performance.now() - began);
    }
    return times;
  }, texts);
}
await page.getByRole('link', { name: 'Carriage' }).click();
const station = page.getByRole('region', { name: 'Chain' }).getByRole('button', { name: 'Belt' });
await station.click();
for (const which of ['first hundred', 'next hundred']) {
  const typing = await keystrokes('Pulley teeth', ['31', '32', '33', '3']);
  row(
    `keystroke → numbers on screen, p95, ${which}`,
    '25 ms',
    `${percentile(typing, 0.95).toFixed(0)} ms (median ${percentile(typing, 0.5).toFixed(0)} ms)`,
  );
}

await page
  .getByRole('navigation', { name: 'Steps of the job' })
  .getByRole('link', { name: /Jog, home/ })
  .click();
await page.locator('canvas').first().waitFor();
/** ms from something done to the frame in which all four charts have been drawn anew, twenty times. */
const drawn = (what) =>
  page.evaluate(async (name) => {
    const { prototype } = CanvasRenderingContext2D;
    const { clearRect } = prototype;
    let draws = 0;
    prototype.clearRect = function (...given) {
      draws++;
      return clearRect.apply(this, given);
    };
    const input = document.querySelector('input[aria-label="Distance"]');
    const setValue = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
    const button = (label) => [...document.querySelectorAll('button')].find((each) => each.textContent === label);
    const actions = {
      keystroke: (k) => {
        setValue?.call(input, String(700 + k));
        input?.dispatchEvent(new Event('input', { bubbles: true }));
      },
      zoom: (k) => button(k % 2 === 0 ? 'move 1' : 'whole')?.click(),
    };
    const times = [];
    for (let k = 0; k < 20; k++) {
      await new Promise((resolve) => setTimeout(resolve, 150));
      draws = 0;
      const began = performance.now();
      actions[name](k);
      while (draws < 4 && performance.now() - began < 3000)
        await new Promise((resolve) => requestAnimationFrame(resolve));
      times.push(performance.now() - began);
    }
    prototype.clearRect = clearRect;
    return times;
  }, what);
for (const [what, name, budget] of [
  ['keystroke', 'keystroke → charts, p95', '100 ms'],
  ['zoom', 'zoom into a trace → picture, p95', '50 ms'],
]) {
  const times = await drawn(what);
  row(name, budget, `${percentile(times, 0.95).toFixed(0)} ms (median ${percentile(times, 0.5).toFixed(0)} ms)`);
}

// Live state of a linked drive, made up to 64 lamps, of which some or all change at every message, and 8 values; five seconds each.
let messages = 0;
const lampsInAll = 64;
let changing = 8;
await page.routeWebSocket(/live/, (window) => {
  const server = window.connectToServer();
  server.onMessage((text) => {
    const message = JSON.parse(text);
    if (message.type !== 'live') return window.send(text);
    const { live } = message;
    const [pattern] = live.inputs;
    if (pattern) {
      messages++;
      live.inputs = Array.from({ length: lampsInAll }, (_, k) => {
        const isOn = k < changing && messages % 2 === 0;
        return { ...pattern, key: `lamp ${k}`, label: `Input ${k}`, level: isOn, isActive: isOn };
      });
      const channels = Array.from({ length: 8 }, (_, k) => ({
        id: `value ${k}`,
        label: `Value ${k}`,
        unit: 'V',
        decimals: 2,
      }));
      live.readings = { channels, values: Object.fromEntries(channels.map(({ id }, k) => [id, messages + k])) };
    }
    window.send(JSON.stringify(message));
  });
});
await page
  .getByRole('navigation', { name: 'Steps of the job' })
  .getByRole('link', { name: /Inputs/ })
  .click();
await page.reload();
await page.getByRole('button', { name: 'Connect' }).click();
await page.getByRole('rowheader', { name: `Input ${lampsInAll - 1}` }).waitFor();
const metrics = await page.context().newCDPSession(page);
await metrics.send('Performance.enable');
const scripting = async () => {
  const { metrics: all } = await metrics.send('Performance.getMetrics');
  return 1000 * (all.find(({ name }) => name === 'ScriptDuration')?.value ?? 0);
};
for (changing of [8, lampsInAll]) {
  const [before, messagesBefore] = [await scripting(), messages];
  await page.evaluate(() => new Promise((resolve) => setTimeout(resolve, 5000)));
  const came = messages - messagesBefore;
  row(
    `live state to a window, ${lampsInAll} lamps of which ${changing} change, 8 values: scripting a message`,
    '2 ms',
    `${(((await scripting()) - before) / came).toFixed(2)} ms at ${(came / 5).toFixed(0)} messages a second`,
  );
}
await close();
