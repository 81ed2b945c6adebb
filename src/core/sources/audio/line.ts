import type { Steps } from '../../basics/steps';
import { factsOf, type SoundFacts } from '../../recording/levels';
import { type HeardNote, notesOfLine } from '../../recording/line-notes';
import { onsetsOf } from '../../recording/onsets';
import { trackPitch, tuningOf } from '../../recording/pitch-track';
import type { Sound } from '../../recording/sound';
import { BadSourceError } from '../refused';
import type { Smf, SmfEvent } from '../smf/events';

/** A single line as it is heard in a recording. */
export interface HeardLine {
  facts: SoundFacts;
  /** Cents above 440 Hz, taken out of the notes. */
  tuning: number;
  notes: HeardNote[];
}

/**
 * Listens to a recording of one voice, wind or string instrument, or of any other that plays one note at a time.
 * @throws BadSourceError where no note is heard, with a sentence for people
 */
export function* hearLine(sound: Sound): Steps<HeardLine> {
  const facts = factsOf(sound);
  const track = yield* trackPitch(sound);
  const notes = yield* notesOfLine(track, yield* onsetsOf(sound));
  if (notes.length === 0)
    throw new BadSourceError('No note is heard in this recording: is it silence, noise or speech?');
  return { facts, tuning: tuningOf(track), notes };
}

/** Fine enough that nothing is rounded: half a millisecond, at 120 quarter notes a minute. */
const TICKS_PER_QUARTER = 960;
const TICKS_PER_SECOND = 2 * TICKS_PER_QUARTER;

/** What was heard as a MIDI file, as it was played: without beats, which are found later. */
export function lineAsFile({ notes }: HeardLine, name: string): Smf {
  const text = new TextEncoder();
  const tick = (seconds: number) => Math.round(seconds * TICKS_PER_SECOND);
  const events: SmfEvent[] = [
    { kind: 'trackName', tick: 0, type: 3, bytes: text.encode(name) },
    ...notes.flatMap(({ on, off, key, velocity }): SmfEvent[] => [
      { kind: 'noteOn', tick: tick(on), channel: 0, key, velocity },
      {
        kind: 'noteOff',
        tick: Math.max(tick(on) + 1, tick(off)),
        channel: 0,
        key,
        velocity: 64,
        asNoteOn: false,
      },
    ]),
  ];
  // What ends comes before what begins at the same tick.
  const rank = ({ kind }: SmfEvent) => (kind === 'noteOff' ? 1 : kind === 'noteOn' ? 2 : 0);
  events.sort((a, b) => a.tick - b.tick || rank(a) - rank(b));
  return {
    format: 1,
    division: { kind: 'quarter', ticks: TICKS_PER_QUARTER },
    tracks: [
      { events: [{ kind: 'endOfTrack', tick: 0 }] },
      { events: [...events, { kind: 'endOfTrack', tick: events.at(-1)?.tick ?? 0 }] },
    ],
    otherChunks: [],
    mends: [],
  };
}
