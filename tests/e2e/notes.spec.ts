import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { choose, engraved, inHalves } from './helpers';
import { expect, test } from './visit';

/** The Notes stage of the untidy demo with the marks that its playing shows. */
async function openMarks(page: Page): Promise<void> {
  await page.goto('/job/demo-untidy/notes');
  await engraved(page);
  await page.getByRole('tab', { name: /^Marks \d+/ }).click();
  await expect(page.getByRole('status').filter({ hasText: /heard, 0 written/ })).toBeVisible();
}

const dynamics = (page: Page) => page.locator('[data-engraved="true"] .dynam');

async function musicXml(page: Page): Promise<string> {
  await page.getByRole('link', { name: 'Deliver' }).click();
  const waiting = page.waitForEvent('download', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Download' }).click();
  return readFileSync(await (await waiting).path(), 'utf8');
}

test('marks of the playing are written for a part, taken back, and in the download after a reload', async ({
  page,
}) => {
  await openMarks(page);
  await expect(dynamics(page)).toHaveCount(0);
  await page.getByRole('combobox', { name: /^Marks of/ }).click();
  await page.getByTitle('Flute 1', { exact: true }).click();
  await page.getByRole('button', { name: 'Write all' }).click();
  await expect(dynamics(page).first()).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('Control+z');
  await expect(dynamics(page)).toHaveCount(0);
  await page.keyboard.press('Control+Shift+z');
  await expect(dynamics(page).first()).toBeVisible({ timeout: 30_000 });
  await page.reload();
  await engraved(page);
  await expect(dynamics(page).first()).toBeVisible({ timeout: 30_000 });
  const xml = await musicXml(page);
  const parts = xml.split('<part id=').slice(1);
  expect(parts.filter((part) => part.includes('<dynamics'))).toHaveLength(1);
});

test('single marks are chosen from the list, by keyboard', async ({ page }) => {
  await openMarks(page);
  const first = page.getByRole('checkbox', { name: /^m?[fp]+, bar/ }).first();
  await first.focus();
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Write 1', exact: true }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').filter({ hasText: /heard, 1 written/ })).toBeVisible();
  await expect(dynamics(page)).toHaveCount(1);
});

test('a mark of the list is shown on the page', async ({ page }) => {
  await openMarks(page);
  await expect(page.locator('[data-from="0"]')).toBeInViewport();
  await page
    .getByRole('button', { name: /^bar 45/ })
    .first()
    .click();
  await expect(page.locator('[data-from="0"]')).not.toBeInViewport();
});

test('a wrong note is put right by keyboard, on the page and in what sounds, and another is left out', async ({
  page,
}) => {
  await page.goto('/job/demo-untidy/notes');
  await engraved(page);
  const inspector = page.getByLabel('Inspector');
  const title = inspector.getByRole('heading', { level: 2 });
  await page.getByRole('application', { name: /^Score/ }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(title).toHaveText('A4 in Flute 1');
  await page.keyboard.press('ArrowUp');
  await expect(title).toHaveText('B4 in Flute 1');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(title).toHaveText('B♭4 in Flute 1');
  await expect(inspector).toContainText('SoundsB♭4');
  await inspector.getByRole('button', { name: 'As it came' }).click();
  await expect(title).toHaveText('A4 in Flute 1');
  const notes = page.locator('[data-engraved="true"]').first().locator('g.note');
  const heads = await notes.count();
  await page.getByRole('application', { name: /^Score/ }).focus();
  await page.keyboard.press('Delete');
  await expect(notes).toHaveCount(heads - 1);
  await page.reload();
  await engraved(page);
  await expect(notes).toHaveCount(heads - 1);
  await page.keyboard.press('Control+z');
  await expect(notes).toHaveCount(heads);
});

/** A flute and a bass: eight bars twice, the last bar otherwise the second time, and eight more. */
function repeatingSong(): Uint8Array {
  const section = [60, 64, 67, 65, 62, 64, 69];
  const tune = [...section, 60, ...section, 72, 59, 61, 66, 68, 70, 73, 71, 74];
  return inHalves({ Flute: tune, 'Double Bass': tune.map((key) => key - 24) });
}

test('what comes again is folded into repeats with endings, in the download after a reload, and written out again', async ({
  page,
}) => {
  await page.goto('/');
  await choose(page, 'song.mid', repeatingSong());
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Notes/ }).click();
  await engraved(page);
  await page.getByRole('tab', { name: 'Repeats 1' }).click();
  const panel = page.getByRole('complementary', { name: 'Inspector' });
  await expect(panel.getByRole('row', { name: /1–7 again 9–15 repeat, endings of 1 bar/ })).toBeVisible();
  await panel.getByRole('button', { name: 'Fold all' }).click();
  await expect(panel.getByRole('status')).toHaveText(
    'The score that is handed over has 17 bars for 24 that are played.',
  );
  await page.reload();
  await engraved(page);
  const folded = await musicXml(page);
  expect(folded.match(/<repeat direction="backward"/g)).toHaveLength(2);
  expect(folded.match(/<ending number="[12]" type="start"/g)).toHaveLength(4);
  expect(folded.match(/<measure /g)).toHaveLength(2 * 17);
  await expect(page.getByText(/^Repeats are folded: 17 bars on paper for 24/)).toBeVisible();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByText(/^Repeats are folded/)).toBeHidden();
  expect((await musicXml(page)).match(/<measure /g)).toHaveLength(2 * 24);
});

test('a note is set by its letter, another is added above it and one after it, by keyboard, counted and kept', async ({
  page,
}) => {
  await page.goto('/');
  await choose(page, 'song.mid', inHalves({ Flute: [60, 62, 64, 65], 'Double Bass': [36, 38, 40, 41] }));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Notes/ }).click();
  await engraved(page);
  const notes = page.locator('[data-engraved="true"] g.note');
  await expect(notes).toHaveCount(16);
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  await page.getByRole('application', { name: /^Score/ }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(inspector.getByRole('heading', { name: 'C4 in Flute' })).toBeVisible();
  await page.keyboard.press('e');
  await expect(inspector.getByRole('heading', { name: 'E4 in Flute' })).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('Shift+G');
  await expect(notes).toHaveCount(17, { timeout: 30_000 });
  await inspector.getByRole('button', { name: 'Copy to…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Copy the note' });
  await expect(dialog.getByRole('button', { name: 'Copy', exact: true })).toBeDisabled();
  await dialog.getByRole('combobox', { name: 'Part to copy to' }).click();
  await page.getByTitle('Contrabass', { exact: true }).click();
  await dialog.getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(notes).toHaveCount(18, { timeout: 30_000 });
  await page.reload();
  await engraved(page);
  await expect(notes).toHaveCount(18, { timeout: 30_000 });
  const xml = await musicXml(page);
  expect(xml.match(/<pitch>/g)).toHaveLength(18);
  await expect(page.getByRole('row', { name: '2 added by hand' })).toBeVisible();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByRole('row', { name: '1 added by hand' })).toBeVisible();
});

test('words are pasted, divided and put under a tune in two verses, in the download after a reload, and taken off', async ({
  page,
}) => {
  await page.goto('/');
  await choose(page, 'song.mid', inHalves({ Soprano: [60, 62, 64, 65], Piano: [48, 50, 52, 53] }));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Notes/ }).click();
  await engraved(page);
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  await inspector.getByRole('tab', { name: 'Lyrics' }).click();
  const words = inspector.getByRole('textbox', { name: 'Words' });
  await words.fill('Little lantern over water away');
  await inspector.getByRole('button', { name: 'Divide words' }).click();
  await expect(words).toHaveValue('Lit-tle lan-tern o-ver wa-ter a-way');
  await expect(inspector.getByRole('status')).toContainText('2 without a note, from “a-” on');
  await words.fill('Lit-tle lan-tern o-ver wa-ter');
  await expect(inspector.getByRole('status')).toHaveText('8 syllables under notes.');
  await inspector.getByRole('button', { name: 'Put under the notes' }).click();
  const sung = page.locator('[data-engraved="true"] g.syl');
  await expect(sung).toHaveCount(8, { timeout: 30_000 });
  await inspector.getByRole('combobox', { name: 'Verse', exact: true }).click();
  await page.getByTitle('2', { exact: true }).click();
  await expect(words).toHaveValue('');
  await words.fill('Row _ on');
  await inspector.getByRole('button', { name: 'Put under the notes' }).click();
  await expect(sung).toHaveCount(10, { timeout: 30_000 });
  await page.reload();
  await engraved(page);
  await expect(sung).toHaveCount(10, { timeout: 30_000 });
  const xml = await musicXml(page);
  expect(xml.match(/<lyric number="1">/g)).toHaveLength(8);
  expect(xml.match(/<lyric number="2">/g)).toHaveLength(2);
  expect(
    xml
      .match(/<text>\w+<\/text>/g)
      ?.join(' ')
      .replace(/<\/?text>/g, ''),
  ).toBe('Lit Row tle lan on tern o ver wa ter');
  await page.getByRole('link', { name: /^Notes/ }).click();
  await engraved(page);
  await inspector.getByRole('tab', { name: 'Lyrics' }).click();
  await expect(words).toHaveValue('Lit-tle lan-tern o-ver wa-ter');
  await words.fill('');
  await inspector.getByRole('button', { name: 'Take the words off' }).click();
  await expect(sung).toHaveCount(2, { timeout: 30_000 });
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(sung).toHaveCount(10, { timeout: 30_000 });
});

/** How often something stands in a document. */
const count = (document: string, what: RegExp): number => document.match(what)?.length ?? 0;

test('a slur is put over a passage by keyboard and copied to the passages like it, in the download after a reload', async ({
  page,
}) => {
  await page.goto('/job/demo-untidy/notes');
  await engraved(page);
  const before = count(await musicXml(page), /<slur [^>]*type="start"/g);
  await page.getByRole('link', { name: /^Notes/ }).click();
  await engraved(page);
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  const title = inspector.getByRole('heading', { level: 2 });
  await page.getByRole('application', { name: /^Score/ }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(title).toHaveText('A4 in Flute 1');
  await page.keyboard.press('ArrowRight');
  await expect(title).toHaveText('D5 in Flute 1');
  for (const chosen of [2, 3, 4]) {
    await page.keyboard.press('Shift+ArrowRight');
    await expect(title).toHaveText(`${chosen} notes chosen`);
  }
  await page.keyboard.press('s');
  await page.keyboard.type('slur');
  await page.keyboard.press('Enter');
  await expect(inspector.getByRole('button', { name: 'Take off slur' })).toBeVisible({ timeout: 30_000 });
  await inspector.getByRole('button', { name: 'To like passages…' }).click();
  const dialog = page.getByRole('dialog', { name: 'To like passages' });
  const copy = dialog.getByRole('button', { name: /^Copy to \d+ passages/ });
  await expect(copy).toBeEnabled({ timeout: 30_000 });
  const passages = Number(/\d+/.exec((await copy.textContent()) ?? '')?.[0]);
  expect(passages).toBeGreaterThan(1);
  await copy.click();
  await expect(dialog).toBeHidden();
  await page.reload();
  await engraved(page);
  expect(count(await musicXml(page), /<slur [^>]*type="start"/g)).toBeGreaterThan(before + 1);
  // All of it was one step.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect
    .poll(async () => count(await musicXml(page), /<slur [^>]*type="start"/g), { timeout: 30_000 })
    .toBe(before + 1);
});

test('notes are found by what they are like, and all get a sign, another length, other loudness and a clef at once', async ({
  page,
}) => {
  await page.goto('/');
  await choose(page, 'song.mid', inHalves({ Flute: [60, 62, 64, 65], 'Double Bass': [36, 38, 40, 41] }));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Notes/ }).click();
  await engraved(page);
  await page.getByRole('button', { name: 'Show Flute alone' }).click();
  await page.getByRole('tab', { name: 'Find' }).click();
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  await inspector.getByRole('spinbutton', { name: 'From bar' }).fill('2');
  await inspector.getByRole('spinbutton', { name: 'To bar' }).fill('3');
  await inspector.getByRole('button', { name: 'Choose 4 notes' }).click();
  await expect(inspector.getByRole('heading', { name: '4 notes chosen' })).toBeVisible();
  await inspector.getByRole('combobox', { name: 'Put a sign at the chosen notes' }).fill('tenuto');
  await page.keyboard.press('Enter');
  await expect(inspector.getByRole('button', { name: 'Take off tenuto' })).toBeVisible({ timeout: 30_000 });
  await inspector.getByRole('button', { name: 'Louder by 8' }).click();
  await expect(inspector.getByRole('spinbutton', { name: 'Velocity of the chosen notes' })).toHaveValue(
    '88',
    {
      timeout: 30_000,
    },
  );
  await inspector.getByRole('combobox', { name: 'Clef of these notes' }).click();
  await page.getByTitle('Alto', { exact: true }).last().click();
  // The clef of the passage, and the usual one after it.
  await expect.poll(() => page.locator('[data-engraved="true"] g.clef').count()).toBeGreaterThan(2);
  await inspector.getByRole('button', { name: 'Shorter by a slot of the beat' }).click();
  const notes = page.locator('[data-engraved="true"] g.note');
  // Each half note less a 16th is a dotted quarter tied to a 16th's worth less.
  await expect.poll(() => notes.count(), { timeout: 30_000 }).toBeGreaterThan(8);
  await page.reload();
  await engraved(page);
  const xml = await musicXml(page);
  expect(count(xml, /<tenuto/g)).toBe(4);
  expect(xml).toMatch(
    /<measure number="2"[\s\S]*?<sign>C<\/sign>[\s\S]*?<measure number="4"[\s\S]*?<sign>G<\/sign>/,
  );
  for (let step = 0; step < 4; step++) await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(async () => count(await musicXml(page), /<tenuto/g), { timeout: 30_000 }).toBe(0);
});

test('the score lies on pages, one part with its rests joined, and is printed page by page', async ({
  page,
}) => {
  await page.goto('/job/demo-untidy/notes');
  await engraved(page);
  await page.getByText('Pages', { exact: true }).click();
  const tools = page.getByRole('toolbar', { name: 'Pages' });
  await expect(tools.getByRole('status')).toHaveText(/^\d+ pages/, { timeout: 90_000 });
  const pages = Number(/\d+/.exec((await tools.getByRole('status').textContent()) ?? '')?.[0]);
  await expect(page.getByRole('region', { name: /^Page / })).toHaveCount(pages);
  await page.getByRole('button', { name: 'Show Horn 1 alone' }).click();
  await expect(tools.getByRole('status')).toHaveText('1 page', { timeout: 60_000 });
  const sheet = page.getByRole('region', { name: 'Page 1' });
  await expect(sheet).toContainText('Horn 1');
  await expect(sheet.locator('g.multiRest')).not.toHaveCount(0);
  // The dialog of the browser is not for tests: what it would print is.
  const printed = page.evaluate(
    () =>
      new Promise<[number, number]>((resolve) => {
        window.print = () =>
          resolve([
            document.querySelectorAll('.print-sheets section').length,
            document.querySelectorAll('.print-sheets g.note').length,
          ]);
      }),
  );
  await tools.getByRole('button', { name: 'Print…' }).click();
  const notes = await sheet.locator('g.note').count();
  expect(await printed).toEqual([1, notes]);
  await page.getByText('Scroll', { exact: true }).click();
  await engraved(page);
});

test('bars like the one before are signs on request, in the download after a reload', async ({ page }) => {
  await page.goto('/job/demo-untidy/notes');
  await engraved(page);
  await page.getByRole('button', { name: 'Show Drum Set alone' }).click();
  await page.getByRole('tab', { name: /^Repeats/ }).click();
  await page.getByRole('combobox', { name: 'How Drum Set is written' }).click();
  await page.getByTitle('bar repeats', { exact: true }).last().click();
  await expect(page.locator('[data-engraved="true"] g.mRpt').first()).toBeAttached({ timeout: 30_000 });
  await page.reload();
  await engraved(page);
  const xml = await musicXml(page);
  expect(count(xml, /<measure-repeat type="start">1</g)).toBeGreaterThan(0);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(async () => count(await musicXml(page), /<measure-repeat/g), { timeout: 30_000 }).toBe(0);
});
