import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { instrumentOf } from '../instruments/catalogue';
import type { Clef } from '../model/clefs';
import type { Mark } from '../model/marks';
import { diatonicHeight, type Interval, movedBy } from '../model/pitch';
import {
  type Bar,
  type Chord,
  clefAt,
  type Item,
  type Part,
  type PartBar,
  type Score,
  type VoiceLine,
  writtenKeys,
} from '../model/score';
import { showAccidentals } from './accidentals';
import { LINES } from './clefs';
import { barRests } from './rests';

/** A player who rested for so many bars is shown what comes before his entry (common practice: eight to ten). */
const LONG_REST = 8;
/** So many bars of it. */
const CUE_BARS = 2;
/** Of the time of a cue its part must play so much to be heard through it. */
const LEAST_PLAYED = 0.4;
/**
 * What makes a part easy to hear, against the share of time that it plays: one line, the highest of all, an entry
 * after a rest; and each octave that it must be moved by to lie about the reader's staff (common practice).
 */
const WORTH = { oneLine: 0.3, highest: 0.35, entry: 0.2, octave: -0.25 };
/** Steps that a cue may lie off the staff before it is written an octave nearer: three ledger lines. */
const OFF_STAFF = 6;

/** Bars (indices, `to` exclusive) before an entry that show what another part plays. */
export interface Cue {
  from: number;
  to: number;
  /** Index of the part that is shown. */
  of: number;
}

const plays = ({ voices }: PartBar): boolean =>
  voices.some(({ items }) => items.some((item) => item.kind === 'chord' && !item.cue));

/** Where a part wants cues, and of whom: for those who come in after a long rest. */
export function cuesFor({ bars, parts }: Pick<Score, 'bars' | 'parts'>, part: Part): Cue[] {
  const cues: Cue[] = [];
  let rested = 0;
  bars.forEach((_, index) => {
    if (!plays(part.bars[index]!)) {
      rested++;
      return;
    }
    const from = index - CUE_BARS;
    // What comes back after a jump, or in a bar of another kind, is counted there anyway.
    if (rested >= LONG_REST) {
      const of = bestHeard(bars, parts, part, from, index);
      if (of !== null) cues.push({ from, to: index, of });
    }
    rested = 0;
  });
  return cues;
}

function bestHeard(
  bars: readonly Bar[],
  parts: readonly Part[],
  own: Part,
  from: number,
  to: number,
): number | null {
  const length = bars.slice(from, to).reduce((sum, bar) => sum + bar.length, 0);
  const heard = parts.flatMap((part, index) => {
    if (part === own || instrumentOf(part.instrument).unpitched) return [];
    if (part.changes?.some(({ kind }) => kind === 'transposition')) return [];
    const lines = part.bars.slice(from, to).map(lineOf);
    const chords = lines.flatMap((line) => line?.items.filter((item) => item.kind === 'chord') ?? []);
    const played = chords.reduce((sum, { duration }) => sum + duration, 0) / length;
    if (chords.length === 0 || played < LEAST_PLAYED || !lines.at(-1)) return [];
    const top = chords.reduce((sum, { notes }) => sum + notes.at(-1)!.key, 0) / chords.length;
    const single = chords.filter(({ notes }) => notes.length === 1).length / chords.length;
    const entry = from > 0 && !plays(part.bars[from - 1]!) ? 1 : 0;
    const octaves = Math.abs(octavesTo(clefAt(own, 1, from, 0), lines, betweenParts(part, own)));
    const worth = played + WORTH.oneLine * single + WORTH.entry * entry + WORTH.octave * octaves;
    return [{ index, top, worth }];
  });
  const highest = Math.max(...heard.map(({ top }) => top));
  const [best] = heard
    .map((each) => ({ ...each, worth: each.worth + (each.top === highest ? WORTH.highest : 0) }))
    .sort((a, b) => b.worth - a.worth || a.index - b.index);
  return best?.index ?? null;
}

/** The line that leads in a bar: the first of the upper staff that plays. */
const lineOf = ({ voices }: PartBar): VoiceLine | undefined =>
  voices
    .filter(({ items }) => items.some((item) => item.kind === 'chord' && !item.cue))
    .toSorted((a, b) => a.staff - b.staff || a.voice - b.voice)[0];

/** How much higher the one reads what the other has written. */
const betweenParts = ({ transposition: from }: Part, { transposition: to }: Part): Interval => ({
  diatonic: from.diatonic - to.diatonic,
  chromatic: from.chromatic - to.chromatic,
});

/** A part with cues before its entries after long rests, in its own clef and transposition; made once for a score. */
export const withCues = (score: Score, part: Part): Part => remembered(part, CUED, { score, part });

const CUED = node('cued', ({ score, part }: { score: Score; part: Part }) => cued(score, part));

function cued(score: Score, part: Part): Part {
  if (instrumentOf(part.instrument).unpitched || part.changes?.some(({ kind }) => kind === 'transposition'))
    return part;
  const cues = cuesFor(score, part);
  if (cues.length === 0) return part;
  const bars = [...part.bars];
  const keys = writtenKeys(score, part);
  for (const { from, to, of } of cues) {
    const shown = score.parts[of]!;
    const clef = clefAt(part, 1, from, 0);
    const between = betweenParts(shown, part);
    const lines = shown.bars.slice(from, to).map(lineOf);
    const octaves = octavesTo(clef, lines, between);
    const moved: Interval = {
      diatonic: between.diatonic + 7 * octaves,
      chromatic: between.chromatic + 12 * octaves,
    };
    const said = lines.findIndex((line) => line !== undefined);
    lines.forEach((line, at) => {
      const bar = from + at;
      if (!line) return;
      const { fifths } = keys.findLast((key) => key.bar <= bar) ?? { fifths: 0 };
      const voice: VoiceLine = {
        voice: 1,
        staff: 1,
        items: line.items.map((item) =>
          small(item, moved, {
            opens: at === said && item.onset === 0,
            closes: bar === to - 1 && item === line.items.at(-1),
          }),
        ),
      };
      showAccidentals({ voices: [voice] }, fifths);
      const before = bars[bar]!;
      // Its own rest stands below the small notes.
      const rest: VoiceLine = { voice: 2, staff: 1, items: barRests(score.bars[bar]!) };
      const name: Mark = {
        kind: 'words',
        at: 0,
        staff: 1,
        placement: 'above',
        text: `${shown.abbreviation || shown.name}${octaveWords(octaves)}`,
      };
      bars[bar] = {
        ...before,
        voices: [voice, rest, ...before.voices.filter(({ staff }) => staff > 1)],
        ...(at === said && { marks: [...(before.marks ?? []), name] }),
      };
    });
  }
  return { ...part, bars };
}

/** What is written an octave lower sounds one higher. */
const octaveWords = (octaves: number): string => {
  const sign = octaves < 0 ? ['8va', '15ma', '22ma', '29ma'] : ['8vb', '15mb', '22mb', '29mb'];
  return octaves === 0 ? '' : ` (${sign[Math.abs(octaves) - 1]})`;
};

/** How many octaves higher a cue stands so that it lies about the staff. */
function octavesTo(clef: Clef, lines: readonly (VoiceLine | undefined)[], between: Interval): number {
  const heights = lines.flatMap(
    (line) =>
      line?.items.flatMap((item) =>
        item.kind === 'chord' ? [diatonicHeight(item.notes.at(-1)!.pitch) + between.diatonic] : [],
      ) ?? [],
  );
  const [bottom, top] = LINES[clef];
  const off = (octaves: number) =>
    heights.reduce((most, height) => {
      const at = height + 7 * octaves;
      return Math.max(most, bottom - at, at - top);
    }, 0);
  if (off(0) <= OFF_STAFF) return 0;
  return [-4, -3, -2, -1, 0, 1, 2, 3, 4].reduce(
    (best, octaves) => (off(octaves) < off(best) ? octaves : best),
    0,
  );
}

/** An item as it stands in a cue: the top note of a chord without what is said to its own player. */
function small(item: Item, moved: Interval, { opens, closes }: { opens: boolean; closes: boolean }): Item {
  if (item.kind === 'rest') return { ...item, hidden: true };
  const { onset, duration, value, tuplet, beams, notes } = item;
  const { accidental: _, courtesy: __, tieStart, tieStop, ...top } = notes.at(-1)!;
  const note = {
    id: `cue-${top.id}`,
    key: top.key,
    pitch: movedBy(top.pitch, moved),
    ...(tieStart && !closes && { tieStart }),
    ...(tieStop && !opens && { tieStop }),
    sources: [],
  };
  const made: Chord = { kind: 'chord', cue: true, onset, duration, value, notes: [note] };
  return { ...made, ...(tuplet && { tuplet }), ...(beams && { beams }) };
}
