import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { openShelf } from './helpers';
import { expect, test } from './visit';

const view = (page: Page) => page.getByRole('region', { name: 'Recording', exact: true });
const begins = (page: Page) => page.getByLabel('Seconds of the recording at which the piece begins');

/** A WAV file of the product with so many seconds of silence before its sound (RIFF: sizes at bytes 4 and 40). */
function later(wav: Buffer, seconds: number): Buffer {
  const frame = wav.readUInt16LE(32);
  const rate = wav.readUInt32LE(24);
  const silence = Buffer.alloc(Math.round(seconds * rate) * frame);
  const made = Buffer.concat([wav.subarray(0, 44), silence, wav.subarray(44)]);
  made.writeUInt32LE(made.length - 8, 4);
  made.writeUInt32LE(made.length - 44, 40);
  return made;
}

/** What the product itself renders of the demo. */
async function renderedDemo(page: Page): Promise<Buffer> {
  await page.goto('/job/demo/deliver');
  await page.getByText('Audio', { exact: true }).first().click();
  const saved = page.waitForEvent('download', { timeout: 120_000 });
  await page.getByRole('button', { name: 'Render' }).click();
  return readFileSync((await (await saved).path())!);
}

const attach = (page: Page, name: string, buffer: Buffer, mimeType = 'audio/wav') =>
  view(page).locator('input[type=file]').setInputFiles({ name, mimeType, buffer });

test('a recording is attached, laid along the piece, drawn above the note bars, heard in turns, and kept', async ({
  page,
}) => {
  test.setTimeout(240_000);
  await openShelf(page);
  const wav = later(await renderedDemo(page), 2.5);
  await page.goto('/job/demo/sources?view=recording');

  // What is none says so, and the way on is open.
  await attach(page, 'no-sound.mp3', Buffer.from('not a sound at all'), 'audio/mpeg');
  await expect(page.getByText('This is no recording that the browser can play.')).toBeVisible();
  await expect(page.getByText('no-sound.mp3 was not taken in')).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();

  await attach(page, 'take 3.wav', wav);
  await expect(view(page).getByRole('heading', { name: 'take 3.wav' })).toBeVisible({ timeout: 30_000 });
  await expect(view(page)).toContainText('2.5 s of silence first');
  await expect(view(page)).toContainText('It is not laid yet');
  await page.getByRole('button', { name: 'Find it' }).click();
  await expect(view(page)).toContainText('It keeps to the tempo map all along', { timeout: 60_000 });
  await expect.poll(async () => Number(await begins(page).inputValue())).toBeCloseTo(2.5, 1);

  // Above the note bars it is shifted by keys, which undo takes back.
  await page.getByText('Note bars').first().click();
  const strip = page.getByRole('slider', { name: /^Recording/ });
  await expect(strip).toBeVisible();
  const before = Number(await strip.getAttribute('aria-valuenow'));
  await strip.press('Shift+ArrowRight');
  await expect(strip).toHaveAttribute('aria-valuenow', String(before - 100));
  await page.keyboard.press('Control+z');
  await expect(strip).toHaveAttribute('aria-valuenow', String(before));

  // In turns with what is cleaned, a bar at a time.
  await page.getByRole('button', { name: 'How it is heard' }).click();
  await page.getByLabel('What is heard in turns with it').press('Enter');
  await page.getByTitle('The recording that is laid along the piece').click();
  await page.getByLabel('Bars at a time').press('Enter');
  await page.getByTitle('1', { exact: true }).last().click();
  await page.getByRole('button', { name: 'How it is heard' }).click();
  await page.getByRole('button', { name: 'Play' }).click();
  const sounding = page.getByRole('region', { name: 'Playback' }).getByRole('status');
  await expect(sounding).toHaveText('Cleaned', { timeout: 30_000 });
  await expect(sounding).toHaveText('Recording', { timeout: 15_000 });
  await expect(sounding).toHaveText('Cleaned', { timeout: 15_000 });
  await page.getByRole('button', { name: 'Stop' }).click();

  // Both at once.
  await page.getByRole('button', { name: 'How it is heard' }).click();
  await page.getByLabel('Bars at a time').press('Enter');
  await page.getByTitle('at once').click();
  await page.getByRole('button', { name: 'How it is heard' }).click();
  await page.getByRole('button', { name: 'Play' }).click();
  const clock = page.getByRole('timer', { name: 'Place' });
  const then = await clock.textContent();
  await expect(clock).not.toHaveText(then ?? '', { timeout: 30_000 });
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();

  await page.reload();
  await expect(page.getByRole('slider', { name: /^Recording/ })).toHaveAttribute(
    'aria-valuenow',
    String(before),
  );
  await page.getByText('Recordings', { exact: true }).first().click();
  await page.getByRole('button', { name: 'Take out…' }).click();
  await page.getByRole('button', { name: 'Take it out' }).click();
  await expect(view(page).getByRole('button', { name: 'Attach a recording…' })).toBeVisible();
});

test('a recording that is dropped on an open job is its reference, unless it is to be heard', async ({
  page,
}) => {
  await openShelf(page);
  const silence = later(Buffer.alloc(44), 0);
  silence.write('RIFF', 0);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'a.wav', mimeType: 'audio/wav', buffer: silence });
  await expect(page.getByText('This is no recording that the browser can play.')).toBeVisible();
  await page.goto('/job/demo/sources?view=strands');
  await expect(page.getByText('Strands').first()).toBeVisible({ timeout: 30_000 });
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'a.wav', mimeType: 'audio/wav', buffer: silence });
  const dialog = page.getByRole('dialog', { name: 'What is a.wav?' });
  await expect(dialog.getByRole('radio', { name: /^A new job, of the notes/ })).toBeEnabled();
  await expect(dialog.getByRole('radio', { name: /The listening reference/ })).toBeChecked();
  await dialog.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByText('a.wav was not taken in')).toBeVisible();
});
