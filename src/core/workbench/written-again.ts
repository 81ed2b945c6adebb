import { type Graph, node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { counted } from '../basics/words';
import { arrangedScore } from '../cast/arrange-score';
import { leaderOf } from '../cast/written';
import type { Desk } from '../clean/desk';
import { type Decisions, decidedFor } from '../decisions/decisions';
import type { EventId, PartId } from '../model/ids';
import type { Anchor } from '../model/marks';
import type { Performance } from '../model/performance';
import type { Chord, Note, Part, PartBar, Score, VoiceLine } from '../model/score';
import { restingBar } from '../notate/rests';
import { transposeScore } from '../notate/transpose';
import { performScore } from '../perform';
import { ALL_PLAYED, asWritten, type PerformSettings } from '../perform/settings';
import { withBars } from '../sources/bars';
import { playedOut } from '../sources/musicxml/played';
import type { ScoreReading } from '../sources/musicxml/source';
import { type Progress, type Transcription, transcribe } from '../transcribe';

/** Parts of a score that were written again, and what could not be. */
export interface Again {
  parts: ReadonlyMap<PartId, Part>;
  /** Sentences. */
  told: readonly string[];
}

export const NOTHING_AGAIN: Again = { parts: new Map(), told: [] };

/** Whether parts of a score are to be written again. */
export const wantsAgain = ({ all, strands }: Decisions): boolean =>
  all.again === true || [...strands.values()].some(({ again }) => again);

/** Each bar once, all notes as long and where they stand, and nothing else played out. */
const AS_IT_STANDS: PerformSettings = {
  ...asWritten(ALL_PLAYED),
  repeats: false,
  graces: false,
  fermatas: false,
  gradual: false,
};

/**
 * The parts of a score that are to be written again: played at their written times, and read as any performance is,
 * under what was decided about rhythm. Marks, lyrics, grace notes and all else that stands at notes go along with them.
 */
export function* writtenAgain(
  { performance, decisions, brief }: Desk,
  written: ScoreReading,
  graph: Graph,
): Generator<Progress, Again> {
  if (!wantsAgain(decisions)) return NOTHING_AGAIN;
  const { made } = arrangedScore(written, performance, decisions);
  const told: string[] = [];
  const chosen = written.score.parts.flatMap((part, index) => {
    if (!decidedFor(decisions, leaderOf(part)).again) return [];
    const own = made.has(part.id) || decidedFor(decisions, leaderOf(part)).into;
    if (own) told.push(`${part.name} is not written again: it is divided, or shares a staff.`);
    return own ? [] : [index];
  });
  if (chosen.length === 0) return { parts: new Map(), told };
  const source = remembered(written, PLAYED_AGAIN, { written, chosen });
  const result = yield* transcribe(source, brief, graph, { tells: false });
  const odd = otherBar(written.score, result.score);
  if (odd !== null)
    return {
      parts: new Map(),
      told: [...told, `Nothing is written again: bar ${odd} is not as long as its meter says.`],
    };
  const parts = new Map<PartId, Part>();
  for (const index of chosen) {
    const part = written.score.parts[index]!;
    const again = partOf(result, part.id);
    if (!again) {
      told.push(`${part.name} is not written again: nothing of it sounds.`);
      continue;
    }
    const carried = carriedOver(written.score, part, again);
    parts.set(part.id, carried.part);
    if (carried.left > 0)
      told.push(
        `${part.name}: ${counted(carried.left, 'mark')} of ${carried.left === 1 ? 'its' : 'their'} notes found no place where it is written again.`,
      );
  }
  return { parts, told };
}

const PLAYED_AGAIN = node(
  'played as it stands',
  ({ written, chosen }: { written: ScoreReading; chosen: readonly number[] }): Performance => {
    const { asRead, names, kept, source } = written;
    const score: Score = { ...asRead, parts: chosen.map((index) => asRead.parts[index]!) };
    const { played } = playedOut(score, performScore(score, AS_IT_STANDS), source, {
      parts: chosen.map((index) => names[index]!),
      fresh: kept?.fresh ?? 0,
      highest: kept?.highest ?? names.length,
    });
    return withBars(played, {});
  },
);

/** The number of the first bar that is not where it was. */
function otherBar(before: Score, now: Score): string | null {
  const odd = before.bars.find((bar, index) => {
    const own = now.bars[index];
    return own !== undefined && (own.start !== bar.start || own.length !== bar.length);
  });
  return odd ? (odd.printed ?? String(odd.number)) : null;
}

/** A part of a transcription that is led by the same strand. */
const partOf = ({ score }: Transcription, id: PartId): Part | undefined =>
  score.parts.find((part) => part.id === id);

/** What stands at a chord and goes along with it. */
type Held = Pick<Chord, 'lyrics' | 'marks' | 'graces' | 'gracesAfter'>;

/** A part that was written again, with all that stood in it before. */
function carriedOver(score: Score, before: Part, now: Part): { part: Part; left: number } {
  const held = new Map<EventId, { chord: Chord; note: Note }>();
  eachChord(before, (chord) => {
    for (const note of chord.notes)
      if (!note.tieStop && note.sources[0]) held.set(note.sources[0], { chord, note });
  });
  const taken = new Set<Chord>();
  const heads = new Map<EventId, string>();
  const again = (chord: Chord): Chord => {
    const begun = chord.notes.filter(({ tieStop }) => !tieStop);
    const owners = new Set(begun.flatMap(({ sources: [first] }) => (first && held.get(first)?.chord) || []));
    const fresh = [...owners].filter((owner) => !taken.has(owner));
    for (const owner of fresh) taken.add(owner);
    for (const { id, sources } of begun) if (sources[0] && !heads.has(sources[0])) heads.set(sources[0], id);
    const all = <K extends keyof Held>(name: K) => fresh.flatMap((owner) => (owner[name] ?? []) as unknown[]);
    const own: Held = Object.fromEntries(
      (['lyrics', 'marks', 'graces', 'gracesAfter'] as const).flatMap((name) => {
        const found = all(name);
        return found.length > 0 ? [[name, found]] : [];
      }),
    );
    const { lyrics: _, marks: __, graces: ___, gracesAfter: ____, ...bare } = chord;
    return { ...bare, notes: chord.notes.map(noteAgain), ...own };
  };
  const noteAgain = (note: Note): Note => {
    const [first] = note.sources;
    const own = first === undefined ? undefined : held.get(first)?.note;
    if (!own) return note;
    const { head, ghost, ringsOn, string, fret } = own;
    return {
      ...note,
      sources: own.sources,
      ...(head && { head }),
      ...(ghost && { ghost }),
      ...(ringsOn && { ringsOn }),
      ...(string !== undefined && { string }),
      ...(fret !== undefined && { fret }),
    };
  };
  const aligned = alignedTo(score, before, now);
  const isOneStaffing = aligned.clefs.length === before.clefs.length;
  const bars = score.bars.map((bar, index): PartBar => {
    const own = aligned.bars[index] ?? restingBar(bar, aligned.clefs.length);
    const { marks } = before.bars[index] ?? {};
    const voices = own.voices.map(
      (line): VoiceLine => ({
        ...line,
        items: line.items.map((item) => (item.kind === 'chord' ? again(item) : item)),
      }),
    );
    return { voices, ...(marks && { marks }) };
  });
  let left = 0;
  eachChord(before, (chord) => {
    if (!taken.has(chord) && !chord.notes.every(({ tieStop }) => tieStop))
      left += (chord.lyrics?.length ?? 0) + (chord.marks?.length ?? 0) + (chord.graces?.length ?? 0);
  });
  const { spanners: ___, bars: ____, changes: _____, ...rest } = before;
  const eventOf = new Map<string, EventId>();
  eachChord(before, ({ notes, graces = [], gracesAfter = [] }) => {
    for (const { id, sources } of [...graces, ...notes, ...gracesAfter])
      if (sources[0]) eventOf.set(id, sources[0]);
  });
  const along = (end: Anchor): Anchor | null => {
    if (!('note' in end)) return end;
    const event = eventOf.get(end.note);
    const id = event && heads.get(event);
    return id ? { note: id } : null;
  };
  const spanners = (before.spanners ?? []).flatMap((each) => {
    const [from, to] = [along(each.from), along(each.to)];
    if (!from || !to) left++;
    return from && to ? [{ ...each, from, to }] : [];
  });
  const changes = [
    ...(before.changes ?? []).filter(({ kind }) => kind !== 'clef'),
    ...((isOneStaffing ? before : aligned).changes ?? []).filter(({ kind }) => kind === 'clef'),
  ].sort((a, b) => a.bar - b.bar || a.at - b.at);
  return {
    part: {
      ...rest,
      clefs: isOneStaffing ? before.clefs : aligned.clefs,
      bars,
      ...(spanners.length > 0 && { spanners }),
      ...(changes.length > 0 && { changes }),
      anew: true,
    },
    left,
  };
}

/** A part as another one transposes. */
function alignedTo(score: Score, { transposition: to }: Part, now: Part): Part {
  const { chromatic, diatonic } = now.transposition;
  if (chromatic === to.chromatic && diatonic === to.diatonic) return now;
  const { parts } = transposeScore({ ...score, parts: [now] }, new Map([[now.id, { to: () => to }]])).score;
  return parts[0]!;
}

function eachChord({ bars }: Part, take: (chord: Chord) => void): void {
  for (const { voices } of bars)
    for (const { items } of voices) for (const item of items) if (item.kind === 'chord') take(item);
}
