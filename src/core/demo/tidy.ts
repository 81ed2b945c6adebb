import { instrumentOf } from '../instruments/catalogue';
import type { Part, Score } from '../model/score';
import { type Moment, QUARTER } from '../model/time';
import { soundedNotes } from '../perform/play';
import type { SmfEvent, SmfTrack, TextKind } from '../sources/smf/events';
import { writeSmf } from '../sources/smf/write';
import { lanternFerry } from './lantern-ferry';

/** Ticks a quarter note. */
export const TICKS = 480;
const MICROS_PER_MINUTE = 60_000_000;
/** Ticks of a moment of the score. */
export const ticksOf = (moment: Moment): number => Math.round((moment / QUARTER) * TICKS);

export const text = (kind: TextKind, type: number, value: string, tick = 0): SmfEvent => ({
  kind,
  tick,
  type,
  bytes: new TextEncoder().encode(value),
});

/** Sorts a track's events by time: within a tick offs before ons, and everything else before both. */
export function inOrder(events: SmfEvent[], end: number): SmfTrack {
  const rank = (event: SmfEvent) => (event.kind === 'noteOn' ? 2 : event.kind === 'noteOff' ? 1 : 0);
  return {
    events: [
      ...events.sort((a, b) => a.tick - b.tick || rank(a) - rank(b)),
      { kind: 'endOfTrack', tick: Math.max(end, ...events.map((event) => event.tick)) },
    ],
  };
}

export function conductor(score: Score, title: string, end: number): SmfTrack {
  const events: SmfEvent[] = [text('trackName', 3, title)];
  score.bars.forEach((bar, index) => {
    const before = score.bars[index - 1];
    const same =
      before &&
      before.missing === 0 &&
      before.meter.numerator === bar.meter.numerator &&
      before.meter.denominator === bar.meter.denominator;
    if (same) return;
    // An upbeat is written as one bar of its own length.
    const numerator = (bar.length / QUARTER / 4) * bar.meter.denominator;
    events.push({
      kind: 'timeSignature',
      tick: ticksOf(bar.start),
      numerator,
      denominator: bar.meter.denominator,
      clocks: 24,
      thirtySeconds: 8,
    });
  });
  const at = (bar: number, offset: Moment = 0) => ticksOf(score.bars[bar]!.start + offset);
  for (const key of score.keys)
    events.push({ kind: 'keySignature', tick: at(key.bar), fifths: key.fifths, minor: key.minor });
  for (const tempo of score.tempos)
    events.push({
      kind: 'tempo',
      tick: at(tempo.bar, tempo.at),
      microsPerQuarter: Math.round(MICROS_PER_MINUTE / tempo.quartersPerMinute),
    });
  for (const mark of score.rehearsals) events.push(text('marker', 6, mark.text, at(mark.bar)));
  return inOrder(events, end);
}

export function lyricEvents(score: Score, part: Part): SmfEvent[] {
  return part.bars.flatMap((bar, index) =>
    bar.voices.flatMap((line) =>
      line.items.flatMap((item) => {
        if (item.kind !== 'chord' || !item.lyrics?.[0]) return [];
        const { text: syllable, syllabic } = item.lyrics[0];
        const hyphen = syllabic === 'begin' || syllabic === 'middle' ? '-' : '';
        return [text('lyric', 5, syllable + hyphen, ticksOf(score.bars[index]!.start + item.onset))];
      }),
    ),
  );
}

/** A channel for each part; percussion keeps General MIDI's channel 10 (index 9). */
export function channelsOf(parts: readonly Part[]): number[] {
  const melodic = [...Array(16).keys()].filter((channel) => channel !== 9);
  let used = 0;
  return parts.map((part) =>
    instrumentOf(part.instrument).unpitched ? 9 : melodic[used++ % melodic.length]!,
  );
}

export const endOf = (score: Score): number => {
  const last = score.bars.at(-1)!;
  return ticksOf(last.start + last.length);
};

/** The demo piece as a tidy format 1 file: every note on its place, at its full length. */
export function tidyFile(): Uint8Array {
  const score = lanternFerry();
  const end = endOf(score);
  const channels = channelsOf(score.parts);
  const tracks = score.parts.map((part, index) => {
    const channel = channels[index]!;
    const events: SmfEvent[] = [
      text('trackName', 3, part.name),
      { kind: 'program', tick: 0, channel, program: instrumentOf(part.instrument).program },
      ...lyricEvents(score, part),
    ];
    for (const note of soundedNotes(score, part)) {
      const velocity = note.accent ? 100 : 80;
      events.push({ kind: 'noteOn', tick: ticksOf(note.start), channel, key: note.key, velocity });
      events.push({
        kind: 'noteOff',
        tick: ticksOf(note.end),
        channel,
        key: note.key,
        velocity: 64,
        asNoteOn: false,
      });
    }
    return inOrder(events, end);
  });
  return writeSmf({
    format: 1,
    division: { kind: 'quarter', ticks: TICKS },
    tracks: [conductor(score, score.title, end), ...tracks],
  });
}
