'use client';

import { Segmented } from 'antd';
import { useState } from 'react';
import { useSession } from '../job/session';
import { BeatView } from './BeatView';
import { RhythmView } from './RhythmView';

type View = 'rhythm' | 'beats';

/** From played to written time: the rhythm of each part, and the beats under all of them. */
export function TimeStage() {
  const { stock } = useSession('stock');
  const isScore = stock.kind === 'score';
  const [view, setView] = useState<View>('rhythm');
  const switcher = (
    <Segmented
      size="small"
      block
      value={view}
      aria-label="What to look at"
      options={[
        { value: 'rhythm', label: 'Rhythm' },
        {
          value: 'beats',
          label: 'Beats',
          disabled: isScore,
          ...(isScore && { title: 'A score has its beats in its bars' }),
        },
      ]}
      onChange={setView}
    />
  );
  return view === 'beats' && !isScore ? <BeatView switcher={switcher} /> : <RhythmView switcher={switcher} />;
}
