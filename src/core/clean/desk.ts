import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { counted } from '../basics/words';
import type { Brief } from '../decisions/brief';
import { type Decisions, decide, saysWhen } from '../decisions/decisions';
import type { HeardBeats } from '../decisions/kinds/beats';
import { takenName, takenOf } from '../decisions/kinds/take';
import { heardBeats, recordedBeats } from '../infer/beats/heard';
import { commonOffset } from '../infer/lead/offset';
import {
  type EventId,
  isAdded,
  noteIdOf,
  partId,
  type SourceId,
  type StrandId,
  sourceOf,
  spelledStrand,
  strandOf,
  type TrackId,
  trackId,
  wholeStrand,
} from '../model/ids';
import type { Performance } from '../model/performance';
import type { Score } from '../model/score';
import { momentOfText } from '../model/time';
import { withNeededAccidentals, withPitches } from '../notate/edit-notes';
import { withSigns } from '../notate/signs';
import { type Carried, carriedByName, carryOver } from '../reconcile/carry';
import { namesKept } from '../reconcile/carry-names';
import { type Played, samePlayed } from '../reconcile/page-bars';
import { type RewrittenScore, rewrittenScore } from '../rewrite';
import { type BarsSigned, withBarSigns } from '../rewrite/bar-signs';
import {
  type Abilities,
  heardBy,
  type PitchEdits,
  performanceOf,
  playedBy,
  type Reading,
  type SourceKind,
  withScore,
} from '../sources';
import type { HeardReading } from '../sources/audio/source';
import { calledAs, type ScoreReading } from '../sources/musicxml/source';
import type { Smf } from '../sources/smf/events';
import { type Change, clean, type Refusal } from '.';
import { takeVersion } from './take-version';

/** The sources of a job laid out for work under a brief. */
export interface Desk {
  /** The source that leads as a file of events; null for what never was one. */
  file: Smf | null;
  name: string;
  /** Which version of it counts. */
  version: number;
  /** What the leading source is, and what can be done with it. */
  kind: SourceKind;
  can: Abilities;
  /** Where it is a score: what is read. */
  written: ScoreReading | null;
  /** Where it is a recording: what may have been heard, and what is taken. */
  heard: HeardReading | null;
  brief: Brief;
  /** What was decided; with the beats that are heard where they are followed. */
  decisions: Decisions;
  /** As read, in the version that counts. */
  source: Performance;
  /** What the other sources of the job play, but for one that gives the clock. */
  others: readonly { name: string; performance: Performance }[];
  /** The source that the piece is played like, as it is played; null for none. */
  player: Performance | null;
  /** How that version was carried over from the one before. */
  carried: Carried | null;
  /** As cleaned; the same object where nothing was. */
  performance: Performance;
  changes: Change[];
  /** The notes that cleaning took out, by the kind of step. */
  gone: ReadonlyMap<EventId, string>;
  /** Notes that several players have, one for each player more. */
  shared: number;
  /** Notes that were added by hand. */
  added: number;
  /** What was decided and cannot be done to this source. */
  refusals: Refusal[];
}

const countNotes = ({ strands }: Performance): number =>
  strands.reduce((sum, { notes }) => sum + notes.length, 0);

/** Notes of the source of which cleaning does not say what became of them: any but 0 is a fault of this program. */
export const lostInCleaning = ({ source, performance, gone, shared, added }: Desk): number =>
  countNotes(source) + added + shared - gone.size - countNotes(performance);

/** Reads and cleans the leading source under a brief. What a changed brief leaves alone keeps its identity. */
export function layOut(asRead: readonly Reading[], brief: Brief): Desk {
  const decided = decide(brief);
  const readings = asRead.map((reading) => heardBy(reading, decided.hearing));
  const chosen = (id: SourceId | null): Reading | undefined => {
    const versions = readings.filter((reading) => reading.id === id);
    const wanted = id === null ? undefined : decided.versions.get(id);
    return (
      versions.find(({ version }) => version === wanted) ??
      versions.toSorted((a, b) => b.version - a.version)[0]
    );
  };
  const named = withNames(readings, chosen(decided.leading ?? null) ?? chosen(readings[0]!.id)!);
  const leading = asDecided(named, decided);
  const rewriting = rewrittenBy(named, decided);
  const signed = signedBars(named, decided);
  const versioned = versionOf(readings, leading, decided);
  const source = versioned.performance;
  const { can } = leading;
  // What is late as a whole goes by the file's beats after all.
  const isFiled =
    can.beats === 'printed' ||
    hasClock(brief, decided) ||
    (can.beats === 'laid' && commonOffset(source) !== 0);
  const heard = isFiled ? null : beatsHeard(leading, source);
  const decisions: Decisions = heard ? { ...decided, beats: heard } : decided;
  const other = decisions.clockFrom === leading.id ? undefined : chosen(decisions.clockFrom);
  const timekeeper = other ? performanceOf(other, decisions.clock) : null;
  const cleaned = clean(source, decisions, timekeeper, can.editsNotes);
  return {
    file: leading.kind === 'performance' ? leading.file : null,
    name: leading.name,
    version: leading.version,
    kind: leading.kind,
    can,
    written: leading.kind === 'score' ? leading.written : null,
    heard: leading.kind === 'recording' ? leading.heard : null,
    brief,
    decisions,
    source,
    player: playerOf(chosen, leading, decisions),
    carried: versioned.carried,
    others: [...new Set(readings.map(({ id }) => id))].flatMap((id) => {
      const own = id === leading.id || id === other?.id ? undefined : chosen(id);
      return own ? [{ name: own.name, performance: performanceOf(own, decisions.clock) }] : [];
    }),
    ...cleaned,
    changes: [
      ...rewriting.changes.map(({ part, ...change }) => ({
        ...change,
        step: 'write',
        strand: leaderOfPart(leading, part),
      })),
      ...cleaned.changes,
    ],
    refusals: [
      ...missingSources(readings, decisions),
      ...(versioned.homeless > 0
        ? [
            {
              step: 'take',
              why: `${counted(versioned.homeless, 'note')} of the new version ${versioned.homeless === 1 ? 'stands' : 'stand'} in bars that the version before has not: they come only with all of it.`,
            },
          ]
        : []),
      ...(!can.hears && brief.directives.some(({ kind }) => kind === 'hearing')
        ? [{ step: 'hearing', why: 'Nothing is heard here: this source is no recording.' }]
        : []),
      ...(leading.kind === 'recording' && decided.hearing.read === 'mix' && leading.heard.read !== 'mix'
        ? [
            {
              step: 'hearing',
              why: 'This recording was heard before bands were: open its sound again to have it heard as one.',
            },
          ]
        : []),
      ...missingStrands(readings, leading.id, source, decisions),
      ...rewriting.refused.map((why) => ({ step: 'write', why })),
      ...(signed?.refused ?? []).map((why) => ({ step: 'bar-sign', why })),
      ...(decisions.added.size > 0 && !can.editsNotes
        ? [{ step: 'add', why: 'A note that was added as it is played has no place on the page of a score.' }]
        : []),
      ...(decisions.writtenNotes.size > 0 && can.editsNotes
        ? [{ step: 'write', why: 'Notes are written into scores only: this source is a performance.' }]
        : []),
      ...cleaned.refusals,
    ],
  };
}

/** The beats that are heard in a piece whose file does not tell them: as they were heard in a band, or in its notes. */
function beatsHeard(leading: Reading, source: Performance): HeardBeats | null {
  if (leading.kind === 'recording' && leading.heard.beats)
    return { ...leading.heard.beats, heard: 'recorded' };
  return leading.can.beats === 'none' ? recordedBeats(source) : heardBeats(source);
}

/** What the source that the piece is to be played like plays; null where that is no other one. */
function playerOf(
  chosen: (id: SourceId | null) => Reading | undefined,
  leading: Reading,
  { playLike, clock }: Decisions,
): Performance | null {
  const reading = playLike && playLike.source !== leading.id ? chosen(playLike.source) : undefined;
  return reading ? performanceOf(reading, clock) : null;
}

/** Whether something was decided that means the clock of the file, or another one. */
const hasClock = ({ directives }: Brief, { beats, offset, clockFrom, clockMends }: Decisions): boolean =>
  beats !== undefined ||
  offset !== null ||
  clockFrom !== null ||
  clockMends.length > 0 ||
  directives.some(saysWhen);

/** A source as it is read and played by what was decided; of a score the notes that were edited are in its text. */
function asDecided(reading: Reading, decided: Decisions): Reading {
  const { reading: written, touched } = rewrittenBy(reading, decided);
  const again = reading.kind === 'score' && written ? withScore(reading, written) : reading;
  return playedBy(again, decided.perform, editsOf(decided, touched));
}

/** The strand that is played of a part of a score. */
const leaderOfPart = (reading: Reading, part: number): StrandId | null =>
  reading.kind === 'score'
    ? ((reading.written.score.parts[part]?.id.slice(1) ?? null) as StrandId | null)
    : null;

type Rewriting = Omit<RewrittenScore, 'reading'> & { reading: ScoreReading | null };

/** A score with what was decided about its bars in its text; null where nothing was. */
function signedBars(reading: Reading, { barSigns }: Pick<Decisions, 'barSigns'>): BarsSigned | null {
  if (reading.kind !== 'score' || barSigns.length === 0) return null;
  return remembered(reading.written, SIGNED_BARS, { written: reading.written, barSigns });
}

const SIGNED_BARS = node(
  'signed bars',
  ({ written, barSigns }: { written: ScoreReading; barSigns: Decisions['barSigns'] }) =>
    withBarSigns(written, barSigns),
);

const AS_IT_IS: Rewriting = { reading: null, touched: new Map(), refused: [], changes: [] };

/** The text of a score with the signs and notes in it that were decided; null where none were. */
function rewrittenBy(
  reading: Reading,
  decided: Pick<Decisions, 'barSigns' | 'dropped' | 'places' | 'lines' | 'writtenNotes'>,
): Rewriting {
  if (reading.kind !== 'score') return AS_IT_IS;
  const { dropped, places, lines, writtenNotes: added } = decided;
  const signed = signedBars(reading, decided);
  if (dropped.size + places.size + lines.size + added.size === 0)
    return signed ? { ...AS_IT_IS, reading: signed.reading } : AS_IT_IS;
  const written = signed?.reading ?? reading.written;
  return remembered(written, REWRITTEN, { written, dropped, places, lines, added });
}

const REWRITTEN = node(
  'rewritten',
  (of: {
    written: ScoreReading;
    dropped: Decisions['dropped'];
    places: Decisions['places'];
    lines: Decisions['lines'];
    added: Decisions['writtenNotes'];
  }) =>
    rewrittenScore(of.written, {
      dropped: of.dropped,
      added: of.added,
      lines: of.lines,
      placed: new Map(
        [...of.places].map(([event, { start, end, grace }]) => [
          event,
          {
            ...(start !== undefined && { start: momentOfText(start) }),
            ...(end !== undefined && { end: momentOfText(end) }),
            ...(grace !== undefined && { grace }),
          },
        ]),
      ),
    }),
);

/** Notes of a score that were moved, or got signs, by the events that are played of them; and bars in which notes came or went. */
const editsOf = (
  { pitches, signs }: Decisions,
  touched: RewrittenScore['touched'],
): PitchEdits<NoteEdits> | null =>
  pitches.size + signs.size + touched.size === 0
    ? null
    : { edits: { pitches, signs, touched }, make: editedScore };

type NoteEdits = Pick<Decisions, 'pitches' | 'signs'> & Pick<RewrittenScore, 'touched'>;

/** A score with its notes edited. */
function editedScore({ asRead, score, readAs }: ScoreReading, { pitches, signs, touched }: NoteEdits): Score {
  const places = new Map(score.parts.map(({ id }, index) => [id, index]));
  const partOf = (event: EventId) => places.get(partId(strandOf(event))) ?? 0;
  const nameOf = (event: EventId) => readAs[partOf(event)]?.get(noteIdOf(event)) ?? noteIdOf(event);
  const settled = withNeededAccidentals(asRead, touched);
  const moves = new Map([...pitches].map(([event, by]) => [nameOf(event), by]));
  const moved = withPitches(settled, moves, new Set([...pitches.keys()].map(partOf)));
  const named = [...signs].map(
    ([event, choices]) =>
      [
        nameOf(event),
        choices
          // Beams of a document stay as they are.
          .filter((choice) => choice.sign !== 'beam')
          .map(({ until, ...choice }) => ({ ...choice, ...(until && { until: nameOf(until) }) })),
      ] as const,
  );
  const parts = moved.parts.map((part) => withSigns(part, named, moved.bars, ({ id }) => [id]));
  return { ...moved, parts };
}

/** Decisions about sources, or versions of them, that the job does not have. */
function missingSources(readings: readonly Reading[], decisions: Decisions): Refusal[] {
  const has = (id: SourceId, version?: number) =>
    readings.some((reading) => reading.id === id && (version ?? reading.version) === reading.version);
  const { leading, clockFrom, playLike, versions } = decisions;
  const refusals: Refusal[] = [];
  if (leading && !has(leading))
    refusals.push({
      step: 'leads',
      why: `Source ${leading} cannot lead: the job has no such source. The first one leads.`,
    });
  if (clockFrom && !has(clockFrom))
    refusals.push({
      step: 'clock-from',
      why: `Source ${clockFrom} cannot give the clock: the job has no such source.`,
    });
  if (playLike && !has(playLike.source))
    refusals.push({
      step: 'play-like',
      why: `Nothing is played like source ${playLike.source}: the job has no such source.`,
    });
  for (const name of decisions.taken.keys()) {
    const [id, version] = takenOf(name);
    if (!has(id, version))
      refusals.push({
        step: 'take',
        why: `Nothing is taken of version ${version} of source ${id}: it is not in the job.`,
      });
  }
  for (const [id, version] of versions)
    if (!has(id, version))
      refusals.push({
        step: 'version',
        why: `Version ${version} of source ${id} is not in the job. The newest one counts.`,
      });
  return refusals;
}

/** Decisions about strands that are not there, as when a new version has lost a track. */
function missingStrands(
  readings: readonly Reading[],
  leading: SourceId,
  { strands, noteFree }: Performance,
  decisions: Decisions,
): Refusal[] {
  const known = new Set<string>(strands.map(({ id }) => id));
  const tracks = new Set<string>(noteFree.map(({ track }) => trackId(leading, track)));
  const isThere = (id: StrandId | TrackId): boolean => {
    if (isAdded(id)) return true;
    const of = sourceOf(id);
    // Of the sources that do not lead nothing is heard; what was decided about them waits.
    if (of !== leading) return readings.some((reading) => reading.id === of);
    const whole = wholeStrand(id);
    // Pieces of what was made whole again are gone by decision.
    return tracks.has(id) || (known.has(whole) && (whole === id || !!decisions.strands.get(whole)?.split));
  };
  return [...decisions.strands.keys()]
    .filter((id) => !isThere(id))
    .map((id) => ({
      step: 'strand',
      why: `What was decided about ${spelledStrand(id)} waits: there is no such strand now.`,
    }));
}

/** What a source comes to where it has several versions. */
export interface Versioned {
  performance: Performance;
  /** How it was carried over from the version before; null for the first one. */
  carried: Carried | null;
  /** Notes of it that have no place among the bars of the version before, of which only some was taken. */
  homeless: number;
}

const CARRIED_BY_NAME = node(
  'carried by name',
  ({ before, own, pages: [old, now] }: { before: Performance; own: Performance; pages: [Played, Played] }) =>
    carriedByName(before, own, samePlayed(old, now)),
);
const CARRIED = node('carried', (of: { before: Performance; own: Performance; version: number }) =>
  carryOver(of.before, of.own, of.version),
);
const TAKEN = node(
  'taken',
  (of: { before: Performance; carried: Carried; taken: Parameters<typeof takeVersion>[2] }) =>
    takeVersion(of.before, of.carried, of.taken),
);

/**
 * A version of a performance, in which all that was in the versions before has the ids that it had
 * there; or the version before with what was taken of this one.
 */
export function versionOf(readings: readonly Reading[], reading: Reading, decisions: Decisions): Versioned {
  const own = performanceOf(reading, decisions.clock);
  const earlier = earlierThan(readings, reading);
  if (!earlier) return { performance: own, carried: null, homeless: 0 };
  if (reading.kind === 'score') {
    const then = asDecided(withNames(readings, earlier), decisions);
    const before = performanceOf(then, decisions.clock);
    // What was decided about notes may stand elsewhere in them by now: their pages are compared as they came.
    const pages = [then, reading].map((each) => {
      const came = readings.find(({ id, version }) => id === each.id && version === each.version);
      const score = (came?.kind === 'score' ? came : reading).written.asRead;
      return { score, order: (each.kind === 'score' ? each : reading).written.performed.order };
    }) as [Played, Played];
    const carried = remembered(own, CARRIED_BY_NAME, { before, own, pages });
    return { performance: own, carried, homeless: 0 };
  }
  const before = versionOf(readings, earlier, decisions).performance;
  const carried = remembered(own, CARRIED, { before, own, version: reading.version });
  const taken = decisions.taken.get(takenName(reading.id, reading.version));
  if (!taken || (!taken.strands && taken.fromBar === undefined && taken.toBar === undefined && !taken.adds))
    return { performance: carried.performance, carried, homeless: 0 };
  const some = remembered(own, TAKEN, { before, carried, taken });
  return { ...some, carried };
}

/** The version of the same source before one, of the same kind. */
const earlierThan = (readings: readonly Reading[], { id, version, kind }: Reading): Reading | undefined =>
  readings
    .filter((each) => each.id === id && each.version < version && each.kind === kind)
    .sort((a, b) => b.version - a.version)[0];

/** A score whose parts and notes are called as they were in the versions before it. */
function withNames(readings: readonly Reading[], reading: Reading): Reading {
  if (reading.kind !== 'score') return reading;
  const earlier = earlierThan(readings, reading);
  const named = earlier && withNames(readings, earlier);
  if (named?.kind !== 'score') return reading;
  const { written } = reading;
  const before = named.written;
  return remembered(written, RENAMED, { reading, written, before });
}

const RENAMED = node(
  'renamed',
  ({ reading, written, before }: { reading: Reading; written: ScoreReading; before: ScoreReading }) =>
    withScore(reading, calledAs(written, namesKept(before, written, reading.version))),
);
