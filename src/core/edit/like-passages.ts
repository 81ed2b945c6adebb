import { lastAtOrBefore } from '../basics/search';
import type { PlainDirective } from '../decisions/kinds';
import { beatWords } from '../model/beat-words';
import { beatsOfFrame } from '../model/beats';
import type { EventId } from '../model/ids';
import type { Anchor } from '../model/marks';
import { barIndexOf, type Chord, type Part } from '../model/score';
import {
  ARTICULATION_SIGNS,
  ORNAMENT_SIGNS,
  type Sign,
  type SpanningSign,
  TECHNIQUE_SIGNS,
} from '../model/signs';
import type { SketchNote } from '../model/sketch';
import { type Moment, textOfMoment } from '../model/time';
import type { Transcription } from '../transcribe';

/** What of a passage can be copied to those like it. */
export const COPIED = ['articulation', 'slurs', 'dynamics', 'ornaments', 'texts', 'rhythm'] as const;
export type Copied = (typeof COPIED)[number];

/**
 * How a passage is like another: the same notes, the same at another pitch,
 * other notes in the same rhythm, or nearly so.
 */
export type Likeness = 'same' | 'moved' | 'rhythm' | 'near';

export interface LikePassage {
  /** Index of the part. */
  part: number;
  /** Where it begins: index of the bar, and the place in it in words. */
  bar: number;
  words: string;
  likeness: Likeness;
  /** Share of its attacks that fall where those of the model do. */
  share: number;
  /** So much alike that it is meant: other rhythms, and mere rhythms of other parts, are left to the eye. */
  likely: boolean;
  /** Its first note. */
  note: EventId;
  directives: PlainDirective[];
}

/** What begins together on one staff. */
interface Attack {
  start: Moment;
  end: Moment;
  notes: readonly SketchNote[];
  /** The highest. */
  key: number;
}

/** Of the attacks of both so many must fall together, as a share. */
const ALIKE = 0.75;
/** The same for passages whose rhythm is to become alike: their pitches must go together. */
const SAME_LINE = 0.8;
/** A passage whose rhythm is copied lasts nearly as long, as a ratio. */
const AS_LONG = 1.3;
/** Fewer attacks than this are like everything. */
const FEWEST = 2;

/**
 * The passages of all parts that are like the one of some notes, best first,
 * each with the decisions that give it what the model has. Two are alike where
 * most of their attacks fall together, from the same place of the beat on; what
 * overlaps a better one, or the model, is none.
 *
 * @param notes of one part; those of several are taken for the part of the first
 */
export function likePassages(
  result: Transcription,
  notes: readonly EventId[],
  what: ReadonlySet<Copied>,
): LikePassage[] {
  const model = passageOf(result, notes);
  if (!model || model.attacks.length < FEWEST) return [];
  const beats = beatsOfFrame(result.frame);
  const inBeat = (moment: Moment) =>
    moment -
    beats[
      Math.max(
        0,
        lastAtOrBefore(beats, moment, ({ start }) => start),
      )
    ]!.start;
  const byRhythm = !what.has('rhythm');
  const found: Candidate[] = [];
  for (const part of result.score.parts.keys())
    for (const staff of [1, 2]) {
      const attacks = attacksOf(result, part, staff);
      for (const [index, first] of attacks.entries()) {
        const fits = byRhythm
          ? inBeat(first.start) === inBeat(model.attacks[0]!.start) && pairedInTime(model, attacks, index)
          : pairedInLine(model, attacks, index);
        if (fits) found.push({ part, staff, from: first.start, likeness: likenessOf(fits), ...fits });
      }
    }
  const isOwn = ({ part, staff }: Candidate) => part === model.part && staff === model.staff;
  found.sort(
    (a, b) =>
      RANKS.indexOf(a.likeness) - RANKS.indexOf(b.likeness) ||
      Number(isOwn(b)) - Number(isOwn(a)) ||
      b.share - a.share ||
      a.from - b.from,
  );
  const taken: Pick<Candidate, 'part' | 'staff' | 'from' | 'end'>[] = [
    { part: model.part, staff: model.staff, from: model.attacks[0]!.start, end: model.end },
  ];
  const chosen = found.filter((each) => {
    const overlaps = taken.some(
      ({ part, staff, from, end }) =>
        each.part === part && each.staff === staff && from < each.end && each.from < end,
    );
    if (!overlaps) taken.push(each);
    return !overlaps;
  });
  const signs = new Map<string, readonly PlacedSign[]>();
  const signsAt = ({ part, staff }: Pick<Passage, 'part' | 'staff'>): readonly PlacedSign[] => {
    const place = `${part} ${staff}`;
    const known = signs.get(place) ?? signsOnStaff(result, part, staff);
    signs.set(place, known);
    return known;
  };
  return chosen.map(({ part, staff, from, likeness, share, pairs }): LikePassage => {
    const bar = barIndexOf(result.frame.bars, from);
    return {
      part,
      bar,
      words: beatWords(result.frame.bars[bar]!, from - result.frame.bars[bar]!.start),
      likeness,
      share,
      likely: likeness === 'same' || likeness === 'moved' || (likeness === 'rhythm' && part === model.part),
      note: topOf(pairs[0]![1]).id,
      directives: byRhythm
        ? copiedSigns(signsAt(model), signsAt({ part, staff }), pairs, what)
        : copiedRhythm(pairs),
    };
  });
}

const RANKS: readonly Likeness[] = ['same', 'moved', 'rhythm', 'near'];

interface Candidate extends Pairs {
  part: number;
  staff: number;
  from: Moment;
  likeness: Likeness;
}

interface Passage {
  part: number;
  staff: number;
  attacks: readonly Attack[];
  end: Moment;
}

/** The stretch of a part and staff that some notes lie in, whole. */
function passageOf(result: Transcription, notes: readonly EventId[]): Passage | null {
  const part = result.readings.findIndex((reading) => notes.some((id) => reading.notes.has(id)));
  if (part < 0) return null;
  const own = notes.flatMap((id) => result.readings[part]!.notes.get(id) ?? []);
  const staff = own[0]!.staff;
  const from = Math.min(...own.map(({ start }) => start));
  const to = Math.max(...own.map(({ start }) => start));
  const attacks = attacksOf(result, part, staff).filter(({ start }) => start >= from && start <= to);
  return { part, staff, attacks, end: Math.max(from, ...attacks.map(({ end }) => end)) };
}

function attacksOf({ readings }: Transcription, part: number, staff: number): Attack[] {
  const byStart = new Map<Moment, SketchNote[]>();
  for (const note of new Set(readings[part]!.notes.values())) {
    if (note.grace || note.staff !== staff) continue;
    byStart.set(note.start, [...(byStart.get(note.start) ?? []), note]);
  }
  return [...byStart]
    .map(([start, notes]) => ({
      start,
      end: Math.max(...notes.map(({ end }) => end)),
      notes,
      key: Math.max(...notes.map(({ key }) => key)),
    }))
    .sort((a, b) => a.start - b.start);
}

interface Pairs {
  /** Attacks of the model and of the other that go together. */
  pairs: readonly (readonly [Attack, Attack])[];
  share: number;
  /** All of both are paired. */
  whole: boolean;
  end: Moment;
}

/** Attacks at the same distance from the first. */
function pairedInTime(model: Passage, attacks: readonly Attack[], first: number): Pairs | null {
  const zero = model.attacks[0]!.start;
  const start = attacks[first]!.start;
  const last = start + model.attacks.at(-1)!.start - zero;
  const own: Attack[] = [];
  for (let at = first; at < attacks.length && attacks[at]!.start <= last; at++) own.push(attacks[at]!);
  const byOffset = new Map(own.map((attack) => [attack.start - start, attack]));
  const pairs = model.attacks.flatMap((attack) => {
    const other = byOffset.get(attack.start - zero);
    return other ? [[attack, other] as const] : [];
  });
  const share = pairs.length / (model.attacks.length + own.length - pairs.length);
  if (share < ALIKE || pairs.length < FEWEST) return null;
  return { pairs, share, whole: share === 1, end: Math.max(...own.map(({ end }) => end)) };
}

/** As many attacks in turn whose highest notes move alike. */
function pairedInLine(model: Passage, attacks: readonly Attack[], first: number): Pairs | null {
  const own = attacks.slice(first, first + model.attacks.length);
  if (own.length < model.attacks.length) return null;
  const pairs = model.attacks.map((attack, at) => [attack, own[at]!] as const);
  const moves = pairs
    .slice(1)
    .filter(([a, b], at) => a.key - pairs[at]![0].key === b.key - pairs[at]![1].key);
  const share = moves.length / (pairs.length - 1);
  const length = (all: readonly Attack[]) => all.at(-1)!.end - all[0]!.start;
  const ratio = length(own) / length(model.attacks);
  if (share < SAME_LINE || ratio > AS_LONG || ratio < 1 / AS_LONG) return null;
  return { pairs, share, whole: share === 1, end: own.at(-1)!.end };
}

/** With notes of other lengths two passages are only nearly alike. */
function likenessOf({ pairs, whole }: Pairs): Likeness {
  if (!whole || !pairs.every(([a, b]) => a.end - a.start === b.end - b.start)) return 'near';
  const [first] = pairs;
  const by = first![1].key - first![0].key;
  if (!pairs.every(([a, b]) => b.key - a.key === by)) return 'rhythm';
  return by === 0 ? 'same' : 'moved';
}

const topOf = ({ notes, key }: Attack): SketchNote => notes.find((note) => note.key === key)!;

/** A sign of the page at an attack, and the attack at which it ends for what stretches. */
interface PlacedSign {
  at: Moment;
  sign: Sign;
  until?: Moment;
  text?: string;
}

const SIGNS_OF: Record<Exclude<Copied, 'rhythm' | 'slurs' | 'texts'>, readonly Sign[]> = {
  articulation: [...ARTICULATION_SIGNS, 'fermata', 'breath', 'caesura'],
  ornaments: [...ORNAMENT_SIGNS, ...TECHNIQUE_SIGNS, 'arpeggio'],
  dynamics: ['dynamic', 'crescendo', 'diminuendo'],
};

const kindsOf = (what: ReadonlySet<Copied>): ReadonlySet<Sign> =>
  new Set([
    ...(['articulation', 'ornaments', 'dynamics'] as const).flatMap((each) =>
      what.has(each) ? SIGNS_OF[each] : [],
    ),
    ...(what.has('slurs') ? (['slur'] as const) : []),
    ...(what.has('texts') ? (['words'] as const) : []),
  ]);

/** When the note of each head of a part begins. */
function headsOf({ readings }: Transcription, part: Part, index: number): Map<string, Moment> {
  const { notes } = readings[index]!;
  const heads = new Map<string, Moment>();
  for (const { voices } of part.bars)
    for (const { items } of voices)
      for (const item of items)
        if (item.kind === 'chord')
          for (const { id, sources } of item.notes) {
            const note = sources[0] && notes.get(sources[0]);
            if (note) heads.set(id, note.start);
          }
  return heads;
}

/** All signs of a staff, as the page has them. */
function signsOnStaff(result: Transcription, index: number, staff: number): PlacedSign[] {
  const part = result.score.parts[index]!;
  const { bars } = result.frame;
  const starts = attacksOf(result, index, staff).map(({ start }) => start);
  const out: PlacedSign[] = [];
  part.bars.forEach((bar, at) => {
    const zero = bars[at]!.start;
    for (const line of bar.voices)
      for (const item of line.items)
        if (item.kind === 'chord' && line.staff === staff)
          for (const sign of chordSigns(item)) out.push({ at: attackOf(item, zero, result, index), sign });
    for (const mark of bar.marks ?? []) {
      if ((mark.staff ?? 1) !== staff) continue;
      if (mark.kind === 'dynamic') out.push({ at: zero + mark.at, sign: 'dynamic', text: mark.dynamic });
      if (mark.kind === 'words') out.push({ at: zero + mark.at, sign: 'words', text: mark.text });
    }
  });
  const heads = headsOf(result, part, index);
  const momentOf = (end: Anchor): Moment | undefined =>
    'note' in end ? heads.get(end.note) : bars[end.bar]!.start + end.at;
  for (const spanner of part.spanners ?? []) {
    const sign = spanningSign(spanner);
    const at = momentOf(spanner.from);
    const to = momentOf(spanner.to);
    if (!sign || at === undefined || to === undefined) continue;
    // A hairpin ends between attacks: at the last one before its end.
    const until = spanner.kind === 'wedge' ? starts.findLast((start) => start < to) : to;
    if (until !== undefined && until >= at) out.push({ at, sign, until });
  }
  return out;
}

function spanningSign(spanner: NonNullable<Part['spanners']>[number]): SpanningSign | null {
  if (spanner.kind === 'slur' || spanner.kind === 'glissando' || spanner.kind === 'slide')
    return spanner.kind;
  return spanner.kind === 'wedge' ? (spanner.opens ? 'crescendo' : 'diminuendo') : null;
}

/** When the notes of a chord begin, tied ones where they were struck. */
function attackOf({ notes, onset }: Chord, zero: Moment, { readings }: Transcription, part: number): Moment {
  const [id] = notes[0]!.sources;
  return (id && readings[part]!.notes.get(id)?.start) ?? zero + onset;
}

const chordSigns = ({ marks = [] }: Chord): Sign[] =>
  marks.flatMap((mark): Sign[] => {
    if ('name' in mark) {
      const known: readonly string[] = [...SIGNS_OF.articulation, ...SIGNS_OF.ornaments];
      return known.includes(mark.name) ? [mark.name as Sign] : [];
    }
    return mark.kind === 'tremolo' ? [] : [mark.kind];
  });

/** The decisions that give the paired attacks the signs of the model, and take off what it has not. */
function copiedSigns(
  model: readonly PlacedSign[],
  there: readonly PlacedSign[],
  pairs: Pairs['pairs'],
  what: ReadonlySet<Copied>,
): PlainDirective[] {
  const kinds = kindsOf(what);
  const otherOf = new Map(pairs.map(([own, other]) => [own.start, other]));
  const byStart = new Map(pairs.map(([, other]) => [other.start, other]));
  const standing = there.filter(({ at, sign }) => kinds.has(sign) && byStart.has(at));
  const out: PlainDirective[] = [];
  const kept = new Set<PlacedSign>();
  for (const { at, sign, until, text } of model) {
    const other = otherOf.get(at);
    const end = until === undefined ? undefined : otherOf.get(until);
    if (!kinds.has(sign) || !other || (until !== undefined && !end)) continue;
    const stands = standing.find(
      (each) =>
        each.at === other.start && each.sign === sign && each.until === end?.start && each.text === text,
    );
    // Another of its kind gives way to it by itself.
    for (const each of standing) if (each.at === other.start && each.sign === sign) kept.add(each);
    if (stands) continue;
    out.push({
      kind: 'sign',
      note: topOf(other).id,
      sign,
      put: true,
      ...(end && { until: topOf(end).id }),
      ...(text !== undefined && { text }),
    });
  }
  const off = standing
    .filter((each) => !kept.has(each))
    .map(
      ({ at, sign }): PlainDirective => ({
        kind: 'sign',
        note: topOf(byStart.get(at)!).id,
        sign,
        put: false,
      }),
    );
  return [...off, ...out];
}

/** The decisions that give paired attacks the places and lengths of the model, from their own first one on. */
function copiedRhythm(pairs: Pairs['pairs']): PlainDirective[] {
  const [first] = pairs;
  const by = first![1].start - first![0].start;
  return pairs.flatMap(([model, other]) =>
    other.notes.flatMap((note): PlainDirective[] => {
      const start = model.start + by;
      const end = model.end + by;
      if (note.start === start && note.end === end) return [];
      return [{ kind: 'place', note: note.id, start: textOfMoment(start), end: textOfMoment(end) }];
    }),
  );
}
