import { type Decisions, decidedFor } from '../decisions/decisions';
import { ORDINARY } from '../decisions/kinds/technique';
import { type Family, type Instrument, instrumentOf, scoreOrder } from '../instruments/catalogue';
import { recogniseInstrument } from '../instruments/recognise';
import { type PartId, parentOf, partId, type StrandId } from '../model/ids';
import type { Performance, Strand } from '../model/performance';

/** What the roster says of one part. */
export interface PartPlan {
  id: PartId;
  /** Under which its decisions stand: the strand that leads it, or what stands for one in an added part. */
  leader: StrandId;
  name: string;
  abbreviation: string;
  instrument: Instrument;
  staves: 1 | 2;
  /** The strands that it is made of, the leading one first; none where it rests throughout. */
  strands: StrandId[];
  /** How each of them is played, as their names say. */
  techniques: (string | null)[];
  /** What each of them is played on, where a player changes instruments; else empty. */
  doubles: Instrument[];
  /** The player that each of them is, where they are several that share the part; else empty. */
  players: number[];
  /** Why it became what it is, for people. */
  why: string;
}

const ROMAN = ['', 'I', 'II', 'III', 'IV', 'V', 'VI', 'VII', 'VIII', 'IX', 'X', 'XI', 'XII'];

/**
 * Which strands make which part, on which instrument, under which name, in
 * which order: for the score and for the hand-over alike. Decisions come
 * first; guesses fill the rest.
 */
export function routeStrands(performance: Performance, decisions: Decisions): PartPlan[] {
  const kept = performance.strands.filter((strand) => !decidedFor(decisions, strand.id).out);
  const added = [...decisions.strands].flatMap(([leader, { added, out }]) =>
    added && !out ? [{ leader, added }] : [],
  );
  const ids = new Set([...kept.map(({ id }) => id), ...added.map(({ leader }) => leader)]);
  const leaderOf = (strand: Strand): StrandId => {
    const decided = decidedFor(decisions, strand.id).into;
    // Pieces of which it is known how they are played are one part, unless they were parted.
    const into = decided === undefined && strand.technique ? parentOf(strand.id) : decided;
    // A strand joins only one that stands for itself, so no chain or ring can form.
    return into && ids.has(into) && !decidedFor(decisions, into).into ? into : strand.id;
  };
  const membersOf = new Map<StrandId, Strand[]>();
  for (const strand of kept) {
    const leader = leaderOf(strand);
    membersOf.set(leader, [...(membersOf.get(leader) ?? []), strand]);
  }
  const leaders = kept.filter((strand) => leaderOf(strand) === strand.id);
  const drafts = [
    ...leaders.map((leader) => {
      const decided = decidedFor(decisions, leader.id);
      const guess = recogniseInstrument(leader);
      return {
        leader: leader.id,
        instrument: decided.instrument ? instrumentOf(decided.instrument) : guess.instrument,
        players: guess.players,
        why: decided.instrument ? 'You chose the instrument.' : guess.why,
      };
    }),
    ...added.map(({ leader, added }) => ({
      leader,
      instrument: instrumentOf(decidedFor(decisions, leader).instrument ?? added),
      players: [],
      why: 'You added this part.',
    })),
  ].map((draft) => {
    const decided = decidedFor(decisions, draft.leader);
    // The strand that leads comes first, whatever the order of tracks.
    const members = (membersOf.get(draft.leader) ?? []).toSorted(
      (a, b) => Number(b.id === draft.leader) - Number(a.id === draft.leader),
    );
    const sharing = sharedBy(members);
    const asRead = readsItsKeys(draft.instrument, members);
    return {
      ...draft,
      // The keys are on the page already: nothing is moved by octaves.
      ...(asRead && {
        instrument: { ...draft.instrument, transposition: { diatonic: 0, chromatic: 0 } },
        why: `${draft.why} Its keys are those that it reads, octaves away from those that would sound.`,
      }),
      members,
      name: decided.name?.trim() || null,
      players: sharing ?? draft.players,
      shared: sharing !== null,
      staves: decided.staves ?? stavesFor(draft.instrument, members),
    };
  });
  const numbers = numberAlike(drafts);
  const rank = new Map(decisions.order.map((id, index) => [id, index]));
  const order = drafts
    .map((draft, index) => ({ draft, number: numbers[index]!, index }))
    .sort(
      (a, b) =>
        (rank.get(a.draft.leader) ?? rank.size) - (rank.get(b.draft.leader) ?? rank.size) ||
        scoreOrder(a.draft.instrument.id) - scoreOrder(b.draft.instrument.id) ||
        (a.number?.[0] ?? 0) - (b.number?.[0] ?? 0) ||
        a.index - b.index,
    );
  return order.map(({ draft, number }) => ({
    id: partId(draft.leader),
    leader: draft.leader,
    name: draft.name ?? numbered(draft.instrument.name, draft.instrument, number),
    abbreviation: numbered(draft.instrument.abbreviation, draft.instrument, number),
    instrument: draft.instrument,
    staves: draft.staves,
    strands: draft.members.map((strand) => strand.id),
    techniques: draft.members.map((strand) => techniqueOf(strand, decisions)),
    doubles: doublesOf(draft.members, draft.instrument, decisions),
    players: draft.shared ? [...draft.players] : [],
    why: draft.why,
  }));
}

/** So many notes must lie out of the sounding range, and so few out of the read one. */
const MOSTLY_OUT = 0.2;
const MOSTLY_IN = 0.1;

/**
 * Whether the keys of an instrument that sounds octaves higher than it reads
 * (mallets, piccolo, celesta) are those that it reads, as files have them that
 * were played for sounds without that transposition.
 */
function readsItsKeys(
  { transposition, lowest, highest, unpitched }: Instrument,
  members: readonly Strand[],
): boolean {
  const { chromatic } = transposition;
  if (unpitched || chromatic <= 0 || chromatic % 12 !== 0) return false;
  const notes = members.flatMap((strand) => strand.notes);
  const outOf = (by: number) =>
    notes.filter(({ key }) => key < lowest - by || key > highest - by).length / Math.max(1, notes.length);
  return outOf(0) > MOSTLY_OUT && outOf(chromatic) < MOSTLY_IN;
}

/** Instruments of joined strands that were cast on another one than the part: one player changes to it. */
function doublesOf(members: readonly Strand[], own: Instrument, decisions: Decisions): Instrument[] {
  const cast = members.map(({ id }, at) => {
    const { instrument } = decidedFor(decisions, id);
    return at === 0 || !instrument ? own : instrumentOf(instrument);
  });
  const isPlain = own.unpitched || cast.every((each) => each === own || each.unpitched);
  return isPlain ? [] : cast;
}

/** How a strand is played: as was decided, or as its name or program says; null for the ordinary way. */
export function techniqueOf(strand: Strand, decisions: Decisions): string | null {
  const { technique } = decidedFor(decisions, strand.id);
  const said = technique ?? strand.technique;
  return said === ORDINARY ? null : (said ?? recogniseInstrument(strand).technique);
}

/** The players of a part that several share, one a strand; null where names and chairs do not tell them apart. */
function sharedBy(members: readonly Strand[]): number[] | null {
  if (members.length < 2) return null;
  const players = members.map((strand) => {
    const guess = recogniseInstrument(strand);
    return guess.players.length > 0 ? guess.players : strand.chair ? [strand.chair.number] : [];
  });
  const all = players.flat();
  const isTold = players.every((own) => own.length === 1) && new Set(all).size === all.length;
  return isTold ? all : null;
}

/** Keyboards and the harp read two staves, unless all their notes fit one; others where their chords fit none. */
function stavesFor(instrument: Instrument, strands: readonly Strand[]): 1 | 2 {
  const grand = instrument.family === 'keyboard' || instrument.id === 'harp' || instrument.id === 'strings';
  if (!grand) return GATHERED.has(instrument.family) && strands.some(areWideChords) ? 2 : 1;
  const lowest = Math.min(...strands.map((strand) => strand.lowest));
  const highest = Math.max(...strands.map((strand) => strand.highest));
  return strands.length === 1 && (lowest >= 57 || highest <= 62) ? 1 : 2;
}

/** What one strand of these plays may be a whole body of players, or no hand at all. */
const GATHERED: ReadonlySet<Family> = new Set(['voice', 'electronic', 'strings', 'brass', 'woodwind']);
/** Chords wider than this do not fit a staff, in semitones; and so many of all attacks are such. */
const WIDE = 24;
const OFTEN_WIDE = 0.3;

function areWideChords({ notes }: Strand): boolean {
  const spans = new Map<number, [low: number, high: number]>();
  for (const { on, key } of notes) {
    const [low, high] = spans.get(on) ?? [key, key];
    spans.set(on, [Math.min(low, key), Math.max(high, key)]);
  }
  const wide = [...spans.values()].filter(([low, high]) => high - low > WIDE).length;
  return wide > OFTEN_WIDE * spans.size;
}

interface Draft {
  instrument: Instrument;
  /** As the strand's name numbers them. */
  players: readonly number[];
  name: string | null;
}

/**
 * Parts for the same instrument are numbered: as their names say, each number
 * once; the others take the numbers that are left, in order. A lone part
 * without a number keeps its plain name.
 */
function numberAlike(drafts: readonly Draft[]): (readonly number[] | null)[] {
  const numbers = drafts.map(() => null as readonly number[] | null);
  for (const id of new Set(drafts.map((draft) => draft.instrument.id))) {
    const alike = drafts.flatMap((draft, at) => (draft.instrument.id === id ? [at] : []));
    const taken = new Set<number>();
    for (const at of alike) {
      const { players } = drafts[at]!;
      if (players.length === 0 || players.some((player) => taken.has(player))) continue;
      for (const player of players) taken.add(player);
      numbers[at] = players;
    }
    if (alike.length === 1) continue;
    let next = 1;
    for (const at of alike) {
      if (numbers[at] !== null) continue;
      while (taken.has(next)) next++;
      taken.add(next);
      numbers[at] = [next];
    }
  }
  return numbers;
}

/** A part's name with its players: Roman for violins, Arabic for the others. */
export function numbered(text: string, instrument: Instrument, players: readonly number[] | null): string {
  if (players === null) return text;
  const written = players.map((player) => (instrument.romanNumbers ? (ROMAN[player] ?? player) : player));
  return `${text} ${written.join('+')}`;
}
