import { drumSound } from '../instruments/kit';
import { beatsOf } from '../score/meter';
import { type Moment, QUARTER, type Span } from '../score/time';
import { barIndexOf, type Frame, frameEnd, momentOf } from './frame';
import type { Attack, SketchNote } from './sketch';
import { FINE_STEPS, nearestPlace, type Tidiness, tickTolerance } from './tidiness';

/** Of the time to the next attack, a note that fills this much is meant to last until then. */
const FILLS = 0.55;
/** A gap up to this long is only a release, whatever its share. */
const RELEASE_GAP = QUARTER / 4;
const SHORTEST = QUARTER / 8;

/**
 * Step 8: decides how long each note is written. In a written part a release
 * on the grid stands as it is. In a played one, notes last to the next attack
 * unless a real gap is left, and overlaps in a single line are legato.
 *
 * @param singleLine the instrument plays one note at a time
 */
export function fitLengths(
  attacks: readonly Attack[],
  frame: Frame,
  tidiness: Tidiness,
  singleLine: boolean,
): void {
  const end = frameEnd(frame);
  const tolerance = tickTolerance(frame.clock.ticksPerQuarter);
  attacks.forEach((attack, index) => {
    let next = index + 1;
    while (next < attacks.length && attacks[next]!.start <= attack.start) next++;
    const following = attacks[next]?.start ?? end;
    for (const note of attack.notes) {
      note.start = attack.start;
      const released = momentOf(frame, note.off);
      const place = nearestPlace(released, FINE_STEPS);
      const exact = tidiness.attacks && tidiness.releases && Math.abs(place - released) <= tolerance;
      let written = exact ? place : 0;
      if (!exact || written <= attack.start)
        written = loosely(
          note,
          attack.start,
          following,
          released - momentOf(frame, note.on),
          attacks,
          next,
          singleLine,
        );
      note.end = Math.min(written, end);
      if (note.end <= note.start) note.end = Math.min(note.start + SHORTEST, end);
    }
  });
}

function loosely(
  note: SketchNote,
  start: Moment,
  following: Moment,
  played: Span,
  attacks: readonly Attack[],
  next: number,
  singleLine: boolean,
): Moment {
  const room = following - start;
  if (room <= 0) return start + SHORTEST;
  if (played >= room) {
    if (singleLine || played < 1.25 * room) return following;
    return lastingPast(start + played, attacks, next, note.key);
  }
  if (played >= FILLS * room && room <= 4 * QUARTER) return following;
  if (room - played <= RELEASE_GAP) return following;
  return Math.min(onGridOf(start, start + plainSpan(played, room)), following);
}

/** The place nearest to `end` on the grid that `start` belongs to, so that a triplet note ends on a triplet place. */
function onGridOf(start: Moment, end: Moment): Moment {
  const step = FINE_STEPS.find((each) => Number.isInteger(start / each)) ?? FINE_STEPS[0]!;
  return Math.max(start + step, Math.round(end / step) * step);
}

/** A note that sounds on under later attacks ends with the attack nearest to its release, or on an eighth. */
function lastingPast(release: Moment, attacks: readonly Attack[], next: number, key: number): Moment {
  let best = attacks[next]?.start ?? release;
  for (let at = next; at < attacks.length; at++) {
    const { start, notes } = attacks[at]!;
    if (Math.abs(start - release) < Math.abs(best - release)) best = start;
    // The same key struck again ends it in any case.
    if (start > release || notes.some((note) => note.key === key)) break;
  }
  return Math.abs(best - release) <= QUARTER / 2 ? best : Math.round(release / (QUARTER / 2)) * (QUARTER / 2);
}

/** The plain or dotted value nearest to what was played (a release is rather early than late), within the room. */
function plainSpan(played: Span, room: Span): Span {
  let best = SHORTEST * 2;
  for (let span = SHORTEST * 2; span <= 8 * QUARTER; span *= 2)
    for (const candidate of [span, span * 1.5]) {
      if (candidate > room) continue;
      if (Math.abs(Math.log((played * 1.15) / candidate)) < Math.abs(Math.log((played * 1.15) / best)))
        best = candidate;
    }
  return Math.min(best, room);
}

/**
 * Step 8 for drums, whose releases mean nothing: a stroke is written to the
 * next stroke of the same hands or feet, at most to the end of its beat.
 */
export function fitDrumLengths(attacks: readonly Attack[], frame: Frame): void {
  for (const foot of [false, true]) {
    let following = frameEnd(frame);
    for (const attack of attacks.toReversed()) {
      const notes = attack.notes.filter((note) => drumSound(note.key).foot === foot);
      if (notes.length === 0) continue;
      const end = Math.min(following, beatEnd(frame, attack.start));
      for (const note of notes) {
        note.start = attack.start;
        note.end = end;
      }
      following = attack.start;
    }
  }
}

function beatEnd(frame: Frame, moment: Moment): Moment {
  const bar = frame.bars[barIndexOf(frame.bars, moment)]!;
  const zero = bar.start - bar.missing;
  const beat = beatsOf(bar).findLast((each) => zero + each.start <= moment)!;
  return Math.min(zero + beat.start + beat.length, bar.start + bar.length);
}
