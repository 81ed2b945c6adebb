import { append } from '../../basics/append';
import { asTitle, isRemark } from '../../basics/titles';
import { wordsOf } from '../../instruments/name-words';
import { isRole, recogniseInstrument } from '../../instruments/recognise';
import type { MeterChange, TempoChange } from '../../model/clock';
import { eventId, FIRST_SOURCE, type SourceId, strandId } from '../../model/ids';
import type { Mend } from '../../model/mend';
import type {
  KeyChange,
  LooseEvent,
  LooseUse,
  NoteFreeTrack,
  Performance,
  Placed,
  PlayedNote,
  StrandContent,
  TextAt,
  Unbarred,
} from '../../model/performance';
import { type ClockSetting, withBars } from '../bars';
import { withinLength } from '../texts';
import { type Encoding, isText, type Smf, type SmfEvent, type SmfTrack } from './events';
import { decodeText, detectEncoding } from './text';

/** The encoding of a file's texts. */
export const encodingOf = (smf: Smf): Encoding =>
  detectEncoding(smf.tracks.flatMap((track) => track.events.filter(isText).map((event) => event.bytes)));

/** What a file of events says of a performance: its notes paired, its tracks split into strands. */
export function unbarredOf(smf: Smf, source: SourceId): Unbarred {
  const encoding = encodingOf(smf);
  const mends = [...smf.mends];
  const { names, ...everything } = collect(smf, encoding, mends);
  const { ticksPerQuarter, tempos } = timeOf(smf, everything.tempos, mends);
  const strands: StrandContent[] = [];
  const noteFree: NoteFreeTrack[] = [];
  const loose: LooseEvent[] = [];
  let begun = 0;
  smf.tracks.forEach((track, index) => {
    const own = names[index]!;
    const found = strandsOf(track, source, index, own, smf.format === 0);
    if (found.length === 0) noteFree.push({ track: index, name: own.track, carries: carried(track.events) });
    append(strands, found);
    append(loose, looseEvents(track, index, new Set(found.map(({ channel }) => channel))));
    for (const { kind } of track.events) if (kind === 'noteOn') begun++;
  });
  return {
    source,
    title: titleOf(smf, names, noteFree),
    ...copyrightOf(smf, encoding, mends),
    ticksPerQuarter,
    strands,
    noteFree,
    ...everything,
    tempos,
    loose,
    begun,
    mends,
  };
}

/** A performance out of a file, with bars as they are set. */
export const readPerformance = (
  smf: Smf,
  setting: ClockSetting = {},
  source: SourceId = FIRST_SOURCE,
): Performance => withBars(unbarredOf(smf, source), setting);

/**
 * How a file counts time. One timed in SMPTE frames has no beats of its own: they are counted at
 * 120 quarter notes a minute, which no tempo in it changes.
 */
function timeOf(
  { division, format }: Smf,
  tempos: TempoChange[],
  mends: Mend[],
): Pick<Unbarred, 'ticksPerQuarter' | 'tempos'> {
  if (division.kind === 'smpte')
    mends.push({
      at: 12,
      what: 'The file counts time code, not beats.',
      done: 'Bars are counted at 120 quarter notes a minute.',
    });
  if (format === 2)
    mends.push({ at: 8, what: 'Format 2 holds independent patterns.', done: 'All start at the first bar.' });
  if (division.kind === 'quarter') return { ticksPerQuarter: division.ticks, tempos };
  const frames = division.framesPerSecond === 29 ? 30000 / 1001 : division.framesPerSecond;
  return { ticksPerQuarter: (frames * division.ticksPerFrame) / 2, tempos: [] };
}

interface TrackNames {
  track: string;
  byChannel: Map<number, string>;
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
          const text = withinLength(decodeText(event.bytes, encoding), mends, index);
          if (text.trim())
            (event.kind === 'marker' ? markers : lyrics).push({ tick: event.tick, text, track: index });
          break;
        }
        case 'channelPrefix':
          prefix = event.channel;
          break;
        case 'trackName':
        case 'instrumentName': {
          const text = withinLength(decodeText(event.bytes, encoding).trim(), mends, index);
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
  { events }: SmfTrack,
  source: SourceId,
  track: number,
  names: TrackNames,
  isOnlyTrack: boolean,
): StrandContent[] {
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
          id: eventId(strandId(source, track, event.channel), index),
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
  const strands: StrandContent[] = [];
  for (const [channel, made] of [...byChannel].sort((a, b) => a[0] - b[0])) {
    if (made.notes.length === 0) continue;
    for (const open of made.open.values())
      for (const note of open) {
        note.off = end;
        note.hanging = true;
      }
    strands.push({
      id: strandId(source, track, channel),
      track,
      channel,
      port,
      // The only track's name is the piece's: a strand there is told by its channel.
      name: names.byChannel.get(channel) ?? (isOnlyTrack ? '' : names.track),
      notes: made.notes,
      shaping: made.shaping,
    });
  }
  return strands;
}

/** The events of a track that go with no strand and are not part of the clock or of the names. */
function looseEvents({ events }: SmfTrack, track: number, channels: ReadonlySet<number>): LooseEvent[] {
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
        if (!('channel' in event) || !channels.has(event.channel))
          loose.push({ track, tick: event.tick, order, use: useOf(event), content: { native: event } });
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

/** The meta event of a lyric (SMF 1.0). */
const LYRIC = 5;

/** A loose event as it goes into a file: what came out of one as it was, a mere text in UTF-8. */
export const looseSmfEvent = ({ content, tick }: Pick<LooseEvent, 'content' | 'tick'>): SmfEvent =>
  'text' in content
    ? { kind: 'lyric', tick, type: LYRIC, bytes: new TextEncoder().encode(content.text) }
    : { ...(content.native as SmfEvent), tick };

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

/**
 * The first track's name, where that track is not music itself; else that of another one that
 * carries nothing that sounds and is called like no instrument.
 */
function titleOf(smf: Smf, names: readonly TrackNames[], noteFree: readonly NoteFreeTrack[]): string {
  const isFirst = smf.format === 0 || noteFree[0]?.track === 0;
  const first = isFirst ? asTitle(names[0]?.track ?? '') : '';
  if (first !== '' || smf.format === 0) return first;
  const others = noteFree.filter(
    ({ track, name, carries: { controllers, lyrics, sysex } }) =>
      track > 0 &&
      controllers + lyrics + sysex === 0 &&
      asTitle(name) !== '' &&
      !isRemark(name) &&
      !isCalledForSound(name),
  );
  return others[0]?.name ?? '';
}

/** Whether a name is that of an instrument, of what one does or of a player, and says nothing else. */
function isCalledForSound(name: string): boolean {
  const told = new Set(recogniseInstrument({ name, programs: [], channel: 0 }).words?.split(' '));
  return wordsOf(name).every((word) => told.has(word) || isRole(word) || /^(\d.*|[iv]+|[a-h])$/.test(word));
}

/** The copyright notice of a file, which stands at its beginning (SMF 1.0). */
function copyrightOf(
  { tracks }: Smf,
  encoding: Parameters<typeof decodeText>[1],
  mends: Mend[],
): Pick<Performance, 'copyright'> {
  for (const [index, { events }] of tracks.entries())
    for (const event of events)
      if (event.kind === 'copyright') {
        const text = withinLength(decodeText(event.bytes, encoding).trim(), mends, index);
        if (text) return { copyright: text };
      }
  return {};
}
