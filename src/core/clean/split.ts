import type { StrandDecisions } from '../decisions/decisions';
import { divideNotes, type Seat } from '../infer/chairs/divide';
import { instrumentOf } from '../instruments/catalogue';
import { barAt, type Clock } from '../model/clock';
import { orderOf, pieceId, sharedId } from '../model/ids';
import { choosesProgram } from '../model/lanes';
import { makeStrand, type Placed, type PlayedNote, type Strand } from '../model/performance';
import { keyName } from '../model/pitch';
import type { Change } from './step';

interface Piece {
  label: string;
  notes: PlayedNote[];
  shaping: Placed[];
  chair?: NonNullable<Strand['chair']>;
  technique?: string;
}

/**
 * Cuts a strand in pieces. The first keeps the strand's id, so that what was
 * decided about it still holds; each piece takes the controllers along.
 * @returns also the notes that go, as they are commands
 */
export function splitStrand(
  strand: Strand,
  split: NonNullable<StrandDecisions['split']>,
  clock: Clock,
): { strands: Strand[]; changes: Change[]; gone: readonly PlayedNote[] } {
  const pieces = piecesOf(strand, split, clock).filter((piece) => piece.notes.length > 0);
  const kept = pieces.reduce((sum, piece) => sum + piece.notes.length, 0);
  if (pieces.length < 2 && kept === strand.notes.length) return { strands: [strand], changes: [], gone: [] };
  const changes: Change[] = [
    { strand: strand.id, step: 'split', what: 'strands', before: 1, after: pieces.length },
  ];
  if (kept !== strand.notes.length)
    changes.push({
      strand: strand.id,
      step: 'split',
      what: 'notes',
      before: strand.notes.length,
      after: kept,
    });
  return {
    strands: pieces.map(({ label, notes, shaping, chair, technique }, index) => ({
      ...makeStrand(
        {
          id: index === 0 ? strand.id : pieceId(strand.id, index + 1),
          track: strand.track,
          channel: strand.channel,
          port: strand.port,
          name: strand.name,
          notes,
          shaping,
        },
        clock,
      ),
      piece: strand.piece ? `${strand.piece}, ${label}` : label,
      ...(chair && { chair }),
      ...(technique && { technique }),
    })),
    changes,
    gone: commandsOf(strand, split),
  };
}

/** Notes that are commands, which go where a strand is split by them. */
const commandsOf = (
  { notes }: Strand,
  { by, keys = [] }: NonNullable<StrandDecisions['split']>,
): PlayedNote[] => (by === 'key-switch' ? notes.filter(({ key }) => keys.includes(key)) : []);

function piecesOf(strand: Strand, split: NonNullable<StrandDecisions['split']>, clock: Clock): Piece[] {
  const { notes, shaping } = strand;
  const two = (first: string, second: string, isSecond: (note: PlayedNote) => boolean): Piece[] => [
    { label: first, notes: notes.filter((note) => !isSecond(note)), shaping },
    { label: second, notes: notes.filter(isSecond), shaping },
  ];
  switch (split.by) {
    case 'pitch': {
      const { key = 60 } = split;
      return two(`from ${keyName(key)} up`, `below ${keyName(key)}`, (note) => note.key < key);
    }
    case 'passage': {
      const { from = 0, to = Number.POSITIVE_INFINITY } = split;
      const bar = (tick: number) => barAt(clock, tick).number;
      const label =
        to === Number.POSITIVE_INFINITY ? `from bar ${bar(from)}` : `bars ${bar(from)}–${bar(to - 1)}`;
      return two('the rest', label, (note) => note.on >= from && note.on < to);
    }
    case 'program':
      return byProgram(strand);
    case 'chairs':
      return byChairs(strand, split.chairs ?? [], clock);
    case 'key-switch':
      return byKeySwitch(strand, split.keys ?? [], split.techniques);
    case 'sounds':
      return bySounds(strand, split.players ?? []);
    default:
      return [{ label: '', notes, shaping }];
  }
}

/** Chords spread by less than this share of a quarter note are struck as one. */
const TOGETHER = 1 / 10;

/**
 * Each player's line of a section, as the score tells them apart, else as the
 * notes do; what several play each of them has. A player without a note is none.
 */
function byChairs({ notes, shaping }: Strand, chairs: readonly string[], clock: Clock): Piece[] {
  const seats = chairs.map(seatFor);
  const quarter = clock.ticksPerQuarter;
  const isTold = notes.some(({ players }) => players);
  const given = isTold
    ? notes.map(({ players = [1] }) =>
        players.filter((player) => player <= chairs.length).map((player) => player - 1),
      )
    : divideNotes(notes, seats, quarter, quarter * TOGETHER).map((seat) => [seat]);
  const lineOf = (seat: number) =>
    notes.flatMap((note, at) => {
      // Whom nobody seats sits with the last.
      const own = given[at]!.length === 0 ? [chairs.length - 1] : given[at]!;
      const place = own.indexOf(seat);
      return place < 0 ? [] : [place === 0 ? note : { ...note, id: sharedId(note.id, place) }];
    });
  return chairs.map((instrument, seat) => ({
    label: `chair ${seat + 1}`,
    notes: lineOf(seat),
    shaping,
    chair: { instrument, number: chairs.slice(0, seat + 1).filter((each) => each === instrument).length },
  }));
}

/** What the players of an instrument have. */
function seatFor(instrument: string): Seat {
  const { lowest, highest, comfortable, singleLine } = instrumentOf(instrument);
  return { lowest, highest, comfortable, doubles: !singleLine };
}

function byProgram({ notes, shaping }: Strand): Piece[] {
  const changes = shaping.filter((placed) => placed.event.kind === 'program');
  const rest = shaping.filter((placed) => !choosesProgram(placed.event));
  const pieces = new Map<number, Piece>();
  let at = 0;
  const [opening] = changes;
  let program = opening?.event.kind === 'program' ? opening.event.program : 0;
  for (const note of notes) {
    for (; at < changes.length; at++) {
      const { order, event } = changes[at]!;
      if (event.tick > note.on || (event.tick === note.on && order > orderOf(note))) break;
      if (event.kind === 'program') program = event.program;
    }
    const channel = opening?.event.channel ?? 0;
    const piece = pieces.get(program) ?? {
      label: `program ${program + 1}`,
      notes: [],
      shaping: [{ order: -1, event: { kind: 'program' as const, tick: 0, channel, program } }, ...rest],
    };
    pieces.set(program, piece);
    piece.notes.push(note);
  }
  return [...pieces.values()];
}

/** A piece for each technique where the switches are named, else for each switch; the commands go. */
function byKeySwitch(
  { notes, shaping }: Strand,
  keys: readonly number[],
  techniques: readonly string[] | undefined,
): Piece[] {
  const pieces = new Map<string, Piece>();
  let current = notes.find(({ key }) => keys.includes(key))?.key ?? -1;
  for (const note of notes) {
    if (keys.includes(note.key)) {
      current = note.key;
      continue;
    }
    const technique = techniques?.[keys.indexOf(current)];
    const label = technique ?? `switch ${keyName(current)}`;
    const piece = pieces.get(label) ?? { label, notes: [], shaping, ...(technique && { technique }) };
    pieces.set(label, piece);
    piece.notes.push(note);
  }
  return [...pieces.values()];
}

/** A piece for each player of a percussion strand, by the sounds that are theirs. */
function bySounds({ notes, shaping }: Strand, players: readonly (readonly number[])[]): Piece[] {
  const playerOf = new Map(players.flatMap((keys, player) => keys.map((key) => [key, player] as const)));
  const last = players.length - 1;
  return players.map((_, player) => ({
    label: `player ${player + 1}`,
    notes: notes.filter(({ key }) => (playerOf.get(key) ?? last) === player),
    shaping,
  }));
}
