import type { SketchNote } from '../../model/sketch';
import type { Moment } from '../../model/time';

/** A text over the staff from a moment of the piece on. */
export interface TechniqueText {
  at: Moment;
  text: string;
}

/** How a technique is asked for and taken back (common practice of scores). */
interface Manner {
  kind: 'bow' | 'mute' | 'tongue';
  on: string;
  off: string;
}

const MANNERS: Readonly<Record<string, Manner>> = {
  pizzicato: { kind: 'bow', on: 'pizz.', off: 'arco' },
  'snap pizzicato': { kind: 'bow', on: 'pizz.', off: 'arco' },
  'col legno': { kind: 'bow', on: 'col legno', off: 'arco' },
  'sul ponticello': { kind: 'bow', on: 'sul pont.', off: 'ord.' },
  'sul tasto': { kind: 'bow', on: 'sul tasto', off: 'ord.' },
  muted: { kind: 'mute', on: 'con sord.', off: 'senza sord.' },
  'harmon mute': { kind: 'mute', on: 'harmon mute', off: 'open' },
  'cup mute': { kind: 'mute', on: 'cup mute', off: 'open' },
  'bucket mute': { kind: 'mute', on: 'bucket mute', off: 'open' },
  'straight mute': { kind: 'mute', on: 'straight mute', off: 'open' },
  plunger: { kind: 'mute', on: 'plunger', off: 'open' },
  stopped: { kind: 'mute', on: 'stopped', off: 'open' },
  'flutter-tonguing': { kind: 'tongue', on: 'flz.', off: 'ord.' },
};

/** Guitarists mute with the hand that strikes (common practice). */
const ON_FRETS: Readonly<Record<string, Manner>> = {
  ...MANNERS,
  muted: { kind: 'mute', on: 'palm mute', off: 'ord.' },
};

/** Whether a technique is asked for by a text; lengths, bowings of the moment and tremolo have signs of their own. */
export const hasText = (technique: string | null | undefined): boolean =>
  technique !== null && technique !== undefined && technique in MANNERS;

/**
 * The texts that a part made of several strands needs where it goes from one
 * technique to another, and only there: a strand whose notes sound into those
 * of another is played along with it, and changes nothing.
 *
 * @param techniques of the strands, by their places in the part
 * @param plucked a guitar and the like
 */
export function techniqueTexts(
  notes: readonly SketchNote[],
  techniques: readonly (string | null)[],
  plucked = false,
): TechniqueText[] {
  if (!techniques.some(hasText)) return [];
  const mannerOf = ({ strike }: SketchNote): string => {
    const technique = techniques[strike.strand] ?? null;
    return technique !== null && hasText(technique) ? technique : '';
  };
  const inOrder = notes.filter(({ grace }) => !grace).sort((a, b) => a.start - b.start);
  const texts: TechniqueText[] = [];
  let holding = '';
  /** Until when notes of each manner sound. */
  const sounding = new Map<string, Moment>();
  for (let index = 0; index < inOrder.length; ) {
    const { start } = inOrder[index]!;
    const manners = new Set<string>();
    let next = index;
    for (; next < inOrder.length && inOrder[next]!.start === start; next++) {
      const note = inOrder[next]!;
      const manner = mannerOf(note);
      manners.add(manner);
      sounding.set(manner, Math.max(sounding.get(manner) ?? 0, note.end));
    }
    index = next;
    const [only] = manners;
    const goesOn = manners.has(holding) || (sounding.get(holding) ?? 0) > start;
    if (manners.size > 1 || only === undefined || goesOn) continue;
    texts.push({ at: start, text: changeText(holding, only, plucked ? ON_FRETS : MANNERS) });
    holding = only;
  }
  return texts;
}

/** What takes one technique back and asks for the next. */
function changeText(before: string, after: string, manners: typeof MANNERS): string {
  const [old, next] = [manners[before], manners[after]];
  // What is of one kind ends by the next.
  const off = old && old.kind !== next?.kind ? [old.off] : [];
  return [...off, ...(next ? [next.on] : [])].join(', ');
}
