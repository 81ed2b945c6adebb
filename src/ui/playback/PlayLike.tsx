'use client';

import { Checkbox, Select } from 'antd';
import { counted } from '../../core/basics/words';
import type { LikeFigures } from '../../core/clean/sounding';
import { PLAYING, type Playing } from '../../core/decisions/kinds/play-like';
import type { SourceId } from '../../core/model/ids';
import { useOfPerformance, useSession } from '../job/session';
import styles from './Transport.module.css';

const PLAYING_NAMES: Record<Playing, string> = {
  tempo: 'Tempo',
  timing: 'Timing and lengths',
  velocity: 'Velocity',
  controllers: 'Pedals and expression',
};

/** Says like which other source of the job the piece is played, and in what. */
export function PlayLike() {
  const { sources, decisions, amend } = useSession('sources', 'decisions', 'amend');
  const leading = decisions.leading ?? sources[0]?.source;
  const others = sources
    .filter(({ source }) => source !== leading)
    .toSorted((one, other) => other.version - one.version)
    .filter(({ source }, index, all) => all.findIndex((each) => each.source === source) === index);
  const chosen = decisions.playLike;
  const { data: figures = null } = useOfPerformance(
    ['played like', chosen],
    (core, revision) => core.playedLike(revision),
    chosen !== null,
  );
  const name = others.find(({ source }) => source === chosen?.source)?.name;
  return (
    <div className={styles.like}>
      <Select<SourceId | ''>
        aria-label="Played like"
        style={{ width: 220 }}
        value={chosen?.source ?? ''}
        options={[
          { value: '', label: 'no other source' },
          ...others.map(({ source, name: label }) => ({ value: source, label })),
        ]}
        onChange={(source) =>
          amend((now) => [
            {
              kind: 'play-like',
              source: source === '' ? null : source,
              takes: [...(now.playLike?.takes ?? PLAYING)],
            },
          ])
        }
      />
      {chosen && (
        <Checkbox.Group
          aria-label="What is taken of its playing"
          value={[...chosen.takes]}
          options={PLAYING.map((value) => ({
            value,
            label: PLAYING_NAMES[value],
            // Nothing at all is the choice above.
            disabled: chosen.takes.length === 1 && chosen.takes[0] === value,
          }))}
          onChange={(takes) =>
            amend(() => [{ kind: 'play-like', source: chosen.source, takes: takes as Playing[] }])
          }
        />
      )}
      {chosen && (
        <p className="soft" role="status">
          {figures ? figuresIn(figures, name ?? 'that source') : 'Laying the two over each other…'}
        </p>
      )}
    </div>
  );
}

function figuresIn({ alike, alone, others, silent }: LikeFigures, name: string): string {
  if (alike === 0) return `${name} has nothing in common with this piece: it is played as it stands.`;
  const bars = silent.map(([from, to]) => (from === to ? `${from}` : `${from}–${to}`));
  return [
    `${counted(alike, 'note')} as in ${name}.`,
    alone > 0 && `${counted(alone, 'note')} not found there, placed by those around them.`,
    others > 0 && `${others.toLocaleString('en')} of its own left out.`,
    bars.length > 0 &&
      `It does not play ${bars.length === 1 && !bars[0]?.includes('–') ? 'bar' : 'bars'} ${bars.slice(0, 6).join(', ')}${bars.length > 6 ? ' …' : ''}.`,
  ]
    .filter(Boolean)
    .join(' ');
}
