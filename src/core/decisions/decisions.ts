import { isSameMeter } from '../model/clock';
import type { Brief } from './brief';
import type {
  Beats,
  ChooseGroups,
  Controllers,
  HandOver,
  Kit,
  PlainDirective,
  Programs,
  Smallest,
  Split,
  SwingChoice,
  Vary,
  Velocities,
} from './directives';

type Choice<D> = Omit<D, 'kind' | 'strand'>;

/** What a brief comes to for one strand. Absent means: not decided, so inferred or left as it is. */
export interface StrandDecisions {
  out?: boolean;
  name?: string;
  instrument?: string;
  staves?: 1 | 2;
  into?: string | null;
  /** In order; the last that covers a place decides. */
  grids?: readonly (GridChoice & Passage)[];
  lengths?: readonly ({ closing: number } & Passage)[];
  voices?: readonly ({ most: 1 | 2 } & Passage)[];
  /** Milliseconds ahead of the beat; null for what was found. */
  lead?: number | null;
  split?: Choice<Split>;
  keySwitches?: readonly number[];
  closeHanging?: boolean;
  mendStacked?: boolean;
  /** Milliseconds. */
  specksUnder?: number;
  /** In order; the last that fits an event decides. */
  controllers?: readonly Choice<Controllers>[];
  programs?: Choice<Programs>;
  velocities?: Choice<Velocities>;
  kit?: Kit['keys'];
  /** 0–15. */
  channel?: number;
  vary?: Choice<Vary>;
}

/** Ticks from and before which something holds; absent for all. */
export interface Passage {
  from?: number;
  to?: number;
}

/** Where one note is written, in quarter notes as the brief says them. */
export interface PlaceChoice {
  start?: string;
  end?: string;
  grace?: boolean;
}

export interface GridChoice {
  smallest: Smallest;
  triplets: boolean;
}

export type BeatsChoice = Choice<Beats>;

export interface ClockMend {
  what: 'tempo' | 'meter';
  tick: number;
  mend: 'to-bar' | 'drop';
}

/** What a brief comes to. */
export interface Decisions {
  /** What holds for strands that have no decision of their own. */
  all: StrandDecisions;
  strands: ReadonlyMap<string, StrandDecisions>;
  /** Undefined or null fifths: the source's key, or an estimate. */
  key?: { fifths: number; minor: boolean };
  firstBar?: number;
  upbeatQuarters?: number;
  order: readonly string[];
  title?: string;
  clockMends: readonly ClockMend[];
  /** Beats that bars and tempo follow instead of the file's. */
  beats?: BeatsChoice;
  /** One meter for the whole piece, with its upbeat in quarter notes. */
  meter?: { numerator: number; denominator: number; upbeatQuarters: number };
  trimSilence: boolean;
  /** In order; the last that covers a place decides. */
  swings: readonly Choice<SwingChoice>[];
  groups: readonly Choice<ChooseGroups>[];
  /** By note. */
  places: ReadonlyMap<string, PlaceChoice>;
  /** Ids of oddities that are meant. */
  meant: ReadonlySet<string>;
  handOver: HandOverChoice;
}

export type HandOverChoice = Omit<HandOver, 'kind'>;

export const DEFAULT_GRID: GridChoice = { smallest: '32nd', triplets: true };

export const DEFAULT_HAND_OVER: HandOverChoice = {
  form: 'plain',
  type: 1,
  programs: 'none',
  channels: 'each',
  leadInBars: 0,
  click: false,
  loopBars: 0,
};

/** The decisions about a strand: its own first, then those for all. */
export function decidedFor(decisions: Decisions, strand: string): StrandDecisions {
  const own = decisions.strands.get(strand);
  if (!own) return decisions.all;
  const { all } = decisions;
  // What is said of passages adds up, the strand's own last.
  const both = <T>(common: readonly T[] | undefined, special: readonly T[] | undefined): readonly T[] => [
    ...(common ?? []),
    ...(special ?? []),
  ];
  const { controllers, grids, lengths, voices } = { ...all, ...own };
  return {
    ...all,
    ...own,
    ...(controllers && { controllers: both(all.controllers, own.controllers) }),
    ...(grids && { grids: both(all.grids, own.grids) }),
    ...(lengths && { lengths: both(all.lengths, own.lengths) }),
    ...(voices && { voices: both(all.voices, own.voices) }),
  };
}

/** Adds up a brief's directives in order; the last about each thing wins. */
export function decide(brief: Brief): Decisions {
  const strands = new Map<string, StrandDecisions>();
  const all: StrandDecisions = {};
  const clockMends = new Map<string, ClockMend>();
  const meant = new Set<string>();
  const places = new Map<string, PlaceChoice>();
  const decisions: Decisions = {
    all,
    strands,
    order: [],
    clockMends: [],
    trimSilence: false,
    swings: [],
    groups: [],
    places,
    meant,
    handOver: DEFAULT_HAND_OVER,
  };
  const about = (strand: string | undefined): StrandDecisions => {
    if (strand === undefined) return all;
    const found = strands.get(strand) ?? {};
    strands.set(strand, found);
    return found;
  };
  for (const directive of brief.directives) {
    switch (directive.kind) {
      case 'leave-out':
        about(directive.strand).out = directive.out;
        break;
      case 'name':
        about(directive.strand).name = directive.name;
        break;
      case 'cast':
        about(directive.strand).instrument = directive.instrument;
        break;
      case 'staves':
        about(directive.strand).staves = directive.staves;
        break;
      case 'join':
        about(directive.strand).into = directive.into;
        break;
      case 'grid':
        about(directive.strand).grids = lastOver(about(directive.strand).grids, directive);
        break;
      case 'lengths':
        about(directive.strand).lengths = lastOver(about(directive.strand).lengths, directive);
        break;
      case 'voices':
        about(directive.strand).voices = lastOver(about(directive.strand).voices, directive);
        break;
      case 'lead':
        about(directive.strand).lead = directive.milliseconds;
        break;
      case 'swing':
        decisions.swings =
          directive.use === 'found' && !isPassage(directive) ? [] : lastOver(decisions.swings, directive);
        break;
      case 'groups':
        if (isGrouping(directive))
          decisions.groups = [
            ...decisions.groups.filter((each) => isPassage(directive) || !isSameMeter(each, directive)),
            directive,
          ];
        break;
      case 'place': {
        const { start, end, grace } = { ...places.get(directive.note), ...directive };
        if (!start && !end) places.delete(directive.note);
        else
          places.set(directive.note, {
            ...(start && { start }),
            ...(end && { end }),
            ...(grace !== undefined && { grace }),
          });
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
      case 'split':
        about(directive.strand).split = directive;
        break;
      case 'key-switches':
        about(directive.strand).keySwitches = directive.keys;
        break;
      case 'hanging':
        about(directive.strand).closeHanging = directive.close;
        break;
      case 'stacked':
        about(directive.strand).mendStacked = directive.mend;
        break;
      case 'specks':
        about(directive.strand).specksUnder = directive.under;
        break;
      case 'controllers': {
        const one = about(directive.strand);
        const others = (one.controllers ?? []).filter((each) => reachOf(each) !== reachOf(directive));
        one.controllers = [...others, directive];
        break;
      }
      case 'programs':
        about(directive.strand).programs = directive;
        break;
      case 'velocities':
        about(directive.strand).velocities = directive;
        break;
      case 'kit':
        about(directive.strand).kit = directive.keys;
        break;
      case 'channel':
        about(directive.strand).channel = directive.channel - 1;
        break;
      case 'clock-event': {
        const { what, tick, mend } = directive;
        if (mend === 'keep') clockMends.delete(`${what} ${tick}`);
        else clockMends.set(`${what} ${tick}`, { what, tick, mend });
        break;
      }
      case 'beats':
        if (isAscending(directive.ticks)) decisions.beats = directive;
        else delete decisions.beats;
        break;
      case 'meter': {
        const { numerator, denominator, upbeatQuarters } = directive;
        if (numerator === null) delete decisions.meter;
        else decisions.meter = { numerator, denominator, upbeatQuarters };
        break;
      }
      case 'silence':
        decisions.trimSilence = directive.trim;
        break;
      case 'vary':
        about(directive.strand).vary = directive;
        break;
      case 'meant':
        if (directive.meant) meant.add(directive.oddity);
        else meant.delete(directive.oddity);
        break;
      case 'hand-over':
        decisions.handOver = directive;
        break;
    }
  }
  decisions.clockMends = [...clockMends.values()];
  return decisions;
}

/** Beats that can be followed: four at least, each after the one before. */
const isAscending = (ticks: readonly number[]): boolean =>
  ticks.length >= 4 && ticks.every((tick, index) => index === 0 || tick > ticks[index - 1]!);

const isPassage = ({ from, to }: Passage): boolean => from !== undefined || to !== undefined;

/** Whether groups make up their meter, or none are said. */
const isGrouping = ({ numerator, groups }: Choice<ChooseGroups>): boolean =>
  groups.length === 0 || groups.reduce((sum, units) => sum + units, 0) === numerator;

/** What was said of passages, with one thing more: what holds everywhere silences what came before it. */
const lastOver = <T extends Passage>(before: readonly T[] | undefined, added: T): readonly T[] =>
  isPassage(added) ? [...(before ?? []), added] : [added];

/** The last of these that covers a tick. */
export const lastAt = <T extends Passage>(choices: readonly T[] | undefined, tick: number): T | undefined =>
  choices?.findLast(({ from, to }) => tick >= (from ?? 0) && tick < (to ?? Number.POSITIVE_INFINITY));

/** Lanes and range of a directive about controllers. */
const reachOf = ({ lanes, from, to }: Choice<Controllers>): string => `${lanes.join()} ${from}-${to}`;

/** Kinds that may be said of several passages. */
const PASSAGES: ReadonlySet<string> = new Set(['grid', 'lengths', 'swing', 'groups', 'voices']);

/** What a directive is about: a later directive with the same subject replaces an earlier one. */
function subjectOf(directive: PlainDirective): string {
  const about = [directive.kind, ('strand' in directive && directive.strand) || ''];
  if (directive.kind === 'controllers') about.push(reachOf(directive));
  if (directive.kind === 'clock-event') about.push(directive.what, `${directive.tick}`);
  if (directive.kind === 'meant') about.push(directive.oddity);
  if (directive.kind === 'place') about.push(directive.note);
  if (directive.kind === 'groups') about.push(`${directive.numerator}/${directive.denominator}`);
  if (PASSAGES.has(directive.kind) && 'from' in directive) about.push(`${directive.from}-${directive.to}`);
  return about.join(' ');
}

const RHYTHM: ReadonlySet<string> = new Set([
  'grid',
  'lead',
  'swing',
  'groups',
  'lengths',
  'voices',
  'place',
]);

/** A brief without what it says about rhythm: what is left is what was found. */
export const withoutRhythm = (brief: Brief): Brief => ({
  ...brief,
  directives: brief.directives.filter(({ kind }) => !RHYTHM.has(kind)),
});

/** A brief with these directives added; those that they overrule are dropped. */
export function withDirectives(brief: Brief, added: readonly PlainDirective[]): Brief {
  const subjects = new Set(added.map(subjectOf));
  const kept = brief.directives.filter((directive) => !subjects.has(subjectOf(directive)));
  return { ...brief, directives: [...kept, ...added] };
}
