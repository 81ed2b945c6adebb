import { child, childrenOf, numberOf, textOf, type XmlElement } from '../sources/musicxml/elements';
import type { BarOrder } from './bar-order';

/** How something that stretches over bars is said: at notes, in directions, on bar lines, or as a style of bars. */
type Manner = 'tie' | 'note' | 'direction' | 'line' | 'style';

/** One end of it: the bar of its part, from 0, and the elements that say it. */
export interface End {
  bar: number;
  elements: readonly XmlElement[];
  /** Of a direction. */
  direction?: XmlElement;
}

/** Two ends in one part that belong together. */
export interface Pair {
  manner: Manner;
  /** For people, of one. */
  what: string;
  start: End;
  stop: End;
}

const AT_NOTES: Readonly<Record<string, string>> = {
  slur: 'slur',
  glissando: 'glissando',
  slide: 'slide',
  'wavy-line': 'wavy line',
};
const IN_DIRECTIONS: Readonly<Record<string, string>> = {
  wedge: 'hairpin',
  'octave-shift': 'octave line',
  dashes: 'dashed line',
  bracket: 'bracket',
  pedal: 'pedal line',
  'principal-voice': 'voice mark',
};
const IN_STYLES: Readonly<Record<string, string>> = {
  'measure-repeat': 'bar repeat',
  'beat-repeat': 'beat repeat',
  slash: 'slash passage',
};
/** What neither starts nor stops anything (MusicXML 4.0). */
const BETWEEN: ReadonlySet<string> = new Set(['continue', 'change', 'let-ring', 'resume']);
const STOPS: ReadonlySet<string> = new Set(['stop', 'discontinue']);

interface Half extends Pick<Pair, 'manner' | 'what'> {
  /** What the other end must be alike in: the strictest first. */
  keys: readonly string[];
  end: End;
}

class Pairing {
  readonly pairs: Pair[] = [];
  private readonly open: Half[] = [];
  /** Ends that stand before their beginnings in the text of a bar, since voices follow each other in it. */
  private early: Half[] = [];

  start(half: Half): void {
    const at = this.early.findIndex((each) => each.keys[0] === half.keys[0]);
    if (at >= 0) this.pair(half, this.early.splice(at, 1)[0]!);
    else this.open.push(half);
  }

  stop(half: Half): void {
    for (const key of half.keys) {
      const is = (each: Half) => each.keys.includes(key);
      // Of several ties of one pitch the first goes on first; of lines of one number the last is meant.
      const at = half.manner === 'tie' ? this.open.findIndex(is) : this.open.findLastIndex(is);
      if (at < 0) continue;
      this.pair(this.open.splice(at, 1)[0]!, half);
      return;
    }
    this.early.push(half);
  }

  barEnds(): void {
    this.early = [];
  }

  private pair({ manner, what, end }: Half, stop: Half): void {
    this.pairs.push({ manner, what, start: end, stop: stop.end });
  }
}

/** What stretches over the bars of a part, each with its ends. What has one end alone is not among it. */
export function pairsIn(measures: readonly XmlElement[]): Pair[] {
  const pairing = new Pairing();
  measures.forEach((measure, bar) => {
    for (const each of measure.children)
      if (each.name === 'note') ofNote(each, bar, pairing);
      else if (each.name === 'direction') ofDirection(each, bar, pairing);
      else if (each.name === 'barline') ofLine(each, bar, pairing);
      else if (each.name === 'attributes') ofStyles(each, bar, measures.length, pairing);
    pairing.barEnds();
  });
  return pairing.pairs;
}

function take(pairing: Pairing, half: Half, type: string | undefined): void {
  if (type === undefined || BETWEEN.has(type)) return;
  if (STOPS.has(type)) pairing.stop(half);
  else pairing.start(half);
}

function ofNote(note: XmlElement, bar: number, pairing: Pairing): void {
  const notations = childrenOf(note, 'notations').flatMap(({ children }) => children);
  const pitch = child(note, 'pitch') ?? child(note, 'unpitched');
  const key = `tie ${pitch?.children.map(({ text }) => text.trim()).join(' ')}`;
  // What ends at a note ends before another begins there.
  for (const type of ['stop', 'start']) {
    const elements = [...childrenOf(note, 'tie'), ...notations.filter(({ name }) => name === 'tied')].filter(
      ({ attributes }) => attributes.type === type,
    );
    const keys = [`${key} ${textOf(note, 'voice')}`, key];
    if (elements.length > 0)
      take(pairing, { manner: 'tie', what: 'tie', keys, end: { bar, elements } }, type);
  }
  const lines = notations.flatMap((each) => (each.name === 'ornaments' ? each.children : [each]));
  for (const stops of [true, false])
    for (const element of lines) {
      const what = AT_NOTES[element.name];
      const { type = '', number = '1' } = element.attributes;
      if (!what || STOPS.has(type) !== stops) continue;
      const keys = [`${element.name} ${number}`];
      take(pairing, { manner: 'note', what, keys, end: { bar, elements: [element] } }, type);
    }
}

function ofDirection(direction: XmlElement, bar: number, pairing: Pairing): void {
  const staff = numberOf(direction, 'staff') ?? 1;
  for (const { children } of childrenOf(direction, 'direction-type'))
    for (const element of children) {
      const what = IN_DIRECTIONS[element.name];
      if (!what) continue;
      const { type, number = '1' } = element.attributes;
      const key = `${element.name} ${number}`;
      const end: End = { bar, elements: [element], direction };
      take(pairing, { manner: 'direction', what, keys: [`${key} of ${staff}`, key], end }, type);
    }
}

function ofLine(line: XmlElement, bar: number, pairing: Pairing): void {
  const ending = child(line, 'ending');
  const ofEnding = ending && { bar, elements: [ending] };
  if (ofEnding)
    take(
      pairing,
      { manner: 'line', what: 'ending', keys: ['ending'], end: ofEnding },
      ending.attributes.type,
    );
  const repeat = child(line, 'repeat');
  if (!repeat) return;
  const end: End = { bar, elements: [repeat, ...childrenOf(line, 'bar-style')] };
  const half: Half = { manner: 'line', what: 'repeat', keys: ['repeat'], end };
  if (repeat.attributes.direction === 'forward') pairing.start(half);
  else pairing.stop(half);
}

function ofStyles(attributes: XmlElement, bar: number, bars: number, pairing: Pairing): void {
  for (const style of childrenOf(attributes, 'measure-style'))
    for (const element of style.children) {
      const what = IN_STYLES[element.name];
      const end: End = { bar, elements: [element] };
      const keys = [`${element.name} ${style.attributes.number ?? ''}`];
      if (what) take(pairing, { manner: 'style', what, keys, end }, element.attributes.type);
      else if (element.name === 'multiple-rest') {
        const last = Math.min(bars, bar + Math.max(1, Number(element.text) || 1)) - 1;
        pairing.pairs.push({
          manner: 'style',
          what: 'multi-bar rest',
          start: end,
          stop: { bar: last, elements: [] },
        });
      }
    }
}

/** Pairs of which one end stands without the other, by the places of an order in which they do. */
export interface Broken {
  starts: Map<number, Pair[]>;
  stops: Map<number, Pair[]>;
}

/** What no new bar may come between. */
const CLOSE: ReadonlySet<Manner> = new Set<Manner>(['tie', 'style']);

/** What would lose one of its ends where bars follow each other in a new order. */
export function brokenBy(order: BarOrder, pairs: readonly Pair[]): Broken {
  const broken: Broken = { starts: new Map(), stops: new Map() };
  const places = new Map<number, number[]>();
  order.forEach((bar, place) => {
    if (bar === null) return;
    const known = places.get(bar);
    if (known) known.push(place);
    else places.set(bar, [place]);
  });
  const put = (into: Map<number, Pair[]>, place: number, pair: Pair) => {
    const known = into.get(place);
    if (known) known.push(pair);
    else into.set(place, [pair]);
  };
  for (const pair of pairs) {
    if (pair.start.bar === pair.stop.bar) continue;
    const whole = new Set<number>();
    for (const place of places.get(pair.start.bar) ?? []) {
      const other = stopOf(order, place, pair);
      if (other === null) put(broken.starts, place, pair);
      else whole.add(other);
    }
    for (const place of places.get(pair.stop.bar) ?? [])
      if (!whole.has(place)) put(broken.stops, place, pair);
  }
  return broken;
}

/** Where the other end of what starts at a place of an order stands; null where something else comes first. */
function stopOf(order: BarOrder, place: number, { manner, start, stop }: Pair): number | null {
  let last = start.bar;
  for (let at = place + 1; at < order.length; at++) {
    const bar = order[at] ?? null;
    if (bar === null ? CLOSE.has(manner) : bar <= last || bar > stop.bar) return null;
    if (bar === null) continue;
    if (CLOSE.has(manner) && bar !== last + 1) return null;
    if (bar === stop.bar) return at;
    last = bar;
  }
  return null;
}
