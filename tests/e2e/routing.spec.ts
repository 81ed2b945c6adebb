import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { lanternFerry } from '../../src/core/demo/lantern-ferry';
import { writeMusicXml } from '../../src/core/sources/musicxml/write';
import type { SmfEvent, SmfTrack } from '../../src/core/sources/smf/events';
import { writeSmf } from '../../src/core/sources/smf/write';
import { choose, openShelf } from './helpers';
import { expect, test } from './visit';

const ferry = writeMusicXml(lanternFerry());

const named = (name: string): SmfEvent => ({
  kind: 'trackName',
  tick: 0,
  type: 3,
  bytes: new TextEncoder().encode(name),
});
/** @param strokes tick, length and key of each */
const track = (name: string, channel: number, strokes: readonly [number, number, number][]): SmfTrack => ({
  events: [
    named(name),
    ...strokes
      .flatMap(([tick, length, key]): SmfEvent[] => [
        { kind: 'noteOn', tick, channel, key, velocity: 80 },
        { kind: 'noteOff', tick: tick + length, channel, key, velocity: 0, asNoteOn: true },
      ])
      .sort((a, b) => a.tick - b.tick || Number(a.kind === 'noteOn') - Number(b.kind === 'noteOn')),
  ],
});
const every = (count: number, make: (at: number) => [number, number, number][]) =>
  Array.from({ length: count }, (_, at) => make(at)).flat();

/** Cellos with key switches before bars 1, 3 and 5, and a kit. */
const cue = writeSmf({
  format: 1,
  division: { kind: 'quarter', ticks: 480 },
  tracks: [
    track('Celli KS', 0, [
      ...every(48, (at) => [[240 + at * 480, 440, 48 + ((at * 5) % 12)]]),
      ...every(6, (at): [number, number, number][] => [[at * 3840 + 120, 60, at % 2 === 0 ? 12 : 13]]),
    ]),
    track(
      'Drums',
      9,
      every(48, (at) => [
        [at * 480, 100, at % 2 === 0 ? 36 : 38],
        [at * 480, 100, 42],
      ]),
    ),
  ],
});

const parts = (page: Page) => page.getByRole('list', { name: 'Parts in score order' });
const download = async (page: Page): Promise<string> => {
  await page.getByRole('link', { name: /^Deliver/ }).click();
  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  return readFileSync(await (await saving).path(), 'utf8');
};

test('parts of a score are joined, added and bracketed, and only they are written anew', async ({ page }) => {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles({
    name: 'ferry.musicxml',
    mimeType: 'application/xml',
    buffer: Buffer.from(ferry),
  });
  await page.getByRole('link', { name: /^Roster/ }).click({ timeout: 30_000 });
  await expect(page.getByRole('heading', { name: '15 parts', exact: true })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('checkbox', { name: 'Choose Horn 1' }).check();
  await page.getByRole('checkbox', { name: 'Choose Horn 2' }).check();
  await page.getByRole('button', { name: 'Join into one part' }).click();
  await expect(page.getByRole('heading', { name: '14 parts', exact: true })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Name of Horn 1+2' })).toBeVisible();

  await page.getByRole('combobox', { name: 'Add a part for' }).click();
  await page.keyboard.type('celesta');
  await page.keyboard.press('Enter');
  const celesta = parts(page).getByRole('listitem').filter({ hasText: 'Celesta' });
  await expect(celesta).toContainText('Rests throughout');

  await page.getByRole('checkbox', { name: 'Choose Marimba' }).check();
  await page.getByRole('button', { name: 'Bracket…' }).click();
  await page.getByRole('menuitem', { name: 'Square bracket' }).click();
  await expect(parts(page).locator('[data-symbol="square"]').first()).toBeVisible();

  const text = await download(page);
  const names = [...text.matchAll(/<part-name>(.*?)<\/part-name>/g)].map(([, name]) => name);
  expect(names).toHaveLength(15);
  expect(names).toEqual(expect.arrayContaining(['Horn 1+2', 'Celesta']));
  expect(text).toContain('<group-symbol>square</group-symbol>');
  const cello = /<part id="P15">[\s\S]*?<\/part>/.exec(ferry)![0];
  expect(text).toContain(cello);

  // Taken away and taken apart again it is the document that came.
  await page.getByRole('link', { name: /^Roster/ }).click();
  await celesta.getByRole('button', { name: 'Take Celesta away' }).click();
  await page.getByRole('checkbox', { name: 'Choose Horn 1' }).check();
  await page.getByRole('checkbox', { name: 'Choose Horn 2' }).check();
  await page.getByRole('button', { name: 'Part again' }).click();
  await page.getByRole('button', { name: 'Bracket…' }).click();
  await page.getByRole('menuitem', { name: 'One over each family' }).click();
  await expect(page.getByRole('heading', { name: '15 parts', exact: true })).toBeVisible();
  expect(await download(page)).toBe(ferry);
});

test('key switches are named once, a kit is shared out, and a template source is the line-up', async ({
  page,
}) => {
  await openShelf(page);
  await choose(page, 'cue.mid', cue);
  await page.getByRole('link', { name: /^Roster/ }).click({ timeout: 30_000 });
  await expect(page.getByRole('heading', { name: '2 parts', exact: true })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('checkbox', { name: 'Choose Celli KS' }).check();
  await page.getByRole('button', { name: 'Key switches…' }).click();
  const switches = page.getByRole('dialog', { name: /^Key switches of/ });
  await expect(switches.getByRole('row', { name: /^C♯?0/ }).first()).toContainText('24 notes');
  await switches.getByRole('combobox', { name: 'What C♯0 asks for' }).click();
  await page.keyboard.type('pizz');
  await page.keyboard.press('Enter');
  await switches.getByRole('button', { name: 'Make texts of them' }).click();
  // Still one part, of two strands now.
  await expect(parts(page).getByRole('listitem').filter({ hasText: 'from 2 strands' })).toBeVisible();
  await expect(page.getByRole('heading', { name: '2 parts', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'None', exact: true }).click();

  await page.getByRole('checkbox', { name: 'Choose Drums' }).check();
  await page.getByRole('button', { name: 'Divide…' }).click();
  const players = page.getByRole('dialog', { name: 'Divide Drums over percussionists' });
  await expect(players.getByRole('row', { name: /^Closed Hi-Hat/ })).toContainText('48 strokes');
  await players.getByRole('button', { name: 'Divide' }).click();
  await expect(page.getByRole('heading', { name: '3 parts', exact: true })).toBeVisible();
  await expect(
    parts(page).getByRole('listitem').filter({ hasText: 'Acoustic Snare, Bass Drum 1' }),
  ).toBeVisible();

  // The demo score as a template: its parts in their order, those that nobody plays at rest.
  await page.getByTestId('file-input').setInputFiles({
    name: 'template.musicxml',
    mimeType: 'application/xml',
    buffer: Buffer.from(ferry),
  });
  const dialog = page.getByRole('dialog', { name: 'What is template.musicxml?' });
  await dialog.getByLabel(/^Another source of/).check();
  await dialog.getByRole('button', { name: 'Take it in' }).click();
  await page.getByRole('button', { name: 'Line-ups…' }).click();
  const drawer = page.getByRole('dialog', { name: 'Line-ups' });
  const others = drawer.getByRole('list', { name: 'Line-ups of other sources' });
  await expect(others).toContainText('template');
  await others.getByRole('button', { name: 'Lay template over the parts' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('textbox', { name: 'Name of Viola' })).toBeVisible();
  const text = await download(page);
  const names = [...text.matchAll(/<part-name>(.*?)<\/part-name>/g)].map(([, name]) => name);
  const wanted = lanternFerry().parts.map(({ name }) => name);
  expect(names.slice(0, wanted.length)).toEqual(wanted);
  expect(text).toContain('pizz.');
  expect(text).toContain('arco');
});
