'use client';

import { Button } from 'antd';
import type { RhythmFinding } from '../../core/explain/findings';
import { useSession } from '../job/session';
import styles from './FindingsList.module.css';
import { oddsWords } from './words';

/** More are not listed at once; those before them have to be settled first. */
const MOST = 200;

interface Props {
  /** Number of the one in hand, from 0. */
  current: number;
  onGo: (index: number) => void;
}

/** What wants a look in the rhythm, bar by bar, each with what can be done at once. */
export function FindingsList({ current, onGo }: Props) {
  const { core, summary, take } = useSession('core', 'summary', 'take');
  if (!summary) return null;
  const { findings, parts, bars } = summary;
  if (findings.length === 0)
    return (
      <p className="soft">
        Nothing to look at: every attack is settled clearly, and parts that move together are written
        together.
      </p>
    );
  const follow = async ({ note, other }: RhythmFinding) => {
    const like = parts[other!]?.id;
    if (like)
      take(...(await core.rearrange(summary.revision, { notes: [note], arrangement: 'like-part', like })));
  };
  return (
    <>
      <ol className={styles.findings} aria-label="Findings">
        {findings.slice(0, MOST).map((finding, index) => {
          const { kind, part, note, at, instead, by, other } = finding;
          const name = parts[part]?.name ?? '';
          const place = `bar ${bars[at.bar]}, ${at.words}`;
          return (
            <li key={`${kind} ${part} ${note}`} aria-current={index === current}>
              <button type="button" className={styles.finding} onClick={() => onGo(index)}>
                <b>{index + 1}</b> {name}, {place}
                <span className="soft">
                  {kind === 'narrow'
                    ? `: ${instead.words} is ${oddsWords(by)}.`
                    : `: ${parts[other!]?.name} moves with it and has ${instead.words}; played ${Math.round(by)} ms apart.`}
                </span>
              </button>
              {kind === 'apart' && (
                <Button size="small" onClick={() => void follow(finding)}>
                  Write it like {parts[other!]?.name}
                </Button>
              )}
            </li>
          );
        })}
      </ol>
      {findings.length > MOST && <p className="soft">And {findings.length - MOST} more.</p>}
    </>
  );
}
