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
const AS_WRITTEN: HandOverChoice = {
  form: 'plain',
  type: 1,
  programs: 'none',
  channels: 'source',
  leadInBars: 0,
  click: false,
  loopBars: 0,
  times: 'written',
};

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
  const bytes = deliverScore(desk, score, 'musicxml', { pitch: 'written', layout: 'kept' });
  yield;
  const { score: back } = yield* readMusicXmlInSteps(bytes);
  const page = yield* compared('MusicXML', scoreSide(score), scoreSide(back), () => false);
  const midi = deliverMidi(desk, AS_WRITTEN, result);
  yield;
  const { upbeat, ticksPerQuarter } = result.frame.clock;
  const played = sideOfPerformance(
    readPerformance(readSmf(midi), { upbeatQuarters: upbeat / ticksPerQuarter }),
  );
  const strokes = sounded.flatMap((own) =>
    own.flatMap(({ chord, notes, start, end }) =>
      chord.marks?.some(({ kind }) => kind === 'ornament' || kind === 'tremolo')
        ? [{ start, end, keys: notes.map(({ key }) => key) }]
        : [],
    ),
  );
  // A sign stands for several notes that sound.
  const isStroke = (key: number, at: Moment) =>
    strokes.some(
      ({ start, end, keys }) =>
        at >= start - QUARTER / 8 && at < end && keys.some((own) => Math.abs(own - key) <= 2),
    );
  const sounds = yield* compared('MIDI, notes as written', scoreSide(result.score), played, isStroke);
  return [page, sounds];
}

function* compared(
  form: GoingOut['form'],
  one: Side,
  two: Side,
  isStroke: (key: number, at: Moment) => boolean,
): Steps<GoingOut> {
  const ledger = yield* reconcileInSteps(one, two);
  const count = ({ lines }: Side) => lines.reduce((sum, { notes }) => sum + notes.length, 0);
  if (!ledger) {
    const all = Math.max(count(one), count(two));
    return { form, ...totalsOf([]), differ: all };
  }
  const told = ledger.entries.flatMap(({ one: a, two: b, differs }): Pick<Entry, 'differs'>[] => {
    const own = a && isStroke(a.key, a.start);
    if ((!a && b && isStroke(b.key, b.start)) || own) return own ? [{ differs: [] }] : [];
    return [{ differs: differs.filter((kind) => !OF_FORM.has(kind)) }];
  });
  return { form, ...totalsOf(told) };
}
