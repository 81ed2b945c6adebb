import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '@playwright/test';
import type { SmfEvent } from '../../src/core/smf/events';
import { writeSmf } from '../../src/core/smf/write';
import { choose, openShelf } from './helpers';

/** The Time stage of the untidy demo with the viola alone. */
async function openViola(page: Page): Promise<void> {
  await openShelf(page);
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

test('the early strings are found, taken back and told', async ({ page }) => {
  await openViola(page);
  await expect(page.getByRole('region', { name: 'Viola' })).toContainText(/(79|80|81) ms ahead of the beat/);
  await chooseThird(page);
  await expect(inspector(page)).toContainText(/(79|80|81) ms of lead were taken back first/);
  await expect(inspector(page)).toContainText('bar 2, quarter 1');
  await page.getByRole('tab', { name: 'Evidence' }).click();
  await expect(page.getByLabel('Lead of each part in milliseconds')).toBeVisible();
  await expect(page.locator('.recharts-bar-rectangle').first()).toBeVisible();

  // The lead gives way to a decision, and comes back.
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
  await expect(inspector(page)).toContainText('bar 2, quarter 1');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(inspector(page)).toContainText('bar 2, quarter 1¼');
  await expect(inspector(page)).toContainText('You decided where it stands.');
  await page.reload();
  await expect(page.locator('[data-note]').first()).toBeVisible({ timeout: 30_000 });
  await page.getByRole('checkbox', { name: 'Viola', exact: true }).click();
  await chooseThird(page);
  await expect(inspector(page)).toContainText('bar 2, quarter 1¼');
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
  await expect(other).toBeVisible({ timeout: 15_000 });
  await other.focus();
  await page.keyboard.press('Enter');
  await expect(inspector(page)).toContainText('You decided where it stands.');
  await inspector(page).getByRole('button', { name: 'As found' }).click();
  await expect(inspector(page)).not.toContainText('You decided');
});

test('choices hold for all, for a part, or for its bars in view', async ({ page }) => {
  await openViola(page);
  await chooseThird(page);
  await page.getByText('Its bars in view').click();
  await page.getByRole('switch', { name: 'Tuplets' }).click();
  await expect(page.getByRole('switch', { name: 'Tuplets' })).not.toBeChecked();
  await page.getByRole('button', { name: 'Bars after' }).click();
  await expect(page.getByRole('switch', { name: 'Tuplets' })).toBeChecked();
  await page.keyboard.press('PageUp');
  await expect(page.getByRole('switch', { name: 'Tuplets' })).not.toBeChecked();
  // The drawing of the notes stands still under the staff of the same bars.
  await expect(page.locator('[data-note]').first()).toBeVisible();
});

test('music played without a click gets bars along it, from its oddity', async ({ page }) => {
  await openShelf(page);
  await choose(page, 'free.mid', freePlaying());
  await page.waitForURL(/\/job\//);
  await page.goto(`${page.url().replace(/\/[a-z]+(\?.*)?$/, '')}/sources?view=oddities`);
  await expect(page.getByText(/played without a click/)).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: /^Lay bars along the music/ }).click();
  await expect(page.getByText(/played without a click/)).toBeHidden();
  await page.getByRole('link', { name: /^Time/ }).click();
  await expect(page.locator('[data-note]').first()).toBeVisible({ timeout: 30_000 });
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
