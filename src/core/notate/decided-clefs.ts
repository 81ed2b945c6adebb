import type { ReadClef } from '../decisions/kinds/clef';
import { type Clef, isPitchedClef } from '../model/clefs';
import type { Frame } from '../model/frame';
import type { Part, PartChange } from '../model/score';
import type { Moment } from '../model/time';
import { type WantedClef, wantedClef } from './clef-changes';

type ClefChange = Extract<PartChange, { kind: 'clef' }>;

const inOrder = (a: { bar: number; at: Moment }, b: { bar: number; at: Moment }) =>
  a.bar - b.bar || a.at - b.at;

/**
 * A part of a score that was read under the clefs that were decided for it: in a passage its staff has the clef before
 * the first note, and what holds there otherwise before the first note after it. All other clefs stay where they stand.
 */
export function withDecidedClefs(
  part: Part,
  choices: readonly ReadClef[] | undefined,
  frame: Pick<Frame, 'ticks' | 'clock'>,
): Part {
  const clefs = [...part.clefs];
  const own = (part.changes ?? []).filter((change) => change.kind === 'clef');
  let changes: readonly ClefChange[] = own;
  part.clefs.forEach((opening, index) => {
    const staff = index + 1;
    const wanted = isPitchedClef(opening) ? wantedClef(choices, staff, frame) : undefined;
    if (!wanted) return;
    const read = readUnder(part, staff, wanted);
    clefs[index] = read.opening;
    changes = [...changes.filter((change) => change.staff !== staff), ...read.changes];
  });
  if (changes === own && clefs.every((clef, index) => clef === part.clefs[index])) return part;
  const { changes: before = [], ...others } = part;
  const all = [...before.filter(({ kind }) => kind !== 'clef'), ...changes].sort(inOrder);
  return { ...others, clefs, ...(all.length > 0 && { changes: all }) };
}

function readUnder(
  part: Part,
  staff: number,
  wanted: WantedClef,
): { opening: Clef; changes: readonly ClefChange[] } {
  const own = (part.changes ?? [])
    .filter((change): change is ClefChange => change.kind === 'clef' && change.staff === staff)
    .sort(inOrder);
  /** The clef of the document, and the one that stands there now. */
  let holding: Clef = part.clefs[staff - 1]!;
  const opening: Clef = wanted(0, 0) ?? holding;
  let standing = opening;
  const changes: ClefChange[] = [];
  let next = 0;
  /** Clefs of the document up to a moment; a decided passage has none of its own. */
  const pass = (until: { bar: number; at: Moment }) => {
    for (let change = own[next]; change && inOrder(change, until) <= 0; change = own[++next]) {
      const isRepeated = change.clef === holding;
      holding = change.clef;
      if (wanted(change.bar, change.at) || (change.clef === standing && !isRepeated)) continue;
      changes.push(change);
      standing = change.clef;
    }
  };
  for (const [bar, at] of attacksOf(part, staff)) {
    pass({ bar, at });
    const now: Clef = wanted(bar, at) ?? holding;
    if (now === standing) continue;
    changes.push({ kind: 'clef', bar, at, staff, clef: now });
    standing = now;
  }
  pass({ bar: part.bars.length, at: 0 });
  return { opening, changes };
}

/** Where chords of a staff begin, as bars and moments in them, in order. */
function attacksOf(part: Part, staff: number): [number, Moment][] {
  return part.bars.flatMap(({ voices }, bar) => {
    const onsets = voices.flatMap((line) =>
      line.items.flatMap((item) =>
        item.kind === 'chord' && item.notes.some((note) => (note.staff ?? line.staff) === staff)
          ? [item.onset]
          : [],
      ),
    );
    return [...new Set(onsets)].sort((a, b) => a - b).map((at): [number, Moment] => [bar, at]);
  });
}
