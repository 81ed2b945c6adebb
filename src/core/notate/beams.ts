import { beatsOf, isCompound } from '../model/meter';
import type { Bar, Beam, Chord, Item } from '../model/score';
import { type Moment, NOTE_TYPES, QUARTER, typeSpan, valueSpan } from '../model/time';

/** Number of beams (or flags) of a value. */
export const beamCount = (item: Item): number =>
  Math.max(0, NOTE_TYPES.indexOf(item.value.type) - NOTE_TYPES.indexOf('quarter'));

/**
 * Beams one voice of a bar. By the beat; plain eighths join over two beats of
 * a bar in four, and over the whole bar in 2/4 and 3/4 (common practice).
 * Tuplets keep to themselves; rests break a beam unless shorter than an
 * eighth and inside it.
 *
 * @param said where a beam is to be joined to the one before, or broken, by onset
 */
export function beamVoice(
  items: readonly Item[],
  bar: Pick<Bar, 'meter' | 'groups' | 'missing'>,
  said: ReadonlyMap<Moment, boolean> = new Map(),
): void {
  const groups: Item[][] = [];
  const spans = beamSpans(items, bar);
  let tuplets = 0;
  let before: string | null = null;
  for (const item of items) {
    if (item.tuplet?.edge === 'start') tuplets++;
    const at = item.onset + bar.missing;
    const span = spans.findIndex((each) => at >= each.start && at < each.end);
    const key =
      item.tuplet && longTuplet(item) ? `t${tuplets}` : item.tuplet ? `${span}t${tuplets}` : `${span}`;
    const joins = said.get(item.onset) ?? key === before;
    const last = groups.at(-1);
    if (last && joins) last.push(item);
    else groups.push([item]);
    before = key;
  }
  for (const members of groups) for (const run of runsOf(members)) beamRun(run, bar.missing);
}

/** A tuplet whose units are quarters or longer spans several beats: its eighths are beamed within it. */
const longTuplet = (item: Item): boolean =>
  item.tuplet !== undefined && typeSpan(item.tuplet.unit) >= QUARTER;

function beamSpans(
  items: readonly Item[],
  bar: Pick<Bar, 'meter' | 'groups' | 'missing'>,
): { start: Moment; end: Moment }[] {
  const beats = beatsOf(bar).map((beat) => ({ start: beat.start, end: beat.start + beat.length }));
  const { meter } = bar;
  if (isCompound(meter) || meter.denominator !== 4 || meter.numerator > 4) return beats;
  const wide = meter.numerator === 4 ? [beats.slice(0, 2), beats.slice(2)] : [beats];
  return wide.flatMap((group) => {
    const start = group[0]!.start;
    const end = group.at(-1)!.end;
    const inside = items.filter(
      (item) => item.onset + bar.missing >= start && item.onset + bar.missing < end,
    );
    const plain = inside.every(
      (item) =>
        item.kind === 'chord' && item.value.type === 'eighth' && item.value.dots === 0 && !item.tuplet,
    );
    return plain ? [{ start, end }] : group;
  });
}

/** Runs of beamable chords; a short rest between two of them stays under the beam. */
function runsOf(members: readonly Item[]): Chord[][] {
  const runs: Chord[][] = [];
  let run: Chord[] = [];
  let lastEnd = Number.NaN;
  const close = () => {
    if (run.length > 1) runs.push(run);
    run = [];
  };
  for (const item of members) {
    const joined = item.onset === lastEnd;
    if (!joined) close();
    lastEnd = item.onset + item.duration;
    if (item.kind === 'rest') {
      if (valueSpan(item.value) >= QUARTER / 2) close();
    } else if (beamCount(item) === 0) close();
    else run.push(item);
  }
  close();
  return runs;
}

function beamRun(run: readonly Chord[], missing: number): void {
  const counts = run.map(beamCount);
  const deepest = Math.max(...counts);
  for (const chord of run) chord.beams = [];
  for (let level = 1; level <= deepest; level++)
    counts.forEach((count, index) => {
      if (count < level) return;
      const linked = (other: number) =>
        (counts[other] ?? 0) >= level && sameSubgroup(run, Math.min(index, other), level, deepest, missing);
      const before = linked(index - 1);
      const after = linked(index + 1);
      run[index]!.beams!.push(
        before ? (after ? 'continue' : 'end') : after ? 'begin' : hookOf(run, index, missing),
      );
    });
}

/** With 32nds about, the inner beams break at eighths so that the eye can count. */
function sameSubgroup(
  run: readonly Chord[],
  left: number,
  level: number,
  deepest: number,
  missing: number,
): boolean {
  if (level === 1 || deepest < 3 || run[left]!.tuplet) return true;
  const eighth = (index: number) => Math.floor((run[index]!.onset + missing) / (QUARTER / 2));
  return eighth(left) === eighth(left + 1);
}

/** A hook points to the neighbour with which its note makes up the next larger value. */
function hookOf(run: readonly Chord[], index: number, missing: number): Beam {
  if (index === 0) return 'forward hook';
  if (index === run.length - 1) return 'backward hook';
  const chord = run[index]!;
  const places = (chord.onset + missing) / chord.duration;
  return Number.isInteger(places) && places % 2 === 0 ? 'forward hook' : 'backward hook';
}
