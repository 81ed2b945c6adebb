import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { eachInSteps, finished, type Steps } from '../basics/steps';
import type { Desk } from '../clean/desk';
import type { PlainDirective } from '../decisions/kinds';
import { beatWords } from '../model/beat-words';
import type { EventId } from '../model/ids';
import { type Bar, barIndexOf, type Part } from '../model/score';
import type { Moment } from '../model/time';
import type { Transcription } from '../transcribe';
import { type Sounded, soundedOf } from './sounded';

/** The checks, in the order in which they are told, and what each looks for. */
export const CHECKS = {
  source: 'Odd in the source',
  heard: 'Doubtful in the recording',
  agreement: 'Source and score',
  bars: 'Bars that add up',
  ranges: 'Ranges',
  hands: 'Chords for a hand',
  crossings: 'String crossings',
  single: 'One note at a time',
  struck: 'Struck while held',
  breath: 'Breath',
  changes: 'Time to change',
  techniques: 'Techniques without return',
  together: 'Attacks together',
  narrow: 'Rhythms settled narrowly',
  specks: 'Very short notes and rests',
  spelling: 'Accidentals',
  ends: 'Ties and lines without end',
  crossing: 'Voices crossing',
  lone: 'Second voices',
  needless: 'Needless ties and rests',
  clefs: 'Clefs',
  names: 'Names and transpositions',
  silence: 'Silent parts',
  markers: 'Markers',
  others: 'Other sources',
  lyrics: 'Lyrics',
  leftout: 'Left out of the hand-over',
} as const;
export type CheckId = keyof typeof CHECKS;

/** How much it matters: what cannot stay, what wants a look, what is good to know. */
export const WEIGHTS = ['wrong', 'doubtful', 'remark'] as const;
export type Weight = (typeof WEIGHTS)[number];

/** What puts it right. */
export interface Mend {
  label: string;
  directives: PlainDirective[];
}

/** One thing to look at before hand-over. */
export interface Finding {
  /** Stable as long as the notes are: its check, its part and what it is about. */
  id: string;
  check: CheckId;
  weight: Weight;
  /** Index of the part, and of the bar; null where it is about all. */
  part: number | null;
  bar: number | null;
  /** Of the piece, and as people say it. */
  at: Moment | null;
  place: string;
  notes: EventId[];
  what: string;
  /** The first is the usual one. */
  mends: Mend[];
}

/** What a check says; its id and place are made of it. */
export interface Found {
  weight: Weight;
  part?: number;
  at?: Moment;
  notes?: EventId[];
  what: string;
  mends?: Mend[];
  /** What tells it from others of its check, where its place and notes do not. */
  about?: string;
}

/** What there is to check. */
export interface Subject {
  desk: Desk;
  result: Transcription;
  /** For each part all that sounds in it, in order. */
  sounded: readonly (readonly Sounded[])[];
}

/** One check over a whole job. */
export type Check = (subject: Subject) => Found[];

const SOUNDED = node('sounded', ({ part, bars }: { part: Part; bars: readonly Bar[] }) =>
  soundedOf(part, bars),
);

/** What there is to check, part by part. */
export function* subjectInSteps(desk: Desk, result: Transcription): Steps<Subject> {
  const sounded = yield* eachInSteps(result.score.parts, (part) =>
    remembered(part, SOUNDED, { part, bars: result.frame.bars }),
  );
  return { desk, result, sounded };
}

/** The same without a pause. */
export const subjectOf = (desk: Desk, result: Transcription): Subject =>
  finished(subjectInSteps(desk, result));

/** A check's words as a finding with its place. */
export function findingOf(check: CheckId, found: Found, { result }: Subject): Finding {
  const { frame, plans } = result;
  const { weight, part, at, notes = [], what, mends = [], about } = found;
  const bar = at === undefined ? null : barIndexOf(frame.bars, at);
  const own = bar === null ? undefined : frame.bars[bar];
  const leader = part === undefined ? '' : (plans[part]?.leader ?? '');
  return {
    id: `${check} ${leader} ${about ?? notes[0] ?? (at === undefined ? '' : String(at))}`.slice(0, 150),
    check,
    weight,
    part: part ?? null,
    bar,
    at: at ?? null,
    place: own && at !== undefined ? beatWords(own, at - own.start) : '',
    notes,
    what,
    mends,
  };
}
