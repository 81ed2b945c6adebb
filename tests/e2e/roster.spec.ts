import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { choose, manyStrands, openShelf } from './helpers';

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
