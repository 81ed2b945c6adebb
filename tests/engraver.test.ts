import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { instrumentOf } from '@/core/instruments/catalogue';
import type { Score } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { soundedNotes } from '@/core/perform/play';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { transcribeNow } from '@/core/transcribe';
import { tidyScores, tidySmf } from './helpers/tidy-score';
import { engraver } from './helpers/verovio';

/**
 * verovio (LGPL) as an outside reader of our MusicXML: it must load without a
 * complaint, and the MIDI that it makes must have our onsets, sounding keys
 * and lengths. Its tempo, velocity and unpitched keys are not compared (known
 * to be unfit).
 */
async function heardByEngraver(score: Score): Promise<{ log: string; parts: string[][] }> {
  const toolkit = await engraver();
  toolkit.setOptions({ breaks: 'none' });
  expect(toolkit.loadData(writeMusicXml(score))).toBeTruthy();
  const log = toolkit.getLog();
  const smf = readSmf(Uint8Array.from(Buffer.from(toolkit.renderToMIDI(), 'base64')));
  const ticks = smf.division.kind === 'quarter' ? smf.division.ticks : 1;
  const heard = readPerformance(smf);
  // One track a staff, after the tempo track.
  const owners = score.parts.flatMap((part, index) => part.clefs.map(() => index));
  const parts = score.parts.map((): string[] => []);
  // verovio ends every note one tick early.
  for (const strand of heard.strands)
    for (const note of strand.notes)
      parts[owners[strand.track - 1]!]!.push(
        entry(note.on / ticks, (note.off + 1 - note.on) / ticks, note.key),
      );
  return { log, parts: parts.map((list) => list.sort()) };
}

/** In 24ths of a quarter, which hold both 32nds and triplets; verovio's own ticks are rounded. */
const entry = (onset: number, length: number, key: number): string =>
  `${Math.round(onset * 24)} ${Math.round(length * 24)} ${key}`;

const ownNotes = (score: Score): string[][] =>
  score.parts
    .filter((part) => !instrumentOf(part.instrument).unpitched)
    .map((part) =>
      soundedNotes(score, part)
        .map((note) => entry(note.start / QUARTER, (note.end - note.start) / QUARTER, note.key))
        .sort(),
    );

describe('our MusicXML in verovio', () => {
  it('loads the demo piece without warnings and plays what we wrote, transposing parts included', async () => {
    const truth = lanternFerry();
    const pitched = {
      ...truth,
      parts: truth.parts.filter((part) => !instrumentOf(part.instrument).unpitched),
    };
    const { log, parts } = await heardByEngraver(pitched);
    expect(log).toBe('');
    expect(parts).toEqual(ownNotes(pitched));
  });

  it('loads random scores without warnings and plays what we wrote', async () => {
    await fc.assert(
      fc.asyncProperty(tidyScores, async (tidy) => {
        const { score } = transcribeNow(readPerformance(readSmf(writeSmf(tidySmf(tidy)))), EMPTY_BRIEF);
        const { log, parts } = await heardByEngraver(score);
        expect(log).toBe('');
        expect(parts).toEqual(ownNotes(score));
      }),
      { numRuns: 60 },
    );
  });
});
