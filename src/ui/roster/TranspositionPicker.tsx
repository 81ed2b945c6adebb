import { DownOutlined } from '@ant-design/icons';
import { Button, Popover, Select } from 'antd';
import { type Interval, keyName } from '../../core/model/pitch';
import type { PartSummary } from '../../core/workbench/replies';
import picker from '../common/InstrumentPicker.module.css';
import { useSession } from '../job/session';
import styles from './RosterStage.module.css';

/** [name, steps, semitones] */
const INTERVALS: readonly [string, number, number][] = [
  ['minor second', 1, 1],
  ['major second', 1, 2],
  ['minor third', 2, 3],
  ['major third', 2, 4],
  ['fourth', 3, 5],
  ['augmented fourth', 3, 6],
  ['fifth', 4, 7],
  ['minor sixth', 5, 8],
  ['major sixth', 5, 9],
  ['minor seventh', 6, 10],
  ['major seventh', 6, 11],
  ['octave', 7, 12],
  ['two octaves', 14, 24],
];

const optionOf = ({ diatonic, chromatic }: Interval): string => `${diatonic}/${chromatic}`;
const UNISON: Interval = { diatonic: 0, chromatic: 0 };
const signed = (sign: 1 | -1) =>
  INTERVALS.map(([name, steps, semitones]) => ({
    value: `${sign * steps}/${sign * semitones}`,
    label: `${sign > 0 ? 'Up' : 'Down'} a ${name}`
      .replace('a aug', 'an aug')
      .replace('a oct', 'an oct')
      .replace('a two', 'two'),
  }));
const OPTIONS = [{ value: '0/0', label: 'As it came' }, ...signed(1), ...signed(-1)];

const written = (chromatic: number): string =>
  chromatic === 0 ? 'Concert pitch' : `Written ${keyName(60 - chromatic)} sounds ${keyName(60)}`;

const isSame = (a: Interval, b: Interval): boolean => optionOf(a) === optionOf(b);

/** What a part transposes by, and how much higher or lower it is to sound. */
export function TranspositionPicker({ part, disabled }: { part: PartSummary; disabled: boolean }) {
  const { take } = useSession('take');
  const { sounds } = part;
  const set = ({ diatonic, chromatic }: Interval) =>
    take(
      ...part.strands.map((each) => ({
        kind: 'transpose' as const,
        strand: each,
        steps: diatonic,
        semitones: chromatic,
      })),
    );
  const label = `${written(part.transposition.chromatic)}${sounds.chromatic === 0 ? '' : `, ${sounds.chromatic > 0 ? '+' : '−'}${Math.abs(sounds.chromatic)}`}`;
  const isListed = OPTIONS.some(({ value }) => value === optionOf(sounds));
  const { cameTransposed } = part;
  const kept = cameTransposed && {
    diatonic: part.transposition.diatonic - cameTransposed.diatonic,
    chromatic: part.transposition.chromatic - cameTransposed.chromatic,
  };
  return (
    <Popover
      trigger="click"
      placement="bottomLeft"
      destroyOnHidden
      title={`How ${part.name} sounds`}
      content={
        <div className={styles.transposing}>
          <Select
            size="small"
            aria-label={`${part.name} sounds`}
            value={optionOf(sounds)}
            options={
              isListed
                ? OPTIONS
                : [...OPTIONS, { value: optionOf(sounds), label: `By ${sounds.chromatic} semitones` }]
            }
            showSearch={{ optionFilterProp: 'label' }}
            style={{ width: 210 }}
            onChange={(value) => {
              const [diatonic = 0, chromatic = 0] = value.split('/').map(Number);
              set({ diatonic, chromatic });
            }}
          />
          {kept && !isSame(kept, UNISON) && (
            <>
              <p className="soft">
                The score had it for another instrument: {written(cameTransposed.chromatic)}. Which of the two
                is right?
              </p>
              <Button
                size="small"
                type={isSame(sounds, UNISON) ? 'primary' : 'default'}
                onClick={() => set(UNISON)}
              >
                The sound: write it anew
              </Button>
              <Button
                size="small"
                type={isSame(sounds, kept) ? 'primary' : 'default'}
                onClick={() => set(kept)}
              >
                The written notes: sound them anew
              </Button>
            </>
          )}
        </div>
      }
    >
      <button
        type="button"
        className={picker.closed}
        aria-haspopup="dialog"
        aria-label={`Transposition of ${part.name}: ${label}`}
        disabled={disabled}
        title={disabled ? 'It has no pitches' : undefined}
      >
        {label} <DownOutlined />
      </button>
    </Popover>
  );
}
