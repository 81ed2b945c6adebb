import { type ChannelEvent, type Encoding, isText, type Mend, type Smf, type SmfEvent } from '../smf/events';
import { decodeText, detectEncoding } from '../smf/text';
import {
  barAt,
  barOf,
  type Clock,
  type MeterChange,
  makeClock,
  suggestedUpbeat,
  type TempoChange,
} from './clock';

/** A note as played. Ticks are absolute; `key` is the sounding MIDI key. */
export interface PlayedNote {
  /** Unique in the piece and stable for one source: strand id, dash, index of the note-on in its track. */
  id: string;
  on: number;
  off: number;
  key: number;
  velocity: number;
  /** Release velocity; absent where a note-on of velocity 0 ends the note. */
  release?: number;
  /** The source never ends this note; it was ended with its track. */
  hanging?: true;
  /** The same key was already sounding when this note began. */
  stacked?: true;
}

export interface ControllerUse {
  controller: number;
  count: number;
  first: number;
  lowest: number;
  highest: number;
}

/** A channel event other than a note. */
export type ShapingEvent = Exclude<ChannelEvent, { kind: 'noteOn' | 'noteOff' }>;

/** An event with its index in its track, which orders events within a tick. */
export interface Placed<E extends SmfEvent> {
  order: number;
  event: E;
}

/** One stream of notes: a track and channel of a source. Channels 0–15. */
export interface Strand {
  /** `t` track number from 1, `c` channel number from 1, such as `t3c1`; pieces of a split add `s2`, `s3` … */
  id: string;
  track: number;
  channel: number;
  port: number | null;
  name: string;
  /** What tells a piece of a split strand from the others. */
  piece?: string;
  /** In order of onset, then key. */
  notes: PlayedNote[];
  /** Controllers, programs, bends and pressures of the strand's channel in its track, in order. */
  shaping: Placed<ShapingEvent>[];
  lowest: number;
  highest: number;
  /** Most notes sounding at once. */
  most: number;
  /** Program numbers 0–127 in order of first use. */
  programs: number[];
  /** Bank numbers as MSB × 128 + LSB in order of first use. */
  banks: number[];
  controllers: ControllerUse[];
  pitchBends: number;
  /** Printed bar numbers of the first onset and the last release. */
  firstBar: number;
  lastBar: number;
}

/** A track without notes and what it carries. */
export interface NoteFreeTrack {
  track: number;
  name: string;
  carries: {
    tempos: number;
    meters: number;
    keys: number;
    markers: number;
    lyrics: number;
    texts: number;
    controllers: number;
    sysex: number;
  };
}

/** An event that belongs to no strand and not to the clock: texts, lyrics, system messages, channels without notes. */
export interface LooseEvent extends Placed<SmfEvent> {
  track: number;
}

export interface KeyChange {
  tick: number;
  fifths: number;
  minor: boolean;
}

export interface TextAt {
  tick: number;
  text: string;
  track: number;
}

/** The heard reading of one source. */
export interface Performance {
  title: string;
  encoding: Encoding;
  clock: Clock;
  strands: Strand[];
  noteFree: NoteFreeTrack[];
  tempos: TempoChange[];
  meters: MeterChange[];
  keys: KeyChange[];
  markers: TextAt[];
  lyrics: TextAt[];
  /** Everything else, so that nothing is lost on the way back to a file. */
  loose: LooseEvent[];
  /** The last tick at which anything happens. */
  end: number;
  mends: Mend[];
}

/** How the brief may set the clock: an upbeat in quarter notes, and the number of the first full bar. */
export interface ClockChoice {
  upbeatQuarters?: number;
  firstBar?: number;
}

/**
 * Reads a performance out of a file: pairs its notes, splits its tracks into
 * strands and builds its clock. A file timed in SMPTE frames has no bars of
 * its own; they are counted at 120 quarter notes a minute.
 */
export function readPerformance(smf: Smf, choice: ClockChoice = {}): Performance {
  const encoding = detectEncoding(
    smf.tracks.flatMap((track) => track.events.filter(isText).map((event) => event.bytes)),
  );
  const mends = [...smf.mends];
  const everything = collect(smf, encoding);
  let ticksPerQuarter: number;
  let tempos = everything.tempos;
  if (smf.division.kind === 'quarter') ticksPerQuarter = smf.division.ticks;
  else {
    const frames = smf.division.framesPerSecond === 29 ? 30000 / 1001 : smf.division.framesPerSecond;
    ticksPerQuarter = (frames * smf.division.ticksPerFrame) / 2;
    tempos = [];
    mends.push({
      at: 12,
      what: 'The file counts time code, not beats.',
      done: 'Bars are counted at 120 quarter notes a minute.',
    });
  }
  if (smf.format === 2)
    mends.push({ at: 8, what: 'Format 2 holds independent patterns.', done: 'All start at the first bar.' });
  const upbeat =
    choice.upbeatQuarters === undefined
      ? suggestedUpbeat(everything.meters, ticksPerQuarter)
      : choice.upbeatQuarters * ticksPerQuarter;
  const clock = makeClock({
    ticksPerQuarter,
    tempos,
    meters: everything.meters,
    upbeat,
    firstBar: choice.firstBar ?? 1,
  });
  const strands: Strand[] = [];
  const noteFree: NoteFreeTrack[] = [];
  const loose: LooseEvent[] = [];
  smf.tracks.forEach((track, index) => {
    const found = strandsOf(track.events, index, everything.names[index]!, clock);
    if (found.length === 0)
      noteFree.push({ track: index, name: everything.names[index]!.track, carries: carried(track.events) });
    strands.push(...found);
    loose.push(...looseEvents(track.events, index, new Set(found.map((strand) => strand.channel))));
  });
  nameUnnamed(strands, everything.names, smf.format === 0);
  return withinLimits({
    title: titleOf(smf, everything.names, noteFree),
    encoding,
    clock,
    strands,
    noteFree,
    tempos,
    meters: everything.meters,
    keys: everything.keys,
    markers: everything.markers,
    lyrics: everything.lyrics,
    loose,
    end: everything.end,
    mends,
  });
}

/** Hours of music; a file that runs on for longer has a broken time somewhere. */
const MOST_BARS = 10_000;

/** The performance up to a number of bars that can still be worked with; what lies beyond is counted and said. */
function withinLimits(performance: Performance): Performance {
  const { clock, end } = performance;
  if (barAt(clock, end).index < MOST_BARS) return performance;
  const limit = barOf(clock, MOST_BARS).start;
  const before = <T extends { tick: number }>(all: readonly T[]): T[] =>
    all.filter(({ tick }) => tick < limit);
  const placed = <T extends { event: SmfEvent }>(all: readonly T[]): T[] =>
    all.filter(({ event }) => event.tick < limit);
  let lost = 0;
  const tempos = before(performance.tempos);
  const meters = before(performance.meters);
  const { ticksPerQuarter, upbeat, firstBar } = clock;
  const shorter = makeClock({ ticksPerQuarter, tempos, meters, upbeat, firstBar });
  const strands = performance.strands.flatMap((strand) => {
    const notes = strand.notes
      .filter((note) => note.on < limit)
      .map((note) => (note.off > limit ? { ...note, off: Math.floor(limit) } : note));
    lost += strand.notes.length - notes.length;
    const shaping = placed(strand.shaping);
    return notes.length > 0 ? [makeStrand({ ...strand, notes, shaping }, shorter)] : [];
  });
  const bars = barAt(clock, end).index + 1;
  return {
    ...performance,
    clock: shorter,
    strands,
    tempos,
    meters,
    keys: before(performance.keys),
    markers: before(performance.markers),
    lyrics: before(performance.lyrics),
    loose: placed(performance.loose),
    end: Math.floor(limit),
    mends: [
      ...performance.mends,
      {
        at: 0,
        what: `The file runs on for ${bars.toLocaleString('en')} bars, with ${lost.toLocaleString('en')} notes after bar ${MOST_BARS.toLocaleString('en')}.`,
        done: `Read to bar ${MOST_BARS.toLocaleString('en')}; the source keeps the rest.`,
      },
    ],
  };
}

interface TrackNames {
  track: string;
  byChannel: Map<number, string>;
}

function collect(smf: Smf, encoding: Encoding) {
  const tempos: TempoChange[] = [];
  const meters: MeterChange[] = [];
  const keys: KeyChange[] = [];
  const markers: TextAt[] = [];
  const lyrics: TextAt[] = [];
  const names: TrackNames[] = [];
  let end = 0;
  smf.tracks.forEach((track, index) => {
    const name: TrackNames = { track: '', byChannel: new Map() };
    let prefix: number | null = null;
    for (const event of track.events) {
      switch (event.kind) {
        case 'tempo':
          tempos.push({ tick: event.tick, microsPerQuarter: event.microsPerQuarter });
          break;
        case 'timeSignature':
          meters.push({ tick: event.tick, numerator: event.numerator, denominator: event.denominator });
          break;
        case 'keySignature':
          keys.push({ tick: event.tick, fifths: event.fifths, minor: event.minor });
          break;
        case 'marker':
        case 'lyric': {
          const text = decodeText(event.bytes, encoding);
          if (text.trim())
            (event.kind === 'marker' ? markers : lyrics).push({ tick: event.tick, text, track: index });
          break;
        }
        case 'channelPrefix':
          prefix = event.channel;
          break;
        case 'trackName':
        case 'instrumentName': {
          const text = decodeText(event.bytes, encoding).trim();
          if (prefix !== null) {
            if (!name.byChannel.has(prefix)) name.byChannel.set(prefix, text);
          } else if (!name.track) name.track = text;
          break;
        }
        case 'noteOn':
        case 'noteOff':
        case 'control':
          prefix = null;
          break;
      }
    }
    end = Math.max(end, track.events.at(-1)?.tick ?? 0);
    names.push(name);
  });
  const byTick = (a: { tick: number }, b: { tick: number }) => a.tick - b.tick;
  return {
    tempos: tempos.sort(byTick),
    meters: meters.sort(byTick),
    keys: keys.sort(byTick),
    markers: markers.sort(byTick),
    lyrics: lyrics.sort(byTick),
    names,
    end,
  };
}

interface StrandInMaking {
  notes: PlayedNote[];
  shaping: Placed<ShapingEvent>[];
  /** Sounding notes by key, oldest first: the first to start is the first to end. */
  open: Map<number, PlayedNote[]>;
}

function strandsOf(events: readonly SmfEvent[], track: number, names: TrackNames, clock: Clock): Strand[] {
  const byChannel = new Map<number, StrandInMaking>();
  let port: number | null = null;
  const strandAt = (channel: number): StrandInMaking => {
    const found = byChannel.get(channel) ?? { notes: [], shaping: [], open: new Map() };
    byChannel.set(channel, found);
    return found;
  };
  let end = 0;
  events.forEach((event, index) => {
    end = event.tick;
    switch (event.kind) {
      case 'port':
        port ??= event.port;
        break;
      case 'noteOn': {
        const strand = strandAt(event.channel);
        const note: PlayedNote = {
          id: `${strandId(track, event.channel)}-${index}`,
          on: event.tick,
          off: event.tick,
          key: event.key,
          velocity: event.velocity,
        };
        const open = strand.open.get(event.key);
        if (open && open.length > 0) {
          note.stacked = true;
          open.push(note);
        } else strand.open.set(event.key, [note]);
        strand.notes.push(note);
        break;
      }
      case 'noteOff': {
        const note = byChannel.get(event.channel)?.open.get(event.key)?.shift();
        if (!note) break;
        note.off = event.tick;
        if (!event.asNoteOn) note.release = event.velocity;
        break;
      }
      case 'control':
      case 'program':
      case 'pitchBend':
      case 'channelPressure':
      case 'keyPressure':
        strandAt(event.channel).shaping.push({ order: index, event });
        break;
    }
  });
  const strands: Strand[] = [];
  for (const [channel, made] of [...byChannel].sort((a, b) => a[0] - b[0])) {
    if (made.notes.length === 0) continue;
    for (const open of made.open.values())
      for (const note of open) {
        note.off = end;
        note.hanging = true;
      }
    const name = names.byChannel.get(channel) ?? names.track;
    strands.push(
      makeStrand(
        {
          id: strandId(track, channel),
          track,
          channel,
          port,
          name,
          notes: made.notes,
          shaping: made.shaping,
        },
        clock,
      ),
    );
  }
  return strands;
}

/** What a strand consists of; everything else about it is counted from this. */
export type StrandContent = Pick<Strand, 'id' | 'track' | 'channel' | 'port' | 'name' | 'notes' | 'shaping'>;

/** A strand with its notes in order and its counts made. There must be at least one note. */
export function makeStrand(content: StrandContent, clock: Clock): Strand {
  const notes = content.notes.sort((a, b) => a.on - b.on || a.key - b.key);
  let lowest = 127;
  let highest = 0;
  let last = 0;
  for (const note of notes) {
    lowest = Math.min(lowest, note.key);
    highest = Math.max(highest, note.key);
    last = Math.max(last, note.off);
  }
  const first = notes[0]!.on;
  return {
    ...content,
    notes,
    lowest,
    highest,
    most: mostAtOnce(notes),
    ...countShaping(content.shaping),
    firstBar: barAt(clock, first).number,
    lastBar: barAt(clock, Math.max(first, last - 1)).number,
  };
}

/** The largest number of notes that sound at one moment; a note that ends as another begins is over. */
function mostAtOnce(notes: readonly PlayedNote[]): number {
  const releases = Float64Array.from(notes, (note) => note.off).sort();
  let over = 0;
  let most = 0;
  notes.forEach((note, index) => {
    while (over < index && releases[over]! <= note.on) over++;
    most = Math.max(most, index + 1 - over);
  });
  return most;
}

function countShaping(shaping: readonly Placed<ShapingEvent>[]) {
  const programs = new Set<number>();
  const banks = new Set<number>();
  const bank: [number, number] = [0, 0];
  const controllers = new Map<number, ControllerUse>();
  let pitchBends = 0;
  for (const { event } of shaping) {
    if (event.kind === 'program') programs.add(event.program);
    else if (event.kind === 'pitchBend') pitchBends++;
    else if (event.kind === 'control') {
      countControl(controllers, event.controller, event.value);
      if (event.controller === 0 || event.controller === 32) {
        bank[event.controller === 0 ? 0 : 1] = event.value;
        banks.add(bank[0] * 128 + bank[1]);
      }
    }
  }
  return {
    programs: [...programs],
    banks: [...banks],
    controllers: [...controllers.values()].sort((a, b) => a.controller - b.controller),
    pitchBends,
  };
}

/** The events of a track that go with no strand and are not part of the clock or of the names. */
function looseEvents(
  events: readonly SmfEvent[],
  track: number,
  channels: ReadonlySet<number>,
): LooseEvent[] {
  const loose: LooseEvent[] = [];
  events.forEach((event, order) => {
    switch (event.kind) {
      case 'tempo':
      case 'timeSignature':
      case 'keySignature':
      case 'trackName':
      case 'marker':
      case 'endOfTrack':
      case 'port':
      case 'channelPrefix':
        return;
      default:
        if (!('channel' in event) || !channels.has(event.channel)) loose.push({ track, order, event });
    }
  });
  return loose;
}

const strandId = (track: number, channel: number): string => `t${track + 1}c${channel + 1}`;

function countControl(uses: Map<number, ControllerUse>, controller: number, value: number): void {
  const use = uses.get(controller);
  if (!use) {
    uses.set(controller, { controller, count: 1, first: value, lowest: value, highest: value });
    return;
  }
  use.count++;
  use.lowest = Math.min(use.lowest, value);
  use.highest = Math.max(use.highest, value);
}

function carried(events: readonly SmfEvent[]): NoteFreeTrack['carries'] {
  const count = (...kinds: SmfEvent['kind'][]) => events.filter((event) => kinds.includes(event.kind)).length;
  return {
    tempos: count('tempo'),
    meters: count('timeSignature'),
    keys: count('keySignature'),
    markers: count('marker', 'cuePoint'),
    lyrics: count('lyric'),
    texts: count('text', 'copyright', 'textOther'),
    controllers: count('control', 'pitchBend', 'channelPressure', 'keyPressure', 'program'),
    sysex: count('sysex', 'escape'),
  };
}

/** In a format 0 file the only track's name is the piece's; a strand there is told by its channel. */
function nameUnnamed(strands: Strand[], names: readonly TrackNames[], oneTrack: boolean): void {
  for (const strand of strands)
    if (oneTrack && !names[strand.track]!.byChannel.has(strand.channel)) strand.name = '';
}

/** The first track's name, where that track is not music itself; a mere track number is no title. */
function titleOf(smf: Smf, names: readonly TrackNames[], noteFree: readonly NoteFreeTrack[]): string {
  const name = smf.format === 0 || noteFree[0]?.track === 0 ? (names[0]?.track ?? '') : '';
  return /^track \d+$/i.test(name) ? '' : name;
}
