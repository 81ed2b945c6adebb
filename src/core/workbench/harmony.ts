import { lastAtOrBefore } from '../basics/search';
import { beatsOfFrame } from '../model/beats';
import { chordText } from '../model/chord-text';
import { chordTones } from '../model/chord-tones';
import type { ChordSymbol, Root } from '../model/marks';
import { keyAlter, movedBy, STEPS } from '../model/pitch';
import { barIndexOf, keyInBar, type Transposition, withinSix, writtenFifths } from '../model/score';
import type { Moment } from '../model/time';
import type { Told, Transcription } from '../transcribe';

/** The chord and the key in force at a moment, as a part writes them. */
export interface Harmony {
  /** The chord and its tones; absent where none is heard or written. */
  chord?: { name: string; tones: Root[] };
  /** Signature and tones of the key that is heard there. */
  key: { fifths: number; minor: boolean; tones: Root[] };
}

/** @param transposition of the part that reads it */
export function harmonyAt(
  { score, frame, tonality }: Transcription,
  { offers }: Told,
  moment: Moment,
  transposition: Transposition,
): Harmony {
  const bar = barIndexOf(frame.bars, moment);
  const written = (root: Root): Root => {
    const { step, alter } = movedBy(
      { ...root, octave: 4 },
      { diatonic: -transposition.diatonic, chromatic: -transposition.chromatic },
    );
    return { step, alter };
  };
  const beat = lastAtOrBefore(beatsOfFrame(frame), moment, ({ start }) => start);
  const { fifths: heard, minor } = tonality[Math.max(0, beat)] ?? keyInBar(score, bar);
  const own = writtenFifths(heard, transposition);
  const fifths = Math.abs(own) > 7 ? withinSix(own) : own;
  // The tonic of a major key is as many fifths from C as its signature has sharps; of a minor one three more.
  const tonic = (((4 * (fifths + (minor ? 3 : 0))) % 7) + 7) % 7;
  const scale = STEPS.map((_, at): Root => {
    const step = STEPS[(tonic + at) % 7]!;
    return { step, alter: keyAlter(fifths, step) };
  });
  const symbol = writtenChord() ?? heardChord();
  const key = { fifths, minor, tones: scale };
  if (!symbol) return { key };
  const spelled: ChordSymbol = {
    ...symbol,
    root: written(symbol.root),
    ...(symbol.bass && { bass: written(symbol.bass) }),
  };
  return { chord: { name: chordText(spelled), tones: chordTones(spelled) }, key };

  /** The last chord symbol that stands in a part. */
  function writtenChord(): ChordSymbol | undefined {
    let last: { at: Moment; symbol: ChordSymbol } | undefined;
    for (const part of score.parts)
      for (const [index, { marks = [] }] of part.bars.slice(0, bar + 1).entries())
        for (const mark of marks) {
          const at = frame.bars[index]!.start + mark.at;
          if (mark.kind === 'chord-symbol' && at <= moment && at >= (last?.at ?? 0))
            last = { at, symbol: mark.symbol };
        }
    return last?.symbol;
  }

  /** What sounds there, where a chord is heard. */
  function heardChord(): ChordSymbol | undefined {
    for (const own of offers) {
      const found = own.findLast(
        ({ kind, from, to = from }) => kind === 'chords' && from <= moment && moment < to,
      );
      if (found) return found.symbol;
    }
    return undefined;
  }
}
