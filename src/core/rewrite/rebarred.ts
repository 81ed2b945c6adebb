import { counted } from '../basics/words';
import { fullLength } from '../model/meter';
import type { Bar, Score } from '../model/score';
import { QUARTER, type Span } from '../model/time';
import { musicOfBar } from '../reconcile/page-bars';
import { applied, type Change, inManner, putLines, spaceBefore, takeOut } from '../sources/musicxml/changes';
import { childrenOf, elementAt, numberFrom, textOf, type XmlElement } from '../sources/musicxml/elements';
import { encodeXml } from '../sources/musicxml/encoding';
import type { ScoreReading } from '../sources/musicxml/source';
import { XmlText } from '../sources/musicxml/xml';
import { type BarOrder, BarsEditError, type Run, runsOf } from './bar-order';
import { type Broken, brokenBy, type Pair, pairsIn } from './pairs';
import {
  attributesLines,
  missingIn,
  putAttributes,
  type Standing,
  standingIn,
  standings,
  TIMED,
} from './standing';

/** A document whose bars follow each other in another order. */
export interface Rebarred {
  /** The text, in UTF-8. */
  bytes: Uint8Array;
  /** What went or was cut off where bars meet that did not before: sentences. */
  told: string[];
}

/**
 * The document of a score with its bars in another order, in all parts: bars go, come again, stand elsewhere, or are
 * put in empty. The text of each bar stays as it was but for its number, for what it must say anew where it
 * follows another bar than before (key, time, clef, transposition …), and for what stretched over an edge: ties and slurs
 * go, hairpins and lines are closed there.
 *
 * @throws BarsEditError for a document in which that cannot be done
 */
export function rebarred(reading: ScoreReading, order: BarOrder): Rebarred {
  const { document, asRead } = reading;
  const changes: Change[] = [];
  const told = new Map<string, Told>();
  const runs = runsOf(order);
  asRead.parts.forEach((part, index) => {
    const id = reading.xmlIds.get(reading.score.parts[index]!.id) ?? '';
    const music = document.music.get(id) ?? [];
    if (music.length !== 1)
      throw new BarsEditError(
        music.length === 0
          ? `${part.name} has no bars.`
          : 'This score has its parts within its bars; bars are put in and taken out where parts have bars.',
      );
    const measures = childrenOf(elementAt(document.text, music[0]!), 'measure');
    if (measures.length !== asRead.bars.length)
      throw new BarsEditError(
        `${part.name} has ${counted(measures.length, 'bar')}, the score ${asRead.bars.length}: they cannot be told apart.`,
      );
    changes.push(new PartOrder(document.text, measures, asRead.bars, order, runs, told).made());
  });
  const text = applied(document.text, changes, 0, document.text.length);
  const bytes = encodeXml(text);
  return { bytes, told: [...told.values()].map(saysTold) };
}

/** What was taken off across a join, or ends there. */
interface Told {
  what: string;
  ends: boolean;
  count: number;
}

function saysTold({ what, ends, count }: Told): string {
  const [was, end] = count === 1 ? ['was', 'ends'] : ['were', 'end'];
  return `${counted(count, what)} across a join ${ends ? `now ${end} there` : `${was} taken off`}.`;
}

/** Every bar has the notes that it had. @param now the document as it is read again @throws BarsEditError where one has not */
export function checkBars(before: Score, now: Score, order: BarOrder): void {
  if (now.bars.length !== order.length)
    throw new BarsEditError(
      `There would be ${now.bars.length} bars and not ${order.length}: nothing was changed.`,
    );
  before.parts.forEach((part, index) => {
    order.forEach((bar, place) => {
      const was = bar === null ? '' : musicOfBar(part.bars[bar]);
      if (musicOfBar(now.parts[index]?.bars[place]) === was) return;
      const { number } = bar === null ? now.bars[place]! : before.bars[bar]!;
      throw new BarsEditError(
        `${part.name}, bar ${number}, would not have the notes that it had: nothing was changed.`,
      );
    });
  });
}

/** What a bar says before its music (MusicXML 4.0, `measure`). */
const BEFORE: ReadonlySet<string> = new Set(['print', 'barline', 'attributes']);

/** What goes with the last thing in it. */
const SHELLS: ReadonlySet<string> = new Set([
  'notations',
  'ornaments',
  'barline',
  'attributes',
  'measure-style',
  'direction',
  'direction-type',
]);
/** What of a direction says nothing by itself. */
const BESIDE: ReadonlySet<string> = new Set(['offset', 'footnote', 'level', 'voice', 'staff', 'listening']);

/** Elements of which `id` says what they are of, not what they are called. */
const BY_ID: ReadonlySet<string> = new Set([
  'instrument',
  'midi-device',
  'midi-instrument',
  'play',
  'player',
]);

/** One part in a new order of bars. */
class PartOrder {
  private readonly before: Standing[];
  private readonly numbers: string[];
  private readonly broken: Broken;
  private readonly seen = new Set<number>();
  /** What has lost its end somewhere. */
  private readonly cutInTwo: ReadonlySet<Pair>;
  /** The line at the end of the piece, where it says nothing else, and its text. */
  private readonly final: XmlElement | undefined;
  private readonly finalText: string;
  /** What a level is indented by. */
  private readonly indent: string;

  constructor(
    private readonly text: string,
    private readonly measures: readonly XmlElement[],
    private readonly bars: readonly Bar[],
    private readonly order: BarOrder,
    private readonly runs: readonly Run[],
    private readonly told: Map<string, Told>,
  ) {
    this.before = standings(text, measures);
    this.numbers = numbersOf(measures, order);
    this.broken = brokenBy(order, pairsIn(measures));
    this.cutInTwo = new Set([...this.broken.starts.values()].flat());
    const [outer = '', inner = ''] = [measures[0], measures[0]?.children[0]].map((each) =>
      each ? this.gapBefore(each).replace(/^.*\n/s, '') : '',
    );
    const line = rightLineOf(measures.at(-1)!);
    const isFinal =
      line?.children.length === 1 && textOf(line, 'bar-style') === 'light-heavy' && line.children[0];
    this.final = isFinal ? line : undefined;
    this.finalText = line ? unindented(text.slice(line.from, line.to), this.gapBefore(line)) : '';
    this.indent = (inner.startsWith(outer) && inner.slice(outer.length)) || ' ';
  }

  /** The music of the part, in the place of what it was. */
  made(): Change {
    const { measures, order } = this;
    let now: Standing = new Map();
    let out = '';
    order.forEach((bar, place) => {
      if (place > 0) out += this.leading(bar);
      if (bar === null) {
        const made = this.empty(place, place === 0 ? null : now);
        out += made.xml;
        now = made.standing;
      } else {
        out += this.standing(bar, place, now);
        now = this.before[bar + 1]!;
        this.seen.add(bar);
      }
    });
    return { from: measures[0]!.from, to: measures.at(-1)!.to, text: out };
  }

  private gapBefore({ from }: XmlElement): string {
    return spaceBefore(this.text, from);
  }

  /** What stands in the text before a bar: white space, and remarks on it. */
  private leading(bar: number | null): string {
    const { text, measures } = this;
    if (bar !== null && bar > 0) return text.slice(measures[bar - 1]!.to, measures[bar]!.from);
    return this.gapBefore(measures[1] ?? measures[0]!);
  }

  private count(what: string, ends: boolean): void {
    const key = `${what} ${ends}`;
    const known = this.told.get(key);
    if (known) known.count++;
    else this.told.set(key, { what, ends, count: 1 });
  }

  /** A bar that there was, at its new place. */
  private standing(bar: number, place: number, now: Standing): string {
    const { text } = this;
    const measure = this.measures[bar]!;
    const changes: Change[] = [];
    this.number(measure, this.numbers[place]!, changes);
    if (now !== this.before[bar])
      putAttributes(text, measure, missingIn(now, this.before[bar]!, measure), this.indent, changes);
    const gone = new Set<XmlElement>();
    for (const pair of this.broken.stops.get(place) ?? []) this.cut(pair, 'stop', place, gone);
    for (const pair of this.broken.starts.get(place) ?? []) this.cut(pair, 'start', place, gone);
    if (this.seen.has(bar)) this.unname(measure, gone, changes);
    this.endPiece(measure, bar, place, gone, changes);
    this.takeAll(measure, gone, changes);
    for (const pair of this.leftOpen(place, 'stop')) this.putDirection(measure, pair, 'start', changes);
    for (const pair of this.leftOpen(place, 'start')) this.putDirection(measure, pair, 'stop', changes);
    return applied(text, changes, measure.from, measure.to);
  }

  /** The line at the end of the piece stands at its end, whatever bar that is. */
  private endPiece(
    measure: XmlElement,
    bar: number,
    place: number,
    gone: Set<XmlElement>,
    changes: Change[],
  ): void {
    const { final, measures, order } = this;
    if (!final) return;
    const isLast = place === order.length - 1;
    if (bar === measures.length - 1) {
      if (!isLast) for (const each of final.children) gone.add(each);
    } else if (isLast && !rightLineOf(measure))
      putLines(this.text, measure, undefined, this.finalText, changes);
  }

  private number(measure: XmlElement, number: string, changes: Change[]): void {
    const end = this.text.indexOf('>', measure.from);
    const found = /(\snumber\s*=\s*["'])([^"']*)/.exec(this.text.slice(measure.from, end));
    if (!found || found[2] === number) return;
    const from = measure.from + found.index + found[1]!.length;
    changes.push({ from, to: from + found[2]!.length, text: number });
  }

  /** What has lost its other end: at notes and bar lines it goes; a direction is closed, or begun, at the edge. */
  private cut(pair: Pair, side: 'start' | 'stop', place: number, gone: Set<XmlElement>): void {
    const { manner, what } = pair;
    // Both halves of what was cut in two are told as one.
    const isOnce = side === 'start' || !this.cutInTwo.has(pair);
    if (manner !== 'direction') {
      for (const each of pair[side].elements) gone.add(each);
      if (isOnce) this.count(what, false);
      return;
    }
    const { first, last } = this.runs[place]!;
    const edge = side === 'start' ? last : first;
    // Nothing is left for it to stretch over.
    const isEmpty = edge === place && this.isAtEdge(pair, side);
    if (isEmpty) for (const each of pair[side].elements) gone.add(each);
    if (isOnce) this.count(what, !isEmpty);
  }

  /** Directions of a run of bars that have lost an end, but for those that are empty: they begin, or end, at its edge. */
  private leftOpen(place: number, side: 'start' | 'stop'): Pair[] {
    const { first, last } = this.runs[place]!;
    if (place !== (side === 'start' ? last : first)) return [];
    const broken = side === 'start' ? this.broken.starts : this.broken.stops;
    const pairs: Pair[] = [];
    for (let at = first; at <= last; at++)
      for (const pair of broken.get(at) ?? [])
        if (pair.manner === 'direction' && !(at === place && this.isAtEdge(pair, side))) pairs.push(pair);
    return pairs;
  }

  /** Nothing that takes time lies between one end and the edge of its bar. */
  private isAtEdge(pair: Pair, side: 'start' | 'stop'): boolean {
    const { children } = this.measures[pair[side].bar]!;
    const at = children.indexOf(pair[side].direction!);
    const others = side === 'start' ? children.slice(at) : children.slice(0, at);
    return !others.some(({ name }) => TIMED.has(name));
  }

  private putDirection(measure: XmlElement, pair: Pair, side: 'start' | 'stop', changes: Change[]): void {
    const { direction, elements } = pair[side];
    const [element] = elements;
    if (!direction || !element) return;
    const { placement } = direction.attributes;
    const staff = textOf(direction, 'staff');
    const lines = [
      placement ? `<direction placement="${placement}">` : '<direction>',
      `${this.indent}<direction-type>`,
      `${this.indent.repeat(2)}${this.text.slice(element.from, element.to)}`,
      `${this.indent}</direction-type>`,
      ...(staff ? [`${this.indent}<staff>${staff}</staff>`] : []),
      '</direction>',
    ].join('\n');
    const before =
      side === 'start' ? measure.children.find(({ name }) => !BEFORE.has(name)) : rightLineOf(measure);
    putLines(this.text, measure, before, lines, changes);
  }

  /** A bar that comes again: names are given once (XML 1.0, validity constraint ID), and rehearsal marks stand once. */
  private unname(measure: XmlElement, gone: Set<XmlElement>, changes: Change[]): void {
    const walk = (element: XmlElement): void => {
      if (element.attributes.id !== undefined && !BY_ID.has(element.name)) {
        const end = this.text.indexOf('>', element.from);
        const found = /\sid\s*=\s*(?:"[^"]*"|'[^']*')/.exec(this.text.slice(element.from, end));
        const from = element.from + (found?.index ?? 0);
        if (found) changes.push({ from, to: from + found[0].length, text: '' });
      }
      if (element.name === 'rehearsal') gone.add(element);
      for (const each of element.children) walk(each);
    };
    walk(measure);
  }

  /** Takes elements out, and what has nothing left in it. */
  private takeAll(element: XmlElement, gone: ReadonlySet<XmlElement>, changes: Change[]): void {
    if (gone.size === 0) return;
    for (const each of element.children) {
      const sound = each.name === 'direction' && each.children.find(({ name }) => name === 'sound');
      if (isGone(each, gone)) takeOut(this.text, each, changes);
      else if (sound && childrenOf(each, 'direction-type').every((type) => isGone(type, gone)))
        changes.push({ from: each.from, to: each.to, text: this.text.slice(sound.from, sound.to) });
      else this.takeAll(each, gone, changes);
    }
  }

  /** An empty bar. @param now what holds before it; null where it is the first */
  private empty(place: number, now: Standing | null): { xml: string; standing: Standing } {
    const { text, measures, order, bars, indent } = this;
    const opening = standingIn(this.before[0]!, text, measures[0]!);
    const standing = new Map(now ?? opening);
    const last = order.slice(0, place).findLast((bar) => bar !== null) ?? 0;
    const length = fullLength(bars[last]!.meter);
    const said = now === null ? missingIn(new Map(), opening, null).map(({ xml }) => xml) : [];
    const divisions = numberFrom(/>([^<]*)</.exec(standing.get('divisions') ?? '')?.[1]) ?? 1;
    const finer = divisionsFor(divisions, length);
    if (finer !== divisions) {
      const xml = `<divisions>${finer}</divisions>`;
      standing.set('divisions', xml);
      said.splice(0, now === null ? 1 : 0, xml);
    }
    const staves = numberFrom(/>([^<]*)</.exec(standing.get('staves') ?? '')?.[1]) ?? 1;
    const duration = (length * finer) / QUARTER;
    const xml = new XmlText();
    xml.start('measure', { number: this.numbers[place] });
    for (let staff = 1; staff <= staves; staff++) {
      if (staff > 1) {
        xml.start('backup');
        xml.leaf('duration', duration);
        xml.end();
      }
      xml.start('note');
      xml.leaf('rest', undefined, { measure: 'yes' });
      xml.leaf('duration', duration);
      xml.leaf('voice', this.voiceOf(staff));
      if (staves > 1) xml.leaf('staff', staff);
      xml.end();
    }
    xml.end();
    const lines = xml.text().split('\n');
    if (said.length > 0)
      lines.splice(
        1,
        0,
        ...attributesLines(said, ' ')
          .split('\n')
          .map((line) => ` ${line}`),
      );
    const indented = lines.map((line) => line.replace(/^ +/, (spaces) => indent.repeat(spaces.length)));
    if (this.final && place === order.length - 1)
      indented.splice(-1, 0, ...this.finalText.split('\n').map((line) => indent + line));
    return { xml: inManner(indented.join('\n'), text, measures[0]!.from), standing };
  }

  /** The voice that a staff has elsewhere. */
  private voiceOf(staff: number): string {
    for (const { children } of this.measures)
      for (const each of children)
        if (each.name === 'note' && (textOf(each, 'staff') ?? '1') === String(staff))
          return textOf(each, 'voice') ?? '1';
    return String(staff);
  }
}

const rightLineOf = ({ children }: XmlElement): XmlElement | undefined =>
  children.findLast(
    ({ name, attributes: { location } }) => name === 'barline' && (location ?? 'right') === 'right',
  );

/** Lines without the white space that all of them have before them. @param gap before the first */
const unindented = (lines: string, gap: string): string =>
  lines.replaceAll(`\n${gap.replace(/^.*\n/s, '')}`, '\n');

/** Nothing of an element is left once some are gone. */
function isGone(element: XmlElement, gone: ReadonlySet<XmlElement>): boolean {
  if (gone.has(element)) return true;
  if (!SHELLS.has(element.name) || element.children.length === 0) return false;
  const left = element.children.filter((each) => !isGone(each, gone));
  return left.length < element.children.length && left.every(({ name }) => BESIDE.has(name));
}

/** The smallest divisions, a multiple of those there are, in which a length is a whole number (MusicXML 4.0, `divisions`). */
function divisionsFor(divisions: number, length: Span): number {
  for (let times = 1; times <= QUARTER; times++)
    if (Number.isInteger((length * divisions * times) / QUARTER)) return divisions * times;
  return divisions;
}

/**
 * The numbers of bars in a new order: each follows the one before as it did there, one more where it stood elsewhere. What
 * is no number, or does not count, stays.
 */
function numbersOf(measures: readonly XmlElement[], order: BarOrder): string[] {
  const own = measures.map(({ attributes: { number = '' } }) => number);
  const counts = measures.map(
    ({ attributes: { implicit } }, bar) => implicit !== 'yes' && /^\d+$/.test(own[bar]!),
  );
  const first = own.find((_, bar) => counts[bar]);
  let last = Number(first ?? 1) - 1;
  return order.map((bar, place) => {
    if (bar !== null && !counts[bar]) return own[bar]!;
    const before = order[place - 1];
    const isAsBefore = bar !== null && before === bar - 1 && counts[bar - 1];
    last += isAsBefore ? Number(own[bar]) - Number(own[bar - 1]) : 1;
    return String(last);
  });
}
