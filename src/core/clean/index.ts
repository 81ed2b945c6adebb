import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import {
  type Decisions,
  decidedFor,
  jobOnly,
  type StrandDecisions,
  strandOnly,
} from '../decisions/decisions';
import type { Clock } from '../model/clock';
import { type EventId, isShared, type StrandId } from '../model/ids';
import {
  type KeyChange,
  PERCUSSION_CHANNEL,
  type Performance,
  type PlayedNote,
  type Strand,
} from '../model/performance';
import { intervalFifths } from '../model/pitch';
import { withinSix } from '../model/score';
import { cleanClock } from './clock';
import { drawCurves } from './curves';
import { editNotes, editsOf, uneditable } from './edits';
import {
  closeHanging,
  dropSpecks,
  mendStacked,
  shapeVelocities,
  takeOutKeySwitches,
  translateKit,
  transposeNotes,
} from './notes';
import { setChannel, setPrograms, thinControllers } from './shaping';
import { splitStrand } from './split';
import type { Change, CleanStep, Refusal } from './step';

export type { Change, Refusal } from './step';

/** A performance as the brief wants it, and what that took. */
export interface Cleaned {
  performance: Performance;
  changes: Change[];
  /** The notes that steps took out, as each of them says, by the kind of step: what is gone beside these is lost. */
  gone: ReadonlyMap<EventId, string>;
  /** Notes that several players of a divided strand have, one for each player more. */
  shared: number;
  /** Notes that were added by hand. */
  added: number;
  refusals: Refusal[];
}

const STEPS: readonly [kind: string, step: CleanStep][] = [
  ['channel', setChannel],
  ['key-switches', takeOutKeySwitches],
  ['hanging', closeHanging],
  ['stacked', mendStacked],
  ['specks', dropSpecks],
  ['kit', translateKit],
  ['transpose', transposeNotes],
  ['controllers', thinControllers],
  ['curve', drawCurves],
  ['programs', setPrograms],
  ['velocities', shapeVelocities],
];

const CLOCK = node(
  'clock',
  (of: { source: Performance; decisions: Decisions; timekeeper: Performance | null }) =>
    cleanClock(of.source, of.decisions, of.timekeeper),
);

const ASSEMBLED = node(
  'assembled',
  ({ performance, strands, keys }: { performance: Performance; strands: Strand[]; keys: KeyChange[] }) => ({
    ...performance,
    strands,
    keys,
  }),
);

const CLEANED = node('cleaned', (of: { piece: Strand; decided: StrandDecisions; clock: Clock }) =>
  cleanStrand(of.piece, of.decided, of.clock),
);

/**
 * Cleans a performance by the brief: clock, splits, then each strand step by
 * step. The source is never changed, and a strand that no decision touches
 * comes back as the same object, as does one whose decisions did not change
 * since the last call: so whoever depends on a strand can go by identity.
 *
 * @param hasEdits single notes are edited here; a score has that in its own text
 */
export function clean(
  source: Performance,
  decisions: Decisions,
  timekeeper: Performance | null,
  hasEdits = true,
): Cleaned {
  const {
    performance,
    changes: clockChanges,
    refusals,
  } = remembered(source, CLOCK, { source, decisions: jobOnly(decisions, 'clock'), timekeeper });
  const changes = [...clockChanges];
  const strands: Strand[] = [];
  const refused: Refusal[] = [];
  const gone = new Map<EventId, string>();
  const take = (step: string, notes: readonly PlayedNote[]) => {
    for (const { id } of notes) gone.set(id, step);
  };
  let shared = 0;
  let added = 0;
  const present = new Set<StrandId>();
  for (const strand of performance.strands) {
    const cut = pieces(strand, decisions, performance, changes, take);
    for (const piece of cut) {
      present.add(piece.id);
      const decided = decidedFor(decisions, piece.id);
      const { clock } = performance;
      const result = remembered(piece, CLEANED, { piece, decided: strandOnly(decided, 'clean'), clock });
      changes.push(...result.changes);
      for (const [step, notes] of result.gone) take(step, notes);
      shared += piece.notes.reduce((sum, { id }) => sum + (isShared(id) ? 1 : 0), 0);
      const edited = hasEdits ? editedStrand(result.strand, decisions, performance) : null;
      const { strand: last } = edited ?? result;
      if (edited) {
        changes.push(...edited.changes);
        take('drop', edited.gone);
        added += edited.added;
      }
      if (last) strands.push(last);
      refused.push(...untransposed(piece, decided, result.changes));
    }
  }
  const untouched = strands.length === performance.strands.length && strands.every(isIn(performance.strands));
  return {
    performance: untouched
      ? performance
      : remembered(performance, ASSEMBLED, { performance, strands, keys: keysOf(performance, decisions) }),
    changes,
    gone,
    shared,
    added,
    refusals: [
      ...refusals,
      ...refused,
      ...(hasEdits ? uneditable(source.strands, decisions, present, performance.clock) : []),
    ],
  };
}

/** A cleaned strand with its single notes edited; null where none are. */
function editedStrand(strand: Strand | null, decisions: Decisions, { clock }: Performance) {
  const edits = strand && editsOf(strand, decisions);
  if (!strand || !edits) return null;
  return remembered(strand, EDITED, { strand, edits, clock });
}

const EDITED = node(
  'edited',
  (of: { strand: Strand; edits: Parameters<typeof editNotes>[1]; clock: Clock }) =>
    editNotes(of.strand, of.edits, of.clock),
);

/** What was to sound on other keys and cannot. */
function untransposed(
  { name, channel }: Strand,
  { transpose }: StrandDecisions,
  changes: readonly Change[],
): Refusal[] {
  const isKit = channel === PERCUSSION_CHANNEL;
  if (!transpose || transpose.chromatic === 0 || isKit || changes.some(({ step }) => step === 'transpose'))
    return [];
  return [
    {
      step: 'transpose',
      why: `${name || 'A strand'} stays where it is: ${transpose.chromatic} semitones from there are keys that MIDI does not have.`,
    },
  ];
}

/** A piece that is transposed as a whole has its keys transposed. */
function keysOf({ keys }: Performance, { all, strands }: Decisions): KeyChange[] {
  const isWhole = all.transpose && [...strands.values()].every((own) => own.transpose === undefined);
  if (!all.transpose || !isWhole) return keys;
  const shift = intervalFifths(all.transpose);
  return keys.map((key) => ({ ...key, fifths: withinSix(key.fifths + shift) }));
}

const isIn = (all: readonly Strand[]) => (strand: Strand, index: number) => all[index] === strand;

const SPLIT = node(
  'split',
  (of: { strand: Strand; split: Parameters<typeof splitStrand>[1]; clock: Clock }) =>
    splitStrand(of.strand, of.split, of.clock),
);

/** A strand's pieces, and the pieces of these. */
function pieces(
  strand: Strand,
  decisions: Decisions,
  performance: Performance,
  changes: Change[],
  take: (step: string, notes: readonly PlayedNote[]) => void,
): Strand[] {
  const split = decisions.strands.get(strand.id)?.split;
  if (!split?.by) return [strand];
  const result = remembered(strand, SPLIT, { strand, split, clock: performance.clock });
  changes.push(...result.changes);
  take('split', result.gone);
  const [first, ...others] = result.strands;
  return first
    ? [first, ...others.flatMap((each) => pieces(each, decisions, performance, changes, take))]
    : [];
}

function cleanStrand(strand: Strand, decided: StrandDecisions, clock: Clock) {
  const changes: Change[] = [];
  let result: Strand | null = strand;
  const gone: [step: string, notes: readonly PlayedNote[]][] = [];
  for (const [kind, step] of STEPS) {
    if (!result) break;
    result = step(result, decided, clock, (what, from, to, taken = []) => {
      changes.push({ strand: strand.id, step: kind, what, before: from, after: to });
      if (taken.length > 0) gone.push([kind, taken]);
    });
  }
  return { strand: result, changes, gone };
}
