import { counted } from '../../basics/words';
import { decidedFor } from '../../decisions/decisions';
import type { Family } from '../../instruments/catalogue';
import { recogniseInstrument } from '../../instruments/recognise';
import type { Strand } from '../../model/performance';
import { type Finder, NEXT_TO_CERTAIN, type Oddity } from './oddity';

/** Of these one player plays chords, so that lines in one rhythm are hardly several players (common practice). */
const CHORDAL: ReadonlySet<Family> = new Set(['plucked', 'keyboard']);
/** So many strands of single notes are a chord that was taken apart; fewer may be a duet. */
const FEWEST = 3;
/** So many notes at least, and such a share of them struck together with those of the first. */
const NOTES = 16;
const TOGETHER = 0.92;
/** What begins within this share of a quarter begins together. */
const NEAR = 1 / 16;

/** The share of a strand's notes that begin with one of another. */
function togetherShare(strand: Strand, other: Strand, near: number): number {
  let at = 0;
  let together = 0;
  for (const { on } of strand.notes) {
    while (at + 1 < other.notes.length && other.notes[at]!.on < on - near) at++;
    if (Math.abs((other.notes[at]?.on ?? Number.POSITIVE_INFINITY) - on) <= near) together++;
  }
  return together / strand.notes.length;
}

/** Strands of one guitar or keyboard that strike together, a note each: chords of one player, taken apart. */
export const findOnePlayer: Finder = ({ strands, clock }, decisions) => {
  const near = NEAR * clock.ticksPerQuarter;
  const alike = new Map<string, Strand[]>();
  for (const strand of strands) {
    const { into, out, instrument } = decidedFor(decisions, strand.id);
    const guess = recogniseInstrument(strand).instrument;
    const isOpen = into === undefined && !out && instrument === undefined;
    if (!isOpen || !CHORDAL.has(guess.family) || strand.most > 1 || strand.notes.length < NOTES) continue;
    const of = `${guess.id} ${strand.programs[0] ?? ''}`;
    alike.set(of, [...(alike.get(of) ?? []), strand]);
  }
  return [...alike.values()].flatMap((group): Oddity[] => {
    const [first] = group;
    if (!first) return [];
    const others = group.filter(
      (strand) =>
        strand !== first &&
        togetherShare(strand, first, near) >= TOGETHER &&
        togetherShare(first, strand, near) >= TOGETHER,
    );
    if (others.length + 1 < FEWEST) return [];
    return [
      {
        id: `one-player ${first.id}`,
        kind: 'one-player',
        strand: first.id,
        place: null,
        count: others.length + 1,
        sure: NEXT_TO_CERTAIN,
        harm: null,
        what: `${counted(others.length + 1, 'strand')} of one ${recogniseInstrument(first).instrument.name} strike together, a note each: chords of one player, taken apart.`,
        mend: {
          label: 'Write them as one part',
          directives: others.map(({ id }) => ({ kind: 'join', strand: id, into: first.id })),
        },
      },
    ];
  });
};
