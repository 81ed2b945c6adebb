import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { lanternFerry } from '../../src/core/demo/lantern-ferry';
import { plantedFlaws, untidyFile } from '../../src/core/demo/untidy';
import { soundedNotes } from '../../src/core/perform/play';
import { readPerformance } from '../../src/core/sources/smf/performance';
import { readSmf } from '../../src/core/sources/smf/read';
import { choose, frames, manyStrands, openShelf } from './helpers';
import { expect, test } from './visit';

const open = async (page: Page, path: string) => {
  await page.goto(`/job/${path}`);
};
const pick = (page: Page, name: string) => page.getByText(name, { exact: true }).click();

async function downloaded(page: Page, button: string): Promise<{ name: string; bytes: Buffer }> {
  const waiting = page.waitForEvent('download', { timeout: 120_000 });
  await page.getByRole('button', { name: button }).click();
  const download = await waiting;
  return { name: download.suggestedFilename(), bytes: readFileSync(await download.path()) };
}

test('clean the untidy demo and hand over a plain file that holds exactly what it should', async ({
  page,
}) => {
  await open(page, 'demo-untidy/sources?view=oddities');
  const flaws = plantedFlaws().length;
  await expect(page.getByRole('button', { name: /^Mend the \d+ that are safe$/ })).toBeVisible({
    timeout: 30_000,
  });

  // One by one: the kit, then the mixers of all, then all the rest.
  await pick(page, 'Kits');
  await page.getByRole('button', { name: 'Shift by -12, as the pattern asks' }).click();
  await expect(page.getByLabel('Key 48 becomes')).toBeVisible();
  await expect(page.getByText('36 Bass Drum 1')).toBeVisible();
  await pick(page, 'Cleaning');
  await page.getByRole('button', { name: 'Remove all mixer controllers' }).click();
  await expect(page.getByText('0 mixer events would move the faders')).toBeVisible();
  await page.getByText(/^Before and after/).click();
  await expect(page.getByText('Volume (7)').first()).toBeVisible();
  await page.getByText(/^Oddities/).click();
  // What is safe goes at once; what could harm music says so and wants to be chosen.
  await page.getByRole('button', { name: /^Mend the \d+ that are safe$/ }).click();
  await expect(page.getByText(/^Mended: .*hanging notes ×1/)).toBeVisible();
  await expect(page.getByText(/Mending takes out \d+ notes?\./).first()).toBeVisible();
  await page.getByRole('checkbox', { name: 'Select all' }).check();
  const rest = page.getByRole('button', { name: /^Mend the \d+ chosen$/ });
  await expect.poll(async () => Number(/\d+/.exec((await rest.textContent())!)![0])).toBeLessThan(flaws - 17);
  await rest.click();
  await expect(page.getByText('Nothing is odd in this source.')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('Nothing is odd in this source.')).toHaveCount(0);
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByText('Nothing is odd in this source.')).toBeVisible();
  await page.getByRole('button', { name: 'Before and after' }).click();
  await expect(page.getByText(/^Before and after/)).toBeVisible();

  await page.getByRole('link', { name: 'Deliver' }).click();
  await pick(page, 'MIDI file');
  await expect(page.getByText('What it leaves out')).toBeVisible();
  const { name, bytes } = await downloaded(page, 'Download');
  expect(name).toBe('lantern-ferry-untidy.mid');

  // Read back by a second reader: the truth's notes, part by part, and nothing beside.
  const truth = lanternFerry();
  const { tracks } = parseMidi(bytes);
  expect(tracks).toHaveLength(1 + truth.parts.length);
  tracks.slice(1).forEach((track) => {
    expect(track.every((event) => event.type !== 'controller')).toBe(true);
  });
  const keysOf = (keys: number[]) => keys.sort((a, b) => a - b).join();
  const delivered = tracks
    .slice(1)
    .map((track) =>
      keysOf(
        track.flatMap((event) => (event.type === 'noteOn' && event.velocity > 0 ? [event.noteNumber] : [])),
      ),
    );
  const wanted = truth.parts.map((part) => keysOf(soundedNotes(truth, part).map((note) => note.key)));
  expect(delivered.sort()).toEqual(wanted.sort());
  const clock = readPerformance(readSmf(new Uint8Array(bytes)));
  expect(clock.tempos.map((tempo) => Math.round(6e7 / tempo.microsPerQuarter))).toEqual(
    truth.tempos.map((tempo) => tempo.quartersPerMinute),
  );
});

test('the source is heard: live, looped, and rendered as audio', async ({ page }) => {
  await open(page, 'demo-untidy/sources?view=bars');
  await expect(page.getByTestId('note-bars')).toBeVisible({ timeout: 30_000 });
  const place = page.getByRole('timer');
  await expect(place).toHaveText('0:00.0');
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible({ timeout: 30_000 });
  await expect(place).not.toHaveText('0:00.0');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  const stopped = await place.textContent();
  await frames(page, 30);
  await expect(place).toHaveText(stopped!);
  await page.getByRole('button', { name: 'Mute Flute 1' }).click();
  await expect(page.getByRole('button', { name: 'Mute Flute 1' })).toHaveAttribute('aria-pressed', 'true');
  await page.reload();
  await expect(page.getByRole('button', { name: 'Mute Flute 1' })).toHaveAttribute('aria-pressed', 'true', {
    timeout: 30_000,
  });

  await page.getByRole('link', { name: 'Deliver' }).click();
  await pick(page, 'Audio');
  await page.getByLabel('The source as it came').check();
  const { name, bytes } = await downloaded(page, 'Render');
  expect(name).toBe('lantern-ferry-untidy source.wav');
  const samples = new Int16Array(bytes.buffer, bytes.byteOffset + 44, 48_000 * 2 * 10);
  const loudest = samples.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  expect(loudest).toBeGreaterThan(2000);
  expect(loudest).toBeLessThan(32_767);
});

test('the page is heard as players would play it, and what is played out of it is chosen', async ({
  page,
}) => {
  await open(page, 'demo/notes');
  const hear = async () => {
    await page.getByRole('combobox', { name: 'What is heard' }).first().click();
    await page.getByTitle(/^The score as players would play it/).click();
    await page.getByRole('button', { name: 'How it is heard' }).click();
  };
  await hear();
  const swing = page.getByRole('checkbox', { name: 'Swing' });
  await expect(swing).toBeChecked();
  await swing.click();
  await expect(swing).not.toBeChecked();
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('aria-disabled', 'false');
  await page.reload();
  await hear();
  await expect(swing).not.toBeChecked();
  await expect(page.getByRole('checkbox', { name: 'Ornaments and tremolo' })).toBeChecked();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('timer')).not.toHaveText('0:00.0');
});

test('a bad sound bank is refused by name, and the shipped one plays on', async ({ page }) => {
  await open(page, 'demo/sources?view=strands');
  await page.getByRole('button', { name: 'How it is heard' }).click({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Strands and sounds…' }).click();
  await page.getByTestId('bank-input').setInputFiles({
    name: 'piano.sf2',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from('RIFF but nothing like a bank'),
  });
  await expect(page.getByText('piano.sf2 was not taken in')).toBeVisible();
  await expect(page.getByText('The bank before it plays on.')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible({ timeout: 30_000 });
});

test('note bars tell exact figures, by mouse and by keyboard', async ({ page }) => {
  await openShelf(page);
  await choose(page, 'two.mid', manyStrands(2, 32));
  await page.getByText('Note bars').click({ timeout: 30_000 });
  const drawing = page.getByRole('group', { name: /^Notes over time/ });
  await drawing.focus();
  const inspector = page.getByLabel('Inspector');
  await page.keyboard.press('.');
  await page.keyboard.press('.');
  await expect(inspector).toContainText('Tick240');
  await expect(inspector).toContainText('Place1:1 + 240 ticks');
  await expect(inspector).toContainText('Time0.250 s');
  await expect(inspector).toContainText('on a 16th');
  await page.keyboard.press('+');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Home');
  await page.keyboard.press('Escape');
  await expect(inspector).not.toContainText('Tick');

  // Choose bars on the ruler and split them off.
  const ruler = page.getByRole('slider', { name: /^Bars/ });
  const box = (await ruler.boundingBox())!;
  await page.mouse.move(box.x + 30, box.y + 30);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.45, box.y + 30, { steps: 4 });
  await page.mouse.up();
  await expect(ruler).toHaveAttribute('aria-valuetext', /^bars 1 to \d+$/);
  await page.getByRole('button', { name: 'Onto a strand of their own' }).click();
  await expect(page.getByText('64 notes in 3 strands')).toBeVisible();

  // A drag over notes selects them.
  const field = (await drawing.boundingBox())!;
  await page.mouse.move(field.x + 2, field.y + 2);
  await page.mouse.down();
  await page.mouse.move(field.x + field.width - 4, field.y + 60, { steps: 5 });
  await page.mouse.up();
  await expect(inspector).toContainText(/\d+ notes/);
});

test('clock only, loops and the bar table', async ({ page }) => {
  await open(page, 'demo/deliver');
  await page.getByText('MIDI file', { exact: true }).click({ timeout: 30_000 });
  await pick(page, 'Clock only');
  await page.getByLabel('Bars of lead-in').fill('2');
  await page.getByLabel('Bars of lead-in').press('Enter');
  await page.getByLabel('Click track').click();
  await expect(page.getByLabel('Preview')).toContainText('Click');
  const clock = await downloaded(page, 'Download');
  expect(clock.name).toBe('lantern-ferry clock.mid');
  const heard = readPerformance(readSmf(new Uint8Array(clock.bytes)));
  expect(heard.strands.map((strand) => strand.name)).toEqual(['Click']);
  expect(heard.tempos).toHaveLength(13);

  await pick(page, 'Loops');
  await expect(page.getByLabel('Preview')).toContainText('parts that rest in a section have none');
  const loops = await downloaded(page, 'Download');
  expect(Object.keys(unzipSync(new Uint8Array(loops.bytes)))).toContain('01 Flute/03 B (bars 17–36).mid');

  await pick(page, 'Bar table');
  await pick(page, '29.97 drop');
  await page.getByLabel('Time code at the start').fill('tomorrow');
  await expect(page.getByText('tomorrow is no time code at 29.97 drop frames.')).toBeVisible();
  await page.getByLabel('Time code at the start').fill('10:00:00;00');
  await expect(page.getByText('10:00:00;00', { exact: true })).toBeVisible();
  const table = await downloaded(page, 'Download as CSV');
  expect(table.bytes.toString().split('\r\n')[2]).toMatch(
    /^1,6\/8,90,♩\. = 60,,0:00\.333,10:00:00;09,240,A,"Flute, .*Violoncello"$/,
  );
});

test('a controller goes from all strands by one press, and one strand keeps it', async ({ page }) => {
  await open(page, 'demo-untidy/sources?view=cleaning');
  const stay = page.getByText(/events stay, [\d,]+ go/);
  await expect(stay).toContainText(', 0 go', { timeout: 30_000 });
  await page.getByRole('button', { name: /^Pan \(10\) of all strands/ }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await expect(stay).not.toContainText(', 0 go');
  await page.getByRole('button', { name: /^Pan \(10\) of Harfe: .*Remove$/ }).click();
  await page.getByRole('menuitem', { name: 'Keep' }).last().click();
  await expect(page.getByRole('button', { name: /^Pan \(10\) of Harfe: .*Keep$/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Pan \(10\) of all strands: .*mixed$/ })).toBeVisible();
});

test('strands are treated together: velocities, variation, a split by pitch', async ({ page }) => {
  await open(page, 'demo/sources?view=cleaning');
  await page
    .getByRole('radiogroup', { name: 'What is cleaned' })
    .getByText('Strands')
    .click({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Velocities…' }).click({ timeout: 30_000 });
  await page.getByLabel('Scale, per cent').fill('50');
  await page.getByRole('button', { name: 'Shape' }).click();
  await expect(page.getByText('all 40').first()).toBeVisible();
  await page.getByRole('button', { name: 'Variation…' }).click();
  await page.getByRole('button', { name: 'Vary' }).click();
  await expect(page.getByText('±10 ms, ±8').first()).toBeVisible();
  await page.getByText('Note bars').click();
  await expect(page.getByText('with variation')).toBeVisible();
  await page.getByText(/^Cleaning/).click();
  await page.getByRole('radiogroup', { name: 'What is cleaned' }).getByText('Strands').click();
  await page.locator('.ant-table-row', { hasText: 'Harp' }).locator('input[type=checkbox]').check();
  await page.getByRole('button', { name: 'Split…' }).click();
  await page.getByRole('button', { name: 'By pitch' }).click();
  await expect(page.getByText('Harp, below C4')).toBeVisible();
});

test('a kit map is imported, translates by name, and is kept', async ({ page }) => {
  await openShelf(page);
  await choose(page, 'untidy.mid', untidyFile());
  await page.getByText('Kits', { exact: true }).click({ timeout: 30_000 });
  await page.getByTestId('kit-input').setInputFiles({
    name: 'room.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('key,name\n48,Kick\n50,Snare\n54,Closed Hat\n99,Thunder sheet'),
  });
  await expect(page.getByText('room: 4 sounds.')).toBeVisible();
  await page.getByLabel('Translate by name from a map').click();
  await page.getByTitle('room').click();
  await expect(page.getByText('1 sound of room have no counterpart: Thunder sheet.')).toBeVisible();
  await expect(page.getByText('36 Bass Drum 1')).toBeVisible();
  const { name, bytes } = await downloaded(page, 'JSON');
  expect(name).toBe('drumkit close.json');
  expect(JSON.parse(bytes.toString()).sounds).toContainEqual({ key: 48, name: 'Bass Drum 1' });
  await page.getByTestId('kit-input').setInputFiles({
    name: 'bad.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('hello'),
  });
  await expect(page.getByText('bad.csv was not taken in')).toBeVisible();
});

test('a drum sound is put on another line, kept for jobs to come, and taken up there', async ({ page }) => {
  await openShelf(page);
  await choose(page, 'untidy.mid', untidyFile());
  await page.getByText('Kits', { exact: true }).click({ timeout: 30_000 });
  const place = page.getByRole('combobox', { name: 'Place of Hi-Mid Tom' });
  await place.click();
  await page.getByTitle('ledger line 1 above', { exact: true }).last().click();
  const row = page.getByRole('row').filter({ has: place });
  await expect(row).toContainText('ledger line 1 above');
  await page.getByRole('button', { name: 'Keep the places' }).click();
  await expect(page.getByText('The places are kept.')).toBeVisible();
  await openShelf(page);
  await choose(page, 'untidy.mid', untidyFile());
  await page.getByText('Kits', { exact: true }).click({ timeout: 30_000 });
  await expect(row).toContainText('space 4');
  await page.getByRole('button', { name: 'Places as kept' }).click();
  await expect(row).toContainText('ledger line 1 above');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(row).toContainText('space 4');
});

test('stems go out as files of one length, with the lead-in of the MIDI file', async ({ page }) => {
  await open(page, 'demo/deliver');
  await pick(page, 'MIDI file');
  await page.getByRole('spinbutton', { name: 'Bars of lead-in' }).fill('1');
  await page.getByRole('spinbutton', { name: 'Bars of lead-in' }).press('Enter');
  await pick(page, 'Audio');
  await page.getByLabel('A file for each family').check();
  await page.getByRole('combobox', { name: 'Sample rate' }).click();
  await page.getByTitle('44.1 kHz').click();
  await expect(page.getByLabel('With 1 bar of lead-in, as in the MIDI file')).toBeChecked();
  const { name, bytes } = await downloaded(page, 'Render');
  expect(name).toBe('lantern-ferry stems cleaned.zip');
  const files = Object.entries(unzipSync(new Uint8Array(bytes)));
  expect(files.map(([path]) => path)).toEqual([
    '01 Woodwind.wav',
    '02 Brass.wav',
    '03 Percussion.wav',
    '04 Plucked.wav',
    '05 Voice.wav',
    '06 Strings.wav',
  ]);
  expect(new Set(files.map(([, content]) => content.length)).size).toBe(1);
  // Nothing sounds in the bar before the piece; then something does.
  const ears = files.map(([, content]) => new Int16Array(content.slice(44).buffer));
  const begins = ears.map((samples) => samples.findIndex((value) => Math.abs(value) > 20) / 2 / 44_100);
  expect(Math.min(...begins)).toBeGreaterThan(1);
  await expect(page.getByText(/^6 files from one start, /)).toBeVisible();
});
