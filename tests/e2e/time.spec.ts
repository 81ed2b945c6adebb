import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import type { SmfEvent } from '../../src/core/sources/smf/events';
import { writeSmf } from '../../src/core/sources/smf/write';
import { choose, openShelf } from './helpers';
import { expect, test } from './visit';

/** The Time stage of the untidy demo with the viola alone. */
async function openViola(page: Page): Promise<void> {
  await page.goto('/job/demo-untidy/time');
  await expect(page.locator('[data-note]').first()).toBeVisible({ timeout: 30_000 });
  for (const name of ['Viola', 'Flute 1', 'B♭ Clarinet', 'Alto Saxophone 2'])
    await page.getByRole('checkbox', { name, exact: true }).click();
  await expect(page.getByRole('region', { name: 'Viola' })).toBeVisible();
}

const viola = (page: Page) => page.getByRole('application', { name: /^Viola/ });
const inspector = (page: Page) => page.getByLabel('Inspector');

/** Chooses the third note of the viola, by keyboard. */
async function chooseThird(page: Page): Promise<void> {
  await expect(viola(page)).toBeVisible({ timeout: 30_000 });
  await viola(page).focus();
  for (let press = 0; press < 3; press++) await page.keyboard.press('ArrowRight');
  await expect(inspector(page)).toContainText('Written');
}

async function musicXml(page: Page): Promise<string> {
  await page.getByRole('link', { name: 'Deliver' }).click();
  const waiting = page.waitForEvent('download', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Download' }).click();
  return readFileSync(await (await waiting).path(), 'utf8');
}

/** Shows the tools of rhythm that are folded away. */
const unfold = (page: Page) => page.getByRole('button', { name: /^More: gaps/ }).click();

test('the early strings are found, taken back and told', async ({ page }) => {
  await openViola(page);
  await expect(page.getByRole('region', { name: 'Viola' })).toContainText(/(79|80|81) ms ahead of the beat/);
  await chooseThird(page);
  await expect(inspector(page)).toContainText(/(79|80|81) ms of lead were taken back first/);
  await expect(inspector(page)).toContainText('bar 2, beat 1');
  await page.getByRole('tab', { name: 'Evidence' }).click();
  await expect(page.getByLabel('Lead of each strand in milliseconds')).toBeVisible();
  await expect(page.locator('.recharts-bar-rectangle').first()).toBeVisible();

  // The lead gives way to a decision, and comes back.
  await unfold(page);
  const lead = page.getByLabel('Lead, ms');
  await lead.fill('0');
  await lead.press('Tab');
  await expect(page.getByRole('region', { name: 'Viola' })).not.toContainText('ahead of the beat');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('region', { name: 'Viola' })).toContainText('ahead of the beat');
});

test('a reading is changed by keyboard, survives a reload, and the download has it', async ({ page }) => {
  await openViola(page);
  await chooseThird(page);
  await expect(inspector(page)).toContainText('bar 2, beat 1');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(inspector(page)).toContainText('bar 2, beat 1, second 16th');
  await expect(inspector(page)).toContainText('You decided where it stands.');
  await page.reload();
  await expect(page.locator('[data-note]').first()).toBeVisible({ timeout: 30_000 });
  await page.getByRole('checkbox', { name: 'Viola', exact: true }).click();
  await chooseThird(page);
  await expect(inspector(page)).toContainText('bar 2, beat 1, second 16th');
  const moved = await musicXml(page);
  await page.getByRole('link', { name: /^Time/ }).click();
  await expect(page.locator('[data-note]').first()).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('Control+z');
  await page.getByRole('checkbox', { name: 'Viola', exact: true }).click();
  await chooseThird(page);
  await expect(inspector(page)).not.toContainText('You decided');
  expect(await musicXml(page)).not.toBe(moved);
});

test('another reading is chosen from its notation', async ({ page }) => {
  await openViola(page);
  await chooseThird(page);
  const other = inspector(page)
    .getByRole('button', { name: /less likely|as likely/ })
    .first();
  await expect(other).toBeVisible({ timeout: 60_000 });
  await other.focus();
  await page.keyboard.press('Enter');
  await expect(inspector(page)).toContainText('You decided where it stands.');
  await inspector(page).getByRole('button', { name: 'As found' }).click();
  await expect(inspector(page)).not.toContainText('You decided');
});

test('choices hold for all, for a part, or for its visible bars', async ({ page }) => {
  await openViola(page);
  await chooseThird(page);
  await page.getByText('Visible bars').click();
  await page.getByRole('switch', { name: 'Tuplets' }).click();
  await expect(page.getByRole('switch', { name: 'Tuplets' })).not.toBeChecked();
  await page.getByRole('button', { name: 'Bars after' }).click();
  await expect(page.getByRole('switch', { name: 'Tuplets' })).toBeChecked();
  await page.keyboard.press('PageUp');
  await expect(page.getByRole('switch', { name: 'Tuplets' })).not.toBeChecked();
  // The drawing of the notes stands still under the staff of the same bars.
  await expect(page.locator('[data-note]').first()).toBeVisible();
});

test('short notes and dots are written by choice, which a reload keeps and undo takes back', async ({
  page,
}) => {
  await openViola(page);
  await unfold(page);
  const choice = (name: string) => page.getByRole('combobox', { name: new RegExp(`^${name}`) });
  const shown = (name: string) => page.locator('label', { hasText: name }).locator('.ant-select');
  for (const [name, value] of [
    ['Short notes', 'With rests'],
    ['Dots', 'Ties only'],
  ] as const) {
    await choice(name).click();
    await page.getByTitle(value, { exact: true }).click();
    await expect(shown(name)).toContainText(value);
  }
  await page.reload();
  // The tools are as open as they were left.
  await expect(shown('Dots')).toContainText('Ties only');
  await expect(shown('Short notes')).toContainText('With rests');
  await page.keyboard.press('Control+z');
  await expect(shown('Dots')).toContainText('One');
  await expect(shown('Short notes')).toContainText('With rests');
  // What was decided is told where it is folded away, and taken back there.
  await page.getByRole('button', { name: 'Less', exact: true }).click();
  const told = page.locator('.ant-tag', { hasText: /^Short notes with rests/ });
  await expect(told).toBeVisible();
  await told.locator('.ant-tag-close-icon').click();
  await expect(told).toHaveCount(0);
});

test('16ths are swung by choice, the staff says so, and undo takes it back', async ({ page }) => {
  await openViola(page);
  const words = page.getByText('Swing 16ths');
  await unfold(page);
  await page.getByRole('combobox', { name: 'Swing' }).click();
  await page.getByTitle('16ths swung').click();
  await expect(words.first()).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('Control+z');
  await expect(words).toHaveCount(0, { timeout: 30_000 });
});

test('bars of five group by choice, beams follow, and undo takes it back', async ({ page }) => {
  await openViola(page);
  // The stages stay where they are, whatever is counted beside them and wherever one is.
  const stages = () =>
    page.getByRole('navigation', { name: 'Stages' }).evaluate((nav) =>
      [...nav.querySelectorAll('a')].map((link) => {
        const { left, width } = link.getBoundingClientRect();
        return [left, width];
      }),
    );
  const places = await stages();
  await unfold(page);
  const groups = page.getByRole('combobox', { name: 'Groups of 5/8' });
  const stated = page.locator('label', { hasText: 'Groups of 5/8' });
  await expect(stated).toContainText('As found: 3+2');
  await groups.click();
  await page.getByTitle('2+3', { exact: true }).click();
  await expect(stated).not.toContainText('As found');
  const chosen = await musicXml(page);
  expect(await stages()).toEqual(places);
  await page.keyboard.press('Control+z');
  await page.getByRole('link', { name: 'Time' }).click();
  await expect(stated).toContainText('As found: 3+2');
  const found = await musicXml(page);
  expect(found.split('<beam ').length).not.toBe(chosen.split('<beam ').length);
});

test('what was decided a moment ago is in the file', async ({ page }) => {
  await page.goto('/job/demo-untidy/deliver');
  const title = page.getByRole('textbox', { name: 'Title of the score' });
  await expect(page.getByRole('button', { name: 'Download' })).toBeEnabled({ timeout: 60_000 });
  // The field is left by the very click that asks for the file.
  await title.fill('Ferry at Dusk');
  const waiting = page.waitForEvent('download', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Download' }).click();
  expect(readFileSync(await (await waiting).path(), 'utf8')).toContain('Ferry at Dusk');
});

test('what wants a look is listed, gone to by key, settled, and seen beside what was found', async ({
  page,
}) => {
  await openShelf(page);
  await choose(page, 'together.mid', movingTogether());
  await page.waitForURL(/\/job\//);
  await page.goto(`${page.url().replace(/\/[a-z]+(\?.*)?$/, '')}/time`);
  await expect(page.locator('[data-note]').first()).toBeVisible({ timeout: 30_000 });
  await page.getByRole('tab', { name: 'Findings 0' }).click();
  await expect(inspector(page)).toContainText('Nothing to look at');

  // A note of the oboe is written a slot later: the flute, which moves with it, is told.
  const oboe = page.getByRole('application', { name: /^Oboe/ });
  await oboe.focus();
  for (let press = 0; press < 3; press++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await page.getByRole('tab', { name: 'Findings 1' }).click();
  const list = page.getByRole('list', { name: 'Findings' });
  await expect(list).toContainText(
    /Flute, bar 1, beat 2, last eighth: Oboe moves with it and has beat 2, last 16th/,
  );
  await page.keyboard.press('Escape');
  for (let press = 0; press < 3; press++) await page.keyboard.press('PageDown');
  await page.keyboard.press('p');
  await expect(list.locator('[aria-current="true"]')).toContainText('1');
  await expect(page.getByText(/^Bars 1–4/)).toBeVisible();

  // What was found stands beside what was decided; then the flute follows.
  await page.getByRole('checkbox', { name: 'Compare with what was found' }).click();
  const versions = page.getByRole('region', { name: 'Oboe' }).getByRole('application');
  await expect(versions).toHaveCount(2, { timeout: 15_000 });
  await expect(versions.nth(1)).toHaveAccessibleName(/as found/);
  const staves = () =>
    Promise.all(
      [0, 1].map((at) =>
        versions
          .nth(at)
          .locator('g.note')
          .evaluateAll((notes) => notes.length),
      ),
    );
  await expect.poll(async () => (await staves()).every((count) => count > 0)).toBe(true);
  await list.getByRole('button', { name: 'Write it like Oboe' }).click();
  await expect(page.getByRole('tab', { name: 'Findings 0' })).toBeVisible();
});

test('a part is held to the values that it uses', async ({ page }) => {
  await openViola(page);
  await chooseThird(page);
  await page.getByLabel('What the choices hold for').getByText('Viola').click();
  const hold = page.getByRole('button', { name: /^Hold to (eighths|16ths|quarters), as it uses/ });
  await hold.click();
  await expect(hold).toBeHidden();
  await page.keyboard.press('Control+z');
  await expect(hold).toBeVisible();
});

test('music played without a click has bars along it, which is said; the file’s beats are one press away', async ({
  page,
}) => {
  await openShelf(page);
  await choose(page, 'free.mid', freePlaying());
  await page.waitForURL(/\/job\//);
  await page.goto(`${page.url().replace(/\/[a-z]+(\?.*)?$/, '')}/sources?view=oddities`);
  await expect(page.getByText(/played without a click/)).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/Bars follow the \d+ beats that can be heard/)).toBeVisible();
  await page.getByRole('button', { name: /^The file’s beats/ }).click();
  await expect(page.getByText(/played without a click/)).toBeHidden();
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: /^Take these beats/ }).click();
  await expect(page.getByText(/played without a click/)).toBeHidden();
  await page.getByRole('link', { name: /^Time/ }).click();
  await expect(page.locator('[data-note]').first()).toBeVisible({ timeout: 30_000 });
});

/** The beats of a file that was played freely. @returns what stands at their left */
async function openBeats(page: Page) {
  await openShelf(page);
  await choose(page, 'free.mid', freePlaying());
  await page.waitForURL(/\/job\//);
  await page.goto(`${page.url().replace(/\/[a-z]+(\?.*)?$/, '')}/time`);
  await page.getByText('Beats', { exact: true }).click();
  return page.getByRole('complementary', { name: 'Beats' });
}

test('beats are found, moved and made bars of by hand, and undone', async ({ page }) => {
  const side = await openBeats(page);
  await expect(side).toContainText('these are heard', { timeout: 30_000 });
  await side.getByRole('button', { name: 'The file’s beats' }).click();
  await expect(side).toContainText('the file’s own beats');
  await side.getByRole('button', { name: 'Find beats' }).click();
  await expect(side).toContainText(/set here: (8\d|9\d) beats/);

  // Meters stand there as alternatives; one is taken, and taken back.
  await side.getByRole('button', { name: /^4\/4/ }).click();
  await expect(side.getByRole('button', { name: /^4\/4/ })).toBeDisabled();
  await side.getByRole('button', { name: 'The file’s meter' }).click();
  await expect(side.getByRole('button', { name: /^4\/4/ })).toBeEnabled();

  // Another pulse across these: two beats for three, undone.
  const counts = async () => Number(/(\d+) beats/.exec((await side.textContent())!)![1]);
  const found = await counts();
  await side.getByRole('button', { name: 'Other pulse' }).click();
  await page.getByRole('menuitem', { name: 'Two beats for three' }).click();
  await expect.poll(async () => Math.abs((await counts()) - (found * 2) / 3)).toBeLessThan(2);
  await page.keyboard.press('Control+z');
  await expect.poll(counts).toBe(found);

  // By keyboard: 20 ms later, a bar line of its own, then bars of three again.
  const beat = page.getByRole('slider', { name: 'Beat 5' });
  await beat.focus();
  await expect(inspector(page)).toContainText(/At0:0\d/);
  const before = Number(await beat.getAttribute('aria-valuenow'));
  const moved = page.locator('[data-beat="4"]');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect
    .poll(async () => Number(await beat.getAttribute('aria-valuenow')) - before)
    .toBeCloseTo(0.02, 2);
  await page.keyboard.press('Enter');
  await expect(inspector(page).getByRole('button', { name: 'No bar line here' })).toBeVisible();
  // The move that was still on its way came first.
  await expect
    .poll(async () => Number(await moved.getAttribute('aria-valuenow')) - before)
    .toBeCloseTo(0.02, 2);
  await page.getByLabel('Beats a bar').fill('5');
  const barsBefore = (await side.textContent())!;
  await inspector(page).getByRole('button', { name: 'Bars of 5 from here' }).click();
  await expect(side).not.toContainText(/, (\d+) bars/.exec(barsBefore)![0]);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(inspector(page).getByRole('button', { name: 'Bar line here', exact: true })).toBeVisible();

  // By mouse: dragged, and added with a double click.
  const handle = (await page.getByRole('slider', { name: 'Beat 3' }).boundingBox())!;
  await page.mouse.move(handle.x + 5, handle.y + 100);
  await page.mouse.down();
  await page.mouse.move(handle.x + 35, handle.y + 100, { steps: 4 });
  await page.mouse.up();
  await expect(inspector(page)).toContainText('beat');
  await expect
    .poll(async () => (await page.getByRole('slider', { name: 'Beat 3' }).boundingBox())!.x - handle.x)
    .toBeGreaterThan(20);

  // The score follows, and the file's own beats come back.
  await page.getByText('Rhythm', { exact: true }).click();
  await expect(page.locator('[data-note]').first()).toBeVisible({ timeout: 30_000 });
  await page.getByText('Beats', { exact: true }).click();
  await side.getByRole('button', { name: 'The file’s beats' }).click();
  await expect(side).toContainText('the file’s own beats');
});

test('beats are tapped along while it plays', async ({ page }) => {
  const side = await openBeats(page);
  await side.getByRole('button', { name: 'Tap along from here' }).click();
  await expect(side).toContainText('Press T on every beat');
  await expect(page.getByRole('button', { name: /^Stop/ })).toBeVisible({ timeout: 30_000 });
  const place = async () => Number(/[\d.]+$/.exec((await page.getByRole('timer').textContent())!)![0]);
  for (let tap = 0, last = 0; tap < 6; tap++) {
    await expect.poll(place, { intervals: [20] }).toBeGreaterThan(last + 0.5);
    await page.keyboard.press('t');
    last = await place();
  }
  await expect(side.getByRole('button', { name: 'Done: 6 taps' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(side).toContainText('set here');
});

/** Quarters over a bass, three in a bar, at a tempo that wanders, under the default tempo map. */
function freePlaying(): Uint8Array {
  const events: SmfEvent[] = [];
  const strike = (seconds: number, length: number, key: number) => {
    const tick = Math.round(seconds * 960);
    events.push({ kind: 'noteOn', tick, channel: 0, key, velocity: 80 });
    events.push({ kind: 'noteOff', tick: tick + length, channel: 0, key, velocity: 0, asNoteOn: false });
  };
  let at = 0.5;
  for (let beat = 0; beat < 90; beat++) {
    strike(at, 500, 67 + (beat % 5));
    if (beat % 3 === 0) strike(at, 1500, 43 + (beat % 4));
    at += 0.71 * (1 + 0.17 * Math.sin(beat / 5));
  }
  events.sort((a, b) => a.tick - b.tick);
  return writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks: [{ events }] });
}

/** Flute and oboe in the same rhythm, not quite to the tick. */
function movingTogether(): Uint8Array {
  const track = (name: string, channel: number, key: number) => {
    const events: SmfEvent[] = [
      { kind: 'trackName', tick: 0, type: 3, bytes: new TextEncoder().encode(name) },
    ];
    for (let bar = 0; bar < 16; bar++)
      [0, 480, 720, 960, 1440].forEach((at, index) => {
        const on = bar * 1920 + at + ((bar * 7 + index * 5 + channel * 3) % 11);
        const pitch = key + ((bar + index) % 5);
        events.push({ kind: 'noteOn', tick: on, channel, key: pitch, velocity: 80 });
        events.push({ kind: 'noteOff', tick: on + 215, channel, key: pitch, velocity: 0, asNoteOn: false });
      });
    return { events };
  };
  return writeSmf({
    format: 1,
    division: { kind: 'quarter', ticks: 480 },
    tracks: [track('Flute', 0, 72), track('Oboe', 1, 67)],
  });
}
