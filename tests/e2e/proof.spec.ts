import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { tidyFile } from '../../src/core/demo/tidy';
import { barsOfPiece } from '../../src/core/model/clock';
import { readPerformance } from '../../src/core/sources/smf/performance';
import { readSmf } from '../../src/core/sources/smf/read';
import { writeSmf } from '../../src/core/sources/smf/write';
import { choose, engraved, openShelf } from './helpers';
import { expect, test } from './visit';

const panel = (page: Page) => page.getByRole('complementary', { name: 'Finding' });
const figure = (page: Page) => page.getByRole('link', { name: /^Source and score agree/ });
const agrees = (page: Page) => page.getByRole('region', { name: 'What agrees' });

/** The proof of the untidy demo, once its checks have run. */
async function openProof(page: Page): Promise<void> {
  await page.goto('/job/demo-untidy/proof');
  await expect(figure(page)).toHaveText('99.8 %', { timeout: 60_000 });
  await expect(agrees(page)).toContainText('MIDI, notes as written, read back', { timeout: 60_000 });
}

test('findings are worked through by keyboard until source, score and all that goes out agree', async ({
  page,
}) => {
  await openProof(page);
  await expect(agrees(page)).toContainText('4 unexplained');
  await page.keyboard.press('n');
  await expect(panel(page)).toContainText('C-1 of celli is not in the score');
  await expect(page.getByRole('region', { name: 'Violoncello' })).toBeVisible();

  // Key switches that no staff has room for: the source tells what mends them.
  await page.getByLabel('Search the findings').fill('key switches');
  await page.keyboard.press('Tab');
  await page.getByRole('cell', { name: /most likely key switches/ }).click();
  await page.getByRole('button', { name: /^Take them out/ }).click();
  await page.getByLabel('Search the findings').fill('');
  await expect(agrees(page)).toContainText('1 unexplained', { timeout: 30_000 });
  await expect(page.getByRole('cell', { name: /C-1 of celli/ })).toHaveCount(0);
  await page.keyboard.press('Escape');

  // All mixers at once, then the rest.
  await page.getByLabel('Search the findings').fill('faders jump');
  await page
    .getByRole('cell', { name: /faders jump/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Remove: all 16 like it' }).click();
  await expect(page.getByText(/^Mended 16 findings/)).toBeVisible();
  await page.getByLabel('Search the findings').fill('');
  await page.getByRole('checkbox', { name: 'Select all' }).check();
  await page.getByRole('button', { name: /^Mend \d+$/ }).click();
  await expect(figure(page)).toHaveText('100 %', { timeout: 60_000 });
  for (const title of ['Source and score', 'MusicXML, read back', 'MIDI, notes as written, read back'])
    await expect(agrees(page).locator('div', { hasText: title }).last()).toContainText('100 %', {
      timeout: 30_000,
    });
  await page.keyboard.press('Control+z');
  await expect(figure(page)).not.toHaveText('100 %', { timeout: 30_000 });
});

test('what is intended is noted, kept over a reload, and taken back', async ({ page }) => {
  await openProof(page);
  await page.getByLabel('Search the findings').fill('uncomfortable');
  await page
    .getByRole('cell', { name: /uncomfortable for Violin/ })
    .first()
    .click();
  await expect(panel(page)).toContainText('Violin III, bar 10, beat 1');
  // It is heard from the bar before on.
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByRole('timer', { name: 'Place' })).toHaveText(/^0:1[6-9]/, { timeout: 30_000 });
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await page.getByLabel('Why it is intended').fill('The leader plays it.');
  await page.getByLabel('Why it is intended').press('Enter');
  await expect(page.getByText('Intended 1')).toBeVisible();
  await page.reload();
  await expect(page.getByText('Intended 1')).toBeVisible({ timeout: 60_000 });
  await page.getByText('Intended 1').click();
  await page.getByRole('cell', { name: /uncomfortable for Violin/ }).click();
  await expect(panel(page)).toContainText('Intended: The leader plays it.');
  await page.getByRole('button', { name: /^Open again/ }).click();
  await expect(page.getByText('Intended 0')).toBeVisible();
});

test('a source is laid over the score, differences are stepped through and listed', async ({ page }) => {
  await openProof(page);
  await page.getByText('Compare readings').click();
  await expect(page.getByText(/2,321 notes agree, 5 differ/)).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('n');
  await page.keyboard.press('n');
  await expect(page.locator('[aria-current="true"]')).toContainText('C♯-1');
  await expect(page.getByRole('img', { name: 'Note bars of celli' })).toBeVisible();
  // Both are heard, one after the other.
  await page.getByRole('button', { name: 'Hear both in turns' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'lantern-ferry-untidy.mid' })).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByRole('status').filter({ hasText: 'The score as it is now' })).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByRole('button', { name: 'Hear both in turns' })).toBeVisible({ timeout: 30_000 });
  // Sorted otherwise, the next one is the next of the table.
  await page.getByRole('columnheader', { name: 'Notes' }).click();
  await page.getByRole('columnheader', { name: 'Notes' }).click();
  await page.keyboard.press('p');
  await page.keyboard.press('p');
  await page.keyboard.press('p');
  await page.keyboard.press('p');
  const first = page.locator('tbody tr[data-row-key]').first();
  await expect(first).toHaveAttribute('aria-current', 'true');
  await page.keyboard.press('n');
  await expect(first).toHaveAttribute('aria-current', 'false');
  await expect(page.locator('tbody tr[data-row-key]').nth(1)).toHaveAttribute('aria-current', 'true');
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'List as CSV' }).click();
  const csv = readFileSync(await (await waiting).path(), 'utf8');
  expect(csv.split('\n')).toHaveLength(6);
  expect(csv).toContain('celli');
});

/** The demo with five bars of the harp a tone higher and one of its notes gone, and ids of a note that is there and one that is not. */
function secondVersion() {
  const file = readSmf(tidyFile());
  const { strands, clock, end } = readPerformance(file);
  const harp = strands.find(({ name }) => name === 'Harp')!;
  const bars = barsOfPiece(clock, end);
  const [from, to] = [bars[20]!.start, bars[25]!.start];
  const kept = harp.notes.find(({ on }) => on >= from)!;
  const lost = harp.notes.find(({ on }) => on >= bars[22]!.start)!;
  const events = file.tracks[harp.track]!.events.filter(
    (event) =>
      !(event.kind === 'noteOn' && event.tick === lost.on && event.key === lost.key) &&
      !(event.kind === 'noteOff' && event.tick === lost.off && event.key === lost.key),
  ).map((event) =>
    (event.kind === 'noteOn' && event.tick >= from && event.tick < to) ||
    (event.kind === 'noteOff' && event.tick > from && event.tick <= to)
      ? { ...event, key: event.key + 2 }
      : event,
  );
  const tracks = file.tracks.map((track, index) => (index === harp.track ? { ...track, events } : track));
  return { bytes: writeSmf({ ...file, tracks }), kept: kept.id, lost: lost.id };
}

test('a new version with eight changed bars keeps what was decided, tells what changed, and is taken in part', async ({
  page,
}) => {
  await page.goto('/job/demo/sources?view=strands');
  await expect(page.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
  // Decisions about two single notes: one survives, one loses its note.
  const harp = secondVersion();
  await page.goto('/job/demo/deliver');
  await page.getByText('Brief', { exact: true }).click();
  await page.getByTestId('brief-input').setInputFiles({
    name: 'b.json',
    mimeType: 'application/json',
    buffer: Buffer.from(
      JSON.stringify({
        format: 'dragoman-brief',
        version: 2,
        directives: [harp.kept, harp.lost].map((note) => ({ kind: 'pitch', note, steps: 7, semitones: 12 })),
      }),
    ),
  });
  await expect(page.getByRole('heading', { name: 'The brief: 2 decisions' })).toBeVisible();
  await page.goto('/job/demo/sources?view=strands');
  await choose(page, 'v2.mid', harp.bytes);
  const asks = page.getByRole('dialog', { name: 'What is v2.mid?' });
  await asks.getByLabel(/^A new version of/).check();
  await asks.getByRole('button', { name: 'Take it in' }).click();
  const news = page.getByRole('region', { name: 'What is new' });
  await expect(news).toContainText('1 strand of 15 is not as before', { timeout: 60_000 });
  await expect(news.getByRole('row', { name: /Harp/ })).toContainText('20–24');
  await expect(news).toContainText('1 decision lost its note');
  await news.getByRole('button', { name: /^To the nearest note/ }).click();
  await expect(news).not.toContainText('lost its note');
  await page.keyboard.press('Control+z');
  await expect(news).toContainText('1 decision lost its note');

  // Only another strand: the harp stays as it was, and so do both decisions.
  await news.getByLabel('Show unchanged strands').check();
  await news.getByRole('row', { name: /Flute/ }).getByRole('checkbox').check();
  await news.getByRole('button', { name: 'Take only 1 strand' }).click();
  await expect(news).toContainText('Taken in part');
  await expect(news).not.toContainText('lost its note');
  await page.reload();
  await expect(page.getByRole('region', { name: 'What is new' })).toContainText('Taken in part', {
    timeout: 60_000,
  });
});

test('a packet has all that leaves the house, and says what was checked', async ({ page }) => {
  await page.goto('/job/demo/deliver');
  await page.getByText('Packet', { exact: true }).click();
  await page.getByRole('checkbox', { name: 'MIDI file, notes as played' }).uncheck();
  const waiting = page.waitForEvent('download', { timeout: 120_000 });
  await page.getByRole('button', { name: 'Make the packet' }).click();
  const download = await waiting;
  expect(download.suggestedFilename()).toBe('Lantern Ferry.zip');
  const files = unzipSync(readFileSync(await download.path()));
  const paths = Object.keys(files);
  expect(paths).toContain('Lantern Ferry/1 Score.musicxml');
  expect(paths).toContain('Lantern Ferry/1 Score.pdf');
  const inParts = paths.filter((path) => path.includes('/2 Parts/'));
  expect(inParts.filter((path) => path.endsWith('.musicxml'))).toHaveLength(15);
  expect(inParts.filter((path) => path.endsWith('.pdf'))).toHaveLength(15);
  for (const path of paths.filter((each) => each.endsWith('.pdf')))
    expect(Buffer.from(files[path]!.subarray(0, 5)).toString('latin1')).toBe('%PDF-');
  expect(paths.some((path) => path.endsWith('as played.mid'))).toBe(false);
  const manifest = JSON.parse(new TextDecoder().decode(files['Lantern Ferry/Manifest.json']));
  expect(manifest).toMatchObject({ bars: 57, open: {}, agreement: { notes: 2185, agree: 2185 } });
  // What was chosen is offered in the next job, too.
  await page.goto('/job/demo-untidy/deliver');
  await page.getByText('Packet', { exact: true }).click();
  await expect(page.getByRole('checkbox', { name: 'MIDI file, notes as played' })).not.toBeChecked();

  // Chosen parts, each as a file.
  await page.getByText('Score', { exact: true }).click();
  await page.getByRole('combobox', { name: 'Parts' }).click();
  await page.getByTitle('Harp', { exact: true }).click();
  await page.getByTitle('Voice', { exact: true }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('radio', { name: /^One file a part/ }).check();
  const parts = page.waitForEvent('download', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Download' }).click();
  const zip = unzipSync(readFileSync(await (await parts).path()));
  expect(Object.keys(zip)).toEqual(['01 Harp.musicxml', '02 Voice.musicxml']);
});

test('what goes into packets is kept under a name, and several jobs make theirs at once', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openShelf(page);
  for (const name of ['Lantern Ferry', 'Lantern Ferry, as it left the sequencer'])
    await page
      .getByRole('row')
      .filter({ has: page.getByRole('link', { name, exact: true }) })
      .getByRole('checkbox')
      .check();
  await page.getByRole('button', { name: 'Packets of 2 jobs…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Packets of 2 jobs' });
  for (const piece of ['Score as PDF', 'Each part as PDF', 'Each part as MusicXML'])
    await dialog.getByRole('checkbox', { name: piece }).uncheck();
  await dialog.getByRole('button', { name: 'Keep as a preset…' }).click();
  await page.getByLabel('Name of the preset').fill('For the studio');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  const waiting = page.waitForEvent('download', { timeout: 120_000 });
  await dialog.getByRole('button', { name: 'Make them' }).click();
  const zip = unzipSync(readFileSync(await (await waiting).path()));
  await expect(dialog).toHaveCount(0);
  const packets = Object.values(zip).map((bytes) => Object.keys(unzipSync(bytes)));
  expect(packets).toHaveLength(2);
  for (const paths of packets) {
    expect(paths.some((path) => path.endsWith('/1 Score.musicxml'))).toBe(true);
    expect(paths.some((path) => path.includes('/2 Parts/') || path.endsWith('.pdf'))).toBe(false);
  }

  // The preset is there in every job.
  await page.goto('/job/demo/deliver');
  await page.getByText('Packet', { exact: true }).click();
  const packet = page.getByRole('region', { name: 'Packet' });
  await packet.getByRole('checkbox', { name: 'Score as PDF' }).check();
  await packet.getByLabel('Preset').press('Enter');
  await page.getByTitle('For the studio').click();
  await expect(packet.getByRole('checkbox', { name: 'Score as PDF' })).not.toBeChecked();
  await page.getByRole('button', { name: 'Delete the preset For the studio' }).click();
  await expect(page.getByRole('button', { name: /^Delete the preset/ })).toHaveCount(0);
});

test('a part goes out as a PDF with its fonts in it', async ({ page }) => {
  await page.goto('/job/demo/notes');
  await engraved(page);
  await page.getByRole('button', { name: 'Show B♭ Clarinet alone' }).click();
  await page.getByText('Pages', { exact: true }).click();
  await expect(page.getByText(/^\d+ pages?$/)).toBeVisible({ timeout: 60_000 });
  const sheets = await page.getByRole('region', { name: /^Page / }).count();
  const waiting = page.waitForEvent('download', { timeout: 60_000 });
  await page.getByRole('button', { name: 'PDF', exact: true }).click();
  const download = await waiting;
  expect(download.suggestedFilename()).toBe('Lantern Ferry – B♭ Clarinet.pdf');
  const text = readFileSync(await download.path()).toString('latin1');
  expect(text).toMatch(/^%PDF-1/);
  expect(text.match(/\/Type \/Page\b/g)).toHaveLength(sheets);
  for (const font of ['Leipzig', 'Tinos-Regular', 'NotoMusic-Regular']) expect(text).toContain(font);

  // Each part in view by itself, in a zip.
  await page.getByRole('checkbox', { name: 'Flute', exact: true }).check();
  await expect(page.getByText(/^\d+ pages?$/)).toBeVisible({ timeout: 60_000 });
  const parts = page.waitForEvent('download', { timeout: 120_000 });
  await page.getByRole('button', { name: 'PDF of each part' }).click();
  const zip = unzipSync(readFileSync(await (await parts).path()));
  expect(Object.keys(zip)).toEqual(['01 Flute.pdf', '02 B♭ Clarinet.pdf']);
});
