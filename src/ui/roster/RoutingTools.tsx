import { Button } from 'antd';
import { useState } from 'react';
import type { StrandEntry } from '../../core/stock/inventory';
import { ManyStrands } from '../common/ManyStrands';
import { DivideDialog } from './DivideDialog';

/** What can be done to the chosen strands. */
export function RoutingTools({ chosen, clear }: { chosen: readonly StrandEntry[]; clear: () => void }) {
  const [isDividing, setDividing] = useState(false);
  if (chosen.length === 0)
    return <span className="soft">Tick strands, or drag one onto the part that it goes into.</span>;
  const single = chosen.filter(({ most }) => most < 2);
  return (
    <>
      <ManyStrands chosen={chosen.map(({ id }) => id)}>
        <Button
          size="small"
          disabled={single.length === chosen.length}
          title={single.length === chosen.length ? 'One note at a time is one player’s already' : undefined}
          onClick={() => setDividing(true)}
        >
          Divide…
        </Button>
        <Button size="small" type="text" onClick={clear}>
          None
        </Button>
      </ManyStrands>
      {isDividing && <DivideDialog strands={chosen} onClose={() => setDividing(false)} />}
    </>
  );
}
