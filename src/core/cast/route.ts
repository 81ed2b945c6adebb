import { type Decisions, decidedFor } from '../decisions/decisions';
import { ORDINARY } from '../decisions/kinds/technique';
import { type Family, type Instrument, instrumentOf, instrumentOfProgram } from '../instruments/catalogue';
import { type InstrumentGuess, recogniseInstrument } from '../instruments/recognise';
import { type PartId, parentOf, partId, type StrandId } from '../model/ids';
import type { Performance, Strand } from '../model/performance';
import { leftHands } from './hands';
import { orderOf, placeIn } from './orders';
import { nameParts } from './part-names';

/** What the roster says of one part. */
export interface PartPlan {
  id: PartId;
  /** Under which its decisions stand: the strand that leads it, or what stands for one in an added part. */
  leader: StrandId;
  name: string;
  abbreviation: string;
  instrument: Instrument;
  /** General MIDI program, 0–127: the source's own where it is one of the instrument's (a plucked contrabass). */
  program: number;
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
  const hands = leftHands(kept);
  const leaderOf = (strand: Strand): StrandId => {
    const { into: decided, name, instrument } = decidedFor(decisions, strand.id);
    // Hands of one player, and pieces of which it is known how they are played, are one part, unless they were parted.
    const isOwn = name !== undefined || instrument !== undefined;
    const found = strand.technique ? parentOf(strand.id) : isOwn ? undefined : hands.get(strand.id);
    const into = decided === undefined ? found : decided;
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
      const isTwoHanded = (membersOf.get(leader.id) ?? []).some(({ id }) => hands.get(id) === leader.id);
      const decided = decidedFor(decisions, leader.id);
      const guess = recogniseInstrument(leader);
      return {
        leader: leader.id,
        lead: leader as Strand | null,
        guess: guess as InstrumentGuess | null,
        isChosen: decided.instrument !== undefined || isTwoHanded,
        instrument: decided.instrument ? instrumentOf(decided.instrument) : guess.instrument,
        players: guess.players,
        why: `${decided.instrument ? 'You chose the instrument.' : guess.why}${isTwoHanded ? ' Its two strands are the two hands.' : ''}`,
      };
    }),
    ...added.map(({ leader, added }) => ({
      leader,
      lead: null,
      guess: null,
      isChosen: true,
      instrument: instrumentOf(decidedFor(decisions, leader).instrument ?? added),
      players: [] as number[],
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
  const names = nameParts(
    drafts.map(({ lead, ...draft }) => ({
      ...draft,
      leader: lead,
      // Several that share a part are not called as the first of them.
      isChosen: draft.isChosen || draft.shared,
      technique: lead && techniqueOf(lead, decisions),
    })),
  );
  const rank = new Map(decisions.order.map((id, index) => [id, index]));
  const among = orderOf(drafts.map(({ instrument }) => instrument.id));
  const order = drafts
    .map((draft, index) => ({ draft, named: names[index]!, index }))
    .sort(
      (a, b) =>
        (rank.get(a.draft.leader) ?? rank.size) - (rank.get(b.draft.leader) ?? rank.size) ||
        placeIn(among, a.draft.instrument.id) - placeIn(among, b.draft.instrument.id) ||
        a.named.player - b.named.player ||
        a.index - b.index,
    );
  return order.map(({ draft, named }) => ({
    id: partId(draft.leader),
    leader: draft.leader,
    name: draft.name ?? named.name,
    abbreviation: named.abbreviation,
    instrument: draft.instrument,
    program: programFor(draft.instrument, draft.lead),
    staves: draft.staves,
    strands: draft.members.map((strand) => strand.id),
    techniques: draft.members.map((strand) => techniqueOf(strand, decisions)),
    doubles: doublesOf(draft.members, draft.instrument, decisions),
    players: draft.shared ? [...draft.players] : [],
    why: draft.why,
  }));
}

/** The program of an instrument; of several for it that of its strand. */
function programFor(instrument: Instrument, lead: Strand | null): number {
  const own = lead?.programs[0];
  return own !== undefined && own > 0 && instrumentOfProgram(own).id === instrument.id
    ? own
    : instrument.program;
}

/** So many notes must lie out of the sounding range, and so few out of the read one. */
const MOSTLY_OUT = 0.2;
const MOSTLY_IN = 0.1;

/** A bass that never goes below this key, and of which half lies above the other, was played an octave too high (common practice). */
const HIGH_BASS = { lowest: 40, middle: 50, notes: 12 };
/** Basses reach down to this key. */
const BASS = 31;

/**
 * Whether the keys of an instrument that sounds octaves away from what it reads
 * (mallets, piccolo, celesta; basses) are those that it reads, as files have them that
 * were played for sounds without that transposition.
 */
function readsItsKeys(
  { transposition, lowest, highest, unpitched }: Instrument,
  members: readonly Strand[],
): boolean {
  const { chromatic } = transposition;
  if (!unpitched && chromatic === -12 && lowest <= BASS) return isHighBass(members);
  if (unpitched || chromatic <= 0 || chromatic % 12 !== 0) return false;
  const notes = members.flatMap((strand) => strand.notes);
  const outOf = (by: number) =>
    notes.filter(({ key }) => key < lowest - by || key > highest - by).length / Math.max(1, notes.length);
  return outOf(0) > MOSTLY_OUT && outOf(chromatic) < MOSTLY_IN;
}

function isHighBass(members: readonly Strand[]): boolean {
  const keys = members.flatMap(({ notes }) => notes.map(({ key }) => key)).sort((a, b) => a - b);
  const middle = keys[keys.length >> 1] ?? 0;
  return keys.length >= HIGH_BASS.notes && keys[0]! >= HIGH_BASS.lowest && middle >= HIGH_BASS.middle;
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
