import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import { type EventId, eventOfNote } from '@/core/model/ids';
import { unaccounted } from '@/core/transcribe';
import { Workbench } from '@/core/workbench/workbench';
import { disagreements } from './helpers/written-into';

const note = (step: string, octave: number, duration: number, more = '', alter = 0) =>
  `<note default-x="3"><pitch><step>${step}</step>${alter ? `<alter>${alter}</alter>` : ''}<octave>${octave}</octave></pitch><duration>${duration}</duration><voice>1</voice><type>quarter</type>${more}</note>`;
const tied = (type: string) => `<notations><tied type="${type}"/></notations>`;
/** Two bars in G major, repeated; the last note of the first is tied over. */
const SCORE = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Clarinet in B flat</part-name></score-part></part-list><part id="P1">
<measure number="1"><attributes><divisions>1</divisions><key><fifths>1</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose></attributes>
${note('G', 4, 1)}
${note('A', 4, 1, '<accidental cautionary="yes">natural</accidental>')}
${note('G', 4, 1)}
${note('B', 4, 1, tied('start'))}</measure>
<measure number="2">${note('B', 4, 2, tied('stop'))}
${note('F', 4, 2, '', 1)}<barline location="right"><repeat direction="backward"/></barline></measure></part></score-partwise>`;

function job(...directives: PlainDirective[]) {
  const workbench = new Workbench([
    { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(SCORE) },
  ]);
  const { desk } = workbench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  const { transcription } = finished(workbench.write(1));
  const document = new TextDecoder().decode(deliverScore(desk, transcription.score, 'musicxml'));
  const items = transcription.score.parts[0]!.bars.flatMap(({ voices }) =>
    voices.flatMap((line) => line.items),
  );
  const notes = items.flatMap((item) => (item.kind === 'chord' ? item.notes : []));
  return { desk, transcription, document, notes };
}
const eventsOf = (): EventId[] => job().notes.map(({ id }) => eventOfNote(id)!);
const move = (at: number, steps: number, semitones: number): PlainDirective => ({
  kind: 'pitch',
  note: eventsOf()[at]!,
  steps,
  semitones,
});
const changedLines = (document: string) => {
  const before = SCORE.split('\n');
  return document.split('\n').filter((line, index) => line !== before[index]);
};
const keysOf = ({ desk }: ReturnType<typeof job>) => desk.performance.strands[0]!.notes.map(({ key }) => key);

describe('one note of a score', () => {
  it('is moved in its own line, and heard so every time it is played', () => {
    const moved = job(move(1, 1, 2));
    expect(changedLines(moved.document)).toEqual([
      // The accidental was for the A.
      note('B', 4, 1),
    ]);
    // Sounding a tone lower; both times through.
    expect(keysOf(job())).toEqual([65, 67, 65, 69, 64, 65, 67, 65, 69, 64]);
    expect(keysOf(moved)).toEqual([65, 69, 65, 69, 64, 65, 69, 65, 69, 64]);
    expect(unaccounted(moved.transcription.account)).toBe(0);
    expect(disagreements(moved.document, moved.transcription.score)).toEqual([]);
  });

  it('gets the accidentals that it needs, and so does what follows it in the bar', () => {
    const sharp = job(move(0, 0, 1));
    expect(changedLines(sharp.document)).toEqual([
      note('G', 4, 1, '', 1).replace(
        '<type>quarter</type>',
        '<type>quarter</type><accidental>sharp</accidental>',
      ),
      note('G', 4, 1).replace('<type>quarter</type>', '<type>quarter</type><accidental>natural</accidental>'),
    ]);
    expect(disagreements(sharp.document, sharp.transcription.score)).toEqual([]);
  });

  it('is spelled otherwise without a change in sound', () => {
    const spelled = job(move(4 + 1, 1, 0));
    expect(spelled.document).toContain('<step>G</step><alter>-1</alter><octave>4</octave>');
    expect(keysOf(spelled)).toEqual(keysOf(job()));
  });

  it('takes what is tied to it along', () => {
    const moved = job(move(3, 1, 1));
    expect(moved.document.match(/<step>C<\/step><octave>5/g)).toHaveLength(2);
    expect(keysOf(moved)).toEqual([65, 67, 65, 70, 64, 65, 67, 65, 70, 64]);
  });

  it('goes back to what it was, byte for byte', () => {
    expect(job(move(0, 1, 2), move(0, 0, 0)).document).toBe(SCORE);
  });

  it('is moved before its part is put on another instrument', () => {
    const both = job(move(1, 1, 2), { kind: 'cast', strand: '1/t2c1', instrument: 'flute' });
    expect(both.document).not.toContain('<transpose>');
    expect(keysOf(both)).toEqual(keysOf(job(move(1, 1, 2))));
    expect(disagreements(both.document, both.transcription.score)).toEqual([]);
  });

  it('stays where it would leave what can be written', () => {
    expect(job(move(0, 28, 48)).document).toContain(note('G', 8, 1));
    expect(job(move(0, 27, 48), move(1, 28, 48)).notes.every(({ pitch }) => pitch.octave <= 9)).toBe(true);
  });
});
