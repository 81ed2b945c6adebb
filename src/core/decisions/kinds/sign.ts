import {
  Equals,
  IsBoolean,
  IsIn,
  IsInt,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
} from 'class-validator';
import { EVENT_ID, type EventId } from '../../model/ids';
import { DYNAMIC_SIGNS, isSpanning, isWorded, SIGNS, type Sign, signName } from '../../model/signs';
import { Directive, jobKind, MayBeAbsent, OrNull } from '../kind';

/** Verses that stand under one staff at most. */
export const MOST_VERSES = 9;

/** Puts a sign at one note of the score, or takes one off that stands there. */
export class PutSign extends Directive {
  @Equals('sign') kind = 'sign' as const;
  /** Where it stands, or begins. */
  @Matches(EVENT_ID) note!: EventId;
  @IsIn(SIGNS) sign!: Sign;
  /** Whether it stands there; null for whatever was found. */
  @OrNull() @IsBoolean() put!: boolean | null;
  /** Where a slur, a hairpin or a glissando ends. */
  @MayBeAbsent() @Matches(EVENT_ID) until?: EventId;
  /** The dynamic, text or syllable; a syllable as `readSyllable` takes it. */
  @MayBeAbsent() @IsString() @MinLength(1) @MaxLength(200) text?: string;
  /** The verse of a syllable, from 1; the first where absent. */
  @MayBeAbsent() @IsInt() @Min(1) @Max(MOST_VERSES) verse?: number;
}

export type SignChoice = Pick<PutSign, 'sign' | 'until' | 'text' | 'verse'> & { put: boolean };
/** What was decided about the signs of notes, by note, in the order in which it was. */
export type Signs = ReadonlyMap<EventId, readonly SignChoice[]>;

const isDynamic = (text: string): boolean => (DYNAMIC_SIGNS as readonly string[]).includes(text);

const wordsFor = ({ sign, put, text }: PutSign): string => {
  const name = isWorded(sign) && put && text ? `${signName(sign)} “${text}”` : signName(sign);
  if (sign === 'beam' && put !== null) return put ? 'A beam joined' : 'A beam broken';
  if (sign === 'accidental' && put !== null) return put ? 'An accidental shown' : 'An accidental hidden';
  if (put === null) return `A note’s ${signName(sign)} as found`;
  return put ? `A note with ${name}` : `A note without ${signName(sign)}`;
};

export const sign = jobKind({
  type: PutSign,
  field: 'signs',
  readBy: ['source', 'score'],
  initial: (): Signs => new Map(),
  add: (before: Signs, { note, sign: name, put, until, text, verse }: PutSign): Signs => {
    const next = new Map(before);
    const own = (next.get(note) ?? []).filter(
      (each) => each.sign !== name || (each.verse ?? 1) !== (verse ?? 1),
    );
    if (put !== null)
      own.push({ sign: name, put, ...(until && { until }), ...(text && { text }), ...(verse && { verse }) });
    if (own.length > 0) next.set(note, own);
    else next.delete(note);
    return next;
  },
  subject: ({ note, sign: name, verse = 1 }) =>
    verse === 1 ? `${note} ${name}` : `${note} ${name} ${verse}`,
  check: ({ sign: name, put, until, text, verse }) => {
    if (verse !== undefined && name !== 'lyric') return 'verse is for syllables alone';
    if (put !== true) return null;
    if (isSpanning(name) && !until) return `until must name the note where the ${signName(name)} ends`;
    if (isWorded(name) && !text) return `text must be there for a ${signName(name)}`;
    if (name === 'dynamic' && !isDynamic(text ?? ''))
      return `text must be one of ${DYNAMIC_SIGNS.join(', ')}`;
    return null;
  },
  words: wordsFor,
  doc: {
    fields:
      '`note`, `sign` (an articulation, ornament or technique in MusicXML’s words, `fermata`, `breath`, `caesura`, `arpeggio`, `dynamic`, `words`, `lyric`, `slur`, `crescendo`, `diminuendo`, `glissando`, `slide`, `accidental`, `beam`, `ring`, `ghost`), `put`: true, false or null; `until` (a note) for what goes from note to note; `text` for what is said in words (of a syllable: `-` where its word goes on, `_` at its end where it is held, `~` between two on one note); `verse` of a syllable, from 1',
    meaning:
      'puts a sign at one note of the score, or takes off one that stands there; null takes the decision back',
  },
});
