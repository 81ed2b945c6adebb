import { counted } from '../../core/basics/words';
import { wordsOf } from '../../core/decisions/decisions';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { StrandId } from '../../core/model/ids';

/** What one directive did, with whom it is about: "Viola: lead 80 ms". */
export function directiveWords(directive: PlainDirective, nameOf: (strand: StrandId) => string): string {
  const words = wordsOf(directive);
  if ('strand' in directive && directive.strand) return `${nameOf(directive.strand)}: ${words}`;
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** What one step did. A step that only took decisions back says which. */
export function stepWords(
  { added, removed }: { added: readonly PlainDirective[]; removed: readonly PlainDirective[] },
  nameOf: (strand: StrandId) => string,
): string {
  const [first, second] = added;
  if (!first) {
    const [gone] = removed;
    return gone
      ? `Taken back: ${directiveWords(gone, nameOf)}${removed.length > 1 ? ` and ${removed.length - 1} more` : ''}`
      : 'Nothing';
  }
  if (!second) return directiveWords(first, nameOf);
  const alike = added.every(({ kind }) => kind === first.kind);
  const what = alike ? wordsOf(first) : directiveWords(first, nameOf);
  return alike
    ? `${what}, ${counted(added.length, 'time')}`
    : `${what} and ${counted(added.length - 1, 'decision')} more`;
}
