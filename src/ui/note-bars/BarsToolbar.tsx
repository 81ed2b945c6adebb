import { Button, Segmented, Select, Space, Switch } from 'antd';
import { counted } from '../../core/basics/words';
import type { NoteBarsData } from '../../core/workbench/note-bars';
import styles from './NoteBars.module.css';
import { ROWS } from './view';

interface Props {
  data: NoteBarsData;
  /** Index among the heights of a semitone. */
  rows: number;
  onRows: (rows: number) => void;
  lane: string;
  lanes: { value: string; label: string }[];
  onLane: (lane: string) => void;
  varied: boolean;
  onVaried: (varied: boolean) => void;
  /** Whether the sound of the recording is drawn behind the notes; null where there is none. */
  sound: boolean | null;
  onSound: (sound: boolean) => void;
  /** More ticks to a pixel by this factor. */
  onZoom: (factor: number) => void;
  onWhole: () => void;
}

/** How the notes are drawn, and how many there are. */
export function BarsToolbar(props: Props) {
  const { data, rows, onRows, lane, lanes, onLane, varied, onVaried, sound, onSound, onZoom, onWhole } =
    props;
  return (
    <div className={styles.tools} role="toolbar" aria-label="How the notes are drawn">
      <Space size={4}>
        <Button size="small" onClick={onWhole}>
          Whole piece
        </Button>
        <Button size="small" aria-label="Zoom in" onClick={() => onZoom(1 / 2)}>
          Closer
        </Button>
        <Button size="small" aria-label="Zoom out" onClick={() => onZoom(2)}>
          Farther
        </Button>
      </Space>
      <span>
        Height{' '}
        <Segmented
          size="small"
          aria-label="Height of the strips"
          value={rows}
          options={ROWS.map((each, index) => ({ value: index, label: `${each}` }))}
          onChange={onRows}
        />
      </span>
      <label>
        Lane{' '}
        <Select
          size="small"
          aria-label="Lane below the strips"
          style={{ width: 190 }}
          value={lane}
          options={lanes}
          onChange={onLane}
        />
      </label>
      {data.varies || !varied ? (
        <label>
          <Switch size="small" checked={varied} onChange={onVaried} /> with variation
        </label>
      ) : null}
      {sound !== null && (
        <label>
          <Switch size="small" checked={sound} onChange={onSound} /> sound behind the notes
        </label>
      )}
      <span className="soft" role="status">
        {counted(
          data.strands.reduce((sum, strand) => sum + strand.on.length, 0),
          'note',
        )}{' '}
        in {counted(data.strands.length, 'strand')}
      </span>
    </div>
  );
}
