import 'reflect-metadata';
import { IsInt, Matches, Min, ValidateIf } from 'class-validator';
import { STRAND_ID, type StrandId } from '../model/ids';

/** No file has ticks beyond this: four bytes for a time (SMF 1.0), some thousand times over. */
export const LAST_TICK = 2 ** 40;

/** One decision. Later directives win over earlier ones about the same thing. */
export abstract class Directive {
  abstract readonly kind: string;
}

/** May be left out; null is no way of saying so. */
export const MayBeAbsent = () => ValidateIf((_, value) => value !== undefined);

/** May be null, which takes the decision back; leaving it out says nothing. */
export const OrNull = () => ValidateIf((_, value) => value !== null);

/** May be absent or null. */
export const MayBeAbsentOrNull = () => ValidateIf((_, value) => value !== undefined && value !== null);

/** A decision about one strand. */
export abstract class OfStrand extends Directive {
  @Matches(STRAND_ID) strand!: StrandId;
}

/** A decision about one strand, or without `strand` about all that have none of their own. */
export abstract class OfStrandOrAll extends Directive {
  @MayBeAbsent() @Matches(STRAND_ID) strand?: StrandId;
}

/** Ticks from and before which something holds; absent for all. */
export interface Passage {
  from?: number;
  to?: number;
}

/** A decision about the whole piece or a passage. */
export abstract class OverPassage extends Directive implements Passage {
  /** Only from this tick, and before that one. */
  @MayBeAbsent() @IsInt() @Min(0) from?: number;
  @MayBeAbsent() @IsInt() @Min(0) to?: number;
}

/** A decision about a passage of one strand or of all. */
export abstract class OfStrandOverPassage extends OverPassage {
  @MayBeAbsent() @Matches(STRAND_ID) strand?: StrandId;
}

/** The steps that decisions are read by; what a step reads is what it is made of. */
export type Reader =
  | 'source'
  | 'clock'
  | 'clean'
  | 'cast'
  | 'rhythm'
  | 'score'
  | 'vary'
  | 'hand-over'
  | 'stock';

/**
 * One kind of decision: its form, what it is about, how it adds up, who reads
 * it, and its words. `V` is what decisions of the kind come to for a strand,
 * or for the job.
 */
export interface Kind<D extends Directive, F extends string, S extends 'job' | 'strand', V> {
  type: new () => D;
  /** The name under which steps find what was decided. */
  field: F;
  /** About the job as a whole, or about a strand or all strands. */
  scope: S;
  readBy: readonly Reader[];
  /** What holds as long as nothing is decided, made anew for each adding-up. */
  initial(): V;
  /** What holds with one more directive; may change what `initial` made. No two directives have one subject. */
  add(before: V, directive: NoInfer<D>): V;
  /** How what holds for all and a strand's own go together; where absent, its own replaces it. */
  join?(all: V, own: V): V;
  /** What a directive is about beyond its kind and strand: a later one with the same subject replaces it. */
  subject?(directive: NoInfer<D>): string;
  /** What makes a well-formed directive impossible all the same, as the end of a sentence; null for nothing. */
  check?(directive: NoInfer<D>): string | null;
  /** What it does, for the history: "lead 80 ms". */
  words(directive: NoInfer<D>): string;
  doc: { fields: string; meaning: string };
}

/** Declares a kind of decision about single strands or all. */
export const strandKind = <D extends Directive, const F extends string, V>(
  kind: Omit<Kind<D, F, 'strand', V | undefined>, 'scope' | 'initial'>,
): Kind<D, F, 'strand', V | undefined> => ({
  ...kind,
  scope: 'strand',
  initial: () => undefined,
});

/** Declares a kind of decision about the job. */
export const jobKind = <D extends Directive, const F extends string, V>(
  kind: Omit<Kind<D, F, 'job', V>, 'scope'>,
): Kind<D, F, 'job', V> => ({ ...kind, scope: 'job' });

const isPassage = ({ from, to }: Passage): boolean => from !== undefined || to !== undefined;

/** What was said of passages, with one thing more: what holds everywhere silences what came before it. */
export function lastOver<T extends Passage>(before: T[] | undefined, added: T): T[] {
  if (!before || !isPassage(added)) return [added];
  before.push(added);
  return before;
}

/** The last of these that covers a tick. */
export const lastAt = <T extends Passage>(choices: readonly T[] | undefined, tick: number): T | undefined =>
  choices?.findLast(({ from, to }) => tick >= (from ?? 0) && tick < (to ?? Number.POSITIVE_INFINITY));

/** What is said of all strands comes before what is said of one. */
export const inTurn = <T>(all: T[] | undefined, own: T[] | undefined): T[] | undefined =>
  all && own ? [...all, ...own] : (own ?? all);

/** The subject of a decision about a passage. */
export const passageSubject = ({ from, to }: Passage): string =>
  from === undefined && to === undefined ? '' : `${from}-${to}`;

/** Declares a kind of decision about a strand or all, everywhere or in a passage; what was said last of a tick holds. */
export const strandPassageKind = <D extends OfStrandOverPassage, const F extends string>(
  kind: Omit<Kind<D, F, 'strand', D[] | undefined>, 'scope' | 'initial' | 'add' | 'join' | 'subject'>,
): Kind<D, F, 'strand', D[] | undefined> =>
  strandKind<D, F, D[]>({
    ...kind,
    add: (before, directive) => lastOver(before, directive),
    join: inTurn,
    subject: passageSubject,
  });

/** "in a passage", where one is meant. */
export const inPassage = (passage: Passage): string => (isPassage(passage) ? ' in a passage' : '');

export const isWhole = (passage: Passage): boolean => !isPassage(passage);
