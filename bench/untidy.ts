/**
 * How well the untidy demo file (seeds 1–5) is read, beside rounding every
 * onset and release to the nearest 16th: `npm run bench:untidy`. Both see the
 * file after all mends that stock-taking offers. The truth is the demo score;
 * its swung bars are told apart.
 */

import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { withDirectives } from '../src/core/decisions/decisions';
import { lanternFerry, SWUNG_BARS } from '../src/core/demo/lantern-ferry';
import { untidyFile } from '../src/core/demo/untidy';
import { QUARTER } from '../src/core/model/time';
import { type SoundedNote, soundedNotes } from '../src/core/perform/play';
import { readSmf } from '../src/core/sources/smf/read';
import { findOddities } from '../src/core/stock/oddities';
import { transcribeNow } from '../src/core/transcribe';
import { layOutFile } from '../tests/helpers/desk';

const SEEDS = [1, 2, 3, 4, 5];
const SIXTEENTH = QUARTER / 4;

interface Tally {
  notes: number;
  places: [number, number];
  lengths: [number, number];
}

const truth = lanternFerry();
const swungFrom = truth.bars[SWUNG_BARS.from]!.start;
const swungTo = truth.bars[SWUNG_BARS.to]!.start;
const tally: Record<string, Tally> = {};

for (const seed of SEEDS) {
  const smf = readSmf(untidyFile(seed));
  const raw = layOutFile(smf, EMPTY_BRIEF);
  const mends = findOddities(raw.performance, raw.decisions).flatMap((oddity) => oddity.mend.directives);
  const brief = withDirectives(EMPTY_BRIEF, mends);
  const { performance } = layOutFile(smf, brief);
  const { score, plans } = transcribeNow(performance, brief);
  for (const part of truth.parts) {
    // The untidy tracks follow the order of the parts, with the doubled track after the first violin.
    const index = truth.parts.indexOf(part);
    const track = index + 1 + (index > truth.parts.findIndex((each) => each.name === 'Violin I') ? 1 : 0);
    const strand = performance.strands.find((each) => each.track === track)!;
    const at = plans.findIndex((plan) => plan.strands.includes(strand.id));
    const read = soundedNotes(score, score.parts[at]!);
    const rounded = strand.notes.map((note) => {
      const place = (tick: number) =>
        Math.round(((tick / performance.clock.ticksPerQuarter) * QUARTER) / SIXTEENTH) * SIXTEENTH;
      const start = place(note.on);
      return { start, end: Math.max(start + SIXTEENTH, place(note.off)), key: note.key };
    });
    compare(part.name, soundedNotes(truth, part), [read, rounded]);
  }
}

function compare(
  name: string,
  want: readonly SoundedNote[],
  readings: readonly (readonly Pick<SoundedNote, 'start' | 'end' | 'key'>[])[],
): void {
  for (const note of want) {
    const group = note.start >= swungFrom && note.start < swungTo ? 'all parts, swung bars' : name;
    for (const row of group === name ? [name, 'all parts, straight bars'] : [group]) {
      tally[row] ??= { notes: 0, places: [0, 0], lengths: [0, 0] };
      tally[row].notes++;
    }
  }
  readings.forEach((reading, at) => {
    const places = new Set(reading.map((note) => `${note.start} ${note.key}`));
    const lengths = new Set(reading.map((note) => `${note.start} ${note.key} ${note.end}`));
    for (const note of want) {
      const group = note.start >= swungFrom && note.start < swungTo ? 'all parts, swung bars' : name;
      for (const row of group === name ? [name, 'all parts, straight bars'] : [group]) {
        if (places.has(`${note.start} ${note.key}`)) tally[row]!.places[at]!++;
        if (lengths.has(`${note.start} ${note.key} ${note.end}`)) tally[row]!.lengths[at]!++;
      }
    }
  });
}

const percent = (count: number, of: number): number => Math.round((1000 * count) / of) / 10;
console.log(
  `Untidy demo, seeds ${SEEDS.join(', ')}: percent of notes at the right place, and right in place and length`,
);
console.table(
  Object.fromEntries(
    Object.entries(tally).map(([name, { notes, places, lengths }]) => [
      name,
      {
        notes,
        place: percent(places[0], notes),
        'place, rounded': percent(places[1], notes),
        length: percent(lengths[0], notes),
        'length, rounded': percent(lengths[1], notes),
      },
    ]),
  ),
);
