import { instrumentOf } from '../instruments/catalogue';
import { soundedNotes } from '../perform/play';
import type { Part, Score } from '../score/score';
import { type Moment, QUARTER } from '../score/time';
import type { Smf, SmfEvent, SmfTrack, TextKind } from '../smf/events';
import { writeSmf } from '../smf/write';
import { lanternFerry, PIZZICATO_BARS, SWUNG_BARS } from './lantern-ferry';

const TICKS = 480;
const MICROS_PER_MINUTE = 60_000_000;
const ticksOf = (moment: Moment): number => Math.round((moment / QUARTER) * TICKS);

const text = (kind: TextKind, type: number, value: string, tick = 0): SmfEvent => ({
  kind,
  tick,
  type,
  bytes: new TextEncoder().encode(value),
});

/** Sorts a track's events by time: within a tick offs before ons, and everything else before both. */
function inOrder(events: SmfEvent[], end: number): SmfTrack {
  const rank = (event: SmfEvent) => (event.kind === 'noteOn' ? 2 : event.kind === 'noteOff' ? 1 : 0);
  return {
    events: [
      ...events.sort((a, b) => a.tick - b.tick || rank(a) - rank(b)),
      { kind: 'endOfTrack', tick: Math.max(end, ...events.map((event) => event.tick)) },
    ],
  };
}

function conductor(score: Score, title: string, end: number): SmfTrack {
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

function lyricEvents(score: Score, part: Part): SmfEvent[] {
  return part.bars.flatMap((bar, index) =>
    bar.voices.flatMap((line) =>
      line.items.flatMap((item) => {
        if (item.kind !== 'chord' || !item.lyric) return [];
        const { text: syllable, syllabic } = item.lyric;
        const hyphen = syllabic === 'begin' || syllabic === 'middle' ? '-' : '';
        return [text('lyric', 5, syllable + hyphen, ticksOf(score.bars[index]!.start + item.onset))];
      }),
    ),
  );
}

/** A channel for each part; percussion keeps General MIDI's channel 10 (index 9). */
function channelsOf(parts: readonly Part[]): number[] {
  const melodic = [...Array(16).keys()].filter((channel) => channel !== 9);
  let used = 0;
  return parts.map((part) =>
    instrumentOf(part.instrument).unpitched ? 9 : melodic[used++ % melodic.length]!,
  );
}

const endOf = (score: Score): number => {
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

/** A small seeded generator (mulberry32, public domain): the same seed makes the same file. */
function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** What the untidy file does to each part. */
interface Mess {
  name: string;
  program?: number;
  /** Seconds ahead of the beat. */
  ahead?: number;
  /** Notes run into the next by up to this many seconds. */
  overlap?: number;
  /** Lowest share of a note's length that is held. */
  loose?: number;
  /** A second track with the same notes, shifted by semitones. */
  doubled?: { name: string; semitones: number };
  keySwitches?: boolean;
}

const MESS: Record<string, Mess> = {
  FL: { name: '1st Fl lgto', overlap: 0.05 },
  CL: { name: 'Klarinette in B', overlap: 0.04 },
  AS: { name: 'Alto sax lead 2', program: 64, loose: 0.7 },
  H1: { name: 'Hn 1 sus', loose: 0.75 },
  H2: { name: 'Hn 2 sus', program: 66, loose: 0.75 },
  MA: { name: 'Marimba hard mallets', loose: 0.3 },
  DR: { name: 'drumkit close', loose: 0.2 },
  HP: { name: 'Harfe', loose: 0.6 },
  EG: { name: 'el gtr clean', loose: 0.8 },
  BG: { name: 'E-Bass', program: 39, loose: 0.85 },
  VO: { name: 'lead vox', loose: 0.85, program: 0 },
  V1: { name: '1st Vlns leg', overlap: 0.06, doubled: { name: 'Vlns thick 8va', semitones: 12 } },
  V2: { name: '2nd Vlns sus', loose: 0.85 },
  VA: { name: 'Bratschen sus slow', ahead: 0.08 },
  VC: { name: 'celli', overlap: 0.05, keySwitches: true },
};

/** Controllers that mixers leave in a file, with their values. */
const MIXER: readonly [controller: number, value: number][] = [
  [7, 100],
  [10, 64],
  [11, 127],
  [91, 40],
  [93, 0],
];
/** Key switches of the cello: bowed and plucked. */
const BOWED_KEY = 0;
const PLUCKED_KEY = 1;
const JITTER_SECONDS = 0.008;

/** The demo piece as it comes from a sequencer: odd names, wrong programs, early strings, loose ends. */
export function untidyFile(seed = 7): Uint8Array {
  const score = lanternFerry();
  const random = seeded(seed);
  const end = endOf(score);
  const channels = channelsOf(score.parts);
  const tempoAt = (moment: Moment) => {
    let found = score.tempos[0]!;
    for (const tempo of score.tempos) if (score.bars[tempo.bar]!.start + tempo.at <= moment) found = tempo;
    return found.quartersPerMinute;
  };
  const tracks: SmfTrack[] = [conductor(score, 'LANTERN FERRY v7', end)];
  score.parts.forEach((part, index) => {
    const mess = MESS[part.id]!;
    const channel = channels[index]!;
    const notes = soundedNotes(score, part).map((note, at, all) => {
      const perSecond = (TICKS * tempoAt(note.start)) / 60;
      const start = ticksOf(swung(score, note.start));
      const length = ticksOf(swung(score, note.end)) - start;
      const jitter = (random() + random() + random() - 1.5) * JITTER_SECONDS * perSecond;
      const on = Math.max(0, Math.round(start + jitter - (mess.ahead ?? 0) * perSecond));
      const held = mess.loose ? length * (mess.loose + random() * (1 - mess.loose)) : length;
      const joins =
        mess.overlap && all[at + 1] && all[at + 1]!.start === note.end && all[at + 1]!.key !== note.key;
      const off = Math.round(on + held + (joins ? random() * mess.overlap! * perSecond : 0));
      const velocity = Math.round(64 + 30 * random() + (note.accent ? 16 : 0));
      return { on, off: Math.max(on + 10, off), key: note.key, velocity };
    });
    const head = (name: string): SmfEvent[] => [
      text('trackName', 3, name),
      { kind: 'program', tick: 0, channel, program: mess.program ?? instrumentOf(part.instrument).program },
      ...MIXER.map(
        ([controller, value]): SmfEvent => ({ kind: 'control', tick: 0, channel, controller, value }),
      ),
      ...MIXER.slice(0, 2).map(
        ([controller, value]): SmfEvent => ({
          kind: 'control',
          tick: ticksOf(score.bars[25]!.start),
          channel,
          controller,
          value: value - 4,
        }),
      ),
    ];
    const sounding = (shift: number): SmfEvent[] =>
      notes.flatMap((note): SmfEvent[] => [
        { kind: 'noteOn', tick: note.on, channel, key: note.key + shift, velocity: note.velocity },
        { kind: 'noteOff', tick: note.off, channel, key: note.key + shift, velocity: 0, asNoteOn: true },
      ]);
    const switches = mess.keySwitches
      ? [
          [0, BOWED_KEY],
          [PIZZICATO_BARS.from, PLUCKED_KEY],
          [PIZZICATO_BARS.to, BOWED_KEY],
        ].flatMap(([bar, key]): SmfEvent[] => {
          const tick = Math.max(0, ticksOf(score.bars[bar!]!.start) - 60);
          return [
            { kind: 'noteOn', tick, channel, key: key!, velocity: 1 },
            { kind: 'noteOff', tick: tick + 30, channel, key: key!, velocity: 0, asNoteOn: true },
          ];
        })
      : [];
    tracks.push(inOrder([...head(mess.name), ...lyricEvents(score, part), ...sounding(0), ...switches], end));
    if (mess.doubled)
      tracks.push(inOrder([...head(mess.doubled.name), ...sounding(mess.doubled.semitones)], end));
  });
  const untidy: Pick<Smf, 'format' | 'division' | 'tracks'> = {
    format: 1,
    division: { kind: 'quarter', ticks: TICKS },
    tracks,
  };
  return writeSmf(untidy);
}

/** In the swung bars, the second half of each quarter comes on its last third. */
function swung(score: Score, moment: Moment): Moment {
  const from = score.bars[SWUNG_BARS.from]!.start;
  const to = score.bars[SWUNG_BARS.to]!.start;
  if (moment < from || moment >= to) return moment;
  const inQuarter = (moment - from) % QUARTER;
  const base = moment - inQuarter;
  const half = QUARTER / 2;
  const third = (2 * QUARTER) / 3;
  return Math.round(
    base +
      (inQuarter < half
        ? (inQuarter / half) * third
        : third + ((inQuarter - half) / half) * (QUARTER - third)),
  );
}
