import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pitchKey, pitchName } from '../model/pitch';
import type { PartBar, UnplacedNote } from '../model/score';
import type { LocalKey } from '../model/sketch';
import { QUARTER } from '../model/time';
import { spell } from './spell';

const CONCERT = { diatonic: 0, chromatic: 0 };

/** One voice of quarter notes, four in a bar. */
const barsOf = (keys: readonly number[]): PartBar<UnplacedNote>[] =>
  Array.from({ length: Math.ceil(keys.length / 4) }, (_, bar) => ({
    voices: [
      {
        voice: 1,
        staff: 1,
        items: keys.slice(4 * bar, 4 * bar + 4).map((key, at) => ({
          kind: 'chord' as const,
          onset: at * QUARTER,
          duration: QUARTER,
          value: { type: 'quarter' as const, dots: 0 },
          notes: [{ id: `n${4 * bar + at}` as never, key, sources: [`s${4 * bar + at}` as never] }],
        })),
      },
    ],
  }));

const spelled = (
  keys: readonly number[],
  signature: number,
  local: LocalKey = { fifths: signature, minor: false },
) =>
  spell(barsOf(keys), CONCERT, {
    signatureIn: () => signature,
    localAt: () => local,
    startOf: (bar) => 4 * bar * QUARTER,
  });
const names = (...args: Parameters<typeof spelled>) => spelled(...args).map(pitchName);

// Chromatic scales and leading notes as handbooks of harmony spell them (common practice).
describe('spelling', () => {
  it('goes up by sharps and down by flats in C', () => {
    expect(names([60, 61, 62, 63, 64], 0)).toEqual(['C4', 'C♯4', 'D4', 'D♯4', 'E4']);
    expect(names([67, 66, 65, 64, 63, 62], 0).slice(4)).toEqual(['E♭4', 'D4']);
  });

  it('raises the seventh and the sixth of a minor key', () => {
    expect(names([69, 71, 72, 74, 76, 77, 80, 81], 0, { fifths: 0, minor: true })[6]).toBe('G♯5');
    expect(names([60, 62, 63, 65, 67, 68, 71, 72], -3, { fifths: -3, minor: true })[6]).toBe('B4');
  });

  it('follows the key that is heard where the signature stays', () => {
    // B major within a piece in G: D sharp, not E flat.
    expect(names([71, 75, 78, 71], 1, { fifths: 5, minor: false })).toEqual(['B4', 'D♯5', 'F♯5', 'B4']);
  });

  it('keeps the name of a note that comes again at once, where the key that is heard changes between', () => {
    // From six flats to three: G flat does not become F sharp under the player's hand.
    const pitches = spell(barsOf([66, 70, 66, 66, 66, 66, 67, 63]), CONCERT, {
      signatureIn: () => 0,
      localAt: (bar) => ({ fifths: bar === 0 ? -6 : -3, minor: false }),
      startOf: (bar) => 4 * bar * QUARTER,
    });
    expect(new Set(pitches.slice(2, 6).map(pitchName))).toEqual(new Set(['G♭4']));
  });

  it('looks for what a note resolves to beyond the next one', () => {
    const [up] = names([68, 60, 69, 72], 0);
    const [down] = names([68, 60, 67, 72], 0);
    expect([up, down]).toEqual(['G♯4', 'A♭4']);
  });

  it('never changes what sounds, in any signature', () => {
    const line = fc.array(fc.integer({ min: 48, max: 84 }), { minLength: 1, maxLength: 24 });
    fc.assert(
      fc.property(line, fc.integer({ min: -5, max: 3 }), fc.boolean(), (keys, signature, minor) => {
        const own = spelled(keys, signature, { fifths: signature, minor });
        expect(own.map(pitchKey)).toEqual(keys);
      }),
    );
  });
});
