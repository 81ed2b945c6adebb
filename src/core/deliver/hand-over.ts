import { type Decisions, decidedFor, type HandOverChoice, type StrandDecisions } from '../brief/decisions';
import { choosesProgram, fitsLane, laneOf, MIXER_LANES } from '../performance/lanes';
import type { Performance, Placed, PlayedNote, ShapingEvent, Strand } from '../performance/performance';
import type { PartPlan } from '../roster/route';
import type { Smf, SmfEvent, SmfTrack } from '../smf/events';
import { clickTrack, clockTrack, openingBar } from './clock-track';
import { retime } from './retime';
import { mergeTracks, type Queued, textEvent, trackOf } from './tracks';

/** One track of a hand-over, counted for the preview. Channels from 1. */
export interface TrackContent {
  name: string;
  channels: number[];
  notes: number;
  programs: number;
  controllers: number;
  texts: number;
}

/** Something that the source has and the hand-over has not, and why. */
export interface Omission {
  what: string;
  count: number;
  why: string;
}

/** A hand-over: the file, and what its preview says. */
export interface HandOverFile {
  smf: Pick<Smf, 'format' | 'division' | 'tracks'> & Partial<Pick<Smf, 'otherChunks'>>;
  contents: TrackContent[];
  omissions: Omission[];
  /** Sentences on what else is worth knowing. */
  remarks: string[];
  /** The source as it came, event for event. */
  untouched: boolean;
}

export interface HandOverSource {
  smf: Smf;
  /** As read, before cleaning. */
  source: Performance;
  /** Cleaned (and varied). */
  performance: Performance;
  decisions: Decisions;
  plans: readonly PartPlan[];
  title: string;
}

const PERCUSSION_CHANNEL = 9;
/** General MIDI has this many channels for pitched parts. */
const PITCHED_CHANNELS = [...Array(16).keys()].filter((channel) => channel !== PERCUSSION_CHANNEL);
const USUAL_DIVISION = 480;

/**
 * Writes a performance as a Standard MIDI File in the form that the other side
 * wants. A full file of a source that no decision touches is the source, event
 * for event; anything else is in normal form: a clock track, then one track a
 * part in the order of the roster.
 */
export function handOver(input: HandOverSource, choice: HandOverChoice): HandOverFile {
  if (isUntouched(input, choice)) return asItCame(input);
  const { performance, plans, title } = input;
  const { clock } = performance;
  const remarks: string[] = [];
  const omissions = new Omissions();
  const leadIn = Math.round(choice.leadInBars * openingBar(clock));
  const wanted = choice.form === 'clock' ? [] : plans.filter((plan) => isWanted(plan, choice));
  const loose = shareLoose(input, choice, wanted, leadIn, omissions);
  const keys = input.decisions.key ? [{ tick: 0, ...input.decisions.key }] : performance.keys;
  const tracks: SmfTrack[] = [clockTrack({ ...performance, keys }, title, leadIn, loose.get(CLOCK))];
  if (choice.form === 'full') tracks.push(...noteFreeTracks(input, leadIn));
  if (choice.click) tracks.push(clickTrack(performance, choice.leadInBars, leadIn));
  const channels = channelsFor(wanted, choice, performance, remarks);
  const shared = new Set<string>();
  wanted.forEach((plan, index) => {
    const track = partTrack(plan, channels[index]!, input, choice, leadIn, omissions, shared);
    tracks.push(trackOf([...track, ...(loose.get(plan.strands[0]!) ?? [])], performance.end + leadIn));
  });
  if (shared.size > 0)
    remarks.push(`Notes end where joined strands strike their key again: ${[...shared].join(', ')}.`);
  omissions.countStrands(input, wanted, choice);
  const target =
    choice.division ?? (Number.isInteger(clock.ticksPerQuarter) ? clock.ticksPerQuarter : USUAL_DIVISION);
  const retimed = retime(tracks, clock.ticksPerQuarter, target);
  if (retimed.rounded > 0)
    remarks.push(
      `${retimed.rounded.toLocaleString('en')} events fall between the ticks of ${target} and moved by less than one.`,
    );
  const contents = retimed.tracks.map(contentOf);
  const done = choice.type === 0 ? [mergeTracks(retimed.tracks)] : retimed.tracks;
  return {
    smf: { format: choice.type, division: { kind: 'quarter', ticks: target }, tracks: done },
    contents,
    omissions: omissions.all(),
    remarks,
    untouched: false,
  };
}

const isWanted = (plan: PartPlan, { strands }: HandOverChoice): boolean =>
  !strands || plan.strands.some((strand) => strands.includes(strand));

/** Whether a full hand-over would say nothing but what the source says. */
function isUntouched(
  { source, performance, decisions, smf, title }: HandOverSource,
  choice: HandOverChoice,
): boolean {
  const division = smf.division.kind === 'quarter' ? smf.division.ticks : undefined;
  return (
    choice.form === 'full' &&
    choice.type === smf.format &&
    (choice.division === undefined || choice.division === division) &&
    choice.programs === 'source' &&
    choice.channels === 'source' &&
    choice.leadInBars === 0 &&
    !choice.click &&
    !choice.strands &&
    performance === source &&
    title === source.title &&
    decisions.upbeatQuarters === undefined &&
    decisions.order.length === 0 &&
    !decisions.key &&
    [...decisions.strands.values()].every(
      (one) => !one.out && one.name === undefined && one.instrument === undefined && !one.into,
    )
  );
}

function asItCame({ smf }: HandOverSource): HandOverFile {
  return {
    smf,
    contents: smf.tracks.map(contentOf),
    omissions: [],
    remarks: ['Nothing was decided that changes the file: it goes out event for event as it came.'],
    untouched: true,
  };
}

/** A channel for each part, 0–15; null keeps the strands' own. */
function channelsFor(
  plans: readonly PartPlan[],
  { channels, type }: HandOverChoice,
  performance: Performance,
  remarks: string[],
): (number | null)[] {
  const isPercussion = (plan: PartPlan) =>
    plan.instrument.unpitched ||
    performance.strands.find((strand) => strand.id === plan.strands[0])?.channel === PERCUSSION_CHANNEL;
  if (channels === 'source') return plans.map(() => null);
  let next = 0;
  const given = plans.map((plan) => {
    if (isPercussion(plan)) return PERCUSSION_CHANNEL;
    return channels === 'one' ? 0 : PITCHED_CHANNELS[next++ % PITCHED_CHANNELS.length]!;
  });
  const pitched = given.filter((channel) => channel !== PERCUSSION_CHANNEL).length;
  if (channels === 'each' && pitched > PITCHED_CHANNELS.length)
    remarks.push(
      `${pitched} pitched parts share 15 channels${type === 0 ? ', and type 0 cannot tell them apart: choose type 1' : '; their tracks tell them apart'}.`,
    );
  if (channels === 'one' && type === 0 && pitched > 1)
    remarks.push('All pitched parts are on channel 1 of one track: nothing tells them apart. Choose type 1.');
  return given;
}

function partTrack(
  plan: PartPlan,
  channel: number | null,
  input: HandOverSource,
  choice: HandOverChoice,
  leadIn: number,
  omissions: Omissions,
  shared: Set<string>,
): Queued[] {
  const { performance, decisions } = input;
  const strands = performance.strands.filter((strand) => plan.strands.includes(strand.id));
  const queue: Queued[] = [{ order: Number.NEGATIVE_INFINITY, event: textEvent('trackName', 3, plan.name) }];
  const lead = strands[0]!;
  const decided = decidedFor(decisions, lead.id);
  if (choice.programs === 'general-midi' && !hasOwnProgram(decided))
    queue.push({
      order: -2,
      event: { kind: 'program', tick: 0, channel: channel ?? lead.channel, program: plan.instrument.program },
    });
  for (const strand of strands) {
    const to = channel ?? strand.channel;
    for (const placed of keptShaping(strand, input, choice, omissions)) {
      const tick = placed.event.tick === 0 ? 0 : placed.event.tick + leadIn;
      queue.push({ order: placed.order, event: { ...placed.event, tick, channel: to } });
    }
  }
  const notes = strands.flatMap((strand) =>
    strand.notes.map((note) => ({ note, channel: channel ?? strand.channel })),
  );
  for (const { note, channel: to, off } of strands.length > 1
    ? cutAtNextStroke(notes, plan.name, shared)
    : notes.map((each) => ({ ...each, off: each.note.off })))
    queue.push(...noteEvents(note, off, to, leadIn));
  return queue;
}

const orderOf = (note: PlayedNote): number => Number(note.id.slice(note.id.lastIndexOf('-') + 1));

function noteEvents(note: PlayedNote, off: number, channel: number, leadIn: number): Queued[] {
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

/** Where joined strands strike one key on one channel, the earlier note ends at the later stroke. */
function cutAtNextStroke(
  notes: { note: PlayedNote; channel: number }[],
  part: string,
  shared: Set<string>,
): { note: PlayedNote; channel: number; off: number }[] {
  const sorted = notes
    .map((each) => ({ ...each, off: each.note.off }))
    .sort((a, b) => a.note.on - b.note.on || a.note.off - b.note.off);
  const last = new Map<number, (typeof sorted)[number]>();
  for (const each of sorted) {
    const place = each.channel * 128 + each.note.key;
    const before = last.get(place);
    if (before && before.off > each.note.on) {
      before.off = each.note.on;
      shared.add(part);
    }
    last.set(place, each);
  }
  return sorted;
}

const hasOwnProgram = (decided: StrandDecisions): boolean =>
  decided.programs !== undefined && decided.programs.use !== 'source';

/** The controllers and programs of a strand that this form keeps; what it drops is counted. */
function keptShaping(
  strand: Strand,
  { decisions }: HandOverSource,
  choice: HandOverChoice,
  omissions: Omissions,
): Placed<ShapingEvent>[] {
  const decided = decidedFor(decisions, strand.id);
  return strand.shaping.filter(({ event }) => {
    if (choosesProgram(event)) {
      const kept = choice.programs === 'source' || hasOwnProgram(decided);
      if (!kept) omissions.add('program and bank changes', 'as this hand-over sets programs itself, or none');
      return kept;
    }
    const lane = laneOf(event);
    if (choice.form === 'full' || lane === null || !MIXER_LANES.includes(lane)) return true;
    const rule = decided.controllers?.findLast(({ lanes }) =>
      lanes.some((pattern) => fitsLane(pattern, lane)),
    );
    if (rule && rule.use !== 'remove') return true;
    omissions.add('mixer controllers', 'because they would move the faders of whoever receives the file');
    return false;
  });
}

const CLOCK = 'clock';

/**
 * Shares out what belongs to no strand: texts go with the first part that
 * comes from their track, those of the first track else with the clock. Lyrics
 * belong to the music, other texts and system messages only to a full file.
 */
function shareLoose(
  { performance, decisions }: HandOverSource,
  choice: HandOverChoice,
  wanted: readonly PartPlan[],
  leadIn: number,
  omissions: Omissions,
): Map<string, Queued[]> {
  const owners = new Map<number, string>();
  for (const plan of wanted) {
    const lead = performance.strands.find((strand) => strand.id === plan.strands[0])!;
    if (!owners.has(lead.track)) owners.set(lead.track, lead.id);
  }
  if (!owners.has(0)) owners.set(0, CLOCK);
  const shares = new Map<string, Queued[]>();
  const free = new Set(performance.noteFree.map(({ track }) => track));
  for (const { track, order, event } of performance.loose) {
    const owner = owners.get(track);
    if (!owner) {
      const isOwnTrack = choice.form === 'full' && free.has(track) && !isTrackOut(decisions, track);
      if (!isOwnTrack) omissions.add(looseName(event), 'of tracks that are not in the file');
      continue;
    }
    if (!carriesLoose(choice.form, event)) {
      omissions.add(looseName(event), 'which only a full file carries');
      continue;
    }
    const share = shares.get(owner) ?? [];
    shares.set(owner, share);
    share.push({ order, event: { ...event, tick: event.tick === 0 ? 0 : event.tick + leadIn } });
  }
  return shares;
}

const isTrackOut = (decisions: Decisions, track: number): boolean =>
  decisions.strands.get(`t${track + 1}`)?.out ?? false;

const carriesLoose = (form: HandOverChoice['form'], { kind }: SmfEvent): boolean =>
  form === 'full' || (form === 'clock' ? kind === 'smpteOffset' || kind === 'cuePoint' : kind === 'lyric');

const looseName = ({ kind }: SmfEvent): string =>
  kind === 'sysex' || kind === 'escape' ? 'system messages' : 'texts and the like';

/** Tracks without notes that still carry something, as tracks of their own; the first is in the clock track. */
function noteFreeTracks({ performance, decisions }: HandOverSource, leadIn: number): SmfTrack[] {
  return performance.noteFree.flatMap(({ track, name }) => {
    const loose = performance.loose.filter((each) => each.track === track);
    if (track === 0 || loose.length === 0 || isTrackOut(decisions, track)) return [];
    const queue: Queued[] = loose.map(({ order, event }) => ({
      order,
      event: { ...event, tick: event.tick === 0 ? 0 : event.tick + leadIn },
    }));
    if (name) queue.push({ order: -1, event: textEvent('trackName', 3, name) });
    return [trackOf(queue, performance.end + leadIn)];
  });
}

function contentOf(track: SmfTrack): TrackContent {
  const content = { name: '', channels: new Set<number>(), notes: 0, programs: 0, controllers: 0, texts: 0 };
  for (const event of track.events) {
    if ('channel' in event && event.kind !== 'channelPrefix') content.channels.add(event.channel + 1);
    if (event.kind === 'trackName' && !content.name) content.name = new TextDecoder().decode(event.bytes);
    else if (event.kind === 'noteOn') content.notes++;
    else if (choosesProgram(event)) content.programs++;
    else if (isShaping(event)) content.controllers++;
    else if ('bytes' in event) content.texts++;
  }
  return { ...content, channels: [...content.channels].sort((a, b) => a - b) };
}

const isShaping = (event: SmfEvent): boolean =>
  event.kind === 'control' ||
  event.kind === 'pitchBend' ||
  event.kind === 'channelPressure' ||
  event.kind === 'keyPressure';

/** What is left out, counted by kind and reason. */
class Omissions {
  private readonly counts = new Map<string, Omission>();

  add(what: string, why: string, count = 1): void {
    const known = this.counts.get(`${what} ${why}`) ?? { what, why, count: 0 };
    known.count += count;
    this.counts.set(`${what} ${why}`, known);
  }

  /** Notes of strands that are not in the file. */
  countStrands(
    { source, performance, plans }: HandOverSource,
    wanted: readonly PartPlan[],
    choice: HandOverChoice,
  ): void {
    const notesOf = (strands: readonly Strand[]) =>
      strands.reduce((sum, strand) => sum + strand.notes.length, 0);
    const among = (chosen: readonly PartPlan[]) => {
      const ids = new Set(chosen.flatMap((plan) => plan.strands));
      return notesOf(performance.strands.filter((strand) => ids.has(strand.id)));
    };
    const all = notesOf(performance.strands);
    const cleaned = notesOf(source.strands) - all;
    const out = all - among(plans);
    const unwanted = among(plans) - among(wanted);
    if (cleaned > 0) this.add('notes', 'taken out by cleaning', cleaned);
    if (out > 0) this.add('notes', 'in strands that are left out', out);
    if (unwanted > 0)
      this.add(
        'notes',
        choice.form === 'clock' ? 'as only the clock goes out' : 'in parts that were not chosen',
        unwanted,
      );
  }

  all(): Omission[] {
    return [...this.counts.values()];
  }
}
