import { KIT } from '../../instruments/kit';
import type { Clef } from '../../model/clefs';
import type { Meter } from '../../model/clock';
import { eventId, noteIdOf, type StrandId } from '../../model/ids';
import type { Mark } from '../../model/marks';
import { MOST_ALTERED, type Pitch, pitchKey, STEPS } from '../../model/pitch';
import type {
  Barline,
  Beam,
  Chord,
  Jump,
  MeterSign,
  Note,
  PartBar,
  PartChange,
  Rest,
  Transposition,
  Tuplet,
} from '../../model/score';
import {
  type Moment,
  NOTE_TYPES,
  type NoteType,
  QUARTER,
  type Span,
  singleValue,
  typeSpan,
  type Value,
} from '../../model/time';
import { readBarline } from './barlines';
import { CLEFS } from './clefs';
import {
  isNoteType,
  type ReadDirection,
  readDirection,
  readFigures,
  readHarmony,
  readSound,
} from './directions';
import { child, childrenOf, numberFrom, numberOf, textOf, type XmlElement } from './elements';
import { dynamicMarks, type ReadEnd, readLyrics, readNotations } from './notations';
import type { ListedPart } from './part-list';
import { ACCIDENTALS, HEADS, known } from './values';

/** A chord or rest with the voice and staff that the document gives it. */
export type ReadItem = (Chord | Rest) & { voice: string; staff: number };

/** One end of something that stretches, with its place. */
export interface PlacedEnd extends ReadEnd {
  note?: string;
  bar: number;
  at: Moment;
  staff: number;
  /** As the document names it; of a note. */
  voice?: string;
  line: number;
  /** Its note takes no time: it comes before what else begins there. */
  isGrace?: true;
}

/** A stretch of the text. */
export interface Place {
  from: number;
  to: number;
}

/** Where in the text the music of one part stands. */
export interface Places {
  /** The element that holds each bar. */
  bars: Place[];
  /** By the ids that the notes are read under. */
  notes: Map<string, Place>;
  /** In the order of the text. */
  signs: Sign[];
  /** What each bar says for the score as a whole. */
  said: SaidOfBar[];
}

/** How long a bar is in one part, and all that it says there for all of them. */
export type SaidOfBar = { length: Span; sounds: Span } & Pick<
  ReadBar,
  'number' | 'meter' | 'sign' | 'left' | 'right' | 'jumps' | 'tempos' | 'swing' | 'isSwingSaid'
>;

/** An element of a bar that is no note. */
export interface Sign extends Place {
  kind: 'attributes' | 'key' | 'clef' | 'transpose' | 'harmony';
  bar: number;
  at: Moment;
  /** Of a clef. */
  staff?: number;
}

/** One bar of one part as it was read. Moments from its start, in units. */
export interface ReadBar {
  number: string;
  implicit: boolean;
  /** How far the part goes in it. */
  length: Span;
  /** Set where a new one begins. */
  meter?: Meter;
  sign?: MeterSign;
  left?: Barline;
  right?: Barline;
  items: ReadItem[];
  marks: Mark[];
  jumps: Jump[];
  tempos: { at: Moment; quartersPerMinute: number }[];
  swing?: ReadDirection['swing'];
  isSwingSaid?: boolean;
  /** Written short. */
  shown?: NonNullable<PartBar['shown']>;
  line: number;
}

/** What all parts of a document share while they are read. */
export interface Shared {
  /** Ids in use. */
  ids: Set<string>;
  /** Elements that the model has no place for, by name, with how often. */
  lost: Map<string, number>;
  mend: (at: Pick<XmlElement, 'from' | 'line'>, place: string, what: string, done: string) => void;
}

/** MusicXML 4.0, `octave`: 0 to 9. */
const HIGHEST_OCTAVE = 9;
/** No instrument sounds farther from what it reads: four octaves. Semitones. */
const FARTHEST = 48;
/** No note, rest or step lasts longer: a thousand quarters (common practice: the longest value, a maxima, is 32). */
const LONGEST = 1000 * QUARTER;
/** A chord may not be divided finer than this many to a quarter; others are not believed. */
const MOST_DIVISIONS = 1_000_000;
const SEMITONES_BY_FIFTHS = 7;

/** Reads one part bar by bar: pitches as written in MusicXML, keys as they sound. */
export class PartReader {
  readonly bars: ReadBar[] = [];
  readonly ends: PlacedEnd[] = [];
  readonly changes: PartChange[] = [];
  readonly places: Places = { bars: [], notes: new Map(), signs: [], said: [] };
  staves = 1;
  readonly clefs: Clef[] = [];
  readonly lines = new Map<number, number>();
  tuning: number[] = [];
  transposition: Transposition | null = null;
  /** Written signatures, each from its moment on. */
  readonly keys: { bar: number; at: Moment; fifths: number; minor: boolean }[] = [];
  private transposes: Transposition = { diatonic: 0, chromatic: 0 };
  private divisions = 0;
  private at = 0;
  private before = 0;
  private count = 0;
  private isRounded = false;
  private last: ReadItem | null = null;
  private graces: Note[] = [];
  private readonly tuplets = new Map<string, Tuplet[]>();
  /** How bars are written short from here on. */
  private shown: PartBar['shown'];

  constructor(
    readonly listed: ListedPart,
    readonly strand: StrandId,
    private readonly shared: Shared,
  ) {}

  private get bar(): ReadBar {
    return this.bars.at(-1)!;
  }

  private place(): string {
    return `${this.listed.name || this.listed.xmlId}, bar ${this.bar.number}`;
  }

  private readonly lost = (name: string): void => {
    this.shared.lost.set(name, (this.shared.lost.get(name) ?? 0) + 1);
  };

  private mend(element: XmlElement, what: string, done: string): void {
    this.shared.mend(element, this.place(), what, done);
  }

  readMeasure(measure: XmlElement, attributes: XmlElement['attributes']): void {
    this.bars.push({
      number: attributes.number ?? String(this.bars.length + 1),
      implicit: attributes.implicit === 'yes',
      length: 0,
      items: [],
      marks: [],
      jumps: [],
      tempos: [],
      line: measure.line,
    });
    this.places.bars.push({ from: measure.from, to: measure.to });
    this.at = 0;
    this.last = null;
    for (const each of measure.children) this.readElement(each);
    this.endGraces(measure);
    if (this.shown) this.bar.shown = this.shown;
    const { bar } = this;
    const { number, meter, sign, left, right, jumps, tempos, swing, isSwingSaid } = bar;
    this.places.said.push({
      length: lengthOf(bar),
      sounds: soundingLength(bar),
      number,
      jumps,
      tempos,
      ...(meter && { meter }),
      ...(sign && { sign }),
      ...(left && { left }),
      ...(right && { right }),
      ...(swing !== undefined && { swing }),
      ...(isSwingSaid && { isSwingSaid }),
    });
  }

  private readElement(each: XmlElement): void {
    switch (each.name) {
      case 'note':
        return this.readNote(each);
      case 'backup':
        this.endGraces(each);
        return this.move(each, -1);
      case 'forward':
        this.endGraces(each);
        return this.move(each, 1);
      case 'attributes':
        return this.readAttributes(each);
      case 'direction':
        return this.takeIn(each, readDirection(each, this.moment(each), this.lost));
      case 'sound':
        return this.takeIn(each, readSound(each));
      case 'harmony':
        return this.readHarmony(each);
      case 'figured-bass':
        return this.readFigured(each);
      case 'barline':
        return this.readBarline(each);
      case 'print':
        return;
      default:
        this.lost(each.name);
    }
  }

  /** Where something stands: here, or by its offset; never outside of the bar's start. */
  private moment(element: XmlElement): Moment {
    const offset = numberOf(element, 'offset') ?? 0;
    return Math.max(0, Math.round(this.at + this.span(offset)));
  }

  private span(divisions: number): number {
    return (divisions * QUARTER) / (this.divisions || 1);
  }

  private duration(element: XmlElement): number {
    const duration = numberOf(element, 'duration');
    if (duration === undefined || duration < 0) {
      this.mend(element, 'a duration is missing or no number', 'It counts as none.');
      return 0;
    }
    if (this.divisions === 0) {
      this.mend(element, 'nothing says how long a division is', 'It counts as a quarter.');
      this.divisions = 1;
    }
    const span = this.span(duration);
    if (span > LONGEST) {
      this.mend(
        element,
        `a duration of ${duration / this.divisions} quarters cannot be`,
        'It counts as none.',
      );
      return 0;
    }
    if (!Number.isInteger(span) && !this.isRounded) {
      this.isRounded = true;
      this.mend(
        element,
        `${duration} of ${this.divisions} to a quarter is finer than time is kept here`,
        'From here on moments are kept to a billionth of a quarter.',
      );
    }
    return span;
  }

  private move(element: XmlElement, direction: 1 | -1): void {
    const to = this.at + direction * this.duration(element);
    if (to < -0.5)
      this.mend(element, 'the music goes back before its bar', 'It goes on from the start of the bar.');
    this.at = Math.max(0, to);
    this.bar.length = Math.max(this.bar.length, Math.round(this.at));
  }

  private takeIn(element: XmlElement, found: ReadDirection): void {
    const { bar } = this;
    const at = this.moment(element);
    bar.marks.push(...found.marks);
    for (const jump of found.jumps)
      if (!bar.jumps.some((each) => each.kind === jump.kind && each.at === at))
        bar.jumps.push({ ...jump, at });
    if (found.tempo !== undefined) bar.tempos.push({ at, quartersPerMinute: found.tempo });
    if (found.swing !== undefined) bar.swing = found.swing;
    if (found.isSwingSaid) bar.isSwingSaid = true;
    const staff = numberOf(element, 'staff') ?? 1;
    for (const end of found.ends) this.ends.push({ ...end, ...this.here(element), at, staff });
  }

  private here(element: XmlElement) {
    return { bar: this.bars.length - 1, at: Math.round(this.at), staff: 1, line: element.line };
  }

  private sign(kind: Sign['kind'], { from, to }: XmlElement, at = Math.round(this.at), staff?: number): void {
    const bar = this.bars.length - 1;
    this.places.signs.push({ kind, bar, at, from, to, ...(staff !== undefined && { staff }) });
  }

  private readAttributes(attributes: XmlElement): void {
    this.sign('attributes', attributes);
    for (const each of attributes.children)
      switch (each.name) {
        case 'divisions': {
          const divisions = numberFrom(each.text);
          if (divisions !== undefined && divisions > 0 && divisions <= MOST_DIVISIONS)
            this.divisions = divisions;
          else
            this.mend(each, `“${each.text.trim().slice(0, 20)}” divisions cannot be`, 'Those before go on.');
          break;
        }
        case 'key':
          this.readKey(each);
          break;
        case 'time':
          this.readTime(each);
          break;
        case 'staves':
          this.staves = Math.min(64, Math.max(1, numberFrom(each.text) ?? 1));
          break;
        case 'clef':
          this.readClef(each);
          break;
        case 'transpose':
          this.readTranspose(each);
          break;
        case 'staff-details':
          this.readStaffDetails(each);
          break;
        case 'measure-style':
          this.readStyle(each);
          break;
        default:
          this.lost(each.name);
      }
  }

  /** Bar repeats of one bar, and slashes; a rest over several bars is for whoever puts a part on paper. */
  private readStyle(style: XmlElement): void {
    for (const each of style.children) {
      const isEnd = each.attributes.type === 'stop';
      if (each.name === 'slash') this.shown = isEnd ? undefined : 'slashes';
      else if (each.name === 'measure-repeat' && (isEnd || (numberFrom(each.text) ?? 1) === 1))
        this.shown = isEnd ? undefined : 'repeat';
      else if (each.name !== 'multiple-rest') this.lost(each.name);
    }
  }

  private readKey(key: XmlElement): void {
    this.sign('key', key);
    const fifths = numberOf(key, 'fifths');
    if (fifths === undefined) {
      this.lost('key-step');
      return;
    }
    const { bar, at } = this.here(key);
    // Staves of one part share their signature here; the first that is said holds.
    if (this.keys.some((each) => each.bar === bar && each.at === at)) return;
    const kept = Math.max(-7, Math.min(7, Math.round(fifths)));
    this.keys.push({ bar, at, fifths: kept, minor: textOf(key, 'mode') === 'minor' });
  }

  private readTime(time: XmlElement): void {
    const { bar } = this;
    if (child(time, 'senza-misura')) {
      bar.sign = { kind: 'free' };
      return;
    }
    const beats = childrenOf(time, 'beats').map((each) => each.text.trim());
    const types = childrenOf(time, 'beat-type').map((each) => numberFrom(each.text) ?? 4);
    const meters = beats.map((text, index): Meter => {
      const parts = text.split('+').map((each) => numberFrom(each) ?? 0);
      return { numerator: parts.reduce((sum, each) => sum + each, 0), denominator: types[index] ?? 4 };
    });
    const isSound = ({ numerator, denominator }: Meter) =>
      numerator > 0 &&
      numerator < 1000 &&
      Number.isInteger(numerator) &&
      denominator >= 1 &&
      denominator <= 128 &&
      Number.isInteger(Math.log2(denominator));
    if (meters.length === 0 || !meters.every(isSound)) {
      this.mend(time, `a meter of “${beats.join(' ')}” cannot be`, 'The one before goes on.');
      return;
    }
    const denominator = Math.max(...meters.map((each) => each.denominator));
    bar.meter = {
      numerator: meters.reduce((sum, each) => sum + (each.numerator * denominator) / each.denominator, 0),
      denominator,
    };
    const { symbol } = time.attributes;
    if (symbol === 'common' || symbol === 'cut') bar.sign = { kind: symbol };
    else if (meters.length > 1) bar.sign = { kind: 'alternating', meters };
    else if (beats[0]?.includes('+'))
      bar.sign = { kind: 'additive', beats: beats[0].split('+').map((each) => numberFrom(each) ?? 0) };
  }

  private readClef(element: XmlElement): void {
    const staff = numberFrom(element.attributes.number) ?? 1;
    this.sign('clef', element, Math.round(this.at), staff);
    const sign = textOf(element, 'sign');
    const line = numberOf(element, 'line');
    const octave = numberOf(element, 'clef-octave-change') ?? 0;
    const clef = (Object.keys(CLEFS) as Clef[]).find((name) => {
      const known = CLEFS[name];
      return (
        known.sign === sign &&
        (known.octave ?? 0) === octave &&
        (sign === 'percussion' ||
          sign === 'TAB' ||
          sign === 'none' ||
          known.line === (line ?? USUAL_LINE[sign ?? '']))
      );
    });
    if (!clef) {
      this.lost(`clef ${sign}${line ?? ''}${octave ? ` ${octave}` : ''}`);
      return;
    }
    const { bar, at } = this.here(element);
    if (bar === 0 && at === 0 && this.clefs[staff - 1] === undefined) this.clefs[staff - 1] = clef;
    else this.changes.push({ kind: 'clef', bar, at, staff, clef });
  }

  private readTranspose(element: XmlElement): void {
    this.sign('transpose', element);
    const octaves = numberOf(element, 'octave-change') ?? 0;
    const chromatic = Math.round((numberOf(element, 'chromatic') ?? 0) + 12 * octaves);
    // Where the steps are not said, or cannot be, they follow from the semitones (common practice).
    const usual = Math.round((chromatic * SEMITONES_BY_FIFTHS) / 12);
    const told = (numberOf(element, 'diatonic') ?? Number.NaN) + 7 * octaves;
    const diatonic = Math.abs(told - usual) <= MOST_ALTERED ? told : usual;
    if (Math.abs(chromatic) > FARTHEST) {
      this.mend(element, `a transposition by ${chromatic} semitones cannot be`, 'It counts as none.');
      return;
    }
    const transposition = { diatonic: Math.round(diatonic), chromatic };
    this.transposes = transposition;
    const { bar, at } = this.here(element);
    if (this.transposition === null && bar === 0 && at === 0) this.transposition = transposition;
    else this.changes.push({ kind: 'transposition', bar, at, transposition });
  }

  private readStaffDetails(element: XmlElement): void {
    const staff = numberFrom(element.attributes.number) ?? 1;
    const lines = numberOf(element, 'staff-lines');
    if (lines !== undefined) this.lines.set(staff, lines);
    const tuning = childrenOf(element, 'staff-tuning')
      .toSorted((a, b) => Number(a.attributes.line) - Number(b.attributes.line))
      .map((each) => pitchOf(each, 'tuning-'))
      .flatMap((pitch) => (pitch ? [Math.round(pitchKey(pitch))] : []));
    if (tuning.length > 0) this.tuning = tuning;
  }

  private readHarmony(harmony: XmlElement): void {
    const symbol = readHarmony(harmony);
    if (!symbol) return this.lost('harmony');
    const staff = numberOf(harmony, 'staff');
    this.sign('harmony', harmony, this.moment(harmony));
    this.bar.marks.push({
      kind: 'chord-symbol',
      symbol,
      at: this.moment(harmony),
      ...(staff !== undefined && { staff }),
    });
  }

  private readFigured(element: XmlElement): void {
    const figures = readFigures(element);
    if (figures.length === 0) return this.lost('figured-bass');
    this.bar.marks.push({ kind: 'figured-bass', figures, at: Math.round(this.at) });
  }

  private readBarline(element: XmlElement): void {
    const location = element.attributes.location ?? 'right';
    if (location === 'middle') return this.lost('barline');
    const barline = readBarline(element, this.lost);
    for (const each of element.children)
      if (each.name === 'segno' || each.name === 'coda')
        this.bar.jumps.push({ kind: each.name, at: location === 'left' ? 0 : Math.round(this.at) });
      else if (!['bar-style', 'repeat', 'ending'].includes(each.name)) this.lost(each.name);
    if (location === 'left') this.bar.left = { ...this.bar.left, ...barline };
    else this.bar.right = { ...this.bar.right, ...barline };
  }

  private readNote(element: XmlElement): void {
    const grace = child(element, 'grace');
    const isSaid = child(element, 'chord') !== undefined;
    const inChord = isSaid && (grace !== undefined || this.last?.kind === 'chord');
    if (isSaid && !inChord)
      this.mend(element, 'a note belongs to a chord that is not there', 'It stands by itself.');
    const voice = textOf(element, 'voice') ?? '1';
    const staff = numberOf(element, 'staff') ?? 1;
    if (staff > this.staves) this.staves = Math.min(64, staff);
    const span = grace ? 0 : this.duration(element);
    const onset = Math.round(inChord && !grace ? this.before : this.at);
    const notations = readNotations(element, this.lost);
    const rest = child(element, 'rest');
    if (!grace && !inChord) {
      this.before = this.at;
      this.at += span;
      this.bar.length = Math.max(this.bar.length, Math.round(this.at));
    }
    const duration = Math.round(this.before + span) - Math.round(this.before);
    this.bar.marks.push(...dynamicMarks(notations.dynamics, onset, staff));
    if (rest) {
      this.endGraces(element);
      this.last = this.restOf(element, rest, onset, duration, voice, staff, notations.tuplets);
      for (const mark of notations.marks) this.lost(`${mark.kind} on a rest`);
      this.bar.items.push(this.last);
      return;
    }
    const note = this.noteOf(element, notations);
    if (!note) return;
    for (const end of notations.ends)
      this.ends.push({ ...end, ...this.here(element), note: note.id, at: onset, staff, voice });
    if (grace) {
      this.graces.push({ ...note, graceSign: this.graceSign(element, grace, inChord) });
      for (const mark of notations.marks) this.lost(`${mark.kind} on a grace note`);
      return;
    }
    if (inChord && this.last?.kind === 'chord' && this.last.onset === onset) {
      if (staff !== this.last.staff) note.staff = staff;
      this.last.notes.push(note);
      const marks = notations.marks.filter((mark) => mark.kind !== 'arpeggio' || !this.hasMark('arpeggio'));
      if (marks.length > 0) this.last.marks = [...(this.last.marks ?? []), ...marks];
      return;
    }
    this.last = this.chordOf(element, note, onset, duration, voice, staff, notations);
    this.bar.items.push(this.last);
  }

  private hasMark(kind: string): boolean {
    return this.last?.kind === 'chord' && (this.last.marks?.some((mark) => mark.kind === kind) ?? false);
  }

  private restOf(
    element: XmlElement,
    rest: XmlElement,
    onset: Moment,
    duration: Span,
    voice: string,
    staff: number,
    tuplets: readonly XmlElement[],
  ): ReadItem {
    const tuplet = this.tupletOf(element, voice, tuplets);
    const wholeBar = rest.attributes.measure === 'yes' || textOf(element, 'type') === undefined;
    return {
      kind: 'rest',
      onset,
      duration,
      value: this.valueOf(element, duration),
      ...(tuplet && { tuplet }),
      ...(wholeBar && rest.attributes.measure === 'yes' && { wholeBar: true as const }),
      ...(element.attributes['print-object'] === 'no' && { hidden: true as const }),
      voice,
      staff,
    };
  }

  private chordOf(
    element: XmlElement,
    note: Note,
    onset: Moment,
    duration: Span,
    voice: string,
    staff: number,
    { tuplets, marks }: { tuplets: readonly XmlElement[]; marks: Chord['marks'] },
  ): ReadItem {
    const tuplet = this.tupletOf(element, voice, tuplets);
    const beams = beamsOf(element);
    const lyrics = readLyrics(element);
    const graces = this.graces;
    this.graces = [];
    return {
      kind: 'chord',
      onset,
      duration,
      value: this.valueOf(element, duration),
      notes: [note],
      ...(tuplet && { tuplet }),
      ...(graces.length > 0 && { graces }),
      ...(child(element, 'cue') && { cue: true as const }),
      ...(beams.length > 0 && { beams }),
      ...(textOf(element, 'stem') === 'none' && { stemless: true as const }),
      ...(lyrics.length > 0 && { lyrics }),
      ...(marks && marks.length > 0 && { marks }),
      voice,
      staff,
    };
  }

  private graceSign(element: XmlElement, grace: XmlElement, inChord: boolean) {
    const type = textOf(element, 'type');
    const beams = beamsOf(element);
    return {
      value: { type: isNoteType(type) ? type : 'eighth', dots: childrenOf(element, 'dot').length } as Value,
      slashed: grace.attributes.slash === 'yes',
      ...(beams.length > 0 && { beams }),
      ...(inChord && { inChord: true as const }),
    };
  }

  /** Grace notes with nothing after them come after what is before them. */
  private endGraces(element: XmlElement): void {
    if (this.graces.length === 0) return;
    const graces = this.graces;
    this.graces = [];
    if (this.last?.kind === 'chord') this.last.gracesAfter = [...(this.last.gracesAfter ?? []), ...graces];
    else {
      for (const _ of graces) this.lost('grace note with no note before or after it');
      this.mend(
        element,
        `${graces.length} grace notes have no note before or after them`,
        'They are left out.',
      );
    }
  }

  private noteOf(
    element: XmlElement,
    notations: { tieStart: boolean; tieStop: boolean; ringsOn: boolean; string?: number; fret?: number },
  ): Note | null {
    const written = pitchOf(child(element, 'pitch'), '') ?? this.unpitchedPlace(element);
    if (!written) {
      this.mend(element, 'a note has no pitch that can be read', 'It is left out.');
      return null;
    }
    const isPitched = child(element, 'pitch') !== undefined;
    const shown = SHOWN_ALTERS[textOf(element, 'accidental') ?? ''];
    if (shown && numberOf(child(element, 'pitch'), 'alter') === undefined && isPitched) {
      this.mend(element, 'an accidental is shown that the pitch does not have', 'It sounds as it is shown.');
      written.alter = shown;
    }
    const key = isPitched
      ? Math.round(pitchKey(written) + this.transposes.chromatic)
      : this.drumKey(element, written);
    const ties = childrenOf(element, 'tie').map((each) => each.attributes.type);
    const tieStart = notations.tieStart || ties.includes('start');
    const tieStop = notations.tieStop || ties.includes('stop');
    const accidental = known(ACCIDENTALS, textOf(element, 'accidental'), this.lost);
    const head = known(HEADS, textOf(element, 'notehead'), this.lost);
    const isGhost = child(element, 'notehead')?.attributes.parentheses === 'yes';
    const { string, fret, ringsOn } = notations;
    const id = this.idOf(element);
    this.places.notes.set(id, { from: element.from, to: element.to });
    return {
      id,
      key,
      pitch: written,
      ...(tieStart && { tieStart: true as const }),
      ...(tieStop && { tieStop: true as const }),
      ...(accidental && { accidental }),
      ...(accidental && isCourtesy(element) && { courtesy: true as const }),
      ...(head && { head }),
      ...(isGhost && { ghost: true as const }),
      ...(ringsOn && { ringsOn: true as const }),
      ...(string !== undefined && { string }),
      ...(fret !== undefined && { fret }),
      sources: [eventId(this.strand, this.count)],
    };
  }

  private idOf(element: XmlElement): string {
    this.count++;
    const { id } = element.attributes;
    if (id !== undefined && !this.shared.ids.has(id)) {
      this.shared.ids.add(id);
      return id;
    }
    if (id !== undefined) this.mend(element, `the id ${id} is used twice`, 'The second has another.');
    let own = noteIdOf(eventId(this.strand, this.count));
    while (this.shared.ids.has(own)) own = `${own}x`;
    this.shared.ids.add(own);
    return own;
  }

  private unpitchedPlace(element: XmlElement): Pitch | null {
    const unpitched = child(element, 'unpitched');
    if (!unpitched) return null;
    return pitchOf(unpitched, 'display-') ?? { step: 'B', alter: 0, octave: 4 };
  }

  /** The key of an unpitched note: by its instrument, else by where it stands on a drum staff (common practice). */
  private drumKey(element: XmlElement, place: Pitch): number {
    const id = child(element, 'instrument')?.attributes.id;
    const told = id === undefined ? undefined : this.listed.unpitched.get(id);
    if (told !== undefined) return told;
    const head = textOf(element, 'notehead') ?? 'normal';
    const near = KIT.filter(
      (sound) => sound.place.step === place.step && sound.place.octave === place.octave,
    );
    return (near.find((sound) => sound.head === head) ?? near[0])?.key ?? 38;
  }

  private valueOf(element: XmlElement, duration: Span): Value {
    const type = textOf(element, 'type');
    if (isNoteType(type)) return { type, dots: childrenOf(element, 'dot').length };
    if (type !== undefined) this.lost(`type ${type}`);
    return singleValue(duration) ?? { type: nearestType(duration), dots: 0 };
  }

  /** The tuplet of a note, with those around it; brackets open and close with the notes that say so. */
  private tupletOf(element: XmlElement, voice: string, marks: readonly XmlElement[]): Tuplet | undefined {
    const modification = child(element, 'time-modification');
    const actual = numberOf(modification, 'actual-notes');
    const normal = numberOf(modification, 'normal-notes');
    if (!modification || !actual || !normal) {
      this.tuplets.delete(voice);
      return undefined;
    }
    const open = this.tuplets.get(voice) ?? [];
    const kept = textOf(modification, 'normal-type') ?? textOf(element, 'type');
    const unit: NoteType = isNoteType(kept) ? kept : 'eighth';
    const starts = marks.filter((each) => each.attributes.type === 'start').toSorted(byNumber);
    for (const [index, start] of starts.entries()) {
      // What is left of the note's ratio within those around it; the figures that are shown may be others.
      const rest = open.reduce(
        (so, each) => ({ actual: so.actual / each.actual, normal: so.normal / each.normal }),
        { actual, normal },
      );
      const isInnermost = index === starts.length - 1;
      const isWhole = Number.isInteger(rest.actual) && Number.isInteger(rest.normal);
      const type = textOf(child(start, 'tuplet-actual'), 'tuplet-type');
      open.push({
        ...(isInnermost && isWhole ? rest : shownRatio(start)),
        unit: isNoteType(type) ? type : unit,
      });
    }
    const stops = marks.filter((each) => each.attributes.type === 'stop').length;
    const chain = open.length > 0 ? chainOf(open, starts.length, stops) : { actual, normal, unit };
    open.length = Math.max(0, open.length - stops);
    if (open.length > 0) this.tuplets.set(voice, open);
    else this.tuplets.delete(voice);
    return chain;
  }
}

/** A rest for the whole bar is as long as its bar, so it says nothing of how long that is. */
export function lengthOf(bar: ReadBar): Span {
  const isWhole = bar.items.every((item) => item.kind === 'rest' && item.wholeBar);
  return isWhole && bar.items.length > 0 ? Math.min(bar.length, bar.items[0]!.duration) : bar.length;
}

/** Where the last note of a part ends in a bar. */
export const soundingLength = (bar: ReadBar): Span =>
  Math.max(0, ...bar.items.map((item) => (item.kind === 'chord' ? item.onset + item.duration : 0)));

/** The ratio that a bracket shows, in one unit; a triplet where it shows none. */
function shownRatio(start: XmlElement): Pick<Tuplet, 'actual' | 'normal'> {
  const side = (name: string) => {
    const element = child(start, name);
    const type = textOf(element, 'tuplet-type');
    return { count: numberOf(element, 'tuplet-number'), span: isNoteType(type) ? typeSpan(type) : undefined };
  };
  const [of, per] = [side('tuplet-actual'), side('tuplet-normal')];
  const normal = (per.count ?? 2) * (per.span && of.span ? per.span / of.span : 1);
  return { actual: of.count ?? 3, normal: Number.isInteger(normal) && normal > 0 ? normal : 2 };
}

/** Tuplets that are open, outermost first, as one chain from the innermost, with the edges that lie at this note. */
function chainOf(open: readonly Tuplet[], starts: number, stops: number): Tuplet {
  let chain: Tuplet | undefined;
  open.forEach(({ actual, normal, unit }, level) => {
    const edge = level >= open.length - starts ? 'start' : level >= open.length - stops ? 'stop' : undefined;
    chain = { actual, normal, unit, ...(edge && { edge }), ...(chain && { within: chain }) };
  });
  return chain!;
}

const BEAMS: readonly Beam[] = ['begin', 'continue', 'end', 'forward hook', 'backward hook'];

const beamsOf = (element: XmlElement): Beam[] =>
  childrenOf(element, 'beam')
    .toSorted(byNumber)
    .map((each) => BEAMS.find((beam) => beam === each.text.trim()) ?? 'continue');

const byNumber = (a: XmlElement, b: XmlElement): number =>
  Number(a.attributes.number ?? 1) - Number(b.attributes.number ?? 1);

const isCourtesy = (note: XmlElement): boolean => child(note, 'accidental')?.attributes.cautionary === 'yes';

/** What an accidental does to a pitch, for documents that show it and do not say it. */
const SHOWN_ALTERS: Record<string, number> = { sharp: 1, flat: -1, 'double-sharp': 2, 'flat-flat': -2 };

/** The line of a clef whose line is not said (common practice). */
const USUAL_LINE: Record<string, number> = { G: 2, F: 4, C: 3 };

function pitchOf(element: XmlElement | undefined, prefix: string): Pitch | null {
  const step = STEPS.find((each) => each === textOf(element, `${prefix}step`));
  const octave = numberOf(element, `${prefix}octave`);
  const alter = numberOf(element, `${prefix}alter`) ?? 0;
  if (!step || octave === undefined || !Number.isInteger(octave)) return null;
  if (octave < 0 || octave > HIGHEST_OCTAVE || Math.abs(alter) > MOST_ALTERED) return null;
  return { step, alter, octave };
}

/** The longest plain value that is not longer. */
const nearestType = (span: Span): NoteType => NOTE_TYPES.find((type) => typeSpan(type) <= span) ?? '512th';
