import { decidedFor, type StrandDecisions } from '../decisions/decisions';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import { orderOf } from '../model/ids';
import { choosesProgram, fitsLane, laneOf, MIXER_LANES } from '../model/lanes';
import type { Placed, PlayedNote, Strand } from '../model/performance';
import type { Line } from './lines';
import type { Omissions } from './omissions';
import type { HandOverSource } from './source';
import { switchesFor } from './switches';
import { thinned } from './thin';
import { type Queued, textEvent } from './tracks';

/** What all parts of a hand-over share while it is made. */
export interface Making {
  input: HandOverSource;
  choice: HandOverChoice;
  /** Ticks by which everything moves but what holds from the start. */
  leadIn: number;
  omissions: Omissions;
  /** Names of parts in which joined strands strike the same keys. */
  clashes: Set<string>;
}

/** The events of one track. @param channel 0–15, or null for the strands' own */
export function partEvents(line: Line, channel: number | null, making: Making): Queued[] {
  const { input, choice, leadIn, clashes } = making;
  const { performance, decisions } = input;
  const { plan, name, takes, program } = line;
  const strands = performance.strands.filter((strand) => plan.strands.includes(strand.id));
  const queue: Queued[] = [{ order: Number.NEGATIVE_INFINITY, event: textEvent('trackName', 3, name) }];
  const decided = decidedFor(decisions, strands[0]?.id ?? plan.leader);
  const own = channel ?? strands[0]?.channel;
  // Nothing is set on a channel that belongs to others.
  if (choice.programs === 'general-midi' && !hasOwnProgram(decided) && own !== undefined)
    queue.push({
      order: -2,
      event: { kind: 'program', tick: 0, channel: own, program },
    });
  for (const strand of strands) {
    const to = channel ?? strand.channel;
    for (const placed of keptShaping(strand, line, making)) {
      const tick = placed.event.tick === 0 ? 0 : placed.event.tick + leadIn;
      queue.push({ order: placed.order, event: { ...placed.event, tick, channel: to } });
    }
  }
  const sounding = strands.flatMap((strand) =>
    strand.notes
      .filter(({ id }) => takes?.(id) ?? true)
      .map((note): Sounding => ({ note, channel: channel ?? strand.channel, off: note.off })),
  );
  if (strands.length > 1 && cutAtNextStroke(sounding)) clashes.add(name);
  for (const each of sounding) queue.push(...noteEvents(each, leadIn));
  queue.push(...switchEvents(sounding, making));
  return queue;
}

/** Keys that tell a sampled instrument its technique, before the notes; a part that has none gets none. */
function switchEvents(sounding: readonly Sounding[], { input, choice, leadIn }: Making): Queued[] {
  const { manners, performance } = input;
  const notes = sounding.map(({ note }) => note);
  const [first] = sounding;
  if (!choice.switches || !first || !notes.some(({ id }) => manners.get(id)?.technique)) return [];
  const { ticksPerQuarter } = performance.clock;
  return switchesFor(notes, manners, choice.switches, ticksPerQuarter).flatMap(({ on, off, key }) => {
    const { channel } = first;
    const strike = { kind: 'noteOn', tick: on + leadIn, channel, key, velocity: SWITCH_VELOCITY } as const;
    const release = {
      kind: 'noteOff',
      tick: off + leadIn,
      channel,
      key,
      velocity: 0,
      asNoteOn: true,
    } as const;
    return [
      { order: -1, event: strike },
      { order: -1, event: release },
    ];
  });
}

/** Any will do; sampled instruments ask for the key alone. */
const SWITCH_VELOCITY = 100;

interface Sounding {
  note: PlayedNote;
  channel: number;
  off: number;
}

function noteEvents({ note, off, channel }: Sounding, leadIn: number): Queued[] {
  const order = orderOf(note);
  const { key, velocity, release } = note;
  return [
    { order, event: { kind: 'noteOn', tick: note.on + leadIn, channel, key, velocity } },
    {
      order,
      event: {
        kind: 'noteOff',
        tick: off + leadIn,
        channel,
        key,
        velocity: release ?? 0,
        asNoteOn: release === undefined,
      },
    },
  ];
}

/** Where joined strands strike one key on one channel, the earlier note ends at the later stroke. @returns whether any does */
function cutAtNextStroke(sounding: Sounding[]): boolean {
  sounding.sort((a, b) => a.note.on - b.note.on || a.off - b.off);
  const last = new Map<number, Sounding>();
  let cuts = false;
  for (const each of sounding) {
    const place = each.channel * 128 + each.note.key;
    const before = last.get(place);
    if (before && before.off > each.note.on) {
      before.off = each.note.on;
      cuts = true;
    }
    last.set(place, each);
  }
  return cuts;
}

const hasOwnProgram = (decided: StrandDecisions): boolean =>
  decided.programs !== undefined && decided.programs.use !== 'source';

/** The controllers and programs of a strand that this form keeps; what it drops is counted. */
function keptShaping(strand: Strand, { isFirst }: Line, { input, choice, omissions }: Making): Placed[] {
  // What several tracks leave out is one thing.
  const omit = (what: string, why: string) => {
    if (isFirst) omissions.add(what, why);
  };
  const decided = decidedFor(input.decisions, strand.id);
  const kept = strand.shaping.filter(({ event }) => {
    if (choosesProgram(event)) {
      // No programs means none: what a mend had set is no exception.
      const kept = choice.programs === 'source' || (choice.programs !== 'none' && hasOwnProgram(decided));
      if (!kept) omit('program and bank changes', 'as this hand-over sets programs itself, or none');
      return kept;
    }
    const lane = laneOf(event);
    if (choice.form === 'full' || lane === null || !MIXER_LANES.includes(lane)) return true;
    if (input.asked.includes(lane) || (decided.curves?.[lane]?.length ?? 0) > 0) return true;
    const rule = decided.controllers?.findLast(({ lanes }) =>
      lanes.some((pattern) => fitsLane(pattern, lane)),
    );
    if (rule && rule.use !== 'remove') return true;
    omit('mixer controllers', 'because they would move the faders of whoever receives the file');
    return false;
  });
  return thinned(kept, input.performance.clock, choice.thin ?? 0);
}
