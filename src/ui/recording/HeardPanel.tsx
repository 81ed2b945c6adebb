import { Checkbox, InputNumber, Segmented, Select, Slider, Table, type TableColumnsType } from 'antd';
import { useState } from 'react';
import { Bar, BarChart, Cell, ResponsiveContainer, XAxis } from 'recharts';
import { counted } from '../../core/basics/words';
import {
  type HearingSettings,
  type MixForm,
  type MixGrade,
  READS,
  type Read,
  RULES,
  type Rule,
} from '../../core/recording/heard';
import type { HeardStock } from '../../core/workbench/replies';
import { useAppearance } from '../common/Providers';
import { useSession } from '../job/session';
import { coloursOf } from '../note-bars/inks';
import styles from './RecordingView.module.css';
import { READ_WORDS } from './read-words';

const RULE_WORDS: Readonly<Record<Rule, { name: string; what: string }>> = {
  ghosts: { name: 'Ghosts', what: 'partials and octaves of other notes' },
  ringing: { name: 'Ringing', what: 'a held or fading key that only seems to be struck again' },
  doubled: { name: 'Doubled', what: 'one attack heard twice' },
  neighbours: { name: 'Neighbours', what: 'a semitone beside a stronger note' },
  faint: { name: 'Faint', what: 'short and soft, as breath and strings are' },
};

type Choice = Read | 'guess';
const FORMS: { value: MixForm; label: string }[] = [
  { value: 'lead-sheet', label: 'a lead sheet' },
  { value: 'with-bass', label: 'a lead sheet with bass' },
  { value: 'piano', label: 'a piano version' },
  { value: 'band', label: 'tune, chords and bass' },
];
const GRADES: { value: MixGrade; label: string }[] = [
  { value: 1, label: 'left hand: roots' },
  { value: 2, label: 'left hand: open chords' },
  { value: 3, label: 'left hand: bass and chords' },
];
const CHART = { width: 420, height: 84 };

interface RuleRow {
  rule: Rule;
  kept: number;
}

/** What was heard in the recording, and how sure a note must be to be taken. */
export function HeardPanel({ heard }: { heard: HeardStock }) {
  const { decisions, amend } = useSession('decisions', 'amend');
  const settings = decisions.hearing;
  const change = (make: (now: HearingSettings) => Partial<HearingSettings>) =>
    amend(({ hearing }) => {
      const { rules, ...others } = { ...hearing, ...make(hearing) };
      return [{ kind: 'hearing', ...others, rules: [...rules] }];
    });
  const set = (changed: Partial<HearingSettings>) => change(() => changed);
  const columns: TableColumnsType<RuleRow> = [
    {
      title: 'Rule',
      key: 'rule',
      render: (_, { rule }) => (
        <Checkbox
          checked={settings.rules.includes(rule)}
          onChange={({ target: { checked } }) =>
            change((now) => ({
              rules: RULES.filter((each) => (each === rule ? checked : now.rules.includes(each))),
            }))
          }
        >
          {RULE_WORDS[rule].name}
        </Checkbox>
      ),
    },
    { title: 'What it keeps out', key: 'what', render: (_, { rule }) => RULE_WORDS[rule].what },
    {
      title: 'Notes',
      dataIndex: 'kept',
      align: 'right',
      render: (kept: number, { rule }) => (settings.rules.includes(rule) ? kept.toLocaleString('en') : 'off'),
    },
  ];
  const { tuning } = heard;
  return (
    <section className={styles.heard} aria-label="What was heard">
      <h2>What was heard</h2>
      <p className="figures">
        {counted(heard.taken, 'note')} taken
        {heard.doubtful > 0 && `, ${heard.doubtful} of them doubtful`}
        {heard.below > 0 && ` · ${heard.below.toLocaleString('en')} left out as too unsure`}
        {heard.outside > 0 && ` · ${counted(heard.outside, 'note')} outside the passage`}
        {' · '}
        {Math.abs(tuning) < 3
          ? 'tuned to 440 Hz'
          : `tuned ${Math.abs(Math.round(tuning))} cents ${tuning > 0 ? 'above' : 'below'} 440 Hz, which is taken out`}
      </p>
      <div className={styles.row}>
        <span>Treat as</span>
        <Segmented<Choice>
          aria-label="Treat as"
          size="small"
          value={settings.read ?? 'guess'}
          options={[
            { value: 'guess', label: `as guessed: ${READ_WORDS[heard.guess]}` },
            ...READS.map((value) => ({
              value,
              label: READ_WORDS[value],
              ...(value === 'mix' &&
                !heard.isBand && {
                  disabled: true,
                  title: 'It was heard before bands were: open its sound again to have it heard as one.',
                }),
            })),
          ]}
          onChange={(read) => set({ read: read === 'guess' ? null : read })}
        />
      </div>
      {heard.read === 'mix' && (
        <div className={styles.row}>
          <span>Make of it</span>
          <Select<MixForm>
            aria-label="What is made of the band"
            size="small"
            style={{ width: 190 }}
            value={settings.form ?? 'lead-sheet'}
            options={FORMS}
            onChange={(form) => set({ form })}
          />
          {settings.form === 'piano' && (
            <Select<MixGrade>
              aria-label="How hard the left hand is"
              size="small"
              style={{ width: 210 }}
              value={settings.grade ?? 2}
              options={GRADES}
              onChange={(grade) => set({ grade })}
            />
          )}
          <span className="soft">{counted(heard.chords ?? 0, 'chord')} heard.</span>
        </div>
      )}
      <Threshold
        key={settings.threshold}
        heard={heard}
        threshold={settings.threshold}
        onThreshold={(threshold) => set({ threshold })}
      />
      {heard.kept && (
        <Table<RuleRow>
          size="small"
          className={styles.rules}
          rowKey="rule"
          pagination={false}
          columns={columns}
          dataSource={RULES.map((rule) => ({ rule, kept: heard.kept?.[rule] ?? 0 }))}
        />
      )}
      <div className={styles.row}>
        <span>Taken from</span>
        <Second
          label="Taken from this second of the recording on"
          value={settings.from}
          onSet={(from) => set({ from })}
          placeholder="its beginning"
        />
        <span>to</span>
        <Second
          label="Taken to this second of the recording"
          value={settings.to}
          onSet={(to) => set({ to })}
          placeholder="its end"
        />
      </div>
    </section>
  );
}

function Second({
  label,
  value,
  onSet,
  placeholder,
}: {
  label: string;
  value: number | null;
  onSet: (value: number | null) => void;
  placeholder: string;
}) {
  return (
    <InputNumber
      aria-label={label}
      size="small"
      min={0}
      max={36_000}
      step={0.1}
      precision={2}
      suffix="s"
      changeOnWheel={false}
      placeholder={placeholder}
      style={{ width: 130 }}
      value={value}
      onChange={onSet}
    />
  );
}

/** How sure a note must be, over how sure they all are. */
function Threshold({
  heard,
  threshold,
  onThreshold,
}: {
  heard: HeardStock;
  threshold: number;
  onThreshold: (threshold: number) => void;
}) {
  const { isNight } = useAppearance();
  const colours = coloursOf(isNight);
  const [tried, setTried] = useState(threshold);
  const { sureness } = heard;
  const bars = sureness.map((count, at) => ({ from: at / sureness.length, count: Math.sqrt(count) }));
  const above = sureness.reduce(
    (sum, count, at) => sum + ((at + 0.5) / sureness.length >= tried ? count : 0),
    0,
  );
  return (
    <div className={styles.threshold}>
      <div aria-hidden="true">
        <ResponsiveContainer width={CHART.width} height={CHART.height}>
          <BarChart
            data={bars}
            margin={{ top: 4, right: 5, bottom: 0, left: 5 }}
            barCategoryGap={1}
            accessibilityLayer={false}
          >
            <XAxis dataKey="from" hide />
            <Bar dataKey="count" isAnimationActive={false}>
              {bars.map(({ from }) => (
                <Cell key={from} fill={from + 0.025 >= tried ? colours.ink : colours.line} />
              ))}
            </Bar>
          </BarChart>
        </ResponsiveContainer>
      </div>
      <Slider
        style={{ width: CHART.width - 10, margin: '0 5px 8px' }}
        min={0.05}
        max={0.95}
        step={0.01}
        value={tried}
        ariaLabelForHandle="How sure a note must be to be taken"
        tooltip={{ formatter: (value) => `${Math.round((value ?? 0) * 100)} % sure` }}
        onChange={setTried}
        onChangeComplete={onThreshold}
      />
      <p className="soft">
        Taken from {Math.round(tried * 100)} % sure on
        {tried === threshold ? '' : `: about ${counted(above, 'note')}`}. Further left takes more that may be
        wrong, further right leaves out more that may be right.
      </p>
    </div>
  );
}
