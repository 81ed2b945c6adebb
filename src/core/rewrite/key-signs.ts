import type { BarSignChoice } from '../model/bar-signs';
import {
  mapNotes,
  type Note,
  type Part,
  type PartBar,
  type Score,
  writtenFifths,
  writtenKeys,
} from '../model/score';
import { showAccidentals } from '../notate/accidentals';
import { readsSignatures } from '../notate/transpose';
import { type Change, inManner, takeOut } from '../sources/musicxml/changes';
import { childrenOf, elementAt, type XmlElement } from '../sources/musicxml/elements';
import type { Places } from '../sources/musicxml/part-reader';
import { accidentalChanges } from '../sources/musicxml/splice-music';
import { transpositionIn } from './rewrite';
import { opening, putAttributes } from './standing';

/** A key that is to begin at a bar, or none. */
type KeyChoice = BarSignChoice & { bar: number };

/**
 * The changes in the text of a part where keys begin at bars, or begin there no more: its signatures as it reads them,
 * and the accidentals of the notes for which another signature holds. What a note has that neither asks for stays. A part
 * that is read without signatures, and one of drums, has none.
 *
 * @param places where the part stands in the text
 * @param choices in concert pitch; the last about a bar counts
 */
export function keyChanges(
  text: string,
  places: Places,
  score: Score,
  part: Part,
  choices: readonly KeyChoice[],
): Change[] {
  if (choices.length === 0 || !readsSignatures(score, part)) return [];
  const wanted = new Map(choices.map((choice) => [choice.bar, choice]));
  const changes: Change[] = [];
  for (const { bar, put, fifths = 0, minor = false } of wanted.values()) {
    const place = places.bars[bar];
    if (!place) continue;
    const written = writtenFifths(fifths, transpositionIn(part, bar));
    const key = `<key><fifths>${written}</fifths><mode>${minor ? 'minor' : 'major'}</mode></key>`;
    sign(text, elementAt(text, place), put ? key : null, changes);
  }
  const before = fifthsByBar(writtenKeys(score, part), part.bars.length);
  const after = fifthsByBar(keysAfter(score, part, wanted), part.bars.length);
  const bars = part.bars.map((bar, index) => reshown(bar, before[index]!, after[index]!));
  return [...changes, ...accidentalChanges(text, places, part, { ...part, bars })];
}

/** The written signatures of a part once some begin at other bars. */
function keysAfter(
  score: Score,
  part: Part,
  wanted: ReadonlyMap<number, KeyChoice>,
): { bar: number; fifths: number }[] {
  const kept = writtenKeys(score, part).filter(({ bar, at }) => !(at === 0 && wanted.has(bar)));
  const own = [...wanted.values()].flatMap(({ bar, put, fifths = 0 }) =>
    put ? [{ bar, fifths: writtenFifths(fifths, transpositionIn(part, bar)) }] : [],
  );
  return [...kept, ...own].sort((one, other) => one.bar - other.bar);
}

/** What holds where each bar begins. */
function fifthsByBar(keys: readonly { bar: number; fifths: number }[], bars: number): number[] {
  let at = 0;
  let fifths = 0;
  return Array.from({ length: bars }, (_, bar) => {
    while (at < keys.length && keys[at]!.bar <= bar) fifths = keys[at++]!.fifths;
    return fifths;
  });
}

/** A bar with the accidentals that another signature asks for; the same object where these are no others. */
function reshown(bar: PartBar, before: number, after: number): PartBar {
  if (before === after) return bar;
  const asked = (fifths: number): Map<string, string | undefined> => {
    const shown = new Map<string, string | undefined>();
    const [copy] = mapNotes([bar], (note: Note): Note => ({ ...note }));
    showAccidentals(copy!, fifths);
    mapNotes([copy!], (note) => {
      shown.set(note.id, note.accidental);
      return note;
    });
    return shown;
  };
  const [were, are] = [asked(before), asked(after)];
  if ([...were].every(([id, accidental]) => are.get(id) === accidental)) return bar;
  const [made] = mapNotes([bar], (note: Note): Note => {
    if (were.get(note.id) === are.get(note.id)) return note;
    const { accidental: _, ...others } = note;
    const shown = are.get(note.id);
    return shown ? { ...others, accidental: shown } : others;
  });
  return made!;
}

/** Writes the signature at the start of a bar, or takes it off. */
function sign(text: string, measure: XmlElement, key: string | null, changes: Change[]): void {
  const all = opening(measure).filter(({ name }) => name === 'attributes');
  const standing = all.flatMap((attributes) => childrenOf(attributes, 'key'));
  const [first, ...others] = standing;
  if (key !== null && first) {
    changes.push({ from: first.from, to: first.to, text: inManner(key, text, first.from) });
    for (const each of others) takeOut(text, each, changes);
    return;
  }
  if (key === null) {
    for (const attributes of all) {
      const left = attributes.children.filter(({ name }) => name !== 'key');
      if (left.length === attributes.children.length) continue;
      if (left.length === 0) takeOut(text, attributes, changes);
      else for (const each of childrenOf(attributes, 'key')) takeOut(text, each, changes);
    }
    return;
  }
  putAttributes(text, measure, [{ name: 'key', xml: key }], '', changes);
}
