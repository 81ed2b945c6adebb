import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF, parseBrief } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import { KINDS, type KindName, type PlainDirective } from '@/core/decisions/kinds';
import { DEFAULT_HAND_OVER } from '@/core/decisions/kinds/hand-over';
import { deliverMidi } from '@/core/deliver';
import { barTable } from '@/core/deliver/bar-table';
import { deliverScore } from '@/core/deliver/score';
import { ALL_PLAYED } from '@/core/perform/settings';
import { stockOf } from '@/core/workbench/stock';
import { Workbench } from '@/core/workbench/workbench';
import { RICH } from './helpers/rich-document';

const bytes = new TextEncoder().encode(RICH);

/** A hand-over in which everything of the source goes out. */
const AS_IT_IS: PlainDirective = {
  kind: 'hand-over',
  ...DEFAULT_HAND_OVER,
  form: 'full',
  channels: 'source',
  programs: 'source',
};

/** Everything that a job with a score hands over under decisions, as text, and what it says of them. */
function under(...directives: PlainDirective[]) {
  const workbench = new Workbench([{ id: '1', version: 1, name: 'x.musicxml', bytes }]);
  const brief = parseBrief(withDirectives(EMPTY_BRIEF, [AS_IT_IS, ...directives]));
  const state = workbench.layOut(1, brief);
  const { refusals } = finished(stockOf(state));
  const { desk } = state;
  const { transcription } = finished(workbench.write(1));
  const made = [
    Buffer.from(deliverScore(desk, transcription.score, 'musicxml')).toString('base64'),
    Buffer.from(deliverMidi(desk, desk.decisions.handOver, transcription)).toString('base64'),
    JSON.stringify(barTable(desk.performance, '25')),
  ].join('\n');
  return { made, told: refusals.map(({ why }) => why) };
}

const HORN = '1/t2c1' as const;
const HARP = '1/t3c2' as const;
const NOTE = '1/t2c1/0' as const;

/** A decision of each kind that would do something to a performance. */
const SAMPLES: Record<KindName, PlainDirective> = {
  again: { kind: 'again', strand: HORN, again: true },
  add: { kind: 'add', note: '1/t2c1/9000000', strand: HORN, on: 0, off: 480, key: 60, velocity: 80 },
  'bar-sign': { kind: 'bar-sign', at: '4', what: 'rehearsal', put: true, text: 'A' },
  beats: { kind: 'beats', ticks: [0, 480, 900, 1500, 2000], perBar: 4, first: 0, bars: [0], unit: 1 },
  brackets: { kind: 'brackets', groups: [{ from: HORN, to: HARP, symbol: 'bracket', joined: true }] },
  cast: { kind: 'cast', strand: HORN, instrument: 'flute' },
  clef: { kind: 'clef', strand: HORN, clef: 'alto' } as never,
  channel: { kind: 'channel', strand: HORN, channel: 7 },
  'clock-event': { kind: 'clock-event', what: 'tempo', tick: 0, mend: 'drop' },
  'clock-from': { kind: 'clock-from', source: '2' },
  clock: { kind: 'clock', firstBar: 5 },
  controllers: { kind: 'controllers', lanes: ['cc64'], use: 'remove' },
  credits: { kind: 'credits', composer: 'Somebody' },
  curve: {
    kind: 'curve',
    lane: 'cc11',
    points: [
      { tick: 0, value: 1 },
      { tick: 960, value: 99 },
    ],
  },
  drop: { kind: 'drop', note: NOTE, out: true },
  drum: { kind: 'drum', strand: HORN, key: 38, place: 'E4', head: 'x', foot: false } as never,
  frets: { kind: 'frets', strand: HARP, show: 'tab' } as never,
  grid: { kind: 'grid', smallest: 'eighth', triplets: false },
  groups: { kind: 'groups', numerator: 5, denominator: 4, groups: [2, 3], from: 0 },
  'hand-over': { kind: 'hand-over', ...DEFAULT_HAND_OVER, leadInBars: 2 },
  hanging: { kind: 'hanging', close: true },
  hearing: { kind: 'hearing', read: 'line', threshold: 0.5, rules: [], from: null, to: null },
  join: { kind: 'join', strand: HARP, into: HORN },
  'key-switches': { kind: 'key-switches', strand: HORN, keys: [59, 62] },
  key: { kind: 'key', fifths: 3, minor: false },
  kit: { kind: 'kit', strand: HORN, keys: [{ from: 59, to: 62 }] },
  lead: { kind: 'lead', strand: HORN, milliseconds: 50 },
  leads: { kind: 'leads', source: '2' },
  'leave-out': { kind: 'leave-out', strand: HARP, out: true },
  lengths: { kind: 'lengths', closing: 0, from: 0 },
  line: { kind: 'line', note: NOTE, voice: 2 } as never,
  marks: { kind: 'marks', what: 'dynamics', use: 'shown' },
  meant: { kind: 'meant', oddity: 'x', meant: true },
  meter: { kind: 'meter', numerator: 3, denominator: 4, upbeatQuarters: 0 },
  name: { kind: 'name', strand: HORN, name: 'Solo' },
  offset: { kind: 'offset', ticks: 240 },
  order: { kind: 'order', strands: [HARP, HORN] },
  part: { kind: 'part', strand: '0/t1c1', instrument: 'flute' } as never,
  perform: { kind: 'perform', ...ALL_PLAYED, repeats: false },
  pitch: { kind: 'pitch', note: NOTE, steps: 1, semitones: 2 },
  'play-like': { kind: 'play-like', source: '2', takes: ['velocity'] },
  place: { kind: 'place', note: NOTE, start: '1' },
  played: { kind: 'played', note: NOTE, velocity: 1 },
  programs: { kind: 'programs', strand: HORN, use: 'instrument' },
  reference: { kind: 'reference', offset: 1 },
  repeats: { kind: 'repeats', use: 'folded' },
  'score-form': { kind: 'score-form', pitch: 'concert', layout: 'kept' },
  shorthand: { kind: 'shorthand', use: 'bar-repeats', strand: HORN } as never,
  sign: { kind: 'sign', note: NOTE, sign: 'staccato', put: true } as never,
  silence: { kind: 'silence', trim: true },
  specks: { kind: 'specks', under: 500 },
  split: { kind: 'split', strand: HARP, by: 'pitch', key: 62 },
  stacked: { kind: 'stacked', mend: true },
  staves: { kind: 'staves', strand: HORN, staves: 2 },
  stem: { kind: 'stem', stem: 'a', muted: true },
  string: { kind: 'string', note: NOTE, string: 2 } as never,
  swing: { kind: 'swing', use: 'swung', value: 'eighth', ratio: 0.6 } as never,
  take: { kind: 'take', source: '1', version: 2, fromBar: 1 },
  technique: { kind: 'technique', strand: HORN, technique: 'muted' } as never,
  title: { kind: 'title', title: 'Another' },
  transpose: { kind: 'transpose', strand: HORN, steps: 1, semitones: 2 },
  values: { kind: 'values', dots: 0, short: 'rests', from: 0 },
  vary: { kind: 'vary', time: 50, velocity: 20, seed: 1 },
  velocities: { kind: 'velocities', scale: 100, level: 20, strength: 100 },
  version: { kind: 'version', source: '1', version: 9 },
  voices: { kind: 'voices', most: 1, from: 0 },
  write: { kind: 'write', note: '1/t2c1/9000000', strand: HORN, start: '0', end: '1', key: 60 },
};

/** These are about nothing that goes out, or find nothing to do in this score. */
const QUIET: ReadonlySet<KindName> = new Set<KindName>(['meant', 'reference', 'stem', 'hanging', 'silence']);

const plain = under();

describe('a decision about a score', () => {
  for (const kind of Object.keys(KINDS) as KindName[])
    it(`does something, or is told to do nothing: ${kind}`, () => {
      const { made, told } = under(SAMPLES[kind]);
      const isOther = made !== plain.made;
      if (QUIET.has(kind)) return expect(isOther).toBe(false);
      expect([isOther, told.length > plain.told.length]).toContain(true);
    });
});
