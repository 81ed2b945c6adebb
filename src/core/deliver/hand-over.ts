import { counted } from '../basics/words';
import type { PartPlan } from '../cast/route';
import type { Decisions } from '../decisions/decisions';
import { areHeard } from '../decisions/kinds/beats';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import { trackId } from '../model/ids';
import { choosesProgram } from '../model/lanes';
import type { LooseUse, Performance } from '../model/performance';
import { PERCUSSION_CHANNEL } from '../model/performance';
import type { Smf, SmfEvent, SmfTrack } from '../sources/smf/events';
import { looseSmfEvent } from '../sources/smf/performance';
import { clickTrack, clockTrack, openingBar } from './clock-track';
import { type Line, linesOf } from './lines';
import { needsScore } from './note-times';
import { type Omission, Omissions } from './omissions';
import { partEvents } from './part-events';
import { retime } from './retime';
import type { HandOverSource } from './source';
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
  if (input.file && isUntouched(input, input.file, choice)) return asItCame(input.file);
  const { performance, plans, title } = input;
  const { clock } = performance;
  const remarks: string[] = [];
  if (areHeard(input.decisions.beats))
    remarks.push('Bars and tempo follow the beats that are heard; the file has others.');
  const omissions = new Omissions();
  const leadIn = Math.round(choice.leadInBars * openingBar(clock));
  const wanted = choice.form === 'clock' ? [] : plans.filter((plan) => isWanted(plan, choice));
  const loose = shareLoose(input, choice, wanted, leadIn, omissions);
  const keys = input.decisions.key ? [{ tick: 0, ...input.decisions.key }] : performance.keys;
  const tracks: SmfTrack[] = [clockTrack({ ...performance, keys }, title, leadIn, loose.get(CLOCK))];
  if (choice.form === 'full') tracks.push(...noteFreeTracks(input, leadIn));
  if (choice.click) tracks.push(clickTrack(performance, choice.leadInBars, leadIn));
  const lines = linesOf(input, wanted, choice);
  const channels = channelsFor(
    lines.map(({ plan }) => plan),
    choice,
    performance,
    remarks,
  );
  const clashes = new Set<string>();
  lines.forEach((line, index) => {
    const events = partEvents(line, channels[index]!, { input, choice, leadIn, omissions, clashes });
    const along = (line.isFirst && loose.get(line.plan.leader)) || [];
    tracks.push(trackOf([...events, ...along], performance.end + leadIn));
  });
  sayShared(input, lines, remarks);
  if (clashes.size > 0)
    remarks.push(`Notes end where joined strands strike their key again: ${[...clashes].join(', ')}.`);
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

/** Notes that several players play stand in the track of each. */
function sayShared({ performance }: HandOverSource, lines: readonly Line[], remarks: string[]): void {
  const parts = lines.filter(({ takes }) => takes !== null);
  let more = 0;
  for (const { plan, takes, isFirst } of parts)
    for (const strand of performance.strands)
      if (plan.strands.includes(strand.id))
        more += strand.notes.filter(({ id }) => takes?.(id)).length - (isFirst ? strand.notes.length : 0);
  if (more > 0)
    remarks.push(
      `${counted(more, 'note')} more: what several players play together stands in the track of each.`,
    );
}

const isWanted = (plan: PartPlan, { strands }: HandOverChoice): boolean =>
  !strands || [plan.leader, ...plan.strands].some((strand) => strands.includes(strand));

/** Whether a full hand-over would say nothing but what the source says. */
function isUntouched(
  { source, performance, decisions, title }: HandOverSource,
  { division: own, format }: Smf,
  choice: HandOverChoice,
): boolean {
  const division = own.kind === 'quarter' ? own.ticks : undefined;
  return (
    choice.form === 'full' &&
    choice.type === format &&
    (choice.division === undefined || choice.division === division) &&
    choice.programs === 'source' &&
    choice.channels === 'source' &&
    choice.leadInBars === 0 &&
    !choice.click &&
    !needsScore(choice) &&
    (choice.apart ?? []).length === 0 &&
    (choice.switches ?? []).length === 0 &&
    (choice.thin ?? 0) === 0 &&
    !choice.strands &&
    performance === source &&
    title === source.title &&
    decisions.clock.upbeatQuarters === undefined &&
    decisions.order.length === 0 &&
    !decisions.key &&
    [...decisions.strands.values()].every(
      (one) => !one.out && one.name === undefined && one.instrument === undefined && !one.into && !one.added,
    )
  );
}

function asItCame(file: Smf): HandOverFile {
  return {
    smf: file,
    contents: file.tracks.map(contentOf),
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
    const lead = performance.strands.find((strand) => strand.id === plan.strands[0]);
    if (lead && !owners.has(lead.track)) owners.set(lead.track, plan.leader);
  }
  if (!owners.has(0)) owners.set(0, CLOCK);
  const shares = new Map<string, Queued[]>();
  const free = new Set(performance.noteFree.map(({ track }) => track));
  for (const each of performance.loose) {
    const { track, order, tick, use } = each;
    const owner = owners.get(track);
    if (!owner) {
      const isOwnTrack =
        choice.form === 'full' && free.has(track) && !isTrackOut(performance, decisions, track);
      if (!isOwnTrack) omissions.add(looseName(use), 'of tracks that are not in the file');
      continue;
    }
    if (!carriesLoose(choice.form, use)) {
      omissions.add(looseName(use), 'which only a full file carries');
      continue;
    }
    const share = shares.get(owner) ?? [];
    shares.set(owner, share);
    share.push({ order, event: looseSmfEvent({ ...each, tick: tick === 0 ? 0 : tick + leadIn }) });
  }
  return shares;
}

const isTrackOut = ({ source }: Performance, decisions: Decisions, track: number): boolean =>
  decisions.strands.get(trackId(source, track))?.out ?? false;

const carriesLoose = (form: HandOverChoice['form'], use: LooseUse): boolean =>
  form === 'full' || (form === 'clock' ? use === 'timecode' || use === 'cue' : use === 'lyric');

const looseName = (use: LooseUse): string => (use === 'system' ? 'system messages' : 'texts and the like');

/** Tracks without notes that still carry something, as tracks of their own; the first is in the clock track. */
function noteFreeTracks({ performance, decisions }: HandOverSource, leadIn: number): SmfTrack[] {
  return performance.noteFree.flatMap(({ track, name }) => {
    const loose = performance.loose.filter((each) => each.track === track);
    if (track === 0 || loose.length === 0 || isTrackOut(performance, decisions, track)) return [];
    const queue: Queued[] = loose.map((each) => ({
      order: each.order,
      event: looseSmfEvent({ ...each, tick: each.tick === 0 ? 0 : each.tick + leadIn }),
    }));
    if (name) queue.push({ order: -1, event: textEvent('trackName', 3, name) });
    return [trackOf(queue, performance.end + leadIn)];
  });
}

/** What a track holds, counted. */
export function contentOf(track: SmfTrack): TrackContent {
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
