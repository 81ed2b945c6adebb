import type { Steps } from '../basics/steps';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import { deliverMidi } from '../deliver';
import { writtenScore } from '../deliver/folded';
import { deliverScore } from '../deliver/score';
import { instrumentOf } from '../instruments/catalogue';
import type { Part, Score } from '../model/score';
import { type Moment, QUARTER } from '../model/time';
import { reconcileInSteps } from '../reconcile';
import { type Difference, type Entry, totalsOf } from '../reconcile/ledger';
import { type Side, sideOfPerformance, sideOfScore } from '../reconcile/reading';
import { readMusicXmlInSteps } from '../sources/musicxml/read';
import { readPerformance } from '../sources/smf/performance';
import { readSmf } from '../sources/smf/read';
import type { Subject } from './finding';

/** A form of the hand-over, read back from its own bytes, against the score. */
export interface GoingOut {
  form: 'MusicXML' | 'MIDI, notes as written';
  agree: number;
  differ: number;
  kinds: Record<Difference, number>;
}

/** The file that shows the next program the same page. */
export const AS_WRITTEN: HandOverChoice = {
  form: 'plain',
  type: 1,
  programs: 'none',
  channels: 'source',
  leadInBars: 0,
  click: false,
  loopBars: 0,
  times: 'written',
};

/** Whether something is true of a key of a part at a moment of the piece. */
type InPart = (part: number, key: number, at: Moment) => boolean;

const never = () => false;
const isUnpitched = (part: Part): boolean => instrumentOf(part.instrument).unpitched;

/** A score as every reading of it is compared. */
export const scoreSide = (score: Score, unfolded = true): Side => sideOfScore(score, isUnpitched, unfolded);

/** On which track and staff a note goes out is a matter of the form. */
const OF_FORM: ReadonlySet<Difference> = new Set<Difference>(['part', 'voice']);

/**
 * What goes out says what the score says: its MusicXML is read back as any
 * program would, and so is the MIDI file whose notes stand as written, and both
 * are laid over the score note by note.
 */
export function* goingOut({ desk, result, sounded }: Subject): Steps<GoingOut[]> {
  const score = writtenScore(result);
  // Without a part nothing goes out.
  if (score.parts.length === 0) return [];
  const bytes = deliverScore(desk, score, 'musicxml', { pitch: 'written', layout: 'kept' });
  yield;
  const { score: back } = yield* readMusicXmlInSteps(bytes);
  const page = yield* compared('MusicXML', scoreSide(score), scoreSide(back), {
    isSigned: never,
    isShared: never,
  });
  const midi = deliverMidi(desk, AS_WRITTEN, result);
  yield;
  const { upbeat, ticksPerQuarter } = result.frame.clock;
  const played = sideOfPerformance(
    readPerformance(readSmf(midi), { upbeatQuarters: upbeat / ticksPerQuarter }),
  );
  const signed = new Map<string, { start: Moment; end: Moment }[]>();
  const struck = new Set<string>();
  for (const [part, own] of sounded.entries())
    for (const { chord, notes, start, end } of own)
      for (const { key } of notes) {
        struck.add(`${part} ${key} ${start}`);
        if (chord.marks?.some(({ kind }) => kind === 'ornament' || kind === 'tremolo'))
          signed.set(`${part} ${key}`, [...(signed.get(`${part} ${key}`) ?? []), { start, end }]);
      }
  // A sign stands for several notes that sound; equal keys struck together share one on paper.
  const isSigned: InPart = (part, key, at) =>
    [-2, -1, 0, 1, 2].some((by) =>
      signed.get(`${part} ${key + by}`)?.some(({ start, end }) => at >= start - QUARTER / 8 && at < end),
    );
  const isShared: InPart = (part, key, at) => struck.has(`${part} ${key} ${at}`);
  const sounds = yield* compared('MIDI, notes as written', scoreSide(result.score), played, {
    isSigned,
    isShared,
  });
  return [page, sounds];
}

function* compared(
  form: GoingOut['form'],
  one: Side,
  two: Side,
  { isSigned, isShared }: Record<'isSigned' | 'isShared', InPart>,
): Steps<GoingOut> {
  const ledger = yield* reconcileInSteps(one, two);
  const count = ({ lines }: Side) => lines.reduce((sum, { notes }) => sum + notes.length, 0);
  if (!ledger) {
    const all = Math.max(count(one), count(two));
    return { form, ...totalsOf([]), differ: all };
  }
  const excuses = (part: number | null, key: number, at: Moment) =>
    part !== null && (isSigned(part, key, at) || isShared(part, key, at));
  /** A part may go out on several tracks. */
  const partOf = new Map(ledger.lines.map((pair) => [pair.two, pair.one]));
  const told = ledger.entries
    .filter(({ one: a, two: b }) => a || !b || !excuses(partOf.get(b.line) ?? null, b.key, b.start))
    .map(
      ({ one: a, differs }): Pick<Entry, 'differs'> =>
        // How one of its notes sounds says nothing of what a sign stands for.
        a && isSigned(a.line, a.key, a.start) && !differs.includes('missing')
          ? { differs: [] }
          : { differs: differs.filter((kind) => !OF_FORM.has(kind)) },
    );
  return { form, ...totalsOf(told) };
}
