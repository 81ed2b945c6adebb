/**
 * Speed for people: `npm run bench` after a build. Time from dropping a file
 * to the first engraved system in Chromium, and the longest stretch in which
 * the page could not answer.
 */
import { untidyFile } from '../src/core/demo/untidy';
import { manyStrands } from '../tests/e2e/helpers';
import { startPage } from './chromium';

const { address, browser, close } = await startPage();

async function measure(name: string, bytes: Uint8Array) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.addInitScript(() => {
    const longest = { value: 0 };
    Object.assign(window, { longest });
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) longest.value = Math.max(longest.value, entry.duration);
    }).observe({ type: 'longtask', buffered: true });
  });
  await page.goto(address);
  await page.getByRole('link', { name: 'Lantern Ferry', exact: true }).waitFor({ timeout: 30_000 });
  await page.evaluate(() => {
    (window as unknown as { longest: { value: number } }).longest.value = 0;
  });
  const start = performance.now();
  await page
    .getByTestId('file-input')
    .setInputFiles({ name, mimeType: 'audio/midi', buffer: Buffer.from(bytes) });
  await page.getByRole('heading', { name }).waitFor({ timeout: 60_000 });
  const opened = performance.now() - start;
  await page.getByRole('link', { name: 'Notes' }).click();
  await page.locator('[data-engraved="true"]').first().waitFor({ timeout: 60_000 });
  const engraved = performance.now() - start;
  const longest = await page.evaluate(
    () => (window as unknown as { longest: { value: number } }).longest.value,
  );
  await context.close();
  return {
    'strands shown, ms': Math.round(opened),
    'first system, ms': Math.round(engraved),
    'longest task, ms': Math.round(longest),
  };
}

try {
  console.log('From drop to engraved score in Chromium, 1280 × 800, fresh profile');
  console.table({
    'demo, untidy, 16 strands': await measure('demo.mid', untidyFile()),
    '100 strands × 400 notes': await measure('large.mid', manyStrands(100, 400)),
    '100 strands × 2000 notes': await measure('huge.mid', manyStrands(100, 2000)),
  });
} finally {
  await close();
}
