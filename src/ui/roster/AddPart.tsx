import { newPartId } from '../../core/cast/line-ups';
import type { StrandId } from '../../core/model/ids';
import { InstrumentSelect } from '../common/InstrumentSelect';
import { useSession } from '../job/session';

/** One part more, which rests until strands are dropped on it. */
export function AddPart() {
  const { decisions, take } = useSession('decisions', 'take');
  return (
    <InstrumentSelect
      value={null}
      label="Add a part for"
      placeholder="Add a part…"
      width={140}
      onChange={(instrument) => {
        const taken = [...decisions.strands].flatMap(([id, { added }]) => (added ? [id as StrandId] : []));
        take({ kind: 'part', strand: newPartId(new Set(taken)), instrument });
      }}
    />
  );
}
