'use client';

import { Segmented } from 'antd';
import { useState } from 'react';
import { CompareView } from './CompareView';
import { FindingsView } from './FindingsView';
import styles from './ProofStage.module.css';

type View = 'findings' | 'compare';

/** What wants a look before hand-over, and readings laid over each other. */
export function ProofStage() {
  const [view, setView] = useState<View>('findings');
  return (
    <div className={styles.stage}>
      <Segmented<View>
        className={styles.views!}
        size="small"
        value={view}
        aria-label="What to look at"
        options={[
          { value: 'findings', label: 'Findings' },
          { value: 'compare', label: 'Compare readings' },
        ]}
        onChange={setView}
      />
      {view === 'findings' ? <FindingsView /> : <CompareView />}
    </div>
  );
}
