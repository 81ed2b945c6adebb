'use client';

import { Segmented } from 'antd';
import { useState } from 'react';
import { useSession } from '../job/session';
import { ChangesTable } from './ChangesTable';
import { ControllerMatrix } from './ControllerMatrix';
import { ControllerTable } from './ControllerTable';
import styles from './SourcesStage.module.css';
import { TreatmentTable } from './TreatmentTable';

const SIDES = ['matrix', 'controllers', 'strands', 'account'] as const;
type Side = (typeof SIDES)[number];

/** Cleaning as decisions: controllers at a glance and one by one, strands, and what all of it comes to. */
export function CleaningView() {
  const { lanes, changes } = useSession('lanes', 'changes');
  const [side, setSide] = useState<Side>('matrix');
  const names: Record<Side, string> = {
    matrix: 'Controllers',
    controllers: `One by one (${lanes.length})`,
    strands: 'Strands',
    account: `Before and after (${changes.length})`,
  };
  return (
    <>
      <div className={styles.views}>
        <Segmented<Side>
          size="small"
          aria-label="What is cleaned"
          value={side}
          options={SIDES.map((value) => ({ value, label: names[value] }))}
          onChange={setSide}
        />
      </div>
      {side === 'matrix' && <ControllerMatrix />}
      {side === 'controllers' && <ControllerTable />}
      {side === 'strands' && <TreatmentTable />}
      {side === 'account' && <ChangesTable />}
    </>
  );
}
