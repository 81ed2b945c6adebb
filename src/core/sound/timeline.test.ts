import { describe, expect, it } from 'vitest';
import { layOutFile } from '../../../tests/helpers/desk';
import { deskOf, madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import { EMPTY_BRIEF } from '../decisions/brief';
import { withDirectives } from '../decisions/decisions';
import type { PlainDirective } from '../decisions/kinds';
import { tidyFile } from '../demo/tidy';
import { untidyFile } from '../demo/untidy';
import type { EventId } from '../model/ids';
import { performScore } from '../perform';
import { ALL_PLAYED } from '../perform/settings';
import type { SmfEvent } from '../sources/smf/events';
import { readSmf } from '../sources/smf/read';
import { transcribeNow } from '../transcribe';
import { BEND, CONTROL, NOTE_OFF, NOTE_ON, PROGRAM, type Timeline } from './events';
import { heardAt, pieceAt } from './holds';
import { timelineOf } from './timeline';

const eventsOf = (timeline: Timeline) =>
  [...timeline.seconds].map((seconds, at) => [
    seconds,
    timeline.kind[at],
    timeline.channel[at],
    timeline.first[at],
    timeline.second[at],
  ]);

const shaping: SmfEvent[] = [
  { kind: 'control', tick: 0, channel: 0, controller: 0, value: 3 },
  { kind: 'program', tick: 0, channel: 0, program: 64 },
  { kind: 'control', tick: 240, channel: 0, controller: 64, value: 127 },
  { kind: 'pitchBend', tick: 300, channel: 0, value: 9000 },
  { kind: 'program', tick: 480, channel: 0, program: 12 },
];
const smf = () =>
  madeFile(
    madeTrack(
      'Alto sax',
      0,
      [
        [0, 480, 60],
        [480, 960, 60],
      ],
      shaping,
    ),
    madeTrack('Drums', 9, [[0, 60, 36]]),
  );
const made = (heard: 'source' | 'cleaned', ...directives: PlainDirective[]) =>
  timelineOf(deskOf(smf(), ...directives), heard, null);

describe('a timeline', () => {
  it('holds all that sounds in order of time, ends before beginnings', () => {
    expect(eventsOf(made('source')).filter((event) => event[2] === 0)).toEqual([
      [0, NOTE_ON, 0, 60, 80],
      [0.25, CONTROL, 0, 64, 127],
      [0.3125, BEND, 0, 9000 & 127, 9000 >> 7],
      [0.5, NOTE_OFF, 0, 60, 0],
      [0.5, PROGRAM, 0, 12, 0],
      [0.5, NOTE_ON, 0, 60, 80],
      [1, NOTE_OFF, 0, 60, 0],
    ]);
  });

  it('lets the source sound as it asks to, and the cleaned as it is cast', () => {
    expect(made('source').voicings).toEqual([
      { strand: '1/t1c1', channel: 0, program: 64, isDrum: false },
      { strand: '1/t2c10', channel: 1, program: 0, isDrum: true },
    ]);
    expect(made('cleaned').voicings[0]!.program).toBe(65);
  });

  it('leaves out of the cleaned what cleaning took out, and of the source nothing', () => {
    const gone: PlainDirective = { kind: 'key-switches', strand: '1/t1c1', keys: [60] };
    expect(made('cleaned', gone).voicings).toHaveLength(1);
    expect(made('source', gone).voicings).toHaveLength(2);
  });

  it('knows every beat and downbeat', () => {
    const { beats, end } = made('source');
    expect([...beats.seconds]).toEqual([0, 0.5, 1, 1.5]);
    expect([...beats.down]).toEqual([1, 0, 0, 0]);
    expect(end).toBe(1);
  });

  it('plays the score of a tidy file at the times of its source', () => {
    const desk = layOutFile(readSmf(tidyFile()), EMPTY_BRIEF);
    const { score } = transcribeNow(desk.performance, EMPTY_BRIEF);
    const strokes = (timeline: Timeline) =>
      eventsOf(timeline)
        .filter((event) => event[1] === NOTE_ON)
        .map((event) => `${event[0]!.toFixed(4)} ${event[3]}`)
        .sort();
    expect(strokes(timelineOf(desk, 'score', score))).toEqual(strokes(timelineOf(desk, 'source', null)));
  });

  it('plays the written notes as they were played: all of them, where and how they were struck', () => {
    const desk = layOutFile(readSmf(untidyFile()), EMPTY_BRIEF);
    const { score, account } = transcribeNow(desk.performance, EMPTY_BRIEF);
    const onsetsOf = (timeline: Timeline) =>
      eventsOf(timeline)
        .filter(([, kind]) => kind === NOTE_ON)
        .map(([seconds, , , key, velocity]) => `${seconds!.toFixed(4)} ${key} ${velocity}`)
        .sort();
    const played = onsetsOf(timelineOf(desk, 'score-played', score));
    expect(played).toHaveLength(account.written + account.graces);
    const source = new Set(onsetsOf(timelineOf(desk, 'source', null)));
    expect(played.filter((each) => !source.has(each))).toEqual([]);
    expect(played).not.toEqual(onsetsOf(timelineOf(desk, 'score', score)));
  });

  it('performs the page as the one performer does, marks and all, in the time of the source', () => {
    const shown: PlainDirective[] = [
      { kind: 'marks', what: 'dynamics', use: 'shown' },
      { kind: 'marks', what: 'hairpins', use: 'shown' },
      { kind: 'marks', what: 'accents', use: 'shown' },
    ];
    const settled = (...more: PlainDirective[]) => {
      const brief = withDirectives(EMPTY_BRIEF, [...shown, ...more]);
      const desk = layOutFile(readSmf(untidyFile()), brief);
      return { desk, score: transcribeNow(desk.performance, brief).score };
    };
    const strokes = (timeline: Timeline) =>
      eventsOf(timeline).filter(([, kind]) => kind === NOTE_ON || kind === NOTE_OFF || kind === CONTROL);
    const asLoud = (timeline: Timeline) =>
      new Set(strokes(timeline).map(([, , , , velocity]) => velocity)).size;

    const { desk, score } = settled();
    const performed = timelineOf(desk, 'score-performed', score);
    // The tempo of the page is that of the file, so its own clock says the same.
    const { parts, tempos, ticksPerQuarter } = performScore(score, { ...ALL_PLAYED, repeats: false });
    const seconds = (tick: number) =>
      tempos.reduce((sum, { tick: from, microsPerQuarter }, at) => {
        const to = Math.min(tick, tempos[at + 1]?.tick ?? tick);
        return to > from ? sum + ((to - from) * microsPerQuarter) / 1e6 / ticksPerQuarter : sum;
      }, 0);
    const expected = parts.flatMap(({ notes }, channel) =>
      notes.flatMap(({ on, off, key, velocity }) => [
        `${seconds(on).toFixed(3)} ${NOTE_ON} ${channel} ${key} ${velocity}`,
        `${seconds(off).toFixed(3)} ${NOTE_OFF} ${channel} ${key} 0`,
      ]),
    );
    const heard = strokes(performed)
      .filter(([, kind]) => kind !== CONTROL)
      .map(([at, ...rest]) => [at!.toFixed(3), ...rest].join(' '));
    expect(heard.sort()).toEqual(expected.sort());
    expect(asLoud(performed)).toBeGreaterThan(5);

    // What is switched off is not played out, and the bare page has no nuance.
    const even = settled({ kind: 'perform', dynamics: 'none', articulation: false });
    expect(asLoud(timelineOf(even.desk, 'score-performed', even.score))).toBeLessThan(asLoud(performed));
    expect(timelineOf(even.desk, 'score', even.score).seconds).toEqual(
      timelineOf(desk, 'score', score).seconds,
    );
  });

  it('waits at a fermata and slows down at a rit. that were put in by hand, and not where the piece does itself', () => {
    const line: Stroke[] = Array.from({ length: 16 }, (_, at) => [at * 480, at * 480 + 470, 60 + (at % 5)]);
    const heard = (events: SmfEvent[], ...directives: PlainDirective[]) => {
      const brief = withDirectives(EMPTY_BRIEF, directives);
      const desk = layOutFile(madeFile({ events }, madeTrack('Flute', 0, line)), brief);
      return timelineOf(desk, 'score-performed', transcribeNow(desk.performance, brief).score);
    };
    const note = (at: number): EventId => `1/t2c1/${1 + at * 2}`;
    const fermata: PlainDirective = { kind: 'sign', note: note(3), sign: 'fermata', put: true };
    const rit: PlainDirective = { kind: 'sign', note: note(8), sign: 'words', put: true, text: 'rit.' };
    expect(heard([]).holds).toBeNull();
    const { holds, seconds } = heard([], fermata, rit);
    // The fourth of the quarters lasts for two (common practice); notes keep their places in the piece.
    expect([1.5, 2, 4].map((at) => heardAt(holds, at))).toEqual([1.5, 2.5, 4.5]);
    expect(seconds[2]).toBeCloseTo(0.5);
    // Two bars by degrees to three quarters of the tempo: longer than they were, and no longer than all at the end.
    expect(heardAt(holds, 8) - 0.5).toBeGreaterThan(8.2);
    expect(heardAt(holds, 8) - 0.5).toBeLessThan(4 + 4 / 0.75);
    expect(pieceAt(holds, heardAt(holds, 7.3))).toBeCloseTo(7.3);
    const off: PlainDirective = { kind: 'perform', fermatas: false, gradual: false };
    expect(heard([], fermata, rit, off).holds).toBeNull();
    // The player held it: the clock of the piece has it.
    const slower: SmfEvent[] = [
      { kind: 'tempo', tick: 3 * 480, microsPerQuarter: 900_000 },
      { kind: 'tempo', tick: 4 * 480, microsPerQuarter: 500_000 },
    ];
    expect(heard(slower, fermata).holds).toBeNull();
  });
});
