import { readFileSync } from 'node:fs';
import { untidyFile } from '../../src/core/demo/untidy';
import { unpackMxl } from '../../src/core/sources/musicxml/mxl';
import { readClosed } from '../helpers/closure';
import { parseXml, schemaFaults } from '../helpers/schema';
import { choose, engraved, manyStrands, openShelf, toStrands } from './helpers';
import { expect, test } from './visit';

test('the demo piece opens as a ready job with an engraved score', async ({ page }) => {
  await openShelf(page);
  await page.getByRole('link', { name: 'Lantern Ferry', exact: true }).click();
  await page.getByRole('link', { name: 'Notes' }).click();
  await engraved(page);
  await expect(page.locator('g.note').first()).toBeVisible();
  await page.locator('g.note .notehead').nth(2).click();
  await expect(page.getByLabel('Inspector')).toContainText('in Flute');
  await expect(page.getByLabel('Inspector')).toContainText('bar 1, beat 3');

  // In concert pitch the transposing parts have the signature of the others.
  const signs = () => page.locator('g.measure').first().locator('g.keyAccid').count();
  const read = await signs();
  await page.getByRole('radiogroup', { name: 'Pitch of the staves' }).getByText('Concert').click();
  await expect.poll(signs).toBeGreaterThan(0);
  await expect.poll(signs).not.toBe(read);
  await page.getByRole('radiogroup', { name: 'Pitch of the staves' }).getByText('As read').click();
  await expect.poll(signs).toBe(read);
});

test('upload, rename, recast, leave out, undo, reload, download', async ({ page }) => {
  await openShelf(page);
  await choose(page, 'cue 4.mid', untidyFile());
  await expect(page.getByRole('heading', { name: 'cue 4.mid' })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('16 strands in the score')).toBeVisible();

  // Rename in place.
  await toStrands(page);
  const name = page.getByLabel('Part name of 1st Fl lgto');
  await name.fill('Solo Flute');
  await name.press('Enter');
  await expect(name).toHaveValue('Solo Flute');

  // Recast: by one of the instrument's other names.
  await page.getByRole('button', { name: 'Instrument of Klarinette in B' }).click();
  await page.getByRole('combobox', { name: 'Instrument of Klarinette in B' }).fill('cor anglais');
  await page.getByTitle('English Horn').click();
  await expect(page.getByLabel('Part name of Klarinette in B')).toHaveValue('English Horn');

  // Leave out the doubled track, then another by mistake, and undo that.
  await page.getByLabel('Vlns thick 8va goes into the score').click();
  await expect(page.getByText('15 strands in the score, 1 left out with 134 notes')).toBeVisible();
  await page.getByLabel('Harfe goes into the score').click();
  await expect(page.getByText('14 strands in the score')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('15 strands in the score')).toBeVisible();
  await expect(page.getByLabel('Harfe goes into the score')).toBeChecked();

  // Everything is there after a reload.
  await page.reload();
  await expect(page.getByLabel('Part name of 1st Fl lgto')).toHaveValue('Solo Flute', { timeout: 30_000 });
  await expect(page.getByText('15 strands in the score')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Redo' })).toBeEnabled();

  await page.getByRole('link', { name: 'Roster' }).click();
  await expect(page.getByRole('heading', { name: '15 parts', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Move Solo Flute down' }).click();
  const first = page.getByRole('list', { name: 'Parts in score order' }).getByRole('listitem').first();
  await expect(first.getByRole('textbox')).toHaveValue('English Horn');

  await page.getByRole('link', { name: 'Deliver' }).click();
  const account = page.getByRole('region', { name: 'Account' });
  await expect(account).toContainText('2,326');
  await expect(account).toContainText('134');
  await page.getByLabel('Title of the score').fill('Ferry at Night');
  await page.getByLabel('Title of the score').press('Enter');
  const kinds = page.getByRole('radiogroup', { name: 'What is delivered' });
  await kinds.getByText('Brief').click();
  await expect(page.getByRole('heading', { name: /^The brief: \d+ decisions$/ })).toBeVisible();
  await kinds.getByText('Score').click();
  await page.getByLabel('Compressed').check();
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const download = await waiting;
  expect(download.suggestedFilename()).toBe('cue 4.mxl');
  const document = new TextDecoder().decode(unpackMxl(readFileSync(await download.path())));
  const root = parseXml(document);
  expect(schemaFaults(root)).toEqual([]);
  expect(root.children[0]!.children[0]!.text).toBe('Ferry at Night');
  const { notes, faults } = readClosed(root);
  expect(faults).toEqual([]);
  // A slip of the guitar, which nobody mended here, is read as a grace note.
  const graces = document.split('<grace').length - 1;
  expect(notes.length + graces).toBe(2326 - 134 - 3 - 1);
  const names = root.children
    .find((node) => node.name === 'part-list')!
    .children.filter((node) => node.name === 'score-part')
    .map((node) => node.children[0]!.text);
  expect(names.slice(0, 3)).toEqual(['English Horn', 'Solo Flute', 'Alto Saxophone 2']);
  expect(names).not.toContain('Violin III');
});

test('a file lands on what it is; safe mends are one press; a bar and a part are found by name; the list of jobs says how it stands', async ({
  page,
}) => {
  await openShelf(page);
  await choose(page, 'cue 4.mid', untidyFile());
  const lineUp = page.getByRole('region', { name: 'Line-up: 16 parts' });
  await expect(lineUp).toContainText('Alto Saxophone', { timeout: 30_000 });
  await expect(page.getByRole('region', { name: 'Bars' })).toContainText('The file’s bars');
  const looks = page.getByRole('region', { name: 'To look at' });
  await expect(looks).toContainText('findings in the score', { timeout: 60_000 });
  await expect(looks).toContainText('Mixer controllers');
  await looks.getByRole('button', { name: /^Mend the \d+ that are safe$/ }).click();
  await expect(looks).not.toContainText('Mixer controllers');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(looks).toContainText('Mixer controllers');

  await page.keyboard.press('Control+k');
  const field = page.getByRole('combobox', { name: /^Find an action/ });
  await field.fill('bar 37');
  await field.press('Enter');
  await page.waitForURL(/notes\?bar=37$/);
  await engraved(page);
  await page.keyboard.press('Control+k');
  await field.fill('violonc');
  await field.press('Enter');
  await expect(page.getByText('1 of 16 parts')).toBeVisible();
  // What cannot be done here says where it can.
  await page.keyboard.press('Control+k');
  await field.fill('confirm');
  await expect(page.getByRole('option', { name: /^Confirm the line-up/ })).toContainText('Works in Roster.');
  await page.keyboard.press('Escape');

  await expect(page.getByRole('link', { name: /^Source and score agree: 9/ })).toBeVisible({
    timeout: 60_000,
  });
  await page.getByRole('link', { name: 'Dragoman: all jobs' }).click();
  const row = page.getByRole('row', { name: /cue 4/ });
  await expect(row).toContainText('16 parts, 57 bars');
  await expect(row).toContainText(/99\.\d %/);
});

test('many strands are done to at once', async ({ page }) => {
  await openShelf(page);
  await page.getByRole('link', { name: 'Lantern Ferry', exact: true }).click();
  await toStrands(page);
  await page.getByRole('searchbox', { name: 'Find a strand' }).fill('violin');
  await page.getByRole('table').or(page.locator('.ant-table')).first().waitFor();
  await page.locator('.ant-table-thead .ant-checkbox-input').first().check();
  const group = page.getByRole('group', { name: 'Do to all chosen' });
  await expect(group).toContainText('2 strands');
  await group.getByRole('button', { name: 'Leave out' }).click();
  await expect(page.getByText('13 strands in the score, 2 left out')).toBeVisible();
  await group.getByRole('button', { name: 'Take in' }).click();
  await group.getByRole('button', { name: 'Join into one part' }).click();
  await expect(page.getByText('joined to Violin')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('joined to Violin')).toBeHidden();
});

test('a file that is no MIDI file gets one sentence and makes no job', async ({ page }) => {
  await openShelf(page);
  await choose(page, 'letter.mid', new TextEncoder().encode('Dear arranger, this is not music.'));
  await expect(page.getByText('letter.mid was not taken in')).toBeVisible();
  await expect(page.getByText('This is not a Standard MIDI File: it has no MIDI header.')).toBeVisible();
  await expect(page.getByRole('link', { name: 'letter' })).toHaveCount(0);
});

test('a damaged file is mended, and every mend is listed', async ({ page }) => {
  await openShelf(page);
  const whole = untidyFile();
  await choose(page, 'cut.mid', whole.slice(0, whole.length - 400));
  await expect(page.getByText('places in the file had to be mended')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('The track has no end-of-track event.')).toBeVisible();
});

test('a file dropped anywhere becomes a job', async ({ page }) => {
  await openShelf(page);
  const bytes = [...manyStrands(2, 8)];
  const transfer = await page.evaluateHandle((data) => {
    const made = new DataTransfer();
    made.items.add(new File([new Uint8Array(data)], 'dropped.mid', { type: 'audio/midi' }));
    return made;
  }, bytes);
  await page.locator('main').dispatchEvent('drop', { dataTransfer: transfer });
  await expect(page.getByRole('heading', { name: 'dropped.mid' })).toBeVisible({ timeout: 30_000 });
});

test('a hundred strands stay usable', async ({ page }) => {
  await openShelf(page);
  await choose(page, 'large.mid', manyStrands(100, 400));
  await expect(page.getByText('100 strands in the score')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('link', { name: 'Notes' }).click();
  await expect(page.getByText('20 of 100 parts')).toBeVisible({ timeout: 60_000 });
  await engraved(page);
  await page.getByRole('button', { name: 'Show Flute 99 alone' }).click();
  await expect(page.getByText('1 of 100 parts')).toBeVisible();
  await engraved(page);
});

test('writing a large score can be stopped and taken up again', async ({ page }) => {
  await openShelf(page);
  await choose(page, 'huge.mid', manyStrands(100, 2000));
  await page.getByRole('button', { name: 'Stop' }).click({ timeout: 60_000 });
  await page.getByRole('link', { name: 'Deliver' }).click();
  await expect(page.getByText('The writing of the score was stopped.', { exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Download' })).toBeDisabled();
  await page.getByRole('button', { name: 'Stopped. Write the score' }).click();
  await expect(page.getByRole('button', { name: 'Download' })).toBeEnabled({ timeout: 60_000 });
});

test('a brief is saved, refused when damaged, and loaded into another job', async ({ page }) => {
  await page.goto('/job/demo/sources?view=strands');
  await page.getByLabel('Harp goes into the score').click({ timeout: 30_000 });
  await page.getByRole('link', { name: 'Deliver' }).click();
  await page.getByText('Brief', { exact: true }).click();
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the brief' }).click();
  const saved = readFileSync(await (await waiting).path());
  expect(JSON.parse(saved.toString()).directives).toEqual([
    { kind: 'leave-out', strand: '1/t9c7', out: true },
  ]);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('heading', { name: 'The brief: 0 decisions' })).toBeVisible();
  const load = (name: string, buffer: Buffer) =>
    page.getByTestId('brief-input').setInputFiles({ name, mimeType: 'application/json', buffer });
  await load(
    'bad.json',
    Buffer.from('{"format":"dragoman-brief","version":1,"directives":[{"kind":"sing"}]}'),
  );
  await expect(page.getByText('Directive 1 has no known kind.')).toBeVisible();
  await load('good.json', saved);
  await expect(page.getByRole('heading', { name: 'The brief: 1 decision' })).toBeVisible();
});

test('jobs are duplicated, renamed and deleted', async ({ page }) => {
  await openShelf(page);
  await page.getByRole('button', { name: 'Duplicate Lantern Ferry', exact: true }).click();
  await page.getByRole('link', { name: 'Lantern Ferry (copy)' }).click();
  const title = page.getByLabel('Title of the job');
  await title.fill('Ferry, second go');
  await title.press('Enter');
  await page.getByRole('link', { name: 'Dragoman: all jobs' }).click();
  await expect(page.getByRole('link', { name: 'Ferry, second go' })).toBeVisible();
  await page.getByRole('button', { name: 'Delete Ferry, second go' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByRole('link', { name: 'Ferry, second go' })).toHaveCount(0);
});

test('two tabs share one brief', async ({ context }) => {
  const first = await context.newPage();
  await openShelf(first);
  await first.goto('/job/demo/sources?view=strands');
  await expect(first.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
  const second = await context.newPage();
  await second.goto('/job/demo/sources?view=strands');
  await expect(second.getByText('15 strands in the score')).toBeVisible({ timeout: 30_000 });
  await first.getByLabel('Flute goes into the score').click();
  await expect(second.getByLabel('Flute goes into the score')).not.toBeChecked();
  await second.getByLabel('Harp goes into the score').click();
  await expect(first.getByText('13 strands in the score')).toBeVisible();
});
