import type { Ran } from '../basics/graph';
import { finished } from '../basics/steps';
import { EMPTY_BRIEF } from '../decisions/brief';
import { withDirectives } from '../decisions/decisions';
import type { PlainDirective } from '../decisions/kinds';
import { tidyFile } from '../demo/tidy';
import { Workbench } from './workbench';

/** The part of the demo that is decided about. */
const PART = 3;
/** A note of it. */
const NOTE = 20;

/** Which nodes ran, and how often. */
function counted(ran: readonly Ran[]): string {
  const counts = new Map<string, number>();
  for (const { node } of ran) counts.set(node, (counts.get(node) ?? 0) + 1);
  return (
    [...counts].map(([node, count]) => (count === 1 ? node : `${node} ${count}×`)).join(', ') || 'nothing'
  );
}

/** What runs again of a score when something is decided about the demo, as a table: how little hangs on little. */
export function rerunTable(): string {
  const bench = new Workbench([{ id: '1', version: 1, name: 'demo.mid', bytes: tidyFile() }]);
  bench.layOut(0, EMPTY_BRIEF);
  const { plans, readings } = finished(bench.write(0)).transcription;
  const strand = plans[PART]!.leader;
  const note = [...readings[PART]!.notes.keys()][NOTE]!;
  const decisions: [name: string, PlainDirective][] = [
    ['the title', { kind: 'title', title: 'Cue' }],
    ['a name', { kind: 'name', strand, name: 'Solo' }],
    ['marks of a part', { kind: 'marks', strand, what: 'dynamics', use: 'shown' }],
    ['a sign at a note', { kind: 'sign', note, sign: 'accent', put: true }],
    ['another technique', { kind: 'technique', strand, technique: 'pizzicato' }],
    ['another instrument', { kind: 'cast', strand, instrument: 'oboe' }],
    ['a pitch', { kind: 'pitch', note, steps: 1, semitones: 2 }],
    ['a place', { kind: 'place', note, start: '13/4' }],
    ['a grid', { kind: 'grid', strand, smallest: 'eighth', triplets: true }],
    ['softer notes', { kind: 'velocities', strand, scale: 50, level: 64, strength: 0 }],
    ['the key', { kind: 'key', fifths: 3, minor: false }],
    ['a part left out', { kind: 'leave-out', strand, out: true }],
  ];
  let revision = 0;
  let first = '';
  const rows = decisions.map(([name, directive]) => {
    for (const brief of [EMPTY_BRIEF, withDirectives(EMPTY_BRIEF, [directive])]) {
      bench.layOut(++revision, brief);
      const written = finished(bench.write(revision));
      first = counted(bench.ran);
      finished(bench.tell(written));
    }
    return `| ${name} | ${first} | ${counted(bench.ran)} |`;
  });
  return [
    `| decided, of ${plans.length} parts | works again for the score | for what is listed beside it |`,
    '|---|---|---|',
    ...rows,
    '',
  ].join('\n');
}
