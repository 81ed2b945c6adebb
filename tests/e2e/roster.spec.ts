import { readFileSync } from 'node:fs';
import type { SmfEvent, SmfTrack } from '../../src/core/sources/smf/events';
import { writeSmf } from '../../src/core/sources/smf/write';
import { choose, manyStrands, openShelf } from './helpers';
import { expect, test } from './visit';

test('what was decided for a name is offered in the next job, taken, saved, forgotten and loaded', async ({
  page,
}) => {
  await openShelf(page);
  await choose(page, 'cue-1.mid', manyStrands(3, 16));
  await page.getByRole('link', { name: /^Roster/ }).click({ timeout: 30_000 });
  const name = page.getByRole('textbox', { name: 'Name of Flute 3' });
  await name.fill('Piccolo solo');
  await name.press('Enter');
  await page.getByRole('button', { name: /^Instrument of Piccolo solo/ }).click();
  await page.keyboard.type('piccolo');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Instrument of Piccolo solo: Piccolo/ })).toBeVisible();

  // The next job has the same names, on other tracks.
  await page.goto('/');
  await choose(page, 'cue-2.mid', manyStrands(5, 16));
  await page.getByRole('link', { name: /^Roster/ }).click({ timeout: 30_000 });
  const offers = page.getByRole('region', { name: 'Offered from earlier jobs' });
  await expect(offers).toContainText('1 strand decided in earlier jobs');
  await expect(offers).toContainText('called Piccolo solo, Piccolo');
  await expect(page.getByRole('textbox', { name: 'Name of Piccolo solo' })).toHaveCount(0);
  await offers.getByRole('button', { name: 'Take all' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of Piccolo solo' })).toBeVisible();
  await expect(offers).toHaveCount(0);
  // It is a decision like any other.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(offers).toBeVisible();

  await page.getByRole('button', { name: 'Precedents…' }).click();
  const drawer = page.getByRole('dialog', { name: 'Precedents' });
  const row = drawer.getByRole('row', { name: /Piccolo solo/ });
  await expect(row).toBeVisible();
  const download = page.waitForEvent('download');
  await drawer.getByRole('button', { name: 'Save as a file' }).click();
  const saved = readFileSync(await (await download).path());
  await row.getByRole('checkbox').check();
  await drawer.getByRole('button', { name: 'Forget' }).click();
  await expect(row).toHaveCount(0);
  const put = (file: string, text: string | Buffer) =>
    page
      .getByTestId('precedents-input')
      .setInputFiles({ name: file, mimeType: 'application/json', buffer: Buffer.from(text) });
  await put('broken.json', '{"format":');
  await expect(page.getByText('This is no file of precedents: it is not JSON.')).toBeVisible();
  await put('precedents.json', saved);
  await expect(row).toBeVisible();
});

const eighths = (count: number, keys: (at: number) => number[], channel: number, name: string): SmfTrack => ({
  events: [
    { kind: 'trackName', tick: 0, type: 3, bytes: new TextEncoder().encode(name) },
    ...Array.from({ length: count }, (_, at) => [
      ...keys(at).map((key): SmfEvent => ({ kind: 'noteOn', tick: at * 240, channel, key, velocity: 80 })),
      ...keys(at).map(
        (key): SmfEvent => ({
          kind: 'noteOff',
          tick: at * 240 + 230,
          channel,
          key,
          velocity: 0,
          asNoteOn: true,
        }),
      ),
    ]).flat(),
  ],
});

/** Horns in three parts as one strand, a bowed and a plucked strand of cellos, and a pad that nobody names. */
const cue = (): Uint8Array =>
  writeSmf({
    format: 1,
    division: { kind: 'quarter', ticks: 480 },
    tracks: [
      eighths(32, (at) => [57 + (at % 3), 60 + (at % 2), 64 + (at % 4)], 0, 'Hns'),
      eighths(16, (at) => [40 + (at % 5)], 1, 'VC lgto'),
      {
        events: eighths(32, (at) => (at < 16 ? [] : [38 + (at % 5)]), 2, 'VC pizz').events,
      },
      eighths(16, (at) => [50 + at, 57 + at], 3, 'Warm thing'),
    ],
  });

test('strands are routed by keyboard and pointer, divided, laid into a line-up, and the next job needs nothing', async ({
  page,
}) => {
  await openShelf(page);
  await choose(page, 'reel.mid', cue());
  await page.getByRole('link', { name: /^Roster/ }).click({ timeout: 30_000 });
  const strands = page.getByRole('list', { name: 'Strands of the source' });
  const parts = page.getByRole('list', { name: 'Parts in score order' });
  const names = () =>
    parts.getByRole('textbox').evaluateAll((boxes) => boxes.map((box) => (box as HTMLInputElement).value));
  await expect(page.getByRole('heading', { name: '4 parts' })).toBeVisible({ timeout: 30_000 });
  // What is only guessed stands first.
  await expect(strands.getByRole('listitem').first()).toContainText('Warm thing');
  await expect(strands.getByRole('listitem').first()).toContainText('a guess');

  // By keyboard: search, tick both cellos, join them.
  await page.keyboard.press('/');
  await page.keyboard.type('vc');
  await expect(strands.getByRole('listitem')).toHaveCount(2);
  await strands.getByRole('checkbox').first().focus();
  await page.keyboard.press('Shift+ArrowDown');
  await page.getByRole('button', { name: 'Join into one part' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: '3 parts' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Search the strands' }).fill('');
  await page.getByRole('button', { name: 'None', exact: true }).click();
  // The tools of what was chosen stand above the list until then.
  await expect(page.getByRole('button', { name: 'Join into one part' })).toHaveCount(0);
  await expect(strands.getByRole('listitem')).toHaveCount(4);

  // By pointer: the pad is left out, and comes back by undo.
  const from = (await strands.getByText('Warm thing').boundingBox())!;
  const to = (await page.getByText('Drop here what is left out').boundingBox())!;
  await page.mouse.move(from.x + 20, from.y + 8);
  await page.mouse.down();
  await page.mouse.move(to.x + 40, to.y + 10, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByRole('heading', { name: '2 parts' })).toBeVisible();
  await expect(page.getByRole('button', { name: '1 strand left out, 32 notes' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('heading', { name: '3 parts' })).toBeVisible();

  // The horns are divided over as many as sound at once.
  await page.getByRole('checkbox', { name: 'Choose Hns' }).check();
  await page.getByRole('button', { name: 'Divide…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Divide a strand over players' });
  await expect(dialog.getByRole('spinbutton', { name: 'Players' })).toHaveValue('3');
  await dialog.getByRole('button', { name: 'Divide' }).click();
  await expect(page.getByRole('heading', { name: '5 parts' })).toBeVisible();
  await expect.poll(names).toEqual(expect.arrayContaining(['Horn 1', 'Horn 2', 'Horn 3']));

  // The whole is confirmed by one key, kept as a line-up, and loaded from its file too.
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('button', { name: 'Confirm the line-up' })).toBeDisabled();
  await page.getByRole('button', { name: 'Line-ups…' }).click();
  const drawer = page.getByRole('dialog', { name: 'Line-ups' });
  await drawer.getByRole('textbox', { name: 'Name of a new line-up' }).fill('Reel band');
  await drawer.getByRole('button', { name: 'Keep these 5 parts' }).click();
  const own = drawer.getByRole('list', { name: 'Your own line-ups' });
  await expect(own).toContainText('all 5 places filled');
  const saving = page.waitForEvent('download');
  await own.getByRole('button', { name: 'Save Reel band as a file' }).click();
  const saved = readFileSync(await (await saving).path());
  await own.getByRole('button', { name: 'Forget Reel band' }).click();
  await expect(own).toHaveCount(0);
  const put = (name: string, text: string | Buffer) =>
    page
      .getByTestId('line-up-input')
      .setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) });
  await put('broken.json', '{');
  await expect(page.getByText('This is no line-up: it is not JSON.')).toBeVisible();
  await put('band.json', saved);
  await expect(own).toContainText('all 5 places filled');

  // The next job has the same names: what was decided is offered, and nothing is left to do.
  await page.goto('/');
  await choose(page, 'reel-2.mid', cue());
  await page.getByRole('link', { name: /^Roster/ }).click({ timeout: 30_000 });
  const offers = page.getByRole('region', { name: 'Offered from earlier jobs' });
  await offers.getByRole('button', { name: 'Take all' }).click({ timeout: 30_000 });
  await expect(page.getByRole('heading', { name: '5 parts' })).toBeVisible();
  await expect.poll(names).toEqual(expect.arrayContaining(['Horn 1', 'Horn 2', 'Horn 3', 'Violoncello']));
  await expect(strands).not.toContainText('a guess');
});

test('a guitar is read from tablature, a note takes another string, and the download has it after a reload', async ({
  page,
}) => {
  await page.goto('/job/demo-untidy/roster');
  await page.getByRole('button', { name: 'Staves of Electric Guitar: 1 staff' }).click({ timeout: 30_000 });
  await page.getByRole('radio', { name: 'A staff and tablature' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Staves of Electric Guitar: Staff and tab' })).toBeVisible();
  await page.getByRole('link', { name: /^Notes/ }).click();
  await page.getByRole('button', { name: 'Show Electric Guitar alone' }).click();
  const fret = page.locator('[data-engraved="true"] g.note[id$=".tab"]').first();
  await expect(fret).toBeVisible({ timeout: 30_000 });
  await fret.click();
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  const stop = inspector.getByText(/^string \d, fret \d+/);
  const before = (await stop.textContent()) ?? '';
  await inspector.getByRole('combobox', { name: 'String of the note' }).click();
  const other = before.startsWith('string 3') ? 'String 4, D3' : 'String 3, G3';
  await page.getByTitle(other).click();
  await expect(stop).not.toHaveText(before);
  await page.reload();
  await page.getByRole('link', { name: /^Deliver/ }).click();
  const waiting = page.waitForEvent('download', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Download' }).click();
  const xml = readFileSync(await (await waiting).path(), 'utf8');
  expect(xml).toContain('<sign>TAB</sign>');
  expect(xml.match(/<fret>/g)!.length).toBeGreaterThan(300);
});
