import type { Bar } from '../model/score';
import { type Moment, QUARTER } from '../model/time';
import {
  applied,
  type Change,
  innerOf,
  NOTE_ORDER,
  putIn,
  putValue,
  spaceBefore,
  takeOut,
} from '../sources/musicxml/changes';
import { child, childrenOf, numberOf, type XmlElement } from '../sources/musicxml/elements';
import {
  type Aside,
  type BarText,
  type Cell,
  isCell,
  type Run,
  staffOf,
  UnclearBarError,
  voiceOf,
} from './bar-text';
import {
  beamTexts,
  bracketsOf,
  inVoice,
  type Manner,
  mannerOf,
  notationsIn,
  noteText,
  ratioOf,
  restText,
  type Shape,
} from './note-text';
import { type Added, type Named, rewrittenRun, tupletTexts, type Written } from './voice';

/** A note to be put into a bar, with where it would go by itself. */
export interface Wanted extends Added {
  staff: number;
  /** The run that it stood in, where it stood in this bar. */
  run: Run | null;
  voice: string | null;
  /** Which voice of its staff it is to stand in, from 1; null for its own. */
  nth: number | null;
}

/** A bar written anew. */
export interface RewrittenBar {
  text: string;
  /** What its notes are called, in the order of the text; null for what a tie goes on to. */
  names: (Named | null)[];
}

/** Voices of a staff (MusicXML: four by custom of its programs). */
const VOICES = 4;

/** The state of a bar while it is written anew. */
interface Writing {
  document: string;
  bar: Bar;
  source: BarText;
  staves: number;
  hasBeams: boolean;
  gone: ReadonlySet<XmlElement>;
  /** Those of them that come nowhere else. */
  dropped: ReadonlySet<XmlElement>;
  /** Undefined for a note that cannot be read. */
  nameOf: (note: XmlElement) => Named | undefined;
}

/**
 * The text of a bar without the notes that go and with those that come: the runs of notes that change
 * are written anew, all else stays to the character.
 *
 * @param patches changes within notes that stay
 * @throws UnclearBarError where a note has no room
 */
export function rewrittenBar(
  writing: Writing,
  wanted: readonly Wanted[],
  patches: readonly Change[],
): RewrittenBar {
  const { source, bar, gone, hasBeams } = writing;
  const plans = new Map<Run, { wanted: Wanted[]; written: Written[] }>();
  const isChanged = (run: Run) =>
    run.pieces.some((piece) => isCell(piece) && piece.elements.some((each) => gone.has(each)));
  for (const run of source.runs) {
    if (!isChanged(run)) continue;
    const written = rewrittenRun(run, bar, gone, [], hasBeams);
    if (!written) throw new UnclearBarError('its notes overlap within a voice');
    plans.set(run, { wanted: [], written });
  }
  const fresh: { run: Run; voice: string; staff: number }[] = [];
  for (const note of wanted) {
    const runs = [
      ...homesOf(source, note),
      ...fresh.filter(({ staff }) => staff === note.staff).map(({ run }) => run),
    ];
    const isPut = runs.some((run) => {
      if (isTaken(source, run, note, gone, plans)) return false;
      const before = plans.get(run)?.wanted ?? [];
      const written = rewrittenRun(run, bar, gone, [...before, note], hasBeams);
      if (written) plans.set(run, { wanted: [...before, note], written });
      return written !== null;
    });
    if (isPut) continue;
    if (note.nth !== null && runs.length > 0) throw new UnclearBarError('that voice has other notes there');
    const voice = freeVoice(
      source,
      writing.staves,
      note.staff,
      fresh.map((each) => each.voice),
    );
    const run: Run = { start: 0, end: 0, pieces: [], back: null };
    const written = voice === null ? null : rewrittenRun(run, bar, gone, [note], hasBeams);
    if (voice === null) throw new UnclearBarError(`its staff has ${VOICES} voices already`);
    if (!written) throw new UnclearBarError('the bar cannot be divided so');
    fresh.push({ run, voice, staff: note.staff });
    plans.set(run, { wanted: [note], written });
  }
  return assembled(writing, plans, fresh, patches);
}

/** Whether another run of the same voice has notes in the time of one that is to stand in a run. */
function isTaken(
  { runs }: BarText,
  run: Run,
  { start, end }: Wanted,
  gone: ReadonlySet<XmlElement>,
  plans: ReadonlyMap<Run, { written: Written[] }>,
): boolean {
  const voice = voiceOfRun(run);
  return runs.some((other) => {
    if (other === run || voiceOfRun(other) !== voice) return false;
    const plan = plans.get(other);
    const chords = plan
      ? plan.written.filter(({ kind }) => kind === 'chord')
      : other.pieces
          .filter(isCell)
          .filter(({ kind, elements }) => kind === 'chord' && elements.some((each) => !gone.has(each)));
    return chords.some(({ onset, duration }) => onset < end && onset + duration > start);
  });
}

/** Runs in which a note may stand: that where it stood, those of its voice, then others of its staff. */
function homesOf({ runs }: BarText, { run: own, staff, voice, nth }: Wanted): Run[] {
  const ofStaff = runs.filter(({ pieces }) => {
    const notes = pieces
      .filter(isCell)
      .flatMap(({ elements }) => elements.filter(({ name }) => name === 'note'));
    return notes.length > 0 && notes.every((each) => staffOf(each) === staff);
  });
  const isElsewhere = own !== null && !ofStaff.includes(own);
  if (nth !== null || isElsewhere) {
    const inOrder = ofStaff.sort((a, b) => Number(voiceOfRun(a)) - Number(voiceOfRun(b)));
    return nth === null ? inOrder : inOrder.slice(nth - 1, nth);
  }
  const rank = (run: Run) => (run === own ? 0 : voiceOfRun(run) === voice ? 1 : 2);
  return [...new Set([...(own ? [own] : []), ...ofStaff])].sort((a, b) => rank(a) - rank(b));
}

const firstNote = ({ pieces }: Run): XmlElement | undefined =>
  pieces.filter(isCell).flatMap(({ elements }) => elements.filter(({ name }) => name === 'note'))[0];

const voiceOfRun = (run: Run): string | null => {
  const note = firstNote(run);
  return note ? voiceOf(note) : null;
};

/** A voice of the staff that nothing in the bar stands in. @param staff from 1 */
function freeVoice({ runs }: BarText, staves: number, staff: number, more: readonly string[]): string | null {
  const taken = new Set([
    ...runs.flatMap((run) => run.pieces.filter(isCell).flatMap(({ elements }) => elements.map(voiceOf))),
    ...more,
  ]);
  const from = staves > 1 ? (staff - 1) * VOICES : 0;
  for (let voice = from + 1; voice <= from + VOICES; voice++)
    if (!taken.has(String(voice))) return String(voice);
  return null;
}

/** So many divisions more does a quarter need for all that is written to be whole numbers. */
function finer(
  { divisions }: BarText,
  plans: Iterable<{ written: Written[] }>,
  ends: readonly Moment[],
): number {
  let factor = 1;
  const need = (moment: Moment) => {
    for (let by = 1; by <= MOST_FINER; by++)
      if (Number.isInteger((moment * divisions * factor * by) / QUARTER)) {
        factor *= by;
        return;
      }
    throw new UnclearBarError('its divisions cannot be made fine enough');
  };
  for (const { written } of plans) for (const each of written) if (!each.asItWas) need(each.duration);
  for (const end of ends) need(end);
  return factor;
}
const MOST_FINER = 4096;

function assembled(
  writing: Writing,
  plans: ReadonlyMap<Run, { wanted: Wanted[]; written: Written[] }>,
  fresh: readonly { run: Run; voice: string; staff: number }[],
  patches: readonly Change[],
): RewrittenBar {
  const { document, source, staves, gone } = writing;
  const named = namesBy(writing);
  const { measure, runs } = source;
  const lengths = [...plans.values()].map(({ written }) => endOf(written));
  const factor = finer(source, plans.values(), lengths);
  const manner = mannerOf(document, measure);
  const changes: Change[] = [...patches];
  if (factor > 1) changes.push(...rescaled(document, measure, factor));
  const scale = (span: number) => (span * source.divisions * factor) / QUARTER;
  const names: { at: number; names: (Named | null)[] }[] = [];
  for (const run of runs) {
    const plan = plans.get(run);
    const aside = plan ? run.pieces.slice(timedOf(run).length) : run.pieces;
    for (const note of aside.flatMap(notesOf))
      if (gone.has(note)) takeOut(document, note, changes);
      else names.push({ at: note.from, names: named(note) });
    if (!plan) continue;
    const first = firstNote(run);
    const home = {
      voice: voiceOfRun(run) ?? '1',
      staff: staves > 1 && first ? staffOf(first) : null,
      manner,
    };
    const { text, own } = runText(writing, run, plan.written, home, scale, changes);
    const [from, to] = extentOf(document, run);
    forget(changes, { from, to });
    changes.push({ from, to, text });
    names.push({ at: from, names: own });
    const end = endOf(plan.written);
    if (run.back && end > run.end) lengthen(run.back, scale(end - run.end), changes, factor);
  }
  const { at, now } = lastMoment(source, plans);
  for (const { run, voice, staff } of fresh) {
    const { written } = plans.get(run)!;
    const home = { voice, staff: staves > 1 ? staff : null, manner };
    const { text, own } = runText(writing, run, written, home, scale, changes);
    const end = endOf(written);
    const back = now > 0 ? `${manner.outer}<backup><duration>${scale(now)}</duration></backup>` : '';
    const on = now > end ? manner.outer + spaceText(scale(now - end), manner) : '';
    changes.push({ from: at, to: at, text: back + text + on });
    names.push({ at, names: own });
  }
  if (factor > 1) changes.push(...saidDivisions(document, source, factor, manner));
  return {
    text: applied(document, changes, measure.from, measure.to),
    names: names.sort((a, b) => a.at - b.at).flatMap((each) => each.names),
  };
}

const notesOf = (piece: Cell | Aside): XmlElement[] =>
  (isCell(piece) ? [...piece.elements] : [piece.element]).filter(
    (each) => each.name === 'note' && !child(each, 'rest'),
  );

const endOf = (written: readonly Written[]): Moment =>
  written.reduce((last, { onset, duration }) => Math.max(last, onset + duration), 0);

const namesBy =
  ({ nameOf }: Writing) =>
  (note: XmlElement): Named[] => {
    const name = nameOf(note);
    return name ? [name] : [];
  };

/** The pieces of a run up to its last cell: what follows stands behind all of it. */
const timedOf = ({ pieces }: Run): (Cell | Aside)[] => pieces.slice(0, pieces.findLastIndex(isCell) + 1);

/** From where to where these stand, with the space before the first. */
function extentOf(document: string, run: Run): [number, number] {
  const elements = timedOf(run).flatMap((piece) => (isCell(piece) ? piece.elements : [piece.element]));
  const from = elements[0]?.from ?? 0;
  return [from - spaceBefore(document, from).length, elements.at(-1)?.to ?? 0];
}

/** Where a voice more is put in, and which moment it is there. */
function lastMoment(
  { measure, runs }: BarText,
  plans: ReadonlyMap<Run, { written: Written[] }>,
): { at: number; now: Moment } {
  const run = runs.at(-1)!;
  const timed = measure.children
    .filter(({ name }) => name === 'note' || name === 'backup' || name === 'forward')
    .at(-1);
  const head = measure.children
    .filter(
      ({ name, attributes }) =>
        name === 'print' || name === 'attributes' || (name === 'barline' && attributes.location === 'left'),
    )
    .at(-1);
  const at = timed?.to ?? head?.to ?? measure.children[0]?.from ?? measure.to;
  const plan = plans.get(run);
  return { at, now: Math.max(run.end, plan ? endOf(plan.written) : 0) };
}

/** A `backup` that goes back farther, as what is before it has become longer. @param by in divisions as they are now */
function lengthen(back: XmlElement, by: number, changes: Change[], factor: number): void {
  const duration = child(back, 'duration');
  if (!duration) return;
  forget(changes, duration);
  const now = (numberOf(back, 'duration') ?? 0) * factor + by;
  changes.push({ from: duration.from, to: duration.to, text: `<duration>${now}</duration>` });
}

/** All that is counted in divisions, in finer ones. */
function rescaled(document: string, measure: XmlElement, factor: number): Change[] {
  const changes: Change[] = [];
  const visit = (element: XmlElement): void => {
    for (const each of element.children)
      if (each.name === 'duration' || each.name === 'offset' || each.name === 'divisions')
        putValue(document, each, String(Number(each.text) * factor), changes);
      else if (each.name !== 'notations') visit(each);
  };
  visit(measure);
  return changes;
}

/** The finer divisions where the bar begins, and those of before where it ends. */
function saidDivisions(
  document: string,
  { measure, divisions }: BarText,
  factor: number,
  { outer, inner }: Manner,
): Change[] {
  const say = (value: number): string =>
    `${outer}<attributes>${inner}<divisions>${value}</divisions>${inner === '' ? '' : outer}</attributes>`;
  const at = (place: number, value: number): Change => ({ from: place, to: place, text: say(value) });
  const isSaid = measure.children.some((each) => each.name === 'attributes' && child(each, 'divisions'));
  const head = innerOf(document, measure)?.from;
  const last = measure.children.findLast(({ name }) => name !== 'barline');
  return [
    ...(isSaid || head === undefined ? [] : [at(head, divisions * factor)]),
    ...(last ? [at(last.to, divisions)] : []),
  ];
}

/** The pieces of a run in the order of time, as text; what changes in notes that stay is added to `changes`. */
function runText(
  writing: Writing,
  run: Run,
  written: readonly Written[],
  { voice, staff, manner }: { voice: string; staff: number | null; manner: Manner },
  scale: (span: number) => number,
  changes: Change[],
): { text: string; own: (Named | null)[] } {
  const { document, gone, dropped } = writing;
  const named = namesBy(writing);
  const own: (Named | null)[] = [];
  let text = '';
  const now = ({ from, to }: XmlElement) => applied(document, changes, from, to);
  const stay = (element: XmlElement) => {
    if (element.name === 'note' && !child(element, 'rest')) own.push(...named(element));
    text += spaceBefore(document, element.from) + now(element);
  };
  const putGrace = ({ text: note, name }: Added['graces'][number]) => {
    own.push(name);
    text += manner.outer + note.replace(/<voice>[^<]*<\/voice>/, `<voice>${voice}</voice>`);
  };
  const asides = timedOf(run).filter((piece): piece is Aside => !isCell(piece));
  const order = new Map(run.pieces.map((piece, index) => [piece, index]));
  let next = 0;
  const putAsides = (at: Moment, isDue: (aside: Aside) => boolean) => {
    for (; next < asides.length && isDue(asides[next]!); next++) {
      const { element, at: meant } = asides[next]!;
      if (gone.has(element)) continue;
      if (meant !== at) moveTo(document, element, scale(meant - at), changes);
      stay(element);
    }
  };
  for (const each of written) {
    putAsides(each.onset, (aside) => isBefore(aside, each, order));
    const { asItWas, kept, added, isFirst, isLast } = each;
    if (asItWas) {
      if (each.beams) rebeam(document, asItWas.elements[0]!, each.beams, changes);
      for (const element of asItWas.elements) stay(element);
      continue;
    }
    const made = shapeOf(document, each, scale);
    if (each.kind === 'space') {
      text += manner.outer + spaceText(made.duration, manner);
      continue;
    }
    if (each.kind === 'rest') {
      text += manner.outer + restText(made, voice, staff, each.isWholeBar, manner);
      continue;
    }
    for (const { graces } of isFirst ? added : []) for (const grace of graces) putGrace(grace);
    const [head] = kept;
    if (head) {
      inherit(document, head, run, dropped, changes);
      if (each.beams) rebeam(document, head, each.beams, changes);
    }
    for (const element of kept) stay(element);
    added.forEach((note, index) => {
      const content = isFirst ? note.first : note.later;
      const inChord = kept.length + index > 0;
      const shape: Shape = {
        ...made,
        inChord,
        tieStop: isFirst ? note.tieStop : true,
        tieStart: isLast ? note.tieStart : true,
        brackets: inChord ? [] : made.brackets,
        beams: inChord ? [] : (each.beams ?? []),
      };
      const notations = [...(isFirst ? content.notations : []), ...(isLast ? note.last : [])];
      own.push(isFirst ? note.name : null);
      text += manner.outer + noteText(inVoice({ ...content, notations }, voice), shape, manner);
    });
    for (const { gracesAfter } of isLast ? added : []) for (const grace of gracesAfter) putGrace(grace);
  }
  putAsides(endOf(written), () => true);
  return { text, own };
}

/** Whether something without time comes before a cell: by its moment; at one moment as it did. */
function isBefore(
  aside: Aside,
  { onset, asItWas }: Written,
  order: ReadonlyMap<Cell | Aside, number>,
): boolean {
  if (aside.at !== onset || !asItWas) return aside.at <= onset;
  return (order.get(aside) ?? 0) < (order.get(asItWas) ?? 0);
}

/** Elements that may say that they stand at another moment than where they come, and what follows `offset` in them (MusicXML 4.0). */
const AFTER_OFFSET: Record<string, readonly string[]> = {
  direction: ['footnote', 'level', 'voice', 'staff', 'sound', 'listening'],
  harmony: ['footnote', 'level', 'staff'],
  sound: [],
};

/** An element that comes at another place of the text than its moment, and says so. @param by in divisions, negative for before */
function moveTo(document: string, element: XmlElement, by: number, changes: Change[]): void {
  const after = AFTER_OFFSET[element.name];
  const inner = innerOf(document, element);
  if (!after || !inner) return;
  const offset = child(element, 'offset');
  const value = (numberOf(element, 'offset') ?? 0) + by;
  if (offset) {
    forget(changes, offset);
    changes.push({ from: offset.from, to: offset.to, text: `<offset>${value}</offset>` });
    return;
  }
  const at =
    element.children.find(({ name }) => after.includes(name))?.from ??
    element.children.at(-1)?.to ??
    inner.to;
  changes.push({ from: at, to: at, text: `<offset>${value}</offset>` });
}

/** Takes back what was to change within an element. */
function forget(changes: Change[], { from, to }: { from: number; to: number }): void {
  for (let at = changes.length - 1; at >= 0; at--)
    if (changes[at]!.from >= from && changes[at]!.to <= to) changes.splice(at, 1);
}

function shapeOf(document: string, { duration, value, within }: Written, scale: (span: number) => number) {
  const tuplet: { ratio?: string; brackets: string[] } = !within
    ? { brackets: [] }
    : 'name' in within
      ? { ratio: ratioOf(document, within) ?? '', brackets: bracketsOf(document, within) }
      : tupletTexts(within);
  return { duration: scale(duration), value, ...tuplet };
}

const spaceText = (duration: number, { inner, outer }: Manner): string =>
  `<forward>${inner}<duration>${duration}</duration>${inner === '' ? '' : outer}</forward>`;

/** The beams of a note that stays. */
function rebeam(
  document: string,
  note: XmlElement,
  beams: NonNullable<Written['beams']>,
  changes: Change[],
): void {
  const now = childrenOf(note, 'beam');
  if (now.length === beams.length && now.every((each, index) => each.text.trim() === beams[index])) return;
  for (const each of now) takeOut(document, each, changes);
  for (const each of beamTexts(beams)) putIn(document, note, 'beam', each, NOTE_ORDER, changes);
}

/** What goes from note to note: where its note is only moved, it goes along. */
const BETWEEN_NOTES = new Set(['slur', 'glissando', 'slide']);

/** The first note that stays of a chord says what the one before it said for all. */
function inherit(
  document: string,
  note: XmlElement,
  run: Run,
  dropped: ReadonlySet<XmlElement>,
  changes: Change[],
): void {
  const said = child(note, 'chord');
  const chord = run.pieces.filter(isCell).find(({ elements }) => elements.includes(note));
  const head = chord?.elements[0];
  if (!said || !head) return;
  takeOut(document, said, changes);
  // Who joins a chord need not say again where it stands.
  for (const name of ['voice', 'staff']) {
    const place = child(head, name);
    if (place && !child(note, name))
      putIn(document, note, name, document.slice(place.from, place.to), NOTE_ORDER, changes);
  }
  const textOfElement = ({ from, to }: XmlElement) => document.slice(from, to);
  const notations = notationsIn(head)
    .filter(({ name }) => name !== 'tied' && (dropped.has(head) || !BETWEEN_NOTES.has(name)))
    .map(textOfElement);
  if (notations.length > 0)
    putIn(document, note, 'notations', `<notations>${notations.join('')}</notations>`, NOTE_ORDER, changes);
  for (const lyric of childrenOf(head, 'lyric'))
    putIn(document, note, 'lyric', textOfElement(lyric), NOTE_ORDER, changes);
}
