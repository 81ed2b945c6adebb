import { describe, expect, it } from 'vitest';
import { performed } from '../../../tests/helpers/performed';
import { readMusicXml } from '../sources/musicxml/read';
import { performScore } from '.';
import { ALL_PLAYED, type PerformSettings } from './settings';

/**
 * Realisations are those of textbooks (common practice since the 19th century);
 * what each element means is the MusicXML 4.0 specification's (W3C).
 */
const note = (step: string, octave: number, duration: number, type: string, more = '') =>
  `<note><pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>${duration}</duration><voice>1</voice><type>${type}</type>${more}</note>`;
const notations = (inner: string) => `<notations>${inner}</notations>`;
const ornament = (inner: string) => notations(`<ornaments>${inner}</ornaments>`);
const words = (text: string) =>
  `<direction><direction-type><words>${text}</words></direction-type></direction>`;
const tempo = (figure: number) =>
  `<direction><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>${figure}</per-minute></metronome></direction-type></direction>`;

/** The notes and tempos of a violin part in G major. */
function played(measures: string[], settings: Partial<PerformSettings> = {}) {
  const score = performed(measures, settings);
  const per = score.ticksPerQuarter;
  return {
    performed: score,
    /** Onset and length in 32nds, key. */
    notes: score.parts[0]!.notes.map(({ on, off, key }) => [(8 * on) / per, (8 * (off - on)) / per, key]),
    tempos: score.tempos.map(({ tick, microsPerQuarter }) => [
      tick / per,
      Math.round(6e7 / microsPerQuarter),
    ]),
  };
}
const rest = (duration: number) => `<note><rest/><duration>${duration}</duration><voice>1</voice></note>`;

describe('ornaments are played out', () => {
  it.each<[string, string, number[][]]>([
    // F sharp is the neighbour below G and E in G major: the signature counts.
    [
      'a mordent goes down and back',
      '<mordent/>',
      [
        [0, 1, 67],
        [1, 1, 66],
        [2, 6, 67],
      ],
    ],
    [
      'an inverted mordent goes up and back',
      '<inverted-mordent/>',
      [
        [0, 1, 67],
        [1, 1, 69],
        [2, 6, 67],
      ],
    ],
    [
      'a turn goes around',
      '<turn/>',
      [
        [0, 1, 69],
        [1, 1, 67],
        [2, 1, 66],
        [3, 5, 67],
      ],
    ],
    [
      'an inverted turn goes around from below',
      '<inverted-turn/>',
      [
        [0, 1, 66],
        [1, 1, 67],
        [2, 1, 69],
        [3, 5, 67],
      ],
    ],
    [
      'a delayed turn takes the second half',
      '<delayed-turn/>',
      [
        [0, 4, 67],
        [4, 1, 69],
        [5, 1, 67],
        [6, 1, 66],
        [7, 1, 67],
      ],
    ],
    [
      'an accidental by the sign goes before the signature',
      '<turn/><accidental-mark placement="below">natural</accidental-mark>',
      [
        [0, 1, 69],
        [1, 1, 67],
        [2, 1, 65],
        [3, 5, 67],
      ],
    ],
  ])('%s', (_, inner, expected) => {
    expect(played([note('G', 4, 8, 'quarter', ornament(inner)) + rest(24)]).notes).toEqual(expected);
  });

  it('a trill alternates from its note, and ends on it', () => {
    const { notes } = played([note('E', 5, 16, 'half', ornament('<trill-mark/>')) + rest(16)]);
    expect(notes.length).toBe(15);
    expect(notes.map(([, , key]) => key)).toEqual(Array.from({ length: 15 }, (_, at) => (at % 2 ? 78 : 76)));
    expect(notes.reduce((sum, [, length]) => sum + length!, 0)).toBeCloseTo(16, 1);
  });

  it('tremolo strokes add to the flags that a value has', () => {
    const quarter = played([
      note('G', 4, 8, 'quarter', ornament('<tremolo type="single">2</tremolo>')) + rest(24),
    ]);
    expect(quarter.notes).toEqual([
      [0, 2, 67],
      [2, 2, 67],
      [4, 2, 67],
      [6, 2, 67],
    ]);
    const eighth = played([
      note('G', 4, 4, 'eighth', ornament('<tremolo type="single">1</tremolo>')) + rest(28),
    ]);
    expect(eighth.notes).toEqual([
      [0, 2, 67],
      [2, 2, 67],
    ]);
  });

  it('a tremolo between two notes takes turns over the time of both', () => {
    const half = (step: string, type: string) =>
      note(step, 4, 8, 'half', ornament(`<tremolo type="${type}">2</tremolo>`));
    const { notes } = played([half('G', 'start') + half('B', 'stop') + rest(16)]);
    expect(notes).toEqual([67, 71, 67, 71, 67, 71, 67, 71].map((key, at) => [2 * at, 2, key]));
  });

  it('half a tremolo between two notes is struck, and nothing of it is lost', () => {
    const half = (step: string, type: string) =>
      note(step, 4, 8, 'half', ornament(`<tremolo type="${type}">2</tremolo>`));
    expect(played([half('B', 'stop') + rest(24)]).notes).toEqual([[0, 8, 71]]);
    expect(played([half('G', 'start') + rest(24)]).notes).toEqual([[0, 8, 67]]);
  });

  it('a broken chord rolls from below, or from above where it says so', () => {
    const chord = (direction: string) =>
      ['C', 'E', 'G']
        .map((step, at) =>
          note(step, 4, 8, 'quarter', notations(`<arpeggiate${direction}/>`)).replace(
            '<note>',
            at > 0 ? '<note><chord/>' : '<note>',
          ),
        )
        .join('') + rest(24);
    expect(played([chord('')]).notes).toEqual([
      [0, 8, 60],
      [0.5, 7.5, 64],
      [1, 7, 67],
    ]);
    expect(played([chord(' direction="down"')]).notes).toEqual([
      [0, 8, 67],
      [0.5, 7.5, 64],
      [1, 7, 60],
    ]);
  });

  it('and none of it where it is not wanted', () => {
    const measure = note('G', 4, 8, 'quarter', ornament('<trill-mark/>')) + rest(24);
    expect(played([measure], { ornaments: false }).notes).toEqual([[0, 8, 67]]);
  });
});

describe('tempo changes by degrees', () => {
  const bar = note('G', 4, 32, 'whole');
  it('rit. slows down to the tempo that follows', () => {
    const { tempos } = played([tempo(120) + bar, words('rit.') + bar, tempo(60) + bar]);
    expect(tempos[0]).toEqual([0, 120]);
    expect(tempos.find(([at]) => at === 6)?.[1]).toBe(90);
    expect(tempos.at(-1)).toEqual([8, 60]);
    const falling = tempos.slice(1).every(([, pace], index) => pace! <= tempos[index]![1]!);
    expect(falling).toBe(true);
  });

  it.each(['Slow', 'Ritmico', 'Strings', 'Presto'])('“%s” is no change by degrees', (text) => {
    expect(played([tempo(100) + bar, words(text) + bar, bar]).tempos).toEqual([[0, 100]]);
  });

  it('a tempo goes back to what it was', () => {
    const { tempos } = played([tempo(100) + bar, words('poco rall.') + bar, words('a tempo') + bar]);
    expect(tempos.at(-1)).toEqual([8, 100]);
    expect(Math.min(...tempos.map(([, pace]) => pace!))).toBeGreaterThan(74);
    expect(Math.min(...tempos.map(([, pace]) => pace!))).toBeLessThan(80);
  });

  it('goes on under a fermata, which holds each of its degrees', () => {
    const held = bar.replace('</note>', '<notations><fermata/></notations></note>');
    const free = played([tempo(120) + bar, words('rit.') + bar, tempo(60) + bar]).tempos;
    const { tempos } = played([tempo(120) + bar, words('rit.') + held, tempo(60) + bar]);
    const under = tempos.filter(([at]) => at! >= 4 && at! < 8);
    expect(under).toHaveLength(8);
    for (const [at, pace] of under) {
      const without = free.findLast(([from]) => from! <= at!)![1]!;
      expect(Math.abs(pace! - without / 2)).toBeLessThanOrEqual(0.5);
    }
    expect(tempos.at(-1)).toEqual([8, 60]);
  });

  it('accel. gains speed, and none of it where it is not wanted', () => {
    const bars = [tempo(100) + bar, words('accel.') + bar, bar];
    expect(Math.max(...played(bars).tempos.map(([, pace]) => pace!))).toBeGreaterThan(120);
    expect(played(bars, { gradual: false }).tempos).toEqual([[0, 100]]);
  });

  it('a metric relation makes the one value as long as the other was', () => {
    const relation =
      '<direction><direction-type><metronome><beat-unit>quarter</beat-unit><beat-unit>quarter</beat-unit><beat-unit-dot/></metronome></direction-type></direction>';
    expect(played([tempo(80) + bar, relation + bar]).tempos).toEqual([
      [0, 80],
      [4, 120],
    ]);
  });
});

describe('dynamics become velocity', () => {
  const dynamics = (name: string) =>
    `<direction><direction-type><dynamics><${name}/></dynamics></direction-type></direction>`;
  const velocities = (measure: string) =>
    played([measure]).performed.parts[0]!.notes.map(({ velocity }) => velocity);
  const quarter = (more = '') => note('G', 4, 8, 'quarter', more);
  it('each a step louder than the one before', () => {
    const steps = ['ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff'].map(
      (name) => velocities(dynamics(name) + quarter() + rest(24))[0]!,
    );
    expect(steps).toEqual(steps.toSorted((a, b) => a - b));
    expect(new Set(steps).size).toBe(8);
  });
  it('sf is one note, fp is loud and then soft', () => {
    expect(velocities(dynamics('p') + quarter() + dynamics('sf') + quarter() + quarter() + rest(8))).toEqual([
      50, 75, 50,
    ]);
    const [loud, soft] = velocities(dynamics('fp') + quarter() + quarter() + rest(16));
    expect(loud! - soft!).toBeGreaterThan(20);
  });
  it('a hairpin that leads nowhere is one step', () => {
    const open = '<direction><direction-type><wedge type="crescendo"/></direction-type></direction>';
    const stop = '<direction><direction-type><wedge type="stop"/></direction-type></direction>';
    expect(velocities(dynamics('p') + open + quarter() + quarter() + quarter() + stop + quarter())).toEqual([
      50, 55, 60, 65,
    ]);
  });
  it('cresc. in words goes to the dynamic that follows', () => {
    const grown = velocities(
      dynamics('p') + words('cresc.') + quarter() + quarter() + quarter() + dynamics('f') + quarter(),
    );
    expect(grown).toEqual([50, 65, 80, 95]);
    const faded = velocities(
      dynamics('f') +
        words('poco a poco dim.') +
        quarter() +
        quarter() +
        dynamics('p') +
        quarter() +
        quarter(),
    );
    expect(faded).toEqual([95, 73, 50, 50]);
  });

  it('an accent adds, and nothing leaves 1 to 127', () => {
    const accent = notations('<articulations><accent/></articulations>');
    expect(velocities(dynamics('p') + quarter(accent) + rest(24))).toEqual([65]);
    expect(velocities(dynamics('fff') + quarter(accent) + rest(24))).toEqual([127]);
  });
});

describe('rehearsal marks', () => {
  it('that stand before the first bar sound with it', () => {
    const mark = '<direction><direction-type><rehearsal>A</rehearsal></direction-type></direction>';
    const { score } = readMusicXml(
      new TextEncoder().encode(
        `<score-partwise><part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list><part id="P1"><measure number="1"><attributes><divisions>1</divisions></attributes>${mark}<note><rest/><duration>4</duration></note></measure></part></score-partwise>`,
      ),
    );
    score.parts[0]!.bars[0]!.marks = [{ kind: 'rehearsal', text: 'A', at: -240 }];
    expect(performScore(score, ALL_PLAYED).markers).toEqual([{ tick: 0, text: 'A' }]);
  });
});

describe('words are sung', () => {
  const lyric = (verse: number, text: string, syllabic = 'single') =>
    `<lyric number="${verse}"><syllabic>${syllabic}</syllabic><text>${text}</text></lyric>`;
  it('verse by verse, and the first again in a pass that has none of its own, with hyphens where words go on', () => {
    const repeated = (...lyrics: string[]) =>
      `<barline location="left"><repeat direction="forward"/></barline>${lyrics
        .map((own, at) => note(at ? 'A' : 'G', 4, 16, 'half', own))
        .join('')}<barline location="right"><repeat direction="backward"/></barline>`;
    const sung = (measure: string) => performed([measure]).parts[0]!.lyrics.map(({ text }) => text);
    expect(sung(repeated(lyric(1, 'lan', 'begin'), lyric(1, 'tern', 'end')))).toEqual([
      'lan-',
      'tern',
      'lan-',
      'tern',
    ]);
    expect(sung(repeated(lyric(1, 'row') + lyric(2, 'sleep'), lyric(1, 'on')))).toEqual([
      'row',
      'on',
      'sleep',
    ]);
  });
});
