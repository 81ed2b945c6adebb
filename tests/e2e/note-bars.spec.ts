import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { readSmf } from '../../src/core/sources/smf/read';
import { choose, manyStrands, openShelf } from './helpers';
import { expect, test } from './visit';

const openBars = async (page: Page, name: string, bytes: Uint8Array) => {
  await openShelf(page);
  await choose(page, name, bytes);
  await page.getByText('Note bars').click({ timeout: 60_000 });
  await expect(page.getByTestId('note-bars')).toBeVisible({ timeout: 30_000 });
};

/** How many pixels of the drawing are inked. */
const inked = (page: Page): Promise<number> =>
  page.getByTestId('note-bars').evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
    let dark = 0;
    for (let at = 0; at < data.length; at += 4) if (data[at]! + data[at + 1]! + data[at + 2]! < 500) dark++;
    return dark;
  });

test('two hundred thousand notes are drawn, moved over and zoomed', async ({ page }) => {
  await openBars(page, 'crowd.mid', manyStrands(100, 2000));
  await expect(page.getByText('200,000 notes in 100 strands')).toBeVisible();
  await expect.poll(() => inked(page)).toBeGreaterThan(1000);
  const whole = await inked(page);
  const drawing = page.getByRole('group', { name: /^Notes over time/ });
  await drawing.hover();
  for (let step = 0; step < 6; step++) {
    await page.keyboard.down('Control');
    await page.mouse.wheel(0, -100);
    await page.keyboard.up('Control');
  }
  await expect.poll(() => inked(page)).not.toBe(whole);
  await page.mouse.wheel(0, 3000);
  await expect(page.getByRole('button', { name: /^Mute Violin/ }).last()).toBeVisible();
  await page.getByRole('button', { name: 'Whole piece' }).click();
  await drawing.focus();
  for (let press = 0; press < 10; press++) await page.keyboard.press('PageUp');
  await expect(page.getByRole('button', { name: 'Mute Flute 1', exact: true })).toBeVisible();
});

test('touch pans with one finger and zooms with two', async ({ browser }) => {
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await openBars(page, 'touch.mid', manyStrands(3, 64));
  const box = (await page.getByTestId('note-bars').boundingBox())!;
  const session = await context.newCDPSession(page);
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', points: [number, number][]) =>
    session.send('Input.dispatchTouchEvent', {
      type,
      touchPoints: points.map(([x, y], id) => ({ x: box.x + x, y: box.y + y, id })),
    });
  const ruler = () =>
    page
      .locator('canvas')
      .first()
      .evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());
  const before = await ruler();
  await touch('touchStart', [
    [300, 80],
    [400, 80],
  ]);
  await touch('touchMove', [
    [300, 80],
    [600, 80],
  ]);
  await touch('touchMove', [
    [200, 80],
    [700, 80],
  ]);
  await touch('touchEnd', []);
  await expect.poll(ruler).not.toBe(before);
  const closer = await ruler();
  await touch('touchStart', [[500, 80]]);
  await touch('touchMove', [[300, 80]]);
  await touch('touchEnd', []);
  await expect.poll(ruler).not.toBe(closer);
  await context.close();
});

test('a controller is removed in chosen bars only, and the drawing follows', async ({ page }) => {
  await page.goto('/job/demo-untidy/sources?view=bars');
  await expect(page.getByTestId('note-bars')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Flute 1', exact: true }).click();
  await page.getByLabel('Lane below the strips').click();
  await page.getByTitle('Volume (7) ×2').click();
  const ruler = page.getByRole('slider', { name: /^Bars/ });
  const box = (await ruler.boundingBox())!;
  await page.mouse.move(box.x + 2, box.y + 30);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.2, box.y + 30, { steps: 4 });
  await page.mouse.up();
  await page.getByRole('button', { name: 'Remove Volume (7) here' }).click();
  await page.getByRole('button', { name: 'Undo' }).isEnabled();
  await page.getByText('Cleaning', { exact: true }).click();
  await page.getByText('Before and after (1)').click();
  const row = page.locator('.ant-table-row', { hasText: 'Volume (7)' });
  await expect(row).toContainText('1st Fl lgto');
  await expect(row).toContainText(/1.*0$|2.*1$/);
});

test('keys work from any stage: play, stop, and the sheet that lists them', async ({ page }) => {
  await page.goto('/job/demo/roster');
  await expect(page.getByRole('heading', { name: '15 parts', exact: true })).toBeVisible({ timeout: 30_000 });
  await page.locator('body').press(' ');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible({ timeout: 30_000 });
  await page.locator('body').press('1');
  await expect(page.getByRole('radiogroup', { name: 'View of the source' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await page.locator('body').press(' ');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await page.locator('body').press('?');
  await expect(page.getByRole('dialog')).toContainText('The next, the previous note of the strand');
});

test('a curve is drawn by pointer and keys, scaled, put on all strands, and goes out', async ({ page }) => {
  await openBars(page, 'curve.mid', manyStrands(3, 64));
  await page.getByRole('button', { name: 'Flute 1', exact: true }).click();
  await page.getByRole('combobox', { name: 'Lane below the strips' }).click();
  await page.getByTitle('Modulation (1), nothing yet').click();
  const tools = page.getByRole('region', { name: 'Curve' });
  await expect(tools).toContainText('Press or drag in the lane to draw it.');
  const lane = page.getByRole('group', { name: /^Lane/ });
  const box = (await lane.boundingBox())!;
  // A rise by hand is two points or a few, however many were drawn.
  await page.mouse.move(box.x + 40, box.y + 80);
  await page.mouse.down();
  for (let step = 1; step <= 40; step++) await page.mouse.move(box.x + 40 + step * 8, box.y + 80 - step);
  await page.mouse.up();
  await expect(tools).toContainText(/^Curve of Modulation \(1\)[2-5] points/);
  // A press puts one more; keys choose, raise and take out.
  await page.mouse.click(box.x + 600, box.y + 30);
  const value = tools.getByRole('spinbutton', { name: 'Value of the point' });
  await expect(value).toHaveValue('94');
  await page.keyboard.press('Shift+ArrowUp');
  await expect(value).toHaveValue('104');
  const count = async () => Number(/(\d+) points/.exec((await tools.textContent()) ?? '')?.[1]);
  const before = await count();
  await page.keyboard.press('Delete');
  await expect.poll(count).toBe(before - 1);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(count).toBe(before);

  await tools.getByRole('spinbutton', { name: 'Scale the curve, per cent' }).fill('50');
  // Pressed one after the other before anything is drawn anew: the scaled curve is what is put on the others.
  await tools.evaluate((region) => {
    for (const name of ['Scale', 'Put on all strands'])
      [...region.querySelectorAll('button')].find(({ textContent }) => textContent === name)?.click();
  });
  await page.getByRole('link', { name: /^Deliver/ }).click();
  await page.getByText('MIDI file', { exact: true }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const { tracks } = readSmf(new Uint8Array(readFileSync(await (await download).path())));
  const curves = tracks
    .slice(1)
    .map(({ events }) =>
      events.flatMap((event) =>
        event.kind === 'control' && event.controller === 1 ? [`${event.tick}=${event.value}`] : [],
      ),
    );
  expect(curves).toHaveLength(3);
  expect(curves[0]!.length).toBeGreaterThan(10);
  expect(curves[0]!.at(-1)).toMatch(/=52$/);
  expect(curves[1]).toEqual(curves[0]);
  expect(curves[2]).toEqual(curves[0]);
});

test('a curve is recorded by keys while the music plays', async ({ page }) => {
  await openBars(page, 'record.mid', manyStrands(2, 64));
  await page.getByRole('button', { name: 'Flute 1', exact: true }).click();
  await page.getByRole('combobox', { name: 'Lane below the strips' }).click();
  await page.getByTitle('Expression (11), nothing yet').click();
  const tools = page.getByRole('region', { name: 'Curve' });
  await tools.getByRole('button', { name: 'Record while playing' }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('group', { name: /^Lane/ }).focus();
  const clock = page.getByRole('timer', { name: 'Place' });
  await expect(clock).not.toHaveText('0:00.0');
  for (let press = 0; press < 5; press++) await page.keyboard.press('Shift+ArrowDown');
  const seen = await clock.textContent();
  await expect(clock).not.toHaveText(seen!);
  await tools.getByRole('button', { name: 'Stop recording' }).click();
  await expect(tools).toContainText(/\d+ points/);
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
});

test('a wrong note is put right where it is drawn, by keyboard: a semitone, its place, and left out', async ({
  page,
}) => {
  await openBars(page, 'wrong.mid', manyStrands(1, 16));
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  const drawing = page.getByRole('group', { name: /^Notes over time/ });
  await drawing.focus();
  await page.keyboard.press('.');
  const title = inspector.getByRole('heading', { level: 2 });
  await expect(title).toHaveText('C4 (60)');
  await expect(inspector.getByRole('toolbar', { name: 'The chosen notes' })).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('Alt+ArrowUp');
  await expect(title).toHaveText('C♯4 (61)', { timeout: 30_000 });
  await inspector.getByRole('button', { name: '10 ms later, in what sounds alone', exact: true }).click();
  await expect(inspector).toContainText('10 ms after a', { timeout: 30_000 });
  await page.reload();
  await expect(page.getByTestId('note-bars')).toBeVisible({ timeout: 30_000 });
  await drawing.focus();
  await page.keyboard.press('.');
  await expect(title).toHaveText('C♯4 (61)');
  await page.keyboard.press('Delete');
  await expect(page.getByText('15 notes', { exact: false }).first()).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('Control+z');
  await expect(page.getByText('16 notes', { exact: false }).first()).toBeVisible({ timeout: 30_000 });
});
