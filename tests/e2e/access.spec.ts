import { accessFaults, engraved, openShelf, still } from './helpers';
import { expect, test } from './visit';

test('the whole way goes by keyboard alone', async ({ page }) => {
  await openShelf(page);
  const job = page.getByRole('link', { name: 'Lantern Ferry', exact: true });
  for (let press = 0; press < 30; press++) {
    await page.keyboard.press('Tab');
    if (await job.evaluate((element) => element === document.activeElement)) break;
  }
  await expect(job).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('/');
  await expect(page.getByRole('searchbox', { name: 'Find a strand' })).toBeFocused();
  await page.keyboard.type('harp');
  const part = page.getByLabel('Part name of Harp');
  await expect(part).toBeVisible();
  for (let press = 0; press < 40; press++) {
    if (await part.evaluate((element) => element === document.activeElement)) break;
    await page.keyboard.press('Tab');
  }
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Great Harp');
  await page.keyboard.press('Enter');
  await page.locator('body').press('4');
  await engraved(page);
  await expect(page.getByLabel('Parts in view')).toContainText('Great Harp');
  await page.getByRole('application', { name: /^Score/ }).focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByLabel('Inspector')).toContainText('Played at');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('Confirm the line-up');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Parts in view')).not.toContainText('Great Harp');
});

for (const appearance of ['day', 'night'] as const)
  test(`no stage breaks WCAG AA (${appearance})`, async ({ page }) => {
    test.slow();
    await openShelf(page);
    if (appearance === 'night') await page.getByRole('button', { name: 'Night' }).click();
    const faults = (place: string) => accessFaults(page, appearance, place);
    const found = await faults('jobs');
    for (const stage of ['sources', 'roster', 'time', 'notes', 'proof', 'deliver']) {
      await page.goto(`/job/demo/${stage}`);
      await expect(page.locator('main')).toContainText(/Flute|2,185/, { timeout: 30_000 });
      await still(page);
      found.push(...(await faults(stage)));
    }
    // Findings, two versions side by side, and beats are views within Time.
    await page.goto('/job/demo-untidy/time');
    await expect(page.locator('[data-note]').first()).toBeVisible({ timeout: 30_000 });
    await page.getByRole('application').first().focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Shift+ArrowRight');
    await page.getByRole('checkbox', { name: 'Compare with what was found' }).click();
    await page.getByRole('tab', { name: /^Findings/ }).click();
    await still(page);
    found.push(...(await faults('time, findings')));
    await page.keyboard.press('Control+z');
    await page.getByText('Beats', { exact: true }).click();
    await page.getByRole('slider').nth(2).focus();
    await still(page);
    found.push(...(await faults('time, beats')));
    // Of tables that look alike, one is enough by night.
    const views = appearance === 'night' ? ['bars', 'cleaning'] : ['bars', 'oddities', 'cleaning', 'kits'];
    for (const view of views) {
      await page.goto(`/job/demo-untidy/sources?view=${view}`);
      await expect(page.getByTestId('note-bars').or(page.locator('.ant-table')).first()).toBeVisible({
        timeout: 30_000,
      });
      await still(page);
      found.push(...(await faults(`sources, ${view}`)));
    }
    await page.goto('/job/demo-untidy/deliver');
    const kinds = ['MIDI file', 'Bar table', 'Audio', 'Brief'];
    for (const kind of appearance === 'night' ? kinds.slice(0, 2) : kinds) {
      await page.getByText(kind, { exact: true }).click({ timeout: 30_000 });
      await still(page);
      found.push(...(await faults(`deliver, ${kind}`)));
    }
    expect(found).toEqual([]);
  });

test('a system set to dark opens by night, until day is chosen', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'dark' });
  await openShelf(page);
  const html = page.locator('html');
  await expect(html).toHaveAttribute('data-appearance', 'night');
  await page.getByRole('button', { name: 'Day' }).click();
  await expect(html).toHaveAttribute('data-appearance', 'day');
  await page.reload();
  await expect(page.getByRole('button', { name: 'Night' })).toBeVisible();
  await expect(html).toHaveAttribute('data-appearance', 'day');
});
