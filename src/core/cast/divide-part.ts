import type { EventId } from '../model/ids';
import type { Anchor } from '../model/marks';
import {
  type Bar,
  type Chord,
  type Item,
  type Note,
  type Part,
  type PartBar,
  type Score,
  type VoiceLine,
  writtenKeys,
} from '../model/score';
import { showAccidentals } from '../notate/accidentals';
import { beamVoice } from '../notate/beams';
import { joinRests, restingBar } from '../notate/rests';
import { isPlayerWord } from '../perform/players';
import { isForAll } from '../sources/musicxml/said-once';

/** One of the players that a part is divided over. */
export interface Player {
  part: Pick<Part, 'id' | 'name' | 'abbreviation'>;
  /** The player's own events by those of the part: they differ where several play one note. */
  events: ReadonlyMap<EventId, EventId>;
  /** Takes what sounds for nobody, and what is said once for all parts. */
  isFirst: boolean;
}

/**
 * What one player of a part reads: its notes where they stand, rests where
 * others play, marks and slurs that are still its own; words on who plays are
 * gone. Accidentals and beams are set anew where notes have left.
 *
 * Written pitch as before; nothing of the part itself is changed.
 */
export function partOfPlayer(score: Score, part: Part, player: Player): Part {
  const names = new Map<string, string>();
  const keys = writtenKeys(score, part);
  const fifthsIn = (bar: number) => keys.findLast((key) => key.bar <= bar)?.fifths ?? 0;
  const bars = part.bars.map((bar, index) =>
    barOfPlayer(bar, score.bars[index]!, part.clefs.length, player, names, fifthsIn(index)),
  );
  const along = (end: Anchor): Anchor | null => {
    if (!('note' in end)) return end;
    const note = names.get(end.note);
    return note === undefined ? null : { note };
  };
  const spanners = part.spanners?.flatMap((spanner) => {
    const [from, to] = [along(spanner.from), along(spanner.to)];
    return from && to ? [{ ...spanner, from, to }] : [];
  });
  return { ...part, ...player.part, bars, ...(spanners && { spanners }) };
}

function barOfPlayer(
  bar: PartBar,
  of: Bar,
  staves: number,
  player: Player,
  names: Map<string, string>,
  fifths: number,
): PartBar {
  let hasLost = false;
  const kept = (chord: Chord): Item => {
    const own = <N extends Note>(notes: readonly N[]): N[] => notes.filter((note) => isOf(player, note));
    const notes = own(chord.notes);
    if (notes.length < chord.notes.length) hasLost = true;
    const { onset, duration, value, tuplet } = chord;
    if (notes.length === 0) return { kind: 'rest', onset, duration, value, ...(tuplet && { tuplet }) };
    const { graces, gracesAfter, ...plain } = chord;
    const name = (note: Note) => named(note, player, names);
    return {
      ...plain,
      ...(graces && { graces: own(graces).map(name) }),
      notes: notes.map(name),
      ...(gracesAfter && { gracesAfter: own(gracesAfter).map(name) }),
    };
  };
  const lines = bar.voices
    .map((line) => ({
      ...line,
      items: line.items.map((item) => (item.kind === 'chord' ? kept(item) : item)),
    }))
    .filter(({ items }) => items.some(({ kind }) => kind === 'chord'));
  if (bar.voices.some(({ items }) => items.some(({ kind }) => kind === 'chord')) && lines.length === 0)
    hasLost = true;
  const marks = bar.marks?.filter((mark) =>
    mark.kind === 'words' ? !isPlayerWord(mark.text) : player.isFirst || !isForAll(mark),
  );
  const rests = restingBar(of, staves).voices.filter(
    ({ staff }) => !lines.some((line) => line.staff === staff),
  );
  const voices: VoiceLine[] = [...lines.map((line) => alone(line, lines)), ...rests].sort(
    (a, b) => a.staff - b.staff,
  );
  const own: PartBar = { voices, ...(marks && marks.length > 0 && { marks }) };
  if (!hasLost) return own;
  for (const line of own.voices) line.items = joinRests(line.items, of);
  showAccidentals(own, fifths);
  for (const { items } of own.voices) beamVoice(items, of);
  return own;
}

/** Who is alone on a staff is its first voice. */
const alone = (line: VoiceLine, all: readonly VoiceLine[]): VoiceLine =>
  all.some((other) => other !== line && other.staff === line.staff) ? line : { ...line, voice: 1 };

const isOf = ({ events, isFirst }: Player, { sources }: Note): boolean =>
  sources.length === 0 ? isFirst : sources.some((event) => events.has(event));

/** A note by the player's own events, so that no two in a score are called the same. */
function named(note: Note, { events, part }: Player, names: Map<string, string>): Note {
  const sources = note.sources.flatMap((event) => events.get(event) ?? []);
  const isShared = sources.some((event, index) => event !== note.sources[index]);
  const id = isShared ? `${note.id}.${part.id.replace(/[^\w]/g, '-')}` : note.id;
  names.set(note.id, id);
  return { ...note, id, sources };
}
