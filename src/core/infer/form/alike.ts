import { node } from '../../basics/graph';
import { remembered } from '../../basics/remember';
import { keyInBar, type Note, type Part, type PartBar, type Score } from '../../model/score';

/** What of a note is read and heard; marks, beams and where it came from apart. */
function noteText({ key, pitch, tieStart, tieStop, head, staff, string, fret }: Note): string {
  const plain = `${key}${pitch.step}${pitch.alter}${pitch.octave}`;
  const ties = `${tieStop ? '<' : ''}${tieStart ? '>' : ''}`;
  const more = head || staff || string ? `(${head} ${staff} ${string} ${fret})` : '';
  return plain + ties + more;
}

const notesText = (notes: readonly Note[] | undefined): string =>
  !notes ? '' : notes.length === 1 ? noteText(notes[0]!) : notes.map(noteText).join('+');

// Texts are put together one after the other: joining lists of them is far slower.
function barText({ voices }: PartBar): string {
  let text = '';
  for (const { voice, staff, items } of voices) {
    text += `|${staff}.${voice}:`;
    for (const item of items)
      if (item.kind === 'rest') text += `r${item.onset},${item.duration} `;
      else {
        const { onset, duration, value, tuplet, graces, notes, gracesAfter } = item;
        text += `${onset},${duration},${value.type}${value.dots} `;
        if (tuplet) text += `${tuplet.actual}:${tuplet.normal}`;
        text += ` ${notesText(graces)} ${notesText(notes)} ${notesText(gracesAfter)} `;
      }
  }
  return text;
}

/** What of a part its bars are read with. */
export type TextPart = Pick<Part, 'bars' | 'clefs' | 'changes'>;

/**
 * The bars of a part as texts that are equal where the same notes are read in
 * the same values, under the same clefs; marks and lyrics may differ.
 */
export function barTexts(part: TextPart): string[] {
  const state = new Map<string, string>();
  part.clefs.forEach((clef, staff) => {
    state.set(`clef ${staff + 1}`, clef);
  });
  const changes = [...(part.changes ?? [])].sort((a, b) => a.bar - b.bar || a.at - b.at);
  let next = 0;
  const take = (bar: number, early: boolean): string => {
    const inside: string[] = [];
    for (; changes[next] && changes[next]!.bar === bar && (!early || changes[next]!.at === 0); next++) {
      const { bar: _, at, ...change } = changes[next]!;
      const what = change.kind === 'clef' ? `clef ${change.staff}` : change.kind;
      const text = change.kind === 'clef' ? change.clef : JSON.stringify(change);
      state.set(what, text);
      if (!early) inside.push(`${at} ${what} ${text}`);
    }
    return inside.join();
  };
  return part.bars.map((bar, index) => {
    take(index, true);
    const before = [...state].join(';');
    return `${before} ${take(index, false)} ${barText(bar)}`;
  });
}

/** How bars themselves are read: meter, length, key, and whether they are swung. */
export const frameTexts = ({ bars, keys, swings = [] }: Pick<Score, 'bars' | 'keys' | 'swings'>): string[] =>
  bars.map(({ meter, length, groups, missing }, index) => {
    const { fifths, minor } = keyInBar({ keys }, index);
    const swing = swings.find(({ from, to }) => from <= index && index < to);
    return [
      meter.numerator,
      meter.denominator,
      length,
      groups.join('+'),
      missing,
      fifths,
      minor,
      swing && `${swing.value} ${swing.ratio}`,
    ].join();
  });

/** Numbers bars by what stands in them: the same number for the same texts in all lists. */
export function barKinds(lists: readonly (readonly string[])[]): number[] {
  const known = new Map<string, number>();
  // Of each list numbers first: texts of many parts together would be long.
  const numbered = lists.map((list) => {
    const own = new Map<string, number>();
    return list.map((text) => {
      const number = own.get(text) ?? own.size;
      own.set(text, number);
      return number;
    });
  });
  return (numbered[0] ?? []).map((_, bar) => {
    const text = numbered.map((list) => list[bar]).join();
    const number = known.get(text) ?? known.size;
    known.set(text, number);
    return number;
  });
}

/** Whether anything sounds in each bar. */
export const soundingBars = (parts: readonly Pick<Part, 'bars'>[], count: number): boolean[] =>
  Array.from({ length: count }, (_, bar) =>
    parts.some(({ bars }) =>
      bars[bar]?.voices.some(({ items }) => items.some(({ kind }) => kind === 'chord')),
    ),
  );

const TIED = node('tied bars', ({ bars }: { bars: readonly PartBar[] }) =>
  bars.map(({ voices }) =>
    voices.some(
      ({ items: [first] }) => first?.kind === 'chord' && first.notes.some(({ tieStop }) => tieStop),
    ),
  ),
);

/** Whether any note is tied into each bar. */
export const tiedBars = (parts: readonly Pick<Part, 'bars'>[], count: number): boolean[] => {
  const tied = parts.map(({ bars }) => remembered(bars, TIED, { bars }));
  return Array.from({ length: count }, (_, bar) => tied.some((own) => own[bar]));
};
