import { InputNumber, Select } from 'antd';
import type { HandOverChoice, NoteTimes } from '../../core/decisions/kinds/hand-over';
import { needsScore } from '../../core/deliver/note-times';
import { type StrandId, spelledStrand } from '../../core/model/ids';
import { useSession } from '../job/session';
import styles from './DeliverStage.module.css';

const TIMES: { value: NoteTimes; label: string }[] = [
  { value: 'played', label: 'as played' },
  { value: 'written', label: 'as written, to see the same page' },
  { value: 'places', label: 'written places, played lengths' },
];

/** Where the notes of a performance stand in its hand-over. */
export function TimesFields({
  choice,
  change,
}: {
  choice: HandOverChoice;
  change: (make: (now: HandOverChoice) => HandOverChoice) => void;
}) {
  const { inventory } = useSession('inventory');
  const { times = 'played', strength = 100, asPlayed = [] } = choice;
  return (
    <>
      <span>Note times</span>
      <div className={styles.row}>
        <Select
          aria-label="Note times"
          style={{ width: 220 }}
          value={times}
          options={TIMES}
          onChange={(next) => change((now) => ({ ...now, times: next }))}
        />
        {times !== 'played' && (
          <InputNumber
            aria-label="Strength, per cent"
            min={0}
            max={100}
            precision={0}
            style={{ width: 90 }}
            suffix="%"
            value={strength}
            onChange={(next) => next !== null && change((now) => ({ ...now, strength: next }))}
          />
        )}
      </div>
      <span>Leads</span>
      <Select
        aria-label="Leads"
        style={{ width: 220 }}
        value={choice.leads ?? (times === 'played' ? 'kept' : 'taken')}
        options={[
          { value: 'kept', label: 'kept: ahead as they sound' },
          { value: 'taken', label: 'taken back: on the beat' },
        ]}
        onChange={(leads: NonNullable<HandOverChoice['leads']>) => change((now) => ({ ...now, leads }))}
      />
      {needsScore(choice) && (
        <>
          <span>But as played</span>
          <Select
            mode="multiple"
            aria-label="Strands that stay as played"
            placeholder="no strand"
            allowClear
            maxTagCount={3}
            optionFilterProp="label"
            value={[...asPlayed]}
            options={inventory.strands.map((strand) => ({
              value: strand.id,
              label: strand.name || spelledStrand(strand.id),
            }))}
            onChange={(strands: StrandId[]) =>
              change(({ asPlayed: _, ...rest }) => ({
                ...rest,
                ...(strands.length > 0 && { asPlayed: strands }),
              }))
            }
          />
        </>
      )}
    </>
  );
}
