import { lastAtOrBefore } from '../basics/search';
import type { PartPlan } from '../cast/route';
import type { Performance, Strand, TextAt } from '../model/performance';

/** A syllable this near to an attack is sung with it, in quarter notes. */
const WITH = 1 / 8;
/** Part of a track's syllables that must be sung with its own notes, and with those of any part that takes them. */
const OWN = 0.5;
const LEAST = 0.3;
/** A part of voices, and one that has about as many attacks as there are syllables, is preferred by so much. */
const VOICE = 0.15;
const AS_MANY = 0.15;

/** Lyrics by the part whose line they belong to, and those that no part takes. */
export interface SharedLyrics {
  lyricsOf: Map<PartPlan, TextAt[]>;
  homeless: TextAt[];
}

/**
 * The lyrics of each track go to the part written from it, where they are
 * sung with its notes; else, as files of songs have them on a track of their
 * own, to the part with whose attacks they coincide best (common practice of
 * such files: a syllable stands at the tick of its note).
 */
export function shareLyrics(
  { lyrics, strands, clock }: Performance,
  plans: readonly PartPlan[],
): SharedLyrics {
  const lyricsOf = new Map<PartPlan, TextAt[]>();
  const homeless: TextAt[] = [];
  if (lyrics.length === 0) return { lyricsOf, homeless };
  const byId = new Map(strands.map((strand) => [strand.id, strand]));
  const strandsOf = (plan: PartPlan) => plan.strands.flatMap((id) => byId.get(id) ?? []);
  const within = WITH * clock.ticksPerQuarter;
  const attacks = new Map(plans.map((plan) => [plan, attacksOf(strandsOf(plan))]));
  for (const track of new Set(lyrics.map((lyric) => lyric.track))) {
    const own = lyrics.filter((lyric) => lyric.track === track);
    const judged = plans
      .filter(({ instrument }) => !instrument.unpitched)
      .map((plan) => {
        const all = attacks.get(plan)!;
        const sung = own.filter(({ tick }) => isNear(all, tick, within)).length / own.length;
        const asMany = Math.min(all.length, own.length) / Math.max(1, all.length, own.length);
        const isVoice = plan.instrument.family === 'voice';
        return { plan, sung, worth: sung + (isVoice ? VOICE : 0) + AS_MANY * asMany };
      });
    const home = judged.find(({ plan }) => strandsOf(plan).some((strand) => strand.track === track));
    const [best] = judged.toSorted((a, b) => b.worth - a.worth);
    const voice = judged.find(({ plan }) => plan.instrument.family === 'voice');
    const taken =
      home && (home.sung >= OWN || home.sung >= (best?.sung ?? 0))
        ? home
        : best && best.sung >= LEAST
          ? best
          : (home ?? voice);
    if (taken)
      lyricsOf.set(
        taken.plan,
        [...(lyricsOf.get(taken.plan) ?? []), ...own].sort((a, b) => a.tick - b.tick),
      );
    else homeless.push(...own);
  }
  return { lyricsOf, homeless };
}

const attacksOf = (strands: readonly Strand[]): number[] =>
  [...new Set(strands.flatMap(({ notes }) => notes.map(({ on }) => on)))].sort((a, b) => a - b);

function isNear(ticks: readonly number[], tick: number, within: number): boolean {
  const at = lastAtOrBefore(ticks, tick, (each) => each);
  return [ticks[at], ticks[at + 1]].some((each) => each !== undefined && Math.abs(each - tick) <= within);
}
