import { rearrange } from '../edit/rearrange';
import { keyName } from '../model/pitch';
import { QUARTER, WHOLE } from '../model/time';
import type { Check, Found, Mend, Subject } from './finding';
import { type LinkedEntry, type RingingNote, sourceLedger } from './source-ledger';

/** What the score has otherwise than the source, and nothing explains. */
export const checkAgreement: Check = (subject) => {
  const { desk, result } = subject;
  const { entries, ringing } = sourceLedger(desk, result);
  const differing = entries
    .filter(({ because }) => because === null)
    .map((entry): Found => {
      const [kind] = entry.differs;
      // What is missing is told where its strand is.
      const home = result.plans.findIndex(({ strands }) => strands.includes(entry.strand));
      const part = entry.part ?? (home < 0 ? null : home);
      return {
        weight: kind === 'onset' || kind === 'length' ? 'doubtful' : 'wrong',
        ...(part !== null && { part }),
        at: entry.at,
        notes: [entry.note],
        what: wordsOf(entry, subject),
        mends: mendsOf(entry, subject),
      };
    });
  return [...differing, ...result.plans.flatMap((_, part) => ringingOf(ringing, part, result))];
};

/** One remark for all notes of a part that ring on: they are many, and nothing is wrong with them. */
function ringingOf(all: readonly RingingNote[], part: number, result: Subject['result']): Found[] {
  const own = all.filter((each) => each.part === part);
  if (own.length === 0) return [];
  const notes = own.map(({ note }) => note);
  const many =
    own.length === 1
      ? 'One note rings on past its written end'
      : `${own.length} notes ring on past their written ends`;
  return [
    {
      weight: 'remark',
      part,
      at: Math.min(...own.map(({ at }) => at)),
      notes,
      about: 'ringing',
      what: `${many}, as what is plucked or struck does.`,
      mends: [{ label: 'End as played', directives: rearrange(result, notes, 'as-played') }],
    },
  ];
}

function quarters(span: number): string {
  const count = Math.round((span / QUARTER) * 100) / 100;
  return count < 1 ? `${count} of a quarter` : count === 1 ? 'a quarter' : `${count} quarters`;
}

function wordsOf({ differs, from = 0, to = 0, note, strand }: LinkedEntry, { desk }: Subject): string {
  switch (differs[0]) {
    case 'missing': {
      const own = desk.source.strands.find(({ id }) => id === strand);
      const played = own?.notes.find(({ id }) => id === note);
      const key = played ? keyName(played.key) : 'A note';
      return `${key} of ${own?.name || 'the source'} is not in the score: no staff has room for it.`;
    }
    case 'pitch':
    case 'octave':
      return `${keyName(from)} in the source, ${keyName(to)} in the score.`;
    case 'onset':
      return `Played ${quarters(Math.abs(from - to))} ${from < to ? 'before' : 'after'} its written place.`;
    case 'length':
      return `Held for ${quarters(from)}, written as ${quarters(to)}.`;
    default:
      return 'It is otherwise in the score than in the source.';
  }
}

/** A note that is held for longer was never ended: that is mended in the source. */
const LONGEST = 2 * WHOLE;

function mendsOf({ differs, note, from = 0 }: LinkedEntry, { result }: Subject): Mend[] {
  const [kind] = differs;
  if (kind === 'missing') return [{ label: 'Leave it out', directives: [{ kind: 'drop', note, out: true }] }];
  if (kind === 'length' && from > LONGEST) return [];
  if (kind === 'length')
    return [{ label: 'End as played', directives: rearrange(result, [note], 'as-played') }];
  if (kind === 'onset')
    return [
      { label: 'A slot earlier', directives: rearrange(result, [note], 'earlier') },
      { label: 'A slot later', directives: rearrange(result, [note], 'later') },
    ];
  return [];
}
