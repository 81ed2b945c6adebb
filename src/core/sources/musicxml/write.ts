import { familyBrackets } from '../../instruments/brackets';
import { type Instrument, instrumentOf } from '../../instruments/catalogue';
import { drumSound } from '../../instruments/kit';
import type { Clef } from '../../model/clefs';
import { isSameMeter } from '../../model/clock';
import { fullLength } from '../../model/meter';
import { metronomeOf } from '../../model/metronome';
import {
  type Bar,
  type Chord,
  type Note,
  type Part,
  type PartBar,
  type PartChange,
  type Rest,
  type Score,
  type SwingMark,
  type SwungValue,
  type TempoMark,
  tupletsFrom,
  type VoiceLine,
  type WrittenKey,
  writtenKeys,
} from '../../model/score';
import { swingNumbers } from '../../model/swing';
import { gcd, type Moment, QUARTER, type Span } from '../../model/time';
import { CLEFS } from './clefs';
import { groupEdges } from './groups';
import { markSpans, writeBarline, writeChordMarks, writeJump, writeLyrics, writeMark } from './write-marks';
import { SpannerEnds, writeDirectionEnd, writeNoteEnd, writeWavyEnd } from './write-spanners';
import { XmlText } from './xml';

const DOCTYPE =
  '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">';

export interface WriteOptions {
  /**
   * The bar before, where the score is cut out of a longer one: its meter is known and not printed
   * again, and abbreviations name the parts.
   */
  after?: Bar | undefined;
  /** The longer one goes on after the cut: no final bar line. */
  goesOn?: boolean;
}

/** Writes a score as an uncompressed MusicXML 4.0 partwise document. */
export function writeMusicXml(score: Score, options: WriteOptions = {}): string {
  const xml = new XmlText();
  xml.start('score-partwise', { version: '4.0' });
  if (score.title) {
    xml.start('work');
    xml.leaf('work-title', score.title);
    xml.end();
  }
  xml.start('identification');
  if (score.composer) xml.leaf('creator', score.composer, { type: 'composer' });
  if (score.copyright) xml.leaf('rights', score.copyright);
  xml.start('encoding');
  xml.leaf('software', 'Dragoman');
  xml.leaf('supports', undefined, { element: 'accidental', type: 'yes' });
  xml.leaf('supports', undefined, { element: 'beam', type: 'yes' });
  xml.end();
  xml.end();
  writePartList(xml, score, options.after !== undefined);
  score.parts.forEach((part, index) => {
    new PartWriter(xml, score, part, index, options).write();
  });
  xml.end();
  return xml.document(DOCTYPE);
}

function writePartList(
  xml: XmlText,
  { parts, groups = familyBrackets(parts) }: Score,
  abbreviated: boolean,
): void {
  xml.start('part-list');
  let channel = 0;
  const edges = groupEdges(groups, parts.length);
  parts.forEach((part, index) => {
    for (const edge of edges[index]!.before) xml.raw(edge);
    const instrument = instrumentOf(part.instrument);
    if (!instrument.unpitched) {
      channel = (channel % 16) + 1;
      if (channel === 10) channel++;
    }
    writeScorePart(xml, part, xmlPartId(index), instrument, instrument.unpitched ? 10 : channel, abbreviated);
    for (const edge of edges[index]!.after) xml.raw(edge);
  });
  xml.end();
}

function writeScorePart(
  xml: XmlText,
  part: Part,
  id: string,
  instrument: Instrument,
  channel: number,
  abbreviated: boolean,
): void {
  xml.start('score-part', { id });
  xml.leaf('part-name', abbreviated ? part.abbreviation : part.name);
  xml.leaf('part-abbreviation', part.abbreviation);
  const sounds = instrument.unpitched
    ? drumKeys(part).map((key) => ({ id: drumId(id, key), name: drumSound(key).name, key }))
    : [{ id: `${id}-I1`, name: instrument.name, key: null }];
  for (const sound of sounds) {
    xml.start('score-instrument', { id: sound.id });
    xml.leaf('instrument-name', sound.name);
    if (sound.key === null) xml.leaf('instrument-sound', instrument.sound);
    xml.end();
  }
  for (const sound of sounds) {
    xml.start('midi-instrument', { id: sound.id });
    xml.leaf('midi-channel', channel);
    xml.leaf('midi-program', instrument.program + 1);
    if (sound.key !== null) xml.leaf('midi-unpitched', sound.key + 1);
    xml.end();
  }
  xml.end();
}

function chordsOf(bars: readonly PartBar[]): Chord[] {
  return bars.flatMap((bar) =>
    bar.voices.flatMap((line) => line.items.filter((item) => item.kind === 'chord')),
  );
}

function drumKeys(part: Part): number[] {
  const keys = new Set(
    chordsOf(part.bars).flatMap((chord) => [...(chord.graces ?? []), ...chord.notes].map((note) => note.key)),
  );
  // A part without a stroke still needs an instrument.
  return keys.size > 0 ? [...keys].sort((a, b) => a - b) : [38];
}

/** Common practice: eighths are meant unless others are named. */
const SWING_WORDS: Record<SwungValue, string> = { eighth: 'Swing', '16th': 'Swing 16ths' };

const courtesyOf = ({ courtesy }: Note) => (courtesy ? { cautionary: 'yes' } : undefined);

function writeHead(xml: XmlText, { head, ghost }: Note): void {
  if (head || ghost) xml.leaf('notehead', head ?? 'normal', ghost ? { parentheses: 'yes' } : undefined);
}

/** Ids inside a document: parts by their place in it, from 0. */
const xmlPartId = (index: number): string => `P${index + 1}`;

const drumId = (part: string, key: number): string => `${part}-I${key}`;

class PartWriter {
  /** Score units in one MusicXML division. */
  private readonly unit: Span;
  private readonly voicesPerStaff: number;
  private readonly instrument: Instrument;
  private readonly ends: SpannerEnds;
  private readonly keys: readonly WrittenKey[];

  constructor(
    private readonly xml: XmlText,
    private readonly score: Score,
    private readonly part: Part,
    /** The place of the part; the first one carries what is said once for all: tempos and rehearsal marks. */
    private readonly index: number,
    private readonly options: WriteOptions,
  ) {
    this.instrument = instrumentOf(part.instrument);
    let unit: Span = QUARTER;
    for (const bar of score.bars) unit = gcd(unit, bar.length);
    for (const bar of part.bars) {
      for (const line of bar.voices) for (const item of line.items) unit = gcd(unit, item.duration);
      for (const span of markSpans(bar.marks ?? [])) unit = gcd(unit, span);
    }
    if (index === 0) for (const tempo of score.tempos) unit = gcd(unit, Math.round(tempo.at));
    for (const { at } of part.changes ?? []) unit = gcd(unit, Math.round(at));
    for (const { from, to } of part.spanners ?? [])
      for (const end of [from, to]) if ('at' in end) unit = gcd(unit, Math.round(end.at));
    this.unit = Math.max(1, unit);
    this.voicesPerStaff = Math.max(
      4,
      ...new Set(part.bars.flatMap((bar) => bar.voices.map(({ voice }) => voice))),
    );
    this.ends = this.spannerEnds();
    this.keys = writtenKeys(score, part);
  }

  write(): void {
    const { xml, part, score } = this;
    xml.start('part', { id: xmlPartId(this.index) });
    score.bars.forEach((bar, index) => {
      // What is shorter than its meter is not counted by readers that count by meters.
      const isShort = bar.sign?.kind !== 'free' && bar.length < fullLength(bar.meter);
      const attributes = { number: bar.printed ?? bar.number, ...(isShort && { implicit: 'yes' }) };
      xml.start('measure', attributes);
      if (bar.left) writeBarline(xml, 'left', bar.left);
      this.writeAttributes(bar, index);
      this.writeBar(part.bars[index]!, bar, index);
      const isLast = index === score.bars.length - 1 && !this.options.goesOn;
      const right = bar.right ?? (isLast ? { style: 'light-heavy' } : undefined);
      if (right && Object.keys(right).length > 0) writeBarline(xml, 'right', right);
      xml.end();
    });
    xml.end();
  }

  /** Voices are numbered through the part: 1–4 on the first staff, 5–8 on the second, or more where a staff has more. */
  private voiceNumber(line: VoiceLine): number {
    return (line.staff - 1) * this.voicesPerStaff + line.voice;
  }

  private divisions(span: Span): number {
    return span / this.unit;
  }

  private writeAttributes(bar: Bar, index: number): void {
    const { xml, part, score, instrument } = this;
    const before = score.bars[index - 1];
    const newMeter = !before || !isSameMeter(before.meter, bar.meter);
    const key = instrument.unpitched
      ? undefined
      : this.keys.find((each) => each.bar === index && each.at === 0);
    const transposed = part.changes?.find(
      (change) => change.kind === 'transposition' && change.bar === index && change.at === 0,
    );
    const styles = this.stylesFrom(index);
    if (!newMeter && !key && !transposed && styles.length === 0 && index > 0) return;
    xml.start('attributes');
    if (index === 0) xml.leaf('divisions', QUARTER / this.unit);
    if (key) this.writeKey(key);
    if (newMeter) {
      const { after } = this.options;
      this.writeMeter(bar, index === 0 && after !== undefined && isSameMeter(after.meter, bar.meter));
    }
    if (index === 0) {
      const staves = part.clefs.length;
      if (staves > 1) xml.leaf('staves', staves);
      part.clefs.forEach((clef, staff) => {
        this.writeClef(clef, staves > 1 ? staff + 1 : undefined);
      });
      this.writeStaffDetails();
      this.writeTranspose();
    } else if (transposed?.kind === 'transposition') this.writeTranspose(transposed.transposition, true);
    for (const write of styles) {
      xml.start('measure-style');
      write();
      xml.end();
    }
    xml.end();
  }

  /** What is written short from a bar on, or no longer: rests over several bars, bar repeats, slashes. */
  private stylesFrom(index: number): (() => void)[] {
    const { xml, part, score } = this;
    const now = part.bars[index]?.shown;
    const before = part.bars[index - 1]?.shown;
    const rest = score.multiRests?.find(({ from }) => from === index);
    const styles: (() => void)[] = [];
    if (rest) styles.push(() => xml.leaf('multiple-rest', rest.to - rest.from));
    if (now === before) return styles;
    if (before === 'repeat') styles.push(() => xml.leaf('measure-repeat', undefined, { type: 'stop' }));
    if (before === 'slashes') styles.push(() => xml.leaf('slash', undefined, { type: 'stop' }));
    if (now === 'repeat') styles.push(() => xml.leaf('measure-repeat', 1, { type: 'start' }));
    if (now === 'slashes')
      styles.push(() => xml.leaf('slash', undefined, { type: 'start', 'use-stems': 'no' }));
    return styles;
  }

  private writeKey({ fifths, minor }: Pick<WrittenKey, 'fifths' | 'minor'>): void {
    this.xml.start('key');
    this.xml.leaf('fifths', fifths);
    this.xml.leaf('mode', minor ? 'minor' : 'major');
    this.xml.end();
  }

  private writeMeter({ meter, sign }: Bar, isKnown: boolean): void {
    const { xml } = this;
    xml.start('time', {
      symbol: sign?.kind === 'common' || sign?.kind === 'cut' ? sign.kind : undefined,
      'print-object': isKnown ? 'no' : undefined,
    });
    if (sign?.kind === 'free') xml.leaf('senza-misura');
    else {
      const meters = sign?.kind === 'alternating' ? sign.meters : [meter];
      for (const { numerator, denominator } of meters) {
        xml.leaf('beats', sign?.kind === 'additive' ? sign.beats.join('+') : numerator);
        xml.leaf('beat-type', denominator);
      }
    }
    xml.end();
  }

  private writeTranspose({ diatonic, chromatic } = this.part.transposition, isChange = false): void {
    if (diatonic === 0 && chromatic === 0 && !isChange) return;
    const octaves = Math.trunc(chromatic / 12);
    this.xml.start('transpose');
    this.xml.leaf('diatonic', diatonic - 7 * octaves);
    this.xml.leaf('chromatic', chromatic - 12 * octaves);
    if (octaves !== 0) this.xml.leaf('octave-change', octaves);
    this.xml.end();
  }

  private writeClef(clef: Clef, staff: number | undefined): void {
    const { sign, line, octave } = CLEFS[clef];
    const { xml } = this;
    xml.start('clef', { number: staff });
    xml.leaf('sign', sign);
    if (line !== undefined) xml.leaf('line', line);
    if (octave !== undefined) xml.leaf('clef-octave-change', octave);
    xml.end();
  }

  private writeStaffDetails(): void {
    const { xml, part } = this;
    const { tuning = [], lines } = part;
    if (!lines && tuning.length === 0) return;
    part.clefs.forEach((clef, staff) => {
      const strings = clef === 'tab' ? tuning : [];
      const count = lines?.[staff] ?? (strings.length || 5);
      if (count === 5 && strings.length === 0) return;
      xml.start('staff-details', { number: part.clefs.length > 1 ? staff + 1 : undefined });
      xml.leaf('staff-lines', count);
      strings.forEach((key, string) => {
        xml.start('staff-tuning', { line: string + 1 });
        const { step, alter, octave } = simplePitch(key);
        xml.leaf('tuning-step', step);
        if (alter !== 0) xml.leaf('tuning-alter', alter);
        xml.leaf('tuning-octave', octave);
        xml.end();
      });
      xml.end();
    });
  }

  /** What changes within the part between two moments of a bar, as far as it stands in a voice. */
  private writeChanges(index: number, from: Moment, to: Moment, line: VoiceLine): void {
    const { xml, part } = this;
    const changes = (part.changes ?? []).filter(
      (change) =>
        change.bar === index &&
        change.at >= from &&
        change.at < to &&
        // What begins with a bar stands among its attributes.
        (change.at > 0 || (index > 0 && change.kind !== 'key' && change.kind !== 'transposition')) &&
        voiceOf(change, part.bars[index]!) === line,
    );
    for (const change of changes) {
      if (change.kind === 'instrument') continue;
      xml.start('attributes');
      if (change.kind === 'clef')
        this.writeClef(change.clef, part.clefs.length > 1 ? change.staff : undefined);
      else if (change.kind === 'transposition') this.writeTranspose(change.transposition, true);
      else this.writeKey(change);
      xml.end();
    }
  }

  private spannerEnds(): SpannerEnds {
    const { part } = this;
    const spanners = part.spanners ?? [];
    const orders = new Map<string, number>();
    const places = new Map<string, { bar: number; at: Moment }>();
    const wanted = new Set(
      spanners.flatMap(({ from, to }) => [from, to].flatMap((end) => ('note' in end ? [end.note] : []))),
    );
    const starts: number[] = [];
    let start = 0;
    part.bars.forEach((partBar, bar) => {
      starts.push(start);
      for (const line of partBar.voices)
        for (const item of line.items)
          if (item.kind === 'chord')
            for (const [notes, by] of [
              [item.graces ?? [], -0.5],
              [item.notes, 0],
              [item.gracesAfter ?? [], item.duration - 0.5],
            ] as const)
              for (const note of notes)
                if (wanted.has(note.id)) {
                  orders.set(note.id, start + item.onset + by);
                  places.set(note.id, { bar, at: item.onset });
                }
      start += this.score.bars[bar]!.length;
    });
    return new SpannerEnds(
      spanners,
      (end) =>
        'note' in end ? orders.get(end.note) : end.bar in starts ? starts[end.bar]! + end.at : undefined,
      (note) => places.get(note),
    );
  }

  private writeBar(partBar: PartBar, bar: Bar, index: number): void {
    partBar.voices.forEach((line, at) => {
      if (at > 0) {
        this.xml.start('backup');
        this.xml.leaf('duration', this.divisions(bar.length));
        this.xml.end();
      }
      this.writeVoice(line, partBar, index, at === 0);
    });
  }

  private writeVoice(line: VoiceLine, partBar: PartBar, index: number, first: boolean): void {
    const { score } = this;
    let tempos =
      first && this.index === 0
        ? score.tempos.filter((tempo) => tempo.bar === index && !tempo.byFermata)
        : [];
    if (first && this.index === 0)
      for (const mark of score.rehearsals) if (mark.bar === index) this.writeRehearsal(mark.text);
    const swing = first && this.index === 0 ? this.swingFrom(index) : undefined;
    if (swing !== undefined) {
      // One line of text: two would be set over each other.
      const opening = score.swingsSaid
        ? undefined
        : tempos.find((tempo) => tempo.at === 0 && (tempo.printed !== null || tempo.text !== undefined));
      const holding =
        opening ?? score.tempos.findLast(({ bar, at }) => bar < index || (bar === index && at === 0));
      this.writeSwing(swing, opening, holding?.quartersPerMinute);
      tempos = tempos.filter((tempo) => tempo !== opening);
    }
    const last = line.items.length - 1;
    line.items.forEach((item, at) => {
      const end = at === last ? Number.POSITIVE_INFINITY : item.onset + item.duration;
      for (const tempo of tempos)
        if (tempo.at >= item.onset && tempo.at < end) this.writeTempo(tempo, tempo.at - item.onset);
      this.writeChanges(index, item.onset, end, line);
      if (first) this.writeMarks(partBar, index, item.onset, end);
      if (item.kind === 'rest') this.writeRest(item, line);
      else {
        const graces = item.graces ?? [];
        for (const [order, grace] of graces.entries()) this.writeGrace(grace, order, graces.length, line);
        for (const [order, note] of item.notes.entries())
          this.writeNote(this.withinCut(note, item, index), order > 0, item, line);
        const after = item.gracesAfter ?? [];
        for (const [order, grace] of after.entries()) this.writeGrace(grace, order, after.length, line);
      }
    });
    // What ends with the bar ends after its last note.
    const { length } = score.bars[index]!;
    if (first) this.writeEnds(index, length, Number.POSITIVE_INFINITY);
  }

  /** What stands in a bar between two moments: jumps, marks, and ends of lines over the staff. */
  private writeMarks(partBar: PartBar, index: number, from: Moment, to: Moment): void {
    const { xml, score } = this;
    const isHere = ({ at }: { at: Moment }) => at >= from && at < to;
    if (this.index === 0)
      for (const jump of score.bars[index]!.jumps ?? [])
        if (isHere(jump)) writeJump(xml, jump, this.divisions(jump.at - from));
    for (const mark of partBar.marks ?? [])
      if (isHere(mark)) writeMark(xml, mark, this.divisions(mark.at - from), mark.staff);
    this.writeEnds(index, from, Math.min(to, score.bars[index]!.length));
  }

  /** Ends of lines over the staff between two moments of a bar. */
  private writeEnds(index: number, from: Moment, to: Moment): void {
    for (const end of this.ends.inBar(index)) {
      const { spanner, type, at } = end;
      if (at < from || at >= to) continue;
      const anchor = type === 'start' ? spanner.from : spanner.to;
      const staff = 'note' in anchor ? undefined : anchor.staff;
      writeDirectionEnd(
        this.xml,
        end,
        this.divisions(at - from),
        this.part.clefs.length > 1 ? (staff ?? 1) : undefined,
      );
    }
  }

  /** A tie from before the cut has no beginning here; one that leaves it rings on. */
  private withinCut(note: Note, chord: Chord, index: number): Note & { ringsOn?: boolean } {
    const { score, options } = this;
    const entering = options.after && index === 0 && chord.onset === 0 && note.tieStop;
    const atEnd =
      index === score.bars.length - 1 && chord.onset + chord.duration === score.bars[index]!.length;
    const leaving = options.goesOn && atEnd && note.tieStart;
    if (!entering && !leaving) return note;
    const { tieStart, tieStop, ...rest } = note;
    return {
      ...rest,
      ...(tieStart && !leaving && { tieStart }),
      ...(tieStop && !entering && { tieStop }),
      ...(leaving && { ringsOn: true }),
    };
  }

  private writeRehearsal(text: string): void {
    this.xml.start('direction', { placement: 'above' });
    this.xml.start('direction-type');
    this.xml.leaf('rehearsal', text);
    this.xml.end();
    this.xml.end();
  }

  /** The swing that begins in a bar; null where straight playing comes back, undefined where nothing changes. */
  private swingFrom(index: number): SwingMark | null | undefined {
    const swings = this.score.swings ?? [];
    const starts = swings.find((swing) => swing.from === index);
    return starts ?? (swings.some((swing) => swing.to === index) ? null : undefined);
  }

  /**
   * How eighths or 16ths are played from here, before the tempo where one is set at the same place.
   *
   * @param holding the tempo in quarters a minute, said again: what sets a tempo stands where tempos stand
   */
  private writeSwing(
    swing: SwingMark | null,
    tempo: TempoMark | undefined,
    holding: number | undefined,
  ): void {
    const { xml, score } = this;
    const hasWords = !score.swingsSaid;
    if (hasWords) {
      xml.start('direction', { placement: 'above' });
      xml.start('direction-type');
      xml.leaf('words', swing ? SWING_WORDS[swing.value] : 'Straight');
      xml.end();
      if (tempo) this.writeTempoText(tempo);
    }
    xml.start('sound', { tempo: holding });
    xml.start('swing');
    if (swing) {
      const [long, short] = swingNumbers(swing.ratio);
      xml.leaf('first', long);
      xml.leaf('second', short);
      xml.leaf('swing-type', swing.value);
    } else xml.leaf('straight');
    xml.end();
    xml.end();
    if (hasWords) xml.end();
  }

  /** A single grace note is slashed; several are beamed as 16ths. */
  private writeGrace(note: Note, order: number, count: number, line: VoiceLine): void {
    const { xml } = this;
    const single = count === 1;
    const sign = note.graceSign ?? {
      value: { type: single ? 'eighth' : '16th', dots: 0 },
      slashed: single,
      inChord: false,
    };
    xml.start('note', { id: note.id });
    xml.leaf('grace', undefined, { slash: sign.slashed ? 'yes' : undefined });
    if (sign.inChord) xml.leaf('chord');
    this.writePitch(note);
    if (note.tieStop) xml.leaf('tie', undefined, { type: 'stop' });
    if (note.tieStart) xml.leaf('tie', undefined, { type: 'start' });
    if (this.instrument.unpitched)
      xml.leaf('instrument', undefined, { id: drumId(xmlPartId(this.index), note.key) });
    xml.leaf('voice', this.voiceNumber(line));
    xml.leaf('type', sign.value.type);
    for (let dot = 0; dot < sign.value.dots; dot++) xml.leaf('dot');
    if (note.accidental) xml.leaf('accidental', note.accidental, courtesyOf(note));
    writeHead(xml, note);
    this.writeStaff(line);
    const usual = order === 0 ? 'begin' : order === count - 1 ? 'end' : 'continue';
    const beams = note.graceSign ? (note.graceSign.beams ?? []) : single ? [] : [usual, usual];
    for (const [level, beam] of beams.entries()) xml.leaf('beam', beam, { number: level + 1 });
    const ends = this.ends.atNote(note.id);
    if (note.tieStop || note.tieStart || ends.length > 0) {
      xml.start('notations');
      if (note.tieStop) xml.leaf('tied', undefined, { type: 'stop' });
      if (note.tieStart) xml.leaf('tied', undefined, { type: 'start' });
      for (const end of ends) writeNoteEnd(xml, end);
      xml.end();
    }
    xml.end();
  }

  private writeTempo(tempo: TempoMark, offset: Span): void {
    const { xml } = this;
    if (tempo.printed === null && tempo.text === undefined) {
      xml.start('sound', { tempo: tempo.quartersPerMinute });
      if (offset > 0) xml.leaf('offset', this.divisions(offset));
      xml.end();
      return;
    }
    xml.start('direction', { placement: 'above' });
    this.writeTempoText(tempo);
    if (offset > 0) xml.leaf('offset', this.divisions(offset));
    xml.leaf('sound', undefined, { tempo: tempo.quartersPerMinute });
    xml.end();
  }

  private writeTempoText({ bar, printed, text }: TempoMark): void {
    if (text !== undefined) {
      this.xml.start('direction-type');
      this.xml.leaf('words', text);
      this.xml.end();
    }
    if (printed !== null) this.writeMetronome(bar, printed);
  }

  private writeMetronome(bar: number, quartersPerMinute: number): void {
    const { xml } = this;
    const { unit, dotted, perMinute } = metronomeOf(this.score.bars[bar]!.meter, quartersPerMinute);
    xml.start('direction-type');
    xml.start('metronome');
    xml.leaf('beat-unit', unit);
    if (dotted) xml.leaf('beat-unit-dot');
    xml.leaf('per-minute', perMinute);
    xml.end();
    xml.end();
  }

  private writeRest(rest: Rest, line: VoiceLine): void {
    const { xml } = this;
    if (rest.hidden) {
      xml.start('forward');
      xml.leaf('duration', this.divisions(rest.duration));
      xml.leaf('voice', this.voiceNumber(line));
      this.writeStaff(line);
      xml.end();
      return;
    }
    xml.start('note');
    xml.leaf('rest', undefined, { measure: rest.wholeBar ? 'yes' : undefined });
    xml.leaf('duration', this.divisions(rest.duration));
    xml.leaf('voice', this.voiceNumber(line));
    if (!rest.wholeBar) this.writeValue(rest);
    this.writeStaff(line);
    if (hasTupletEdge(rest)) {
      xml.start('notations');
      this.writeTupletEdges(rest);
      xml.end();
    }
    xml.end();
  }

  private writeNote(
    note: Note & { ringsOn?: boolean },
    inChord: boolean,
    chord: Chord,
    line: VoiceLine,
  ): void {
    const { xml, instrument } = this;
    xml.start('note', { id: note.id });
    if (chord.cue) xml.leaf('cue');
    if (inChord) xml.leaf('chord');
    this.writePitch(note);
    xml.leaf('duration', this.divisions(chord.duration));
    if (!chord.cue && note.tieStop) xml.leaf('tie', undefined, { type: 'stop' });
    if (!chord.cue && note.tieStart) xml.leaf('tie', undefined, { type: 'start' });
    if (instrument.unpitched)
      xml.leaf('instrument', undefined, { id: drumId(xmlPartId(this.index), note.key) });
    xml.leaf('voice', this.voiceNumber(line));
    this.writeValue(chord, note);
    if (chord.stemless) xml.leaf('stem', 'none');
    writeHead(xml, note);
    this.writeStaff(line, note.staff);
    if (!inChord)
      for (const [level, beam] of (chord.beams ?? []).entries())
        xml.leaf('beam', beam, { number: level + 1 });
    this.writeNotations(note, inChord, chord);
    if (!inChord && chord.lyrics) writeLyrics(xml, chord.lyrics);
    xml.end();
  }

  private writePitch(note: Note): void {
    const { xml } = this;
    if (this.instrument.unpitched) {
      xml.start('unpitched');
      xml.leaf('display-step', note.pitch.step);
      xml.leaf('display-octave', note.pitch.octave);
    } else {
      xml.start('pitch');
      xml.leaf('step', note.pitch.step);
      if (note.pitch.alter !== 0) xml.leaf('alter', note.pitch.alter);
      xml.leaf('octave', note.pitch.octave);
    }
    xml.end();
  }

  private writeValue(item: Chord | Rest, note?: Note): void {
    const { xml } = this;
    xml.leaf('type', item.value.type);
    for (let dot = 0; dot < item.value.dots; dot++) xml.leaf('dot');
    if (note?.accidental) xml.leaf('accidental', note.accidental, courtesyOf(note));
    if (item.tuplet) {
      const around = [...tupletsFrom(item.tuplet)];
      const product = (of: 'actual' | 'normal') => around.reduce((so, each) => so * each[of], 1);
      xml.start('time-modification');
      xml.leaf('actual-notes', product('actual'));
      xml.leaf('normal-notes', product('normal'));
      xml.leaf('normal-type', item.tuplet.unit);
      xml.end();
    }
  }

  private writeStaff(line: VoiceLine, own = line.staff): void {
    if (this.part.clefs.length > 1) this.xml.leaf('staff', own);
  }

  /** Brackets are numbered from the outermost in; one in another says its own figures, since values tell their product. */
  private writeTupletEdges(item: Chord | Rest): void {
    const { xml } = this;
    const around = [...tupletsFrom(item.tuplet)].reverse();
    const edges = around.map((tuplet, level) => ({ ...tuplet, number: level + 1 }));
    const isFirst = edges.some(({ edge }) => edge === 'start');
    for (const { edge, number, actual, normal, unit } of isFirst ? edges : edges.reverse()) {
      if (!edge) continue;
      const attributes = { type: edge, number, bracket: edge === 'start' ? 'yes' : undefined };
      if (edges.length === 1 || edge === 'stop') {
        xml.leaf('tuplet', undefined, attributes);
        continue;
      }
      xml.start('tuplet', attributes);
      for (const [name, count] of [
        ['tuplet-actual', actual],
        ['tuplet-normal', normal],
      ] as const) {
        xml.start(name);
        xml.leaf('tuplet-number', count);
        xml.leaf('tuplet-type', unit);
        xml.end();
      }
      xml.end();
    }
  }

  private writeNotations(note: Note & { ringsOn?: boolean }, inChord: boolean, chord: Chord): void {
    const edge = !inChord && hasTupletEdge(chord);
    const marks = chord.marks ?? [];
    const own = inChord ? marks.some(({ kind }) => kind === 'arpeggio') : marks.length > 0;
    const ends = this.ends.atNote(note.id);
    const tied = note.tieStart || note.tieStop || note.ringsOn;
    const fretted = note.string !== undefined || note.fret !== undefined;
    if (!tied && ends.length === 0 && !edge && !own && !fretted) return;
    const { xml } = this;
    xml.start('notations');
    if (note.tieStop) xml.leaf('tied', undefined, { type: 'stop' });
    if (note.tieStart) xml.leaf('tied', undefined, { type: 'start' });
    if (note.ringsOn) xml.leaf('tied', undefined, { type: 'let-ring' });
    for (const end of ends) writeNoteEnd(xml, end);
    if (edge) this.writeTupletEdges(chord);
    const waves = ends.filter(({ spanner }) => spanner.kind === 'wavy-line');
    if (waves.length > 0) {
      xml.start('ornaments');
      for (const wave of waves) writeWavyEnd(xml, wave);
      xml.end();
    }
    writeChordMarks(xml, marks, !inChord, note);
    xml.end();
  }
}

/** The voice that a change is written in: the first that begins something there, if one does. */
function voiceOf(change: PartChange, { voices }: PartBar): VoiceLine | undefined {
  const [first] = voices;
  if (change.kind !== 'clef' || change.at === 0) return first;
  const there = voices.filter(({ items }) => items.some(({ onset }) => onset === change.at));
  if (first && there.includes(first)) return first;
  return there.find(({ staff }) => staff === change.staff) ?? there[0] ?? first;
}

const hasTupletEdge = ({ tuplet }: Chord | Rest): boolean =>
  [...tupletsFrom(tuplet)].some(({ edge }) => edge);

const STEPS = ['C', 'C', 'D', 'D', 'E', 'F', 'F', 'G', 'G', 'A', 'A', 'B'] as const;
const SHARPENED: ReadonlySet<number> = new Set([1, 3, 6, 8, 10]);

/** A MIDI key with sharps, as tunings are told. */
const simplePitch = (key: number) => ({
  step: STEPS[key % 12]!,
  alter: SHARPENED.has(key % 12) ? 1 : 0,
  octave: Math.floor(key / 12) - 1,
});
