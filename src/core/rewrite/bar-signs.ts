import { type BarSignChoice, endingNumbers, leftLine, rightLine } from '../model/bar-signs';
import { newNotesFrom } from '../model/ids';
import type { Mark } from '../model/marks';
import { metronomeOf } from '../model/metronome';
import type { Bar, Barline } from '../model/score';
import { type Moment, textOfMoment } from '../model/time';
import { readsSignatures } from '../notate/transpose';
import { highestTrack } from '../reconcile/carry-names';
import { readBarline } from '../sources/musicxml/barlines';
import { type Change, inManner, putLines, takeOut } from '../sources/musicxml/changes';
import { readDirection, readSound } from '../sources/musicxml/directions';
import { child, childrenOf, elementAt, numberOf, type XmlElement } from '../sources/musicxml/elements';
import { readAgain, type ScoreReading } from '../sources/musicxml/source';
import { placesIn } from '../sources/musicxml/splice';
import { writeBarline, writeMark } from '../sources/musicxml/write-marks';
import { XmlText } from '../sources/musicxml/xml';
import { keyChanges } from './key-signs';

/** A score with signs at its bars in its text. */
export interface BarsSigned {
  reading: ScoreReading;
  /** Sentences. */
  refused: readonly string[];
}

/** What is to be otherwise in one bar of every part. */
interface Wish {
  left: BarSignChoice[];
  right: BarSignChoice[];
  /** An ending that stops with the bar; null for one that goes. */
  stop?: Barline['ending'] | null;
  /** What stands over the first part. */
  marks: BarSignChoice[];
}

/**
 * A score with rehearsal marks, tempos, keys, bar lines, repeats and endings put at its bars, or taken off: written into
 * its text, all else of which stays to the character, and read again. Bar lines are those of every part; a rehearsal
 * mark or a tempo stands in the first one, and goes from all.
 *
 * @param choices the last about each thing at each bar
 */
export function withBarSigns(reading: ScoreReading, choices: readonly BarSignChoice[]): BarsSigned {
  const { document, asRead } = reading;
  const refused: string[] = [];
  const keys: (BarSignChoice & { bar: number })[] = [];
  const wishes = wishesOf(asRead.bars, choices, keys, refused);
  if (keys.length > 0 && !asRead.parts.some((part) => readsSignatures(asRead, part)))
    refused.push('This score is written without signatures: it stays so.');
  const changes = new Map<number, Change[]>();
  asRead.parts.forEach((part, index) => {
    const places = placesIn(document, reading.xmlIds.get(reading.score.parts[index]!.id) ?? '');
    const own: Change[] = places ? keyChanges(document.text, places, asRead, part, keys) : [];
    for (const [bar, wish] of wishes) {
      const place = places?.bars[bar];
      if (!place) continue;
      const measure = elementAt(document.text, place);
      drawLines(document.text, measure, wish, own);
      putMarks(document.text, measure, wish.marks, index === 0 ? asRead.bars[bar]! : null, own);
    }
    if (own.length > 0) changes.set(index, own);
  });
  if (changes.size === 0) return { reading, refused };
  const names = { parts: reading.names, fresh: reading.kept?.fresh ?? newNotesFrom(2) };
  const named = () => ({ ...names, highest: highestTrack(reading) });
  return { reading: readAgain(reading, changes, named), refused };
}

function wishesOf(
  bars: readonly Bar[],
  choices: readonly BarSignChoice[],
  keys: (BarSignChoice & { bar: number })[],
  refused: string[],
): Map<number, Wish> {
  const indices = new Map<Moment, number>(bars.map(({ start, index }) => [start, index]));
  const wishes = new Map<number, Wish>();
  const wishAt = (bar: number): Wish => {
    const known = wishes.get(bar);
    if (known) return known;
    const made: Wish = { left: [], right: [], marks: [] };
    wishes.set(bar, made);
    return made;
  };
  for (const choice of choices) {
    const bar = indices.get(choice.at);
    if (bar === undefined) {
      refused.push(`No bar begins ${textOfMoment(choice.at)} quarters from the start: its sign waits.`);
      continue;
    }
    const { what, put, text = '', bars: over = 1 } = choice;
    if (what === 'key') {
      if (!put && bar === 0)
        refused.push('A score has a key from its first bar on: it is changed, not taken off.');
      else keys.push({ ...choice, bar });
    } else if (what === 'rehearsal' || what === 'tempo') wishAt(bar).marks.push(choice);
    else if (what === 'bar-line' || what === 'repeat-to') wishAt(bar).right.push(choice);
    else if (what === 'repeat-from') wishAt(bar).left.push(choice);
    else if (!put) {
      wishAt(bar).left.push(choice);
      const last = bars.findIndex(({ index, right }) => index >= bar && right?.ending);
      if (bars[bar]?.left?.ending && last >= 0) wishAt(last).stop = null;
    } else if (bar + over > bars.length)
      refused.push(`Bar ${bars[bar]!.number}: an ending of ${over} bars goes on after the last one.`);
    else {
      wishAt(bar).left.push(choice);
      wishAt(bar + over - 1).stop = { numbers: endingNumbers(text), type: 'discontinue' };
    }
  }
  return wishes;
}

/** The bar lines of one bar of a part, each written anew where it is to be another one. */
function drawLines(text: string, measure: XmlElement, { left, right, stop }: Wish, changes: Change[]): void {
  if (left.length > 0) drawLine(text, measure, 'left', (line) => leftLine(line, left), changes);
  if (right.length === 0 && stop === undefined) return;
  const drawn = (line: Barline): Barline => {
    const { ending: before, ...others } = rightLine(line, right);
    const ending = stop === undefined ? before : stop;
    if (!ending) return others;
    // A bracket is closed where the music goes back (common practice).
    return { ...others, ending: others.repeat && stop ? { ...ending, type: 'stop' } : ending };
  };
  drawLine(text, measure, 'right', drawn, changes);
}

const OF_LINE: ReadonlySet<string> = new Set(['bar-style', 'ending', 'repeat']);
const nothing = () => {};

function drawLine(
  text: string,
  measure: XmlElement,
  location: 'left' | 'right',
  make: (line: Barline) => Barline,
  changes: Change[],
): void {
  const element = childrenOf(measure, 'barline').findLast(
    ({ attributes }) => (attributes.location ?? 'right') === location,
  );
  const before = element ? readBarline(element, nothing) : {};
  const line = make(before);
  if (JSON.stringify(line) === JSON.stringify(before)) return;
  // A sign or a fermata on the line stays on it, between its style and its ending (MusicXML 4.0, `barline`).
  const others = element?.children.filter(({ name }) => !OF_LINE.has(name)) ?? [];
  if (Object.keys(line).length === 0 && others.length === 0) {
    if (element) takeOut(text, element, changes);
    return;
  }
  const xml = new XmlText();
  writeBarline(xml, location, line);
  const [head, ...rest] = xml.text().split('\n');
  const style = rest.findIndex((each) => each.includes('<bar-style'));
  rest.splice(style + 1, 0, ...others.map(({ from, to }) => ` ${text.slice(from, to)}`));
  const written = [head, ...rest].join('\n');
  if (element) {
    changes.push({ from: element.from, to: element.to, text: inManner(written, text, element.from) });
    return;
  }
  const first = location === 'left' && measure.children.find(({ name }) => name !== 'print');
  putLines(text, measure, first || undefined, written, changes);
}

/** What is written before the music of a bar (MusicXML 4.0, `measure`). */
const BEFORE: ReadonlySet<string> = new Set(['print', 'barline', 'attributes']);

/** Rehearsal marks and tempos at the start of a bar. @param bar where they are to stand in this part */
function putMarks(
  text: string,
  measure: XmlElement,
  choices: readonly BarSignChoice[],
  bar: Bar | null,
  changes: Change[],
): void {
  takeMarks(text, measure, new Set(choices.map(({ what }) => what)), changes);
  const xml = new XmlText();
  if (bar) for (const choice of choices) if (choice.put) writeMark(xml, markOf(choice, bar), 0, undefined);
  const lines = xml.text();
  if (lines === '') return;
  const first = measure.children.find(({ name }) => !BEFORE.has(name));
  putLines(text, measure, first, lines, changes);
}

function markOf({ what, text = '', quartersPerMinute }: BarSignChoice, { meter }: Bar): Mark {
  if (what === 'rehearsal') return { kind: 'rehearsal', text, at: 0 };
  if (quartersPerMinute === undefined) return { kind: 'tempo', at: 0, tempo: { text } };
  const { unit, dotted, perMinute } = metronomeOf(meter, quartersPerMinute);
  const metronome = { value: { type: unit, dots: dotted ? 1 : 0 }, perMinute: String(perMinute) } as const;
  return { kind: 'tempo', at: 0, tempo: { ...(text && { text }), metronome, quartersPerMinute } };
}

/** Takes off what stands at the start of a bar; what is said of playing beside it stays. */
function takeMarks(
  text: string,
  measure: XmlElement,
  whats: ReadonlySet<BarSignChoice['what']>,
  changes: Change[],
): void {
  for (const each of atStart(measure)) {
    if (each.name === 'sound' && whats.has('tempo') && readSound(each).tempo !== undefined)
      takeSound(text, each, changes);
    if (each.name !== 'direction') continue;
    const { marks, tempo } = readDirection(each, 0, nothing);
    const isTempo = whats.has('tempo') && (tempo !== undefined || marks.some(({ kind }) => kind === 'tempo'));
    const names = [
      ...(isTempo ? ['words', 'metronome'] : []),
      ...(whats.has('rehearsal') ? ['rehearsal'] : []),
    ];
    const types = childrenOf(each, 'direction-type');
    const gone = types.filter(({ children }) => children.some(({ name }) => names.includes(name)));
    const sound = child(each, 'sound');
    const isSoundLeft = sound && !(isTempo && !isMoreThanTempo(sound));
    if (gone.length === types.length && gone.length > 0) {
      const left = sound && (isTempo ? withoutTempo(text, sound) : text.slice(sound.from, sound.to));
      if (left && isSoundLeft) changes.push({ from: each.from, to: each.to, text: left });
      else takeOut(text, each, changes);
      continue;
    }
    for (const type of gone) takeOut(text, type, changes);
    if (isTempo && sound) takeSound(text, sound, changes);
  }
}

const isMoreThanTempo = ({ attributes, children }: XmlElement): boolean =>
  children.length > 0 || Object.keys(attributes).some((name) => name !== 'tempo' && name !== 'id');

const withoutTempo = (text: string, { from, to }: XmlElement): string =>
  text.slice(from, to).replace(/\s+tempo\s*=\s*(?:"[^"]*"|'[^']*')/, '');

function takeSound(text: string, sound: XmlElement, changes: Change[]): void {
  if (isMoreThanTempo(sound))
    changes.push({ from: sound.from, to: sound.to, text: withoutTempo(text, sound) });
  else takeOut(text, sound, changes);
}

/** The children of a measure that stand at its start, whichever voice they are among. */
function atStart(measure: XmlElement): XmlElement[] {
  const found: XmlElement[] = [];
  let at = 0;
  for (const each of measure.children) {
    const duration = numberOf(each, 'duration') ?? 0;
    if (each.name === 'note' && !child(each, 'chord') && !child(each, 'grace')) at += duration;
    else if (each.name === 'forward') at += duration;
    else if (each.name === 'backup') at -= duration;
    else if (at <= 0 && (numberOf(each, 'offset') ?? 0) <= 0) found.push(each);
  }
  return found;
}
