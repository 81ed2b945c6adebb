import { isSame, whole } from '../../basics/same';
import { finished, type Steps } from '../../basics/steps';
import { instrumentOf } from '../../instruments/catalogue';
import type { Meter } from '../../model/clock';
import { FIRST_SOURCE, partId, type SourceId, strandId } from '../../model/ids';
import type { Mend } from '../../model/mend';
import { beatGroups, fullLength } from '../../model/meter';
import {
  type Bar,
  type KeySignature,
  type Part,
  type PartBar,
  type PartChange,
  type Score,
  type SwingMark,
  type TempoMark,
  type Transposition,
  writtenFifths,
} from '../../model/score';
import type { Span } from '../../model/time';
import { BadSourceError } from '../refused';
import { applied, type Change } from './changes';
import { readElements, type XmlElement } from './elements';
import { decodeXml } from './encoding';
import { isZip, unpackMxl } from './mxl';
import { pairEnds } from './pairing';
import { readCredits, readPartList, readTitle } from './part-list';
import { lengthOf, PartReader, type ReadBar, type Shared, soundingLength } from './part-reader';
import type { KeptDocument } from './splice';
import { voicesOf } from './voices';

/** A MusicXML document as it was read. */
export interface ReadMusicXml {
  /** The document, for changes to be written into it. */
  document: KeptDocument;
  /** Ids of the parts in the document, in the order of the score's. */
  partIds: string[];
  score: Score;
  mends: Mend[];
  /** Elements of the document that the score has no place for, by name, with how often. */
  lost: ReadonlyMap<string, number>;
}

const ROOTS = ['score-partwise', 'score-timewise'];
const MOST_PARTS = 2000;
const MOST_MENDS = 2000;
/** Some first characters of a document, to tell what it is. */
const HEAD = 4000;

/** Byte order marks of UTF-8 and of UTF-16 in both orders (Unicode 15, 23.8). */
const MARKS: readonly (readonly number[])[] = [
  [0xef, 0xbb, 0xbf],
  [0xfe, 0xff],
  [0xff, 0xfe],
];

/** Whether bytes may be MusicXML, plain or packed: a zip archive, or a document that begins with a mark or with markup. */
export const mayBeMusicXml = (bytes: Uint8Array): boolean => {
  const first = new TextDecoder('latin1').decode(bytes.subarray(0, 100)).replaceAll('\0', '').trimStart();
  const isMarked = MARKS.some((mark) => mark.every((byte, at) => bytes[at] === byte));
  return isZip(bytes) || first.startsWith('<') || isMarked;
};

/**
 * Reads a MusicXML document (1.0–4.0, partwise or timewise, plain or packed).
 * Damage in the music is mended and told; what is no MusicXML is refused.
 *
 * @throws BadSourceError with a sentence for people
 */
export function* readMusicXmlInSteps(
  bytes: Uint8Array,
  source: SourceId = FIRST_SOURCE,
): Steps<ReadMusicXml> {
  const { text } = decodeXml(isZip(bytes) ? unpackMxl(bytes) : bytes);
  const root = rootOf(text);
  const isTimewise = root === 'score-timewise';
  const header = new Map<string, XmlElement>();
  const readers: PartReader[] = [];
  const byId = new Map<string, PartReader>();
  const mends: Mend[] = [];
  const shared: Shared = {
    ids: new Set(),
    lost: new Map(),
    mend: (element, place, what, done) => {
      if (mends.length < MOST_MENDS)
        mends.push({ at: element.from, what: `${place} (line ${element.line}): ${what}`, done });
    },
  };
  let groups: Score['groups'];
  const makeReaders = () => {
    const list = readPartList(header.get('part-list'));
    if (list.parts.length > MOST_PARTS)
      throw new BadSourceError(`This document has ${list.parts.length} parts, more than any score.`);
    groups = list.groups;
    for (const listed of list.parts) addReader(listed);
  };
  const addReader = (listed: PartReader['listed']): PartReader => {
    const reader = new PartReader(listed, strandId(source, readers.length, 0), shared);
    readers.push(reader);
    byId.set(listed.xmlId, reader);
    return reader;
  };
  const readerOf = (id: string, element: XmlElement): PartReader => {
    if (readers.length === 0) makeReaders();
    const known = byId.get(id);
    if (known) return known;
    shared.mend(
      element,
      `part ${id}`,
      'the part list does not have it',
      'It comes after those that are listed.',
    );
    return addReader({ xmlId: id, name: id, abbreviation: '', instrument: 'piano', unpitched: new Map() });
  };
  const inner = isTimewise ? 'measure' : 'part';
  const music = new Map<string, XmlElement[]>();
  const keep = (id: string, element: XmlElement) => {
    const known = music.get(id);
    if (!known) music.set(id, [element]);
    else if (known.at(-1) !== element) known.push(element);
  };
  yield* readElements(
    text,
    (name, depth) => (depth === 0 ? name === root : depth === 1 && name === inner),
    (element, [, around]) => {
      if (!around) {
        if (!header.has(element.name)) header.set(element.name, element);
      } else if (element.name === (isTimewise ? 'part' : 'measure')) {
        const holder = isTimewise ? element : around;
        const id = holder.attributes.id ?? '';
        keep(id, holder);
        readerOf(id, element).readMeasure(element, (isTimewise ? around : element).attributes);
      }
    },
  );
  if (readers.length === 0) makeReaders();
  if (readers.length === 0) throw new BadSourceError('This document has no parts.');
  yield;
  const score = yield* scoreOf(readers, { title: readTitle(header), ...readCredits(header) }, groups, shared);
  const read = new Map(readers.map(({ listed, places }) => [listed.xmlId, { places: whole(places), by: 0 }]));
  const order = readers.map(({ listed }) => listed.xmlId);
  const document = { text, header, music, read, order, inside: insideOf(text, root) };
  return { document, partIds: readers.map(({ listed }) => listed.xmlId), score, mends, lost: shared.lost };
}

/** A document of which some parts have other music now. */
export interface Again {
  document: KeptDocument;
  score: Score;
}

/**
 * Reads the parts of a document again whose text has changed, and no others: all that they say of the score as
 * a whole has to be what it was.
 *
 * @param changes in the text, by the index of the part
 * @returns null where that is not so, or where parts stand among bars: then all of it has to be read
 */
export function readPartsAgain(
  { document, score }: Again,
  source: SourceId,
  changes: ReadonlyMap<number, readonly Change[]>,
): Again | null {
  const listed = readPartList(document.header.get('part-list')).parts;
  const parts = [...score.parts];
  const read = new Map(document.read);
  const music = new Map(document.music);
  let { text } = document;
  const lead = Math.max(
    0,
    score.parts.findIndex(({ instrument }) => !instrumentOf(instrument).unpitched),
  );
  const order = [...changes].map(([index, own]) => ({ index, own, id: document.order[index] ?? '' }));
  // From the last on, so that what stands before stays where it is.
  const fromOf = (id: string) => document.music.get(id)?.[0]?.from ?? 0;
  for (const { index, own, id } of order.sort((a, b) => fromOf(b.id) - fromOf(a.id))) {
    const [element, ...others] = document.music.get(id) ?? [];
    const entry = listed.find(({ xmlId }) => xmlId === id);
    const before = read.get(id)?.places;
    if (element?.name !== 'part' || others.length > 0 || !entry || !before) return null;
    const inside = applied(document.text, own, element.from, element.to);
    const shared: Shared = { ids: new Set(), lost: new Map(), mend: () => {} };
    const reader = new PartReader(entry, strandId(source, index, 0), shared);
    finished(
      readElements(
        inside,
        (_, depth) => depth === 0,
        (measure) => reader.readMeasure(measure, measure.attributes),
      ),
    );
    if (!isSame(before.said, reader.places.said)) return null;
    const keys = score.keys;
    if (index === lead && !isSame(concertKeys(reader), keys)) return null;
    const lengths = score.bars.map(({ length }) => length);
    parts[index] = partOf(reader, score.bars, lengths, keys, shared);
    const by = inside.length - (element.to - element.from);
    text = text.slice(0, element.from) + inside + text.slice(element.to);
    read.set(id, { places: whole(reader.places), by: element.from });
    music.set(id, [{ ...element, to: element.to + by }]);
    for (const [other, [own]] of document.music)
      if (own && own.from > element.from) {
        const now = music.get(other)![0]!;
        music.set(other, [{ ...now, from: now.from + by, to: now.to + by }]);
        const placed = read.get(other)!;
        read.set(other, { ...placed, by: placed.by + by });
      }
  }
  return { document: { ...document, text, read, music }, score: { ...score, parts } };
}

/** Where the root's own tag ends. */
const insideOf = (text: string, root: string): number =>
  text.indexOf('>', text.search(new RegExp(`<${root}[\\s>]`))) + 1;

/** Reads a document without a pause. */
export const readMusicXml = (bytes: Uint8Array, source?: SourceId): ReadMusicXml =>
  finished(readMusicXmlInSteps(bytes, source));

/** The name of the root element. @throws BadSourceError for a document of another kind */
function rootOf(text: string): string {
  const head = text.slice(0, HEAD).replace(/<!--[\s\S]*?-->/g, '');
  const root = /<([A-Za-z][\w.-]*)/.exec(
    head.replace(/<\?[\s\S]*?\?>|<!DOCTYPE[^>[]*(\[[\s\S]*?\])?[^>]*>/g, ''),
  )?.[1];
  if (root && ROOTS.includes(root)) return root;
  if (root?.toLowerCase() === 'html') throw new BadSourceError('This is a web page, no score.');
  if (root === 'opus')
    throw new BadSourceError('This is a MusicXML opus, a list of scores: open the scores themselves.');
  throw new BadSourceError(
    root
      ? `This is XML, but no MusicXML score: it begins with <${root.slice(0, 40)}>.`
      : 'This is no MusicXML score.',
  );
}

const COMMON_TIME: Meter = { numerator: 4, denominator: 4 };

function* scoreOf(
  readers: readonly PartReader[],
  said: Pick<Score, 'title' | 'composer' | 'copyright'>,
  groups: Score['groups'],
  shared: Shared,
): Steps<Score> {
  const count = Math.max(0, ...readers.map((reader) => reader.bars.length));
  if (count === 0) throw new BadSourceError('This document has no bars.');
  const bars = barsOf(readers, count);
  const lengths = bars.map(({ length }) => length);
  const lead = readers.find((reader) => !instrumentOf(reader.listed.instrument).unpitched) ?? readers[0]!;
  const keys = concertKeys(lead);
  const parts: Part[] = [];
  for (const reader of readers) {
    parts.push(partOf(reader, bars, lengths, keys, shared));
    yield;
  }
  return {
    ...said,
    bars,
    keys,
    tempos: temposOf(readers),
    ...swingsOf(readers, count),
    rehearsals: [],
    parts,
    ...(groups && { groups }),
  };
}

/** The bars of the score: as long as the longest part goes in them; a first one that is short is an upbeat. */
function barsOf(readers: readonly PartReader[], count: number): Bar[] {
  let meter = COMMON_TIME;
  let start = 0;
  return Array.from({ length: count }, (_, index): Bar => {
    const all = readers.flatMap(({ bars }) => bars[index] ?? []);
    const first = <T>(of: (bar: ReadBar) => T | undefined): T | undefined => {
      for (const bar of all) {
        const found = of(bar);
        if (found !== undefined) return found;
      }
      return undefined;
    };
    meter = first((bar) => bar.meter) ?? meter;
    const sign = first((bar) => bar.sign);
    const full = fullLength(meter);
    const longest = Math.max(0, ...all.map(lengthOf));
    // Rests that go on behind the meter are a fault of one part; notes there make the bar longer.
    const needed = longest > full ? Math.max(full, ...all.map(soundingLength)) : longest;
    const length = needed > 0 ? needed : full;
    const number = first((bar) => bar.number) ?? String(index + 1);
    const isUpbeat = index === 0 && length < full;
    const left = first((bar) => bar.left);
    // What ends without a bar line of its own has none: nothing is said that the document does not say.
    const right = first((bar) => bar.right) ?? (index === count - 1 ? {} : undefined);
    const jumps = all.flatMap((bar) => bar.jumps).filter(isFirstOfKind);
    const bar: Bar = {
      index,
      number: Number.parseInt(number, 10) || 0,
      ...(!/^\d+$/.test(number) && { printed: number }),
      start,
      length,
      meter,
      groups: beatGroups(meter),
      missing: isUpbeat ? full - length : 0,
      ...(sign && { sign }),
      ...(left && { left }),
      ...(right && { right }),
      ...(jumps.length > 0 && { jumps }),
    };
    start += length;
    return bar;
  });
}

const isFirstOfKind = (
  jump: { kind: string; at: number },
  index: number,
  all: { kind: string; at: number }[],
) => all.findIndex((each) => each.kind === jump.kind && each.at === jump.at) === index;

/** Concert signatures, by the part that leads. */
function concertKeys({ keys, transposition }: PartReader): KeySignature[] {
  const back = transposition ?? { diatonic: 0, chromatic: 0 };
  const inverse: Transposition = { diatonic: -back.diatonic, chromatic: -back.chromatic };
  const found = keys
    .filter(({ at }) => at === 0)
    .map(({ bar, fifths, minor }): KeySignature => ({ bar, fifths: writtenFifths(fifths, inverse), minor }));
  return found[0]?.bar === 0 ? found : [{ bar: 0, fifths: 0, minor: false }, ...found];
}

function partOf(
  reader: PartReader,
  bars: readonly Bar[],
  lengths: readonly Span[],
  keys: readonly KeySignature[],
  shared: Shared,
): Part {
  const { listed, staves, tuning } = reader;
  const transposition = reader.transposition ?? { diatonic: 0, chromatic: 0 };
  const place = (bar: number) => `${listed.name || listed.xmlId}, bar ${reader.bars[bar]?.number ?? bar + 1}`;
  const says = (bar: number, line: number, what: string, done: string) =>
    shared.mend({ from: 0, line }, place(bar), what, done);
  const partBars = voicesOf(reader.bars, lengths, (bar) =>
    says(
      bar,
      reader.bars[bar]!.line,
      'notes of one voice overlap',
      'The later one stands in a voice of its own.',
    ),
  );
  reader.bars.forEach((bar, index) => {
    const told = lengthTold(bar, bars[index]!);
    if (told) says(index, bar.line, ...told);
  });
  mendTies(partBars, bars, (bar) =>
    says(bar, reader.bars[bar]?.line ?? 0, 'a tie leads to no note', 'It is left out.'),
  );
  const spanners = pairEnds(
    reader.ends,
    (bar) => lengths[bar] ?? 0,
    (end, done) => says(end.bar, end.line, `a ${end.kind} has no other end`, done),
  );
  const lines = Array.from({ length: staves }, (_, staff) => reader.lines.get(staff + 1) ?? 5);
  const changes = [...ownKeys(reader, keys, transposition), ...reader.changes].sort(
    (a, b) => a.bar - b.bar || a.at - b.at,
  );
  return {
    id: partId(reader.strand),
    name: listed.name,
    abbreviation: listed.abbreviation,
    instrument: listed.instrument,
    transposition,
    clefs: Array.from({ length: staves }, (_, staff) => reader.clefs[staff] ?? 'treble'),
    bars: partBars,
    ...(spanners.length > 0 && { spanners }),
    ...(lines.some((count) => count !== 5) && { lines }),
    ...(tuning.length > 0 && { tuning }),
    ...(changes.length > 0 && { changes }),
  };
}

/** What is to be said of how long a part is in a bar; null where that is as it should be. */
function lengthTold(read: ReadBar, { length, meter, missing }: Bar): [what: string, done: string] | null {
  const full = fullLength(meter);
  if (read.length > length) return ['rests go on after the end of the bar', 'They end with it.'];
  if (read.length > full)
    return [`the bar is longer than ${meter.numerator}/${meter.denominator}`, 'It is as long as its notes.'];
  if (read.items.length > 0 && lengthOf(read) < length && missing === 0 && length === full)
    return ['the bar is not full', 'A gap is left at its end.'];
  return null;
}

/** Signatures of a part that are not what the score's would be for it. */
function ownKeys(
  reader: PartReader,
  keys: readonly KeySignature[],
  transposition: Transposition,
): PartChange[] {
  if (instrumentOf(reader.listed.instrument).unpitched) return [];
  const expected = (bar: number): number =>
    writtenFifths(keys.findLast((key) => key.bar <= bar)!.fifths, transposition);
  const said = reader.keys.map(
    ({ bar, at, fifths, minor }): PartChange => ({ kind: 'key', bar, at, fifths, minor }),
  );
  const own = said.filter(
    (each) => each.kind === 'key' && (each.at > 0 || each.fifths !== expected(each.bar)),
  );
  // A part without a signature where the score has one, as horns by old custom.
  const opening = reader.keys.some(({ bar, at }) => bar === 0 && at === 0);
  if (!opening && expected(0) !== 0) own.unshift({ kind: 'key', bar: 0, at: 0, fifths: 0, minor: false });
  return own;
}

/** Ties that lead nowhere are taken off; a note that a tie leads to is said to be held. */
function mendTies(partBars: readonly PartBar[], bars: readonly Bar[], onLoose: (bar: number) => void): void {
  const open = new Map<string, { note: { tieStart?: true }; bar: number; at: number }>();
  const strokes = partBars
    .flatMap((bar, index) =>
      bar.voices.flatMap((line) =>
        line.items.flatMap((item) =>
          item.kind === 'chord' ? item.notes.map((note) => ({ note, item, index })) : [],
        ),
      ),
    )
    .map((each) => ({ ...each, at: bars[each.index]!.start + each.item.onset }))
    .sort((a, b) => a.at - b.at);
  for (const { note, item, index, at } of strokes) {
    const key = `${note.key}`;
    const held = open.get(key);
    if (note.tieStop && held) open.delete(key);
    if (!note.tieStart) continue;
    const before = open.get(key);
    // Two voices may hold one key: the first one's end is looked for all the same.
    open.set(before ? `${key} ${at}` : key, { note, bar: index, at: at + item.duration });
  }
  for (const { note, bar, at } of open.values()) {
    const goesOn = strokes.some((each) => each.at === at && each.note.tieStop && each.note !== note);
    if (goesOn) continue;
    delete note.tieStart;
    onLoose(bar);
  }
}

/** Tempos that sound and are not printed; each once, whichever parts say it. */
function temposOf(readers: readonly PartReader[]): TempoMark[] {
  const found = new Map<string, TempoMark>();
  for (const reader of readers)
    reader.bars.forEach((bar, index) => {
      for (const { at, quartersPerMinute } of bar.tempos)
        found.set(`${index} ${at}`, { bar: index, at, quartersPerMinute, printed: null });
    });
  return [...found.values()].sort((a, b) => a.bar - b.bar || a.at - b.at);
}

function swingsOf(readers: readonly PartReader[], count: number): Pick<Score, 'swings' | 'swingsSaid'> {
  const swings: SwingMark[] = [];
  for (let bar = 0; bar < count; bar++) {
    const said = readers.map((reader) => reader.bars[bar]?.swing).find((swing) => swing !== undefined);
    if (said === undefined) continue;
    const last = swings.at(-1);
    if (last && last.to > bar) last.to = bar;
    if (said) swings.push({ from: bar, to: count, ...said });
  }
  const isSaid = readers.some(({ bars }) => bars.some((bar) => bar.isSwingSaid));
  return swings.length > 0 ? { swings, ...(isSaid && { swingsSaid: true as const }) } : {};
}
