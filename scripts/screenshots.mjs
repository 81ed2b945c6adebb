// Renews docs/screenshots from the demo piece in the built application.

import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chromium as browserType } from '@playwright/test';
import { sketch } from './sketch.mjs';
import { build, CHROMIUM_ARGUMENTS, chromium, root } from './tools.mjs';

const PORT = '4704';
const address = `http://localhost:${PORT}`;
build();
const server = spawn(process.execPath, [join(root, 'scripts', 'serve.mjs')], {
  env: { ...process.env, PORT },
  stdio: 'ignore',
});
const browser = await browserType.launch({
  executablePath: chromium(),
  args: CHROMIUM_ARGUMENTS,
});

try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  for (let attempt = 0; attempt < 50; attempt++) {
    const up = await page.goto(address).then(
      () => true,
      () => false,
    );
    if (up) break;
    await page.waitForTimeout(200);
  }
  const shot = (name) => page.screenshot({ path: join(root, 'docs', 'screenshots', `${name}.png`) });
  await page.getByRole('link', { name: 'Lantern Ferry', exact: true }).waitFor();
  await page.goto(`${address}/job/demo-untidy/sources?view=strands`);
  await page.getByText('16 strands in the score').waitFor();
  await page.getByLabel('Vlns thick 8va goes into the score').click();
  await page.getByText('15 strands in the score').waitFor();
  await page.waitForTimeout(800);
  await shot('sources');
  await page.goto(`${address}/job/demo-untidy/sources?view=bars`);
  await page.getByTestId('note-bars').waitFor();
  await page.waitForTimeout(800);
  for (let step = 0; step < 3; step++) await page.getByRole('button', { name: 'Zoom in' }).click();
  await page.getByRole('group', { name: /^Notes over time/ }).focus();
  for (let step = 0; step < 4; step++) await page.keyboard.press('.');
  await page.waitForTimeout(400);
  await shot('note-bars');
  await page.goto(`${address}/job/demo-untidy/sources?view=oddities`);
  await page.locator('.ant-table').first().waitFor();
  await page.waitForTimeout(600);
  await shot('oddities');
  await page.goto(`${address}/job/demo-untidy/sources?view=overview`);
  await page.locator('section[aria-label^="The score"] svg').first().waitFor();
  await page.getByText(/findings? in the score/).waitFor();
  await page.waitForTimeout(600);
  await shot('overview');
  await page.goto(`${address}/job/demo-untidy/roster`);
  await page.getByRole('heading', { name: '15 parts' }).waitFor();
  await page.waitForTimeout(500);
  await shot('roster');
  await page.goto(`${address}/job/demo-untidy/time`);
  await page.locator('[data-note]').first().waitFor();
  for (const name of ['Viola', 'B♭ Clarinet', 'Alto Saxophone 2'])
    await page.getByRole('checkbox', { name, exact: true }).click();
  for (let step = 0; step < 2; step++) await page.getByRole('button', { name: 'Bars after' }).click();
  await page.waitForTimeout(1500);
  await page.getByRole('application', { name: /^Viola/ }).focus();
  for (let step = 0; step < 4; step++) await page.keyboard.press('ArrowRight');
  await page.waitForTimeout(2500);
  await shot('time');
  await page.getByRole('button', { name: 'Night' }).click();
  await page.getByRole('tab', { name: 'Evidence' }).click();
  await page.waitForTimeout(1200);
  await shot('time-night');
  await page.getByRole('button', { name: 'Night' }).click();
  await page.keyboard.press('Shift+ArrowRight');
  await page.getByRole('checkbox', { name: 'Compare with what was found' }).click();
  await page.getByText('2 bars', { exact: true }).click();
  await page.getByRole('tab', { name: /^Findings/ }).click();
  await page.waitForTimeout(3000);
  await shot('time-compared');
  await page.keyboard.press('Control+z');
  await page.getByText('Beats', { exact: true }).click();
  await page.getByRole('slider', { name: 'Bar line of bar 3' }).focus();
  await page.waitForTimeout(800);
  await shot('beats');
  await page.goto(`${address}/job/demo-untidy/deliver`);
  await page.getByText('notes in the source').waitFor();
  await page.waitForTimeout(600);
  await shot('deliver');
  await page.getByText('MIDI file', { exact: true }).click();
  await page.getByText('What it leaves out').waitFor();
  await page.waitForTimeout(400);
  await shot('deliver-midi');
  await page.goto(`${address}/job/demo-untidy/proof`);
  await page.getByText('MIDI, notes as written, read back').waitFor();
  await page.getByLabel('Search the findings').fill('Harp');
  await page.getByRole('cell', { name: /^Held for/ }).click();
  await page.locator('[data-note]').first().waitFor();
  await page.waitForTimeout(1500);
  await shot('proof');
  await page.goto(`${address}/job/demo/notes`);
  await page.locator('[data-engraved="true"]').first().waitFor();
  await page.waitForTimeout(1500);
  await page.locator('g.note .notehead').nth(40).click();
  await page.getByText('Played at').waitFor();
  await page.waitForTimeout(300);
  await shot('notes');
  await page.goto(`${address}/job/demo-untidy/notes`);
  await page.locator('[data-engraved="true"]').first().waitFor();
  await page.getByRole('tab', { name: /^Marks/ }).click();
  await page.getByRole('button', { name: 'Write all' }).click();
  await page.locator('[data-engraved="true"] .dynam').first().waitFor();
  await page.getByRole('button', { name: 'Show Alto Saxophone 2 alone' }).click();
  await page.getByText('Pages', { exact: true }).click();
  await page.getByText(/^\d+ pages?$/).waitFor();
  await page.waitForTimeout(800);
  await shot('pages');
  await page.keyboard.press('Control+z');
  await page.goto(`${address}/job/demo-untidy/sources?view=oddities`);
  await page.getByRole('button', { name: /^Mend the \d+ that are safe$/ }).click();
  await page.getByText(/^Mended: /).waitFor({ state: 'detached' });
  await page.keyboard.press('h');
  await page.getByRole('dialog', { name: 'History' }).waitFor();
  await page.waitForTimeout(600);
  await shot('history');
  // A sketch for two hands, rendered by the product, as a recording that is heard.
  await page.goto(address);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'sketch.mid', mimeType: 'audio/midi', buffer: sketch() });
  await page.getByRole('heading', { name: 'sketch.mid' }).waitFor();
  await page.goto(page.url().replace(/sources.*/, 'deliver'));
  await page.getByText('Audio', { exact: true }).first().click();
  const idea = page.waitForEvent('download', { timeout: 120_000 });
  await page.getByRole('button', { name: 'Render' }).click();
  const heard = readFileSync(await (await idea).path());
  await page.goto(address);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'idea.wav', mimeType: 'audio/wav', buffer: heard });
  await page.getByRole('heading', { name: 'idea.wav' }).waitFor({ timeout: 120_000 });
  await page.getByText('Recordings', { exact: true }).first().click();
  await page.getByRole('region', { name: 'What was heard' }).waitFor();
  await page.waitForTimeout(2500);
  await shot('heard');
  await page.getByText('Note bars').first().click();
  await page.getByTestId('recording-wave').waitFor();
  await page.getByText('13', { exact: true }).click();
  await page.waitForTimeout(4000);
  await shot('heard-bars');
  // The tidy demo as a score that comes back as a source.
  await page.goto(`${address}/job/demo/deliver`);
  await page.getByText('notes in the source').waitFor();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download' }).click();
  const buffer = readFileSync(await (await download).path());
  const score = { name: 'lantern-ferry.musicxml', mimeType: 'application/xml', buffer };
  await page.goto(address);
  await page.getByTestId('file-input').setInputFiles(score);
  await page.getByText('MusicXML score').waitFor();
  await page.getByRole('link', { name: /^Deliver/ }).click();
  await page.getByText('MIDI file', { exact: true }).click();
  await page.getByRole('combobox', { name: 'Dynamics' }).click();
  await page.getByTitle('as velocity and a curve').click();
  await page.getByRole('region', { name: 'How the score is played' }).scrollIntoViewIfNeeded();
  await page.mouse.wheel(0, 600);
  await page.waitForTimeout(1500);
  await shot('score-source');
  // By now the demo jobs have been checked.
  await page.goto(address);
  await page.getByRole('link', { name: 'Lantern Ferry', exact: true }).first().waitFor();
  await page.waitForTimeout(800);
  await shot('jobs');
} finally {
  await browser.close();
  server.kill('SIGTERM');
}
