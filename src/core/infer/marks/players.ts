import type { EventId } from '../../model/ids';
import type { SketchNote } from '../../model/sketch';
import { type Moment, QUARTER } from '../../model/time';
import type { TechniqueText } from './techniques';

/** So long the others must be silent for one to be alone: a whole note. */
const ALONE = 4 * QUARTER;

/**
 * The texts of a staff that several players share: "1." where the first is
 * alone for a while, "2." for the second, "a2" where they play the same, and
 * nothing where their notes differ, since these show it (common practice of
 * orchestral scores).
 *
 * @param playerOf the player of each note of the source, numbered as on paper
 */
export function playerTexts(
  notes: readonly Pick<SketchNote, 'start' | 'end' | 'sources' | 'grace'>[],
  playerOf: ReadonlyMap<EventId, number>,
): TechniqueText[] {
  const all = new Set(playerOf.values());
  if (all.size < 2) return [];
  const inOrder = notes
    .filter(({ grace }) => !grace)
    .map(({ start, end, sources }) => ({ start, end, players: playersOf(sources, playerOf) }))
    .sort((a, b) => a.start - b.start);
  const startsOf = new Map(
    [...all].map((player) => [
      player,
      inOrder.filter(({ players }) => players.has(player)).map(({ start }) => start),
    ]),
  );
  const texts: TechniqueText[] = [];
  /** Until when each player sounds, and how far their starts were walked. */
  const sounding = new Map<number, Moment>();
  const walked = new Map<number, number>();
  const nextStart = (player: number, at: Moment): Moment => {
    const starts = startsOf.get(player)!;
    let index = walked.get(player) ?? 0;
    while (index < starts.length && starts[index]! < at) index++;
    walked.set(player, index);
    return starts[index] ?? Number.POSITIVE_INFINITY;
  };
  let holding = '';
  for (let index = 0; index < inOrder.length; ) {
    const { start } = inOrder[index]!;
    const struck = [];
    for (; index < inOrder.length && inOrder[index]!.start === start; index++) struck.push(inOrder[index]!);
    const playing = new Set(struck.flatMap(({ players }) => [...players]));
    const others = [...all].filter((player) => !playing.has(player));
    const held = others.some((player) => (sounding.get(player) ?? 0) > start);
    for (const { players, end } of struck)
      for (const player of players) sounding.set(player, Math.max(sounding.get(player) ?? 0, end));
    const label = labelOf(struck, playing, all.size);
    const isAlone = !held && others.every((player) => nextStart(player, start) >= start + ALONE);
    // One note of two is a rest of the other's; only what lasts is told.
    if (playing.size < all.size && !isAlone) {
      if (held || holding !== String(label)) holding = '';
      continue;
    }
    if (label !== '' && label !== holding) texts.push({ at: start, text: label });
    holding = label;
  }
  return texts;
}

function playersOf(sources: readonly EventId[], playerOf: ReadonlyMap<EventId, number>): Set<number> {
  return new Set(sources.flatMap((id) => playerOf.get(id) ?? []));
}

/** What is written over notes that start together. */
function labelOf(
  struck: readonly { players: ReadonlySet<number> }[],
  playing: ReadonlySet<number>,
  count: number,
): string {
  if (playing.size === count) return struck.every(({ players }) => players.size === count) ? `a${count}` : '';
  return [...playing]
    .sort((a, b) => a - b)
    .map((player) => `${player}.`)
    .join(' ');
}
