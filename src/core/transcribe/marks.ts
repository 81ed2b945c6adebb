import { sectionName } from '../infer/form/sections';
import { secondsAt, type TempoChange } from '../model/clock';
import { type Frame, frameIndex, momentOf } from '../model/frame';
import type { ChordSymbol, Lyric } from '../model/marks';
import type { MarkOffer } from '../model/offers';
import type { Performance, TextAt } from '../model/performance';
import { type Bar, barIndexOf, type PartBar, type RehearsalMark, type TempoMark } from '../model/score';
import { QUARTER } from '../model/time';

/** Tempo steps closer than this are one gradual change: only a tempo that holds is printed. */
const HOLDS_BARS = 1;
/** Where no tempo holds from the start, the mean pace of so many bars is printed. */
const OPENING_BARS = 4;

/** A change of tempo stands on a 480th of a quarter: finer than ears, and a receiver reads it as it is. */
const TEMPO_STEP = QUARTER / 480;

/** Step 14: tempos, where they are. */
export function tempoMarks(performance: Performance, frame: Frame): TempoMark[] {
  const changes = performance.clock.tempos.filter((change) => change.tick < endTick(frame));
  const paceOf = ({ microsPerQuarter }: TempoChange) => Math.round(6e9 / microsPerQuarter) / 100;
  // An upbeat is too short to tell a tempo by: it holds for a whole bar, or not at all.
  const holds = ({ tick }: TempoChange, until: number) => {
    const bar = frameIndex(frame, tick);
    const length = Math.max(frame.bars[bar]!.length, bar === 0 ? (frame.bars[1]?.length ?? 0) : 0);
    return until - tick >= ((HOLDS_BARS * length) / QUARTER) * frame.clock.ticksPerQuarter;
  };
  const opening = () => {
    const [, second, third] = changes;
    if (second && holds(second, third?.tick ?? Number.POSITIVE_INFINITY)) return paceOf(second);
    return openingPace(second?.tick ?? Number.POSITIVE_INFINITY, frame);
  };
  let last: number | null = null;
  return changes.map((change, index): TempoMark => {
    const bar = frameIndex(frame, change.tick);
    const next = changes[index + 1]?.tick ?? Number.POSITIVE_INFINITY;
    const quartersPerMinute = paceOf(change);
    const figure = holds(change, next) ? quartersPerMinute : index === 0 ? opening() : null;
    const printed =
      figure !== null && (last === null || Math.round(figure) !== Math.round(last)) ? figure : null;
    last = printed ?? last;
    return {
      bar,
      at: Math.round(momentOf(frame, change.tick) / TEMPO_STEP) * TEMPO_STEP - frame.bars[bar]!.start,
      quartersPerMinute,
      printed,
    };
  });
}

/** The mean pace of the first bars from a tick on, in quarters a minute: a first beat may be cut short by the file's start. */
function openingPace(from: number, frame: Frame): number {
  const { clock, ticks } = frame;
  const to = Math.max(from + clock.ticksPerQuarter, ticks[OPENING_BARS] ?? endTick(frame));
  const seconds = secondsAt(clock, to) - secondsAt(clock, from);
  return (60 * (to - from)) / clock.ticksPerQuarter / seconds;
}

function endTick(frame: Frame): number {
  const last = frame.bars.at(-1)!;
  return frame.ticks.at(-1)! + (last.length / QUARTER) * frame.clock.ticksPerQuarter;
}

/** Step 15: markers become rehearsal marks at the nearest bar line. */
export function rehearsalMarks(markers: readonly TextAt[], frame: Frame): RehearsalMark[] {
  return markers.map((marker) => {
    const index = frameIndex(frame, marker.tick);
    const end = frame.ticks[index + 1] ?? Number.POSITIVE_INFINITY;
    const bar = marker.tick - frame.ticks[index]! > end - marker.tick ? index + 1 : index;
    return { bar, text: marker.text.trim() };
  });
}

/** The rehearsal marks that were offered and chosen, lettered in their order. */
export const chosenRehearsals = (offers: readonly MarkOffer[], { bars }: Frame): RehearsalMark[] =>
  offers
    .filter(({ kind, shown }) => kind === 'rehearsals' && shown)
    .map(({ from }, index) => ({ bar: barIndexOf(bars, from), text: sectionName(index) }));

/** Chord symbols stand on an eighth. */
const CHORD_STEP = QUARTER / 2;

/** Markers that name chords become chord symbols of a part, at the nearest eighth. */
export function putChordSymbols(
  chords: readonly { tick: number; symbol: ChordSymbol }[],
  bars: readonly PartBar[],
  frame: Frame,
): void {
  for (const { tick, symbol } of chords) {
    const moment = Math.round(momentOf(frame, tick) / CHORD_STEP) * CHORD_STEP;
    const index = barIndexOf(frame.bars, moment);
    const bar = bars[index];
    const at = moment - frame.bars[index]!.start;
    if (!bar || at < 0 || at >= frame.bars[index]!.length) continue;
    bar.marks = [...(bar.marks ?? []), { kind: 'chord-symbol' as const, symbol, at }].sort(
      (a, b) => a.at - b.at,
    );
  }
}

/** How a file marks that a word goes on: hyphens after syllables, or spaces after words. */
type LyricStyle = 'hyphens' | 'spaces' | 'words';

function styleOf(lyrics: readonly TextAt[]): LyricStyle {
  if (lyrics.some((lyric) => /-\s*$/.test(lyric.text))) return 'hyphens';
  return lyrics.some((lyric) => /\s$/.test(lyric.text)) ? 'spaces' : 'words';
}

/**
 * Step 16: hangs lyric events under the notes of their part: the note that
 * starts nearest, within an eighth. Returns those that found none.
 */
export function hangLyrics(lyrics: readonly TextAt[], bars: readonly PartBar[], frame: Frame): TextAt[] {
  const style = styleOf(lyrics);
  const lost: TextAt[] = [];
  let within = false;
  for (const lyric of lyrics) {
    const text = lyric.text.replace(/^[\\/]/, '').trim();
    const goesOn = style === 'hyphens' ? text.endsWith('-') : style === 'spaces' && !/\s$/.test(lyric.text);
    const syllabic: Lyric['syllabic'] = within ? (goesOn ? 'middle' : 'end') : goesOn ? 'begin' : 'single';
    within = goesOn;
    const chord = nearestChord(momentOf(frame, lyric.tick), bars, frame.bars);
    if (chord) chord.lyrics = [{ text: text.replace(/-$/, ''), syllabic }];
    else lost.push(lyric);
  }
  return lost;
}

function nearestChord(moment: number, bars: readonly PartBar[], scoreBars: readonly Bar[]) {
  const at = barIndexOf(scoreBars, moment);
  let best = null;
  let distance = QUARTER / 2;
  // Higher lines come first, so they win where two start together.
  for (const index of [at, at + 1])
    for (const line of bars[index]?.voices ?? [])
      for (const item of line.items) {
        if (item.kind !== 'chord' || item.lyrics || item.notes[0]!.tieStop) continue;
        const away = Math.abs(scoreBars[index]!.start + item.onset - moment);
        if (away < distance) {
          best = item;
          distance = away;
        }
      }
  return best;
}
