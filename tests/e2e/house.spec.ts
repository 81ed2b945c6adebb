import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { tidyFile } from '../../src/core/demo/tidy';
import { untidyFile } from '../../src/core/demo/untidy';
import { writeSmf } from '../../src/core/sources/smf/write';
import { choose, engraved, keptRows, manyStrands, openShelf } from './helpers';
import { expect, test } from './visit';

const openDemo = async (page: Page, path: string) => {
  await page.goto(`/job/${path}`);
  await expect(page.getByRole('link', { name: 'Sources' })).toBeVisible({ timeout: 30_000 });
};

/** A clock of its own: 3/4 at 77. */
const clock = writeSmf({
  format: 1,
  division: { kind: 'quarter', ticks: 96 },
  tracks: [
    {
      events: [
        { kind: 'timeSignature', tick: 0, numerator: 3, denominator: 4, clocks: 24, thirtySeconds: 8 },
        { kind: 'tempo', tick: 0, microsPerQuarter: 779_221 },
        { kind: 'noteOn', tick: 0, channel: 0, key: 60, velocity: 80 },
        { kind: 'noteOff', tick: 96, channel: 0, key: 60, velocity: 0, asNoteOn: false },
      ],
    },
  ],
});

test('the history is a list of steps in words, and any of them can be gone to', async ({ page }) => {
  await openDemo(page, 'demo/sources?view=strands');
  const name = page.getByLabel('Part name of Flute');
  await name.fill('Solo');
  await name.press('Enter');
  await page.getByLabel('Horn 2 goes into the score').click();
  await expect(page.getByText('14 strands in the score')).toBeVisible();
  await page.getByRole('heading', { level: 1 }).click();
  await page.keyboard.press('h');
  const steps = page.getByRole('list', { name: 'Steps' });
  await expect(steps).toContainText('Solo: named “Solo”');
  await expect(steps.getByRole('button', { name: /left out/ })).toHaveAttribute('aria-current', 'step');
  await steps.getByRole('button', { name: /named/ }).click();
  await expect(page.getByText('15 strands in the score')).toBeVisible();
  await expect(name).toHaveValue('Solo');
  await steps.getByRole('button', { name: 'As the source came' }).click();
  await expect(name).toHaveValue('Flute');
  await steps.getByRole('button', { name: /left out/ }).click();
  await expect(page.getByText('14 strands in the score')).toBeVisible();
});

test('a second file is asked about once: another source gives its clock, a new version takes the place', async ({
  page,
}) => {
  await openDemo(page, 'demo/sources?view=strands');
  await choose(page, 'session clock.mid', clock);
  const asks = page.getByRole('dialog', { name: 'What is session clock.mid?' });
  await asks.getByLabel(/^Another source of/).check();
  await asks.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByText('session clock.mid is a source of this job.')).toBeVisible();
  const rows = page.getByRole('row').filter({ hasText: 'session clock.mid' });
  await rows.getByRole('button', { name: 'Take its clock' }).click();
  await expect(page.getByRole('region', { name: 'The source' })).toContainText('1 tempo from 77');
  await expect(rows).toContainText('Gives the clock');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('region', { name: 'The source' })).not.toContainText('from 77');

  await choose(page, 'v8.mid', untidyFile());
  const again = page.getByRole('dialog', { name: 'What is v8.mid?' });
  await again.getByLabel(/^A new version of/).check();
  await again.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByText('16 strands in the score')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('heading', { level: 1, name: 'v8.mid' })).toBeVisible();
  await page.getByLabel('Version of source 1').click();
  await page.getByTitle(/^1: lantern-ferry.mid/).click();
  await expect(page.getByText('15 strands in the score')).toBeVisible();
  // What cannot be read is no source, and nothing is kept of it.
  await choose(page, 'cake.mid', new TextEncoder().encode('flour, eggs'));
  const bad = page.getByRole('dialog', { name: 'What is cake.mid?' });
  await bad.getByLabel(/^Another source of/).check();
  await bad.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByText('cake.mid was not taken in')).toBeVisible();
  await page.reload();
  await expect(page.getByRole('row').filter({ hasText: 'session clock.mid' })).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByText('cake.mid')).toHaveCount(0);
});

test('a job that is opened again shows its score without writing or engraving it again', async ({ page }) => {
  await page.addInitScript(() => {
    const seen = window as typeof window & { wrote?: boolean; engraved?: number };
    const send = Worker.prototype.postMessage;
    Worker.prototype.postMessage = function (this: Worker, message: unknown, ...rest: unknown[]) {
      if ((message as { path?: string[] } | null)?.path?.[0] === 'engrave')
        seen.engraved = (seen.engraved ?? 0) + 1;
      return (send as (...args: unknown[]) => void).call(this, message, ...rest);
    };
    new MutationObserver(() => {
      if (document.querySelector('[aria-label="Writing the score"]')) seen.wrote = true;
    }).observe(document, { childList: true, subtree: true });
  });
  await openShelf(page);
  const results = await keptRows(page, 'results');
  const pictures = await keptRows(page, 'pictures');
  await choose(page, 'wide.mid', manyStrands(40, 800));
  await page.waitForURL(/\/job\/.*\/sources/);
  await page.getByRole('link', { name: 'Notes' }).click();
  await engraved(page);
  const wrote = () => page.evaluate(() => (window as typeof window & { wrote?: boolean }).wrote === true);
  expect(await wrote()).toBe(true);
  const engravings = () =>
    page.evaluate(() => (window as typeof window & { engraved?: number }).engraved ?? 0);
  expect(await engravings()).toBeGreaterThan(0);
  await expect.poll(() => keptRows(page, 'results'), { timeout: 30_000 }).toBeGreaterThan(results);
  await expect.poll(() => keptRows(page, 'pictures'), { timeout: 30_000 }).toBeGreaterThan(pictures);
  await page.reload();
  await engraved(page);
  expect(await wrote()).toBe(false);
  expect(await engravings()).toBe(0);
  await page.locator('g.note .notehead').nth(2).click();
  await expect(page.getByLabel('Inspector')).toContainText('Velocity');
});

test('stop takes hold while the score is written, and a decision goes on from there', async ({ page }) => {
  await openShelf(page);
  await choose(page, 'wide.mid', manyStrands(60, 2000));
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByRole('button', { name: 'Stopped. Write the score' })).toBeVisible();
  await page.getByRole('link', { name: 'Roster' }).click();
  await expect(page.getByText('The score has not been written.')).toBeVisible();
  await page.getByRole('button', { name: 'Stopped. Write the score' }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
});

test('a worker that dies is followed by another, and nothing is lost', async ({ page }) => {
  await openDemo(page, 'demo/sources?view=strands');
  await expect(page.getByText('15 strands in the score')).toBeVisible();
  for (const worker of page.workers()) await worker.evaluate(() => self.close()).catch(() => {});
  await page.getByLabel('Horn 2 goes into the score').click();
  await expect(page.getByText('The work on this job broke off')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('link', { name: 'Roster' }).click();
  await expect(page.getByRole('heading', { name: '14 parts', exact: true })).toBeVisible({ timeout: 30_000 });
});

test('two tabs show one job: decisions arrive, and a deleted job is said to be so', async ({
  page,
  context,
}) => {
  await openDemo(page, 'demo/sources?view=strands');
  const other = await context.newPage();
  await other.goto('/job/demo/sources?view=strands');
  await expect(other.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
  await page.getByLabel('Horn 2 goes into the score').click();
  await expect(other.getByText('14 strands in the score')).toBeVisible();
  await other.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('15 strands in the score')).toBeVisible();
  await other.goto('/');
  await other.getByRole('button', { name: 'Delete Lantern Ferry', exact: true }).click();
  await other.getByRole('dialog').getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText('This job was deleted.')).toBeVisible();
  await expect(page.getByRole('link', { name: 'To the jobs' })).toBeVisible();
});

test('all jobs go out as one file and come in again', async ({ page }) => {
  await openShelf(page);
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save all jobs as one file' }).click();
  const saved = readFileSync(await (await waiting).path());
  await page.getByRole('checkbox', { name: 'Select all' }).check();
  await page.getByRole('button', { name: /^Delete \d+ jobs/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText('No jobs yet.')).toBeVisible();
  const take = (name: string, buffer: Buffer) =>
    page.getByTestId('backup-input').setInputFiles({ name, mimeType: 'application/zip', buffer });
  await take('cake.zip', Buffer.from('flour'));
  await expect(page.getByText('This is no backup: it is not a zip that can be read.')).toBeVisible();
  await take('jobs.zip', saved);
  await expect(page.getByText('2 jobs came in.')).toBeVisible();
  await page.getByRole('link', { name: 'Lantern Ferry', exact: true }).click();
  await expect(page.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
});

test('a brief that asks for the impossible leaves the job open, says what is wrong, and is undone', async ({
  page,
}) => {
  await openDemo(page, 'demo/deliver');
  await page.getByText('Brief', { exact: true }).click();
  const load = (text: string) =>
    page
      .getByTestId('brief-input')
      .setInputFiles({ name: 'b.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  const brief = (...directives: object[]) =>
    JSON.stringify({ format: 'dragoman-brief', version: 2, directives });
  await load(brief({ kind: 'beats', ticks: [0, 480, 960, 1440], perBar: 4, first: 0, bars: [4, 3, 2, 1] }));
  await expect(page.getByText('Directive 1 (beats) is not valid: bars must ascend.')).toBeVisible();
  await load(brief({ kind: 'beats', ticks: [0, 0.01, 0.02, 0.03], perBar: 1, first: 0 }));
  await expect(page.getByRole('heading', { name: 'The brief: 1 decision' })).toBeVisible();
  await page.getByRole('link', { name: 'Sources' }).click();
  await expect(page.getByText('1 decision could not be followed')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('1 decision could not be followed')).toHaveCount(0);
  await page.reload();
  await expect(page.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
});

test('the page answers one name, keeps to itself, and names what it stands on', async ({ page, request }) => {
  const complaints: string[] = [];
  page.on('console', (message) => {
    if (/Content Security Policy|Refused to/.test(message.text())) complaints.push(message.text());
  });
  await openDemo(page, 'demo/notes');
  await engraved(page);
  expect(complaints).toEqual([]);
  const { port } = new URL(page.url());
  const headers = (await request.get('/')).headers();
  expect(headers['content-security-policy']).toContain("frame-ancestors 'none'");
  expect(headers['x-content-type-options']).toBe('nosniff');
  expect(headers['referrer-policy']).toBe('no-referrer');
  const foreign = await request.get(`http://127.0.0.1:${port}/`, { headers: { host: 'elsewhere.example' } });
  expect(foreign.status()).toBe(421);
  await page.goto(`http://127.0.0.1:${port}/licences`);
  await page.waitForURL(`http://localhost:${port}/licences`);
  await expect(page.getByRole('heading', { name: /^verovio/ })).toBeVisible();
});

test('text that was typed and not yet entered is there after a reload', async ({ page }) => {
  await openDemo(page, 'demo/sources?view=strands');
  const name = page.getByLabel('Part name of Harp');
  await name.fill('Harp solo');
  await page.reload();
  await expect(page.getByLabel('Part name of Harp')).toHaveValue('Harp solo', { timeout: 30_000 });
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('aria-disabled', 'false');
});

test('of several files one that is bad keeps no other out', async ({ page }) => {
  await openShelf(page);
  const file = (name: string, buffer: Uint8Array) => ({
    name,
    mimeType: 'audio/midi',
    buffer: Buffer.from(buffer),
  });
  await page
    .getByTestId('file-input')
    .setInputFiles([
      file('one.mid', tidyFile()),
      file('cake.mid', new TextEncoder().encode('flour')),
      file('two.mid', clock),
    ]);
  await expect(page.getByText('cake.mid was not taken in')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('cell', { name: 'two.mid' })).toBeVisible();
  await expect(page.getByRole('cell', { name: 'one.mid' })).toBeVisible();
});

test('one worker is at work on a job, however its page is come to', async ({ page }) => {
  const cores = () => page.workers().filter((worker) => worker.url().endsWith('/core.js')).length;
  await page.goto('/job/demo/notes');
  await engraved(page);
  expect(cores()).toBe(1);
  // Here one is kept ready, and taken over.
  await openShelf(page);
  await expect.poll(cores).toBe(1);
  await page.getByRole('link', { name: 'Lantern Ferry', exact: true }).click();
  await expect(page.getByText(/strands in the score/)).toBeVisible({ timeout: 30_000 });
  expect(cores()).toBe(1);
});
