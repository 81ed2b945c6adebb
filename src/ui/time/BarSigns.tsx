'use client';

import { App, Button, Checkbox, InputNumber, Segmented, Select } from 'antd';
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

/** One bar, what stands at it, and the ways to change that. */
interface BarEdits {
  summary: ScoreSummary;
  bar: number;
  /** Printed. */
  number: number;
  said: Said;
  put: (what: BarSign, more: object) => Promise<boolean>;
  takeOff: (what: BarSign) => Promise<boolean>;
  /** As it was found. */
  leave: (...whats: BarSign[]) => Promise<boolean>;
}

function SignsOfBar({ summary, bar, isScore }: { summary: ScoreSummary; bar: number; isScore: boolean }) {
  const { decisions, take } = useSession('decisions', 'take');
  const start = summary.barStarts[bar] ?? 0;
  const at = textOfMoment(start);
  const edits: BarEdits = {
    summary,
    bar,
    number: summary.bars[bar] ?? bar + 1,
    said: summary.said.find((each) => each.bar === bar) ?? { bar },
    put: (what, more) => take({ kind: 'bar-sign', at, what, put: true, ...more }),
    takeOff: (what) => take({ kind: 'bar-sign', at, what, put: false }),
    leave: (...whats) => take(...whats.map((what) => ({ kind: 'bar-sign' as const, at, what, put: null }))),
  };
  const decided = decisions.barSigns.filter((each) => each.at === start).map(({ what }) => what);
  const { number, said, put, takeOff } = edits;
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
      {isScore ? <ScoreTempo {...edits} /> : <TempoWords {...edits} />}
      {bar > 0 && <KeyFromHere {...edits} />}
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
      {isScore && <Repeats {...edits} />}
      {isScore && <Ending {...edits} />}
      {decided.length > 0 && (
        <dd>
          <Button size="small" onClick={() => edits.leave(...decided)}>
            As it came
          </Button>
        </dd>
      )}
    </dl>
  );
}

/** The words of a tempo over a performance, whose clock has its figure. */
function TempoWords({ summary, bar, number, said: { tempo }, put, leave }: BarEdits) {
  const pace = tempo?.quartersPerMinute;
  return (
    <>
      <dt>Tempo</dt>
      <dd>
        <EditableText
          label={`Words of the tempo of bar ${number}`}
          value={tempo?.text ?? ''}
          placeholder={pace === undefined ? 'None' : 'Figure only'}
          mayBeEmpty
          onSave={(text) => (text ? put('tempo', { text }) : leave('tempo'))}
        />
        {pace !== undefined && (
          <span className="soft">{figureWords(metronomeOf(meterAt(summary, bar), pace))}</span>
        )}
      </dd>
    </>
  );
}

/** Quarters a minute (as the decision takes them). */
const SLOWEST = 10;
const FASTEST = 600;

/** Words and figure of a tempo of a score; nothing in both takes it off. */
function ScoreTempo({ summary, bar, number, said: { tempo }, put, takeOff }: BarEdits) {
  const pace = tempo?.quartersPerMinute;
  const figure = metronomeOf(meterAt(summary, bar), pace ?? USUAL_PACE);
  const printed = pace === undefined ? undefined : figure.perMinute;
  const save = (text: string, quartersPerMinute: number | undefined) =>
    text || quartersPerMinute !== undefined
      ? put('tempo', { ...(text && { text }), ...(quartersPerMinute !== undefined && { quartersPerMinute }) })
      : takeOff('tempo');
  return (
    <>
      <dt>Tempo</dt>
      <dd>
        <EditableText
          label={`Words of the tempo of bar ${number}`}
          value={tempo?.text ?? ''}
          placeholder="None"
          mayBeEmpty
          onSave={(text) => save(text, pace)}
        />
        <span>
          {unitSign(figure)} ={' '}
          <FigureField
            label={`Beats a minute from bar ${number} on`}
            value={printed}
            least={Math.ceil(SLOWEST / quartersOf(figure))}
            most={Math.floor(FASTEST / quartersOf(figure))}
            mayBeEmpty
            onSave={(value) =>
              save(tempo?.text ?? '', value === undefined ? value : value * quartersOf(figure))
            }
          />
        </span>
      </dd>
    </>
  );
}

function KeyFromHere({ number, said: { key }, put, takeOff }: BarEdits) {
  return (
    <>
      <dt>Key from here</dt>
      <dd>
        <Select
          size="small"
          style={{ width: 140 }}
          aria-label={`Key from bar ${number} on`}
          value={key ? `${key.fifths} ${key.minor ? 'minor' : 'major'}` : ''}
          options={[{ value: '', label: 'No change' }, ...KEY_CHOICES]}
          onChange={(value) => {
            const [fifths, mode] = value.split(' ');
            if (value === '') takeOff('key');
            else put('key', { fifths: Number(fifths), minor: mode === 'minor' });
          }}
        />
      </dd>
    </>
  );
}

function Repeats({ number, said: { repeatsFrom, repeatsTo }, put, takeOff }: BarEdits) {
  return (
    <>
      <dt>Repeat</dt>
      <dd>
        <Checkbox
          checked={repeatsFrom === true}
          onChange={({ target }) => (target.checked ? put('repeat-from', {}) : takeOff('repeat-from'))}
        >
          From here
        </Checkbox>
        <Checkbox
          checked={repeatsTo !== undefined}
          onChange={({ target }) => (target.checked ? put('repeat-to', {}) : takeOff('repeat-to'))}
        >
          To its end
        </Checkbox>
        {repeatsTo !== undefined && (
          <span>
            played{' '}
            <FigureField
              label={`Times that it is played to bar ${number}`}
              value={repeatsTo}
              least={2}
              most={99}
              onSave={(times) => put('repeat-to', { times })}
            />{' '}
            times
          </span>
        )}
      </dd>
    </>
  );
}

function Ending({ number, said: { ending }, put, takeOff }: BarEdits) {
  const { message } = App.useApp();
  const save = (text: string) => {
    if (!text) return takeOff('ending');
    const numbers = text.match(/\d{1,2}/g)?.join(', ');
    if (numbers) return put('ending', { text: numbers, bars: ending?.bars ?? 1 });
    message.warning('An ending has numbers, such as 1, or 1, 2.');
    return false;
  };
  return (
    <>
      <dt>Ending</dt>
      <dd>
        <EditableText
          label={`Numbers of the ending from bar ${number}`}
          value={ending?.text ?? ''}
          placeholder="None"
          mayBeEmpty
          onSave={save}
        />
        {ending && (
          <span>
            over{' '}
            <FigureField
              label={`Bars of the ending from bar ${number}`}
              value={ending.bars}
              least={1}
              most={200}
              onSave={(bars) => put('ending', { text: ending.text, bars })}
            />{' '}
            bars
          </span>
        )}
      </dd>
    </>
  );
}

/** A whole number that is saved when the field is left. */
function FigureField({
  label,
  value,
  least,
  most,
  mayBeEmpty = false,
  onSave,
}: {
  label: string;
  value: number | undefined;
  least: number;
  most: number;
  mayBeEmpty?: boolean;
  onSave: (value: number | undefined) => unknown;
}) {
  return (
    <InputNumber
      key={value}
      size="small"
      style={{ width: 68 }}
      min={least}
      max={most}
      precision={0}
      aria-label={label}
      defaultValue={value}
      onBlur={({ target }) => {
        const text = target.value.trim();
        if (text === '') {
          if (mayBeEmpty && value !== undefined) onSave(undefined);
          return;
        }
        const number = Math.min(most, Math.max(least, Math.round(Number(text))));
        if (Number.isFinite(number) && number !== value) onSave(number);
      }}
      onPressEnter={({ currentTarget }) => currentTarget.blur()}
    />
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
