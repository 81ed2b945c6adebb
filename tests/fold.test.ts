import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { foldScore } from '@/core/edit/fold';
import { barKinds, barTexts, frameTexts, soundingBars, tiedBars } from '@/core/infer/form/alike';
import { findRepeats, findReturn } from '@/core/infer/form/repeats';
import { barsSpared } from '@/core/model/form';
import type { EventId, PartId } from '@/core/model/ids';
import type { Chord, PartBar, Score } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { performScore } from '@/core/perform';
import { playedOrder } from '@/core/perform/bar-order';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';

const BAR = 4 * QUARTER;
const STEPS = ['C', 'D', 'E', 'F', 'G', 'A', 'B'] as const;
const keyOf = (number: number) => 60 + 12 * Math.floor(number / 7) + [0, 2, 4, 5, 7, 9, 11][number % 7]!;
const KEYS = Array.from({ length: 26 }, (_, number) => keyOf(number));

interface Extras {
  lyrics?: boolean;
  /** Whether a bar's note is held into the next, where that has the same. */
  ties?: readonly boolean[];
}

/** A score of one part with a whole note a bar: bars of one letter are alike. A dot is a bar's rest. */
function scoreOf(form: readonly string[], { lyrics = false, ties = [] }: Extras = {}): Score {
  const isTied = (index: number) => ties[index] && form[index] !== '.' && form[index] === form[index + 1];
  const bar = (letter: string, index: number): PartBar => {
    const number = letter.charCodeAt(0) - 97;
    const chord: Chord = {
      kind: 'chord',
      onset: 0,
      duration: BAR,
      value: { type: 'whole', dots: 0 },
      notes: [
        {
          id: `n${index}`,
          key: keyOf(number),
          pitch: { step: STEPS[number % 7]!, alter: 0, octave: 4 + Math.floor(number / 7) },
          sources: [`1:0.${index}` as EventId],
          ...(isTied(index) && { tieStart: true as const }),
          ...(isTied(index - 1) && { tieStop: true as const }),
        },
      ],
      ...(lyrics && { lyrics: [{ text: `w${index}`, syllabic: 'single' }] }),
    };
    const rest = {
      kind: 'rest',
      onset: 0,
      duration: BAR,
      value: { type: 'whole', dots: 0 },
      wholeBar: true,
    } as const;
    return { voices: [{ voice: 1, staff: 1, items: [letter === '.' ? rest : chord] }] };
  };
  return {
    title: '',
    bars: form.map((_, index) => ({
      index,
      number: index + 1,
      start: index * BAR,
      length: BAR,
      meter: { numerator: 4, denominator: 4 },
      groups: [BAR],
      missing: 0,
    })),
    keys: [{ bar: 0, fifths: 0, minor: false }],
    tempos: [{ bar: 0, at: 0, quartersPerMinute: 90, printed: 90 }],
    rehearsals: [],
    parts: [
      {
        id: 'P1' as PartId,
        name: 'Flute',
        abbreviation: 'Fl.',
        instrument: 'flute',
        transposition: { chromatic: 0, diatonic: 0 },
        clefs: ['treble'],
        bars: form.map(bar),
      },
    ],
  };
}

function folded(form: readonly string[], extras: Extras = {}) {
  const score = scoreOf(form, extras);
  const kinds = barKinds([frameTexts(score), ...score.parts.map(barTexts)]);
  const played = {
    kinds,
    sounds: soundingBars(score.parts, form.length),
    tied: tiedBars(score.parts, form.length),
  };
  const repeats = findRepeats(played);
  const back = findReturn(played, repeats);
  return {
    plain: score,
    repeats,
    back,
    ...foldScore(score, back?.repeats ?? repeats, back?.goesBack ?? null),
  };
}

/** What a folded score sounds like, in letters. */
function unfolded({ score }: { score: Score }): string[] {
  const letter = (bar: number) => {
    const item = score.parts[0]!.bars[bar]!.voices[0]!.items[0]!;
    return item.kind === 'rest' ? '.' : String.fromCharCode(97 + KEYS.indexOf(item.notes[0]!.key));
  };
  return playedOrder(score.bars).map(({ bar }) => letter(bar));
}

/** When and which keys sound, as the score is played with its repeats. */
const soundOf = (score: Score) =>
  performScore(score).parts[0]!.notes.map(({ on, off, key }) => [on, off, key]);

const letters = (text: string) => [...text.replaceAll(' ', '')];
const told = (text: string) => {
  const found = folded(letters(text));
  expect(unfolded(found).join('')).toBe(text.replaceAll(' ', ''));
  return found;
};

describe('music that is played again becomes repeats', () => {
  it('a section twice', () => {
    const { repeats, score, again } = told('abcdefgh abcdefgh ijkl');
    expect(repeats).toEqual([{ from: 0, length: 8, passes: 2, ending: 0, lastEnding: 0 }]);
    expect(score.bars).toHaveLength(12);
    expect(score.bars[7]!.right).toMatchObject({ repeat: { direction: 'backward' } });
    expect(again).toBe(8);
    expect(score.parts[0]!.bars[0]!.voices[0]!.items[0]).toMatchObject({
      notes: [{ sources: ['1:0.0', '1:0.8'] }],
    });
  });

  it('first and second endings, as long as each other', () => {
    const { repeats, score } = told('i abcdefgh abcdefxy klmnop');
    expect(repeats).toEqual([{ from: 1, length: 8, passes: 1, ending: 2, lastEnding: 2 }]);
    expect(score.bars[1]!.left).toMatchObject({ repeat: { direction: 'forward' } });
    expect(score.bars[7]!.left).toMatchObject({ ending: { numbers: [1], type: 'start' } });
    expect(score.bars[8]!.right).toMatchObject({ ending: { numbers: [1], type: 'stop' } });
    expect(score.bars[9]!.left).toMatchObject({ ending: { numbers: [2], type: 'start' } });
  });

  it('three times, and twice with a third ending', () => {
    expect(told('abcdef abcdef abcdef').score.bars[5]!.right!.repeat).toEqual({
      direction: 'backward',
      times: 3,
    });
    expect(told('abcdefg abcdefg abcdefx yz').repeats).toEqual([
      { from: 0, length: 7, passes: 2, ending: 1, lastEnding: 1 },
    ]);
  });

  it('sections side by side, as in a march', () => {
    const { repeats } = told('abcdefgh abcdefgi jklmnopq jklmnopq');
    expect(repeats.map(({ from, ending }) => [from, ending])).toEqual([
      [0, 1],
      [16, 0],
    ]);
  });

  it('D.C. al Fine after a trio, repeats left out the second time', () => {
    const { back, score } = told('abcdefgh abcdefgh jklmnopq jklmnopq abcdefgh');
    expect(back?.goesBack).toMatchObject({ to: 0, fine: true, length: 8 });
    expect(score.bars).toHaveLength(16);
    expect(score.bars[7]!.jumps).toMatchObject([{ kind: 'fine' }]);
    expect(score.bars[15]!.jumps).toMatchObject([{ kind: 'da-capo', text: 'D.C. al Fine' }]);
  });

  it('D.S. al Coda', () => {
    const { back, score } = told('xy abcdefghi jklmnopq abcdefgh rstu');
    expect(back?.goesBack).toMatchObject({ to: 2, fine: false, length: 8 });
    expect(score.bars[2]!.jumps).toMatchObject([{ kind: 'segno' }]);
    expect(score.bars[9]!.jumps).toMatchObject([{ kind: 'to-coda' }]);
    expect(score.bars.at(-4)!.jumps).toMatchObject([{ kind: 'coda' }]);
  });

  it('a few bars, rests, and a bar that goes on are left as they are', () => {
    for (const text of ['ab ab cdef', '.... .... abcd .... ....', 'aaaaaa bcd'])
      expect(folded(letters(text)).score.bars).toHaveLength(letters(text).length);
  });

  it('what stands over later times alone is told', () => {
    const score = scoreOf(letters('abcdefgh abcdefgh'));
    score.rehearsals.push({ bar: 0, text: 'A' }, { bar: 8, text: 'B' });
    score.tempos.push({ bar: 10, at: 0, quartersPerMinute: 120, printed: 120 });
    const kinds = barKinds([frameTexts(score), ...score.parts.map(barTexts)]);
    const repeats = findRepeats({ kinds, sounds: kinds.map(() => true) });
    expect(foldScore(score, repeats, null).unsaid).toEqual([
      { bar: 8, text: 'rehearsal mark B' },
      { bar: 10, text: 'tempo 120' },
    ]);
  });

  it('words of later times are further verses', () => {
    const { score } = folded(letters('abcdefgh abcdefgh'), { lyrics: true });
    const first = score.parts[0]!.bars[0]!.voices[0]!.items[0] as Chord;
    expect(first.lyrics).toMatchObject([{ text: 'w0' }, { text: 'w8', verse: 2 }]);
  });

  it('a tie into what comes again rings on, and is held there', () => {
    const found = folded(letters('abcdefga abcdefga hijk'), {
      ties: letters('abcdefga abcdefga hijk').map((_, index) => index === 7),
    });
    expect(soundOf(found.score)).toEqual(soundOf(found.plain));
  });

  it('what is folded and played is what it was, whatever comes again (property)', () => {
    const section = fc.array(fc.constantFrom(...'abcdef.'), { minLength: 2, maxLength: 9 });
    const piece = fc
      .array(fc.tuple(section, fc.integer({ min: 1, max: 4 }), fc.nat(5)), { minLength: 1, maxLength: 5 })
      .chain((sections) =>
        fc.tuple(
          fc.constant(sections),
          fc.array(fc.nat(sections.length - 1), { minLength: 1, maxLength: 6 }),
        ),
      )
      .map(([sections, order]) =>
        order.flatMap((at) => {
          const [bars, times, ending] = sections[at]!;
          const passes = Array.from({ length: times }, () => [...bars]);
          if (ending > 0 && ending < bars.length)
            passes.at(-1)!.splice(-ending, ending, ...'xyzwv'.slice(0, ending));
          return passes.flat();
        }),
      );
    fc.assert(
      fc.property(piece, fc.infiniteStream(fc.boolean()), (form, ties) => {
        const found = folded(form, { ties: form.map(() => ties.next().value as boolean) });
        expect(unfolded(found).join('')).toBe(form.join(''));
        expect(soundOf(found.score)).toEqual(soundOf(found.plain));
        // The same holds for whoever opens the document.
        const { score } = readMusicXml(new TextEncoder().encode(writeMusicXml(found.score)));
        expect(soundOf(score)).toEqual(soundOf(found.plain));
        expect(found.writtenAs).toEqual(playedOrder(found.score.bars).map(({ bar }) => bar));
        const spared = (found.back?.repeats ?? found.repeats).reduce(
          (sum, each) => sum + barsSpared(each),
          0,
        );
        expect(found.score.bars.length + spared + (found.back?.goesBack.length ?? 0)).toBe(form.length);
      }),
      { numRuns: 500 },
    );
  });
});
