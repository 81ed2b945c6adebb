import { Button, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { fromVelocities, scaled, withPoint } from '../../core/edit/curves';
import { barAt, positionAt } from '../../core/model/clock';
import type { StrandId } from '../../core/model/ids';
import { laneName } from '../../core/model/lanes';
import type { NoteBarsData, StrandBars } from '../../core/workbench/note-bars';
import { useSession } from '../job/session';
import styles from './NoteBars.module.css';
import type { Curve } from './useCurve';
import { highestOf } from './view';

/** What can be done with the curve of the lane that is shown. */
export function CurveTools({
  data,
  strand,
  lane,
  curve,
}: {
  data: NoteBarsData;
  strand: StrandBars;
  lane: string;
  curve: Curve;
}) {
  const { take } = useSession('take');
  const [percent, setPercent] = useState(100);
  const [more, setMore] = useState(0);
  const [others, setOthers] = useState<StrandId[]>([]);
  const points = curve.points();
  const chosen = points.find(({ tick }) => tick === curve.chosen);
  const highest = highestOf(lane);
  const place = chosen && {
    bar: barAt(data.clock, chosen.tick).number,
    beat: positionAt(data.clock, chosen.tick).beat,
  };
  const notes = [...strand.on].map((on, index) => ({ on, velocity: strand.velocity[index]! }));
  // What is done begins with the curve as it is at that moment: what was saved last may not be drawn here yet.
  const putOn = (strands: readonly StrandId[]) =>
    take(
      ...strands.map((each) => ({ kind: 'curve' as const, strand: each, lane, points: [...curve.points()] })),
    );
  return (
    <section className={styles.curve} aria-label="Curve">
      <h2>Curve of {laneName(lane)}</h2>
      <p className="soft">
        {points.length === 0
          ? 'Press or drag in the lane to draw it.'
          : `${counted(points.length, 'point')}, ${barAt(data.clock, points[0]!.tick).number}–${barAt(data.clock, points.at(-1)!.tick).number}`}
      </p>
      {chosen && place && (
        <label>
          Bar {place.bar}, beat {place.beat}{' '}
          <InputNumber
            size="small"
            aria-label="Value of the point"
            min={0}
            max={highest}
            precision={0}
            style={{ width: 76 }}
            value={chosen.value}
            onChange={(value) =>
              value !== null && curve.save(withPoint(curve.points(), { tick: chosen.tick, value }))
            }
          />
        </label>
      )}
      <div className={styles.curveRow}>
        <Button size="small" type={curve.isRecording ? 'primary' : 'default'} onClick={curve.record}>
          {curve.isRecording ? 'Stop recording' : 'Record while playing'}
        </Button>
        <Button size="small" onClick={() => curve.save(fromVelocities(notes, data.clock))}>
          From velocities
        </Button>
        {points.length > 0 && (
          <Button size="small" onClick={() => curve.save([])}>
            Take it off
          </Button>
        )}
      </div>
      {points.length > 0 && (
        <>
          <div className={styles.curveRow}>
            <InputNumber
              size="small"
              aria-label="Scale the curve, per cent"
              min={0}
              max={400}
              precision={0}
              suffix="%"
              style={{ width: 78 }}
              value={percent}
              onChange={(value) => value !== null && setPercent(value)}
            />
            <InputNumber
              size="small"
              aria-label="Raise the curve by"
              min={-highest}
              max={highest}
              precision={0}
              prefix="+"
              style={{ width: 72 }}
              value={more}
              onChange={(value) => value !== null && setMore(value)}
            />
            <Button size="small" onClick={() => curve.save(scaled(curve.points(), percent, more, highest))}>
              Scale
            </Button>
          </div>
          <Select
            size="small"
            mode="multiple"
            aria-label="Strands for the same curve"
            placeholder="Same curve on …"
            optionFilterProp="label"
            maxTagCount={2}
            value={others}
            options={data.strands
              .filter(({ id }) => id !== strand.id)
              .map(({ id, part, name }) => ({ value: id, label: part || name || id }))}
            onChange={setOthers}
          />
          <div className={styles.curveRow}>
            <Button
              size="small"
              disabled={others.length === 0}
              title={others.length === 0 ? 'Choose strands first' : undefined}
              onClick={() => putOn(others)}
            >
              Put on them
            </Button>
            <Button
              size="small"
              onClick={() => putOn(data.strands.flatMap(({ id }) => (id === strand.id ? [] : [id])))}
            >
              Put on all strands
            </Button>
          </div>
        </>
      )}
    </section>
  );
}
