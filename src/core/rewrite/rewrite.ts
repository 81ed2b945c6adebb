import type { Pitch } from '../model/pitch';
import {
  type Bar,
  barIndexOf,
  type Chord,
  type Note,
  type Part,
  type Score,
  type Transposition,
} from '../model/score';
import type { Moment } from '../model/time';
import { type Change, NOTE_ORDER, putIn, takeOut } from '../sources/musicxml/changes';
import { elementAt, numberOf, type XmlElement } from '../sources/musicxml/elements';
import type { Places } from '../sources/musicxml/part-reader';
import { type RewrittenBar, rewrittenBar, type Wanted } from './bar';
import { type BarText, barText, isCell, staffOf, UnclearBarError, voiceOf } from './bar-text';
import { contentOf, notationsIn, onStaff, pitched } from './note-text';
import type { Named } from './voice';

/** One note of a score that is to stand elsewhere, to go, or to be put in. */
export interface NoteEdit {
  /** The names under which it and what it is tied to were read, in order; none of a new one. */
  chain: readonly string[];
  /** In score time; null for a note that goes. */
  to: { start: Moment; end: Moment } | null;
  /** Voice of its staff, and staff, from 1, where it is to stand in another one. */
  line?: { voice?: number; staff?: number };
  /** What a new one is. */
  made?: { number: number; pitch: Pitch; staff: number; like: string | null };
}

/** A part of a document, as text and as it was read. */
export interface WrittenPart {
  document: string;
  places: Places;
  part: Part;
  bars: Score['bars'];
}

/** The music of a part written anew. */
export interface RewrittenPart {
  changes: Change[];
  /** What its notes are called, in the order of the text; null for what a tie goes on to. */
  names: (Named | null)[];
  /** Indices of the bars that are written anew. */
  touched: number[];
  /** What could not be done, as sentences. */
  refused: string[];
}

/** The bars of a part written anew in which notes change; all others stay to the character. */
export function rewrittenPart(written: WrittenPart, edits: readonly NoteEdit[]): RewrittenPart {
  const refused: string[] = [];
  let left = edits;
  for (;;) {
    const work = new PartWork(written, left);
    const done = work.make();
    if (!('bar' in done)) return { ...done, refused };
    // Who came last to a bar that has no room for all of them gives way.
    const last = done.edit ?? left.findLast((edit) => work.barsOf(edit).includes(done.bar)) ?? left.at(-1);
    refused.push(
      `${written.part.name}, bar ${numberOfBar(written.bars[done.bar])}: a note stays as it was, ${done.why}.`,
    );
    left = left.filter((edit) => edit !== last);
  }
}

const numberOfBar = (bar: Bar | undefined): string => bar?.printed ?? String(bar?.number ?? '');

class PartWork {
  private readonly texts = new Map<number, BarText>();
  private readonly barOfNote = new Map<string, number>();
  private readonly notesIn = new Map<number, string[]>();
  private readonly namesAt = new Map<number, string>();
  private readonly divisions: number[];
  private readonly moved = new Set<string>();
  private readonly dropped = new Set<string>();
  /** Grace notes by the note that they go along with. */
  private readonly graces = new Map<string, { before: string[]; after: string[] }>();

  constructor(
    private readonly written: WrittenPart,
    private readonly edits: readonly NoteEdit[],
  ) {
    const { places } = written;
    let bar = 0;
    for (const [id, { from }] of places.notes) {
      while (bar + 1 < places.bars.length && from >= places.bars[bar + 1]!.from) bar++;
      this.barOfNote.set(id, bar);
      const here = this.notesIn.get(bar);
      if (here) here.push(id);
      else this.notesIn.set(bar, [id]);
      this.namesAt.set(from, id);
    }
    this.divisions = divisionsOf(written);
    for (const { chain, to } of edits) for (const id of chain) (to ? this.moved : this.dropped).add(id);
    this.takeGraces();
  }

  /** Grace notes go along with their chord, where all of it goes. */
  private takeGraces(): void {
    for (const { voices } of this.written.part.bars)
      for (const { items } of voices)
        for (const item of items) {
          if (item.kind === 'rest' || !(item.graces ?? item.gracesAfter)) continue;
          if (!item.notes.every(({ id }) => this.isGone(id))) continue;
          const first = item.notes.find(({ id }) => this.moved.has(id));
          const take = (graces: readonly Note[] = []) => {
            const ids = graces.map(({ id }) => id).filter((id) => !this.dropped.has(id));
            for (const id of ids) (first ? this.moved : this.dropped).add(id);
            return ids;
          };
          const [before, after] = [take(item.graces), take(item.gracesAfter)];
          if (first) this.graces.set(first.id, { before, after });
        }
  }

  private isGone(id: string): boolean {
    return this.dropped.has(id) || this.moved.has(id);
  }

  /** Grace notes that go along with a note. */
  private gracesOf(id: string | undefined, side: 'before' | 'after'): Wanted['graces'] {
    const own = id === undefined ? undefined : this.graces.get(id);
    return (own?.[side] ?? []).map((read) => {
      const { from, to } = this.elementOf(read);
      return { text: this.written.document.slice(from, to), name: { read } };
    });
  }

  /** The bars that an edit is about. */
  barsOf({ chain, to }: NoteEdit): number[] {
    const own = chain.flatMap((id) => this.barOfNote.get(id) ?? []);
    return [...own, ...(to ? this.barsBetween(to).map(({ index }) => index) : [])];
  }

  private barsBetween({ start, end }: { start: Moment; end: Moment }): Bar[] {
    const { bars } = this.written;
    const from = barIndexOf(bars, start);
    const found: Bar[] = [];
    for (let index = from; index < bars.length && bars[index]!.start < end; index++) found.push(bars[index]!);
    return found;
  }

  private textAt(bar: number): BarText {
    const known = this.texts.get(bar);
    if (known) return known;
    const measure = elementAt(this.written.document, this.written.places.bars[bar]!);
    const made = barText(measure, this.divisions[bar] ?? 0);
    this.texts.set(bar, made);
    return made;
  }

  private elementOf(id: string): XmlElement {
    const { from } = this.written.places.notes.get(id)!;
    const { measure } = this.textAt(this.barOfNote.get(id)!);
    return measure.children.find((each) => each.from === from)!;
  }

  make(): Omit<RewrittenPart, 'refused'> | { bar: number; why: string; edit: NoteEdit | null } {
    const { document, places, bars, part } = this.written;
    let now = 0;
    let impossible: NoteEdit | null = null;
    try {
      const wanted = new Map<number, Wanted[]>();
      const touched = new Set<number>();
      for (const edit of this.edits) {
        now = this.barsOf(edit)[0] ?? 0;
        impossible = edit;
        for (const bar of this.barsOf(edit)) touched.add(bar);
        if (edit.to) this.want(edit, edit.to, wanted);
      }
      impossible = null;
      const patches = this.slurs();
      const changes: Change[] = [];
      const names: (Named | null)[] = [];
      const hasBeams = places.bars.some(({ from, to }) => document.slice(from, to).includes('<beam'));
      places.bars.forEach((place, bar) => {
        now = bar;
        const own = patches.filter(({ from, to }) => from >= place.from && to <= place.to);
        if (!touched.has(bar)) {
          changes.push(...own);
          names.push(...(this.notesIn.get(bar) ?? []).map((read) => ({ read })));
          return;
        }
        const gone = this.elements(bar, this.moved, this.dropped);
        const made: RewrittenBar = rewrittenBar(
          {
            document,
            bar: bars[bar]!,
            source: this.textAt(bar),
            staves: part.clefs.length,
            hasBeams,
            gone,
            dropped: this.elements(bar, this.dropped),
            nameOf: ({ from }) => {
              const read = this.namesAt.get(from);
              return read === undefined ? undefined : { read };
            },
          },
          wanted.get(bar) ?? [],
          own,
        );
        changes.push({ ...place, text: made.text });
        names.push(...made.names);
      });
      return { changes, names, touched: [...touched] };
    } catch (error) {
      if (!(error instanceof UnclearBarError)) throw error;
      return { bar: now, why: error.message, edit: impossible };
    }
  }

  private elements(bar: number, ...of: ReadonlySet<string>[]): Set<XmlElement> {
    const found = new Set<XmlElement>();
    for (const ids of of)
      for (const id of ids) if (this.barOfNote.get(id) === bar) found.add(this.elementOf(id));
    return found;
  }

  /** What an edit wants to stand in each bar that it reaches into. */
  private want(
    { chain, made, line }: NoteEdit,
    to: { start: Moment; end: Moment },
    wanted: Map<number, Wanted[]>,
  ): void {
    const { document, part } = this.written;
    const model = chain[0] ?? made?.like ?? null;
    const element = model === null ? null : this.elementOf(model);
    const staff = line?.staff ?? (element ? staffOf(element) : (made?.staff ?? 1));
    if (staff > part.clefs.length) throw new UnclearBarError(`its part has no staff ${staff}`);
    const voice = chain.length > 0 && element ? voiceOf(element) : null;
    const fresh = made && pitched(made.pitch, '1', part.clefs.length > 1 ? staff : null);
    const content = (isFirst: boolean) => {
      if (!element) return fresh!;
      const own = onStaff(contentOf(document, element, isFirst), part.clefs.length > 1 ? staff : null);
      return chain.length > 0 ? own : { ...own, notations: [], attributes: '' };
    };
    const [first, later] = [content(true), content(false)];
    const tail = chain.length > 1 ? this.elementOf(chain.at(-1)!) : null;
    const atEnd = first.notations.filter((each) => ENDS.test(each));
    const last = [...(tail ? contentOf(document, tail, false).notations : []), ...atEnd];
    const head = { ...first, notations: first.notations.filter((each) => !atEnd.includes(each)) };
    const over = this.barsBetween(to);
    const home = element && chain.length > 0 ? this.barOfNote.get(model!)! : over[0]!.index;
    for (const { index } of over)
      if (!isSameTransposition(transpositionIn(part, home), transpositionIn(part, index)))
        throw new UnclearBarError('the instrument is read otherwise from here on');
    over.forEach((bar, index) => {
      const text = this.textAt(bar.index);
      const own = chain.find((id) => this.barOfNote.get(id) === bar.index);
      const stood = own === undefined ? null : this.elementOf(own);
      const piece: Wanted = {
        start: Math.max(0, to.start - bar.start),
        end: Math.min(bar.length, to.end - bar.start),
        first: index === 0 ? head : { ...later, notations: [] },
        later: { ...later, notations: [] },
        last: index === over.length - 1 ? last : [],
        tieStop: index > 0,
        tieStart: index < over.length - 1,
        graces: index === 0 ? this.gracesOf(chain[0], 'before') : [],
        gracesAfter: index === over.length - 1 ? this.gracesOf(chain.at(-1), 'after') : [],
        name: index > 0 ? null : made ? { number: made.number } : { read: chain[0]! },
        staff,
        voice,
        nth: line?.voice ?? null,
        run:
          (stood &&
            text.runs.find(({ pieces }) =>
              pieces.some((each) => isCell(each) && each.elements.includes(stood)),
            )) ??
          null,
      };
      const known = wanted.get(bar.index);
      if (known) known.push(piece);
      else wanted.set(bar.index, [piece]);
    });
  }

  /** Slurs and the like that lose the note at one end: they end on the neighbour of that, or go. */
  private slurs(): Change[] {
    const { document, part } = this.written;
    if (this.dropped.size === 0 || !part.spanners) return [];
    const changes: Change[] = [];
    for (const { kind, from, to } of part.spanners) {
      if (!('note' in from && 'note' in to) || !BETWEEN.has(kind)) continue;
      const ends = [
        { id: from.note, other: to.note, type: 'start', by: 1 },
        { id: to.note, other: from.note, type: 'stop', by: -1 },
      ] as const;
      for (const { id, other, type, by } of ends) {
        if (!this.dropped.has(id)) continue;
        const line = this.lineOf(id);
        const at = line.findIndex(({ notes }) => notes.some((each) => each.id === id));
        const chord = line[at]?.notes ?? [];
        // Where others of its chord stay, they have what the first of them had.
        if (chord[0]?.id === id && chord.some((each) => !this.isGone(each.id))) continue;
        let next = chord.some((each) => !this.isGone(each.id)) ? at : at + by;
        while (line[next]?.notes.every((each) => this.isGone(each.id))) next += by;
        const heir = line[next]?.notes.find((each) => !this.isGone(each.id));
        const number = numberOfEnd(this.elementOf(id), kind, type);
        const isOver = !heir || kind === 'wavy-line' || line[next]!.notes.some((each) => each.id === other);
        if (!isOver) {
          const text = `<notations><${kind} type="${type}" number="${number}"/></notations>`;
          putIn(document, this.elementOf(heir.id), 'notations', text, NOTE_ORDER, changes);
        } else if (!this.isGone(other)) {
          const end = endsAt(this.elementOf(other)).find(
            ({ name, attributes }) =>
              name === kind && attributes.type !== type && (attributes.number ?? '1') === number,
          );
          if (end) takeOut(document, end, changes);
        }
      }
    }
    return changes;
  }

  /** The chords of the voice that a note stands in, in order. */
  private lineOf(id: string): Chord[] {
    const { part } = this.written;
    const bar = this.barOfNote.get(id) ?? 0;
    const home = part.bars[bar]?.voices.find(({ items }) =>
      items.some((item) => item.kind === 'chord' && item.notes.some((each) => each.id === id)),
    );
    if (!home) return [];
    return part.bars
      .slice(Math.max(0, bar - REACH), bar + REACH + 1)
      .flatMap(({ voices }) =>
        voices
          .filter(({ staff, voice }) => staff === home.staff && voice === home.voice)
          .flatMap(({ items }) => items.filter((item): item is Chord => item.kind === 'chord')),
      );
  }
}

/** How a part is read in a bar. */
export const transpositionIn = ({ changes = [], transposition }: Part, bar: number): Transposition =>
  changes.reduce(
    (now, change) => (change.kind === 'transposition' && change.bar <= bar ? change.transposition : now),
    transposition,
  );

const isSameTransposition = (one: Transposition, other: Transposition): boolean =>
  one.chromatic === other.chromatic && one.diatonic === other.diatonic;

/** What stands at the last of tied notes (common practice). */
const ENDS = /^<(?:fermata|(?:slur|glissando|slide)\b[^>]*type\s*=\s*["']stop)/;
const BETWEEN: ReadonlySet<string> = new Set(['slur', 'glissando', 'slide', 'wavy-line']);
/** Bars before and after in which the neighbour of a note is looked for. */
const REACH = 8;

/** The notations of a note, and the ornaments among them. */
const endsAt = (note: XmlElement): XmlElement[] =>
  notationsIn(note).flatMap((each) => (each.name === 'ornaments' ? each.children : [each]));

const numberOfEnd = (note: XmlElement, kind: string, type: string): string =>
  endsAt(note).find(({ name, attributes }) => name === kind && attributes.type === type)?.attributes.number ??
  '1';

/** Divisions of a quarter with which each bar of a part begins; 0 where nothing was said yet. */
function divisionsOf({ document, places }: WrittenPart): number[] {
  const said = places.signs.flatMap(({ kind, bar, from, to }) => {
    if (kind !== 'attributes' || !document.slice(from, to).includes('divisions')) return [];
    const divisions = numberOf(elementAt(document, { from, to }), 'divisions');
    return divisions === undefined ? [] : [{ bar, divisions }];
  });
  let next = 0;
  let now = 0;
  return places.bars.map((_, bar) => {
    while (next < said.length && said[next]!.bar < bar) now = said[next++]!.divisions;
    return now;
  });
}
