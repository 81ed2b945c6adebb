import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { DEFAULT_HAND_OVER } from '@/core/decisions/kinds/hand-over';
import { deliverMidi } from '@/core/deliver';
import { deliverScore } from '@/core/deliver/score';
import { ALL_PLAYED } from '@/core/perform/settings';
import { timelineOf } from '@/core/sound/timeline';
import { BadSourceError } from '@/core/sources';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { readSmf } from '@/core/sources/smf/read';
import { unaccounted } from '@/core/transcribe';
import { stockOf } from '@/core/workbench/stock';
import { Workbench } from '@/core/workbench/workbench';
import { RICH } from './helpers/rich-document';

const DECISIONS: PlainDirective[] = [
  { kind: 'perform', ...ALL_PLAYED, dynamics: 'both' },
  { kind: 'transpose', strand: '1/t2c1', steps: 1, semitones: 2 },
  { kind: 'cast', strand: '1/t2c1', instrument: 'clarinet-bflat' },
  {
    kind: 'curve',
    lane: 'cc11',
    points: [
      { tick: 0, value: 1 },
      { tick: 960, value: 99 },
    ],
  },
  { kind: 'hand-over', ...DEFAULT_HAND_OVER, apart: ['techniques', 'players'], thin: 10 },
  { kind: 'score-form', pitch: 'concert', layout: 'left-out' },
];

/** Everything that the product does with a score, or the one sentence that refuses it. */
function through(text: string): string {
  try {
    const bytes = new TextEncoder().encode(text);
    const workbench = new Workbench([{ id: '1', version: 1, name: 'x.musicxml', bytes }]);
    const state = workbench.layOut(1, withDirectives(EMPTY_BRIEF, DECISIONS));
    const { desk } = state;
    finished(stockOf(state));
    const { transcription } = finished(workbench.write(1));
    expect(unaccounted(transcription.account)).toBe(0);
    readSmf(deliverMidi(desk));
    timelineOf(desk, 'cleaned', null);
    timelineOf(desk, 'score', transcription.score);
    const given = deliverScore(desk, transcription.score, 'musicxml');
    readMusicXml(given);
    // Undecided it goes out as it came, however damaged.
    const plain = workbench.layOut(2, EMPTY_BRIEF);
    const { score } = finished(workbench.write(2)).transcription;
    expect(deliverScore(plain.desk, score, 'musicxml')).toEqual(bytes);
    return 'done';
  } catch (error) {
    if (error instanceof BadSourceError) return error.message;
    throw error;
  }
}

const ELEMENTS = [...RICH.matchAll(/<([a-z-]+)(?:\s[^>]*)?>[^<]*<\/\1>|<[a-z-]+(?:\s[^>]*)?\/>/g)].map(
  ({ index, 0: text }) => ({ from: index, to: index + text.length }),
);

describe('damaged scores go the whole way, or end in a sentence', () => {
  it('as they are', () => {
    expect(through(RICH)).toBe('done');
  });

  it('with elements taken out, doubled and put elsewhere', () => {
    const damage = fc.record({
      what: fc.constantFrom('out', 'twice', 'elsewhere'),
      at: fc.nat(ELEMENTS.length - 1),
      to: fc.nat(ELEMENTS.length - 1),
    });
    fc.assert(
      fc.property(fc.array(damage, { minLength: 1, maxLength: 4 }), (all) => {
        // From the back, so that places before stay.
        const changes = all
          .flatMap(({ what, at, to }) => {
            const { from, to: end } = ELEMENTS[at]!;
            const text = RICH.slice(from, end);
            const out = { from, to: end, text: '' };
            if (what === 'out') return [out];
            if (what === 'twice') return [{ from: end, to: end, text }];
            const place = ELEMENTS[to]!.to;
            return place > from && place < end ? [out] : [out, { from: place, to: place, text }];
          })
          .sort((a, b) => b.from - a.from)
          .filter((change, index, sorted) => index === 0 || change.to <= sorted[index - 1]!.from);
        let text = RICH;
        for (const change of changes) text = text.slice(0, change.from) + change.text + text.slice(change.to);
        expect(through(text).length).toBeGreaterThan(0);
      }),
      { numRuns: 150 },
    );
  });

  it('with other numbers and words in them', () => {
    const values = [...RICH.matchAll(/>([^<\s][^<]*)</g)].map(({ index, 1: value }) => ({
      from: index + 1,
      to: index + 1 + value!.length,
    }));
    const put = fc.record({
      at: fc.nat(values.length - 1),
      value: fc.constantFrom('0', '-1', '999999999', '1e9', 'x', '0.3', '-99', '127', 'H', '&#0;'),
    });
    fc.assert(
      fc.property(fc.array(put, { minLength: 1, maxLength: 3 }), (all) => {
        let text = RICH;
        const sorted = all
          .toSorted((a, b) => b.at - a.at)
          .filter(({ at }, index, each) => at !== each[index - 1]?.at);
        for (const { at, value } of sorted)
          text = text.slice(0, values[at]!.from) + value + text.slice(values[at]!.to);
        expect(through(text).length).toBeGreaterThan(0);
      }),
      { numRuns: 150 },
    );
  });

  it('with bytes that are others', () => {
    const change = fc.tuple(
      fc.nat(RICH.length - 1),
      fc.constantFrom('', '<', '>', '/', '"', '9', ' ', '\u0000', 'é'),
    );
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 3 }), (all) => {
        let text = RICH;
        for (const [at, other] of all) text = text.slice(0, at) + other + text.slice(at + 1);
        expect(through(text).length).toBeGreaterThan(0);
      }),
      { numRuns: 150 },
    );
  });
});
