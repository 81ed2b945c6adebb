/**
 * The ids of a job, made and taken apart here and nowhere else.
 *
 * | what | form | example |
 * |---|---|---|
 * | source | number in order of arrival, never used again | `1` |
 * | track | source / `t` number from 1 | `1/t3` |
 * | strand | source / track and channel from 1; pieces of a split add `s2`, `s3` … | `1/t3c1`, `1/t3c1s2` |
 * | part without a strand of its own | `0/p` and a number | `0/p3` |
 * | event | strand as the file has it / index in its track | `1/t3c1/42` |
 * | part | `P` and the strand that leads it | `P1/t3c1`, `P0/p3` |
 * | written note | an XML ID made of its event; tied continuations and the like add a suffix | `t3c1-42`, `t3c1-42.7.0` |
 */
export type SourceId = `${number}`;
export type TrackId = `${SourceId}/${string}`;
export type StrandId = `${SourceId}/${string}`;
export type EventId = `${StrandId}/${number}`;
export type PartId = `P${StrandId}`;

/** The source that leads a job that has only one. */
export const FIRST_SOURCE: SourceId = '1';

const TRACK = String.raw`\d{1,4}/t\d{1,5}`;
const CHANNEL = String.raw`c\d{1,2}`;
const PIECES = String.raw`(s\d{1,3})*`;

const ADDED = String.raw`0/p\d{1,4}`;

/** A strand, a piece of one that was split, or what stands for one in a part that was added. */
export const STRAND_ID = new RegExp(`^(${TRACK}${CHANNEL}${PIECES}|${ADDED})$`);
/** The same, or a whole track. */
export const STRAND_OR_TRACK_ID = new RegExp(`^${TRACK}(${CHANNEL}${PIECES})?$`);
/** A note of a source: never of a piece, so that it keeps its id when a strand is split. */
export const EVENT_ID = new RegExp(String.raw`^${TRACK}${CHANNEL}/\d{1,9}$`);
export const PART_ID = new RegExp(`^P(${TRACK}${CHANNEL}${PIECES}|${ADDED})$`);

/** @param track from 0 */
export const trackId = (source: SourceId, track: number): TrackId => `${source}/t${track + 1}`;

/** @param track from 0 @param channel 0–15 */
export const strandId = (source: SourceId, track: number, channel: number): StrandId =>
  `${source}/t${track + 1}c${channel + 1}`;

/** What leads a part that was added to those of the source. @param number from 1 */
export const addedId = (number: number): StrandId => `0/p${number}`;

export const isAdded = (id: StrandId | TrackId): boolean => id.startsWith('0/');

/** A piece of a split strand; the first piece keeps the strand's id. @param piece from 2 */
export const pieceId = (strand: StrandId, piece: number): StrandId => `${strand}s${piece}`;

/** The strand as the file has it, of which this is a piece or which it is. */
export const wholeStrand = (strand: StrandId): StrandId => strand.replace(/(s\d+)+$/, '') as StrandId;

/** The strand of which this is a piece, itself a piece perhaps; a whole one is its own. */
export const parentOf = (strand: StrandId): StrandId => strand.replace(/s\d+$/, '') as StrandId;

/** Which piece of its strand it is, from 1; 1 also for a whole one. */
export const pieceOf = (strand: StrandId): number => Number(/s(\d+)$/.exec(strand)?.[1] ?? 1);

/** @param index of the note-on in its track */
export const eventId = (strand: StrandId, index: number): EventId => `${strand}/${index}`;

/** The source that a strand or track is of. */
export const sourceOf = (id: StrandId | TrackId): SourceId => id.slice(0, id.indexOf('/')) as SourceId;

/** A strand without a name, for people: "Track 3, channel 1". */
export function spelledStrand(strand: StrandId | TrackId): string {
  const [, track, channel, pieces] = /t(\d+)(?:c(\d+))?((?:s\d+)*)$/.exec(strand) ?? [];
  const piece = pieces ? `, piece ${pieces.slice(1).replaceAll('s', '.')}` : '';
  return `Track ${track}${channel ? `, channel ${channel}` : ''}${piece}`;
}

/**
 * What the number of an event says of where it comes from:
 *
 * | from | what |
 * |---|---|
 * | 0 | its place in its track; of a score, its place among the notes of its part, and further strokes of them |
 * | 1,000,000 | notes that are new in a version of a score, a million for each version in turn, and their strokes |
 * | 9,000,000 | added by hand |
 * | 10,000,000 | a further player's; ten million for each |
 */
const NEW_FROM = 1_000_000;
/** Versions whose new notes have numbers of their own; they take turns. */
const VERSIONS = 8;
/** So far apart are the strokes of a note that is new in a version. */
const STROKES_APART = 100_000;

/** Where the numbers of notes begin that are new in a version of a score. @param version from 2 */
export const newNotesFrom = (version: number): number => NEW_FROM * (1 + ((version - 2) % VERSIONS));

/** How far apart strokes are numbered in a part that is new in a version. */
export const NEW_PART_SPAN = NEW_FROM;

/**
 * The number of a stroke of a written note.
 *
 * @param note number of its first stroke
 * @param stroke from 0
 * @param span how far apart the strokes of a note of its part are numbered, where it is no new one
 */
export const strokeNumber = (note: number, stroke: number, span: number): number =>
  note + stroke * (note < NEW_FROM ? span : STROKES_APART);

/** Numbers that events of sources do not reach; beyond them stand those that several players share, one for each more. */
const SHARED = 10_000_000;

/** The id of a note for a further player of it. @param player from 1 for the second */
export const sharedId = (event: EventId, player: number): EventId =>
  eventId(strandOf(event), indexOf(event) + player * SHARED);

/** Whether it is a note for a further player. */
export const isShared = (event: EventId): boolean => indexOf(event) >= SHARED;

/** The event that a player shares, or the event itself. */
export const ownEvent = (event: EventId): EventId =>
  indexOf(event) < SHARED ? event : eventId(strandOf(event), indexOf(event) % SHARED);

/** Numbers of notes that were added by hand begin here: no track has so many events. */
const ADDED_FROM = 9_000_000;

export const isAddedNote = (event: EventId): boolean =>
  indexOf(event) >= ADDED_FROM && indexOf(event) < SHARED;

/** The id of another note that is added to a strand. @param known those that were added before, to any strand */
export function addedNoteId(strand: StrandId, known: Iterable<EventId>): EventId {
  const root = wholeStrand(strand);
  let next = ADDED_FROM;
  for (const id of known) if (strandOf(id) === root) next = Math.max(next, indexOf(id) + 1);
  return eventId(root, next);
}

/** Where in its track an event stands. */
export const indexOf = (event: EventId): number => Number(event.slice(event.lastIndexOf('/') + 1));

/** Where in its track a note stands. */
export const orderOf = ({ id, order }: { id: EventId; order?: number }): number => order ?? indexOf(id);

/** The strand, as the file has it, that an event belongs to. */
export const strandOf = (event: EventId): StrandId => event.slice(0, event.lastIndexOf('/')) as StrandId;

export const partId = (leader: StrandId): PartId => `P${leader}`;

/** An XML ID for a written note that begins with an event; a suffix tells its continuations apart. */
export function noteIdOf(event: EventId, suffix = ''): string {
  const [source, strand, index] = event.split('/');
  return `${source === FIRST_SOURCE ? '' : `v${source}-`}${strand}-${index}${suffix}`;
}

/** The event with which a written note begins; null for an id that no event made. */
export function eventOfNote(noteId: string): EventId | null {
  const match = /^(?:v(\d+)-)?(t\d+c\d+)-(\d+)(?:\.|$)/.exec(noteId);
  return match ? (`${match[1] ?? FIRST_SOURCE}/${match[2]}/${match[3]}` as EventId) : null;
}
