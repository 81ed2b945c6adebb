import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import type { Desk } from '../clean/desk';
import { decidedFor } from '../decisions/decisions';
import { foldedScore } from '../deliver/folded';
import { rhythmFindings } from '../explain/findings';
import { usesOf } from '../explain/uses';
import { familyBrackets } from '../instruments/brackets';
import type { Instrument } from '../instruments/catalogue';
import { drumSound } from '../instruments/kit';
import { isSameMeter } from '../model/clock';
import type { Frame } from '../model/frame';
import { unitsOf } from '../model/groups';
import { diatonicHeight } from '../model/pitch';
import { barIndexOf, type Part } from '../model/score';
import type { Attack } from '../model/sketch';
import { likeBefore } from '../notate/shorthand';
import type { Transcription } from '../transcribe';
import { barsSaid } from './bars-said';
import { tickOfEnd } from './interlinear';
import type { GroupedBar, PartSummary, ScoreSummary } from './replies';
import type { Written } from './workbench';

/** What the page needs to know of a score. */
export function summarise({ revision, desk, transcription }: Written): ScoreSummary {
  const { score, frame, account, keyWhy, lostLyrics, placedBeyond, undone } = transcription;
  const { clock } = desk.performance;
  return {
    revision,
    title: score.title,
    composer: score.composer ?? '',
    copyright: score.copyright ?? '',
    bars: score.bars.map((bar) => bar.number),
    parts: score.parts.map((_, index) => partSummary(transcription, desk, index)),
    groups: score.groups ?? familyBrackets(score.parts),
    findings: rhythmFindings(transcription),
    folded: foldedFigures(transcription),
    key: { ...score.keys[0]!, changes: score.keys.length - 1 },
    keyWhy,
    account,
    lostLyrics: lostLyrics.length,
    placedBeyond,
    undone,
    swings: transcription.swings,
    foundSwings: transcription.foundSwings,
    grouped: groupedBars(transcription),
    barTicks: [...frame.ticks, tickOfEnd(frame)],
    upbeatQuarters: clock.upbeat / clock.ticksPerQuarter,
    firstBar: clock.firstBar,
    barStarts: score.bars.map(({ start }) => start),
    meters: score.bars.flatMap(({ index, meter }) => {
      const before = score.bars[index - 1]?.meter;
      return before && isSameMeter(before, meter) ? [] : [{ bar: index, meter }];
    }),
    said: barsSaid(score),
  };
}

/** How much shorter the score is that is handed over, and what its later times have otherwise. */
function foldedFigures(transcription: Transcription): ScoreSummary['folded'] {
  const folded = foldedScore(transcription);
  if (!folded) return null;
  const { score, again, differences, unsaid, cut } = folded;
  return { bars: score.bars.length, again, differences, unsaid, cut };
}

function partSummary(
  { score, plans, readings, frame }: Transcription,
  { written, decisions }: Desk,
  index: number,
): PartSummary {
  const plan = plans[index]!;
  const { leads, foundLeads, sigma, attacks, unplayable } = readings[index]!;
  const part = score.parts[index]!;
  const came = written?.score.parts.find(({ id }) => id === part.id);
  const figures = remembered(part, FIGURES, { part, attacks, frame, instrument: plan.instrument });
  return {
    id: plan.id,
    leader: plan.leader,
    name: plan.name,
    abbreviation: plan.abbreviation,
    instrument: plan.instrument.id,
    sounds: decidedFor(decisions, plan.leader).transpose ?? { diatonic: 0, chromatic: 0 },
    transposition: part.transposition,
    ...(came && { cameTransposed: came.transposition }),
    staves: part.clefs.length,
    frets: decidedFor(decisions, plan.leader).frets ?? null,
    unplayable: unplayable.length,
    firstUnplayable: unplayable.length > 0 ? barIndexOf(frame.bars, unplayable[0]!) : null,
    likeBars: likeBefore(part, score.bars).filter(Boolean).length,
    shorthand: shorthandOf(part),
    strands: plan.strands,
    why: plan.why,
    leads,
    foundLeads,
    spread: 1000 * sigma,
    ...figures,
  };
}

const FIGURES = node(
  'figures',
  (of: { part: Part; attacks: readonly Attack[]; frame: Frame; instrument: Instrument }) =>
    figuresOf(of.part, of.attacks, of.frame, of.instrument),
);

/** What is counted in a part. */
function figuresOf(
  part: Part,
  attacks: readonly Attack[],
  frame: Frame,
  { lowest, highest, unpitched }: Instrument,
): Pick<PartSummary, 'uses' | 'notes' | 'outOfRange' | 'firstOutOfRange' | 'setUp' | 'enters'> {
  const beyond = unpitched
    ? []
    : attacks.flatMap((attack) => attack.notes).filter(({ key }) => key < lowest || key > highest);
  const firstOf = (starts: readonly { start: number }[]) =>
    barIndexOf(
      frame.bars,
      starts.reduce((least, { start }) => Math.min(least, start), Number.POSITIVE_INFINITY),
    );
  return {
    uses: usesOf(attacks, frame),
    notes: headsOf(part),
    outOfRange: beyond.length,
    firstOutOfRange: beyond.length > 0 ? firstOf(beyond) : null,
    setUp: unpitched ? setUpOf(part) : [],
    enters: attacks.length === 0 ? 0 : firstOf(attacks),
  };
}

/** How a part is written where any of its bars is written short. */
function shorthandOf({ bars }: Part): PartSummary['shorthand'] {
  if (bars.some(({ shown }) => shown === 'slashes')) return 'slashes';
  return bars.some(({ shown }) => shown === 'repeat') ? 'bar-repeats' : 'written-out';
}

/** The sounds of a percussion part. */
function setUpOf(part: Part): string[] {
  const keys = new Set<number>();
  for (const bar of part.bars)
    for (const line of bar.voices)
      for (const item of line.items)
        if (item.kind === 'chord') for (const { key } of item.notes) keys.add(key);
  return [...keys]
    .map(drumSound)
    .sort((a, b) => diatonicHeight(b.place) - diatonicHeight(a.place))
    .map(({ name }) => name);
}

/** Written notes, a tied one once. */
function headsOf(part: Part): number {
  let count = 0;
  // Tablature below a staff has the same notes.
  for (const bar of part.bars)
    for (const line of bar.voices)
      for (const item of line.staff > 1 && part.clefs[line.staff - 1] === 'tab' ? [] : line.items)
        if (item.kind === 'chord') count += item.notes.filter((note) => !note.tieStop).length;
  return count;
}

function groupedBars({ score, foundGroups }: Transcription): GroupedBar[] {
  return score.bars.flatMap(({ meter, groups }, bar) => {
    const found = foundGroups[bar];
    return found ? [{ bar, meter, groups: unitsOf(groups, meter), found }] : [];
  });
}
