import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '@playwright/test';
import { openShelf } from './helpers';

const panel = (page: Page) => page.getByRole('complementary', { name: 'Finding' });
const figure = (page: Page) => page.getByRole('link', { name: /^Source and score agree/ });
const agrees = (page: Page) => page.getByRole('region', { name: 'What agrees' });

/** The proof of the untidy demo, once its checks have run. */
async function openProof(page: Page): Promise<void> {
  await openShelf(page);
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

test('what is meant is noted, kept over a reload, and taken back', async ({ page }) => {
  await openProof(page);
  await page.getByLabel('Search the findings').fill('uncomfortable');
  await page
    .getByRole('cell', { name: /uncomfortable for Violin/ })
    .first()
    .click();
  await expect(panel(page)).toContainText('Violin III, bar 10, beat 1');
  await page.getByLabel('Why it is meant').fill('The leader plays it.');
  await page.getByLabel('Why it is meant').press('Enter');
  await expect(page.getByText('Meant 1')).toBeVisible();
  await page.reload();
  await expect(page.getByText('Meant 1')).toBeVisible({ timeout: 60_000 });
  await page.getByText('Meant 1').click();
  await page.getByRole('cell', { name: /uncomfortable for Violin/ }).click();
  await expect(panel(page)).toContainText('Meant: The leader plays it.');
  await page.getByRole('button', { name: /^It is not meant/ }).click();
  await expect(page.getByText('Meant 0')).toBeVisible();
});

test('a source is laid over the score, differences are stepped through and listed', async ({ page }) => {
  await openProof(page);
  await page.getByText('Compare readings').click();
  await expect(page.getByText(/2,321 notes agree, 5 differ/)).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('n');
  await page.keyboard.press('n');
  await expect(page.locator('[aria-current="true"]')).toContainText('C♯-1');
  await expect(page.getByRole('img', { name: 'Note bars of celli' })).toBeVisible();
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'List as CSV' }).click();
  const csv = readFileSync(await (await waiting).path(), 'utf8');
  expect(csv.split('\n')).toHaveLength(6);
  expect(csv).toContain('celli');
});
