/**
 * What percussionists stand at, as General MIDI keys: what is laid out together
 * and played with the same sticks (common practice of percussion set-ups).
 */
const SET_UPS: readonly (readonly number[])[] = [
  // Drums with sticks, and the foot that goes with them.
  [35, 36, 37, 38, 40, 41, 43, 45, 47, 48, 50],
  // Cymbals.
  [42, 44, 46, 49, 51, 52, 53, 55, 57, 59],
  // Small hand percussion.
  [39, 54, 58, 69, 70, 73, 74, 75, 80, 81, 71, 72],
  // Drums with hands.
  [60, 61, 62, 63, 64, 65, 66, 78, 79],
  // Wood and metal on a stand.
  [56, 67, 68, 76, 77],
];

const setUpOf = (key: number): number => {
  const at = SET_UPS.findIndex((keys) => keys.includes(key));
  return at < 0 ? SET_UPS.length : at;
};

/**
 * Who plays which sounds, so that each stands at few things and none has
 * nothing: set-ups are shared out in their order, the busiest to themselves.
 *
 * @param keys General MIDI keys with their strokes
 * @returns the player (from 0) of each key
 */
export function setUps(
  keys: readonly { key: number; count: number }[],
  players: number,
): ReadonlyMap<number, number> {
  const groups = new Map<number, { key: number; count: number }[]>();
  for (const each of keys) groups.set(setUpOf(each.key), [...(groups.get(setUpOf(each.key)) ?? []), each]);
  let stands = [...groups].sort(([a], [b]) => a - b).map(([, own]) => own);
  // Fewer set-ups than players: the one with most sounds is divided.
  while (stands.length < players && stands.some((own) => own.length > 1)) {
    const widest = stands.reduce((a, b) => (b.length > a.length ? b : a));
    const half = Math.ceil(widest.length / 2);
    stands = stands.flatMap((own) => (own === widest ? [own.slice(0, half), own.slice(half)] : [own]));
  }
  // More: neighbours with the fewest strokes between them stand together.
  const strokes = (own: readonly { count: number }[]) => own.reduce((sum, { count }) => sum + count, 0);
  while (stands.length > players) {
    let least = 0;
    for (let at = 1; at + 1 < stands.length; at++)
      if (
        strokes(stands[at]!) + strokes(stands[at + 1]!) <
        strokes(stands[least]!) + strokes(stands[least + 1]!)
      )
        least = at;
    stands = [
      ...stands.slice(0, least),
      [...stands[least]!, ...stands[least + 1]!],
      ...stands.slice(least + 2),
    ];
  }
  return new Map(stands.flatMap((own, player) => own.map(({ key }) => [key, player] as const)));
}
