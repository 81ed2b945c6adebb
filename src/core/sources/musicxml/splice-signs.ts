import type { ChordMark, Lyric, Mark, Spanner } from '../../model/marks';
import type { Chord, Note, Part } from '../../model/score';
import type { Moment } from '../../model/time';
import { type Change, NOTE_ORDER, putIn, spaceBefore, takeOut } from './changes';
import { child, childrenOf, elementAt, numberFrom, type XmlElement } from './elements';
import type { Places } from './part-reader';
import { writeChordMarks, writeLyrics, writeMark } from './write-marks';
import { writeDirectionEnd, writeNoteEnd } from './write-spanners';
import { XmlText } from './xml';

/** Spanners that are put between others take numbers from here down (MusicXML 4.0, `number-level`: 1 to 16). */
const HIGHEST = 16;

/** A chord and where it stands. */
interface Standing {
  chord: Chord;
  bar: number;
  staff: number;
}

/** What stands in a part by hand: signs of chords and notes, syllables, directions, and what stretches. */
class Signs {
  private readonly before: ReadonlyMap<string, Standing>;
  private readonly after: ReadonlyMap<string, Standing>;
  private next = HIGHEST;

  constructor(
    private readonly text: string,
    private readonly places: Places,
    before: Part,
    private readonly part: Part,
    private readonly readAs: ReadonlyMap<string, string>,
    private readonly changes: Change[],
  ) {
    this.before = chordsOf(before);
    this.after = chordsOf(part);
  }

  make(before: Part): void {
    for (const [id, { chord }] of this.after) {
      const own = this.before.get(id);
      if (own && own.chord !== chord) this.changeChord(own.chord, chord);
    }
    this.part.bars.forEach(({ marks = [] }, bar) => {
      const were = (before.bars[bar]?.marks ?? []).filter(isSaid);
      const are = marks.filter(isSaid);
      for (const mark of were) if (!are.some(isSame(mark))) this.takeDirection(bar, mark.at, saysMark(mark));
      for (const mark of are) if (!were.some(isSame(mark))) this.putMark(bar, mark);
    });
    const [were, are] = [before.spanners ?? [], this.part.spanners ?? []].map((all) => all.filter(isDrawn));
    for (const spanner of were!) if (!are!.some(isSameSpan(spanner))) this.takeSpanner(spanner);
    for (const spanner of are!) if (!were!.some(isSameSpan(spanner))) this.putSpanner(spanner);
  }

  private elementOf(id: string): XmlElement | undefined {
    const place = this.places.notes.get(this.readAs.get(id) ?? id);
    return place && elementAt(this.text, place);
  }

  private changeChord(before: Chord, after: Chord): void {
    const [were, are] = [before.marks ?? [], after.marks ?? []];
    const gone = were.filter((mark) => !are.some(isSameMark(mark)));
    const added = are.filter((mark) => !were.some(isSameMark(mark)));
    const isSaidAnew = JSON.stringify(before.lyrics ?? []) !== JSON.stringify(after.lyrics ?? []);
    const isChanged = gone.length + added.length > 0 || isSaidAnew;
    const first = isChanged ? this.elementOf(after.notes[0]!.id) : undefined;
    if (first) {
      for (const mark of gone) this.takeMark(first, mark);
      if (added.length > 0) this.putNotations(first, (xml) => writeChordMarks(xml, added, true, {}));
      if (isSaidAnew) this.putLyrics(first, after.lyrics ?? []);
    }
    const all = [...(after.graces ?? []), ...after.notes];
    const known = new Map([...(before.graces ?? []), ...before.notes].map((note) => [note.id, note]));
    for (const note of all) {
      const own = known.get(note.id);
      if (own) this.changeNote(own, note);
    }
  }

  private changeNote(before: Note, after: Note): void {
    if (before.ringsOn === after.ringsOn && before.ghost === after.ghost) return;
    const element = this.elementOf(after.id);
    if (!element) return;
    if (before.ringsOn !== after.ringsOn) {
      if (after.ringsOn)
        this.putNotations(element, (xml) => xml.leaf('tied', undefined, { type: 'let-ring' }));
      else
        for (const tied of notationsOf(element, 'tied'))
          if (tied.attributes.type === 'let-ring') takeOut(this.text, tied, this.changes);
    }
    if (before.ghost === after.ghost) return;
    const head = child(element, 'notehead');
    if (head) takeOut(this.text, head, this.changes);
    if (!after.ghost && !after.head) return;
    const parentheses = after.ghost ? ' parentheses="yes"' : '';
    const made = `<notehead${parentheses}>${after.head ?? 'normal'}</notehead>`;
    putIn(this.text, element, 'notehead', made, NOTE_ORDER, this.changes);
  }

  private putLyrics(note: XmlElement, after: readonly Lyric[]): void {
    for (const lyric of childrenOf(note, 'lyric')) takeOut(this.text, lyric, this.changes);
    if (after.length === 0) return;
    const xml = new XmlText();
    writeLyrics(xml, after);
    putIn(this.text, note, 'lyric', inOneLine(xml), NOTE_ORDER, this.changes);
  }

  private putNotations(note: XmlElement, write: (xml: XmlText) => void): void {
    const xml = new XmlText();
    xml.start('notations');
    write(xml);
    xml.end();
    putIn(this.text, note, 'notations', inOneLine(xml), NOTE_ORDER, this.changes);
  }

  private takeMark(note: XmlElement, mark: ChordMark): void {
    const name =
      'name' in mark
        ? mark.name
        : mark.kind === 'breath'
          ? 'breath-mark'
          : mark.kind === 'arpeggio'
            ? 'arpeggiate'
            : mark.kind;
    const inside = notationsOf(note, name);
    const [element] =
      inside.length > 0
        ? inside
        : ['articulations', 'ornaments', 'technical'].flatMap((group) =>
            notationsOf(note, group).flatMap((each) => childrenOf(each, name)),
          );
    if (element) takeOut(this.text, element, this.changes);
  }

  /** A direction before the note that begins at its moment. */
  private putMark(bar: number, mark: Mark): void {
    const xml = new XmlText();
    writeMark(xml, mark, 0, this.part.clefs.length > 1 ? (mark.staff ?? 1) : undefined);
    this.putBefore(bar, mark.at, mark.staff ?? 1, inOneLine(xml));
  }

  private putBefore(bar: number, at: Moment, staff: number, xml: string): boolean {
    const chord = this.chordAt(bar, staff, ({ onset }) => onset === at);
    const element = chord && this.elementOf((chord.graces?.[0] ?? chord.notes[0]!).id);
    if (!element) return false;
    const { from } = element;
    this.changes.push({ from, to: from, text: xml + spaceBefore(this.text, from) });
    return true;
  }

  private chordAt(bar: number, staff: number, isIt: (chord: Chord) => boolean): Chord | undefined {
    const lines = this.part.bars[bar]?.voices ?? [];
    const own = lines.filter((line) => line.staff === staff);
    for (const line of [...own, ...lines])
      for (const item of line.items) if (item.kind === 'chord' && isIt(item)) return item;
    return undefined;
  }

  private putSpanner(spanner: Spanner): void {
    const number = this.next;
    this.next = this.next > HIGHEST / 2 ? this.next - 1 : HIGHEST;
    const { from, to } = spanner;
    if ('note' in from && 'note' in to) {
      for (const [id, type] of [[from.note, 'start'] as const, [to.note, 'stop'] as const]) {
        const element = this.elementOf(id);
        if (element) this.putNotations(element, (xml) => writeNoteEnd(xml, { spanner, type, number }));
      }
      return;
    }
    if ('note' in from || 'note' in to) return;
    const staff = this.part.clefs.length > 1 ? (from.staff ?? 1) : undefined;
    const direction = (type: 'start' | 'stop') => {
      const xml = new XmlText();
      writeDirectionEnd(xml, { spanner, type, number }, 0, staff);
      return inOneLine(xml);
    };
    this.putBefore(from.bar, from.at, from.staff ?? 1, direction('start'));
    if (this.putBefore(to.bar, to.at, to.staff ?? 1, direction('stop'))) return;
    const last = this.chordAt(to.bar, to.staff ?? 1, ({ onset, duration }) => onset + duration === to.at);
    const element = last && this.elementOf(last.notes.at(-1)!.id);
    if (element)
      this.changes.push({
        from: element.to,
        to: element.to,
        text: spaceBefore(this.text, element.from) + direction('stop'),
      });
  }

  private takeSpanner({ kind, from, to }: Spanner): void {
    if ('note' in from && 'note' in to) {
      const begins = this.elementOf(from.note);
      const start = begins && notationsOf(begins, kind).find(({ attributes }) => attributes.type === 'start');
      const ends = this.elementOf(to.note);
      const stop =
        ends &&
        notationsOf(ends, kind).find(
          ({ attributes }) =>
            attributes.type === 'stop' && (attributes.number ?? '1') === (start?.attributes.number ?? '1'),
        );
      for (const each of [start, stop]) if (each) takeOut(this.text, each, this.changes);
      return;
    }
    if ('note' in from || 'note' in to) return;
    const isWedge = (type: 'start' | 'stop') => (direction: XmlElement) =>
      childrenOf(direction, 'direction-type').some((each) =>
        childrenOf(each, 'wedge').some(
          ({ attributes }) => (attributes.type === 'stop') === (type === 'stop'),
        ),
      );
    this.takeDirection(from.bar, from.at, isWedge('start'));
    this.takeDirection(to.bar, to.at, isWedge('stop'));
  }

  /** Takes a direction of a bar out that stands at a moment. */
  private takeDirection(bar: number, at: Moment, isIt: (direction: XmlElement) => boolean): void {
    const place = this.places.bars[bar];
    if (!place) return;
    const measure = elementAt(this.text, place);
    const found = measure.children.filter((each) => each.name === 'direction' && isIt(each));
    // Of several that say the same the one nearest to its moment is meant.
    const [element] = found.toSorted(
      (a, b) => this.distance(measure, a, bar, at) - this.distance(measure, b, bar, at),
    );
    if (element) takeOut(this.text, element, this.changes);
  }

  /** How far a direction stands from a moment, as a share of its bar. */
  private distance(measure: XmlElement, element: XmlElement, bar: number, at: Moment): number {
    const lengthOf = (each: XmlElement) => numberFrom(child(each, 'duration')?.text) ?? 0;
    let now = 0;
    let longest = 1;
    let place = 0;
    for (const each of measure.children) {
      if (each === element) place = now + (numberFrom(child(each, 'offset')?.text) ?? 0);
      if (each.name === 'backup') now -= lengthOf(each);
      else if (each.name === 'forward' || (each.name === 'note' && !child(each, 'chord')))
        now += lengthOf(each);
      longest = Math.max(longest, now);
    }
    const length = Math.max(
      1,
      ...(this.part.bars[bar]?.voices ?? []).map(({ items }) => {
        const last = items.at(-1);
        return last ? last.onset + last.duration : 1;
      }),
    );
    return Math.abs(place / longest - at / length);
  }
}

/** The changes in a document that make the signs of a part what they are to be. @param readAs names of the notes in `places` by their ids */
export function signChanges(
  text: string,
  places: Places,
  before: Part,
  after: Part,
  readAs: ReadonlyMap<string, string>,
  changes: Change[],
): void {
  new Signs(text, places, before, after, readAs, changes).make(before);
}

const inOneLine = (xml: XmlText): string => xml.text().replaceAll(/\n\s*/g, '');

const notationsOf = (note: XmlElement, name: string): XmlElement[] =>
  childrenOf(note, 'notations').flatMap((each) => childrenOf(each, name));

/** All chords by the id of their first note. */
function chordsOf({ bars }: Part): Map<string, Standing> {
  const found = new Map<string, Standing>();
  bars.forEach(({ voices }, bar) => {
    for (const { items, staff } of voices)
      for (const item of items)
        if (item.kind === 'chord') found.set(item.notes[0]!.id, { chord: item, bar, staff });
  });
  return found;
}

/** Directions that are put by hand. */
const isSaid = ({ kind }: Mark): boolean => kind === 'dynamic' || kind === 'words';
const isSame = (one: Mark) => (other: Mark) => JSON.stringify(one) === JSON.stringify(other);

const saysMark =
  (mark: Mark) =>
  (direction: XmlElement): boolean =>
    childrenOf(direction, 'direction-type').some((each) => {
      if (mark.kind === 'words')
        return childrenOf(each, 'words').some(({ text }) => text.trim() === mark.text.trim());
      if (mark.kind !== 'dynamic') return false;
      return childrenOf(each, 'dynamics').some(({ children }) =>
        children.some(({ name, text }) => name === mark.dynamic || text.trim() === mark.dynamic),
      );
    });

const isSameMark = (one: ChordMark) => (other: ChordMark) =>
  one.kind === other.kind && ('name' in one ? one.name : '') === ('name' in other ? other.name : '');

const DRAWN: ReadonlySet<Spanner['kind']> = new Set(['slur', 'glissando', 'slide', 'wedge']);
const isDrawn = ({ kind }: Spanner): boolean => DRAWN.has(kind);
const isSameSpan =
  (one: Spanner) =>
  (other: Spanner): boolean =>
    one.id === other.id && one.kind === other.kind && JSON.stringify(one) === JSON.stringify(other);
