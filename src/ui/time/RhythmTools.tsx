'use client';

import { CloseOutlined } from '@ant-design/icons';
import { Button, InputNumber, Segmented, Select, Slider, Switch, Tag } from 'antd';
import { decidedFor } from '../../core/decisions/decisions';
import { lastAt } from '../../core/decisions/kind';
import type { PlainDirective } from '../../core/decisions/kinds';
import { DEFAULT_GRID, SMALLEST, type Smallest } from '../../core/decisions/kinds/grid';
import {
  DEFAULT_VALUES,
  SHORT_NOTES,
  type ShortNotes,
  type ValuesChoice,
} from '../../core/decisions/kinds/values';
import type { SwungValue } from '../../core/model/score';
import type { PartSummary } from '../../core/workbench/replies';
import { leadText, SMALLEST_NAMES } from '../common/names';
import { useRemembered } from '../common/useRemembered';
import { useSession } from '../job/session';
import { GroupsChoice } from './GroupsChoice';
import styles from './TimeStage.module.css';
import { swingWords, usesWords } from './words';

const SHORT_NOTE_NAMES: Record<ShortNotes, string> = {
  heard: 'As heard',
  staccato: 'Staccato',
  rests: 'With rests',
};
/** By how many dots a note has at most. */
const DOT_NAMES = ['Ties only', 'One', 'One or two'];

const MORE = 'More: gaps, short notes, dots, swing, groups, lead';

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
  const { decisions, summary, take } = useSession('decisions', 'summary', 'take');
  const [isOpen, setOpen] = useRemembered('rhythm tools', false);
  if (!summary) return null;
  const { barTicks } = summary;
  const strand = part?.leader;
  const own = scope === 'all' || !strand ? decisions.all : decidedFor(decisions, strand);
  const tick = barTicks[scope === 'bars' ? from : 0] ?? 0;
  const grid = lastAt(own.grids, tick) ?? DEFAULT_GRID;
  const closing = lastAt(own.lengths, tick)?.closing ?? 1;
  const values = lastAt(own.values, tick) ?? DEFAULT_VALUES;
  const most = lastAt(own.voices, tick)?.most ?? 2;
  const about = {
    ...(scope !== 'all' && strand && { strand }),
    ...(scope === 'bars' && { from: barTicks[from]!, to: barTicks[to]! }),
  };
  const passage = scope === 'bars' ? { from: barTicks[from]!, to: barTicks[to]! } : {};
  const swing = lastAt(decisions.swings, tick);
  const lead = strand ? decidedFor(decisions, strand).lead : undefined;
  /** What was decided of that which is folded away, each with the way back. */
  const otherwise: { label: string; back: () => void }[] = [];
  if (closing !== 1)
    otherwise.push({
      label: closing < 1 ? 'Gaps kept' : 'Gaps closed',
      back: () => take({ kind: 'lengths', ...about, closing: 1 }),
    });
  if (values.short !== DEFAULT_VALUES.short || values.dots !== DEFAULT_VALUES.dots)
    otherwise.push({
      label: `Short notes ${SHORT_NOTE_NAMES[values.short].toLowerCase()}, dots: ${DOT_NAMES[values.dots]?.toLowerCase()}`,
      back: () => take({ kind: 'values', ...about, ...DEFAULT_VALUES }),
    });
  if (swing && swing.use !== 'found')
    otherwise.push({
      label: swing.use === 'straight' ? 'Straight' : 'Swung',
      back: () => take({ kind: 'swing', use: 'found', ...passage }),
    });
  if (lead !== undefined && part)
    otherwise.push({
      label: `Lead ${lead} ms`,
      back: () =>
        take(
          ...part.strands.map((each): PlainDirective => ({ kind: 'lead', strand: each, milliseconds: null })),
        ),
    });
  return (
    <div className={styles.toolbar} role="toolbar" aria-label="How the rhythm is read">
      <Segmented
        size="small"
        value={scope}
        aria-label="What the choices hold for"
        options={[
          { value: 'all', label: 'All parts' },
          { value: 'part', label: part ? part.name : 'One part' },
          { value: 'bars', label: 'Visible bars' },
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
      {scope !== 'all' && part && grid.smallest !== part.uses.smallest && (
        <Button
          size="small"
          title={usesWords(part.uses)}
          onClick={() =>
            take({ kind: 'grid', ...about, smallest: part.uses.smallest, triplets: part.uses.tuplets > 0 })
          }
        >
          Hold to {SMALLEST_NAMES[part.uses.smallest].toLowerCase()}, as it uses
        </Button>
      )}
      <label>
        Tuplets
        <Switch
          size="small"
          checked={grid.triplets}
          onChange={(triplets) => take({ kind: 'grid', ...about, smallest: grid.smallest, triplets })}
        />
      </label>
      <label>
        Voices
        <Select
          size="small"
          style={{ width: 112 }}
          value={most}
          options={[
            { value: 2, label: 'One or two' },
            { value: 1, label: 'One' },
          ]}
          onChange={(value: 1 | 2) => take({ kind: 'voices', ...about, most: value })}
        />
      </label>
      <Button
        size="small"
        type="text"
        aria-expanded={isOpen}
        aria-label={isOpen ? 'Less' : MORE}
        title={isOpen ? undefined : MORE}
        onClick={() => setOpen(!isOpen)}
      >
        {isOpen ? 'Less' : 'More'}
      </Button>
      {!isOpen &&
        otherwise.map(({ label, back }) => (
          <Tag
            key={label}
            closable
            closeIcon={<CloseOutlined aria-label={`${label}: as found`} />}
            onClose={back}
          >
            {label}
          </Tag>
        ))}
      {isOpen && (
        <div className={styles.more}>
          <span
            className={styles.field}
            title="Left keeps every gap that was played, right closes more of them"
          >
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
            Short notes
            <Select
              size="small"
              style={{ width: 112 }}
              value={values.short}
              options={SHORT_NOTES.map((value) => ({ value, label: SHORT_NOTE_NAMES[value] }))}
              onChange={(short: ShortNotes) => take({ kind: 'values', ...about, dots: values.dots, short })}
            />
          </label>
          <label>
            Dots
            <Select
              size="small"
              style={{ width: 104 }}
              value={values.dots}
              options={DOT_NAMES.map((label, value) => ({ value, label }))}
              onChange={(dots) =>
                take({ kind: 'values', ...about, dots: dots as ValuesChoice['dots'], short: values.short })
              }
            />
          </label>
          <label>
            Swing
            <Select
              size="small"
              style={{ width: 176 }}
              value={swing?.use === 'swung' ? (swing.value ?? 'eighth') : (swing?.use ?? 'found')}
              options={[
                { value: 'found', label: swingWords(summary) },
                { value: 'straight', label: 'Straight' },
                { value: 'eighth', label: 'Eighths swung' },
                { value: '16th', label: '16ths swung' },
              ]}
              onChange={(use: 'found' | 'straight' | SwungValue) =>
                take(
                  use === 'found' || use === 'straight'
                    ? { kind: 'swing', use, ...passage }
                    : { kind: 'swing', use: 'swung', value: use, ...passage },
                )
              }
            />
          </label>
          <GroupsChoice
            bars={
              scope === 'bars'
                ? summary.grouped.filter(({ bar }) => bar >= from && bar < to)
                : summary.grouped
            }
            passage={passage}
            tick={tick}
          />
          <label title={part ? leadText(part.foundLeads) || 'None was found' : 'Choose a part first'}>
            Lead, ms
            <InputNumber
              key={`${strand} ${lead}`}
              size="small"
              style={{ width: 72 }}
              min={-500}
              max={500}
              disabled={!strand}
              defaultValue={lead ?? undefined}
              placeholder={
                part ? part.foundLeads.map(({ seconds }) => Math.round(1000 * seconds)).join(', ') : ''
              }
              onBlur={(event) => {
                if (!part) return;
                const text = event.target.value.trim();
                const value = text === '' ? null : Number(text);
                if (value === (lead ?? null) || Number.isNaN(value)) return;
                take(
                  ...part.strands.map(
                    (each): PlainDirective => ({ kind: 'lead', strand: each, milliseconds: value }),
                  ),
                );
              }}
            />
          </label>
        </div>
      )}
    </div>
  );
}
