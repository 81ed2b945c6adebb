import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverMidi } from '@/core/deliver';
import { deliverScore } from '@/core/deliver/score';
import { QUARTER } from '@/core/model/time';
import { type MixForm, RULES } from '@/core/recording/heard';
import type { Mix } from '@/core/recording/mix';
import { readHeard, writeHeard } from '@/core/sources/audio/document';
import type { Heard } from '@/core/sources/audio/listen';
import { readSmf } from '@/core/sources/smf/read';
import { Workbench } from '@/core/workbench/workbench';
import { parseXml, schemaFaults } from './helpers/schema';

const BARS = 12;
/** Beats at 96 a minute that waver by a hundredth, from 0.7 s on; the first bar line is the third beat. */
const beatAt = (place: number): number => 0.7 + (place * 60) / 96 + 0.008 * Math.sin(place);
const FIRST = 2;
const SONG = [
  [10, 'major'],
  [7, 'minor-seventh'],
  [3, 'major'],
  [5, 'dominant'],
] as const;
const TUNE = [74, 77, 82, 79, 77, 75, 74, 72];

const note = (from: number, to: number, key: number, says = 2) => ({
  on: beatAt(from),
  off: beatAt(to) - 0.02,
  key,
  velocity: 90,
  cents: 0,
  says,
});
const mix: Mix = {
  beats: Array.from({ length: FIRST + 4 * BARS + 1 }, (_, at) => beatAt(at)),
  perBar: 4,
  first: FIRST,
  chords: Array.from({ length: BARS }, (_, bar) => {
    const [root, kind] = SONG[bar % SONG.length]!;
    return {
      on: beatAt(FIRST + 4 * bar),
      off: beatAt(FIRST + 4 * bar + 4),
      root,
      kind,
      confidence: bar === 5 ? 0.3 : 0.9,
    };
  }),
  // Eighths and a quarter, an upbeat before; one note that is not sure.
  tune: [
    note(1.5, 2, 77),
    ...Array.from({ length: BARS }, (_, bar) =>
      [0, 0.5, 1, 2, 3].map((place, at) =>
        note(
          FIRST + 4 * bar + place,
          FIRST + 4 * bar + (at < 2 ? place + 0.5 : place + 1),
          TUNE[(bar + at) % TUNE.length]!,
          bar === 3 && at === 2 ? 0.2 : 2,
        ),
      ),
    ).flat(),
  ],
  bass: Array.from({ length: BARS }, (_, bar) =>
    note(FIRST + 4 * bar, FIRST + 4 * bar + 4, 36 + ((SONG[bar % SONG.length]![0] + 8) % 12)),
  ),
};
const heard = (band: Mix | null): Heard => ({
  facts: { seconds: 36, peak: 0.5, clipped: 0, silentBefore: 0.2, silentAfter: 0.5 },
  tuning: 0,
  guess: 'many',
  line: [],
  many: mix.tune.map((each) => ({
    ...each,
    rules: { ghosts: 0, ringing: 0, doubled: 0, neighbours: 0, faint: 0 },
  })),
  mix: band,
});

const benchOf = (band: Mix | null) =>
  new Workbench([{ id: '1', version: 1, name: 'song.wav', bytes: writeHeard(heard(band)) }]);
const asBand = (form: MixForm, threshold = 0.5): PlainDirective => ({
  kind: 'hearing',
  read: 'mix',
  form,
  threshold,
  rules: [...RULES],
  from: null,
  to: null,
});
let revision = 0;
function under(bench: Workbench, ...directives: PlainDirective[]) {
  bench.layOut(++revision, withDirectives(EMPTY_BRIEF, directives));
  const written = finished(bench.write(revision));
  const { score } = written.transcription;
  const text = new TextDecoder().decode(deliverScore(written.desk, score, 'musicxml'));
  return { ...written, score, text };
}

describe('a band that was heard', () => {
  const bench = benchOf(mix);

  it('is kept in a document, and read as it was written', () => {
    const back = readHeard(writeHeard(heard(mix))).mix!;
    expect(back.chords.map(({ root, kind }) => [root, kind])).toEqual(
      mix.chords.map(({ root, kind }) => [root, kind]),
    );
    expect(back.beats).toHaveLength(mix.beats.length);
    for (const [at, beat] of back.beats.entries()) expect(beat).toBeCloseTo(mix.beats[at]!, 4);
    expect(back.tune).toHaveLength(mix.tune.length);
    expect(readHeard(writeHeard(heard(null))).mix).toBeNull();
  });

  it('is a lead sheet: its tune in its bars, its chords above', () => {
    const { score, text } = under(bench, asBand('lead-sheet'));
    expect(score.parts.map(({ name }) => name)).toEqual(['Tune']);
    expect(schemaFaults(parseXml(text))).toEqual([]);
    // The upbeat, and the bars.
    expect(score.bars).toHaveLength(BARS + 1);
    const written = score.parts[0]!.bars.slice(1).map(({ voices }) =>
      voices[0]!.items.flatMap((item) => (item.kind === 'chord' ? [item.onset / QUARTER] : [])),
    );
    expect(written.filter((places) => places.join() === '0,0.5,1,2,3')).toHaveLength(BARS);
    // One chord is less than half sure: the one before goes on.
    expect(text.match(/<harmony/g)).toHaveLength(BARS - 1);
    expect(text).toMatch(/<root-step>B<\/root-step>\s*<root-alter>-1<\/root-alter>/);
    expect(score.keys[0]).toMatchObject({ fifths: -2 });
  });

  it('takes what is sure enough, of notes and of chords', () => {
    const count = (threshold: number) => {
      const { text, score } = under(bench, asBand('lead-sheet', threshold));
      const chords = score.parts[0]!.bars.flatMap(({ voices }) =>
        voices.flatMap(({ items }) => items.filter(({ kind }) => kind === 'chord')),
      );
      return [text.match(/<harmony/g)?.length ?? 0, chords.length];
    };
    expect(count(0.2)).toEqual([BARS, mix.tune.length]);
    expect(count(0.6)).toEqual([BARS - 1, mix.tune.length - 1]);
  });

  it('has its bass on request, is laid under two hands, and goes out line by line', () => {
    expect(under(bench, asBand('with-bass')).score.parts.map(({ name }) => name)).toEqual(['Tune', 'Bass']);
    const piano = under(bench, asBand('piano')).score.parts;
    expect(piano.map(({ name, clefs }) => [name, clefs.length])).toEqual([['Piano', 2]]);
    const band = under(bench, asBand('band'));
    expect(band.score.parts.map(({ name }) => name).sort()).toEqual(['Bass', 'Chords', 'Tune']);
    const tracks = readSmf(deliverMidi(band.desk)).tracks.filter(({ events }) =>
      events.some(({ kind }) => kind === 'noteOn'),
    );
    expect(tracks).toHaveLength(3);
  });

  it('keeps what was decided of a note of its tune, whatever is made of it', () => {
    const [strand] = under(bench, asBand('lead-sheet')).desk.performance.strands;
    const { id, key } = strand!.notes[4]!;
    const raised: PlainDirective = { kind: 'pitch', note: id, steps: 1, semitones: 2 };
    for (const form of ['lead-sheet', 'with-bass', 'band', 'piano'] as const) {
      const { desk } = under(bench, asBand(form), raised);
      const found = desk.performance.strands.flatMap(({ notes }) => notes.filter((each) => each.id === id));
      expect(found.map((each) => each.key)).toEqual([key + 2]);
    }
  });

  it('of which nothing is known is told, and stays what it was', () => {
    const old = benchOf(null);
    const { desk, score } = under(old, asBand('lead-sheet'));
    expect(desk.refusals.map(({ why }) => why)).toContain(
      'This recording was heard before bands were: open its sound again to have it heard as one.',
    );
    expect(score.parts).toHaveLength(1);
    expect(desk.performance.strands[0]!.notes).toHaveLength(mix.tune.length);
  });
});
