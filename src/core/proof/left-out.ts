import { counted } from '../basics/words';
import { lostInCleaning } from '../clean/desk';
import { previewMidi } from '../deliver';
import { unaccounted } from '../transcribe';
import type { Check, Found } from './finding';

/** What the source has and the hand-over has not, and notes of which nothing is known. */
export const checkLeftOut: Check = ({ desk, result: { account, placedBeyond, undone } }) => {
  const found: Found[] = previewMidi(desk).omissions.map(({ what, count, why }) => ({
    weight: 'remark',
    about: `${what} ${why}`,
    what: `${count.toLocaleString('en')} ${what} not handed over: ${why}.`,
  }));
  const lost = unaccounted(account) + lostInCleaning(desk);
  if (lost !== 0)
    found.push({
      weight: 'wrong',
      about: 'account',
      what: `${counted(Math.abs(lost), 'note')} unaccounted for.`,
    });
  if (account.beyond > 0)
    found.push({
      weight: 'wrong',
      about: 'beyond',
      what: `${counted(account.beyond, 'note')} past the point to which the source’s time can be believed.`,
    });
  if (placedBeyond > 0)
    found.push({
      weight: 'wrong',
      about: 'placed',
      what: `${counted(placedBeyond, 'note')} decided to stand after the end of the piece.`,
    });
  for (const what of undone) found.push({ weight: 'wrong', about: what, what });
  return found;
};
