import type { Brief, PlainDirective, Smallest } from './brief';

/** What a brief comes to for one strand. Absent means: not decided, so inferred. */
export interface StrandDecisions {
  out?: boolean;
  name?: string;
  instrument?: string;
  staves?: 1 | 2;
  into?: string | null;
  grid?: GridChoice;
}

export interface GridChoice {
  smallest: Smallest;
  triplets: boolean;
}

/** What a brief comes to. */
export interface Decisions {
  strands: ReadonlyMap<string, StrandDecisions>;
  grid: GridChoice;
  /** Undefined or null fifths: the source's key, or an estimate. */
  key?: { fifths: number; minor: boolean };
  firstBar?: number;
  upbeatQuarters?: number;
  order: readonly string[];
  title?: string;
}

const DEFAULT_GRID: GridChoice = { smallest: '32nd', triplets: true };

/** Adds up a brief's directives in order; the last about each thing wins. */
export function decide(brief: Brief): Decisions {
  const strands = new Map<string, StrandDecisions>();
  const decisions: Decisions = { strands, grid: DEFAULT_GRID, order: [] };
  const of = (strand: string): StrandDecisions => {
    const found = strands.get(strand) ?? {};
    strands.set(strand, found);
    return found;
  };
  for (const directive of brief.directives) {
    switch (directive.kind) {
      case 'leave-out':
        of(directive.strand).out = directive.out;
        break;
      case 'name':
        of(directive.strand).name = directive.name;
        break;
      case 'cast':
        of(directive.strand).instrument = directive.instrument;
        break;
      case 'staves':
        of(directive.strand).staves = directive.staves;
        break;
      case 'join':
        of(directive.strand).into = directive.into;
        break;
      case 'grid': {
        const grid = { smallest: directive.smallest, triplets: directive.triplets };
        if (directive.strand) of(directive.strand).grid = grid;
        else decisions.grid = grid;
        break;
      }
      case 'key':
        if (directive.fifths === null) delete decisions.key;
        else decisions.key = { fifths: directive.fifths, minor: directive.minor };
        break;
      case 'clock':
        if (directive.firstBar !== undefined) decisions.firstBar = directive.firstBar;
        if (directive.upbeatQuarters !== undefined) decisions.upbeatQuarters = directive.upbeatQuarters;
        break;
      case 'order':
        decisions.order = directive.strands;
        break;
      case 'title':
        decisions.title = directive.title;
        break;
    }
  }
  return decisions;
}

/** What a directive is about: a later directive with the same subject replaces an earlier one. */
function subjectOf(directive: PlainDirective): string {
  return 'strand' in directive && directive.strand ? `${directive.kind} ${directive.strand}` : directive.kind;
}

/** A brief with these directives added; those that they overrule are dropped. */
export function withDirectives(brief: Brief, added: readonly PlainDirective[]): Brief {
  const subjects = new Set(added.map(subjectOf));
  const kept = brief.directives.filter((directive) => !subjects.has(subjectOf(directive)));
  return { ...brief, directives: [...kept, ...added] };
}
