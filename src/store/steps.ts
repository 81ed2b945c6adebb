import type { StepRow } from './rows';

/** What a step changed in a list of directives. */
export type Patch = Pick<StepRow, 'removed' | 'added'>;

/** The way from one list of directives to another that keeps some of it in order and adds others at its end. */
export function patchBetween(before: readonly unknown[], after: readonly unknown[]): Patch {
  const texts = after.map((each) => JSON.stringify(each));
  const removed: [number, unknown][] = [];
  let kept = 0;
  before.forEach((directive, place) => {
    if (JSON.stringify(directive) === texts[kept]) kept++;
    else removed.push([place, directive]);
  });
  return { removed, added: after.slice(kept) };
}

/** The list after a step. */
export function applied(directives: readonly unknown[], { removed, added }: Patch): unknown[] {
  const out = new Set(removed.map(([place]) => place));
  return [...directives.filter((_, place) => !out.has(place)), ...added];
}

/** The list before a step; the inverse of `applied`. */
export function takenBack(directives: readonly unknown[], { removed, added }: Patch): unknown[] {
  const kept = directives.slice(0, directives.length - added.length);
  const before: unknown[] = [];
  let next = 0;
  for (const [place, directive] of removed) {
    while (before.length < place && next < kept.length) before.push(kept[next++]);
    before.push(directive);
  }
  return [...before, ...kept.slice(next)];
}

/** Nothing changes: no step. */
export const isNothing = ({ removed, added }: Patch): boolean => removed.length === 0 && added.length === 0;
