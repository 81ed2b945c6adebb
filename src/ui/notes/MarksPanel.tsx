'use client';

import { Button, Select, Slider, Table } from 'antd';
import { useMemo, useState } from 'react';
import { counted } from '../../core/basics/words';
import { decidedFor } from '../../core/decisions/decisions';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { ListedMark } from '../../core/explain/marks';
import type { Offered } from '../../core/model/offers';
import { useSession } from '../job/session';
import { MarksFromPlaying } from './MarksFromPlaying';
import styles from './MarksPanel.module.css';
import { useListed } from './useListed';

const KINDS: readonly { value: ListedMark['kind']; label: string }[] = [
  { value: 'dynamics', label: 'Dynamics' },
  { value: 'hairpins', label: 'Hairpins' },
  { value: 'accents', label: 'Accents' },
  { value: 'fermatas', label: 'Fermatas' },
  { value: 'pedal', label: 'Pedal' },
  { value: 'arpeggios', label: 'Rolled chords' },
  { value: 'tremolos', label: 'Tremolos' },
  { value: 'trills', label: 'Trills, mordents' },
  { value: 'ghosts', label: 'Ghost notes' },
  { value: 'bends', label: 'Bends' },
  { value: 'chords', label: 'Chords' },
  { value: 'rehearsals', label: 'Rehearsal marks' },
];
const NONE_HEARD: Record<ListedMark['kind'], string> = {
  dynamics: 'None heard: the playing is too even, or too uneven to tell.',
  hairpins: 'None heard: nothing gets louder or softer by degrees.',
  accents: 'None heard: no attack stands out of what is around it.',
  fermatas: 'None heard: the tempo waits at no single note and goes on as before.',
  pedal: 'None heard: the source has no sustain pedal here.',
  arpeggios: 'None heard: no chord is rolled, or nearly all are.',
  tremolos: 'None heard: no note is struck again as fast as 32nds for a quarter note.',
  trills: 'None heard: no neighbours are struck in turns quickly enough.',
  ghosts: 'None heard: no drum is struck in two ways, one far softer than the other.',
  bends: 'None heard: no note of a single line is bent into, off, or into the next.',
  rehearsals: 'None heard: the piece is one section, or the file names its own.',
  chords: 'None heard: what sounds together spells no chords, or the file names them itself.',
};
/** Slurs and staccato are read with the notes: they stand unless they are left out. */
const READ: readonly { what: Offered; label: string }[] = [
  { what: 'slurs', label: 'Slurs' },
  { what: 'staccato', label: 'Staccato' },
];
/** Marks with longer names, as the list has them. */
const SHORT: Record<string, string> = {
  crescendo: 'cresc.',
  diminuendo: 'dim.',
  'rolled up': 'up',
  'rolled down': 'down',
};
/** The slider runs from few marks to many; each step makes them half or twice as easy to come by. */
const EASE = [4, 2, 1, 0.5, 0.25];

/** Nats by which a chord is told from the next best. */
const CLOSE = 2;

const heardWords = ({ kind, heard, margin }: ListedMark): string => {
  if (kind === 'chords') return margin < CLOSE ? 'close' : 'clear';
  if (kind === 'fermatas') return `${heard[0]!.toFixed(1)} ×`;
  if (kind === 'pedal') return `${heard[0]!.toFixed(1)} s`;
  if (kind === 'tremolos' || kind === 'trills') return `${heard[0]} strokes`;
  if (kind === 'rehearsals') return `change ${heard[0]!.toFixed(1)}`;
  if (kind === 'bends') return `${heard[0]!.toFixed(1)} semitones`;
  if (kind === 'arpeggios') return `${Math.round(1000 * heard[0]!)} ms`;
  const [first, second] = heard.map(Math.round);
  if (kind === 'dynamics') return `${first}`;
  return kind === 'hairpins' ? `${first} to ${second}` : `${first} among ${second}`;
};

/** The marks that the playing speaks for, with what was heard: chosen one by one, for a part, or for all. */
export function MarksPanel({ onGo }: { onGo: (bar: number) => void }) {
  const { summary, decisions, take, stock } = useSession('summary', 'decisions', 'take', 'stock');
  const { data: listed, isOld } = useListed();
  const [kind, setKind] = useState<ListedMark['kind']>('dynamics');
  const [part, setPart] = useState(-1);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const parts = summary?.parts ?? [];
  const rows = useMemo(
    () =>
      (listed?.marks ?? [])
        .filter((each) => each.kind === kind && (part < 0 || each.part === part))
        .map((each) => ({ ...each, key: `${each.part} ${each.tick} ${each.mark}` })),
    [listed, kind, part],
  );
  if (!summary) return null;
  if (stock.kind === 'score') return <MarksFromPlaying onGo={onGo} />;
  const leader = part < 0 ? undefined : parts[part]?.leader;
  const whole = leader === undefined ? {} : { strand: leader };
  const own = leader === undefined ? decisions.all : decidedFor(decisions, leader);
  const ease = own.marks?.findLast(({ reluctance }) => reluctance !== undefined)?.reluctance ?? 1;
  /** Slurs and staccato stand by themselves, and of the others what a program set. */
  const stands = (what: Offered) =>
    what === 'slurs' ||
    what === 'staccato' ||
    (listed?.marks.some((each) => each.kind === what && each.sure && (part < 0 || each.part === part)) ??
      false);
  /** What holds for all marks of a kind, single ones aside. */
  const useOf = (what: Offered) =>
    own.marks?.findLast((each) => each.what === what && each.from === undefined)?.use ??
    (stands(what) ? 'shown' : 'left');
  const picked = rows.filter(({ key }) => chosen.includes(key));
  const say = (use: 'shown' | 'left') => {
    const directives: PlainDirective[] =
      picked.length > 0
        ? picked.map((each) => ({
            kind: 'marks',
            what: kind,
            use,
            strand: parts[each.part]!.leader,
            from: each.tick,
            to: each.tick + 1,
          }))
        : [{ kind: 'marks', what: kind, use, ...whole, ...(kind === 'dynamics' && { reluctance: ease }) }];
    take(...directives);
    setChosen([]);
  };
  const shown = rows.filter((each) => each.shown).length;
  return (
    <div className={styles.panel}>
      <Select
        size="small"
        aria-label="Marks of"
        value={part}
        options={[
          { value: -1, label: 'All parts' },
          ...parts.map(({ name }, index) => ({ value: index, label: name })),
        ]}
        onChange={(value: number) => {
          setPart(value);
          setChosen([]);
        }}
      />
      <Select
        size="small"
        aria-label="Kind of marks"
        value={kind}
        options={KINDS.map(({ value, label }) => {
          const count = listed?.marks.filter(
            (each) => each.kind === value && (part < 0 || each.part === part),
          ).length;
          return { value, label: count === undefined ? label : `${label}, ${count}` };
        })}
        onChange={(value: ListedMark['kind']) => {
          setKind(value);
          setChosen([]);
        }}
      />
      <p className="soft" role="status">
        {!listed
          ? 'Looking for marks…'
          : rows.length === 0
            ? NONE_HEARD[kind]
            : `${counted(rows.length, 'mark')} heard, ${shown} written.`}
      </p>
      <div className={styles.actions}>
        <Button
          size="small"
          type="primary"
          disabled={isOld || rows.length === 0}
          onClick={() => say('shown')}
        >
          {picked.length > 0 ? `Write ${picked.length}` : 'Write all'}
        </Button>
        <Button size="small" disabled={isOld || rows.length === 0} onClick={() => say('left')}>
          {picked.length > 0 ? `Leave out ${picked.length}` : 'Leave out all'}
        </Button>
      </div>
      {rows.length > 0 && (
        <Table
          size="small"
          virtual
          scroll={{ y: 330 }}
          pagination={false}
          dataSource={rows}
          rowSelection={{
            columnWidth: 32,
            selectedRowKeys: [...chosen],
            onChange: (keys) => setChosen(keys.map(String)),
            getCheckboxProps: (row) => ({
              'aria-label': `${row.mark}, bar ${summary.bars[row.at.bar]}, ${parts[row.part]?.name}`,
            }),
          }}
          columns={[
            {
              title: 'Place',
              width: 92,
              ellipsis: true,
              render: (_, row) => (
                <button
                  type="button"
                  className={styles.place}
                  title={`Show bar ${summary.bars[row.at.bar]}, ${row.at.words}`}
                  onClick={() => onGo(row.at.bar)}
                >
                  bar {summary.bars[row.at.bar]}
                  {part < 0 && <span className={styles.part}>{parts[row.part]?.name}</span>}
                </button>
              ),
            },
            {
              title: 'Mark',
              width: 78,
              render: (_, row) => (
                <span
                  className={row.shown ? undefined : 'soft'}
                  title={row.shown ? 'It stands in the score' : ''}
                >
                  {SHORT[row.mark] ?? row.mark}
                  {row.shown && ' ✓'}
                </span>
              ),
            },
            { title: 'Heard', width: 68, render: (_, row) => heardWords(row) },
          ]}
        />
      )}
      <span className={styles.ease} title="Right offers more of them, on weaker evidence">
        Fewer
        <Slider
          key={`${part} ${ease}`}
          min={0}
          max={EASE.length - 1}
          defaultValue={Math.max(0, EASE.indexOf(ease))}
          ariaLabelForHandle="How readily dynamics and hairpins are offered"
          tooltip={{ formatter: null }}
          onChangeComplete={(value) =>
            take({
              kind: 'marks',
              what: 'dynamics',
              use: useOf('dynamics'),
              reluctance: EASE[value]!,
              ...whole,
            })
          }
        />
        More
      </span>
      {READ.map(({ what, label }) => {
        const left = useOf(what) === 'left';
        return (
          <Button
            key={what}
            size="small"
            onClick={() => take({ kind: 'marks', what, use: left ? 'shown' : 'left', ...whole })}
          >
            {left ? `Write ${label.toLowerCase()} again` : `Leave out ${label.toLowerCase()}`}
          </Button>
        );
      })}
    </div>
  );
}
