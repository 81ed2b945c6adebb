import { seeded } from '../basics/random';
import { instrumentOf } from '../instruments/catalogue';
import { FIRST_SOURCE, type StrandId, strandId, type TrackId, trackId } from '../model/ids';
import { barIndexOf, type Score } from '../model/score';
import type { Moment } from '../model/time';
import { soundedNotes } from '../perform/play';
import { swungMoments } from '../perform/swing';
import type { SmfEvent, SmfTrack } from '../sources/smf/events';
import { writeSmf } from '../sources/smf/write';
import type { OddityKind } from '../stock/oddities';
import { lanternFerry, PIZZICATO_BARS, SWUNG_BARS, tagOf } from './lantern-ferry';
import { channelsOf, conductor, endOf, inOrder, lyricEvents, TICKS, text, ticksOf } from './tidy';

/** What the untidy file does to each part. */
interface Mess {
  name: string;
  program?: number;
  /** The program is of a sound next to it, which somebody may have chosen. */
  chosen?: boolean;
  /** Seconds ahead of the beat. */
  ahead?: number;
  /** Notes run into the next by up to this many seconds. */
  overlap?: number;
  /** Lowest share of a note's length that is held. */
  loose?: number;
  /** A second track with the same notes, shifted by semitones. */
  doubled?: { name: string; semitones: number };
  keySwitches?: boolean;
  /** Off the percussion channel, 0–15, with all keys shifted by semitones. */
  stray?: { channel: number; shift: number };
  /** The same program is sent again at this bar. */
  programAgain?: number;
  /** This note is never ended. */
  hanging?: number;
  /** A key struck again this many notes in, a few ticks after the first stroke. */
  struckTwice?: number;
  /** Slips of a finger: very short notes on the open strings at these bars. */
  slips?: readonly number[];
}

const MESS: Record<string, Mess> = {
  FL: { name: '1st Fl lgto', overlap: 0.05 },
  CL: { name: 'Klarinette in B', overlap: 0.04, programAgain: 25 },
  AS: { name: 'Alto sax lead 2', program: 64, chosen: true, loose: 0.7 },
  H1: { name: 'Hn 1 sus', loose: 0.75 },
  H2: { name: 'Hn 2 sus', program: 66, loose: 0.75 },
  MA: { name: 'Marimba hard mallets', loose: 0.3, struckTwice: 20 },
  DR: { name: 'drumkit close', loose: 0.2, stray: { channel: 15, shift: 12 } },
  HP: { name: 'Harfe', loose: 0.6, hanging: 30 },
  EG: { name: 'el gtr clean', loose: 0.8, slips: [22, 30, 41] },
  BG: { name: 'E-Bass', program: 39, chosen: true, loose: 0.85 },
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

/** The tempo of this bar comes late by so many ticks. */
/** How loud all play from bar to bar: straight ways from one to the next, and steps where a bar comes twice. Velocities. */
const LOUDNESS: readonly (readonly [bar: number, velocity: number])[] = [
  [0, 66],
  [13, 66],
  [17, 94],
  [25, 94],
  [25, 64],
  [33, 64],
  [37, 88],
  [45, 88],
  [45, 52],
  [53, 52],
  [57, 34],
];

function loudnessAt(bar: number): number {
  const after = LOUDNESS.findIndex(([each]) => each > bar);
  const [from, start] = LOUDNESS[after - 1]!;
  const [to, end] = LOUDNESS[after]!;
  return start + ((end - start) * (bar - from)) / (to - from);
}

const LATE_TEMPO = { bar: 37, ticks: 240 };
const EMPTY_TRACK = 'notes for the mix';

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
  // Some bars are swung, as nothing in the file says.
  const swungScore = { ...score, swings: [{ ...SWUNG_BARS, value: 'eighth' as const, ratio: 2 / 3 }] };
  const barAt = (moment: Moment) => score.bars[barIndexOf(score.bars, moment)]!;
  /** Index of the bar and how far within it. */
  const barOf = (moment: Moment) => {
    const { index, start, length } = barAt(moment);
    return index + (moment - start) / length;
  };
  const tracks: SmfTrack[] = [withLateTempo(conductor(score, 'LANTERN FERRY v7', end), score)];
  score.parts.forEach((part, index) => {
    const mess = MESS[tagOf(part)]!;
    const channel = mess.stray?.channel ?? channels[index]!;
    const sounded = soundedNotes(score, part);
    const swung = swungMoments(swungScore, sounded, barAt);
    const notes = sounded.map((note, at, all) => {
      const perSecond = (TICKS * tempoAt(note.start)) / 60;
      const start = ticksOf(Math.round(swung(note.start)));
      const length = ticksOf(Math.round(swung(note.end))) - start;
      const jitter = (random() + random() + random() - 1.5) * JITTER_SECONDS * perSecond;
      const on = Math.max(0, Math.round(start + jitter - (mess.ahead ?? 0) * perSecond));
      const held = mess.loose ? length * (mess.loose + random() * (1 - mess.loose)) : length;
      const joins =
        mess.overlap && all[at + 1] && all[at + 1]!.start === note.end && all[at + 1]!.key !== note.key;
      const off = Math.round(on + held + (joins ? random() * mess.overlap! * perSecond : 0));
      const velocity = Math.round(loudnessAt(barOf(note.start)) + 14 * random() - 7 + (note.accent ? 16 : 0));
      return { on, off: Math.max(on + 10, off), key: note.key + (mess.stray?.shift ?? 0), velocity };
    });
    const hanging = notes.findIndex(
      (note, at) =>
        at >= (mess.hanging ?? notes.length) && !notes.slice(at + 1).some((later) => later.key === note.key),
    );
    if (mess.struckTwice !== undefined) {
      const struck = notes[mess.struckTwice]!;
      notes.push({ ...struck, on: struck.on + 3 });
    }
    for (const bar of mess.slips ?? []) {
      const on = ticksOf(score.bars[bar]!.start) + 100;
      notes.push({ on, off: on + 10, key: 40, velocity: 20 });
    }
    const program = mess.program ?? instrumentOf(part.instrument).program;
    const again = mess.programAgain;
    const head = (name: string): SmfEvent[] => [
      text('trackName', 3, name),
      { kind: 'program', tick: 0, channel, program },
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
      ...(again === undefined
        ? []
        : [{ kind: 'program' as const, tick: ticksOf(score.bars[again]!.start), channel, program }]),
    ];
    const sounding = (shift: number): SmfEvent[] =>
      notes.flatMap((note, at): SmfEvent[] => {
        const key = note.key + shift;
        const start: SmfEvent = { kind: 'noteOn', tick: note.on, channel, key, velocity: note.velocity };
        if (at === hanging) return [start];
        return [start, { kind: 'noteOff', tick: note.off, channel, key, velocity: 0, asNoteOn: true }];
      });
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
  tracks.push(inOrder([text('trackName', 3, EMPTY_TRACK), text('text', 1, 'strings up in C')], end));
  return writeSmf({ format: 1, division: { kind: 'quarter', ticks: TICKS }, tracks });
}

function withLateTempo(track: SmfTrack, score: Score): SmfTrack {
  const due = ticksOf(score.bars[LATE_TEMPO.bar]!.start);
  const { events } = track;
  for (const event of events)
    if (event.kind === 'tempo' && event.tick === due) event.tick += LATE_TEMPO.ticks;
  return { events: events.sort((a, b) => a.tick - b.tick) };
}

/** The truth about the untidy file: every flaw in it that stock-taking should find, by kind and strand or track. */
export function plantedFlaws(): { kind: OddityKind; strand: StrandId | TrackId | null }[] {
  const score = lanternFerry();
  const channels = channelsOf(score.parts);
  const flaws: { kind: OddityKind; strand: StrandId | TrackId | null }[] = [{ kind: 'tempo', strand: null }];
  // The first track is the clock.
  let track = 1;
  score.parts.forEach((part, index) => {
    const mess = MESS[tagOf(part)]!;
    const channel = mess.stray?.channel ?? channels[index]!;
    const strand = strandId(FIRST_SOURCE, track++, channel);
    const plant = (kind: OddityKind, isIn: boolean) => {
      if (isIn) flaws.push({ kind, strand });
    };
    plant('mixer', true);
    plant('program', mess.program !== undefined && !mess.chosen);
    plant('program-changes', mess.programAgain !== undefined);
    plant('hanging', mess.hanging !== undefined);
    plant('stacked', mess.struckTwice !== undefined);
    plant('specks', mess.slips !== undefined);
    plant('key-switches', mess.keySwitches === true);
    plant('channel', mess.stray !== undefined);
    plant('kit', mess.stray !== undefined);
    if (!mess.doubled) return;
    const double = strandId(FIRST_SOURCE, track++, channel);
    flaws.push({ kind: 'doubled', strand: double }, { kind: 'mixer', strand: double });
  });
  flaws.push({ kind: 'empty-track', strand: trackId(FIRST_SOURCE, track) });
  return flaws;
}
