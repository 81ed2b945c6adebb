import { counted } from '../../core/basics/words';
import { useSession } from '../job/session';

/** How many strands are in the score, and what is left out of it. */
export function StrandCount() {
  const { inventory, decisions } = useSession('inventory', 'decisions');
  const leftOut = inventory.strands.filter(({ id }) => decisions.strands.get(id)?.out);
  const notes = leftOut.reduce((sum, strand) => sum + strand.notes, 0);
  return (
    <span className="soft" role="status">
      {counted(inventory.strands.length - leftOut.length, 'strand')} in the score
      {leftOut.length > 0 && `, ${leftOut.length} left out with ${counted(notes, 'note')}`}
    </span>
  );
}
