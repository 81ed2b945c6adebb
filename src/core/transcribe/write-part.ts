import type { TextAt } from '../performance/performance';
import type { PartPlan } from '../roster/route';
import { showAccidentals } from '../score/accidentals';
import { beamVoice } from '../score/beams';
import { type KeySignature, keyInBar, type Part, type SwingMark, writtenFifths } from '../score/score';
import { joinAttacks } from './attacks';
import type { Beat } from './beats';
import type { RhythmChoices } from './choices';
import { chooseClefs } from './clefs';
import type { Ensemble } from './ensemble';
import { fitRhythm } from './fit-rhythm';
import { type Frame, frameEnd } from './frame';
import { bodiesOf, type FirstHearing, type Hearing, secondsPerUnit } from './hear';
import { fitDrumLengths, fitLengths } from './lengths';
import { hangLyrics } from './marks';
import { notate, placeDrums } from './notate';
import type { Attack, SketchNote } from './sketch';
import { writeSlurs } from './slurs';
import { spell } from './spell';
import { separateVoices } from './voices';

/** Everything that one part is written from. */
export interface Writing {
  plan: PartPlan;
  hearing: Hearing;
  first: FirstHearing;
  /** Seconds ahead of the beat. */
  lead: number;
  swings: readonly SwingMark[];
  frame: Frame;
  beats: readonly Beat[];
  keys: readonly KeySignature[];
  lyrics: readonly TextAt[];
  choices: RhythmChoices;
  /** What a body of the part may know of the others. */
  ensembleOf: (body: number) => Ensemble;
}

export interface WrittenPart {
  part: Part;
  /** The attacks of the part as they were read, for those who ask why. */
  attacks: readonly Attack[];
  /** Each note of the source by its id, as it was written. */
  notes: ReadonlyMap<string, SketchNote>;
  lostLyrics: TextAt[];
}

/**
 * Writes one part: fits its attacks knowing the others, reads lengths and
 * voices, puts it into bars, spells and beams it.
 */
export function writePart(writing: Writing): WrittenPart {
  const { plan, hearing, first, lead, swings, frame, beats, lyrics, choices } = writing;
  const { instrument } = plan;
  const per = secondsPerUnit(frame);
  const notes: SketchNote[] = [];
  const read: Attack[] = [];
  bodiesOf(hearing, lead, swings, frame, choices.places).forEach(({ staff, attacks, chordal }, index) => {
    const ensemble = writing.ensembleOf(index);
    fitRhythm(attacks, frame, beats, {
      sigma: first.sigma,
      secondsPerUnit: per,
      choiceAt: (beat) => choices.grids[beat.bar]!,
      singleLine: instrument.singleLine,
      chordal,
      ensemble,
    });
    const joined = joinAttacks(attacks, frameEnd(frame));
    if (instrument.unpitched) fitDrumLengths(joined, frame);
    else
      fitLengths(joined, frame, {
        tidiness: hearing.tidiness,
        singleLine: instrument.singleLine,
        dies: instrument.family === 'percussion',
        secondsPerUnit: per,
        closing: (bar) => choices.closings[bar]!,
      });
    const own = joined.flatMap((attack) => attack.notes);
    for (const note of own) {
      note.staff = staff;
      const end = choices.places.get(note.id)?.end;
      if (end !== undefined && end > note.start && !note.grace) note.end = Math.min(end, frameEnd(frame));
    }
    separateVoices(
      own.filter((note) => !note.grace),
      instrument.unpitched,
    );
    read.push(...attacks);
    notes.push(...own);
  });
  const bars = notate(notes, frame.bars, plan.staves, instrument.unpitched);
  const byId = new Map(notes.flatMap((note) => note.sources.map((id): [string, SketchNote] => [id, note])));
  finish(bars, writing);
  if (instrument.singleLine) writeSlurs(bars, byId);
  const part: Part = {
    id: plan.id,
    name: plan.name,
    abbreviation: plan.abbreviation,
    instrument: instrument.id,
    transposition: instrument.transposition,
    clefs: chooseClefs(bars, instrument, plan.staves),
    bars,
  };
  return { part, attacks: read, notes: byId, lostLyrics: hangLyrics(lyrics, bars, frame) };
}

/** Spelling or drum places, accidentals and beams. */
function finish(bars: Part['bars'], { plan, frame, keys }: Writing): void {
  const { instrument } = plan;
  const keyByBar = frame.bars.map((_, bar) => {
    const key = keyInBar({ keys }, bar);
    return { fifths: writtenFifths(key.fifths, instrument.transposition), minor: key.minor };
  });
  const keyOf = (bar: number) => keyByBar[bar]!;
  if (instrument.unpitched) placeDrums(bars);
  else {
    spell(bars, instrument.transposition, keyOf);
    bars.forEach((bar, index) => {
      showAccidentals(bar, keyOf(index).fifths);
    });
  }
  bars.forEach((bar, index) => {
    for (const line of bar.voices) beamVoice(line.items, frame.bars[index]!);
  });
}
