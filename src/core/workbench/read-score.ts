import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { whole } from '../basics/same';
import { arrangedScore } from '../cast/arrange-score';
import { decidedGroups } from '../cast/brackets';
import type { PartPlan } from '../cast/route';
import { decidedPart, instrumentWanted, isAlike, leaderOf } from '../cast/written';
import type { Desk } from '../clean/desk';
import { type Decisions, decidedFor } from '../decisions/decisions';
import type { PlainDirective } from '../decisions/kinds';
import type { ReadClef } from '../decisions/kinds/clef';
import { type Instrument, instrumentOf } from '../instruments/catalogue';
import { isPitchedClef } from '../model/clefs';
import { creditsOf } from '../model/credits';
import type { BarPass, Frame } from '../model/frame';
import { type EventId, type PartId, strandOf } from '../model/ids';
import type { PlayedNote, Strand } from '../model/performance';
import type { Interval } from '../model/pitch';
import { type Part, regrouped, type Score } from '../model/score';
import type { Attack, SketchNote } from '../model/sketch';
import { type Moment, QUARTER } from '../model/time';
import { withDecidedClefs } from '../notate/decided-clefs';
import { type Transposing, transposeScore } from '../notate/transpose';
import { isForAll } from '../sources/musicxml/said-once';
import type { ScoreReading } from '../sources/musicxml/source';
import type { Account, PartReading, Transcription } from '../transcribe';
import { type Again, NOTHING_AGAIN, wantsAgain } from './written-again';

/** Kinds of decisions that say something about how a performance is written: a score that was read is written already. */
const OF_WRITING: ReadonlySet<PlainDirective['kind']> = new Set<PlainDirective['kind']>([
  'grid',
  'lead',
  'swing',
  'groups',
  'lengths',
  'values',
  'marks',
  'voices',
  'drum',
  'shorthand',
  'key',
  'staves',
  'played',
  'technique',
  'repeats',
  'frets',
  'string',
]);

/** What was decided and does not change a score that was read, as sentences. */
export function unheeded(desk: Desk): string[] {
  const { brief, written } = desk;
  if (!written) return [];
  const arranged = arrangedScore(written, desk.performance, desk.decisions);
  const others = [
    ...arranged.refused,
    ...arranged.score.parts.flatMap((part) => {
      const wanted = instrumentWanted(part, desk.decisions);
      return wanted && !isAlike(part, wanted)
        ? [
            `${part.name} keeps its instrument in the score: ${wanted.name} is written ${wanted.unpitched ? 'without pitches' : 'with pitches'}.`,
          ]
        : [];
    }),
    ...arranged.score.parts.flatMap((part) =>
      desk.decisions.strands.get(leaderOf(part))?.clefs && !part.clefs.some(isPitchedClef)
        ? [`${part.name} keeps its clef: its staff has no pitches.`]
        : [],
    ),
    ...transposed(desk, arranged.score).impossible.map(
      ({ name }) =>
        `${name} stays as it is written: some of its notes would leave the staff’s octaves, C0 to B9.`,
    ),
  ];
  const beams = brief.directives.filter((each) => each.kind === 'sign' && each.sign === 'beam').length;
  if (beams > 0) others.push('Beams of a score that was read stay as they are.');
  if (brief.directives.some(({ kind }) => kind === 'clock'))
    others.push(
      'Bars of a score keep the numbers that are printed; the bar table and the click count as decided.',
    );
  const idle = brief.directives
    .filter((each) => OF_WRITING.has(each.kind) && !isHeeded(each, desk.decisions))
    .map(({ kind }) => kind);
  if (idle.length === 0) return others;
  return [
    ...others,
    `${idle.length === 1 ? 'One decision' : `${idle.length} decisions`} (${[...new Set(idle)].join(', ')}) ` +
      `${idle.length === 1 ? 'does' : 'do'} not change a score that was read: it is written already.`,
  ];
}

/** Whether what says how a performance is written has parts to hold for: those that are written again. */
function isHeeded(directive: PlainDirective, decisions: Decisions): boolean {
  const strand =
    'strand' in directive && directive.strand
      ? directive.strand
      : 'note' in directive && directive.kind !== 'meant'
        ? strandOf(directive.note as EventId)
        : undefined;
  return strand === undefined ? wantsAgain(decisions) : decidedFor(decisions, strand).again === true;
}

/**
 * What a transcription would be, for a source that is a score: the score as it
 * was read, with the names, order and parts of the brief, and beside it what
 * is played of each note when the score is played for the first time through.
 */
export function readTranscription(
  desk: Desk,
  written: ScoreReading,
  again: Again = NOTHING_AGAIN,
): Transcription {
  const { decisions, performance } = desk;
  const arranged = arrangedScore(written, performance, decisions);
  const routed = new Map(arranged.plans.map((plan) => [plan.id, plan]));
  const rank = new Map(decisions.order.map((id, index) => [id, index]));
  const { score: whole } = transposed(desk, withAgain(arranged.score, again));
  const frame = firstTimeThrough(desk, written);
  const parts = whole.parts
    // Parts that never sound have no strand, and stay unless they are left out by name.
    .filter((part) => routed.has(part.id) || !decidedFor(decisions, leaderOf(part)).out)
    .map((part, index) => ({ part, index }))
    .sort(
      (a, b) =>
        (rank.get(leaderOf(a.part)) ?? rank.size) - (rank.get(leaderOf(b.part)) ?? rank.size) ||
        a.index - b.index,
    )
    .map(({ part }) => {
      const { clefs } = decidedFor(decisions, leaderOf(part));
      const own = decidedPart(part, decisions);
      return clefs ? remembered(part, CLEFFED, { part: own, clefs, frame }) : own;
    });
  inherit(whole.parts[0], parts);
  const plans = parts.map((part): PartPlan => planOf(part, routed.get(part.id)));
  const byId = new Map(performance.strands.map((strand) => [strand.id, strand.notes]));
  const groups =
    decidedGroups(
      plans.map(({ leader }) => leader),
      decisions,
    ) ??
    regrouped(
      whole.groups ?? [],
      whole.parts.map(({ id }) => id),
      parts.map(({ id }) => id),
    );
  const score: Score = {
    ...whole,
    title: decisions.title ?? written.score.title,
    ...creditsOf(decisions.credits, written.score),
    parts,
    groups,
  };
  const read = parts.map((part, index) =>
    remembered(part, READING, {
      part,
      bars: score.bars,
      // Parts that could not be joined have each their own.
      played: [...new Set([leaderOf(part), ...plans[index]!.strands])].flatMap((id) => [byId.get(id) ?? []]),
    }),
  );
  return {
    score,
    plans,
    readings: read.map(({ reading }) => reading),
    frame,
    swings: score.swings ?? [],
    foundSwings: [],
    foundGroups: score.bars.map(() => null),
    folded: [],
    told: { offers: parts.map(() => []), form: [] },
    offset: 0,
    account: accountOf(desk, plans, read),
    keyWhy: 'From the source.',
    tonality: [],
    lostLyrics: [],
    placedBeyond: 0,
    undone: again.told,
  };
}

const CLEFFED = node(
  'cleffed',
  ({ part, clefs, frame }: { part: Part; clefs: readonly ReadClef[]; frame: Frame }) =>
    withDecidedClefs(part, clefs, frame),
);

/** A score with parts of it as they were written again. */
const withAgain = (score: Score, { parts }: Again): Score =>
  parts.size === 0 ? score : { ...score, parts: score.parts.map((part) => parts.get(part.id) ?? part) };

/** What stands in the first part for all goes to the next one where it is gone. */
function inherit(leading: Part | undefined, parts: Part[]): void {
  const [heir] = parts;
  if (!leading || !heir || parts.some(({ id }) => id === leading.id)) return;
  const bars = heir.bars.map((bar, index) => {
    const said = leading.bars[index]?.marks?.filter(isForAll) ?? [];
    return said.length === 0
      ? bar
      : { ...bar, marks: [...said, ...(bar.marks ?? [])].sort((a, b) => a.at - b.at) };
  });
  parts[0] = { ...heir, bars };
}

/** The score with what was decided about transpositions, by new instruments or in sound. */
function transposed(desk: Desk, score: Score): ReturnType<typeof transposeScore> {
  const asked = score.parts.flatMap((part) => {
    const { transpose: by } = decidedFor(desk.decisions, leaderOf(part));
    const instrument = instrumentWanted(part, desk.decisions);
    const isOther = instrument && isAlike(part, instrument) && !isTransposedBy(part, instrument);
    return by || isOther ? [{ id: part.id, by, instrument: isOther ? instrument : null }] : [];
  });
  if (asked.length === 0) return { score, impossible: [] };
  return remembered(score, TRANSPOSED, { score, asked });
}

const TRANSPOSED = node(
  'transposed',
  ({
    score,
    asked,
  }: {
    score: Score;
    asked: { id: PartId; by: Interval | undefined; instrument: Instrument | null }[];
  }) =>
    transposeScore(
      score,
      new Map(
        asked.map(({ id, by, instrument }): [PartId, Transposing] => [
          id,
          {
            ...(by && { by }),
            ...(instrument && { to: () => instrument.transposition, clefs: instrument.clefs }),
          },
        ]),
      ),
    ),
);

const isTransposedBy = ({ transposition }: Part, wanted: Instrument): boolean =>
  wanted.transposition.chromatic === transposition.chromatic &&
  wanted.transposition.diatonic === transposition.diatonic;

function planOf(part: Part, routed: PartPlan | undefined): PartPlan {
  return {
    id: part.id,
    name: part.name,
    abbreviation: part.abbreviation,
    instrument: instrumentOf(part.instrument),
    staves: part.clefs.length > 1 ? 2 : 1,
    leader: leaderOf(part),
    strands: routed?.strands ?? [],
    techniques: [null],
    players: [],
    doubles: [],
    program: instrumentOf(part.instrument).program,
    why: `${part.anew ? 'Written again from its notes. ' : ''}${routed?.why ?? 'It does not sound.'}`,
  };
}

/** The bars of the score, the tick at which each is first played, and all that follow where some are played again. */
function firstTimeThrough({ performance: { clock } }: Desk, { score, performed }: ScoreReading): Frame {
  const ticks: number[] = [];
  const passes: BarPass[] = [];
  let at: Moment = 0;
  const perUnit = clock.ticksPerQuarter / QUARTER;
  for (const { bar, from, to } of performed.order) {
    const tick = Math.round(at * perUnit);
    ticks[bar] ??= tick;
    passes.push({ bar, from, to, tick });
    at += to - from;
  }
  // A bar that is never played stands where the one before it does.
  let last = 0;
  const whole = score.bars.map((_, bar) => {
    last = ticks[bar] ?? last;
    return last;
  });
  const isOnce = passes.length === score.bars.length && passes.every(({ bar }, index) => bar === index);
  return { clock, bars: score.bars, ticks: whole, ...(!isOnce && { passes }) };
}

const READING = node(
  'reading',
  ({
    part,
    bars,
    played,
  }: {
    part: Part;
    bars: Score['bars'];
    played: readonly (readonly PlayedNote[])[];
  }) => {
    const byId = new Map(played.flat().map((note): [EventId, PlayedNote] => [note.id, note]));
    const reading = readingOf(part, bars, byId);
    return whole({ reading: whole(reading), counts: countsOf(reading, byId) });
  },
);

/** What became of the notes of a part: every played note is a written one, or the same one played again. */
function countsOf(
  { notes }: PartReading,
  played: ReadonlyMap<EventId, PlayedNote>,
): Pick<Account, 'written' | 'graces' | 'merged'> {
  const counts = { written: 0, graces: 0, merged: 0 };
  for (const note of new Set(notes.values())) {
    if (note.grace) counts.graces++;
    else counts.written++;
    counts.merged += note.sources.filter((id) => played.has(id)).length - 1;
  }
  return counts;
}

/** Each written note beside what is played of it the first time. */
function readingOf(part: Part, bars: Score['bars'], played: ReadonlyMap<EventId, PlayedNote>): PartReading {
  const attacks: Attack[] = [];
  const notes = new Map<EventId, SketchNote>();
  const put = (
    sources: readonly EventId[],
    start: Moment,
    end: Moment,
    place: { staff: number; voice: number },
    grace: boolean,
  ) => {
    const [id] = sources;
    // Where cleaning took the first of them out, the next that is left stands for all.
    const own = sources.map((each) => played.get(each)).find((each) => each !== undefined);
    if (!id || !own) return;
    const known = notes.get(id);
    if (known) {
      // A tied note goes on.
      known.end = Math.max(known.end, end);
      return;
    }
    const note: SketchNote = {
      id,
      key: own.key,
      velocity: own.velocity,
      on: own.on,
      off: own.off,
      strike: { strand: 0, tick: own.on, held: 0, key: own.key },
      at: start,
      until: end,
      literal: undefined,
      start,
      end,
      ...place,
      ...(grace && { grace: true as const }),
      sources: [...sources],
    };
    notes.set(id, note);
    for (const other of sources) notes.set(other, note);
    attacks.push({
      tick: own.on,
      at: start,
      literal: undefined,
      even: false,
      start,
      grace,
      margin: Number.POSITIVE_INFINITY,
      alternatives: [],
      division: 0,
      notes: [note],
    });
  };
  part.bars.forEach((bar, index) => {
    const zero = bars[index]!.start;
    for (const { items, staff, voice } of bar.voices)
      for (const item of items) {
        if (item.kind !== 'chord') continue;
        const start = zero + item.onset;
        for (const note of item.graces ?? []) put(note.sources, start, start, { staff, voice }, true);
        for (const note of item.notes)
          put(note.sources, start, start + item.duration, { staff: note.staff ?? staff, voice }, false);
        for (const note of item.gracesAfter ?? []) put(note.sources, start, start, { staff, voice }, true);
      }
  });
  return {
    attacks: attacks.sort((a, b) => a.start - b.start),
    notes,
    leads: [{ seconds: 0 }],
    foundLeads: [{ seconds: 0 }],
    sigma: 0,
    unwritable: [],
    unplayable: [],
  };
}

function accountOf(
  { performance: { strands } }: Desk,
  plans: readonly PartPlan[],
  parts: readonly { counts: Pick<Account, 'written' | 'graces' | 'merged'> }[],
): Account {
  const taken = new Set(plans.flatMap((plan) => plan.strands));
  const notesIn = (all: readonly Strand[]) => all.reduce((sum, { notes }) => sum + notes.length, 0);
  const sumOf = (of: 'written' | 'graces' | 'merged') =>
    parts.reduce((sum, { counts }) => sum + counts[of], 0);
  return {
    notes: notesIn(strands),
    written: sumOf('written'),
    graces: sumOf('graces'),
    merged: sumOf('merged'),
    marks: 0,
    leftOut: notesIn(strands.filter(({ id }) => !taken.has(id))),
    unwritable: 0,
    beyond: 0,
  };
}
