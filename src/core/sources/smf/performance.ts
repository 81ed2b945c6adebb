import { append } from '../../basics/append';
import { counted } from '../../basics/words';
import {
  barAt,
  barOf,
  type Clock,
  LONGEST_HELD,
  type MeterChange,
  MOST_BARS,
  makeClock,
  suggestedUpbeat,
  type TempoChange,
} from '../../model/clock';
import { eventId, FIRST_SOURCE, type SourceId, strandId } from '../../model/ids';
import type { Mend } from '../../model/mend';
import {
  type KeyChange,
  type LooseEvent,
  type LooseUse,
  makeStrand,
  type NoteFreeTrack,
  type Performance,
  type Placed,
  type PlayedNote,
  type Strand,
  type TextAt,
} from '../../model/performance';
import { type Encoding, isText, type Smf, type SmfEvent, type SmfTrack } from './events';
import { decodeText, detectEncoding } from './text';

/** How a clock may be set: an upbeat in quarter notes, and the number of the first full bar. */
export interface ClockSetting {
  upbeatQuarters?: number;
  firstBar?: number;
}

/** The encoding of a file's texts. */
export const encodingOf = (smf: Smf): Encoding =>
  detectEncoding(smf.tracks.flatMap((track) => track.events.filter(isText).map((event) => event.bytes)));

/**
 * Reads a performance out of a file: pairs its notes, splits its tracks into
 * strands and builds its clock. A file timed in SMPTE frames has no bars of
 * its own; they are counted at 120 quarter notes a minute.
 */
export function readPerformance(
  smf: Smf,
  choice: ClockSetting = {},
  source: SourceId = FIRST_SOURCE,
): Performance {
  const encoding = encodingOf(smf);
  const mends = [...smf.mends];
  const everything = collect(smf, encoding, mends);
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
  const meters = withoutRepeats(
    onBarLines(oneAtATime(everything.meters, 'meter', mends), upbeat, ticksPerQuarter, mends),
    upbeat,
    ticksPerQuarter,
    mends,
  );
  const clock = makeClock({
    ticksPerQuarter,
    tempos,
    meters,
    upbeat,
    firstBar: choice.firstBar ?? 1,
  });
  const strands: Strand[] = [];
  const noteFree: NoteFreeTrack[] = [];
  const loose: LooseEvent[] = [];
  smf.tracks.forEach((track, index) => {
    if (track.absent) return;
    const found = strandsOf(track, source, index, everything.names[index]!, clock);
    if (found.length === 0)
      noteFree.push({ track: index, name: everything.names[index]!.track, carries: carried(track.events) });
    append(strands, found);
    append(loose, looseEvents(track, index, new Set(found.map((strand) => strand.channel))));
  });
  nameUnnamed(strands, everything.names, smf.format === 0);
  headNumbers(strands);
  const performance = withinLimits({
    source,
    title: titleOf(smf, everything.names, noteFree),
    ...copyrightOf(smf, encoding, mends),
    clock,
    strands,
    noteFree,
    tempos,
    meters,
    keys: oneAtATime(everything.keys, 'key signature', mends),
    markers: everything.markers,
    lyrics: everything.lyrics,
    loose,
    end: everything.end,
    beyond: 0,
    mends,
  });
  return withLost(smf, performance);
}

/** Says where a note that begins in the file is neither in a strand nor past what is read: counted from the events. */
function withLost(smf: Smf, performance: Performance): Performance {
  const begun = smf.tracks.reduce(
    (sum, { events }) => sum + events.reduce((own, { kind }) => own + (kind === 'noteOn' ? 1 : 0), 0),
    0,
  );
  const kept = performance.strands.reduce((sum, { notes }) => sum + notes.length, performance.beyond);
  if (begun === kept) return performance;
  const mend = {
    at: 0,
    what: `The file begins ${counted(begun, 'note')}, and ${kept.toLocaleString('en')} were read: a fault of this program.`,
    done: 'Look for them before anything is handed over.',
  };
  return { ...performance, mends: [...performance.mends, mend] };
}

/** Of several at one moment the last counts, as it does in the clock; where they contradict each other that is told. */
function oneAtATime<T extends { tick: number }>(changes: readonly T[], what: string, mends: Mend[]): T[] {
  const sorted = changes.toSorted((a, b) => a.tick - b.tick);
  return sorted.filter((change, index) => {
    const next = sorted[index + 1];
    if (next?.tick !== change.tick) return true;
    if (JSON.stringify(next) !== JSON.stringify(change))
      mends.push({
        at: 0,
        what: `Two ${what}s that contradict each other stand at tick ${change.tick.toLocaleString('en')}.`,
        done: 'The last one counts.',
      });
    return false;
  });
}

/** A meter this near to a bar line stands at it: nothing on paper is shorter than a 64th. Quarters. */
const BESIDE_LINE = 1 / 16;

/** Meters at the bar lines that they stand beside by a few ticks, which would make bars of no length; each is told. */
function onBarLines(
  meters: readonly MeterChange[],
  upbeat: number,
  ticksPerQuarter: number,
  mends: Mend[],
): MeterChange[] {
  let zero = upbeat;
  let bar = 4 * ticksPerQuarter;
  return meters
    .toSorted((a, b) => a.tick - b.tick)
    .map((meter) => {
      const after = meter.tick <= zero ? 0 : (meter.tick - zero) % bar;
      const away = after > bar / 2 ? after - bar : after;
      const isBeside = away !== 0 && Math.abs(away) < BESIDE_LINE * ticksPerQuarter;
      const tick = isBeside ? Math.round(meter.tick - away) : meter.tick;
      if (isBeside)
        mends.push({
          at: 0,
          what: `${meter.numerator}/${meter.denominator} stands ${counted(Math.abs(Math.round(away)), 'tick')} ${away > 0 ? 'after' : 'before'} a bar line.`,
          done: 'It begins the bar there.',
        });
      zero = Math.max(zero, tick);
      bar = (4 * ticksPerQuarter * meter.numerator) / meter.denominator;
      return { ...meter, tick };
    });
}

/** Meters without those that say again, inside a bar, what holds already: they begin no bar, and are told. */
function withoutRepeats(
  meters: readonly MeterChange[],
  upbeat: number,
  ticksPerQuarter: number,
  mends: Mend[],
): MeterChange[] {
  let holding: MeterChange | null = null;
  return meters.filter((meter) => {
    if (holding && holding.numerator === meter.numerator && holding.denominator === meter.denominator) {
      const bar = (4 * ticksPerQuarter * meter.numerator) / meter.denominator;
      const zero = holding.tick === 0 ? upbeat : holding.tick;
      if ((meter.tick - zero) % bar !== 0) {
        mends.push({
          at: 0,
          what: `${meter.numerator}/${meter.denominator} is said again inside a bar, ${Math.floor((meter.tick - zero) / bar) + 1} bars on from where it began.`,
          done: 'It begins no bar.',
        });
        return false;
      }
    }
    holding = meter;
    return true;
  });
}

/** No music pauses for so many bars: where nothing begins for longer, the file's time is broken (common practice). */
const LONGEST_PAUSE = 500;

/** The first bar that is not read, counted from 0, and why. */
function limitOf({ clock, strands, end }: Performance): { bar: number; why: string } | null {
  const onsets = Float64Array.from(strands.flatMap((strand) => strand.notes.map((note) => note.on))).sort();
  let before = 0;
  for (const onset of onsets) {
    const bar = barAt(clock, onset).index;
    if (bar >= MOST_BARS) break;
    if (bar - before > LONGEST_PAUSE && onset > onsets[0]!) {
      const many = (bar - before).toLocaleString('en');
      return {
        bar: before + 1,
        why: `The file’s time is broken after bar ${barOf(clock, before).number}: nothing begins for ${many} bars`,
      };
    }
    before = bar;
  }
  const bars = barAt(clock, Math.max(0, end - 1)).index + 1;
  if (bars <= MOST_BARS) return null;
  const goesOn = onsets.some((onset) => barAt(clock, onset).index >= MOST_BARS);
  return {
    bar: goesOn ? MOST_BARS : before + 1,
    why: `The file runs on for ${bars.toLocaleString('en')} bars`,
  };
}

/** Notes that sound for longer than anybody holds one are ended there. */
function endedInTime(performance: Performance): Performance {
  const { clock } = performance;
  const longest = 4 * LONGEST_HELD * clock.ticksPerQuarter;
  // What is shorter than this in any meter is looked at no closer: nearly all there is.
  const short = clock.meters.reduce(
    (least, { barTicks }) => Math.min(least, LONGEST_HELD * barTicks),
    longest,
  );
  let held = 0;
  const strands = performance.strands.map((strand) => {
    if (strand.notes.every(({ on, off }) => off - on < short)) return strand;
    const before = held;
    const notes = strand.notes.map((note) => {
      const from = barAt(clock, note.on).index;
      const isLong = barAt(clock, note.off).index - from > LONGEST_HELD;
      if (!isLong && note.off - note.on <= longest) return note;
      held++;
      const last = isLong ? Math.floor(barOf(clock, from + LONGEST_HELD).start) : note.off;
      return { ...note, off: Math.min(last, note.on + longest) };
    });
    return held === before ? strand : makeStrand({ ...strand, notes }, clock);
  });
  if (held === 0) return performance;
  const mend = {
    at: 0,
    what: `${counted(held, 'note')} ${held === 1 ? 'sounds' : 'sound'} for more than ${LONGEST_HELD} bars, or ${(4 * LONGEST_HELD).toLocaleString('en')} quarters.`,
    done: 'Ended there; the source keeps the rest.',
  };
  return { ...performance, strands, mends: [...performance.mends, mend] };
}

/** The performance up to where its time can be believed and worked with; what lies beyond is counted and said. */
function withinLimits(whole: Performance): Performance {
  const performance = endedInTime(whole);
  const { clock } = performance;
  const found = limitOf(performance);
  if (!found) return performance;
  const limit = barOf(clock, found.bar).start;
  const before = <T extends { tick: number }>(all: readonly T[]): T[] =>
    all.filter(({ tick }) => tick < limit);
  let beyond = 0;
  const tempos = before(performance.tempos);
  const meters = before(performance.meters);
  const { ticksPerQuarter, upbeat, firstBar } = clock;
  const shorter = makeClock({ ticksPerQuarter, tempos, meters, upbeat, firstBar });
  const strands = performance.strands.flatMap((strand) => {
    const notes = strand.notes
      .filter((note) => note.on < limit)
      .map((note) => (note.off > limit ? { ...note, off: Math.floor(limit) } : note));
    beyond += strand.notes.length - notes.length;
    const shaping = strand.shaping.filter(({ event }) => event.tick < limit);
    return notes.length > 0 ? [makeStrand({ ...strand, notes, shaping }, shorter)] : [];
  });
  const last = barOf(clock, found.bar - 1).number.toLocaleString('en');
  return {
    ...performance,
    clock: shorter,
    strands,
    tempos,
    meters,
    keys: before(performance.keys),
    markers: before(performance.markers),
    lyrics: before(performance.lyrics),
    loose: before(performance.loose),
    end: Math.floor(limit),
    beyond,
    mends: [
      ...performance.mends,
      {
        at: 0,
        what: `${found.why}, with ${counted(beyond, 'note')} after that.`,
        done: `Read to bar ${last}; the source keeps the rest.`,
      },
    ],
  };
}

interface TrackNames {
  track: string;
  byChannel: Map<number, string>;
}

/** No name, marker or syllable is longer: what is gets cut, and the source keeps it. Characters. */
const LONGEST_TEXT = 500;

function shown(text: string, mends: Mend[], track: number): string {
  if (text.length <= LONGEST_TEXT) return text;
  mends.push({
    at: 0,
    track,
    what: `A text of ${text.length.toLocaleString('en')} characters stands where a name or marker should.`,
    done: `Cut to ${LONGEST_TEXT}; the source keeps the rest.`,
  });
  return text.slice(0, LONGEST_TEXT);
}

function collect(smf: Smf, encoding: Encoding, mends: Mend[]) {
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
          const text = shown(decodeText(event.bytes, encoding), mends, index);
          if (text.trim())
            (event.kind === 'marker' ? markers : lyrics).push({ tick: event.tick, text, track: index });
          break;
        }
        case 'channelPrefix':
          prefix = event.channel;
          break;
        case 'trackName':
        case 'instrumentName': {
          const text = shown(decodeText(event.bytes, encoding).trim(), mends, index);
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
  shaping: Placed[];
  /** Sounding notes by key, oldest first: the first to start is the first to end. */
  open: Map<number, PlayedNote[]>;
}

function strandsOf(
  { events, numbers }: SmfTrack,
  source: SourceId,
  track: number,
  names: TrackNames,
  clock: Clock,
): Strand[] {
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
          id: eventId(strandId(source, track, event.channel), numbers?.[index] ?? index),
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
        strandAt(event.channel).shaping.push({ order: numbers?.[index] ?? index, event });
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
          id: strandId(source, track, channel),
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

/** The events of a track that go with no strand and are not part of the clock or of the names. */
function looseEvents(
  { events, numbers }: SmfTrack,
  track: number,
  channels: ReadonlySet<number>,
): LooseEvent[] {
  const loose: LooseEvent[] = [];
  events.forEach((event, index) => {
    const order = numbers?.[index] ?? index;
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
        if (!('channel' in event) || !channels.has(event.channel))
          loose.push({ track, tick: event.tick, order, use: useOf(event), native: event });
    }
  });
  return loose;
}

const USES: Partial<Record<SmfEvent['kind'], LooseUse>> = {
  lyric: 'lyric',
  cuePoint: 'cue',
  smpteOffset: 'timecode',
  sysex: 'system',
  escape: 'system',
};

const useOf = (event: SmfEvent): LooseUse => USES[event.kind] ?? 'other';

/** A loose event of a performance that `readPerformance` made, as it goes back into a file. */
export const looseSmfEvent = ({ native, tick }: Pick<LooseEvent, 'native' | 'tick'>): SmfEvent => ({
  ...(native as SmfEvent),
  tick,
});

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
  return NO_TITLE.test(name.trim()) ? '' : name;
}

/** What sequencers call the track of the clock, or a file that nobody named: no piece is called so. */
const NO_TITLE =
  /^(track ?\d*|clock|tempo( ?(map|track))?|conductor( ?track)?|meters?|click( ?track)?|master( ?track)?|global|control|setup|untitled|new song|sequence ?\d*|midi ?\d*)$/i;

/** The copyright notice of a file, which stands at its beginning (SMF 1.0). */
function copyrightOf(
  { tracks }: Smf,
  encoding: Parameters<typeof decodeText>[1],
  mends: Mend[],
): Pick<Performance, 'copyright'> {
  for (const [index, { events }] of tracks.entries())
    for (const event of events)
      if (event.kind === 'copyright') {
        const text = shown(decodeText(event.bytes, encoding).trim(), mends, index);
        if (text) return { copyright: text };
      }
  return {};
}

/** A name that is nothing but a number: "2.", "II", "3rd". */
const NUMBER_ALONE = /^\W*(\d{1,2}|[ivx]{1,4})(st|nd|rd|th)?\W*$/i;

/** Strands that are only numbered go on from the last name with words above them. */
function headNumbers(strands: Strand[]): void {
  let heading = '';
  for (const strand of strands) {
    if (NUMBER_ALONE.test(strand.name)) {
      if (heading !== '') strand.heading = heading;
    } else heading = strand.name;
  }
}
