import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverMidi } from '@/core/deliver';
import { deliverScore } from '@/core/deliver/score';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { QUARTER } from '@/core/model/time';
import { readSource } from '@/core/sources';
import { packMxl } from '@/core/sources/musicxml/mxl';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readSmf } from '@/core/sources/smf/read';
import { unaccounted } from '@/core/transcribe';
import { interlinear } from '@/core/workbench/interlinear';
import { stockOf } from '@/core/workbench/stock';
import { summarise } from '@/core/workbench/summary';
import { Workbench } from '@/core/workbench/workbench';
import { all, child, parseXml, textOf } from './helpers/schema';
import { differences, factsOf } from './helpers/score-facts';

const encoder = new TextEncoder();
const ferry = writeMusicXml(lanternFerry());

/** Four bars, the first two repeated, with what is played out and what is not. */
const REPEATED = `<score-partwise version="4.0"><work><work-title>Twice</work-title></work><part-list>
<score-part id="P1"><part-name>Trumpet in B flat</part-name></score-part></part-list><part id="P1">
<measure number="1"><attributes><divisions>2</divisions><key><fifths>2</fifths></key><time><beats>2</beats>
<beat-type>4</beat-type></time><transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose></attributes>
<direction><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>90</per-minute></metronome></direction-type></direction>
<direction><direction-type><dynamics><p/></dynamics></direction-type></direction>
<direction><direction-type><wedge type="crescendo"/></direction-type></direction>
<note><pitch><step>D</step><octave>5</octave></pitch><duration>2</duration><voice>1</voice><type>quarter</type>
<notations><articulations><staccato/></articulations></notations></note>
<note><pitch><step>E</step><octave>5</octave></pitch><duration>2</duration><voice>1</voice><type>quarter</type>
<notations><slur type="start"/></notations></note></measure>
<measure number="2"><note><pitch><step>F</step><alter>1</alter><octave>5</octave></pitch><duration>4</duration>
<voice>1</voice><type>half</type><tie type="start"/><notations><tied type="start"/><slur type="stop"/></notations></note>
<direction><direction-type><wedge type="stop"/></direction-type></direction></measure>
<measure number="3"><direction><direction-type><dynamics><f/></dynamics></direction-type></direction>
<note><pitch><step>F</step><alter>1</alter><octave>5</octave></pitch><duration>4</duration><voice>1</voice>
<type>half</type><tie type="stop"/><notations><tied type="stop"/></notations></note>
<barline location="right"><repeat direction="backward"/></barline></measure>
<measure number="4"><note><pitch><step>D</step><octave>5</octave></pitch><duration>4</duration><voice>1</voice>
<type>half</type><notations><fermata/><technical><snap-pizzicato/></technical></notations></note></measure></part></score-partwise>`;

const bench = (text: string | Uint8Array) =>
  new Workbench([
    {
      id: '1',
      version: 1,
      name: 'x.musicxml',
      bytes: typeof text === 'string' ? encoder.encode(text) : text,
    },
  ]);

/** A job on a score, under some decisions. */
function job(text: string, ...directives: PlainDirective[]) {
  const workbench = bench(text);
  const state = workbench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  const written = finished(workbench.write(1));
  return { ...written, state, workbench };
}

describe('a score as a source', () => {
  it('goes out byte for byte as it came, as long as nothing is decided', () => {
    const odd = `<?xml version="1.0"?>\n<!-- kept -->\n${REPEATED}\n`;
    const { desk, transcription } = job(odd);
    expect(new TextDecoder().decode(deliverScore(desk, transcription.score, 'musicxml'))).toBe(odd);
    const packed = packMxl(odd, 'twice.xml');
    const workbench = bench(packed);
    const state = workbench.layOut(1, EMPTY_BRIEF);
    const { score } = finished(workbench.write(1)).transcription;
    expect(deliverScore(state.desk, score, 'mxl')).toBe(packed);
    expect(new TextDecoder().decode(deliverScore(state.desk, score, 'musicxml'))).toBe(odd);
  });

  it('changes by a decision only in what the decision is about', () => {
    const name: PlainDirective = { kind: 'name', strand: '1/t2c1', name: 'Solo flute' };
    const { desk, transcription } = job(ferry, name);
    const after = parseXml(new TextDecoder().decode(deliverScore(desk, transcription.score, 'musicxml')));
    const before = parseXml(ferry);
    expect(differences(factsOf(before), factsOf(after))).toEqual({});
    const namesOf = (document: typeof after) =>
      all(child(document, 'part-list')!, 'score-part').map((part) => textOf(part, 'part-name'));
    expect(namesOf(after)).toEqual(['Solo flute', ...namesOf(before).slice(1)]);
  });

  it('is played as it says: order, pitch, ties, dynamics, lengths and tempo', () => {
    const { desk, transcription } = job(REPEATED);
    const { strands, clock } = desk.performance;
    const per = clock.ticksPerQuarter;
    const [trumpet] = strands;
    // Written D5 sounds C5 (72); bars 1–3 twice, then bar 4; the tie joins bars 2 and 3.
    expect(trumpet!.notes.map(({ on, off, key }) => [on / per, (off - on) / per, key])).toEqual([
      [0, 0.5, 72],
      // Under its slur it sounds 20 ms (14 of 480 ticks) into the next.
      [1, 494 / 480, 74],
      [2, 4, 76],
      [6, 0.5, 72],
      [7, 494 / 480, 74],
      [8, 4, 76],
      [12, 2, 72],
    ]);
    const [first, second, third] = trumpet!.notes;
    // From p (50) along the hairpin to f (95).
    expect([first!.velocity, second!.velocity, third!.velocity]).toEqual([50, 61, 73]);
    expect(trumpet!.notes.at(-1)!.velocity).toBe(95);
    // The fermata halves the tempo of its note.
    expect(
      desk.performance.tempos.map(({ tick, microsPerQuarter }) => [
        tick / per,
        Math.round(6e7 / microsPerQuarter),
      ]),
    ).toEqual([
      [0, 90],
      [12, 45],
      [14, 90],
    ]);
    expect(unaccounted(transcription.account)).toBe(0);
    expect(transcription.account).toMatchObject({ notes: 7, written: 4, merged: 3 });
  });

  it('says what becomes of its marks, and what is not played out', () => {
    const { state } = job(REPEATED);
    const { kind, marks, inventory } = finished(stockOf(state));
    expect(kind).toBe('score');
    expect(marks!.became).toEqual(
      expect.arrayContaining([
        { name: 'dynamic', count: 2, as: 'velocity' },
        { name: 'hairpin', count: 1, as: 'velocity' },
        { name: 'staccato', count: 1, as: 'length' },
        { name: 'fermata', count: 1, as: 'slower tempo' },
        { name: 'slur', count: 1, as: 'overlap' },
        { name: 'technique', count: 1, as: 'tracks, when asked for' },
      ]),
    );
    expect(marks!.silent).toEqual([]);
    expect(inventory.oddities).toEqual([]);
  });

  it('shows each note as it was played the first time beside its head', () => {
    const { transcription, desk } = job(REPEATED);
    const [part] = transcription.score.parts;
    const data = interlinear(transcription, desk.decisions, new Set([part!.id]), 1, 4)!;
    const { notes } = data.rows[0]!;
    expect(notes.find(({ start }) => start === 2 * QUARTER)).toMatchObject({
      end: 6 * QUARTER,
      playedStart: 2 * QUARTER,
    });
    // The last bar is played after the repeat, and stands where it is written.
    expect(data.rows[0]!.notes.at(-1)).toMatchObject({ start: 6 * QUARTER, playedStart: 6 * QUARTER });
    for (const note of notes.filter(({ start }) => start >= 2 * QUARTER))
      expect(data.document).toContain(`id="${note.id.slice(2).replace('/', '-')}"`);
  });

  it('heeds names, order and parts, and says what it cannot heed', () => {
    const grid: PlainDirective = { kind: 'grid', smallest: 'eighth', triplets: false };
    const cast: PlainDirective = { kind: 'cast', strand: '1/t2c1', instrument: 'drum-set' };
    const order: PlainDirective = { kind: 'order', strands: ['1/t3c2'] };
    const out: PlainDirective = { kind: 'leave-out', strand: '1/t4c3', out: true };
    const result = job(ferry, grid, cast, order, out);
    const summary = summarise(result);
    const first = lanternFerry().parts.map(({ name }) => name);
    expect(summary.parts.map(({ name }) => name)).toEqual([first[1], first[0], ...first.slice(3)]);
    const { refusals } = finished(stockOf(result.state));
    expect(refusals.map(({ why }) => why)).toEqual([
      'Flute keeps its instrument in the score: Drum Set is written without pitches.',
      'One decision (grid) does not change a score that was read: it is written already.',
    ]);
    expect(unaccounted(summary.account)).toBe(0);
  });

  it('goes to a sequencer and keeps every note on the way', () => {
    const { desk } = job(ferry);
    const smf = readSmf(deliverMidi(desk));
    const strikes = smf.tracks.flatMap(({ events }) => events.filter((event) => event.kind === 'noteOn'));
    expect(strikes.length).toBe(desk.performance.strands.reduce((sum, { notes }) => sum + notes.length, 0));
  });

  it('is told by its bytes, whatever its name, and a MIDI file stays one', () => {
    const kindOf = (bytes: Uint8Array) => readSource({ id: '1', version: 1, name: 'song.mid', bytes }).kind;
    expect(kindOf(encoder.encode(REPEATED))).toBe('score');
    expect(kindOf(deliverMidi(job(REPEATED).desk))).toBe('performance');
  });
});
