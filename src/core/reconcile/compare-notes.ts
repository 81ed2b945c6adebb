import { medianOf } from '../basics/average';
import { QUARTER, type Span } from '../model/time';
import type { Difference, Entry } from './ledger';
import type { NotePair } from './match-notes';
import type { Side } from './reading';

/** What is written to the tick differs from here on. */
const EXACT: Span = QUARTER / 64;
/** How far from its line's usual a played note may attack, in times the usual spread, and at least (a 32nd). */
const SPREADS = 6;
const LOOSE: Span = QUARTER / 8;
/** Grace notes sound so far ahead at most (common practice). */
const GRACE: Span = QUARTER;
/** A played note may be held this share of what is written, and this much too long (common practice: staccato to legato). */
const SHORTEST = 0.25;
const TOO_LONG: Span = QUARTER / 2;

/**
 * In what the notes of two readings differ. Notes that were written to the tick are
 * compared so; where one reading was played, a line's own lateness and spread are
 * taken out of its attacks, and lengths may be as players hold them.
 *
 * @param isFree their beats are not each other's
 */
export function compareNotes(pairs: readonly NotePair[], one: Side, two: Side, isFree: boolean): Entry[] {
  const usual = usualOf(pairs, one, two, isFree);
  return pairs.map(({ one: a, two: b, elsewhere, transposed, at, scale }): Entry => {
    if (!a || !b || at === null) return { one: a, two: b, differs: [a ? 'missing' : 'added'], at };
    const differs: Difference[] = [];
    const semitones = b.key - a.key;
    if (semitones !== 0) differs.push(semitones % 12 === 0 ? 'octave' : 'pitch');
    const { late, spread, played } = usual.get(lineName(a.line, b.line))!;
    const grace = a.grace !== b.grace;
    // A grace note stands at the note that it leans on, and sounds before it.
    const nearby = a.grace || b.grace ? Math.max(spread, GRACE) : spread;
    // What is swung sounds later than it is written; who did not hear it so has it straight.
    const away = b.start - at - late;
    const swung = away + (b.late ?? 0) - (a.late ?? 0);
    if (Math.min(Math.abs(away), Math.abs(swung)) > nearby || (grace && !played)) differs.push('onset');
    // How long something struck sounds says nothing of what is written for it.
    const struck = played && isUnpitched(one, two, a.line, b.line);
    if (!grace && !a.grace && !struck && isOtherLength((a.end - a.start) * scale, b.end - b.start, played))
      differs.push('length');
    if (a.pitch && b.pitch && semitones === 0 && transposed === 0 && !isUnpitched(one, two, a.line, b.line)) {
      if (a.pitch.step !== b.pitch.step) differs.push('spelling');
    }
    if (elsewhere) differs.push('part');
    else if (a.staff && b.staff && (a.staff !== b.staff || a.voice !== b.voice)) differs.push('voice');
    return { one: a, two: b, differs, at };
  });
}

const lineName = (one: number, two: number): string => `${one} ${two}`;

const isUnpitched = (one: Side, two: Side, a: number, b: number): boolean =>
  one.lines[a]!.unpitched || two.lines[b]!.unpitched;

function isOtherLength(one: Span, two: Span, played: boolean): boolean {
  if (!played) return Math.abs(one - two) > EXACT;
  const [short, long] = [Math.min(one, two), Math.max(one, two)];
  return short < SHORTEST * long && long - short > TOO_LONG;
}

/** How late the notes of each pair of lines are, and how far from that they may lie. */
function usualOf(pairs: readonly NotePair[], one: Side, two: Side, isFree: boolean) {
  const away = new Map<string, Span[]>();
  for (const { one: a, two: b, at } of pairs) {
    if (!a || !b || at === null) continue;
    const name = lineName(a.line, b.line);
    const own = away.get(name);
    if (own) own.push(b.start - at);
    else away.set(name, [b.start - at]);
  }
  return new Map(
    [...away].map(([name, spans]) => {
      const late = medianOf(spans);
      const spread = medianOf(spans.map((span) => Math.abs(span - late)));
      // Played notes are hardly ever all on the same tick of their beat.
      const played = isFree || ((one.kind === 'performance' || two.kind === 'performance') && spread > 0);
      return [
        name,
        {
          late: Math.abs(late) <= LOOSE ? late : 0,
          spread: played ? Math.max(LOOSE, SPREADS * spread) : EXACT,
          played: one.kind !== two.kind || played,
        },
      ];
    }),
  );
}
