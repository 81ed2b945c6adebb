/** Where a note is stopped: string from 1, the highest-tuned course as tablature counts them; fret 0 is the open string (or the capo). */
export interface Stop {
  string: number;
  fret: number;
}

/** Notes that are struck together on a fretted instrument. */
export interface FrettedChord {
  /** Sounding MIDI keys, none twice. */
  keys: readonly number[];
  /** When it is struck, in seconds. */
  at: number;
  /** For some keys the string that is asked for. */
  strings?: ReadonlyMap<number, number>;
}

export interface Fretboard {
  /** Sounding MIDI keys of the open strings, from the last string to the first, as MusicXML lists them. */
  tuning: readonly number[];
  /** Where a capo lies; 0 for none. */
  capo: number;
}

/** Frets of usual instruments, with the capo's (common practice). */
const LAST_FRET = 22;
/** A hand covers four frets, and a fifth when it stretches. */
const SPAN = 3;
const STRETCH = 4;
const FINGERS = 4;
/** So many ways of stopping a chord are weighed. */
const MOST_WAYS = 60;
/**
 * What is uncomfortable (orders of size after Sayegh 1989 and Radisavljevic and Driessen 2004, from memory; figures
 * common practice, tried on the chords and scales of the tests): for each fret further up, a stretch, a barré, a string left out
 * between others, a stopped string, a fret that the hand moves at a pace of eighths.
 */
const UP = 0.12;
const HIGH = 0.25;
const TWELFTH = 12;
const STRETCHED = 1.6;
const BARRE = 0.7;
const LEFT_OUT = 0.6;
const STOPPED = 0.12;
const MOVE = 0.55;
const PACE = 0.25;
const SLOWEST = 4;

interface Way {
  stops: Stop[];
  /** Fret of the first finger; null where no string is stopped. */
  hand: number | null;
  cost: number;
}

/** How well it goes up to a chord, for each way of stopping it. */
interface Layer {
  index: number;
  costs: number[];
  hands: (number | null)[];
}

/**
 * Strings and frets for a part, chord by chord: the path over ways of stopping
 * and places of the hand that is easiest to play (dynamic programming, the
 * "optimum path paradigm" of Sayegh, Fingering for String Instruments, 1989).
 *
 * @returns for each chord its stops in the order of its keys; null for one that cannot be played
 */
export function fingerings(chords: readonly FrettedChord[], board: Fretboard): (Stop[] | null)[] {
  const layers = chords.map((chord) => waysOf(chord, board));
  const found: (Stop[] | null)[] = chords.map(() => null);
  let last: Layer | null = null;
  const backs: number[][] = chords.map(() => []);
  const ends: number[] = chords.map(() => -1);
  for (const [index, ways] of layers.entries()) {
    if (ways.length === 0) continue;
    const costs: number[] = [];
    const hands: (number | null)[] = [];
    const before: Layer | null = last;
    const pace = before ? paceOf(chords[index]!.at - chords[before.index]!.at) : 1;
    ways.forEach((way, at) => {
      let best = 0;
      let from = -1;
      before?.costs.forEach((cost, each) => {
        const hand = before.hands[each] ?? null;
        const move = way.hand === null || hand === null ? 0 : Math.abs(way.hand - hand);
        const whole = cost + MOVE * move * pace;
        if (from >= 0 && whole >= best) return;
        best = whole;
        from = each;
      });
      backs[index]![at] = from;
      costs.push(best + way.cost);
      // An open string leaves the hand where it is.
      hands.push(way.hand ?? before?.hands[from] ?? null);
    });
    ends[index] = before?.index ?? -1;
    last = { costs, hands, index };
  }
  let at = last ? lowest(last.costs) : -1;
  for (let index = last?.index ?? -1; index >= 0; ) {
    found[index] = layers[index]![at]!.stops;
    at = backs[index]![at]!;
    index = ends[index]!;
  }
  return found;
}

const lowest = (costs: readonly number[]): number =>
  costs.reduce((best, cost, at) => (cost < costs[best]! ? at : best), 0);

/** A hand that has time moves easily. */
const paceOf = (seconds: number): number => 1 / Math.min(SLOWEST, Math.max(1, seconds / PACE));

/** All ways in which a chord can be stopped by one hand, the easiest first. */
function waysOf({ keys, strings }: FrettedChord, { tuning, capo }: Fretboard): Way[] {
  const ways: Way[] = [];
  const order = keys.map((key, place) => ({ key, place })).sort((a, b) => b.key - a.key);
  const stops: Stop[] = new Array(keys.length);
  const choose = (at: number, used: number): void => {
    const next = order[at];
    if (!next) {
      ways.push(...handsOf(stops));
      return;
    }
    const asked = strings?.get(next.key);
    tuning.forEach((open, index) => {
      const string = tuning.length - index;
      const fret = next.key - open - capo;
      if (used & (1 << string) || fret < 0 || fret + capo > LAST_FRET) return;
      if (asked !== undefined && asked !== string) return;
      const others = order.slice(0, at).map(({ place }) => stops[place]!);
      const stopped = [...others, { string, fret }].flatMap((stop) => (stop.fret > 0 ? [stop.fret] : []));
      if (stopped.length > 0 && Math.max(...stopped) - Math.min(...stopped) > STRETCH) return;
      stops[next.place] = { string, fret };
      choose(at + 1, used | (1 << string));
    });
  };
  choose(0, 0);
  return ways.sort((a, b) => a.cost - b.cost).slice(0, MOST_WAYS);
}

/** A way of stopping with each place in which the hand can do it. */
function handsOf(chosen: readonly Stop[]): Way[] {
  const stops = [...chosen];
  const stopped = stops.filter(({ fret }) => fret > 0);
  const used = stops.map(({ string }) => string);
  const between = Math.max(...used) - Math.min(...used) + 1 - used.length;
  const common = LEFT_OUT * between + STOPPED * stopped.length;
  if (stopped.length === 0) return [{ stops, hand: null, cost: common }];
  const frets = stopped.map(({ fret }) => fret);
  const [low, high] = [Math.min(...frets), Math.max(...frets)];
  const barre = barreOf(stops, low);
  const fingers = stopped.length - (barre > 1 ? barre - 1 : 0);
  if (fingers > FINGERS) return [];
  const needsBarre = stopped.length > FINGERS;
  const ways: Way[] = [];
  for (let hand = Math.max(1, high - STRETCH); hand <= low; hand++) {
    const isStretched = high - hand > SPAN;
    const cost =
      common +
      UP * (hand - 1) +
      (high > TWELFTH ? HIGH * (high - TWELFTH) : 0) +
      (isStretched ? STRETCHED : 0) +
      (needsBarre ? BARRE : 0);
    ways.push({ stops, hand, cost });
  }
  return ways;
}

/** How many strings the first finger stops at the lowest fret; an open string under it leaves one. */
function barreOf(stops: readonly Stop[], low: number): number {
  const at = stops.filter(({ fret }) => fret === low).map(({ string }) => string);
  const [first, last] = [Math.min(...at), Math.max(...at)];
  const isOpen = stops.some(({ string, fret }) => fret === 0 && string > first && string < last);
  return isOpen ? 1 : at.length;
}
