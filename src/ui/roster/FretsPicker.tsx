import { DownOutlined } from '@ant-design/icons';
import { Checkbox, InputNumber, Popover, Radio, Select } from 'antd';
import type { FretsChoice } from '../../core/decisions/kinds/frets';
import { instrumentOf } from '../../core/instruments/catalogue';
import { stringsText, tuningsOf } from '../../core/instruments/tunings';
import type { PartSummary } from '../../core/workbench/replies';
import picker from '../common/InstrumentPicker.module.css';
import { useSession } from '../job/session';
import styles from './RosterStage.module.css';

const SHOWN: { value: FretsChoice['show']; label: string; short: string }[] = [
  { value: 'staff', label: 'A staff', short: '1 staff' },
  { value: 'both', label: 'A staff and tablature', short: 'Staff and tab' },
  { value: 'tab', label: 'Tablature alone', short: 'Tablature' },
];

/** From what a part of a fretted instrument is read, how it is tuned, and where its capo lies. */
export function FretsPicker({ part }: { part: PartSummary }) {
  const { take } = useSession('take');
  const { leader: strand, frets, name } = part;
  const show = frets?.show ?? 'staff';
  const capo = frets?.capo ?? 0;
  const tunings = tuningsOf(instrumentOf(part.instrument));
  const own = tunings[0]?.keys ?? [];
  const tuning = (frets?.tuning ?? own).join(' ');
  const set = (some: Partial<FretsChoice>) => {
    const { tuning: keys, ...choice } = { show, capo, ...(frets ?? {}), ...some };
    const isOwn = keys === undefined || keys.join(' ') === own.join(' ');
    take({ kind: 'frets', strand, ...choice, ...(!isOwn && { tuning: [...keys] }) });
  };
  const { short } = SHOWN.find(({ value }) => value === show)!;
  return (
    <Popover
      trigger="click"
      placement="bottomLeft"
      destroyOnHidden
      title={`How ${name} is read`}
      content={
        <div className={styles.transposing}>
          <Radio.Group
            vertical
            aria-label={`Read from, ${name}`}
            value={show}
            options={SHOWN}
            onChange={(event) => set({ show: event.target.value as FretsChoice['show'] })}
          />
          {show !== 'staff' && (
            <>
              <Select
                size="small"
                aria-label={`Tuning of ${name}`}
                value={tuning}
                popupMatchSelectWidth={false}
                options={tunings.map(({ name: title, keys }) => ({
                  value: keys.join(' '),
                  label: `${title}: ${stringsText(keys)}`,
                }))}
                onChange={(value: string) => set({ tuning: value.split(' ').map(Number) })}
              />
              <span>
                Capo at fret{' '}
                <InputNumber
                  size="small"
                  aria-label={`Capo of ${name}`}
                  min={0}
                  max={12}
                  precision={0}
                  style={{ width: 64 }}
                  value={capo}
                  onChange={(value) => value !== null && set({ capo: value })}
                />
              </span>
              <Checkbox
                checked={frets?.stems ?? show === 'tab'}
                onChange={(event) => set({ stems: event.target.checked })}
              >
                Stems on the tablature
              </Checkbox>
            </>
          )}
        </div>
      }
    >
      <button
        type="button"
        className={picker.closed}
        style={{ width: '100%' }}
        aria-haspopup="dialog"
        aria-label={`Staves of ${name}: ${short}`}
      >
        {capo > 0 && show !== 'staff' ? `${short}, capo ${capo}` : short} <DownOutlined />
      </button>
    </Popover>
  );
}
