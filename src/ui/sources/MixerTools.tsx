import { Button } from 'antd';
import { counted } from '../../core/basics/words';
import type { LaneRow, Use } from './useLaneRows';

/** What sets the mixer of whoever receives the file goes at once. */
export function MixerTools({
  rows,
  decide,
}: {
  rows: readonly LaneRow[];
  decide: (targets: readonly LaneRow[], use: Use) => void;
}) {
  const mixers = rows.filter((row) => row.mixer && row.use !== 'remove');
  const events = mixers.reduce((sum, row) => sum + row.count, 0);
  return (
    <>
      <Button size="small" disabled={mixers.length === 0} onClick={() => decide(mixers, 'remove')}>
        Remove all mixer controllers
      </Button>
      <span className="soft" role="status">
        {counted(events, 'mixer event')} would move the faders of whoever receives the file
      </span>
    </>
  );
}
