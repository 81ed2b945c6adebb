import { type Encoding, isText, type Mend, type Smf, type SmfEvent } from '../smf/events';
import { decodeText, detectEncoding } from '../smf/text';
import { barAt, type Clock, type MeterChange, makeClock, suggestedUpbeat, type TempoChange } from './clock';

/** A note as played. Ticks are absolute; `key` is the sounding MIDI key. */
export interface PlayedNote {
  /** Unique in the piece and stable for one source: strand id, dash, index of the note-on in its track. */
  id: string;
  on: number;
  off: number;
  key: number;
  velocity: number;
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

/** One stream of notes: a track and channel of a source. Channels 0–15. */
export interface Strand {
  /** `t` track number from 1, `c` channel number from 1, such as `t3c1`. */
  id: string;
  track: number;
  channel: number;
  port: number | null;
  name: string;
  /** In order of onset, then key. */
  notes: PlayedNote[];
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
  smf.tracks.forEach((track, index) => {
    const found = strandsOf(track.events, index, everything.names[index]!, clock);
    if (found.length === 0)
      noteFree.push({ track: index, name: everything.names[index]!.track, carries: carried(track.events) });
    strands.push(...found);
  });
  nameUnnamed(strands, everything.names, smf.format === 0);
  return {
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
    end: everything.end,
    mends,
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
  /** Sounding notes by key, oldest first: the first to start is the first to end. */
  open: Map<number, PlayedNote[]>;
  sounding: number;
  most: number;
  programs: number[];
  banks: number[];
  bank: [number, number];
  controllers: Map<number, ControllerUse>;
  pitchBends: number;
}

function strandsOf(events: readonly SmfEvent[], track: number, names: TrackNames, clock: Clock): Strand[] {
  const byChannel = new Map<number, StrandInMaking>();
  let port: number | null = null;
  const strandAt = (channel: number): StrandInMaking => {
    let strand = byChannel.get(channel);
    if (!strand) {
      strand = {
        notes: [],
        open: new Map(),
        sounding: 0,
        most: 0,
        programs: [],
        banks: [],
        bank: [0, 0],
        controllers: new Map(),
        pitchBends: 0,
      };
      byChannel.set(channel, strand);
    }
    return strand;
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
        strand.most = Math.max(strand.most, ++strand.sounding);
        break;
      }
      case 'noteOff': {
        const strand = byChannel.get(event.channel);
        const note = strand?.open.get(event.key)?.shift();
        if (strand && note) {
          note.off = event.tick;
          strand.sounding--;
        }
        break;
      }
      case 'program': {
        const strand = strandAt(event.channel);
        if (!strand.programs.includes(event.program)) strand.programs.push(event.program);
        break;
      }
      case 'control': {
        const strand = strandAt(event.channel);
        countControl(strand.controllers, event.controller, event.value);
        if (event.controller === 0 || event.controller === 32) {
          strand.bank[event.controller === 0 ? 0 : 1] = event.value;
          const bank = strand.bank[0] * 128 + strand.bank[1];
          if (!strand.banks.includes(bank)) strand.banks.push(bank);
        }
        break;
      }
      case 'pitchBend':
        strandAt(event.channel).pitchBends++;
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
    made.notes.sort((a, b) => a.on - b.on || a.key - b.key);
    let lowest = 127;
    let highest = 0;
    let last = 0;
    for (const note of made.notes) {
      lowest = Math.min(lowest, note.key);
      highest = Math.max(highest, note.key);
      last = Math.max(last, note.off);
    }
    const first = made.notes[0]!.on;
    strands.push({
      id: strandId(track, channel),
      track,
      channel,
      port,
      name: names.byChannel.get(channel) ?? names.track,
      notes: made.notes,
      lowest,
      highest,
      most: made.most,
      programs: made.programs,
      banks: made.banks,
      controllers: [...made.controllers.values()].sort((a, b) => a.controller - b.controller),
      pitchBends: made.pitchBends,
      firstBar: barAt(clock, first).number,
      lastBar: barAt(clock, Math.max(first, last - 1)).number,
    });
  }
  return strands;
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

function titleOf(smf: Smf, names: readonly TrackNames[], noteFree: readonly NoteFreeTrack[]): string {
  if (smf.format === 0 || noteFree[0]?.track === 0) return names[0]?.track ?? '';
  return '';
}
