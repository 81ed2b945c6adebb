import { counted } from '../../basics/words';
import { barsOfPiece } from '../../model/clock';
import { PERCUSSION_CHANNEL, type Performance } from '../../model/performance';
import type { Finder } from './oddity';

/** Fewer beats that are divided say nothing. */
const FEWEST = 24;
/** So many of them go in threes, and so many have a note on the second of the three: a shuffle has none there. */
const IN_THREES = 0.92;
const ON_SECOND = 0.35;
/** An attack this near to a third, or to a half or quarter, stands there; as a share of the beat. */
const NEAR = 0.05;
/** Within this of the beat an attack is on it. */
const ON_BEAT = 0.1;
/** More beats are no piece. */
const MOST_BEATS = 20_000;

/** How the quarters that have notes inside are divided. */
function divisionsOf({ strands, clock }: Performance): { divided: number; threes: number; second: number } {
  const beats = new Map<number, Set<'second' | 'third' | 'other'>>();
  for (const { notes, channel } of strands) {
    if (channel === PERCUSSION_CHANNEL) continue;
    for (const { on } of notes) {
      const at = (on - clock.upbeat) / clock.ticksPerQuarter;
      const beat = Math.floor(at);
      const inside = at - beat;
      if (inside < ON_BEAT || inside > 1 - ON_BEAT) continue;
      const kinds = beats.get(beat) ?? new Set();
      beats.set(beat, kinds);
      kinds.add(
        Math.abs(inside - 1 / 3) < NEAR ? 'second' : Math.abs(inside - 2 / 3) < NEAR ? 'third' : 'other',
      );
    }
  }
  const all = [...beats.values()];
  return {
    divided: all.length,
    threes: all.filter((kinds) => !kinds.has('other')).length,
    second: all.filter((kinds) => kinds.has('second')).length,
  };
}

/**
 * A piece in a simple meter all of whose beats go in threes: a compound meter spares it as many
 * triplets (common practice). Swung music, which has long and short and no middle, is none.
 */
export const findThrees: Finder = (performance, decisions) => {
  const { clock, end, meters } = performance;
  const [meter] = meters;
  const numerator = meter?.numerator ?? 4;
  const isSimple = (meter?.denominator ?? 4) === 4 && numerator <= 4 && meters.length <= 1;
  const upbeat = clock.upbeat / clock.ticksPerQuarter;
  if (!isSimple || decisions.beats || decisions.meter || !Number.isInteger(upbeat)) return [];
  const { divided, threes, second } = divisionsOf(performance);
  if (divided < FEWEST || threes < IN_THREES * divided || second < ON_SECOND * divided) return [];
  const last = barsOfPiece(clock, end).at(-1);
  const beats = Math.ceil((last ? last.start + last.length : end) / clock.ticksPerQuarter);
  if (beats > MOST_BEATS) return [];
  const ticks = Array.from(
    { length: beats + 1 },
    (_, beat) => Math.round(beat * clock.ticksPerQuarter * 100) / 100,
  );
  return [
    {
      id: 'threes',
      kind: 'threes',
      strand: null,
      place: null,
      count: threes,
      sure: 0.9,
      harm: { takes: 'bars' },
      what: `Of ${counted(divided, 'divided beat')} ${threes.toLocaleString('en')} go in threes: ${numerator * 3}/8 reads without a triplet where ${numerator}/4 has one in each.`,
      mend: {
        label: `Write it in ${numerator * 3}/8`,
        directives: [{ kind: 'beats', ticks, perBar: numerator, first: upbeat % numerator, unit: 1.5 }],
      },
    },
  ];
};
