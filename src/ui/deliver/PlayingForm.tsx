import { Checkbox, InputNumber, Select, Table } from 'antd';
import type { HandOverChoice } from '../../core/decisions/kinds/hand-over';
import type { PerformSettings } from '../../core/perform/settings';
import { useHeight } from '../common/useHeight';
import { useSession } from '../job/session';
import { PLAYED_KINDS, PlayedOut } from '../playback/PlayedOut';
import styles from './DeliverStage.module.css';

const DYNAMICS: { value: PerformSettings['dynamics']; label: string }[] = [
  { value: 'velocity', label: 'as velocity' },
  { value: 'both', label: 'as velocity and a curve' },
  { value: 'curve', label: 'as a curve, velocity even' },
  { value: 'none', label: 'not at all' },
];
const APART: { value: NonNullable<HandOverChoice['apart']>[number]; label: string }[] = [
  { value: 'techniques', label: 'Techniques: pizz., mutes …' },
  { value: 'players', label: 'Players: a2, 1., div.' },
  { value: 'hands', label: 'Hands of keyboards' },
];

/** How a score is played on its way to a sequencer, and what becomes of its marks. */
export function PlayingForm() {
  const { decisions, amend, stock } = useSession('decisions', 'amend', 'stock');
  const { perform, handOver } = decisions;
  const height = useHeight(560, 160);
  const set = (some: Partial<PerformSettings>) =>
    amend((now) => [{ kind: 'perform', ...now.perform, ...some }]);
  const setCurve = (some: Partial<PerformSettings['curve']>) =>
    amend((now) => [{ kind: 'perform', ...now.perform, curve: { ...now.perform.curve, ...some } }]);
  const setApart = (apart: NonNullable<HandOverChoice['apart']>) =>
    amend((now) => [{ kind: 'hand-over', ...now.handOver, apart }]);
  const techniques = stock.marks?.techniques ?? [];
  const setSwitch = (technique: string, key: number | null) =>
    amend((now) => {
      const others = (now.handOver.switches ?? []).filter((each) => each.technique !== technique);
      const switches = key === null ? others : [...others, { technique, key }];
      return [{ kind: 'hand-over', ...now.handOver, switches }];
    });
  const hasCurve = perform.dynamics === 'both' || perform.dynamics === 'curve';
  const marks = [
    ...(stock.marks?.became ?? []).map(({ name, count, as = '' }) => ({ name, count, as })),
    ...(stock.marks?.silent ?? []).map(({ name, count }) => ({ name, count, as: 'stays in the score' })),
  ];
  return (
    <section className={styles.sheet} aria-label="How the score is played">
      <h2>How the score is played</h2>
      <div className={styles.rows}>
        <span>Played out</span>
        <div className={styles.choices}>
          <PlayedOut kinds={PLAYED_KINDS} />
        </div>
        <span>Dynamics</span>
        <div className={styles.row}>
          <Select
            aria-label="Dynamics"
            style={{ width: 220 }}
            value={perform.dynamics}
            options={DYNAMICS}
            onChange={(dynamics: PerformSettings['dynamics']) => set({ dynamics })}
          />
          {hasCurve && (
            <>
              <Checkbox.Group
                aria-label="Controllers of the curve"
                value={perform.curve.controllers}
                options={[
                  { value: 1, label: 'CC1' },
                  { value: 11, label: 'CC11' },
                ]}
                onChange={(controllers) =>
                  controllers.length > 0 && setCurve({ controllers: controllers as (1 | 11)[] })
                }
              />
              <span className={styles.together}>
                <InputNumber
                  aria-label="Softest value"
                  min={0}
                  max={126}
                  precision={0}
                  style={{ width: 66 }}
                  value={perform.curve.low}
                  onChange={(low) => low !== null && setCurve({ low })}
                />
                <span>to</span>
                <InputNumber
                  aria-label="Loudest value"
                  min={1}
                  max={127}
                  precision={0}
                  style={{ width: 66 }}
                  value={perform.curve.high}
                  onChange={(high) => high !== null && setCurve({ high })}
                />
              </span>
            </>
          )}
        </div>
        <span>Slurs</span>
        <div className={styles.row}>
          <span>sound into the next note by</span>
          <InputNumber
            aria-label="Overlap under slurs, milliseconds"
            min={0}
            max={500}
            precision={0}
            style={{ width: 90 }}
            suffix="ms"
            value={perform.slurOverlap}
            onChange={(slurOverlap) => slurOverlap !== null && set({ slurOverlap })}
          />
        </div>
        <span>Own tracks</span>
        <Checkbox.Group
          aria-label="What has tracks of its own"
          value={handOver.apart ?? []}
          options={APART}
          onChange={(apart) => setApart(apart as NonNullable<HandOverChoice['apart']>)}
        />
        {techniques.length > 0 && !handOver.apart?.includes('techniques') && (
          <>
            <span>Key switches</span>
            <div className={styles.choices}>
              {['', ...techniques].map((technique) => (
                <span key={technique} className={styles.together}>
                  <InputNumber
                    aria-label={`Key for ${technique || 'the ordinary way'}`}
                    min={0}
                    max={127}
                    precision={0}
                    placeholder="none"
                    style={{ width: 74 }}
                    value={handOver.switches?.find((each) => each.technique === technique)?.key ?? null}
                    onChange={(key) => setSwitch(technique, key)}
                  />
                  {technique || 'ordinary'}
                </span>
              ))}
            </div>
          </>
        )}
      </div>
      <h2>What becomes of its marks</h2>
      <Table
        size="small"
        rowKey="name"
        pagination={false}
        scroll={{ y: height }}
        columns={[
          { title: 'Mark', dataIndex: 'name', sorter: (a, b) => a.name.localeCompare(b.name) },
          {
            title: 'Count',
            dataIndex: 'count',
            width: 76,
            align: 'right',
            sorter: (a, b) => a.count - b.count,
          },
          { title: 'Becomes', dataIndex: 'as', sorter: (a, b) => a.as.localeCompare(b.as) },
        ]}
        dataSource={marks}
      />
    </section>
  );
}
