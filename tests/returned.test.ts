import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverMidi } from '@/core/deliver';
import { deliverScore } from '@/core/deliver/score';
import type { Score } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { ALL_PLAYED } from '@/core/perform/settings';
import { Workbench } from '@/core/workbench/workbench';

const STEPS = ['C', 'D', 'E', 'F', 'G', 'A', 'B'];
/** A note of so many eighths, a step of C major (0 is C4). */
const note = (step: number, eighths: number, notations = '') =>
  `<note><pitch><step>${STEPS[step % 7]}</step><octave>${4 + Math.floor(step / 7)}</octave></pitch><duration>${eighths}</duration><voice>1</voice>${notations && `<notations>${notations}</notations>`}</note>`;
const dot = '<articulations><staccato/></articulations>';
const accent = '<articulations><accent/></articulations>';
const slur = (type: string) => `<slur type="${type}" number="1"/>`;
const dynamic = (name: string) =>
  `<direction><direction-type><dynamics><${name}/></dynamics></direction-type></direction>`;
const wedge = (type: string) =>
  `<direction><direction-type><wedge type="${type}"/></direction-type></direction>`;

/** Bars of a tune: slurred quarters, staccato eighths, an accent, a crescendo, and a long note under a fermata. */
const BARS = [
  dynamic('p') + note(0, 2, slur('start')) + note(2, 2) + note(4, 2) + note(5, 2, slur('stop')),
  note(4, 1, dot) + note(3, 1, dot) + note(2, 1, dot) + note(1, 1, dot) + note(2, 4),
  note(4, 2, slur('start')) + note(5, 2) + note(6, 2) + note(7, 2, slur('stop')),
  note(6, 1, dot) + note(5, 1, dot) + note(4, 1, dot) + note(3, 1, dot) + note(4, 4),
  wedge('crescendo') + note(0, 2) + note(1, 2) + note(2, 2) + note(3, 2),
  note(4, 2) + note(5, 2) + note(6, 2) + note(7, 2) + wedge('stop'),
  dynamic('f') + note(8, 2) + note(7, 2, accent) + note(6, 2) + note(5, 2),
  note(4, 2) + note(3, 2) + note(2, 2) + note(1, 2),
  note(2, 2, slur('start')) + note(3, 2) + note(4, 2) + note(2, 2, slur('stop')),
  note(0, 8, '<fermata type="upright"/>'),
  dynamic('mf') + note(4, 2) + note(2, 2) + note(3, 2) + note(1, 2),
  note(0, 8),
];
const first =
  '<attributes><divisions>2</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef></attributes>';
const DOCUMENT = `<?xml version="1.0"?><score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Violin</part-name></score-part></part-list><part id="P1">${BARS.map(
  (bar, index) => `<measure number="${index + 1}">${index === 0 ? first : ''}${bar}</measure>`,
).join('')}</part></score-partwise>`;

function read(name: string, bytes: Uint8Array, ...directives: PlainDirective[]) {
  const bench = new Workbench([{ id: '1', version: 1, name, bytes }]);
  const { desk } = bench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  return { desk, score: finished(bench.write(1)).transcription.score };
}

/** Marks of the only part, each at its bar and quarter note, both from 1. */
function marksOf({ bars, parts: [part] }: Score): string[] {
  const places = new Map<string, string>();
  const place = (bar: number, at: number) => `${bar + 1}:${1 + at / QUARTER}`;
  const out: string[] = [];
  part!.bars.forEach(({ voices, marks = [] }, bar) => {
    for (const mark of marks) if (mark.kind === 'dynamic') out.push(`${place(bar, mark.at)} ${mark.dynamic}`);
    for (const { items } of voices)
      for (const item of items) {
        if (item.kind !== 'chord') continue;
        for (const { id } of item.notes) places.set(id, place(bar, item.onset));
        for (const mark of item.marks ?? [])
          out.push(`${place(bar, item.onset)} ${'name' in mark ? mark.name : mark.kind}`);
      }
  });
  for (const { kind, from, to } of part!.spanners ?? []) {
    const [begins, ends] = [from, to].map((end) => {
      if ('note' in end) return places.get(end.note);
      // The end of a bar is the beginning of the next.
      return end.at === bars[end.bar]!.length ? place(end.bar + 1, 0) : place(end.bar, end.at);
    });
    out.push(`${begins}–${ends} ${kind}`);
  }
  return out.sort();
}

describe('a score that the product played itself', () => {
  const given = read('tune.musicxml', new TextEncoder().encode(DOCUMENT), { kind: 'perform', ...ALL_PLAYED });
  const midi = deliverMidi(given.desk);
  const returned = read('tune.mid', midi);

  it('comes back with its marks at default settings', () => {
    expect(marksOf(returned.score)).toEqual(marksOf(given.score));
  });

  it('is written as it was, and sounds the same to the byte when it is played again', () => {
    const document = deliverScore(returned.desk, returned.score, 'musicxml');
    const again = read('again.musicxml', document, { kind: 'perform', ...ALL_PLAYED });
    expect(marksOf(again.score)).toEqual(marksOf(given.score));
    expect(Buffer.from(deliverMidi(again.desk)).equals(Buffer.from(midi))).toBe(true);
  });
});
