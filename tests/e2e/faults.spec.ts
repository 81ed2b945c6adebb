import { readFileSync } from 'node:fs';
import { damageSource, endEngravers, heal, holdDecisions, refusing } from './faults';
import { choose, engraved, openShelf } from './helpers';
import { expect, test } from './visit';

const figure = /^Source and score agree/;

test('a proof that fails says so everywhere, and none of its figures looks like a clean one', async ({
  page,
}) => {
  await refusing(page, 'proof');
  await page.goto('/job/demo/proof');
  await expect(page.getByRole('link', { name: 'Source and score agree: not known' })).toHaveText('?', {
    timeout: 60_000,
  });
  const alert = page.getByRole('alert').filter({ hasText: 'Not known' });
  await expect(alert).toContainText('Not known: the proof.');
  await expect(alert).toContainText('It was made to fail.');
  await expect(page.getByText('The proof did not run, so nothing is known of this score.')).toBeVisible();
  await expect(page.getByText('100 %')).toHaveCount(0);
  await expect(page.getByText(/^Open \d/)).toHaveCount(0);
  await expect(page.getByText('Nothing is open')).toHaveCount(0);
  await expect(page.getByRole('navigation', { name: 'Stages' }).getByTitle('Not known')).toHaveText('?');
  await page.getByRole('link', { name: 'Deliver' }).click();
  await page.getByText('Packet', { exact: true }).first().click();
  await expect(page.getByText('The proof did not run: It was made to fail.')).toBeVisible();

  await heal(page);
  await alert.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('link', { name: figure })).toHaveText('100 %', { timeout: 30_000 });
  await expect(alert).toHaveCount(0);
});

test('every question of a view that fails is named, with a way on', async ({ page }) => {
  const questions: [method: string, path: string, name: string, show?: string][] = [
    ['goingOut', 'Proof', 'what goes out, read back'],
    ['barTable', 'Deliver', 'the bar table', 'Bar table'],
    ['previewMidi', 'Deliver', 'the preview of the MIDI file', 'MIDI file'],
    ['noteBars', 'Sources', 'the note bars', 'Note bars'],
    ['systems', 'Notes', 'the systems of the score'],
    ['window', 'Notes', 'some bars of the score'],
    ['interlinear', 'Time', 'the bars as played and as written'],
  ];
  await refusing(page);
  await openShelf(page);
  for (const [method, path, name, show] of questions) {
    await page.goto('/job/demo/roster');
    await expect(page.getByRole('link', { name: figure })).toHaveText('100 %', { timeout: 60_000 });
    await heal(page, method);
    await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: path }).click();
    if (show) await page.getByText(show, { exact: true }).first().click();
    const alert = page.getByRole('alert').filter({ hasText: 'Not known' });
    await expect(alert, method).toContainText(name);
    await heal(page);
    await alert.getByRole('button', { name: 'Try again' }).click();
    await expect(alert, method).toHaveCount(0, { timeout: 30_000 });
  }
});

test('a score that cannot be written is not shown as if it were the one that was decided', async ({
  page,
}) => {
  await refusing(page);
  await page.goto('/job/demo/sources?view=strands');
  await expect(page.getByRole('link', { name: figure })).toHaveText('100 %', { timeout: 60_000 });
  await heal(page, 'write');
  await page.getByLabel('Horn 2 goes into the score').click();
  await expect(page.getByRole('link', { name: 'Source and score agree: not known' })).toBeVisible();
  const alert = page.getByRole('alert').filter({ hasText: 'Not known' });
  await expect(alert).toContainText('what the decisions come to');
  await page.getByRole('link', { name: 'Deliver' }).click();
  await expect(page.getByText('The score could not be written.').first()).toBeVisible();
  await heal(page);
  await alert.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('link', { name: figure })).toHaveText(/%$/, { timeout: 30_000 });
  await expect(alert).toHaveCount(0);
});

test('a job that cannot be laid out says why', async ({ page }) => {
  await openShelf(page);
  await refusing(page, 'layOut');
  await page.goto('/job/demo/sources?view=strands');
  await expect(page.getByText('The job could not be laid out. It was made to fail.')).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByRole('link', { name: 'To the jobs' })).toBeVisible();
});

test('a source whose bytes are no longer those that came is told, and comes back from a backup', async ({
  page,
}) => {
  await openShelf(page);
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save all jobs as one file' }).click();
  const backup = readFileSync((await (await saved).path())!);
  await expect(page.getByText('2 jobs saved, and read back as they are.')).toBeVisible();
  await damageSource(page, 'demo', 'a bit');
  await page.goto('/job/demo/sources?view=strands');
  await expect(page.getByText(/^lantern-ferry.mid is damaged/)).toBeVisible();
  // What is damaged is not saved over what is whole, and is told.
  await page.goto('/');
  const again = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save all jobs as one file' }).click();
  await again;
  await expect(page.getByText('“Lantern Ferry” has no source that is whole.')).toBeVisible();

  await page.goto('/job/demo/sources?view=strands');
  await page.getByRole('button', { name: 'Open it anyway' }).click();
  await expect(page.getByText(/strands in the score/)).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/^lantern-ferry.mid is damaged/)).toBeVisible();
  await page.reload();
  await page
    .getByTestId('mend-input')
    .setInputFiles({ name: 'jobs.zip', mimeType: 'application/zip', buffer: backup });
  await expect(page.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/is damaged/)).toHaveCount(0);
});

test('an engraver that dies is started again; one that cannot be loaded is told', async ({ page }) => {
  await page.goto('/job/demo/notes');
  await engraved(page);
  await endEngravers(page);
  await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
  await expect(page.locator('[data-engraved="true"]').last()).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('These bars could not be engraved.')).toHaveCount(0);

  await page.context().route('**/workers/**', (route) => route.abort());
  await endEngravers(page);
  await page.evaluate(() => window.scrollTo(0, 0));
  await page.getByText('Concert', { exact: true }).first().click();
  await expect(page.getByText('These bars could not be engraved.').first()).toBeVisible({ timeout: 30_000 });
});

test('a page whose workers cannot be loaded says so, and keeps nothing half done', async ({ page }) => {
  await openShelf(page);
  await page.context().route('**/workers/**', (route) => route.abort());
  await page.goto('/job/demo/sources?view=strands');
  await expect(page.getByText(/The work on this job could not be loaded/)).toBeVisible({ timeout: 30_000 });
  await page.goto('/');
  await choose(page, 'cue.mid', new TextEncoder().encode('MThd'));
  await expect(page.getByText('cue.mid was not taken in')).toBeVisible({ timeout: 30_000 });
});

test('what was decided is there after a reload, also where the database had not yet taken it', async ({
  page,
}) => {
  await page.goto('/job/demo/sources?view=strands');
  await expect(page.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
  await holdDecisions(page);
  await page.getByLabel('Horn 2 goes into the score').click();
  await expect(page.getByText('14 strands in the score')).toBeVisible();
  await page.getByLabel('Horn 1 goes into the score').click();
  await expect(page.getByText('13 strands in the score')).toBeVisible();
  await page.reload();
  await expect(page.getByText('13 strands in the score')).toBeVisible({ timeout: 30_000 });
  await page.reload();
  await expect(page.getByText('13 strands in the score')).toBeVisible({ timeout: 30_000 });
  const undo = page.getByRole('button', { name: 'Undo' });
  await undo.click();
  await expect(page.getByText('14 strands in the score')).toBeVisible();
  await undo.click();
  await expect(page.getByText('15 strands in the score')).toBeVisible();
  await expect(undo).toHaveAttribute('aria-disabled', 'true');
});
