'use client';

import { InputNumber, Segmented, Select, Slider, Switch } from 'antd';
import { DEFAULT_GRID, decidedFor, lastAt } from '../../core/brief/decisions';
import { SMALLEST, type Smallest } from '../../core/brief/directives';
import { swingNumbers } from '../../core/score/swing';
import type { PartSummary, ScoreSummary } from '../../workers/replies';
import { SMALLEST_NAMES } from '../common/names';
import { useSession } from '../job/session';
import styles from './TimeStage.module.css';

export type Scope = 'all' | 'part' | 'bars';

interface Props {
  scope: Scope;
  onScope: (scope: Scope) => void;
  part: PartSummary | undefined;
  from: number;
  to: number;
}

/** What rhythm is read with: for all parts, the part in hand, or its bars in view. */
export function RhythmTools({ scope, onScope, part, from, to }: Props) {
  const { decisions, summary, take } = useSession();
  if (!summary) return null;
  const { barTicks } = summary;
  const strand = part?.strands[0];
  const own = scope === 'all' || !strand ? decisions.all : decidedFor(decisions, strand);
  const tick = barTicks[scope === 'bars' ? from : 0] ?? 0;
  const grid = lastAt(own.grids, tick) ?? DEFAULT_GRID;
  const closing = lastAt(own.lengths, tick)?.closing ?? 1;
  const about = {
    ...(scope !== 'all' && strand && { strand }),
    ...(scope === 'bars' && { from: barTicks[from]!, to: barTicks[to]! }),
  };
  const passage = scope === 'bars' ? { from: barTicks[from]!, to: barTicks[to]! } : {};
  const swing = lastAt(decisions.swings, tick);
  const lead = strand ? decidedFor(decisions, strand).lead : undefined;
  return (
    <div className={styles.toolbar} role="toolbar" aria-label="How the rhythm is read">
      <Segmented
        size="small"
        value={scope}
        aria-label="What the choices hold for"
        options={[
          { value: 'all', label: 'All parts' },
          { value: 'part', label: part ? part.name : 'One part' },
          { value: 'bars', label: 'Its bars in view' },
        ]}
        onChange={onScope}
      />
      <label>
        Smallest value
        <Select
          size="small"
          value={grid.smallest}
          style={{ width: 96 }}
          options={SMALLEST.map((value) => ({ value, label: SMALLEST_NAMES[value] }))}
          onChange={(smallest: Smallest) =>
            take({ kind: 'grid', ...about, smallest, triplets: grid.triplets })
          }
        />
      </label>
      <label>
        Tuplets
        <Switch
          size="small"
          checked={grid.triplets}
          onChange={(triplets) => take({ kind: 'grid', ...about, smallest: grid.smallest, triplets })}
        />
      </label>
      <span className={styles.field} title="Left keeps every gap that was played, right closes more of them">
        Gaps
        <Slider
          key={`${scope} ${strand} ${from} ${closing}`}
          min={0}
          max={4}
          step={0.5}
          defaultValue={closing}
          style={{ width: 84, margin: '0 6px' }}
          ariaLabelForHandle="How readily gaps are closed"
          onChangeComplete={(value) => take({ kind: 'lengths', ...about, closing: value })}
        />
      </span>
      <label>
        Eighths
        <Select
          size="small"
          style={{ width: 176 }}
          value={swing?.use ?? 'found'}
          options={[
            { value: 'found', label: foundWords(summary) },
            { value: 'straight', label: 'Straight' },
            { value: 'swung', label: 'Swung' },
          ]}
          onChange={(use: 'found' | 'straight' | 'swung') => take({ kind: 'swing', use, ...passage })}
        />
      </label>
      <label title={part ? `Found: ${Math.round(1000 * part.foundLead)} ms` : 'Choose a part first'}>
        Lead, ms
        <InputNumber
          key={`${strand} ${lead}`}
          size="small"
          style={{ width: 72 }}
          min={-500}
          max={500}
          disabled={!strand}
          defaultValue={lead ?? undefined}
          placeholder={part ? `${Math.round(1000 * part.foundLead)}` : ''}
          onBlur={(event) => {
            if (!strand) return;
            const text = event.target.value.trim();
            const value = text === '' ? null : Number(text);
            if (value === (lead ?? null) || Number.isNaN(value)) return;
            take({ kind: 'lead', strand, milliseconds: value });
          }}
        />
      </label>
    </div>
  );
}

/** Where the piece was found to swing, in a few words. */
function foundWords({ foundSwings, bars }: ScoreSummary): string {
  const [first] = foundSwings;
  if (!first) return 'Straight, as found';
  const ratio = swingNumbers(first.ratio).join(':');
  if (foundSwings.length > 1) return `Swung in ${foundSwings.length} passages`;
  const whole = first.from === 0 && first.to === bars.length;
  return whole ? `Swung ${ratio}, as found` : `Bars ${bars[first.from]}–${bars[first.to - 1]} swung ${ratio}`;
}
