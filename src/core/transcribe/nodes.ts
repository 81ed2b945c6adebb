import { node, steppedNode } from '../basics/graph';
import { whole } from '../basics/same';
import type { Decisions, StrandDecisions } from '../decisions/decisions';
import { lastAt } from '../decisions/kind';
import { likeEachTime, type NotePlace } from '../infer/form/again';
import { barTexts, type TextPart } from '../infer/form/alike';
import { localKeys } from '../infer/key/local-keys';
import { settleKey } from '../infer/key/settle-key';
import type { Lead } from '../infer/lead/lead-of';
import { findFermatas, type Hold } from '../infer/marks/fermatas';
import type { Loudness, StruckAttack } from '../infer/marks/loudness';
import { groupBars } from '../infer/meter/grouping';
import { type Heard, Listening } from '../infer/rhythm/ensemble';
import { type Beat, beatsOfFrame } from '../model/beats';
import type { Clock, ClockBar } from '../model/clock';
import { barsOfScore, type Frame, frameBars, frameEnd } from '../model/frame';
import type { Groups } from '../model/groups';
import type { EventId, PartId } from '../model/ids';
import type { MarkOffer } from '../model/offers';
import type { KeyChange, Strand } from '../model/performance';
import { type KeySignature, keyInBar, type Part, type SwingMark, type TempoMark } from '../model/score';
import type { Attack, LocalKey, SketchNote } from '../model/sketch';
import { withShorthand } from '../notate/shorthand';
import { type signsOf, withSigns } from '../notate/signs';
import { decideSwing, type RhythmChoices, type RhythmDecisions, rhythmChoices } from './choices';
import { chordOffers } from './chords';
import { inBars, pitchWeights } from './chroma';
import { type Ears, earsOf } from './ears';
import { type FormScore, formOf } from './form';
import { type FirstHearing, type HeardPlan, type Hearing, hear, hearFirst, placesOf } from './hear';
import {
  bendOffers,
  fermataOffers,
  ghostOffers,
  hearTutti,
  loudnessOfPart,
  offersOf,
  programmedOffers,
  struckInPart,
  type Together,
  touchOffers,
  withMarks,
} from './offer-marks';
import { sectionOffers } from './sections';
import { withTablature } from './tablature';
import { hearTogether } from './together';
import {
  asPlayed,
  type FittedPart,
  type Fitting,
  fitPart,
  type Spelling,
  spellPart,
  type UnnamedPart,
  type Writing,
  writePart,
} from './write-part';

// Everything that is kept from one transcription to the next, in the order in which it is worked out: each a function
// of what it is handed. What holds for all parts is asked for under the piece, the rest under the leader of a part.

// Time and key of the piece.

/** The bars of the clock, to the last moment at which something is played. */
export const BARS = node('bars', ({ clock, end }: { clock: Clock; end: number }) => barsOfScore(clock, end));

/** How each bar groups its beats, where the meter leaves a choice. */
export const GROUPS = node(
  'groups',
  ({ bars, strands, clock }: { bars: readonly ClockBar[]; strands: readonly Strand[]; clock: Clock }) =>
    groupBars(strands, bars, clock.ticksPerQuarter),
  { cuts: true },
);

export const FRAME = node(
  'frame',
  (of: { clock: Clock; bars: readonly ClockBar[]; groups: readonly (Groups | null)[] }) =>
    frameBars(of.clock, of.bars, of.groups),
);

export const BEATS = node('beats', ({ frame }: { frame: Frame }) => beatsOfFrame(frame));

/** How long each pitch class sounds in each beat. */
export const WEIGHTS = node(
  'weights',
  ({ strands, frame, beats }: { strands: readonly Strand[]; frame: Frame; beats: readonly Beat[] }) =>
    pitchWeights(strands, frame, beats),
);

/** The same in each bar. */
export const CHROMA = node(
  'chroma',
  (of: { weights: readonly (readonly number[])[]; frame: Frame; beats: readonly Beat[] }) =>
    inBars(of.weights, of.beats, of.frame),
);

export const KEYS = node(
  'keys',
  (of: {
    given: readonly KeyChange[];
    chroma: readonly (readonly number[])[];
    frame: Frame;
    decided: Decisions['key'];
    barSigns: Decisions['barSigns'];
  }) => settleKey(of.given, of.chroma, of.frame, { key: of.decided, barSigns: of.barSigns }),
  { cuts: true },
);

/** The key that is heard at each beat. */
export const TONALITY = node(
  'tonality',
  (of: {
    weights: readonly (readonly number[])[];
    beats: readonly Beat[];
    keys: readonly KeySignature[];
  }): LocalKey[] => localKeys(of.weights, (beat) => keyInBar({ keys: of.keys }, of.beats[beat]!.bar).fifths),
  { cuts: true },
);

// Rhythm: each part by itself, then all together, then each again.

export const HEARING = steppedNode(
  'hearing',
  ({ plan, strands, frame }: { plan: HeardPlan; strands: readonly Strand[]; frame: Frame }) =>
    hear(plan, strands, frame),
);

/** What the ensemble hears of a part. */
export const EARS = node('ears', ({ hearing }: { hearing: Hearing }) => earsOf(hearing), { cuts: true });

/** Leads and swing of the ensemble. */
export const TOGETHER = steppedNode(
  'together',
  (of: { ears: readonly Ears[]; frame: Frame; beats: readonly Beat[] }) =>
    hearTogether(of.ears, of.frame, of.beats),
);

/** Where the piece is swung, as decided. */
export const SWINGS = node(
  'swings',
  (of: { found: readonly SwingMark[]; decided: Decisions['swings']; frame: Frame }) =>
    decideSwing(of.found, { swings: of.decided }, of.frame),
  { cuts: true },
);

export const FIRST_HEARING = steppedNode(
  'first hearing',
  (of: {
    hearing: Hearing;
    leads: readonly Lead[];
    swings: readonly SwingMark[];
    frame: Frame;
    beats: readonly Beat[];
  }) => hearFirst(of.hearing, of.leads, of.swings, of.frame, of.beats),
);

/** What the other parts hear of one. */
export const PLACES = node('places', ({ first }: { first: FirstHearing }) => placesOf(first), { cuts: true });

/** What all parts hear of each other. */
export const LISTENING = steppedNode(
  'listening',
  ({ places, beats }: { places: readonly (readonly Heard[])[]; beats: readonly Beat[] }) =>
    Listening.to(places.flat(), beats),
);

/** What was decided about the rhythm of a part, bar by bar and note by note. */
export const CHOICES = node('choices', ({ decided, frame }: { decided: RhythmDecisions; frame: Frame }) =>
  rhythmChoices(decided, frame),
);

export const FITTED = steppedNode('fitted', (fitting: Fitting) => fitPart(fitting));

/** What is played again and was read otherwise, note by note for each part. */
export const AGAIN = node(
  'again',
  (of: { parts: readonly (readonly Attack[])[]; frame: Frame; swings: readonly SwingMark[] }) =>
    likeEachTime(of.parts, of.frame, of.swings),
  { cuts: true },
);

/** The choices for a part with what it reads as it does at other times, where nothing was decided. */
export const CHOICES_AGAIN = node(
  'choices again',
  ({
    choices,
    again,
  }: {
    choices: RhythmChoices;
    again: readonly [EventId, NotePlace][];
  }): RhythmChoices => ({
    ...choices,
    places: new Map([...again, ...choices.places]),
  }),
);

/** A part that was fitted once more, as it is read at other times. */
export const FITTED_AGAIN = steppedNode('fitted again', (fitting: Fitting) => fitPart(fitting));

// The page.

export const PITCHES = node('pitches', (spelling: Spelling) => spellPart(spelling), { cuts: true });

export const WRITTEN = steppedNode('written', function* (writing: Writing) {
  const made = yield* writePart(writing);
  whole(made.part);
  return made;
});

/** How the notes of a part were read, whatever they are called on the page. */
export const READ = node('read', ({ fitted, offset }: { fitted: FittedPart; offset: number }) => {
  const read = asPlayed(fitted, offset);
  whole(read.attacks);
  whole(read.notes);
  return read;
});

export const NAMED = node(
  'named',
  (of: { part: UnnamedPart; id: PartId; name: string; abbreviation: string }): Part => ({
    id: of.id,
    name: of.name,
    abbreviation: of.abbreviation,
    ...of.part,
  }),
);

// Marks: what the playing speaks for, and what of it was chosen.

type Notes = ReadonlyMap<EventId, SketchNote>;

/** Chords, where no file names them. @see chordOffers */
export const CHORDS = node(
  'chords',
  (of: { parts: readonly Notes[]; frame: Frame; beats: readonly Beat[]; tonality: readonly LocalKey[] }) =>
    chordOffers(of.parts, of.frame, of.beats, of.tonality),
  { cuts: true },
);

/** Where sections begin, where no file says so. */
export const SECTIONS = node(
  'sections',
  (of: {
    parts: readonly Notes[];
    chroma: readonly (readonly number[])[];
    frame: Frame;
    keys: readonly KeySignature[];
    tempos: readonly TempoMark[];
  }) =>
    sectionOffers(
      of.parts.map((notes) => [...new Set(notes.values())]),
      of.chroma,
      of.frame,
      of.keys,
      of.tempos,
    ),
  { cuts: true },
);

export const LOUDNESS = node(
  'loudness',
  (of: { notes: Notes; strands: readonly Strand[]; frame: Frame; unpitched: boolean }) =>
    of.unpitched ? [] : loudnessOfPart(of.notes, of.strands, of.frame),
  { cuts: true },
);

/** How loud a part was struck, balance and meter and all. */
export const STRUCK = node(
  'struck',
  (of: { notes: Notes; strands: readonly Strand[]; unpitched: boolean }) =>
    of.unpitched ? [] : struckInPart(of.notes, of.strands),
  { cuts: true },
);

/** Dynamics that a program wrote into a part. */
export const PROGRAMMED = node('programmed dynamics', (of: { struck: readonly StruckAttack[] }) =>
  programmedOffers(of.struck),
);

/** Where the piece waits, as its tempos tell, given where anything is struck. */
export const HOLDS = node(
  'holds',
  (of: { tempos: readonly TempoMark[]; frame: Frame; parts: readonly (readonly Attack[])[] }) => {
    const { bars } = of.frame;
    const tempos = of.tempos.map(({ bar, at, quartersPerMinute }) => ({
      at: bars[bar]!.start + at,
      quartersPerMinute,
    }));
    const starts = new Set(
      of.parts.flatMap((attacks) => attacks.flatMap(({ start, grace }) => (grace ? [] : [start]))),
    );
    return findFermatas(tempos, Float64Array.from(starts).sort(), frameEnd(of.frame));
  },
  { cuts: true },
);

/** The fermatas of a part. */
export const FERMATAS = node('fermatas', (of: { notes: Notes; holds: readonly Hold[] }) =>
  fermataOffers(of.notes, of.holds),
);

/** How loud all are together. */
export const TUTTI = steppedNode(
  'tutti',
  (of: { parts: readonly (readonly Loudness[])[]; frame: Frame; reluctance: number }) =>
    hearTutti(of.parts, of.frame, of.reluctance),
);

export const OFFERS = steppedNode(
  'offers',
  (of: {
    loudness: readonly Loudness[];
    struck: readonly StruckAttack[];
    frame: Frame;
    reluctance: number;
    together: Together;
    over: number;
  }) => offersOf(of.loudness, of.struck, of.frame, of.reluctance, of.together, of.over),
);

/** Marks of touch: ghosts of drums; pedal, rolled chords and bends of the others. */
export const TOUCH = node(
  'touch',
  (of: {
    notes: Notes;
    strands: readonly Strand[];
    frame: Frame;
    unpitched: boolean;
    singleLine: boolean;
  }): MarkOffer[] =>
    of.unpitched
      ? ghostOffers(of.notes)
      : [
          ...touchOffers(of.notes, of.strands, of.frame),
          ...(of.singleLine ? bendOffers(of.notes, of.strands, of.frame) : []),
        ],
);

export const MARKED = node(
  'marked',
  (of: {
    part: Part;
    offers: readonly MarkOffer[];
    choices: NonNullable<StrandDecisions['marks']>;
    frame: Frame;
  }) => {
    const made = withMarks(of.part, of.offers, of.choices, of.frame);
    whole(made.part);
    return made;
  },
);

/** A part with the signs that were put by hand, and its bars written short where asked. */
export const SIGNED = node(
  'signed',
  (of: {
    part: Part;
    signs: ReturnType<typeof signsOf>;
    shorthand: StrandDecisions['shorthand'];
    frame: Frame;
  }) =>
    withShorthand(
      withSigns(of.part, of.signs, of.frame.bars),
      of.frame.bars,
      (bar) => lastAt(of.shorthand, of.frame.ticks[bar]!)?.use ?? 'written-out',
    ),
);

export const TABBED = node(
  'tabbed',
  (of: { part: Part; frets: StrandDecisions['frets']; strings: Decisions['strings']; frame: Frame }) => {
    const made = withTablature(of.part, of.frets, of.strings, of.frame);
    whole(made.part);
    return made;
  },
);

// Form: what comes again.

/** How the bars of a part read. */
export const BAR_TEXTS = node('bar texts', ({ part }: { part: TextPart }) => barTexts(part), { cuts: true });

export const FORM = steppedNode(
  'form',
  (of: {
    score: FormScore;
    texts: readonly (readonly string[])[];
    choices: Decisions['repeats'];
    frame: Frame;
  }) => formOf(of.score, of.texts, of.choices, of.frame),
);
