import type { Bar } from './score';
import { type Moment, QUARTER, type Span } from './time';

/** Beyond these, words would be taken for values. */
const ORDINALS = ['first', 'second', 'third', 'fourth'];
/** Into how many parts a plain beat is divided; tuplets by their names. */
const OF_PLAIN: readonly [count: number, tuplet: string | null][] = [
  [2, null],
  [3, 'triplet'],
  [4, null],
  [5, 'quintuplet'],
  [6, 'sextuplet'],
  [8, null],
  [12, 'triplet'],
  [16, null],
  [32, null],
];
/** The same for a beat of three. */
const OF_THREE: readonly number[] = [3, 6, 12, 24, 48];

const VALUES: readonly [span: Span, name: string][] = [
  [4 * QUARTER, 'whole'],
  [2 * QUARTER, 'half'],
  [QUARTER, 'quarter'],
  [QUARTER / 2, 'eighth'],
  [QUARTER / 4, '16th'],
  [QUARTER / 8, '32nd'],
  [QUARTER / 16, '64th'],
  [QUARTER / 32, '128th'],
];
const nameOf = (span: Span): string | undefined => VALUES.find(([value]) => value === span)?.[1];

/**
 * A place in a bar as musicians say it: "beat 1", "beat 1, last 32nd", "beat 2,
 * second triplet eighth"; beats as the meter has them, so a dotted quarter in 6/8.
 *
 * @param at from the start of the bar
 */
export function beatWords(
  { groups, missing, length }: Pick<Bar, 'groups' | 'missing' | 'length'>,
  at: Moment,
): string {
  let left = at + missing;
  let beat = 0;
  while (beat + 1 < groups.length && left >= groups[beat]!) left -= groups[beat++]!;
  const span = groups[beat] ?? length;
  const within = Math.round(left);
  if (within === 0) return `beat ${beat + 1}`;
  const part = partOf(within, span);
  return part ? `beat ${beat + 1}, ${part}` : `${roughly(within / span)} beat ${beat + 1}`;
}

/** Which part of a beat begins there; undefined where no usual division has one. */
function partOf(within: Moment, span: Span): string | undefined {
  const isThree = nameOf(span) === undefined && nameOf(span / 3) !== undefined;
  const divisions = isThree
    ? OF_THREE.map((count) => ({ count, name: nameOf(span / count) }))
    : OF_PLAIN.map(([count, tuplet]) => ({
        count,
        name: tuplet ? tupletName(span, count, tuplet) : nameOf(span / count),
      }));
  for (const { count, name } of divisions) {
    const index = (within * count) / span;
    if (!name || !Number.isInteger(index)) continue;
    if (index === count - 1) return `last ${name}`;
    return `${ORDINALS[index] ?? `${index + 1}th`} ${name}`;
  }
  return undefined;
}

/** Three eighths in the time of two are triplet eighths. */
function tupletName(span: Span, count: number, name: string): string | undefined {
  const normal = 2 ** Math.floor(Math.log2(count));
  const value = nameOf(span / normal);
  return value && `${name} ${value}`;
}

const roughly = (share: number): string =>
  share < 0.25 ? 'just after' : share > 0.75 ? 'towards the end of' : 'in the middle of';
