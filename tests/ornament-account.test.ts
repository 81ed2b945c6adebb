import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { lostInCleaning } from '@/core/clean/desk';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import { deliverMidi } from '@/core/deliver';
import { OFFERED, type Offered } from '@/core/model/offers';
import { unaccounted } from '@/core/transcribe';
import { Workbench } from '@/core/workbench/workbench';
import { madeQuartet } from './helpers/made-quartet';

const bytesOf = (text: string) => new TextEncoder().encode(text);

/** Notes of which nothing is known when a played score is read with marks of some kinds. */
function lostWith(midi: Uint8Array, kinds: readonly Offered[]): number {
  const workbench = new Workbench([{ id: '1', version: 1, name: 'q.mid', bytes: midi }]);
  const brief = withDirectives(
    EMPTY_BRIEF,
    kinds.map((what) => ({ kind: 'marks' as const, what, use: 'shown' as const })),
  );
  const { desk } = workbench.layOut(1, brief);
  const { account } = finished(workbench.write(1)).transcription;
  return unaccounted(account) + lostInCleaning(desk);
}

describe('signs that stand for many strokes', () => {
  it('have each stroke once, whatever else is near', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 10_000 }), (seed) => {
        const workbench = new Workbench([
          { id: '1', version: 1, name: 'q.musicxml', bytes: bytesOf(madeQuartet(seed)) },
        ]);
        const midi = deliverMidi(workbench.layOut(0, EMPTY_BRIEF).desk);
        for (const kinds of [['trills'], ['tremolos'], OFFERED] as const)
          expect(lostWith(midi, kinds)).toBe(0);
      }),
      // Seeds under which a trill took strokes of another, or of a tremolo.
      { examples: [[0], [3], [20], [89], [103]], numRuns: 20 },
    );
  });
});
