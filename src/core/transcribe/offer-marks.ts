import { medianOf } from '../basics/average';
import { lastAtOrBefore } from '../basics/search';
import type { Steps } from '../basics/steps';
import { lastAt } from '../decisions/kind';
import type { MarksChoice } from '../decisions/kinds/marks';
import type { SignChoice } from '../decisions/kinds/sign';
import { findAccents } from '../infer/marks/accents';
import { rolledChords } from '../infer/marks/arpeggios';
import { type BendMove, findBends } from '../infer/marks/bends';
import { namesIn, readDynamics } from '../infer/marks/dynamics';
import type { Hold } from '../infer/marks/fermatas';
import { findGhosts } from '../infer/marks/ghosts';
import {
  type Curve,
  type Loudness,
  loudnessOf,
  type StruckAttack,
  struckAttacks,
} from '../infer/marks/loudness';
import { type PedalMove, pedalSpans } from '../infer/marks/pedal';
import { type Programmed, readProgrammed } from '../infer/marks/programmed';
import { alongWith, type Ensemble, ensembleOf, type Tutti, tuttiOf } from '../infer/marks/tutti';
import { secondsAt } from '../model/clock';
import { type Frame, frameEnd, momentOf, tickOfMoment } from '../model/frame';
import type { EventId } from '../model/ids';
import type { ChordMark, Mark, Spanner } from '../model/marks';
import { type MarkOffer, OFFERED, type Offered } from '../model/offers';
import type { Strand } from '../model/performance';
import { barIndexOf, type Chord, type Item, type Part, type PartBar } from '../model/score';
import type { Sign } from '../model/signs';
import type { SketchNote } from '../model/sketch';
import type { Moment } from '../model/time';
import { withSigns } from '../notate/signs';

/** A controller that moves so often and so far shapes what sounds. */
const MOVES = 8;
const WAY = 20;
const EXPRESSION = 11;
const MODULATION = 1;
/** The sustain pedal is down from 64 on (MIDI 1.0). */
const SUSTAIN = 64;
const DOWN = 64;

/**
 * The curve that shapes the loudness of a strand, if one does: expression adds
 * to how hard notes are struck; modulation, where it carries the dynamics of sampled
 * instruments, stands for it. Volume is the mixer's.
 */
function curveOf({ shaping }: Strand): Curve | undefined {
  for (const controller of [EXPRESSION, MODULATION]) {
    const moves = shaping.flatMap(({ event }) =>
      event.kind === 'control' && event.controller === controller ? [event] : [],
    );
    const values = moves.map(({ value }) => value);
    // Not spread into arguments: there may be hundreds of thousands.
    const [low, high] = values.reduce(([a, b], value) => [Math.min(a, value), Math.max(b, value)], [127, 0]);
    if (moves.length < MOVES || high! - low! < WAY) continue;
    const usual = medianOf(values);
    const at = (tick: number) => moves[lastAtOrBefore(moves, tick, (move) => move.tick)]?.value ?? usual;
    return controller === EXPRESSION ? (tick, velocity) => velocity + at(tick) - usual : (tick) => at(tick);
  }
  return undefined;
}

/** How loud a part is, attack by attack. */
export function loudnessOfPart(
  notes: ReadonlyMap<EventId, SketchNote>,
  strands: readonly Strand[],
  { bars }: Frame,
): Loudness[] {
  const curves = strands.map(curveOf);
  const own = [...new Set(notes.values())].filter(({ grace }) => !grace);
  return loudnessOf(own, bars, (strand) => curves[strand]);
}

/** What all parts show together. */
export interface Together {
  ensemble: Ensemble;
  tutti: Tutti;
}

/** Hears all parts together. */
export function* hearTutti(
  parts: readonly (readonly Loudness[])[],
  { bars }: Frame,
  reluctance: number,
): Steps<Together> {
  const ensemble = ensembleOf(parts, bars);
  const all = tuttiOf(parts, ensemble);
  return { ensemble, tutti: { all, ...(yield* readDynamics(all, bars, reluctance, ensemble, 0)) } };
}

/** The marks that a part's loudness speaks for; none of them stands in the score yet. */
export function* offersOf(
  all: readonly Loudness[],
  struck: readonly StruckAttack[],
  { bars }: Frame,
  reluctance: number,
  { ensemble, tutti }: Together,
  over: number,
): Steps<MarkOffer[]> {
  const programmed = readProgrammed(struck, namesIn(ensemble, over));
  if (programmed) return loudOffers(programmed);
  const own = yield* readDynamics(all, bars, reluctance, ensemble, over);
  const { steps, hairpins, explained, spread } = alongWith(own, tutti, all, over);
  return loudOffers({ steps, hairpins, accents: findAccents(all, explained, spread), isUsual: false });
}

/** Dynamics that a program wrote, in a part by itself: they stand as long as nothing else is decided. */
export function programmedOffers(struck: readonly StruckAttack[]): MarkOffer[] {
  const programmed = readProgrammed(struck);
  return programmed ? loudOffers(programmed) : [];
}

/** Fermatas of a part, where it sounds under those of the piece. */
export const fermataOffers = (
  notes: ReadonlyMap<EventId, SketchNote>,
  holds: readonly Hold[],
): MarkOffer[] => {
  const all = [...new Set(notes.values())];
  return holds
    .filter(({ at }) => all.some(({ start, end, grace }) => !grace && start <= at && at < end))
    .map(({ at, to, times }) => ({
      kind: 'fermatas',
      from: at,
      to,
      mark: 'fermata',
      heard: [times],
      margin: Number.POSITIVE_INFINITY,
      sure: true,
      shown: false,
    }));
};

/** How loud a part was struck, attack by attack. */
export function struckInPart(
  notes: ReadonlyMap<EventId, SketchNote>,
  strands: readonly Strand[],
): StruckAttack[] {
  const curves = strands.map(curveOf);
  const own = [...new Set(notes.values())].filter(({ grace }) => !grace);
  return struckAttacks(own, (strand) => curves[strand]);
}

function loudOffers({ steps, hairpins, accents, isUsual }: Programmed): MarkOffer[] {
  const how = isUsual ? ({ sure: true } as const) : {};
  const offers: MarkOffer[] = [
    ...steps.map(({ at, dynamic, heard, margin }) => ({
      kind: 'dynamics' as const,
      from: at,
      mark: dynamic,
      heard: [heard],
      margin,
      ...how,
      shown: false,
    })),
    ...hairpins.map(({ from, to, opens, heard, margin }) => ({
      kind: 'hairpins' as const,
      from,
      to,
      mark: opens ? 'crescendo' : 'diminuendo',
      heard,
      margin,
      ...how,
      shown: false,
    })),
    ...accents.map(({ at, heard, margin }) => ({
      kind: 'accents' as const,
      from: at,
      mark: 'accent',
      heard,
      margin,
      ...how,
      shown: false,
    })),
  ];
  return offers.sort((a, b) => a.from - b.from);
}

/** The marks that the foot and the spread of chords speak for. */
export function touchOffers(
  notes: ReadonlyMap<EventId, SketchNote>,
  strands: readonly Strand[],
  frame: Frame,
): MarkOffer[] {
  const all = [...new Set(notes.values())];
  const attacks = [...new Set(all.flatMap(({ grace, start }) => (grace ? [] : [start])))].sort(
    (a, b) => a - b,
  );
  const seconds = (tick: number) => secondsAt(frame.clock, tick);
  const moves = strands
    .flatMap(({ shaping }) =>
      shaping.flatMap(({ event }): PedalMove[] =>
        event.kind === 'control' && event.controller === SUSTAIN
          ? [{ at: momentOf(frame, event.tick), seconds: seconds(event.tick), down: event.value >= DOWN }]
          : [],
      ),
    )
    .sort((a, b) => a.at - b.at);
  const told = { margin: Number.POSITIVE_INFINITY, shown: false };
  return [
    ...pedalSpans(moves, attacks, frameEnd(frame)).map(
      ({ from, to, held }): MarkOffer => ({ kind: 'pedal', from, to, mark: 'pedal', heard: [held], ...told }),
    ),
    ...rolledChords(all, seconds).map(
      ({ at, down, seconds: took }): MarkOffer => ({
        kind: 'arpeggios',
        from: at,
        mark: down ? 'rolled down' : 'rolled up',
        heard: [took],
        ...told,
      }),
    ),
  ];
}

/** Strokes of drums that are far softer than the others. */
export const ghostOffers = (notes: ReadonlyMap<EventId, SketchNote>): MarkOffer[] =>
  findGhosts([...new Set(notes.values())]).map(({ at, key, heard, margin }) => ({
    kind: 'ghosts',
    from: at,
    key,
    mark: 'ghost',
    heard,
    margin,
    shown: false,
  }));

/** RPN 0 is how far the bend reaches; its figure comes as data entry (MIDI 1.0). */
const [RPN_HIGH, RPN_LOW, DATA_ENTRY] = [101, 100, 6];
/** Where nothing else is said, in semitones (General MIDI level 1). */
const USUAL_REACH = 2;
const MIDDLE = 8192;

/** The moves of a strand's pitch bend. */
function bendMoves({ shaping }: Strand): BendMove[] {
  let reach = USUAL_REACH;
  const chosen = new Map<number, number>();
  return shaping.flatMap(({ event }): BendMove[] => {
    if (event.kind === 'control') {
      chosen.set(event.controller, event.value);
      const isReach = chosen.get(RPN_HIGH) === 0 && chosen.get(RPN_LOW) === 0;
      if (event.controller === DATA_ENTRY && isReach && event.value > 0) reach = event.value;
    }
    return event.kind === 'pitchBend'
      ? [{ tick: event.tick, semitones: (reach * (event.value - MIDDLE)) / MIDDLE }]
      : [];
  });
}

/** Scoops, falls and slides that the pitch bend of a single line shows. */
export function bendOffers(
  notes: ReadonlyMap<EventId, SketchNote>,
  strands: readonly Strand[],
  frame: Frame,
): MarkOffer[] {
  if (strands.every(({ pitchBends }) => pitchBends === 0)) return [];
  const all = [...new Set(notes.values())].sort((a, b) => a.on - b.on);
  return strands.flatMap((strand, index) =>
    findBends(
      all.filter(({ strike }) => strike.strand === index),
      bendMoves(strand),
      (tick) => secondsAt(frame.clock, tick),
    ).map(
      ({ note, mark, to, by }): MarkOffer => ({
        kind: 'bends',
        from: note.start,
        note: note.id,
        ...(to && { until: to.id, to: to.start }),
        mark,
        heard: [by],
        margin: Number.POSITIVE_INFINITY,
        shown: false,
      }),
    ),
  );
}

/** What signs bends are written as. */
const BEND_SIGNS: Readonly<Record<string, Sign>> = {
  scoop: 'scoop',
  plop: 'plop',
  fall: 'falloff',
  doit: 'doit',
  slide: 'slide',
};

/** The part with the bends that were chosen, each at its note. */
function withBends(part: Part, shown: readonly MarkOffer[], frame: Frame): Part {
  const signs = new Map<EventId, SignChoice[]>();
  for (const { kind, note, until, mark } of shown) {
    const sign = BEND_SIGNS[mark];
    if (kind !== 'bends' || !note || !sign) continue;
    signs.set(note, [...(signs.get(note) ?? []), { sign, put: true, ...(until && { until }) }]);
  }
  return withSigns(part, [...signs], frame.bars);
}

/** How much more than usual a part's marks must explain. */
export const reluctanceOf = (choices: readonly MarksChoice[] | undefined): number =>
  choices?.findLast(({ reluctance }) => reluctance !== undefined)?.reluctance ?? 1;

/** These stand in the score unless they are left out; the others where they are asked for. */
const STANDING: ReadonlySet<Offered> = new Set(['slurs', 'staccato']);

/** The part with the marks that were chosen, and what was offered for it. */
export function withMarks(
  part: Part,
  offers: readonly MarkOffer[],
  choices: readonly MarksChoice[],
  frame: Frame,
): { part: Part; offers: MarkOffer[] } {
  const byKind = (kind: Offered) => choices.filter(({ what }) => what === kind);
  const own = new Map(OFFERED.map((kind) => [kind, byKind(kind)]));
  const isShown = (kind: Offered, at: Moment, stands = STANDING.has(kind)): boolean => {
    const choice = lastAt(own.get(kind), tickOfMoment(frame, at));
    return choice ? choice.use === 'shown' : stands;
  };
  const told = offers.map((offer) => ({ ...offer, shown: isShown(offer.kind, offer.from, offer.sure) }));
  const shown = told.filter((offer) => offer.shown);
  const accents = new Set(shown.flatMap(({ kind, from }) => (kind === 'accents' ? [from] : [])));
  const held = shown.flatMap(({ kind, from }) => (kind === 'fermatas' ? [from] : []));
  const rolled = new Map(
    shown.flatMap(({ kind, from, mark }) => (kind === 'arpeggios' ? [[from, mark]] : [])),
  );
  const ghosts = new Set(
    shown.flatMap(({ kind, from, key }) => (kind === 'ghosts' ? [`${from} ${key}`] : [])),
  );
  const places = new Map<string, Moment>();
  const bars = part.bars.map((bar, index): PartBar => {
    const { start } = frame.bars[index]!;
    const voices = bar.voices.map((line) => ({
      ...line,
      items: line.items.map((item): Item => {
        if (item.kind !== 'chord') return item;
        const at = start + item.onset;
        for (const { id } of item.notes) places.set(id, at);
        const isFirst = item.notes.some(({ tieStop }) => !tieStop);
        const chord = withGhosts(item, (key) => ghosts.has(`${at} ${key}`));
        return touched(chord, {
          accent: isFirst && accents.has(at),
          fermata: held.some((moment) => at <= moment && moment < at + item.duration),
          rolled: isFirst && item.notes.length > 1 ? rolled.get(at) : undefined,
          staccato: isShown('staccato', at),
        });
      }),
    }));
    return { ...bar, voices };
  });
  for (const { kind, from, mark, symbol } of shown) {
    if (kind !== 'dynamics' && !symbol) continue;
    const bar = barIndexOf(frame.bars, from);
    const at = from - frame.bars[bar]!.start;
    const added: Mark = symbol
      ? { kind: 'chord-symbol', symbol, at }
      : { kind: 'dynamic', dynamic: mark, at, placement: 'below', staff: 1 };
    const before = bars[bar]!.marks ?? [];
    bars[bar] = { ...bars[bar]!, marks: [...before, added].sort((a, b) => a.at - b.at) };
  }
  const spanners = [
    ...(part.spanners ?? []).filter(
      (each) =>
        each.kind !== 'slur' || !('note' in each.from) || isShown('slurs', places.get(each.from.note) ?? 0),
    ),
    ...shown.flatMap((offer): Spanner[] => {
      if (offer.kind === 'hairpins') return [wedge(offer, frame)];
      return offer.kind === 'pedal' ? [pedal(offer, frame, part.clefs.length)] : [];
    }),
  ];
  const { spanners: _, ...others } = part;
  const marked = { ...others, bars, ...(spanners.length > 0 && { spanners }) };
  return { part: withBends(marked, shown, frame), offers: told };
}

const withGhosts = (chord: Chord, isGhost: (key: number) => boolean): Chord =>
  chord.notes.some(({ key }) => isGhost(key))
    ? {
        ...chord,
        notes: chord.notes.map((note) => (isGhost(note.key) ? { ...note, ghost: true } : note)),
      }
    : chord;

interface Touch {
  accent: boolean;
  fermata: boolean;
  staccato: boolean;
  /** How a chord is rolled, where it is. */
  rolled: string | undefined;
}

function touched(chord: Chord, { accent, fermata, staccato, rolled }: Touch): Chord {
  const before = chord.marks ?? [];
  const marks: ChordMark[] = before.filter(
    (mark) => staccato || mark.kind !== 'articulation' || mark.name !== 'staccato',
  );
  if (accent) marks.push({ kind: 'articulation', name: 'accent' });
  if (fermata) marks.push({ kind: 'fermata', shape: 'normal' });
  if (rolled)
    marks.push({ kind: 'arpeggio', ...(rolled === 'rolled down' && { direction: 'down' as const }) });
  if (marks.length === before.length && !accent && !fermata && !rolled) return chord;
  const { marks: _, ...others } = chord;
  return { ...others, ...(marks.length > 0 && { marks }) };
}

/** A moment as the end of a spanner; what ends with a bar ends in it, not before the first note of the next. */
function anchor(moment: Moment, { bars }: Frame, staff: number, isEnd: boolean) {
  let bar = barIndexOf(bars, moment);
  if (isEnd && bar > 0 && moment === bars[bar]!.start) bar--;
  return { bar, at: moment - bars[bar]!.start, staff };
}

const wedge = ({ from, to, mark }: MarkOffer, frame: Frame): Spanner => ({
  id: `hairpin-${from}`,
  kind: 'wedge',
  opens: mark === 'crescendo',
  from: anchor(from, frame, 1, false),
  to: anchor(to ?? from, frame, 1, true),
  placement: 'below',
});

/** Under the lowest staff. */
const pedal = ({ from, to }: MarkOffer, frame: Frame, staves: number): Spanner => ({
  id: `pedal-${from}`,
  kind: 'pedal',
  line: true,
  from: anchor(from, frame, staves, false),
  to: anchor(to ?? from, frame, staves, true),
  placement: 'below',
});
