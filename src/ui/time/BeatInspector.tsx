import { Button, Space } from 'antd';
import { counted } from '../../core/basics/words';
import type { BeatSheet } from '../../core/workbench/beat-sheet';
import type { EditBeatsRequest } from '../../workers/messages';

/** What there is to know of the chosen beat, and what can be done with it. */
export function BeatInspector({
  sheet,
  chosen,
  count,
  edit,
}: {
  sheet: BeatSheet;
  chosen: number | null;
  /** Beats of the bars that are counted off from here. */
  count: number;
  edit: (request: EditBeatsRequest) => Promise<boolean>;
}) {
  const { beats, seconds } = sheet;
  const at = chosen === null ? undefined : seconds[chosen];
  return chosen === null || at === undefined ? (
    <>
      <h2>Beats</h2>
      <p className="soft">
        Drag a beat line to where the beat is heard. Click one to choose it: arrow keys move it by 10 ms, with
        Shift to the beat beside it; Enter begins a bar there or joins two, Delete takes it away. A double
        click between two beats adds one.
      </p>
    </>
  ) : (
    <>
      <h2>{beatName(sheet, chosen)}</h2>
      <dl className="figures" aria-live="polite">
        <dt>At</dt>
        <dd>{preciseText(at)}</dd>
        <dt>Tempo</dt>
        <dd>{tempoText(sheet, chosen)}</dd>
      </dl>
      <Space wrap size={6}>
        <Button size="small" onClick={() => void edit({ edit: 'bar', index: chosen })}>
          {beats.bars.includes(chosen) ? 'No bar line here' : 'Bar line here'}
        </Button>
        <Button size="small" onClick={() => void edit({ edit: 'count', index: chosen, perBar: count })}>
          Bars of {count} from here
        </Button>
        <Button
          size="small"
          disabled={seconds[chosen + 1] === undefined}
          onClick={() => void edit({ edit: 'add', seconds: (at + seconds[chosen + 1]!) / 2 })}
        >
          Add one after it
        </Button>
        <Button size="small" onClick={() => void edit({ edit: 'remove', index: chosen })}>
          Take it away
        </Button>
      </Space>
    </>
  );
}

/** Bar and beat, counted as people do. */
function beatName({ beats, firstBar }: BeatSheet, index: number): string {
  const bar = beats.bars.findLastIndex((each) => each <= index);
  if (bar < 0) return `Upbeat, ${counted((beats.bars[0] ?? 0) - index, 'beat')} before bar ${firstBar}`;
  return `Bar ${firstBar + bar}, beat ${index - beats.bars[bar]! + 1}`;
}

const preciseText = (second: number): string =>
  `${Math.floor(second / 60)}:${(second % 60).toFixed(3).padStart(6, '0')}`;

function tempoText({ seconds }: BeatSheet, index: number): string {
  const next = seconds[index + 1];
  const length = next === undefined ? seconds[index]! - (seconds[index - 1] ?? 0) : next - seconds[index]!;
  return `${(60 / length).toFixed(1)} beats a minute`;
}
