'use client';

import { Button, Checkbox, InputNumber, Segmented, Select } from 'antd';
import { useState } from 'react';
import type { BarSign } from '../../core/model/bar-signs';
import { BAR_LINES, type BarLine } from '../../core/model/bar-signs';
import type { Meter } from '../../core/model/clock';
import { type MetronomeFigure, metronomeOf, quartersOf } from '../../core/model/metronome';
import { textOfMoment } from '../../core/model/time';
import type { ScoreSummary } from '../../core/workbench/replies';
import { EditableText } from '../common/EditableText';
import { KEY_CHOICES, signatureName } from '../common/names';
import { useSession } from '../job/session';
import styles from './BarSigns.module.css';

type Said = ScoreSummary['said'][number];

interface Props {
  /** Bars in view, as indices; `to` exclusive. */
  from: number;
  to: number;
  onGo: (bar: number) => void;
}

/** What stands at a bar for all parts: rehearsal mark, tempo, bar line, repeats, endings. */
export function BarSigns({ from, to, onGo }: Props) {
  const { summary, stock } = useSession('summary', 'stock');
  const [chosen, setChosen] = useState(from);
  if (!summary || summary.bars.length === 0) return null;
  const bar = chosen >= from && chosen < to ? chosen : from;
  return (
    <>
      <Segmented
        size="small"
        aria-label="Bar"
        value={bar}
        options={Array.from({ length: Math.max(0, to - from) }, (_, index) => ({
          value: from + index,
          label: to - from > 4 ? summary.bars[from + index] : `Bar ${summary.bars[from + index]}`,
        }))}
        onChange={setChosen}
      />
      <SignsOfBar key={bar} summary={summary} bar={bar} isScore={stock.kind === 'score'} />
      {summary.said.length > 0 && <h3>In this piece</h3>}
      <ul className={styles.list}>
        {summary.said.slice(0, MOST_LISTED).map((said) => (
          <li key={said.bar}>
            <button
              type="button"
              aria-current={said.bar === bar || undefined}
              onClick={() => {
                onGo(said.bar);
                setChosen(said.bar);
              }}
            >
              Bar {summary.bars[said.bar]}: {saidWords(said, meterAt(summary, said.bar)).join(', ')}
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

/** More than any piece has rehearsal marks; a list of thousands is no list. */
const MOST_LISTED = 300;

function SignsOfBar({ summary, bar, isScore }: { summary: ScoreSummary; bar: number; isScore: boolean }) {
  const { decisions, take } = useSession('decisions', 'take');
  const number = summary.bars[bar];
  const start = summary.barStarts[bar] ?? 0;
  const said: Said = summary.said.find((each) => each.bar === bar) ?? { bar };
  const at = textOfMoment(start);
  const put = (what: BarSign, more: object) => take({ kind: 'bar-sign', at, what, put: true, ...more });
  const takeOff = (what: BarSign) => take({ kind: 'bar-sign', at, what, put: false });
  const decided = decisions.barSigns.filter((each) => each.at === start);
  const { tempo, ending } = said;
  const pace = tempo?.quartersPerMinute;
  const figure = metronomeOf(meterAt(summary, bar), pace ?? USUAL_PACE);
  const printed = pace === undefined ? undefined : figure.perMinute;
  const withTempo = (text: string, quartersPerMinute: number | undefined) =>
    text || quartersPerMinute !== undefined
      ? put('tempo', { ...(text && { text }), ...(quartersPerMinute !== undefined && { quartersPerMinute }) })
      : takeOff('tempo');
  return (
    <dl className={styles.fields}>
      <dt>Rehearsal mark</dt>
      <dd>
        <EditableText
          label={`Rehearsal mark of bar ${number}`}
          value={said.rehearsal ?? ''}
          placeholder="None"
          mayBeEmpty
          onSave={(text) => (text ? put('rehearsal', { text }) : takeOff('rehearsal'))}
        />
      </dd>
      <dt>Tempo</dt>
      <dd>
        <EditableText
          label={`Words of the tempo of bar ${number}`}
          value={tempo?.text ?? ''}
          placeholder={isScore || !pace ? 'None' : 'Figure only'}
          mayBeEmpty
          onSave={(text) => withTempo(text, isScore ? pace : undefined)}
        />
        {isScore ? (
          <label>
            {unitSign(figure)} ={' '}
            <InputNumber
              key={printed}
              size="small"
              style={{ width: 76 }}
              min={10}
              max={600}
              aria-label={`Beats a minute from bar ${number} on`}
              defaultValue={printed}
              onBlur={({ target }) => {
                const value = target.value.trim() === '' ? undefined : Number(target.value);
                if (value === printed || Number.isNaN(value)) return;
                withTempo(tempo?.text ?? '', value === undefined ? value : value * quartersOf(figure));
              }}
              onPressEnter={({ currentTarget }) => currentTarget.blur()}
            />
          </label>
        ) : (
          pace !== undefined && <span className="soft">{figureWords(figure)}</span>
        )}
      </dd>
      {!isScore && bar > 0 && (
        <>
          <dt>Key from here</dt>
          <dd>
            <Select
              size="small"
              style={{ width: 140 }}
              aria-label={`Key from bar ${number} on`}
              value={said.key ? `${said.key.fifths} ${said.key.minor ? 'minor' : 'major'}` : ''}
              options={[{ value: '', label: 'No change' }, ...KEY_CHOICES]}
              onChange={(value) => {
                const [fifths, mode] = value.split(' ');
                if (value === '') takeOff('key');
                else put('key', { fifths: Number(fifths), minor: mode === 'minor' });
              }}
            />
          </dd>
        </>
      )}
      <dt>Line at its end</dt>
      <dd>
        <Select
          size="small"
          style={{ width: 140 }}
          aria-label={`Line at the end of bar ${number}`}
          disabled={said.repeatsTo !== undefined}
          value={said.repeatsTo === undefined ? ((said.line ?? 'regular') as BarLine) : undefined}
          placeholder="Repeat"
          options={BAR_LINES.map((value) => ({ value, label: LINE_NAMES[value] }))}
          onChange={(style: BarLine) =>
            style === 'regular' ? takeOff('bar-line') : put('bar-line', { style })
          }
        />
      </dd>
      {isScore && (
        <>
          <dt>Repeat</dt>
          <dd>
            <Checkbox
              checked={said.repeatsFrom === true}
              onChange={({ target }) => (target.checked ? put('repeat-from', {}) : takeOff('repeat-from'))}
            >
              From here
            </Checkbox>
            <Checkbox
              checked={said.repeatsTo !== undefined}
              onChange={({ target }) => (target.checked ? put('repeat-to', {}) : takeOff('repeat-to'))}
            >
              To its end
            </Checkbox>
            {said.repeatsTo !== undefined && (
              <label>
                played{' '}
                <InputNumber
                  key={said.repeatsTo}
                  size="small"
                  style={{ width: 60 }}
                  min={2}
                  max={99}
                  aria-label={`Times that it is played to bar ${number}`}
                  defaultValue={said.repeatsTo}
                  onBlur={({ target }) => {
                    const times = Number(target.value);
                    if (times >= 2 && times !== said.repeatsTo) put('repeat-to', { times });
                  }}
                  onPressEnter={({ currentTarget }) => currentTarget.blur()}
                />{' '}
                times
              </label>
            )}
          </dd>
          <dt>Ending</dt>
          <dd>
            <EditableText
              label={`Numbers of the ending from bar ${number}`}
              value={ending?.text ?? ''}
              placeholder="None"
              mayBeEmpty
              onSave={(text) => (text ? put('ending', { text, bars: ending?.bars ?? 1 }) : takeOff('ending'))}
            />
            {ending && (
              <label>
                over{' '}
                <InputNumber
                  key={ending.bars}
                  size="small"
                  style={{ width: 60 }}
                  min={1}
                  max={200}
                  aria-label={`Bars of the ending from bar ${number}`}
                  defaultValue={ending.bars}
                  onBlur={({ target }) => {
                    const bars = Number(target.value);
                    if (bars >= 1 && bars !== ending.bars) put('ending', { text: ending.text, bars });
                  }}
                  onPressEnter={({ currentTarget }) => currentTarget.blur()}
                />{' '}
                bars
              </label>
            )}
          </dd>
        </>
      )}
      {decided.length > 0 && (
        <dd>
          <Button
            size="small"
            onClick={() =>
              take(...decided.map(({ what }) => ({ kind: 'bar-sign' as const, at, what, put: null })))
            }
          >
            As it came
          </Button>
        </dd>
      )}
    </dl>
  );
}

const LINE_NAMES: Record<BarLine, string> = {
  regular: 'Single',
  'light-light': 'Double',
  'light-heavy': 'Final',
  heavy: 'Heavy',
  dashed: 'Dashed',
  dotted: 'Dotted',
  none: 'None',
};

const meterAt = ({ meters }: ScoreSummary, bar: number): Meter =>
  meters.findLast((each) => each.bar <= bar)?.meter ?? { numerator: 4, denominator: 4 };

/** What a new tempo is counted in where none is there: a beat of common pace (common practice). */
const USUAL_PACE = 120;

const UNIT_SIGNS: Record<MetronomeFigure['unit'], string> = {
  half: 'half note',
  quarter: '♩',
  eighth: '♪',
  '16th': '16th',
};

const unitSign = ({ unit, dotted }: Pick<MetronomeFigure, 'unit' | 'dotted'>): string =>
  unit === 'half' || unit === '16th'
    ? `${dotted ? 'dotted ' : ''}${UNIT_SIGNS[unit]}`
    : `${UNIT_SIGNS[unit]}${dotted ? '.' : ''}`;

const figureWords = (figure: MetronomeFigure): string => `${unitSign(figure)} = ${figure.perMinute}`;

function saidWords(
  { rehearsal, tempo, key, line, repeatsFrom, repeatsTo, ending }: Said,
  meter: Meter,
): string[] {
  const pace = tempo?.quartersPerMinute;
  const figure = pace === undefined ? '' : figureWords(metronomeOf(meter, pace));
  return [
    rehearsal ? `rehearsal mark ${rehearsal}` : '',
    tempo ? [tempo.text, figure].filter(Boolean).join(' ') : '',
    key ? signatureName(key.fifths, key.minor) : '',
    repeatsFrom ? 'repeat begins' : '',
    repeatsTo === undefined ? '' : repeatsTo === 2 ? 'repeat ends' : `repeat ends, ${repeatsTo} times`,
    ending ? `ending ${ending.text}` : '',
    line ? `${(LINE_NAMES[line as BarLine] ?? line).toLowerCase()} bar line` : '',
  ].filter(Boolean);
}
