import { readFileSync } from 'node:fs';
import type { Locator, Page } from '@playwright/test';
import { lanternFerry } from '../../src/core/demo/lantern-ferry';
import { tidyFile } from '../../src/core/demo/tidy';
import { untidyFile } from '../../src/core/demo/untidy';
import { writeMusicXml } from '../../src/core/sources/musicxml/write';
import type { SmfEvent } from '../../src/core/sources/smf/events';
import { readSmf } from '../../src/core/sources/smf/read';
import { writeSmf } from '../../src/core/sources/smf/write';
import { toStrands } from './helpers';
import { expect, test } from './visit';

/** The demo piece as a notation program would hand it over. */
const ferry = writeMusicXml(lanternFerry());
const file = (name: string, text: string) => ({
  name,
  mimeType: 'application/xml',
  buffer: Buffer.from(text),
});

/** The MusicXML that the page hands over now. */
async function downloaded(page: Page): Promise<string> {
  await page.getByRole('link', { name: /^Deliver/ }).click();
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  return readFileSync(await (await waiting).path(), 'utf8');
}

/** Opens a score in the stage of its notes, and chooses the first of them. */
async function firstNoteOf(page: Page, name: string, text: string): Promise<Locator> {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file(name, text));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Notes/ }).click();
  await page.locator('[data-engraved="true"] g.note .notehead').first().click({ timeout: 60_000 });
  return page.getByRole('complementary', { name: 'Inspector' });
}

/** Opens the demo as a score, at what stands at its bars. */
async function toBarSigns(page: Page): Promise<void> {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file('ferry.musicxml', ferry));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Time/ }).click();
  await page.getByRole('tab', { name: 'Bars' }).click();
}

test('a score is dropped, read, seen, named, and handed over both ways', async ({ page }) => {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file('ferry.musicxml', ferry));
  const facts = page.getByRole('region', { name: 'The source' });
  await expect(facts).toContainText('MusicXML score, 15 parts that sound', { timeout: 30_000 });
  await expect(page.getByRole('region', { name: 'Beside the notes' })).toContainText('Marks that sound:');
  await expect(page.getByText('Flute', { exact: true }).first()).toBeVisible();

  // Nothing is decided: the document goes out as it came.
  await page.getByRole('link', { name: /^Deliver/ }).click();
  const untouched = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  expect(readFileSync(await (await untouched).path(), 'utf8')).toBe(ferry);

  // The score stands in Notes as it was read, and its notes tell where they are played.
  await page.getByRole('link', { name: /^Notes/ }).click();
  await page.locator('[data-engraved="true"] g.note .notehead').first().click({ timeout: 60_000 });
  await expect(page.getByRole('complementary', { name: 'Inspector' })).toContainText('in Flute');
  await expect(page.getByRole('combobox', { name: /Key/ })).toBeDisabled();

  // One note is moved and handed over in its own line; undo takes it back.
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  const heading = inspector.getByRole('heading');
  const was = await heading.textContent();
  await inspector.getByRole('button', { name: 'Up an octave' }).click();
  await expect(heading).not.toHaveText(was!);
  await page.getByRole('link', { name: /^Deliver/ }).click();
  const moved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const edited = readFileSync(await (await moved).path(), 'utf8');
  const lines = ferry.split('\n');
  const others = edited.split('\n').filter((line, index) => line !== lines[index]);
  expect(others.map((line) => line.trim())).toEqual([expect.stringMatching(/^<octave>\d<\/octave>$/)]);
  await page.getByRole('button', { name: /^Undo/ }).click();

  // One part is renamed: that name is what changes.
  await page.getByRole('link', { name: /^Roster/ }).click();
  const name = page.getByRole('textbox', { name: 'Name of Flute' });
  await name.fill('Solo flute');
  await name.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Name of Solo flute' })).toBeVisible();
  await page.getByRole('link', { name: /^Deliver/ }).click();
  const renamed = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const text = readFileSync(await (await renamed).path(), 'utf8');
  const known = new Set(ferry.split('\n'));
  const changed = text.split('\n').filter((line) => !known.has(line));
  expect(changed.map((line) => line.trim())).toEqual(['<part-name>Solo flute</part-name>']);
  const names = (document: string) =>
    [...document.matchAll(/<part-name>(.*?)<\/part-name>/g)].map(([, each]) => each);
  expect(names(text).slice(1)).toEqual(names(ferry).slice(1));
  expect(text.match(/<note /g)!.length).toBe(ferry.match(/<note /g)!.length);

  // And to the sequencer.
  await page.getByText('MIDI file', { exact: true }).click();
  const played = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const smf = readSmf(new Uint8Array(readFileSync(await (await played).path())));
  const strikes = smf.tracks.flatMap(({ events }) => events.filter((event) => event.kind === 'noteOn'));
  expect(strikes.length).toBe(2185);
});

test('a note of a score gets a sign by keyboard: it is in the document, and taken off again the document is as it came', async ({
  page,
}) => {
  const inspector = await firstNoteOf(page, 'ferry.musicxml', ferry);
  await expect(inspector).toContainText('in Flute');
  await page.keyboard.press('s');
  await page.keyboard.type('tenuto');
  await page.keyboard.press('Enter');
  const off = inspector.getByRole('button', { name: 'Take off tenuto' });
  await expect(off).toBeVisible({ timeout: 30_000 });
  expect((await downloaded(page)).split('<tenuto/>')).toHaveLength(ferry.split('<tenuto/>').length + 1);
  await page.getByRole('button', { name: /^Undo/ }).click();
  expect(await downloaded(page)).toBe(ferry);
});

test('notes of a score are made shorter and taken out by keyboard: their bars are other ones, no others are', async ({
  page,
}) => {
  const inspector = await firstNoteOf(page, 'ferry.musicxml', ferry);
  await expect(inspector).toContainText('in Flute');
  // What sounds follows from the page: there is no velocity to set.
  await expect(inspector.getByRole('toolbar', { name: 'Place and length' })).toBeVisible();
  await expect(inspector.getByLabel('Velocity of the chosen notes')).toHaveCount(0);
  const held = inspector.getByText(/\d ms, \d+ ticks/);
  const was = await held.textContent();
  await page.keyboard.press('Control+Shift+ArrowLeft');
  await expect(held).not.toHaveText(was!, { timeout: 30_000 });
  await page.keyboard.press('Delete');
  await expect(inspector).toContainText('Choose a note', { timeout: 30_000 });

  const bars = (document: string) => document.split(/(?=<measure )/);
  const changed = bars(await downloaded(page)).flatMap((bar, index) =>
    bar === bars(ferry)[index] ? [] : [bar],
  );
  expect(changed).toHaveLength(1);
  expect(changed[0]).toContain('<rest');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: /^Undo/ }).click();
  expect(await downloaded(page)).toBe(ferry);
});

test('a part full of ties and scraps of rests is written again: plain on the page, the others to the character', async ({
  page,
}) => {
  const note = (step: string, duration: number, type: string, tie: string) =>
    `<note><pitch><step>${step}</step><octave>4</octave></pitch><duration>${duration}</duration><tie type="${tie}"/><voice>1</voice><type>${type}</type>${duration === 6 ? '<dot/>' : ''}<notations><tied type="${tie}"/></notations></note>`;
  const scrap = (step: string) =>
    `${note(step, 8, 'eighth', 'start')}${note(step, 6, '16th', 'stop')}<note><rest/><duration>2</duration><voice>1</voice><type>32nd</type></note>`;
  const measures = (each: (bar: number) => string) =>
    [1, 2, 3, 4]
      .map(
        (bar) =>
          `<measure number="${bar}">${bar === 1 ? '<attributes><divisions>16</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>' : ''}${each(bar)}</measure>`,
      )
      .join('');
  const part = (id: string, each: (bar: number) => string) => `<part id="${id}">${measures(each)}</part>`;
  const scraps = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Flute</part-name></score-part><score-part id="P2"><part-name>Oboe</part-name></score-part></part-list>${part('P1', () => [...'CDEF'].map(scrap).join(''))}${part('P2', () => [...'GFED'].map(scrap).join(''))}</score-partwise>`;
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file('scraps.musicxml', scraps));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Roster/ }).click();
  // The strands have boxes of the same names, until the roster is there.
  await page.getByRole('button', { name: /^Instrument of Flute/ }).waitFor();
  await page.getByRole('checkbox', { name: /Flute/ }).first().click();
  await page.getByRole('button', { name: 'Write again' }).click();
  await expect(page.getByRole('button', { name: 'As it came' })).toBeVisible();

  const text = await downloaded(page);
  const [, flute, oboe] = text.split('<part id=');
  expect(flute!.match(/<type>quarter<\/type>/g)).toHaveLength(16);
  expect(flute).not.toContain('<rest/>');
  expect(oboe).toBe(scraps.split('<part id=')[2]);
  await page.getByRole('button', { name: /^Undo/ }).click();
  expect(await downloaded(page)).toBe(scraps);
});

test('bars of a score get a rehearsal mark, a tempo, a repeat and a key by keyboard; undone, the document is as it came', async ({
  page,
}) => {
  await toBarSigns(page);
  const mark = page.getByRole('textbox', { name: /^Rehearsal mark of bar/ });
  await mark.fill('Entry of the ferry');
  await mark.press('Enter');
  const list = page.getByRole('listitem').filter({ hasText: 'Entry of the ferry' });
  await expect(list).toBeVisible();
  const words = page.getByRole('textbox', { name: /^Words of the tempo/ });
  await words.fill('Calmo');
  await words.press('Enter');
  await expect(list).toContainText('Calmo');
  await page.getByRole('checkbox', { name: 'To its end' }).press('Space');
  await expect(list).toContainText('repeat ends');
  await page.getByText('Bar 2', { exact: true }).click();
  const key = page.getByRole('combobox', { name: 'Key from bar 2 on' });
  await key.press('Enter');
  await page.getByTitle('A major', { exact: true }).last().click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Bar 2: A major' })).toBeVisible();

  const text = await downloaded(page);
  expect(text).toContain('<rehearsal>Entry of the ferry</rehearsal>');
  expect(text).toContain('<words>Calmo</words>');
  expect(text).toContain('direction="backward"');
  // The flute, and the clarinet a tone higher.
  expect(text).toMatch(/<measure number="2"[^>]*>\s*<attributes>\s*<key><fifths>3</);
  expect(text).toMatch(/<measure number="2"[^>]*>\s*<attributes>\s*<key><fifths>5</);
  for (let step = 0; step < 4; step++) await page.getByRole('button', { name: /^Undo/ }).click();
  expect(await downloaded(page)).toBe(ferry);
});

test('a score takes the dynamics of a MIDI file of the same piece; undone, it is as it came', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file('ferry.musicxml', ferry));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'played.mid', mimeType: 'audio/midi', buffer: Buffer.from(untidyFile()) });
  await page.getByRole('radio', { name: /^Another source of/ }).click();
  await page.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByRole('table', { name: 'Sources' })).toContainText('played.mid');
  await page.getByRole('link', { name: /^Notes/ }).click();
  await page.getByRole('tab', { name: /^Marks/ }).click();
  await expect(page.getByRole('status').filter({ hasText: /\d+ marks? to take over/ })).toBeVisible({
    timeout: 60_000,
  });
  await page.getByRole('button', { name: 'Write all' }).click();
  await expect(page.getByRole('status').filter({ hasText: '0 marks to take over' })).toBeVisible({
    timeout: 60_000,
  });
  const text = await downloaded(page);
  const count = (document: string) =>
    document.match(/<dynamics|<slur|<staccato|<wedge|<accent/g)?.length ?? 0;
  expect(count(text)).toBeGreaterThan(count(ferry));
  await page.getByRole('button', { name: /^Undo/ }).click();
  expect(await downloaded(page)).toBe(ferry);
});

test('a score and a performance of it are joined: its notes where they were wrong, its playing in the MIDI file', async ({
  page,
}) => {
  // As it is played: a key of the flute another one, a note of it left out, all a little late, on another clock.
  const smf = readSmf(tidyFile());
  const flute = smf.tracks.find(({ events }) =>
    events.some((event) => event.kind === 'noteOn' && event.key > 80),
  )!;
  const struck = flute.events.filter((event) => event.kind === 'noteOn').slice(0, 6);
  const [changed, gone] = [struck[2]!, struck[4]!];
  const isGone = (event: SmfEvent) =>
    'key' in event &&
    'key' in gone &&
    event.key === gone.key &&
    event.tick >= gone.tick &&
    event.tick <= gone.tick + 960;
  let taken = 0;
  const played = {
    ...smf,
    tracks: smf.tracks.map((track) => ({
      events: track.events
        .filter((event) => track !== flute || !isGone(event) || taken++ > 1)
        .map((event): SmfEvent => {
          if (event.kind === 'tempo') return { ...event, microsPerQuarter: event.microsPerQuarter + 50_000 };
          if (track === flute && 'key' in event && 'key' in changed && event.key === changed.key)
            if (event.tick >= changed.tick && event.tick <= changed.tick + 960)
              return { ...event, key: event.key - 1 };
          return event.kind === 'noteOn' ? { ...event, velocity: 33 } : event;
        }),
    })),
  };
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file('ferry.musicxml', ferry));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'played.mid', mimeType: 'audio/midi', buffer: Buffer.from(writeSmf(played)) });
  await page.getByRole('radio', { name: /^Another source of/ }).click();
  await page.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByRole('table', { name: 'Sources' })).toContainText('played.mid');
  await page.getByRole('link', { name: /^Proof/ }).click();
  await page.getByText('Compare readings').click();
  await expect(page.getByText('2 differences by bar and part')).toBeVisible({ timeout: 60_000 });
  const rows = page.getByRole('checkbox', { name: /^Choose/ });
  // The one is right in the score, the other as it is played.
  await rows.first().click();
  await page.getByRole('button', { name: 'Keep the score’s' }).click();
  await expect(page.getByText('Kept 1')).toBeVisible();
  await expect(rows).toHaveCount(1);
  await rows.first().click();
  await page.getByRole('button', { name: 'Take the other’s' }).click();
  await expect(page.getByText('1 difference by bar and part')).toBeVisible({ timeout: 60_000 });
  const text = await downloaded(page);
  const differing = text.split('</measure>').filter((bar, index) => bar !== ferry.split('</measure>')[index]);
  expect(differing).toHaveLength(1);
  await page.getByText('MIDI file', { exact: true }).click();
  await page.getByRole('combobox', { name: 'Played like' }).click();
  await page.getByTitle('played.mid').last().click();
  await expect(page.getByRole('status').filter({ hasText: /notes as in played.mid/ })).toBeVisible({
    timeout: 60_000,
  });
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const out = readSmf(new Uint8Array(readFileSync(await (await waiting).path())));
  const events = out.tracks.flatMap((track) => track.events);
  const softest = events.filter((event) => event.kind === 'noteOn' && event.velocity === 33);
  expect(softest.length).toBeGreaterThan(2_000);
  expect(events.find((event) => event.kind === 'tempo')).toMatchObject({
    microsPerQuarter: played.tracks.flatMap((track) => track.events).find((event) => event.kind === 'tempo')!
      .microsPerQuarter,
  });
});

test('a part of a score is put on another instrument, and an octave down, in its own lines', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file('ferry.musicxml', ferry));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Roster/ }).click();
  await page.getByRole('button', { name: /^Instrument of Flute/ }).click();
  await page.keyboard.type('alto flute');
  await page.keyboard.press('Enter');
  const how = page.getByRole('button', { name: /^Transposition of Flute/ });
  await expect(how).toContainText('Written F4 sounds C4');
  // What is written may be right instead of what sounds.
  await how.click();
  const sounds = page.getByRole('tooltip');
  await expect(sounds).toContainText('Which of the two is right?');
  await sounds.getByRole('button', { name: /The written notes/ }).click();
  await expect(how).toContainText('−5');
  await sounds.getByRole('combobox', { name: 'Flute sounds' }).click();
  await page.keyboard.type('down an octave');
  await page.keyboard.press('Enter');
  await expect(how).toContainText('−12');
  await page.keyboard.press('Escape');

  const text = await downloaded(page);
  const parts = (document: string) => document.split(/(?=<part id=)/);
  const [head, first, ...others] = parts(text);
  const [headBefore, before, ...othersBefore] = parts(ferry);
  expect(others).toEqual(othersBefore);
  expect(first).toContain('<transpose><diatonic>-3</diatonic><chromatic>-5</chromatic></transpose>');
  // Nothing but pitches and their signs, and the instrument's name and sound.
  const bare = (part = '') =>
    part
      .replace(/<(step|alter|octave|fifths|accidental)>[^<]*<\/\1>/g, '')
      .replace(/<transpose>.*?<\/transpose>/, '')
      .replace(/\s+/g, '');
  expect(bare(first)).toBe(bare(before));
  const listed = (document = '') => document.replace(/<(instrument-\w+|midi-program)>[^<]*</g, '<$1><');
  expect(listed(head)).toBe(listed(headBefore));

  // In concert pitch no part transposes but by octaves.
  await page.getByText('All in concert pitch').click();
  const concert = await downloaded(page);
  for (const [, chromatic] of concert.matchAll(/<chromatic>(-?\d+)/g))
    expect(Number(chromatic) % 12).toBeCloseTo(0);
});

/** A trumpet with a mute and strings, loud and soft. */
const bar = (number: number, inner: string) => `<measure number="${number}">${inner}</measure>`;
const said = (inner: string) => `<direction><direction-type>${inner}</direction-type></direction>`;
const whole = (step: string) =>
  `<note><pitch><step>${step}</step><octave>4</octave></pitch><duration>4</duration><voice>1</voice><type>whole</type></note>`;
const FIRST =
  '<attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>';
const muted = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Trumpet in C</part-name></score-part><score-part id="P2"><part-name>Violin</part-name></score-part></part-list><part id="P1">${bar(1, FIRST + said('<words>straight mute</words>') + whole('C'))}${bar(2, said('<words>open</words>') + whole('D'))}</part><part id="P2">${bar(1, FIRST + said('<dynamics><p/></dynamics>') + said('<wedge type="crescendo"/>') + whole('E'))}${bar(2, said('<wedge type="stop"/>') + said('<dynamics><f/></dynamics>') + whole('F'))}</part></score-partwise>`;

test('a score goes to a sequencer with muted brass on its own track and its dynamics as a curve', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file('muted.musicxml', muted));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Deliver/ }).click();
  await page.getByText('MIDI file', { exact: true }).click();
  const playing = page.getByRole('region', { name: 'How the score is played' });
  await expect(playing.getByRole('row', { name: /^hairpin 1 velocity/ })).toBeVisible();
  await playing.getByText('Techniques: pizz., mutes …').click();
  // Keys are not asked for any more: what is below moves up, and the page with it.
  await expect(playing.getByText('Key switches')).toBeHidden();
  await playing.getByRole('combobox', { name: 'Dynamics' }).click();
  await page.getByTitle('as velocity and a curve').click();
  await expect(playing.getByTitle('as velocity and a curve')).toBeVisible();
  await expect(playing.getByRole('row', { name: /^hairpin 1 velocity and curve/ })).toBeVisible();
  const preview = page.getByRole('region', { name: 'Preview' });
  await expect(preview).toContainText('Trumpet in C (straight mute)');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const { tracks } = readSmf(new Uint8Array(readFileSync(await (await download).path())));
  const listed = tracks.slice(1).map(({ events }) => ({
    name: events.flatMap((event) =>
      event.kind === 'trackName' ? new TextDecoder().decode(event.bytes) : [],
    )[0],
    notes: events.filter(({ kind }) => kind === 'noteOn').length,
    curve: events.flatMap((event) => (event.kind === 'control' && event.controller === 1 ? event.value : [])),
  }));
  expect(listed.map(({ name, notes }) => [name, notes])).toEqual([
    ['Trumpet in C', 1],
    ['Trumpet in C (straight mute)', 1],
    ['Violin', 1 + 1],
  ]);
  const { curve } = listed[2]!;
  expect(curve.length).toBeGreaterThan(20);
  expect(curve).toEqual([...curve].sort((a, b) => a - b));
  // One step of undo takes the curve back.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(playing.getByRole('row', { name: /^hairpin 1 velocity$/ })).toBeVisible();
});

test('the interlinear shows what is played of a score above what is written', async ({ page }) => {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file('ferry.musicxml', ferry));
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });
  await page.getByRole('link', { name: /^Time/ }).click();
  await expect(page.getByText('This source is a score')).toBeVisible();
  const flute = page.getByRole('region', { name: 'Flute' });
  await flute.locator('[data-note]').first().waitFor({ timeout: 60_000 });
  // Each bar of notes is joined to its head.
  const bars = await flute.locator('[data-note]').count();
  expect(await flute.locator('[data-note] line').count()).toBe(bars);
  await flute.locator('g.note .notehead').first().click();
  await expect(page.getByRole('tabpanel')).toContainText(/bar/i);
});

test('an untidy performance goes out as it is written, so that the next program shows the same page', async ({
  page,
}) => {
  await page.goto('/');
  await page
    .getByRole('link', { name: 'Lantern Ferry, as it left the sequencer' })
    .waitFor({ timeout: 30_000 });
  await page.goto('/job/demo-untidy/deliver');
  await page.getByText('MIDI file', { exact: true }).click({ timeout: 30_000 });
  await page.getByRole('combobox', { name: 'Note times' }).click();
  await page.getByTitle('as written, to see the same page').click();
  await expect(page.getByText('Notes stand where the staff has them and last as long')).toBeVisible();
  await expect(page.getByRole('spinbutton', { name: 'Strength, per cent' })).toHaveValue('100');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const smf = readSmf(new Uint8Array(readFileSync(await (await download).path())));
  const ticks = smf.division.kind === 'quarter' ? smf.division.ticks : 0;
  const strikes = smf.tracks.flatMap(({ events }) => events.filter((event) => event.kind === 'noteOn'));
  // Every attack stands on a 32nd or on a triplet 16th, up to the rounding of a tick.
  const isNear = (tick: number, step: number) => Math.abs(tick - Math.round(tick / step) * step) <= 1;
  const onGrid = strikes.filter(({ tick }) => isNear(tick, ticks / 8) || isNear(tick, ticks / 6));
  expect(onGrid.length / strikes.length).toBeGreaterThan(0.99);
});

test('what is no score is refused in one sentence, and damage is mended and told', async ({ page }) => {
  await page.goto('/');
  await page
    .getByTestId('file-input')
    .setInputFiles([
      file('page.xml', '<!DOCTYPE html><html><body/></html>'),
      file('broken.musicxml', ferry.slice(0, 5000)),
    ]);
  await expect(page.getByText('This is a web page, no score.')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/This is not well-formed XML: line \d+/)).toBeVisible();
  const damaged = ferry.replace('<divisions>', '<nothing>').replace('</divisions>', '</nothing>');
  await page.getByTestId('file-input').setInputFiles(file('damaged.musicxml', damaged));
  await expect(page.getByText(/nothing says how long a division is/)).toBeVisible({ timeout: 30_000 });
});

test('a new version of a score keeps what was decided of its parts, whatever their order', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file('ferry.musicxml', ferry));
  await page.waitForURL(/\/job\/.*\/sources/);
  await expect(page.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
  await toStrands(page);
  // Left out by a tick: so it stays, wherever its part stands in the next version.
  await page.getByRole('checkbox', { name: 'Marimba goes into the score' }).click();
  await expect(page.getByText('14 strands in the score')).toBeVisible();
  const score = lanternFerry();
  const turned = writeMusicXml({ ...score, parts: score.parts.toReversed(), groups: [] });
  await page.getByTestId('file-input').setInputFiles(file('ferry 2.musicxml', turned));
  const asks = page.getByRole('dialog', { name: 'What is ferry 2.musicxml?' });
  await asks.getByLabel(/^A new version of/).check();
  await asks.getByRole('button', { name: 'Take it in' }).click();
  const news = page.getByRole('region', { name: 'What is new' });
  await expect(news).toContainText('Every strand is as it was.', { timeout: 60_000 });
  await expect(page.getByRole('checkbox', { name: 'Marimba goes into the score' })).not.toBeChecked();
  await expect(news.getByRole('button', { name: 'Take only these bars' })).toBeDisabled();
});

test('bars are put in and taken out of a score, what was decided goes along, and undo leaves the very bytes', async ({
  page,
}) => {
  const inspector = await firstNoteOf(page, 'ferry.musicxml', ferry);
  await page.getByRole('tab', { name: 'Bars' }).click();
  const before = page.getByRole('combobox', { name: 'Before which bar' });
  const goTo = async (bar: string) => {
    await before.fill(bar);
    await before.press('Enter');
  };
  await goTo('before bar 3');
  await page.getByLabel('How many empty bars').fill('2');
  await page.getByRole('button', { name: 'Put in before bar 3' }).click();
  await expect(page.getByText('2 empty bars put in before bar 3').first()).toBeVisible({ timeout: 30_000 });
  const bars = (xml: string) => xml.split('</part>')[0]!.match(/<measure /g)?.length;
  const longer = await downloaded(page);
  expect(bars(longer)).toBe(bars(ferry)! + 2);
  await page.getByRole('link', { name: /^Notes/ }).click();
  await page.getByRole('tab', { name: 'Bars' }).click();
  await inspector.getByLabel('First bar').fill('3');
  await inspector.getByLabel('Last bar').fill('4');
  await inspector.getByLabel('Last bar').press('Tab');
  await page.getByRole('button', { name: 'Take out' }).click();
  await expect(page.getByText('Bars 3–4 taken out').first()).toBeVisible({ timeout: 30_000 });
  const back = await downloaded(page);
  expect(bars(back)).toBe(bars(ferry));
  await page.getByRole('button', { name: /History/ }).click();
  const steps = page.getByRole('list', { name: 'Steps' });
  await expect(steps).toContainText('2 empty bars put in before bar 3');
  await expect(steps).toContainText('Bars 3–4 taken out');
  await page.keyboard.press('Escape');
  const undo = page.getByRole('button', { name: /^Undo/ });
  await undo.click();
  await expect.poll(async () => bars(await downloaded(page)), { timeout: 30_000 }).toBe(bars(ferry)! + 2);
  await undo.click();
  await expect.poll(() => downloaded(page), { timeout: 30_000 }).toBe(ferry);
});

test('a sign in a bar that a new version has no more is told to go with it, and undo brings it back', async ({
  page,
}) => {
  await toBarSigns(page);
  await page.getByText('Bar 2', { exact: true }).click();
  const mark = page.getByRole('textbox', { name: 'Rehearsal mark of bar 2' });
  await mark.fill('Landing');
  await mark.press('Enter');
  await expect(page.getByRole('listitem').filter({ hasText: 'Landing' })).toBeVisible();
  const shorter = ferry.replaceAll(/\s*<measure number="2">.*?<\/measure>/gs, '');
  await page.getByTestId('file-input').setInputFiles(file('ferry v2.musicxml', shorter));
  await page.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByText('1 decision went with its bar')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Landing' })).toBeVisible({ timeout: 30_000 });
});

test('bars that cannot be kept are not shown as if they were', async ({ page }) => {
  await firstNoteOf(page, 'ferry.musicxml', ferry);
  await page.getByRole('tab', { name: 'Bars' }).click();
  await page.evaluate(() => {
    const { add, put } = IDBObjectStore.prototype;
    const full = (write: typeof add) =>
      function (this: IDBObjectStore, ...args: Parameters<typeof add>) {
        if (this.name === 'sources') throw new DOMException('There is no room.', 'QuotaExceededError');
        return write.apply(this, args);
      };
    Object.assign(IDBObjectStore.prototype, { add: full(add), put: full(put) });
  });
  await page.getByRole('button', { name: 'Put in at the end' }).click();
  await expect(page.getByText('The bars stay as they are')).toBeVisible({ timeout: 30_000 });
  expect(await downloaded(page)).toBe(ferry);
});
