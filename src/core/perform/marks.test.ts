import { describe, expect, it } from 'vitest';
import { performed } from '../../../tests/helpers/performed';
import { numbersIn } from './players';
import type { PerformSettings } from './settings';

/** What each element means is the MusicXML 4.0 specification's (W3C); realisations are common practice, as named where they are made. */
const note = (step: string, octave: number, duration: number, more = '', before = '') =>
  `<note>${before}<pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>${duration}</duration><voice>1</voice><type>quarter</type>${more}</note>`;
const notations = (inner: string) => `<notations>${inner}</notations>`;
const said = (inner: string) => `<direction><direction-type>${inner}</direction-type></direction>`;
const words = (text: string) => said(`<words>${text}</words>`);
const rest = (duration: number) => `<note><rest/><duration>${duration}</duration><voice>1</voice></note>`;
const chord = (...pitches: [string, number][]) =>
  pitches.map(([step, octave], index) => note(step, octave, 8, '', index > 0 ? '<chord/>' : '')).join('');

/** A part as it is played, with what shapes it. */
function played(measures: string[], settings: Partial<PerformSettings> = {}, name = 'Violin') {
  const score = performed(measures, settings, name);
  const per = score.ticksPerQuarter;
  const [part] = score.parts;
  return {
    ...part!,
    performed: score,
    /** Onset and length in quarters, key. */
    strokes: part!.notes.map(({ on, off, key }) => [on / per, (off - on) / per, key]),
    shapes: part!.shaping.map(({ tick, ...what }) => [tick / per, ...Object.values(what)]),
  };
}
const round = (all: number[][]) => all.map((each) => each.map((value) => Math.round(value * 100) / 100));

describe('slurs', () => {
  const slurred = [
    note('G', 4, 8, notations('<slur type="start"/>')) +
      note('A', 4, 8) +
      note('A', 4, 8) +
      note('B', 4, 8, notations('<slur type="stop"/>')),
  ];
  it('let each note but the last sound into the next, unless that is the same key', () => {
    // 100 ms at 120 a minute are a fifth of a quarter.
    expect(round(played(slurred, { slurOverlap: 100 }).strokes)).toEqual([
      [0, 1.2, 67],
      [1, 1, 69],
      [2, 1.2, 69],
      [3, 1, 71],
    ]);
  });
  it('do nothing when that is not wanted', () => {
    expect(played(slurred, { slurOverlap: 0 }).strokes.map(([, length]) => length)).toEqual([1, 1, 1, 1]);
  });
  it('end at rests, and do not undo staccato', () => {
    const dots = notations('<slur type="start"/><articulations><staccato/></articulations>');
    const { strokes } = played([
      note('G', 4, 8, dots) + note('A', 4, 8) + rest(8) + note('B', 4, 8, notations('<slur type="stop"/>')),
    ]);
    expect(strokes.map(([, length]) => length)).toEqual([0.5, 1, 1]);
  });
});

describe('breaths', () => {
  it.each([
    ['breath-mark', 0.75],
    ['caesura', 0.5],
  ])('%s takes from the note before', (name, length) => {
    const marked = note('G', 4, 8, notations(`<articulations><${name}/></articulations>`));
    expect(played([marked + note('A', 4, 24)]).strokes).toEqual([
      [0, length, 67],
      [1, 3, 69],
    ]);
  });
});

describe('the pedal', () => {
  const pedal = (type: string) => said(`<pedal type="${type}" line="yes"/>`);
  it('goes down and up as controller 64, and down again a little after a change', () => {
    const { shapes } = played(
      [pedal('start') + note('G', 3, 16) + pedal('change') + note('A', 3, 16) + pedal('stop')],
      {},
      'Piano',
    );
    expect(shapes).toEqual([
      [0, 64, 127],
      [2, 64, 0],
      [2 + 1 / 16, 64, 127],
      [4, 64, 0],
    ]);
  });
  it('is let go where the music goes back', () => {
    const back = '<barline location="right"><repeat direction="backward"/></barline>';
    const { shapes } = played([note('G', 3, 16) + pedal('start') + note('A', 3, 16) + back], {}, 'Piano');
    expect(shapes).toEqual([
      [2, 64, 127],
      [4, 64, 0],
      [6, 64, 127],
      [8, 64, 0],
    ]);
  });
});

describe('dynamics as a curve', () => {
  const loud = [
    said('<dynamics><p/></dynamics>') + said('<wedge type="crescendo"/>') + note('G', 4, 32),
    said('<wedge type="stop"/>') + said('<dynamics><f/></dynamics>') + note('G', 4, 32),
  ];
  it('steps along hairpins between the values of the dynamics', () => {
    const { shapes, notes } = played(loud, {
      dynamics: 'curve',
      curve: { controllers: [11], low: 0, high: 126 },
    });
    // p is velocity 50 and f 95; the curve is one less, as 1 is the softest.
    expect(shapes[0]).toEqual([0, 11, 49]);
    expect(shapes.at(-1)).toEqual([4, 11, 94]);
    const values = shapes.map(([, , value]) => value!);
    expect(values).toEqual([...values].sort((a, b) => a - b));
    expect(values.length).toBeGreaterThan(20);
    expect(new Set(notes.map(({ velocity }) => velocity)).size).toBe(1);
  });
  it('stands beside velocity, on both controllers, within its range', () => {
    const { shapes, notes } = played(loud, {
      dynamics: 'both',
      curve: { controllers: [1, 11], low: 40, high: 100 },
    });
    expect(shapes.slice(0, 2)).toEqual([
      [0, 1, 63],
      [0, 11, 63],
    ]);
    for (const [, , value] of shapes) expect(value! >= 40 && value! <= 100).toBe(true);
    expect(notes.map(({ velocity }) => velocity)).toEqual([50, 95]);
  });
  it('is nothing, and every note is alike, where dynamics are not played', () => {
    const { shapes, notes } = played(loud, { dynamics: 'none' });
    expect(shapes).toEqual([]);
    expect(new Set(notes.map(({ velocity }) => velocity)).size).toBe(1);
  });
});

describe('glissandos and slides', () => {
  const line = (kind: string, type: string) => notations(`<${kind} type="${type}" number="1"/>`);
  const from = (kind: string) => note('G', 4, 16, line(kind, 'start')) + note('D', 5, 16, line(kind, 'stop'));
  it.each([
    ['every semitone', 'Violin', [68, 69, 70, 71, 72, 73]],
    ['the white keys', 'Piano', [69, 71, 72]],
    ['the notes of the key', 'Harp', [69, 71, 72]],
  ])('go by %s on a %s', (_, name, keys) => {
    const { strokes } = played([from('glissando')], {}, name);
    expect(strokes.map(([, , key]) => key)).toEqual([67, ...keys, 74]);
    // The run has the second half.
    expect(strokes[0]).toEqual([0, 1, 67]);
    expect(strokes.at(-1)).toEqual([2, 2, 74]);
  });
  it('slide as a bend that is taken back where the next note begins', () => {
    const { strokes, shapes } = played([from('slide')]);
    expect(strokes).toEqual([
      [0, 2, 67],
      [2, 2, 74],
    ]);
    expect(shapes[0]).toEqual([1, 0]);
    expect(shapes[8]).toEqual([1.5, 3.5]);
    expect(shapes.at(-1)).toEqual([2, 0]);
  });
});

describe('swing', () => {
  it('is played where the score says so: the second of two eighths comes at two thirds', () => {
    const swing =
      '<direction><direction-type><words>Swing</words></direction-type><sound><swing><first>2</first><second>1</second><swing-type>eighth</swing-type></swing></sound></direction>';
    const eighths = swing + Array.from({ length: 8 }, () => note('G', 4, 4)).join('');
    const onsets = (settings: Partial<PerformSettings>) =>
      round(played([eighths], settings).strokes).map(([at]) => at);
    expect(onsets({}).slice(0, 4)).toEqual([0, 0.67, 1, 1.67]);
    expect(onsets({ swing: false }).slice(0, 4)).toEqual([0, 0.5, 1, 1.5]);
  });
});

describe('techniques', () => {
  const techniques = (measure: string, name = 'Violin') =>
    played([measure], {}, name).notes.map(({ technique = '' }) => technique);
  it('hold from their word until another takes them back', () => {
    expect(
      techniques(
        note('G', 4, 8) +
          words('pizz.') +
          note('A', 4, 8) +
          words('arco') +
          note('B', 4, 8) +
          note('C', 5, 8),
      ),
    ).toEqual(['', 'pizzicato', '', '']);
  });
  it('go together: a muted string may be plucked', () => {
    expect(
      techniques(
        words('con sord.') +
          note('G', 4, 8) +
          words('pizz.') +
          note('A', 4, 8) +
          words('senza sord.') +
          note('B', 4, 8) +
          words('ord.') +
          note('C', 5, 8),
      ),
    ).toEqual(['muted', 'pizzicato, muted', 'pizzicato', '']);
  });
  it.each([
    ['stopped', 'open', 'stopped'],
    ['gestopft', 'offen', 'stopped'],
    ['harmon mute', 'open', 'harmon mute'],
    ['with mute', 'without mute', 'muted'],
    ['mit Dämpfer', 'ohne Dämpfer', 'muted'],
    ['flz.', 'ord.', 'flutter-tonguing'],
  ])('of brass: %s … %s', (on, off, technique) => {
    expect(techniques(words(on) + note('G', 4, 16) + words(off) + note('A', 4, 16), 'Horn in F')).toEqual([
      technique,
      '',
    ]);
  });
  it('are marks at a single note too', () => {
    expect(
      techniques(note('G', 4, 16, notations('<technical><snap-pizzicato/></technical>')) + note('A', 4, 16)),
    ).toEqual(['snap pizzicato', '']);
  });
});

describe('players of one part', () => {
  const players = (measure: string, name: string) =>
    played([measure], {}, name).notes.map(({ key, players: who = [] }) => `${key} ${who.join('+')}`);
  it('have the notes of chords from the top down, single notes together, or what the words say', () => {
    expect(
      players(
        chord(['G', 4], ['D', 5]) +
          note('A', 4, 8) +
          words('1.') +
          note('B', 4, 8) +
          words('a2') +
          note('C', 5, 8),
        'Horns 1 &amp; 2',
      ),
    ).toEqual(['67 2', '74 1', '69 1+2', '71 1', '72 1+2']);
  });
  it('have a voice each where there are two', () => {
    const second = (step: string) => note(step, 4, 32).replace('<voice>1', '<voice>2');
    expect(
      players(`${note('D', 5, 32)}<backup><duration>32</duration></backup>${second('G')}`, 'Flute 1.2'),
    ).toEqual(['67 2', '74 1']);
  });
  it('of strings divide only where they are told to', () => {
    expect(
      players(chord(['G', 4], ['D', 5]) + words('div.') + chord(['G', 4], ['D', 5]) + rest(16), 'Viola'),
    ).toEqual(['67 1+2', '74 1+2', '67 2', '74 1']);
  });
  it('are one where nothing tells of more', () => {
    expect(players(chord(['G', 4], ['D', 5]) + rest(24), 'Piano')).toEqual(['67 ', '74 ']);
  });
  it.each([
    ['Horns 1 & 2', ['1', '2']],
    ['Flute I, II', ['I', 'II']],
    ['Trombone 1.2.3', ['1', '2', '3']],
    ['Horn 3+4 in F', ['3', '4']],
    ['Horns 1–4', ['1', '2', '3', '4']],
    ['Violin II', null],
    ['Clarinet in B 2', null],
  ])('are told by a name: %s', (name, numbers) => {
    expect(numbersIn(name)?.numbers ?? null).toEqual(numbers);
  });
});

describe('what became of the marks', () => {
  it('is counted as it is played, and as silent where it is not', () => {
    const measure = [
      words('pizz.') +
        said('<dynamics><p/></dynamics>') +
        note('G', 4, 8, notations('<slur type="start"/>')) +
        note('A', 4, 24, notations('<slur type="stop"/>')),
    ];
    expect(Object.fromEntries(played(measure).performed.became)).toMatchObject({
      technique: { count: 1, as: 'tracks, when asked for' },
      dynamic: { count: 1, as: 'velocity' },
      slur: { count: 1, as: 'overlap' },
    });
    const plain = played(measure, { dynamics: 'none', slurOverlap: 0 });
    expect(Object.fromEntries(plain.performed.silent)).toEqual({ dynamic: 1, slur: 1 });
  });
});
