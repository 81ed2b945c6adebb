import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { DEFAULT_HAND_OVER } from '@/core/decisions/kinds/hand-over';
import { deliverMidi, previewMidi } from '@/core/deliver';
import { ALL_PLAYED, type PerformSettings } from '@/core/perform/settings';
import { NOTE_ON } from '@/core/sound/events';
import { timelineOf } from '@/core/sound/timeline';
import { readSmf } from '@/core/sources/smf/read';
import { unaccounted } from '@/core/transcribe';
import { Workbench } from '@/core/workbench/workbench';

/** Two horns on one staff and strings that pluck: what a sequencer wants on tracks of their own. */
const note = (step: string, octave: number, duration: number, before = '', more = '') =>
  `<note>${before}<pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>${duration}</duration><voice>1</voice>${more}</note>`;
const words = (text: string) =>
  `<direction><direction-type><words>${text}</words></direction-type></direction>`;
const first =
  '<attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>';
const SCORE = `<score-partwise><part-list>
<score-part id="P1"><part-name>Horns 1 &amp; 2</part-name></score-part>
<score-part id="P2"><part-name>Trumpet</part-name></score-part>
<score-part id="P3"><part-name>Viola</part-name></score-part></part-list>
<part id="P1"><measure number="1">${first}${note('C', 4, 2)}${note('G', 4, 2, '<chord/>')}${words('a2')}${note('E', 4, 2)}</measure>
<measure number="2">${words('stopped')}${note('D', 4, 2)}${words('open')}${note('C', 4, 2)}<barline location="right"><repeat direction="backward"/></barline></measure></part>
<part id="P2"><measure number="1">${first}<direction><direction-type><dynamics><p/></dynamics></direction-type></direction>${words('harmon mute')}${note('C', 5, 4)}</measure>
<measure number="2">${words('open')}<direction><direction-type><dynamics><f/></dynamics></direction-type></direction>${note('D', 5, 4)}</measure></part>
<part id="P3"><measure number="1">${first}${note('C', 4, 4)}</measure><measure number="2">${words('pizz.')}${note('D', 4, 4, '', '<notations><ornaments><trill-mark/></ornaments></notations>')}</measure></part></score-partwise>`;

function job(...directives: PlainDirective[]) {
  const workbench = new Workbench([
    { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(SCORE) },
  ]);
  const { desk } = workbench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  return { desk, transcription: finished(workbench.write(1)).transcription };
}
const handOver = (some: Partial<typeof DEFAULT_HAND_OVER>): PlainDirective => ({
  kind: 'hand-over',
  ...DEFAULT_HAND_OVER,
  ...some,
});
const performed = (some: Partial<PerformSettings>): PlainDirective => ({
  kind: 'perform',
  ...ALL_PLAYED,
  ...some,
});
const decoder = new TextDecoder();

/** Tracks of the file with their names, keys, programs and controllers. */
function tracks(...directives: PlainDirective[]) {
  const smf = readSmf(deliverMidi(job(...directives).desk));
  return smf.tracks.slice(1).map(({ events }) => ({
    name: events.flatMap((event) => (event.kind === 'trackName' ? decoder.decode(event.bytes) : []))[0],
    keys: events.flatMap((event) => (event.kind === 'noteOn' ? event.key : [])),
    programs: events.flatMap((event) => (event.kind === 'program' ? event.program : [])),
    controllers: events.flatMap((event) =>
      event.kind === 'control' ? `${event.controller}=${event.value}` : [],
    ),
    channels: [...new Set(events.flatMap((event) => ('channel' in event ? event.channel : [])))],
  }));
}

describe('a score on its way to a sequencer', () => {
  it('has one track a part, as long as nothing else is asked', () => {
    expect(tracks(performed({ ornaments: false })).map(({ name, keys }) => [name, keys.length])).toEqual([
      ['Horns 1 & 2', 10],
      ['Trumpet', 4],
      ['Viola', 4],
    ]);
  });

  it('has tracks for techniques: open and muted brass, bowed and plucked strings, with sounds of their own', () => {
    const apart = tracks(
      handOver({ apart: ['techniques'], programs: 'general-midi' }),
      performed({ ornaments: false }),
    );
    expect(apart.map(({ name, keys, programs }) => [name, keys.length, programs])).toEqual([
      ['Horns 1 & 2', 8, [60]],
      ['Horns 1 & 2 (stopped)', 2, [60]],
      ['Trumpet', 2, [56]],
      ['Trumpet (harmon mute)', 2, [59]],
      ['Viola', 2, [41]],
      ['Viola (pizzicato)', 2, [45]],
    ]);
    expect(new Set(apart.flatMap(({ channels }) => channels)).size).toBe(6);
  });

  it('has key switches before its changes of technique, where keys are named', () => {
    const switches = [
      { technique: '', key: 24 },
      { technique: 'stopped', key: 25 },
      { technique: 'pizzicato', key: 26 },
    ];
    const [horns, trumpet, viola] = tracks(
      handOver({ switches }),
      performed({ ornaments: false, repeats: false }),
    );
    const commands = (keys: number[]) => keys.filter((key) => key < 30);
    expect(commands(horns!.keys)).toEqual([24, 25, 24]);
    // The mute has no key: what is ordinary again is told all the same.
    expect(commands(trumpet!.keys)).toEqual([24]);
    expect(commands(viola!.keys)).toEqual([24, 26]);
  });

  it('has tracks for players, and says that what they play together stands in each', () => {
    const choice = handOver({ apart: ['players'] });
    const [one, two] = tracks(choice, performed({ repeats: false }));
    expect([one!.name, one!.keys]).toEqual(['Horns 1', [67, 64, 62, 60]]);
    expect([two!.name, two!.keys]).toEqual(['Horns 2', [60, 64, 62, 60]]);
    const { remarks } = previewMidi(job(choice, performed({ repeats: false })).desk);
    expect(remarks).toEqual([
      '3 notes more: what several players play together stands in the track of each.',
    ]);
  });

  it('carries a curve on every track when asked to, in a plain file too', () => {
    const [, trumpet] = tracks(
      performed({ dynamics: 'both', curve: { controllers: [11], low: 1, high: 127 }, repeats: false }),
    );
    // p and f as velocities of the common scale, on a curve of the same range.
    expect(trumpet!.controllers).toEqual(['11=50', '11=95']);
  });

  it('keeps the names of its notes whatever else is played out', () => {
    const idsOf = (...directives: PlainDirective[]) =>
      job(...directives).transcription.score.parts.flatMap(({ bars }) =>
        bars.flatMap(({ voices }) =>
          voices.flatMap(({ items }) =>
            items.flatMap((item) => (item.kind === 'chord' ? item.notes.map(({ id }) => id) : [])),
          ),
        ),
      );
    const all = idsOf();
    for (const some of [
      { ornaments: false },
      { repeats: false },
      { dynamics: 'both' },
      { slurOverlap: 0 },
    ] satisfies Partial<PerformSettings>[])
      expect(idsOf(performed(some))).toEqual(all);
  });

  it('is heard as written without what is played out, at the same tempo', () => {
    const { desk } = job();
    const strikes = (heard: 'cleaned' | 'score') => {
      const { kind, second } = timelineOf(desk, heard, null);
      return [...kind].flatMap((each, index) => (each === NOTE_ON ? second[index]! : []));
    };
    expect(strikes('cleaned').length).toBeGreaterThan(30);
    expect(strikes('score').length).toBe(18);
    expect(new Set(strikes('score')).size).toBe(1);
    expect(new Set(strikes('cleaned')).size).toBeGreaterThan(1);
  });

  it('counts every note that is played, however it is played', () => {
    for (const some of [{}, { ornaments: false }, { repeats: false }, { graces: false }]) {
      const { transcription } = job(performed(some));
      expect(unaccounted(transcription.account)).toBe(0);
    }
  });
});
