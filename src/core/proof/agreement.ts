import { rearrange } from '../edit/rearrange';
import { keyName } from '../model/pitch';
import { QUARTER } from '../model/time';
import { type LinkedEntry, sourceLedger } from '../reconcile/linked';
import type { Check, Found, Mend, Subject } from './finding';

/** What the score has otherwise than the source, and nothing explains. */
export const checkAgreement: Check = (subject) => {
  const { desk, result } = subject;
  return sourceLedger(desk, result)
    .entries.filter(({ because }) => because === null)
    .map((entry): Found => {
      const [kind] = entry.differs;
      return {
        weight: kind === 'onset' || kind === 'length' ? 'doubtful' : 'wrong',
        ...(entry.part !== null && { part: entry.part }),
        at: entry.at,
        notes: [entry.note],
        what: wordsOf(entry, subject),
        mends: mendsOf(entry, subject),
      };
    });
};

const quarters = (span: number): string => `${Math.round((span / QUARTER) * 100) / 100}`;

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
      return `Played ${quarters(Math.abs(from - to))} of a quarter ${from < to ? 'before' : 'after'} its written place.`;
    case 'length':
      return from < to
        ? `Held for ${quarters(from)} of a quarter, written as ${quarters(to)}.`
        : `Held for ${quarters(from)} quarters, written as ${quarters(to)}.`;
    default:
      return 'It is otherwise in the score than in the source.';
  }
}

function mendsOf({ differs, note }: LinkedEntry, { result }: Subject): Mend[] {
  const [kind] = differs;
  if (kind === 'length')
    return [{ label: 'End as played', directives: rearrange(result, [note], 'as-played') }];
  if (kind === 'onset')
    return [
      { label: 'A slot earlier', directives: rearrange(result, [note], 'earlier') },
      { label: 'A slot later', directives: rearrange(result, [note], 'later') },
    ];
  return [];
}
