import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { strFromU8, unzipSync } from 'fflate';
import { seeded } from '../../src/core/basics/random';
import type { SmfTrack } from '../../src/core/sources/smf/events';
import { writeSmf } from '../../src/core/sources/smf/write';
import { choose } from './helpers';
import { expect, test } from './visit';

type Struck = { at: number; key: number };

/** Notes at 120 quarter notes a minute: seconds from the start, on eighths here and there. */
function line(seed: number, low: number): Struck[] {
  const random = seeded(seed);
  return Array.from({ length: 48 }, (_, eighth) => ({
    at: eighth / 4,
    key: low + Math.floor(random() * 12),
    is: random() < 0.6,
  })).filter(({ is }) => is);
}

const track = (name: string, channel: number, notes: readonly Struck[]): SmfTrack => ({
  events: [
    { kind: 'trackName', tick: 0, type: 3, bytes: new TextEncoder().encode(name) },
    ...notes.flatMap(({ at, key }): SmfTrack['events'] => [
      { kind: 'noteOn', tick: at * 960, channel, key, velocity: 90 },
      { kind: 'noteOff', tick: at * 960 + 220, channel, key, velocity: 0, asNoteOn: true },
    ]),
  ],
});

const RATE = 16_000;

/** Notes as tones that die away, so many seconds late: a WAV file of one channel and 16 bits. */
function toned(notes: readonly Struck[], late: number): Buffer {
  const samples = new Float64Array(Math.ceil((late + 13) * RATE));
  for (const { at, key } of notes) {
    const hertz = 440 * 2 ** ((key - 69) / 12);
    const from = Math.round((at + late) * RATE);
    for (let frame = 0; frame < 0.23 * RATE; frame++)
      samples[from + frame]! +=
        0.3 * Math.exp((-8 * frame) / RATE) * Math.sin((2 * Math.PI * hertz * frame) / RATE);
  }
  const wav = Buffer.alloc(44 + 2 * samples.length);
  wav.write('RIFF', 0);
  wav.writeUInt32LE(wav.length - 8, 4);
  wav.write('WAVEfmt ', 8);
  wav.writeUInt32LE(16, 16);
  wav.writeUInt16LE(1, 20);
  wav.writeUInt16LE(1, 22);
  wav.writeUInt32LE(RATE, 24);
  wav.writeUInt32LE(2 * RATE, 28);
  wav.writeUInt16LE(2, 32);
  wav.writeUInt16LE(16, 34);
  wav.write('data', 36);
  wav.writeUInt32LE(2 * samples.length, 40);
  samples.forEach((value, at) => {
    wav.writeInt16LE(Math.round(32_767 * Math.max(-1, Math.min(1, value))), 44 + 2 * at);
  });
  return wav;
}

const view = (page: Page) => page.getByRole('region', { name: 'Stems', exact: true });
const partOf = (page: Page, stem: string) =>
  view(page)
    .getByRole('row')
    .filter({ has: page.getByRole('combobox', { name: `Part of ${stem}` }) });
const begins = (page: Page, stem: string) =>
  view(page).getByLabel(`Seconds of ${stem} at which the piece begins`);

test('stems are dropped on a job, laid, matched by name and by sound, heard together and in turns with a part, and in the packet', async ({
  page,
}) => {
  test.setTimeout(240_000);
  const [flute, bass] = [line(3, 72), line(8, 36)];
  const tracks = [track('Flute', 0, flute), track('Double Bass', 1, bass)];
  await page.goto('/');
  const song = writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks });
  await choose(page, 'song.mid', song);
  await page.getByRole('region', { name: 'The source' }).waitFor({ timeout: 30_000 });

  const sound = (name: string, buffer: Buffer) => ({ name, mimeType: 'audio/wav', buffer });
  await page
    .getByTestId('file-input')
    .setInputFiles([
      sound('01 Flute.wav', toned(flute, 1.5)),
      sound('beta.wav', toned(bass, 1.5)),
      sound('broken.wav', Buffer.from('no sound')),
    ]);
  const asks = page.getByRole('dialog', { name: 'What are these 3 files?' });
  await expect(asks.getByRole('radio', { name: /^Stems of/ })).toBeChecked();
  await asks.getByRole('button', { name: 'Take them in' }).click();
  await expect(page.getByText('broken.wav: This is no recording that the browser can play.')).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).first().click();

  await page.getByRole('radiogroup', { name: 'View of the source' }).getByText('Recordings').click();
  await expect(view(page).getByRole('row')).toHaveCount(3);
  await expect(partOf(page, '01 Flute')).toContainText('Flute');
  await expect(partOf(page, 'beta')).toContainText('No part');
  await view(page).getByRole('button', { name: 'Lay all along the piece' }).click();
  for (const stem of ['01 Flute', 'beta'])
    await expect
      .poll(async () => Number(await begins(page, stem).inputValue()), { timeout: 60_000 })
      .toBeCloseTo(1.5, 1);
  await view(page).getByRole('button', { name: 'Match the others by sound' }).click();
  await expect(partOf(page, 'beta')).toContainText('Contrabass', { timeout: 60_000 });

  // Undone and done again, it is a step like any other.
  await page.keyboard.press('Control+z');
  await expect(partOf(page, 'beta')).toContainText('No part');
  await page.keyboard.press('Control+Shift+z');
  await expect(partOf(page, 'beta')).toContainText('Contrabass');
  await view(page).getByLabel('Name of beta.wav').fill('Bass, dry');
  await view(page).getByLabel('Name of beta.wav').press('Enter');

  // In turns with its part, then all that is not muted.
  await view(page).getByRole('button', { name: 'Hear Bass, dry in turns with its part' }).click();
  const playback = page.getByRole('region', { name: 'Playback' });
  const clock = page.getByRole('timer', { name: 'Place' });
  await expect(clock).not.toHaveText('0:00.0', { timeout: 30_000 });
  await playback.getByRole('button', { name: 'Stop' }).click();
  await playback.getByLabel('What is heard').press('Enter');
  await page.getByTitle('The stems that are not muted, together').click();
  const then = (await clock.textContent()) ?? '';
  await playback.getByRole('button', { name: 'Play' }).click();
  await expect(clock).not.toHaveText(then, { timeout: 30_000 });
  await playback.getByRole('button', { name: 'Stop' }).click();
  await view(page).getByRole('checkbox', { name: '01 Flute is heard with the others' }).click();

  await page.reload();
  await expect(view(page).getByLabel('Name of beta.wav')).toHaveValue('Bass, dry');
  await expect(
    view(page).getByRole('checkbox', { name: '01 Flute is heard with the others' }),
  ).not.toBeChecked();
  await view(page).getByRole('checkbox', { name: 'Choose 01 Flute' }).click();
  await view(page).getByRole('button', { name: 'Hide 1' }).click();
  await expect(view(page).getByRole('row')).toHaveCount(2);
  await view(page).getByRole('checkbox', { name: 'Show 1 hidden stem' }).click();
  await expect(view(page).getByRole('row')).toHaveCount(3);
  await page.keyboard.press('Control+z');
  await expect(view(page).getByRole('checkbox', { name: /hidden stem/ })).toHaveCount(0);

  await page.getByRole('link', { name: /^Deliver/ }).click();
  await page.getByText('Packet', { exact: true }).first().click();
  const pieces = page.getByRole('region', { name: 'Packet' });
  const taken = pieces.getByRole('checkbox', { checked: true });
  for (let left = await taken.count(); left > 0; left--) {
    await taken.first().click();
    await expect(taken).toHaveCount(left - 1);
  }
  await pieces.getByRole('checkbox', { name: 'Stems, where there are some' }).click();
  const saved = page.waitForEvent('download', { timeout: 60_000 });
  await pieces.getByRole('button', { name: 'Make the packet' }).click();
  const packet = unzipSync(readFileSync((await (await saved).path())!));
  const paths = Object.keys(packet).map((path) => path.replace(/^[^/]*\//, ''));
  expect(paths).toEqual(expect.arrayContaining(['8 Stems/1 Flute.wav', '8 Stems/2 Bass, dry.wav']));
  const wav = Object.entries(packet).find(([path]) => path.endsWith('Bass, dry.wav'))![1];
  expect(strFromU8(wav.subarray(0, 4))).toBe('RIFF');
  expect(Buffer.compare(Buffer.from(wav), toned(bass, 1.5))).toBe(0);
});
