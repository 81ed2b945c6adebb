import type { Clef } from '../../model/clefs';
import type { ChordMark, Mark, Root } from '../../model/marks';
import {
  diatonicHeight,
  type Interval,
  MOST_ALTERED,
  movedBy,
  nameOfAlter,
  type Pitch,
  pitchKey,
  STEPS,
} from '../../model/pitch';
import {
  type Note,
  type Part,
  type Score,
  type Transposition,
  type WrittenKey,
  writtenKeys,
} from '../../model/score';
import type { Moment } from '../../model/time';
import {
  ATTRIBUTE_ORDER,
  type Change,
  NOTE_ORDER,
  putIn,
  putText,
  putValue,
  spaceBefore,
  takeOut,
} from './changes';
import { CLEFS } from './clefs';
import { child, childrenOf, elementAt, numberFrom, type XmlElement } from './elements';
import type { Places, Sign } from './part-reader';
import { signChanges } from './splice-signs';

/** The music of a part within its score. */
export interface PartMusic {
  score: Pick<Score, 'keys'>;
  part: Part;
}

/** Order of the children (MusicXML 4.0, `pitch`, `root`, `bass`). */
const PITCH = ['step', 'alter', 'octave'];
const ROOT = ['root-step', 'root-alter'];
const BASS = ['bass-separator', 'bass-step', 'bass-alter'];

/**
 * The changes in a document that make the music of a part what it is to be, in
 * pitches, accidentals, frets, signatures, clefs, transpositions and chord
 * symbols: each in its own element.
 *
 * @param readAs names of the notes in `places` by their ids
 */
export function musicChanges(
  text: string,
  places: Places,
  before: PartMusic,
  after: PartMusic,
  readAs: ReadonlyMap<string, string>,
): Change[] {
  if (before.part === after.part) return [];
  const changes: Change[] = [];
  changeNotes(text, places, before.part, after.part, readAs, changes);
  signChanges(text, places, before.part, after.part, readAs, changes);
  changeSymbols(text, places, before.part, after.part, changes);
  new SignChanges(text, places, changes, readAs).make(before, after);
  return changes;
}

/** The changes in a document that give notes of a part other accidentals; they are named as in `places`. */
export function accidentalChanges(text: string, places: Places, before: Part, after: Part): Change[] {
  const changes: Change[] = [];
  changeNotes(text, places, before, after, new Map(), changes);
  return changes;
}

const NO_MARKS: readonly ChordMark[] = [];

/** All notes with the marks of their chords. */
function* notesOf(part: Part): Generator<{ note: Note; marks: readonly ChordMark[] }> {
  for (const bar of part.bars)
    for (const line of bar.voices)
      for (const item of line.items)
        if (item.kind === 'chord')
          for (const note of [...(item.graces ?? []), ...item.notes, ...(item.gracesAfter ?? [])])
            yield { note, marks: (note === item.notes[0] && item.marks) || NO_MARKS };
}

/** How much higher a part is written than before, by its first note. */
function openingInterval(before: Part, after: Part): Interval {
  const [own] = notesOf(before);
  const [next] = notesOf(after);
  if (!own || !next) return { diatonic: 0, chromatic: 0 };
  const [from, to] = [own.note.pitch, next.note.pitch];
  return {
    diatonic: diatonicHeight(to) - diatonicHeight(from),
    chromatic: pitchKey(to) - pitchKey(from),
  };
}

function changeNotes(
  text: string,
  { notes }: Places,
  before: Part,
  after: Part,
  readAs: ReadonlyMap<string, string>,
  changes: Change[],
): void {
  const known = new Map([...notesOf(before)].map((each) => [each.note.id, each]));
  for (const { note, marks } of notesOf(after)) {
    const own = known.get(note.id);
    const place = notes.get(readAs.get(note.id) ?? note.id);
    if (!own || !place || (own.note === note && own.marks === marks)) continue;
    const element = elementAt(text, place);
    changePitch(text, element, own.note.pitch, note.pitch, changes);
    if (own.note.accidental !== note.accidental) changeAccidental(text, element, note.accidental, changes);
    if (own.note.fret !== note.fret || own.note.string !== note.string)
      changeFret(text, element, note, changes);
    changeOrnaments(text, element, own.marks, marks, changes);
  }
}

function changePitch(
  text: string,
  element: XmlElement,
  before: Pitch,
  { step, alter, octave }: Pitch,
  changes: Change[],
): void {
  const pitch = child(element, 'pitch');
  if (!pitch) return;
  if (step !== before.step) putText(text, pitch, 'step', step, changes);
  if (octave !== before.octave) putText(text, pitch, 'octave', String(octave), changes);
  if (alter !== before.alter) changeAlter(text, pitch, 'alter', alter, PITCH, changes);
}

/** The element that says an alteration: put in, changed, or taken out where there is none. */
function changeAlter(
  text: string,
  parent: XmlElement,
  name: string,
  alter: number,
  order: readonly string[],
  changes: Change[],
): void {
  const element = child(parent, name);
  if ((numberFrom(element?.text) ?? 0) === alter) return;
  if (!element) putIn(text, parent, name, `<${name}>${alter}</${name}>`, order, changes);
  else if (alter === 0) takeOut(text, element, changes);
  else putValue(text, element, String(alter), changes);
}

function changeAccidental(
  text: string,
  note: XmlElement,
  accidental: string | undefined,
  changes: Change[],
): void {
  const element = child(note, 'accidental');
  if (element && accidental) putValue(text, element, accidental, changes);
  else if (element) takeOut(text, element, changes);
  else if (accidental)
    putIn(text, note, 'accidental', `<accidental>${accidental}</accidental>`, NOTE_ORDER, changes);
}

function changeFret(text: string, note: XmlElement, { fret, string }: Note, changes: Change[]): void {
  for (const notations of childrenOf(note, 'notations'))
    for (const technical of childrenOf(notations, 'technical'))
      for (const each of technical.children) {
        const value = each.name === 'fret' ? fret : each.name === 'string' ? string : null;
        if (value === undefined) takeOut(text, each, changes);
        else if (value !== null) putValue(text, each, String(value), changes);
      }
}

function changeOrnaments(
  text: string,
  note: XmlElement,
  before: readonly ChordMark[],
  after: readonly ChordMark[],
  changes: Change[],
): void {
  const names = (marks: readonly ChordMark[]) =>
    marks
      .flatMap((mark) => (mark.kind === 'ornament' ? (mark.accidentals ?? []) : []))
      .map(({ name }) => name);
  const [were, are] = [names(before), names(after)];
  if (were.join() === are.join()) return;
  const elements = childrenOf(note, 'notations').flatMap((notations) =>
    childrenOf(notations, 'ornaments').flatMap((ornaments) => childrenOf(ornaments, 'accidental-mark')),
  );
  elements.forEach((element, index) => {
    if (are[index] !== undefined && are[index] !== were[index]) putValue(text, element, are[index], changes);
  });
}

function changeSymbols(text: string, { signs }: Places, before: Part, after: Part, changes: Change[]): void {
  const isSymbol = (mark: Mark) => mark.kind === 'chord-symbol';
  after.bars.forEach(({ marks = [] }, bar) => {
    const known = before.bars[bar]?.marks?.filter(isSymbol) ?? [];
    const elements = signs
      .filter((sign) => sign.kind === 'harmony' && sign.bar === bar)
      .sort((a, b) => a.at - b.at);
    marks.filter(isSymbol).forEach((mark, index) => {
      const [own, place] = [known[index], elements[index]];
      if (!own || !place || own === mark) return;
      const harmony = elementAt(text, place);
      changeRoot(text, child(harmony, 'root'), 'root', mark.symbol.root, ROOT, changes);
      if (mark.symbol.bass) changeRoot(text, child(harmony, 'bass'), 'bass', mark.symbol.bass, BASS, changes);
    });
  });
}

function changeRoot(
  text: string,
  element: XmlElement | undefined,
  name: 'root' | 'bass',
  { step, alter }: Root,
  order: readonly string[],
  changes: Change[],
): void {
  if (!element) return;
  const letter = child(element, `${name}-step`);
  if (letter && letter.text.trim() !== step) putValue(text, letter, step, changes);
  changeAlter(text, element, `${name}-alter`, alter, order, changes);
}

interface At {
  bar: number;
  at: Moment;
}
const isAt =
  ({ bar, at }: At) =>
  (each: At): boolean =>
    each.bar === bar && each.at === at;

/** Signatures, transpositions and clefs: what a document says of them, and what it is to say. */
class SignChanges {
  constructor(
    private readonly text: string,
    private readonly places: Places,
    private readonly changes: Change[],
    /** Names of the notes in `places` by their ids. */
    private readonly readAs: ReadonlyMap<string, string>,
  ) {}

  make(before: PartMusic, after: PartMusic): void {
    const [were, are] = [before, after].map(({ score, part }) => writtenKeys(score, part)) as [
      WrittenKey[],
      WrittenKey[],
    ];
    this.changeKeys(were, are, openingInterval(before.part, after.part));
    const added = are.filter((key, index) => {
      const isNew = were.find(isAt(key))?.fifths !== key.fifths;
      const holding = are[index - 1]?.fifths ?? 0;
      return isNew && key.fifths !== holding && !this.signs('key').some(isAt(key));
    });
    const transpositions = this.changedTranspositions(before.part, after.part);
    for (const key of added)
      this.put(
        key,
        'key',
        `<key><fifths>${key.fifths}</fifths>${key.minor ? '<mode>minor</mode>' : ''}</key>`,
      );
    for (const each of transpositions) this.put(each, 'transpose', transposeText(each.transposition));
    this.changeClefs(before.part, after.part);
    this.flush();
  }

  private signs(kind: Sign['kind']): Sign[] {
    return this.places.signs.filter((sign) => sign.kind === kind);
  }

  private changeKeys(were: readonly WrittenKey[], are: readonly WrittenKey[], by: Interval): void {
    const { text, changes } = this;
    for (const sign of this.signs('key')) {
      const [own, next] = [were.find(isAt(sign)), are.find(isAt(sign))];
      this.changeKeySteps(sign, by);
      if (!own || !next || own.fifths === next.fifths) continue;
      const element = elementAt(text, sign);
      putText(text, element, 'fifths', String(next.fifths), changes);
      // What is cancelled is the signature before.
      const holding = are[are.indexOf(next) - 1];
      if (holding) putText(text, element, 'cancel', String(holding.fifths), changes);
    }
  }

  /** A signature that names its own steps has them moved like notes. */
  private changeKeySteps(sign: Sign, by: Interval): void {
    const { text, changes } = this;
    const key = elementAt(text, sign);
    const alters = childrenOf(key, 'key-alter');
    childrenOf(key, 'key-step').forEach((element, index) => {
      const step = STEPS.find((each) => each === element.text.trim());
      const altered = alters[index];
      const alter = numberFrom(altered?.text) ?? 0;
      if (!step || !altered || Math.abs(alter) > MOST_ALTERED) return;
      const moved = movedBy({ step, alter, octave: 4 }, by);
      putValue(text, element, moved.step, changes);
      putValue(text, altered, String(moved.alter), changes);
      // An accidental of its own kind is kept only as far as a plain one says it.
      const shown = childrenOf(key, 'key-accidental')[index];
      const name = nameOfAlter(moved.alter);
      if (shown && name) putValue(text, shown, name, changes);
    });
  }

  /** Changes those that stand in the text, and tells those that do not. */
  private changedTranspositions(before: Part, after: Part): (At & { transposition: Transposition })[] {
    const { text, changes } = this;
    const [were, are] = [before, after].map(transpositionsOf) as [
      ReturnType<typeof transpositionsOf>,
      ReturnType<typeof transpositionsOf>,
    ];
    const signs = this.signs('transpose');
    for (const sign of signs) {
      const [own, next] = [were.find(isAt(sign)), are.find(isAt(sign))];
      // What could not be read is not ours to take out.
      if (!own || (next && isSame(own.transposition, next.transposition))) continue;
      const element = elementAt(text, sign);
      if (next && !(isAtStart(next) && isNone(next.transposition)))
        changes.push({ from: sign.from, to: sign.to, text: transposeText(next.transposition) });
      else takeOut(text, element, changes);
    }
    return are.filter((each) => !signs.some(isAt(each)) && !(isAtStart(each) && isNone(each.transposition)));
  }

  private changeClefs(before: Part, after: Part): void {
    const { text, changes } = this;
    const [were, are] = [before, after].map(clefsOf) as [PlacedClef[], PlacedClef[]];
    for (const sign of this.signs('clef')) {
      const isOfSign = (each: PlacedClef) => isAt(sign)(each) && each.staff === sign.staff;
      const [own, next] = [were.find(isOfSign), are.find(isOfSign)];
      if (!own || own.clef === next?.clef) continue;
      const element = elementAt(text, sign);
      if (!next) takeOut(text, element, changes);
      else
        changes.push({
          from: sign.from,
          to: sign.to,
          text: text.slice(sign.from, text.indexOf('>', sign.from) + 1) + clefText(next.clef),
        });
    }
    for (const clef of are) {
      if (this.signs('clef').some((sign) => isAt(clef)(sign) && sign.staff === clef.staff)) continue;
      // A staff without one is read as if it had the usual one.
      if (isAtStart(clef) && clef.clef === 'treble') continue;
      const before = isAtStart(clef) || clef.at === 0 ? undefined : this.noteAt(after, clef);
      const number = after.clefs.length > 1 ? ` number="${clef.staff}"` : '';
      this.put(clef, 'clef', `<clef${number}>${clefText(clef.clef)}`, before);
    }
  }

  /** The element of the first note that begins on a staff at a moment, or of the first grace note before it. */
  private noteAt(part: Part, { bar, at, staff }: PlacedClef): number | undefined {
    const chords = (part.bars[bar]?.voices ?? []).flatMap((line) =>
      line.items.flatMap((item) => (item.kind === 'chord' && item.onset === at ? [{ item, line }] : [])),
    );
    const isOwn = ({ item, line }: (typeof chords)[number]) =>
      item.notes.some((note) => (note.staff ?? line.staff) === staff);
    const places = chords.filter(isOwn).flatMap(({ item }) => {
      const { id } = item.graces?.[0] ?? item.notes[0]!;
      return this.places.notes.get(this.readAs.get(id) ?? id)?.from ?? [];
    });
    return places.length > 0 ? Math.min(...places) : undefined;
  }

  /** New children by the element that they go into; those without one make one together. */
  private readonly wanted = new Map<string, Wanted>();

  /** @param before where in the text it goes where nothing is there to take it; the start of the bar where absent */
  private put({ bar, at }: At, name: string, xml: string, before?: number): void {
    const key = `${bar} ${at} ${before ?? ''}`;
    const known = this.wanted.get(key) ?? { place: { bar, at }, before, children: [] };
    this.wanted.set(key, known);
    known.children.push({ name, xml });
  }

  private flush(): void {
    const { text, changes } = this;
    for (const { place, before, children } of this.wanted.values()) {
      const inOrder = children.toSorted(
        (a, b) => ATTRIBUTE_ORDER.indexOf(a.name) - ATTRIBUTE_ORDER.indexOf(b.name),
      );
      const sign = this.signs('attributes').find(isAt(place));
      if (sign) {
        const element = elementAt(text, sign);
        for (const { name, xml } of inOrder) putIn(text, element, name, xml, ATTRIBUTE_ORDER, changes);
        continue;
      }
      const xml = `<attributes>${inOrder.map((each) => each.xml).join('')}</attributes>`;
      const at = before ?? this.startOf(place);
      if (at !== null) changes.push({ from: at, to: at, text: xml + spaceBefore(text, at) });
    }
  }

  /** Before the first note of a bar. */
  private startOf({ bar }: At): number | null {
    const place = this.places.bars[bar];
    if (!place) return null;
    const element = elementAt(this.text, place);
    const first = element.children.find(({ name }) => name !== 'print' && name !== 'barline');
    return first?.from ?? null;
  }
}

const isAtStart = ({ bar, at }: At): boolean => bar === 0 && at === 0;
const isNone = ({ diatonic, chromatic }: Transposition): boolean => diatonic === 0 && chromatic === 0;
const isSame = (a: Transposition, b: Transposition): boolean =>
  a.diatonic === b.diatonic && a.chromatic === b.chromatic;

const transpositionsOf = ({ transposition, changes = [] }: Part) => [
  { bar: 0, at: 0, transposition },
  ...changes.filter((change) => change.kind === 'transposition'),
];

/** What goes into the text at a place. */
interface Wanted {
  place: At;
  before: number | undefined;
  children: { name: string; xml: string }[];
}

interface PlacedClef extends At {
  staff: number;
  clef: Clef;
}

const clefsOf = ({ clefs, changes = [] }: Part): PlacedClef[] => [
  ...clefs.map((clef, index): PlacedClef => ({ bar: 0, at: 0, staff: index + 1, clef })),
  ...changes.filter((change) => change.kind === 'clef'),
];

function transposeText({ diatonic, chromatic }: Transposition): string {
  const octaves = Math.trunc(chromatic / 12);
  const octave = octaves === 0 ? '' : `<octave-change>${octaves}</octave-change>`;
  return `<transpose><diatonic>${diatonic - 7 * octaves}</diatonic><chromatic>${chromatic - 12 * octaves}</chromatic>${octave}</transpose>`;
}

function clefText(clef: Clef): string {
  const { sign, line, octave } = CLEFS[clef];
  return `<sign>${sign}</sign>${line === undefined ? '' : `<line>${line}</line>`}${
    octave === undefined ? '' : `<clef-octave-change>${octave}</clef-octave-change>`
  }</clef>`;
}
