import type { EventId } from '../../model/ids';
import type { SketchNote } from '../../model/sketch';
import { type Moment, QUARTER } from '../../model/time';
import type { TechniqueText } from './techniques';

/** So long the others must be silent for one to be alone, or all play the same: a whole note. */
const LASTING = 4 * QUARTER;
/** What is played together is told from so many notes on, however short they are. */
const MANY = 3;

type Written = Pick<SketchNote, 'key' | 'start' | 'end' | 'sources' | 'grace'>;

/** Who plays what is struck at a moment. */
interface Turn {
  at: Moment;
  end: Moment;
  /** "1.", "2.", "a2"; empty where the notes show it. */
  label: string;
}

/**
 * The texts of a staff that several players share: "1." where the first is
 * alone for a while, "2." for the second, "a2" where they play the same for a
 * while, and nothing where their notes differ, since these show it (common
 * practice of orchestral scores): a single note in common is written with both
 * stems.
 *
 * @param playerOf the player of each note of the source, numbered as on paper
 */
export function playerTexts(
  notes: readonly Written[],
  playerOf: ReadonlyMap<EventId, number>,
): TechniqueText[] {
  const all = new Set(playerOf.values());
  if (all.size < 2) return [];
  const turns = turnsOf(notes, playerOf, all);
  const texts: TechniqueText[] = [];
  let holding = '';
  for (let index = 0; index < turns.length; ) {
    const { at, label } = turns[index]!;
    let next = index;
    while (turns[next]?.label === label) next++;
    const isTogether = label.startsWith('a');
    const lasts = turns[next - 1]!.end - at >= LASTING || next - index >= MANY;
    const said = isTogether && !lasts ? '' : label;
    if (said !== '' && said !== holding) texts.push({ at, text: said });
    holding = said;
    index = next;
  }
  return texts;
}

/** What is struck, moment by moment. */
function turnsOf(
  notes: readonly Written[],
  playerOf: ReadonlyMap<EventId, number>,
  all: ReadonlySet<number>,
): Turn[] {
  const inOrder = notes
    .filter(({ grace }) => !grace)
    .map(({ key, start, end, sources }) => ({ key, start, end, players: playersOf(sources, playerOf) }))
    .sort((a, b) => a.start - b.start);
  const startsOf = new Map(
    [...all].map((player) => [
      player,
      inOrder.filter(({ players }) => players.has(player)).map(({ start }) => start),
    ]),
  );
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
  const turns: Turn[] = [];
  for (let index = 0; index < inOrder.length; ) {
    const { start } = inOrder[index]!;
    const struck = [];
    for (; index < inOrder.length && inOrder[index]!.start === start; index++) struck.push(inOrder[index]!);
    const byKey = new Map<number, Set<number>>();
    let until = start;
    for (const { key, end, players } of struck) {
      byKey.set(key, new Set([...(byKey.get(key) ?? []), ...players]));
      for (const player of players) sounding.set(player, Math.max(sounding.get(player) ?? 0, end));
      until = Math.max(until, end);
    }
    const playing = new Set([...byKey.values()].flatMap((players) => [...players]));
    const others = [...all].filter((player) => !playing.has(player));
    const isHeld = others.some((player) => (sounding.get(player) ?? 0) > start);
    const isAlone = !isHeld && others.every((player) => nextStart(player, start) >= start + LASTING);
    // One note of two is a rest of the other's; only what lasts is told.
    if (others.length > 0 && !isAlone && !isHeld && turns.at(-1)?.label.endsWith('.')) continue;
    const label =
      others.length === 0
        ? [...byKey.values()].every(({ size }) => size === all.size)
          ? `a${all.size}`
          : ''
        : isAlone
          ? [...playing]
              .sort((a, b) => a - b)
              .map((player) => `${player}.`)
              .join(' ')
          : '';
    turns.push({ at: start, end: until, label });
  }
  return turns;
}

function playersOf(sources: readonly EventId[], playerOf: ReadonlyMap<EventId, number>): Set<number> {
  return new Set(sources.flatMap((id) => playerOf.get(id) ?? []));
}
