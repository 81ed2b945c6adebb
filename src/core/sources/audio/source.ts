import { eventId, orderOf, type SourceId, strandId } from '../../model/ids';
import {
  NOTHING_CARRIED,
  type Placed,
  type PlayedNote,
  type StrandContent,
  type Unbarred,
} from '../../model/performance';
import { type HearingSettings, type Read, type Taken, type TakenNote, take } from '../../recording/heard';
import type { Mix } from '../../recording/mix';
import { arranged } from '../../recording/mix/arrange';
import { inTurn, USUAL_RELEASE } from '../one-channel';
import type { Heard } from './listen';

/** A recording as a source: what may have been heard in it, and what is taken of that. */
export interface HeardReading {
  heard: Heard;
  /** As which it is read. */
  read: Read;
  taken: Taken;
  /** The beats that are heard in a band, in ticks of what is played; null where they are found in its notes. */
  beats: { ticks: number[]; perBar: number; first: number } | null;
  /** As it was played, without beats, which are found later. */
  played: Unbarred;
}

/** Fine enough that nothing is rounded: half a millisecond, at 120 quarter notes a minute. */
const TICKS_PER_QUARTER = 960;
const TICKS_PER_SECOND = 2 * TICKS_PER_QUARTER;
/** A bend of so many cents is the whole of it (General MIDI: two semitones either way). */
const WHOLE_BEND = 200;
/** Less is no bend; cents. */
const LEAST_BEND = 8;
const CENTRE = 8192;
/** A recording is one strand: the first channel of the first track. */
const CHANNEL = 0;

/** What is taken of a recording under some settings. */
export function heardAs(
  heard: Heard,
  settings: HearingSettings,
  source: SourceId,
  name: string,
): HeardReading {
  const { mix } = heard;
  const wanted = settings.read ?? heard.guess;
  if (wanted === 'mix' && mix) return mixAs(heard, mix, settings, source, name);
  // What was heard before bands were is what it was taken for then.
  const read = wanted === 'mix' ? heard.guess : wanted;
  const taken = take(heard[read], settings);
  return {
    heard,
    read,
    taken,
    beats: null,
    played: playedBy(taken.notes, source, name, read === 'line'),
  };
}

const tickOf = (seconds: number): number => Math.round(seconds * TICKS_PER_SECOND);

/** Fewer beats are followed nowhere. */
const FEWEST_BEATS = 4;

/** What is made of a band: each of its lines a strand, its chords by name along it. */
function mixAs(
  heard: Heard,
  mix: Mix,
  settings: HearingSettings,
  source: SourceId,
  name: string,
): HeardReading {
  const { lines, symbols } = arranged(mix, settings);
  const markers = symbols.map(({ at, text }) => ({ tick: tickOf(at), text, track: 0, chord: true as const }));
  const strands = lines.map(({ name: own, track, program, notes }) => {
    const channel = track - 1;
    const id = strandId(source, channel, channel);
    return {
      id,
      track: channel,
      channel,
      port: null,
      name: own,
      notes: inTurn(
        notes
          .map(({ on, off, key, velocity, index, confidence }): PlayedNote => {
            const from = tickOf(on);
            return {
              id: eventId(id, numberOf(index)),
              on: from,
              off: Math.max(from + 1, tickOf(off)),
              key,
              velocity,
              release: USUAL_RELEASE,
              confidence,
            };
          })
          .sort((a, b) => a.on - b.on || orderOf(a) - orderOf(b)),
      ),
      shaping: [{ order: 0, event: { kind: 'program' as const, tick: 0, channel, program } }],
    };
  });
  const taken = take(
    [...mix.tune, ...mix.bass].sort((a, b) => a.on - b.on),
    { ...settings, rules: [] },
  );
  const ticks = mix.beats.map(tickOf);
  return {
    heard,
    read: 'mix',
    taken,
    beats: ticks.length < FEWEST_BEATS ? null : { ticks, perBar: mix.perBar, first: mix.first },
    played: { ...unbarred(source, name, strands), markers },
  };
}

/** Each may-be note has a number of its own, whatever is taken: what was decided about a note finds it again. */
const numberOf = (index: number): number => 1 + index;

function playedBy(notes: readonly TakenNote[], source: SourceId, name: string, bends: boolean): Unbarred {
  const tick = (seconds: number) => Math.round(seconds * TICKS_PER_SECOND);
  const strand = strandId(source, 0, CHANNEL);
  const last = 1 + notes.reduce((most, { index }) => Math.max(most, numberOf(index)), 0);
  const played: PlayedNote[] = [];
  const shaping: Placed[] = [];
  let bent = 0;
  for (const { on, off, key, velocity, cents, index, confidence } of notes) {
    const number = numberOf(index);
    const from = tick(on);
    const to = Math.max(from + 1, tick(off));
    const id = eventId(strand, number);
    played.push({ id, on: from, off: to, key, velocity, release: USUAL_RELEASE, confidence });
    const bend = Math.abs(cents) < LEAST_BEND ? 0 : Math.round((cents / WHOLE_BEND) * CENTRE);
    if (bends && bend !== bent) {
      const at = Math.max(0, from - 1);
      shaping.push({
        order: 2 * last + number,
        event: { kind: 'pitchBend', tick: at, channel: CHANNEL, value: CENTRE + bend },
      });
      bent = bend;
    }
  }
  played.sort((a, b) => a.on - b.on || orderOf(a) - orderOf(b));
  shaping.sort((a, b) => a.event.tick - b.event.tick || a.order - b.order);
  const own = { id: strand, track: 0, channel: CHANNEL, port: null, name, notes: inTurn(played), shaping };
  return unbarred(source, name, played.length === 0 ? [] : [own]);
}

/** What is played of a recording; a track without notes where nothing is. */
function unbarred(source: SourceId, name: string, strands: readonly StrandContent[]): Unbarred {
  const isSilent = strands.length === 0;
  const notes = strands.flatMap((strand) => strand.notes);
  return {
    source,
    title: isSilent ? name : '',
    ticksPerQuarter: TICKS_PER_QUARTER,
    tempos: [],
    meters: [],
    keys: [],
    markers: [],
    lyrics: [],
    strands,
    noteFree: isSilent ? [{ track: 0, name, carries: NOTHING_CARRIED }] : [],
    loose: [],
    end: notes.reduce((latest, { off }) => Math.max(latest, off), 0),
    begun: notes.length,
    mends: [],
  };
}
