import type { SignChoice, Signs } from '../decisions/kinds/sign';
import type { EventId } from '../model/ids';
import type { Anchor, ChordMark, Mark, Spanner } from '../model/marks';
import { nameOfAlter } from '../model/pitch';
import type { Bar, Chord, Item, Note, Part, PartBar, VoiceLine } from '../model/score';
import {
  isArticulation,
  isOrnament,
  isSpanning,
  isTechnique,
  type Sign,
  type SpanningSign,
} from '../model/signs';
import { readSyllable } from '../model/syllable';
import type { Moment } from '../model/time';
import { beamVoice } from './beams';

/** Where the note of an event stands: its first head, and the last one that is tied to it. */
interface Standing {
  first: Head;
  last: Head;
}

interface Head {
  id: string;
  bar: number;
  onset: Moment;
  end: Moment;
  staff: number;
  line: VoiceLine;
  chord: Chord;
}

/** A sign, and the name of the note where it ends. */
export type NamedSign = Omit<SignChoice, 'until'> & { until?: string };

/** The signs about notes of a part, as what depends on them is kept by. */
export function signsOf(
  signs: Signs,
  notes: ReadonlyMap<EventId, unknown>,
): [EventId, readonly SignChoice[]][] {
  return signs.size === 0 ? [] : [...signs].filter(([note]) => notes.has(note));
}

/**
 * A part with the signs that were put at its notes by hand, and without those
 * that were taken off. What stretches ends at the last of tied notes; a fermata
 * and a breath stand there, everything else at the first (common practice).
 *
 * @param own the decisions about its notes, in the order in which they were made
 * @param namesOf what notes are called in those decisions: by what is played of them where nothing else is said
 */
export function withSigns(
  part: Part,
  own: readonly (readonly [string, readonly NamedSign[]])[],
  scoreBars: readonly Bar[],
  namesOf: (note: Note) => readonly string[] = ({ sources }) => sources,
): Part {
  if (own.length === 0) return part;
  const bars = part.bars.map(copied);
  const standing = standings(bars, namesOf);
  if (!own.some(([name]) => standing.has(name))) return part;
  let spanners = [...(part.spanners ?? [])];
  const beams = new Map<VoiceLine, Map<Moment, boolean>>();
  for (const [event, choices] of own) {
    const stands = standing.get(event);
    if (!stands) continue;
    for (const choice of choices) {
      const { sign } = choice;
      if (isSpanning(sign)) {
        spanners = withSpanner(spanners, bars, standing, stands, { ...choice, sign });
      } else if (sign === 'dynamic' || sign === 'words') {
        putMark(bars[stands.first.bar]!, stands.first, choice);
      } else if (sign === 'beam') {
        const { line, onset, bar } = stands.first;
        const said = beams.get(line) ?? new Map<Moment, boolean>();
        beams.set(line, said.set(onset, choice.put));
        for (const item of line.items) if (item.kind === 'chord') delete item.beams;
        beamVoice(line.items, scoreBars[bar]!, said);
      } else putAtChord(stands, choice);
    }
  }
  const { spanners: _, ...others } = part;
  return { ...others, bars, ...(spanners.length > 0 && { spanners }) };
}

/** Bars whose chords and notes can be changed without touching those they were made of. */
const copied = (bar: PartBar): PartBar => ({
  ...bar,
  voices: bar.voices.map((line) => ({
    ...line,
    items: line.items.map(
      (item): Item =>
        item.kind === 'rest'
          ? item
          : {
              ...item,
              notes: item.notes.map((note) => ({ ...note })),
              ...(item.graces && { graces: item.graces.map((note) => ({ ...note })) }),
            },
    ),
  })),
});

function standings(
  bars: readonly PartBar[],
  namesOf: (note: Note) => readonly string[],
): Map<string, Standing> {
  const found = new Map<string, Standing>();
  /** What is tied on, by staff, voice and key. */
  const open = new Map<string, Standing>();
  bars.forEach(({ voices }, bar) => {
    for (const line of voices) {
      const { items, staff, voice } = line;
      for (const chord of items) {
        if (chord.kind === 'rest') continue;
        const { onset, duration } = chord;
        const stand = (note: Note) => {
          const place = `${staff} ${voice} ${note.key}`;
          const head: Head = { id: note.id, bar, onset, end: onset + duration, staff, line, chord };
          const before = note.tieStop ? open.get(place) : undefined;
          const own = before ?? { first: head, last: head };
          own.last = head;
          if (note.tieStart) open.set(place, own);
          else open.delete(place);
          for (const name of namesOf(note)) if (!found.has(name)) found.set(name, own);
        };
        for (const note of chord.graces ?? []) stand(note);
        for (const note of chord.notes) stand(note);
      }
    }
  });
  return found;
}

/** A dynamic or a text at the moment of a note: one of each kind, in the place of what stood there. */
function putMark(bar: PartBar, { onset, staff }: Head, { sign, put, text }: NamedSign): void {
  const kind = sign === 'dynamic' ? 'dynamic' : 'words';
  const others = (bar.marks ?? []).filter((mark) => mark.kind !== kind || mark.at !== onset);
  const added: Mark[] =
    !put || text === undefined
      ? []
      : kind === 'dynamic'
        ? [{ kind, dynamic: text, at: onset, placement: 'below', staff }]
        : [{ kind, text, at: onset, placement: 'above', staff }];
  const marks = [...others, ...added].sort((a, b) => a.at - b.at);
  if (marks.length > 0) bar.marks = marks;
  else delete bar.marks;
}

const STANDS_LAST: ReadonlySet<Sign> = new Set(['fermata', 'breath', 'caesura', 'falloff', 'doit']);

/** The mark of a chord that a sign stands for; null for what is none. */
function chordMark(sign: Sign): ChordMark | null {
  if (isArticulation(sign)) return { kind: 'articulation', name: sign };
  if (isOrnament(sign)) return { kind: 'ornament', name: sign };
  if (isTechnique(sign)) return { kind: 'technique', name: sign };
  if (sign === 'fermata') return { kind: 'fermata', shape: 'normal' };
  if (sign === 'arpeggio') return { kind: 'arpeggio' };
  return sign === 'breath' || sign === 'caesura' ? { kind: sign } : null;
}

const isAlike = (a: ChordMark, b: ChordMark): boolean =>
  a.kind === b.kind && ('name' in a ? a.name : '') === ('name' in b ? b.name : '');

function putAtChord({ first, last }: Standing, { sign, put, text, verse = 1 }: NamedSign): void {
  const head = STANDS_LAST.has(sign) ? last : first;
  const { chord } = head;
  const mark = chordMark(sign);
  if (mark) {
    const others = (chord.marks ?? []).filter((each) => !isAlike(each, mark));
    setOrDrop(chord, 'marks', put ? [...others, mark] : others);
  } else if (sign === 'lyric') {
    const others = (chord.lyrics ?? []).filter((each) => (each.verse ?? 1) !== verse);
    const own = put && text ? [{ ...(verse !== 1 && { verse }), ...readSyllable(text) }] : [];
    setOrDrop(
      chord,
      'lyrics',
      [...others, ...own].sort((a, b) => (a.verse ?? 1) - (b.verse ?? 1)),
    );
  } else {
    const note = noteOf(head);
    if (!note) return;
    if (sign === 'ring') {
      const end = noteOf(last);
      if (!end) return;
      if (put) end.ringsOn = true;
      else delete end.ringsOn;
    } else if (sign === 'ghost') {
      if (put) note.ghost = true;
      else delete note.ghost;
    } else if (put && !note.accidental) {
      const name = nameOfAlter(note.pitch.alter);
      if (name) Object.assign(note, { accidental: name, courtesy: true });
    } else if (!put) {
      delete note.accidental;
      delete note.courtesy;
    }
  }
}

const noteOf = ({ id, chord }: Head): Note | undefined =>
  [...(chord.graces ?? []), ...chord.notes].find((note) => note.id === id);

function setOrDrop<K extends 'marks' | 'lyrics'>(chord: Chord, field: K, list: NonNullable<Chord[K]>): void {
  if (list.length > 0) chord[field] = list;
  else delete chord[field];
}

type Spanning = Omit<NamedSign, 'sign'> & { sign: SpanningSign };

/** The spanners of a part with one more, or without those of its kind that begin at a note. */
function withSpanner(
  spanners: readonly Spanner[],
  bars: readonly PartBar[],
  standing: ReadonlyMap<string, Standing>,
  { first }: Standing,
  { sign, put, until }: Spanning,
): Spanner[] {
  const heads = new Set(first.chord.notes.map(({ id }) => id));
  const beginsHere = (from: Anchor): boolean =>
    'note' in from ? heads.has(from.note) : from.bar === first.bar && from.at === first.onset;
  const kind = kindOf(sign);
  const others = spanners.filter((each) => each.kind !== kind || !beginsHere(each.from));
  const end = put && until !== undefined ? standing.get(until) : undefined;
  if (!end || isBefore(end.last, first)) return others;
  const id = `${sign}-${first.id}`;
  const from = { note: first.id };
  if (sign === 'slur') {
    const inner = slursWithin(others, standing, first, end.last);
    return [
      ...others.filter((each) => !inner.has(each)),
      { kind: 'slur', id, from, to: { note: end.last.id } },
    ];
  }
  if (sign === 'glissando' || sign === 'slide')
    return [
      ...others,
      { kind: sign, id, from, to: { note: end.first.id }, line: sign === 'slide' ? 'solid' : 'wavy' },
    ];
  const meetsDynamic = bars[end.first.bar]!.marks?.some(
    (mark) => mark.kind === 'dynamic' && mark.at === end.first.onset,
  );
  const to = meetsDynamic && isBefore(first, end.first) ? end.first.onset : end.last.end;
  const { staff } = first;
  return [
    ...others,
    {
      kind: 'wedge',
      id,
      opens: sign === 'crescendo',
      from: { bar: first.bar, at: first.onset, staff },
      to: { bar: to === end.last.end ? end.last.bar : end.first.bar, at: to, staff },
      placement: 'below',
    },
  ];
}

const kindOf = (sign: SpanningSign): Spanner['kind'] =>
  sign === 'crescendo' || sign === 'diminuendo' ? 'wedge' : sign;

const isBefore = (a: Head, b: Head): boolean => a.bar < b.bar || (a.bar === b.bar && a.onset < b.onset);

/** Slurs in the same voice that a new one takes the place of: those that lie in it, or over one of its ends. */
function slursWithin(
  spanners: readonly Spanner[],
  standing: ReadonlyMap<string, Standing>,
  from: Head,
  to: Head,
): Set<Spanner> {
  const heads = new Map<string, Head>();
  for (const { first, last } of standing.values()) {
    heads.set(first.id, first);
    heads.set(last.id, last);
  }
  return new Set(
    spanners.filter((each) => {
      if (each.kind !== 'slur' || !('note' in each.from) || !('note' in each.to)) return false;
      const [begin, end] = [heads.get(each.from.note), heads.get(each.to.note)];
      if (!begin || !end) return false;
      const isSameVoice = begin.line.voice === from.line.voice && begin.staff === from.staff;
      return isSameVoice && isBefore(begin, to) && isBefore(from, end);
    }),
  );
}
