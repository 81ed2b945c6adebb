import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { sketch } from '../../scripts/sketch.mjs';
import { readSmf } from '../../src/core/sources/smf/read';
import { accessFaults, choose, engraved, openShelf } from './helpers';
import { expect, test } from './visit';

/** What the product itself renders of the sketch. */
async function renderedSketch(page: Page): Promise<Buffer> {
  await openShelf(page);
  await choose(page, 'sketch.mid', sketch());
  await expect(page.getByRole('heading', { name: 'sketch.mid' })).toBeVisible({ timeout: 30_000 });
  await page.goto(page.url().replace(/sources.*/, 'deliver'));
  await page.getByText('Audio', { exact: true }).first().click();
  const saved = page.waitForEvent('download', { timeout: 120_000 });
  await page.getByRole('button', { name: 'Render' }).click();
  return readFileSync((await (await saved).path())!);
}

const drop = async (page: Page, name: string, buffer: Buffer, mimeType = 'audio/wav') => {
  await openShelf(page);
  await page.getByTestId('file-input').setInputFiles({ name, mimeType, buffer });
};

const notesIn = (bytes: Buffer): number[] =>
  readSmf(bytes).tracks.map(({ events }) => events.filter(({ kind }) => kind === 'noteOn').length);

test('a recording that the product rendered is heard, taken as decided, put right, laid in bars and handed over', async ({
  page,
}) => {
  test.setTimeout(400_000);
  const wav = await renderedSketch(page);

  // Listening can be stopped, and nothing is left of it.
  await drop(page, 'idea.wav', wav);
  const dialog = page.getByRole('dialog', { name: 'Listening to idea.wav' });
  await dialog.getByRole('button', { name: 'Stop' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByRole('link', { name: 'idea', exact: true })).toHaveCount(0);

  await drop(page, 'idea.wav', wav);
  await expect(page.getByRole('heading', { name: 'idea.wav' })).toBeVisible({ timeout: 180_000 });
  const facts = page.getByRole('region', { name: 'The source' });
  await expect(facts).toContainText('heard as many notes at once');
  const taken = async () => Number(/: (\d+) notes/.exec((await facts.textContent()) ?? '')![1]);
  const before = await taken();
  const truth = readSmf(sketch()).tracks[0]!.events.filter(({ kind }) => kind === 'noteOn').length;
  expect(Math.abs(before - truth)).toBeLessThan(truth * 0.15);

  // The threshold moves by keys, without hearing it again, and is undone like any decision.
  await page.getByText('Recordings', { exact: true }).first().click();
  const threshold = page.getByRole('slider', { name: 'How sure a note must be to be taken' });
  await threshold.focus();
  await page.keyboard.press('Home');
  await expect(facts).not.toContainText(`: ${before} notes`);
  expect(await taken()).toBeGreaterThan(before);
  await page.keyboard.press('Control+z');
  await expect(facts).toContainText(`: ${before} notes`);

  // A rule that may not speak keeps nothing out; one line is another way to take it.
  await page.getByRole('checkbox', { name: 'Ghosts' }).click();
  await expect(page.getByRole('row', { name: /Ghosts/ })).toContainText('off');
  await page.getByRole('checkbox', { name: 'Ghosts' }).click();
  await page.getByText('one line', { exact: true }).click();
  await expect(facts).toContainText('heard as one line');
  // As a band it has chords and a tune: a lead sheet, or a version for piano.
  await page.getByText('a band', { exact: true }).click();
  await expect(facts).toContainText('heard as a band');
  await expect(page.getByText(/^\d+ chords heard\.$/)).toBeVisible();
  await page.getByRole('combobox', { name: 'What is made of the band' }).click();
  await page.getByTitle('a piano version').last().click();
  await expect(page.getByRole('combobox', { name: 'How hard the left hand is' })).toBeVisible();
  await page.getByRole('link', { name: /^Deliver/ }).click();
  const sheet = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const band = readFileSync((await (await sheet).path())!, 'utf8');
  expect(band.match(/<harmony/g)!.length).toBeGreaterThanOrEqual(5);
  expect(band).toContain('<staves>2</staves>');
  await page.getByRole('link', { name: /^Sources/ }).click();
  await page.getByText('Recordings', { exact: true }).first().click();
  await page.getByText(/^as guessed/).click();
  await expect(facts).toContainText(`: ${before} notes`);

  const inBoth = async (place: string) => {
    const faults = await accessFaults(page, 'day', place);
    await page.getByRole('button', { name: 'Night' }).click();
    faults.push(...(await accessFaults(page, 'night', place)));
    await page.getByRole('button', { name: 'Night' }).click();
    expect(faults).toEqual([]);
  };
  await inBoth('what was heard');

  // On the picture a note is put right, and one is added behind it.
  await page.getByText('Note bars').first().click();
  await expect(page.getByRole('switch', { name: 'sound behind the notes' })).toBeChecked();
  const drawing = page.getByRole('group', { name: /^Notes over time/ });
  await drawing.focus();
  await page.keyboard.press('.');
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  await expect(inspector).toContainText('% sure');
  await inBoth('the sound behind the notes');
  const key = await inspector.getByRole('heading').first().textContent();
  await drawing.press('Alt+ArrowUp');
  await expect(inspector.getByRole('heading').first()).not.toHaveText(key ?? '');
  await drawing.press('Insert');
  await expect(page.getByText(`${before + 1} notes in 1 strand`)).toBeVisible();

  // Bars are laid along, and the page is there after a reload.
  await page.reload();
  await expect(page.getByText(`${before + 1} notes in 1 strand`)).toBeVisible({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Notes/ }).click();
  await engraved(page);
  await page.getByRole('link', { name: /^Deliver/ }).click();
  const scoreSaved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const score = readFileSync((await (await scoreSaved).path())!, 'utf8');
  expect(score).toContain('<staves>2</staves>');

  // Raw and tidied as MIDI, and each hand in a file of its own.
  await page.getByText('MIDI file', { exact: true }).click();
  const download = async () => {
    const saved = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Download' }).click();
    return readFileSync((await (await saved).path())!);
  };
  const raw = await download();
  await page.getByRole('combobox', { name: 'Note times' }).click();
  await page.getByTitle('as written, to see the same page').click();
  const tidied = await download();
  expect(notesIn(raw).at(-1)).toBe(before + 1);
  expect(notesIn(tidied).at(-1)).toBe(before + 1);
  expect(tidied.equals(raw)).toBe(false);
  await page.getByRole('checkbox', { name: 'for each hand' }).click();
  const hands = notesIn(await download()).filter((count) => count > 0);
  expect(hands).toHaveLength(2);
  expect(hands[0]! + hands[1]!).toBe(before + 1);
  await page.getByRole('checkbox', { name: 'each track in a file of its own' }).click();
  expect((await download()).subarray(0, 2).toString()).toBe('PK');
});

test('what is no recording to be heard says so in a sentence, and the shelf lives on', async ({ page }) => {
  const refused = async (name: string, buffer: Buffer, type: string, says: string | RegExp) => {
    await drop(page, name, buffer, type);
    await expect(page.getByText(`${name} was not taken in`)).toBeVisible({ timeout: 60_000 });
    await expect(page.getByText(says)).toBeVisible();
  };
  await refused(
    'words.mp3',
    Buffer.from('not a sound at all'),
    'audio/mpeg',
    /no recording that the browser can play/,
  );
  await refused('film.mp4', Buffer.from('....ftypisom'), 'video/mp4', 'This is a film: save its sound');
  const silence = Buffer.alloc(44 + 2 * 22_050);
  silence.write('RIFF', 0);
  silence.writeUInt32LE(silence.length - 8, 4);
  silence.write('WAVEfmt ', 8);
  silence.writeUInt32LE(16, 16);
  silence.writeUInt16LE(1, 20);
  silence.writeUInt16LE(1, 22);
  silence.writeUInt32LE(22_050, 24);
  silence.writeUInt32LE(44_100, 28);
  silence.writeUInt16LE(2, 32);
  silence.writeUInt16LE(16, 34);
  silence.write('data', 36);
  silence.writeUInt32LE(silence.length - 44, 40);
  await refused('silence.wav', silence, 'audio/wav', 'This recording is silent.');
  await expect(page.getByRole('link', { name: 'Lantern Ferry', exact: true })).toBeVisible();
});
