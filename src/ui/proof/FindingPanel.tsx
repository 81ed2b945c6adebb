'use client';

import { Button, Input } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { CHECKS } from '../../core/proof/finding';
import type { Proof } from '../../core/workbench/proof';
import { useSession } from '../job/session';
import styles from './ProofStage.module.css';
import type { OpenFinding } from './useProof';
import { WEIGHT_NAMES } from './words';

interface Props {
  finding: OpenFinding | undefined;
  name: string;
  bar: string;
  /** Of the same check and weight, among those in view. */
  alike: readonly OpenFinding[];
  onMend: (findings: readonly OpenFinding[]) => void;
  onMeant: (findings: readonly OpenFinding[], isMeant: boolean, note?: string) => void;
  more: Proof['more'];
}

/** The finding in hand: what it is, what puts it right, and that it may be meant. */
export function FindingPanel({ finding, name, bar, alike, onMend, onMeant, more }: Props) {
  return (
    <aside className={styles.panel} aria-label="Finding">
      {finding ? (
        <InHand
          key={finding.id}
          finding={finding}
          name={name}
          bar={bar}
          alike={alike}
          onMend={onMend}
          onMeant={onMeant}
        />
      ) : (
        <p className="soft">
          n and p go from finding to finding, m mends the one in hand, x marks it as intended. Everything can
          be undone.
        </p>
      )}
      {more.map(({ check, count }) => (
        <p key={check} className="rubric">
          And {counted(count, 'more finding')} of “{CHECKS[check]}”: settle those before them first.
        </p>
      ))}
    </aside>
  );
}

function InHand({
  finding,
  name,
  bar,
  alike,
  onMend,
  onMeant,
}: Omit<Props, 'more' | 'finding'> & { finding: OpenFinding }) {
  const { take } = useSession('take');
  const [note, setNote] = useState(finding.note);
  const { what, mends, check, weight, isMeant, place, number } = finding;
  const mendable = alike.filter((each) => each.mends[0]?.label === mends[0]?.label);
  return (
    <>
      <h2>
        {number}. {CHECKS[check]}
      </h2>
      <p>
        {name}
        {bar && `, bar ${bar}${place && `, ${place}`}`}
        <span className="soft"> · {WEIGHT_NAMES[weight]}</span>
      </p>
      <p aria-live="polite">{what}</p>
      {mends.length > 0 && (
        <div className={styles.actions}>
          {mends.map(({ label, directives }, index) => (
            <Button
              key={label}
              block
              type={index === 0 ? 'primary' : 'default'}
              onClick={() => (index === 0 ? onMend([finding]) : take(...directives))}
            >
              {label}
              {index === 0 && <kbd>m</kbd>}
            </Button>
          ))}
          {mendable.length > 1 && (
            <Button block onClick={() => onMend(mendable)}>
              {mends[0]!.label}: all {mendable.length} like it
            </Button>
          )}
        </div>
      )}
      <div className={styles.actions}>
        {!isMeant && (
          <Input
            value={note}
            maxLength={300}
            placeholder="Reason, if it is intended"
            aria-label="Why it is intended"
            onChange={({ target }) => setNote(target.value)}
            onPressEnter={() => onMeant([finding], true, note)}
          />
        )}
        {isMeant && finding.note && <p className={styles.note}>Intended: {finding.note}</p>}
        <Button block onClick={() => onMeant([finding], !isMeant, note)}>
          {isMeant ? 'Open again' : 'Mark as intended'}
          <kbd>x</kbd>
        </Button>
        {alike.length > 1 && !isMeant && (
          <Button block type="text" onClick={() => onMeant(alike, true, note)}>
            Mark all {alike.length} like it as intended
          </Button>
        )}
      </div>
    </>
  );
}
