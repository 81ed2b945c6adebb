import type { Steps } from '../../basics/steps';
import { candidatesOf, PARTIALS } from '../../recording/candidates';
import { pictureOf } from '../../recording/constant-q';
import { AS_HEARD, type MaybeNote, oddsOf, take } from '../../recording/heard';
import { hearKeys } from '../../recording/hearing';
import { factsOf, type SoundFacts } from '../../recording/levels';
import { notesOfLine } from '../../recording/line-notes';
import { hearMix, type Mix } from '../../recording/mix';
import { MODEL_RATE, type NoteModel } from '../../recording/model-form';
import { onsetsOf } from '../../recording/onsets';
import { trackPitch, tuningOf } from '../../recording/pitch-track';
import { resampled } from '../../recording/resample';
import { LONGEST_HEARD, type Sound, tooLong } from '../../recording/sound';
import { weighed } from '../../recording/weigh';
import { BadSourceError } from '../refused';

/** All that may have been heard in a recording, as one line and as many notes at once. */
export interface Heard {
  facts: SoundFacts;
  /** Cents above 440 Hz, taken out of the notes. */
  tuning: number;
  /** What it is taken for as long as nothing is decided. */
  guess: 'line' | 'many';
  /** In order of beginning. */
  line: MaybeNote[];
  many: MaybeNote[];
  /** As a band; null in what was heard before bands were. */
  mix: Mix | null;
}

/** Single lines are followed in a sound of so many samples a second. */
const LINE_RATE = 16_000;
/** A recording is one line where less than this share of its notes begins while another sounds on. */
const ALONE = 0.1;
/** Seconds by which a note of a line may sound on into the next: rooms do that. */
const OVERHANG = 0.3;
/** Less than this many notes a minute, and softer at its loudest than −60 dB, is nothing. */
const FEWEST_A_MINUTE = 1;
const FLOOR = 0.001;

/**
 * Listens to a recording: for one line, and for many notes at once.
 * @throws BadSourceError where no note is heard, with a sentence for people
 */
export function* listen(sound: Sound, model: NoteModel): Steps<Heard> {
  const facts = factsOf(sound);
  if (facts.seconds > LONGEST_HEARD) throw new BadSourceError(tooLong(facts.seconds));
  if (facts.peak < FLOOR) throw new BadSourceError('This recording is silent.');
  const { samples } = resampled(sound, MODEL_RATE);
  yield;
  const hearing = yield* hearKeys(samples, model);
  const picture = yield* pictureOf({ samples, rate: MODEL_RATE }, hearing.perSecond);
  const many = yield* weighed(yield* candidatesOf(hearing, picture), hearing.perSecond);

  const mix = yield* hearMix({ samples, rate: MODEL_RATE }, hearing, picture);
  const { tuning, line } = yield* hearLine({ samples, rate: MODEL_RATE });
  const guess = guessOf(many);
  const notes = take(guess === 'line' ? line : many, AS_HEARD).notes;
  if (notes.length === 0 || notes.length < (FEWEST_A_MINUTE * facts.seconds) / 60)
    throw new BadSourceError('No note is heard in this recording: is it silence, noise or speech?');
  return { facts, tuning, guess, line, many, mix };
}

/** What may be heard in a recording of one voice or instrument that plays one note at a time. */
export function* hearLine(sound: Sound): Steps<Pick<Heard, 'tuning' | 'line'>> {
  const slow = resampled(sound, LINE_RATE);
  const track = yield* trackPitch(slow);
  const notes = yield* notesOfLine(track, yield* onsetsOf(slow), slow);
  // All of a line is taken as long as nothing is decided: half of a confidence of none is still enough.
  const line = notes.map(({ confidence, ...note }) => ({ ...note, says: oddsOf(0.5 + confidence / 2) }));
  return { tuning: tuningOf(track), line };
}

/** Whether one note sounds at a time. */
function guessOf(many: readonly MaybeNote[]): 'line' | 'many' {
  const { notes } = take(many, AS_HEARD);
  let together = 0;
  notes.forEach((note, at) => {
    const before = notes.slice(Math.max(0, at - 8), at);
    // What lies a partial apart may be one and the same.
    const isOther = (key: number) => key !== note.key && !PARTIALS.includes(Math.abs(key - note.key));
    if (before.some(({ off, key }) => isOther(key) && off > note.on + OVERHANG)) together++;
  });
  return together < ALONE * notes.length || notes.length === 0 ? 'line' : 'many';
}
