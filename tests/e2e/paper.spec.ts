import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import type { Page } from '@playwright/test';
import { expect, test } from './visit';

/** The second reader of PDF, which also draws. */
const READER = join(
  dirname(createRequire(import.meta.url).resolve('pdfjs-dist/package.json')),
  'legacy/build',
);
const HOST = 'http://pdf.invalid';

interface Drawn {
  /** Dark points of each picture, and those with no dark point of the other within reach, as shares. */
  page: number;
  pdf: number;
  /** Points that the ink of the PDF begins lower. */
  down: number;
  onlyPage: number;
  onlyPdf: number;
}

/** Draws a page of a PDF as large as a picture of it, and lays both over each other. */
async function compare(page: Page, pdf: Buffer, number: number, picture: Buffer): Promise<Drawn> {
  const own = await page.context().newPage();
  await own.route(`${HOST}/**`, (route) => {
    const name = new URL(route.request().url()).pathname.slice(1);
    const isScript = name.endsWith('.mjs');
    return route.fulfill({
      contentType: isScript ? 'text/javascript' : 'text/html',
      body: isScript ? readFileSync(join(READER, name)) : '<!doctype html><title>PDF</title>',
    });
  });
  await own.goto(`${HOST}/`);
  const drawn = await own.evaluate(
    async ({ bytes, at, png, host }) => {
      const reader = await import(/* @vite-ignore */ `${host}/pdf.mjs`);
      reader.GlobalWorkerOptions.workerSrc = `${host}/pdf.worker.mjs`;
      const image = new Image();
      image.src = `data:image/png;base64,${png}`;
      await image.decode();
      const { width, height } = image;
      const inkOf = (draw: (context: CanvasRenderingContext2D) => unknown) => {
        const canvas = Object.assign(document.createElement('canvas'), { width, height });
        const context = canvas.getContext('2d')!;
        context.fillStyle = '#fff';
        context.fillRect(0, 0, width, height);
        return Promise.resolve(draw(context)).then(() => {
          const { data } = context.getImageData(0, 0, width, height);
          // 2 for ink, 1 for a trace of it at the edge of a line, 0 for paper.
          return Uint8Array.from({ length: width * height }, (_, point) => {
            const light = data[4 * point]!;
            return light < 140 ? 2 : light < 225 ? 1 : 0;
          });
        });
      };
      const data = Uint8Array.from(atob(bytes), (letter) => letter.charCodeAt(0));
      const document_ = await reader.getDocument({ data }).promise;
      const sheet = await document_.getPage(at);
      const viewport = sheet.getViewport({ scale: width / sheet.getViewport({ scale: 1 }).width });
      const ofPdf = await inkOf((canvasContext) => sheet.render({ canvasContext, viewport }).promise);
      const ofPage = await inkOf((context) => context.drawImage(image, 0, 0));
      const REACH = 2;
      // A page that was scrolled to stands between two points of the screen.
      const first = (ink: Uint8Array) => Math.floor(ink.indexOf(2) / width);
      const down = first(ofPdf) - first(ofPage);
      const alone = (one: Uint8Array, other: Uint8Array, shift: number): number => {
        let count = 0;
        let all = 0;
        for (let y = 0; y < height; y++)
          for (let x = 0; x < width; x++) {
            if (one[y * width + x] !== 2) continue;
            all++;
            let near = false;
            for (let dy = -REACH; dy <= REACH && !near; dy++)
              for (let dx = -REACH; dx <= REACH && !near; dx++)
                near = (other[(y + shift + dy) * width + x + dx] ?? 0) > 0;
            if (!near) count++;
          }
        return all === 0 ? 1 : count / all;
      };
      const share = (ink: Uint8Array) => ink.reduce((sum, each) => sum + Number(each === 2), 0) / ink.length;
      return {
        page: share(ofPage),
        pdf: share(ofPdf),
        down,
        onlyPage: alone(ofPage, ofPdf, down),
        onlyPdf: alone(ofPdf, ofPage, -down),
      };
    },
    { bytes: pdf.toString('base64'), at: number, png: picture.toString('base64'), host: HOST },
  );
  await own.close();
  return drawn;
}

// Lines as thin as a hair are drawn a point wide at least: at print's size they are.
test.use({ deviceScaleFactor: 3 });

test('a PDF has the same ink as the page that is shown and printed', async ({ page }) => {
  test.setTimeout(180_000);
  // Room for a whole page.
  await page.setViewportSize({ width: 1400, height: 1500 });
  await page.goto('/job/demo/notes');
  await page.getByText('Pages', { exact: true }).click({ timeout: 30_000 });
  await page.getByText('As on paper').click();
  const make = page.getByRole('button', { name: 'PDF', exact: true });
  await expect(make).toBeEnabled({ timeout: 60_000 });
  const saved = page.waitForEvent('download', { timeout: 60_000 });
  await make.click();
  const pdf = readFileSync((await (await saved).path())!);
  for (const number of [1, 5, 12]) {
    const sheet = page.getByRole('region', { name: `Page ${number}`, exact: true });
    await sheet.scrollIntoViewIfNeeded();
    const drawn = await compare(page, pdf, number, await sheet.screenshot());
    expect(Math.abs(drawn.down)).toBeLessThanOrEqual(6);
    expect(drawn.page).toBeGreaterThan(0.005);
    expect(drawn.onlyPage, `page ${number}: ink that the PDF lacks`).toBeLessThan(0.01);
    expect(drawn.onlyPdf, `page ${number}: ink that only the PDF has`).toBeLessThan(0.01);
  }
});
