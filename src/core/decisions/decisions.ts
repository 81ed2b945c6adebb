import type { StrandId, TrackId } from '../model/ids';
import { type Brief, EMPTY_BRIEF } from './brief';
import { type Directive, type Kind, OverPassage, type Passage, type Reader } from './kind';
import { KINDS, type KindName, type Kinds, type PlainDirective } from './kinds';

type OfScope<S extends 'job' | 'strand'> = {
  [K in KindName]: Kinds[K]['scope'] extends S ? K : never;
}[KindName];
type ValueOf<K extends KindName> = ReturnType<Kinds[K]['initial'] | Kinds[K]['add']>;

/** What a brief comes to for one strand. Absent means: not decided, so inferred or left as it is. */
export type StrandDecisions = { readonly [K in OfScope<'strand'> as Kinds[K]['field']]?: ValueOf<K> };

/** What a brief comes to: a field for each kind about the job, and the decisions about strands. */
export type Decisions = { readonly [K in OfScope<'job'> as Kinds[K]['field']]: ValueOf<K> } & {
  /** What holds for strands that have no decision of their own. */
  readonly all: StrandDecisions;
  readonly strands: ReadonlyMap<StrandId | TrackId, StrandDecisions>;
};

/** A kind as those see it who treat all alike: what the kinds say of their own types is not looked into here. */
type AnyKind = Kind<Directive & { strand?: StrandId }, string, 'job' | 'strand', unknown>;

const kindOf = (directive: PlainDirective): AnyKind => KINDS[directive.kind] as unknown as AnyKind;
const ALL_KINDS = Object.values(KINDS) as unknown as readonly AnyKind[];

/** What a directive is about: a later directive with the same subject replaces an earlier one. */
function subjectOf(directive: PlainDirective): string {
  const strand = 'strand' in directive ? directive.strand : undefined;
  return `${directive.kind} ${strand ?? ''} ${kindOf(directive).subject?.(directive) ?? ''}`;
}

/** The directives that hold: of several about one thing only the last. */
function lastOfEach(directives: readonly PlainDirective[]): PlainDirective[] {
  const seen = new Set<string>();
  const kept: PlainDirective[] = [];
  for (let index = directives.length - 1; index >= 0; index--) {
    const subject = subjectOf(directives[index]!);
    if (seen.has(subject)) continue;
    seen.add(subject);
    kept.push(directives[index]!);
  }
  return kept.reverse();
}

/** Adds up a brief's directives in order; the last about each thing wins. */
export function decide(brief: Brief): Decisions {
  const all: Record<string, unknown> = {};
  const strands = new Map<StrandId, Record<string, unknown>>();
  const job: Record<string, unknown> = { all, strands };
  for (const kind of ALL_KINDS) if (kind.scope === 'job') job[kind.field] = kind.initial();
  for (const directive of lastOfEach(brief.directives)) {
    const kind = kindOf(directive);
    // What cannot be obeyed decides nothing, wherever the brief came from.
    if (kind.check?.(directive)) continue;
    const strand = 'strand' in directive ? directive.strand : undefined;
    let sum = job;
    if (kind.scope === 'strand') {
      sum = strand === undefined ? all : (strands.get(strand) ?? {});
      if (strand !== undefined) strands.set(strand, sum);
    }
    sum[kind.field] = kind.add(sum[kind.field], directive);
  }
  return job as unknown as Decisions;
}

const NOTHING: Decisions = decide(EMPTY_BRIEF);

/** The decisions about a strand: its own first, then those for all. */
export function decidedFor(decisions: Decisions, strand: StrandId | TrackId): StrandDecisions {
  const own = decisions.strands.get(strand);
  if (!own) return decisions.all;
  const sum: Record<string, unknown> = { ...decisions.all, ...own };
  for (const { field, join } of JOINING)
    if (sum[field] !== undefined)
      sum[field] = join?.(decisions.all[field as keyof StrandDecisions], own[field as keyof StrandDecisions]);
  return sum;
}

const JOINING = ALL_KINDS.filter((kind) => kind.join);

/** The decisions about a strand that one step reads, and no others. */
export function strandOnly(decided: StrandDecisions, reader: Reader): StrandDecisions {
  const own = fieldsOf(reader, 'strand').flatMap((field) => {
    const value = decided[field as keyof StrandDecisions];
    return value === undefined ? [] : [[field, value] as const];
  });
  return Object.fromEntries(own);
}

/** The decisions about the job that one step reads; of all else that nothing was decided. */
export function jobOnly(decisions: Decisions, reader: Reader): Decisions {
  const own = fieldsOf(reader, 'job').map((field) => [field, decisions[field as keyof Decisions]]);
  return { ...NOTHING, ...Object.fromEntries(own) };
}

const fieldsOf = (reader: Reader, scope: 'job' | 'strand'): string[] =>
  ALL_KINDS.filter((kind) => kind.scope === scope && kind.readBy.includes(reader)).map(({ field }) => field);

/** A brief without what one step reads: what is left is what that step finds by itself. */
export const withoutReadBy = (brief: Brief, reader: Reader): Brief => ({
  ...brief,
  directives: brief.directives.filter((directive) => !isReadBy(directive, reader)),
});

/** Whether a decision is about a passage, in ticks of the time as it is laid out; also where it is about the whole. */
export const isOverPassage = (directive: PlainDirective): directive is PlainDirective & Passage =>
  directive.kind === 'split' || kindOf(directive).type.prototype instanceof OverPassage;

/** Whether a decision says when: about a passage, a place of a note, or points of a curve. */
export const saysWhen = (directive: PlainDirective): boolean =>
  (directive.kind === 'place' && Boolean(directive.start ?? directive.end)) ||
  directive.kind === 'add' ||
  directive.kind === 'write' ||
  directive.kind === 'bar-sign' ||
  (directive.kind === 'played' && typeof (directive.on ?? directive.off) === 'number') ||
  (directive.kind === 'curve' && directive.points.length > 0) ||
  (isOverPassage(directive) && (directive.from !== undefined || directive.to !== undefined));

/** Whether a decision may lay time out anew. */
export const isAboutTime = (directive: PlainDirective): boolean =>
  isReadBy(directive, 'clock') || directive.kind === 'clock-from';

/** Steps about the page; what is read anew of a source is another performance anyway. */
const OF_PAGE: ReadonlySet<Reader> = new Set<Reader>(['rhythm', 'score', 'source']);

/** A brief without what is about the page alone: what sounds and what the sources hold does not depend on it. */
export const beyondPage = (brief: Brief): Brief => ({
  ...brief,
  directives: brief.directives.filter((directive) =>
    kindOf(directive).readBy.some((reader) => !OF_PAGE.has(reader)),
  ),
});

const isReadBy = (directive: PlainDirective, reader: Reader): boolean =>
  kindOf(directive).readBy.includes(reader);

/** A brief with these directives added; those that they overrule are dropped. */
export function withDirectives(brief: Brief, added: readonly PlainDirective[]): Brief {
  const subjects = new Set(added.map(subjectOf));
  const kept = brief.directives.filter((directive) => !subjects.has(subjectOf(directive)));
  return { ...brief, directives: [...kept, ...lastOfEach(added)] };
}

/** What a directive does, in words, without the strand that it is about. */
export const wordsOf = (directive: PlainDirective): string => kindOf(directive).words(directive);
