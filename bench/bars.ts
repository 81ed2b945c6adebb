/**
 * `npm run bench:bars` after a build: frames a second while panning and
 * zooming over 200,000 notes, counted in a Chromium trace, and the time from
 * pressing play to the first sound.
 */
import { untidyFile } from '../src/core/demo/untidy';
import { manyStrands } from '../tests/e2e/helpers';
import { startPage } from './chromium';

const SECONDS = 4;
const { address, browser, close } = await startPage();

async function openBars(name: string, bytes: Uint8Array) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.goto(address);
  await page.getByRole('link', { name: 'Lantern Ferry', exact: true }).waitFor({ timeout: 30_000 });
  await page
    .getByTestId('file-input')
    .setInputFiles({ name, mimeType: 'audio/midi', buffer: Buffer.from(bytes) });
  await page.getByText('Note bars').click({ timeout: 60_000 });
  await page.getByTestId('note-bars').waitFor({ timeout: 60_000 });
  // The score is written in the meantime; wait until the machine is free.
  await page
    .getByRole('status')
    .getByRole('button', { name: 'Stop' })
    .waitFor({ state: 'hidden', timeout: 120_000 });
  await page.waitForTimeout(1000);
  return { context, page };
}

/** Sends a wheel step each frame, as a hand on the wheel would, and counts what was drawn. */
async function move(page: Awaited<ReturnType<typeof openBars>>['page'], how: 'pan' | 'scroll' | 'zoom') {
  await browser.startTracing(page, {
    categories: ['disabled-by-default-devtools.timeline.frame', 'devtools.timeline'],
  });
  const asked = await page.evaluate(
    ([kind, seconds]) =>
      new Promise<{ frames: number; longest: number }>((resolve) => {
        const field = document.querySelector('[data-testid="note-bars"]')!.parentElement!;
        const begun = performance.now();
        let frames = 0;
        let last = begun;
        let longest = 0;
        const step = (now: number) => {
          longest = Math.max(longest, now - last);
          last = now;
          frames++;
          const turn = Math.floor((now - begun) / 500) % 2 === 0 ? 1 : -1;
          const wheel =
            kind === 'pan'
              ? { deltaX: 25 * turn }
              : kind === 'scroll'
                ? { deltaY: 25 * turn }
                : { deltaY: 8 * turn, ctrlKey: true };
          field.dispatchEvent(
            new WheelEvent('wheel', {
              bubbles: true,
              cancelable: true,
              clientX: 600,
              clientY: 400,
              ...wheel,
            }),
          );
          if (now - begun < (seconds as number) * 1000) requestAnimationFrame(step);
          else resolve({ frames, longest });
        };
        requestAnimationFrame(step);
      }),
    [how, SECONDS] as const,
  );
  const trace = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: { name: string }[] };
  const drawn = trace.traceEvents.filter((event) => event.name === 'DrawFrame').length;
  return {
    'frames asked a second': Math.round(asked.frames / SECONDS),
    'frames drawn a second (trace)': Math.round(drawn / SECONDS),
    'longest frame, ms': Math.round(asked.longest),
  };
}

try {
  const crowd = await openBars('crowd.mid', manyStrands(100, 2000));
  const rows: Record<string, unknown> = {};
  for (const zoom of ['whole piece', 'eight times closer']) {
    if (zoom !== 'whole piece')
      for (let step = 0; step < 3; step++) await crowd.page.getByRole('button', { name: 'Zoom in' }).click();
    for (const how of ['pan', 'scroll', 'zoom'] as const)
      rows[`${how}, ${zoom}`] = await move(crowd.page, how);
  }
  console.log('Note bars: 100 strands × 2,000 notes, 1280 × 800, software rendering');
  console.table(rows);
  await crowd.context.close();

  const demo = await openBars('demo.mid', untidyFile());
  const begun = performance.now();
  await demo.page.getByRole('button', { name: 'Play', exact: true }).click();
  await demo.page.waitForFunction(
    () => document.querySelector('[role=timer]')?.textContent !== '0:00.0',
    null,
    { polling: 10 },
  );
  console.log(
    `Time to first sound, bank and synthesizer not yet loaded: ${Math.round(performance.now() - begun)} ms until the clock shows 0.1 s`,
  );
  await demo.context.close();
} finally {
  await close();
}
