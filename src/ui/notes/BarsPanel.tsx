'use client';

import { App, Button, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { type BarsEdit, MOST_NEW_BARS } from '../../core/rewrite/bar-order';
import type { NoteOrigin } from '../../core/workbench/replies';
import { useSession } from '../job/session';
import { ToolRow } from './ToolRow';

const barsWords = (from: number, to: number) => (from === to ? `Bar ${from}` : `Bars ${from}–${to}`);

/** Whole bars of a score, over all parts: put in, taken out, repeated, moved. */
export function BarsPanel({
  origins,
  onGo,
}: {
  origins: readonly NoteOrigin[];
  onGo: (bar: number) => void;
}) {
  const { summary, editBars } = useSession('summary', 'editBars');
  const { message, notification } = App.useApp();
  const [given, setGiven] = useState<{ from?: number; to?: number; before?: number; count?: number }>({});
  const [busy, setBusy] = useState(false);
  if (!summary) return null;
  const { bars } = summary;
  const printed = origins.map(({ bar }) => bar);
  const first = bars[0] ?? 1;
  const last = bars.at(-1) ?? 1;
  const from = given.from ?? (printed.length > 0 ? Math.min(...printed) : first);
  const to = Math.max(from, given.to ?? (printed.length > 0 ? Math.max(...printed) : from));
  const before = given.before ?? last + 1;
  const count = given.count ?? 1;
  const meant = { from: bars.indexOf(from), to: bars.lastIndexOf(to) + 1 };
  const at = before > last ? bars.length : bars.indexOf(before);
  const isMeant = meant.from >= 0 && meant.to > meant.from;

  const edit = async (wanted: BarsEdit, done: string, show: number) => {
    setBusy(true);
    try {
      const told = await editBars(wanted, done);
      if (told.length === 0) message.success(done);
      else
        notification.info({
          title: done,
          description: told.map((each) => <p key={each}>{each}</p>),
          duration: 0,
          // Above are the tools that it is about.
          placement: 'bottomRight',
        });
      onGo(show);
    } catch (error) {
      notification.error({
        title: 'The bars stay as they are',
        description: (error as Error).message,
        duration: 0,
      });
    } finally {
      setBusy(false);
    }
  };
  const number = (label: string, value: number, set: (value: number) => void) => (
    <InputNumber
      size="small"
      style={{ width: 64 }}
      aria-label={label}
      min={first}
      max={last}
      precision={0}
      value={value}
      onChange={(next) => next !== null && set(next)}
    />
  );
  const place = (
    <Select
      size="small"
      style={{ width: 118 }}
      aria-label="Before which bar"
      showSearch={{ optionFilterProp: 'label' }}
      value={at}
      options={[
        ...bars.map((each, index) => ({ value: index, label: `before bar ${each}` })),
        { value: bars.length, label: 'at the end' },
      ]}
      onChange={(index: number) => setGiven({ ...given, before: bars[index] ?? last + 1 })}
    />
  );
  const where = at === bars.length ? 'at the end' : `before bar ${before}`;
  return (
    <>
      <ToolRow name="Bars" label="Bars that are meant">
        {number('First bar', from, (value) => setGiven({ ...given, from: value }))}
        to
        {number('Last bar', to, (value) => setGiven({ ...given, to: value }))}
      </ToolRow>
      <ToolRow name="To" label="Where bars go">
        {place}
      </ToolRow>
      <ToolRow name="Do" label="What is done with these bars">
        <Button
          size="small"
          disabled={busy || !isMeant || meant.to - meant.from === bars.length}
          onClick={() =>
            edit(
              { what: 'remove', ...meant },
              `${barsWords(from, to)} taken out`,
              Math.max(0, meant.from - 1),
            )
          }
        >
          Take out
        </Button>
        <Button
          size="small"
          disabled={busy || !isMeant || at < 0}
          onClick={() => edit({ what: 'copy', ...meant, at }, `${barsWords(from, to)} copied ${where}`, at)}
        >
          Copy
        </Button>
        <Button
          size="small"
          disabled={busy || !isMeant || at < 0 || (at >= meant.from && at <= meant.to)}
          onClick={() => edit({ what: 'move', ...meant, at }, `${barsWords(from, to)} moved ${where}`, at)}
        >
          Move
        </Button>
      </ToolRow>
      <ToolRow name="Empty" label="Empty bars">
        <InputNumber
          size="small"
          style={{ width: 64 }}
          aria-label="How many empty bars"
          min={1}
          max={MOST_NEW_BARS}
          precision={0}
          value={count}
          onChange={(next) => next !== null && setGiven({ ...given, count: next })}
        />
        <Button
          size="small"
          disabled={busy || at < 0}
          onClick={() =>
            edit({ what: 'insert', at, count }, `${counted(count, 'empty bar')} put in ${where}`, at)
          }
        >
          Put in {where}
        </Button>
      </ToolRow>
      <p className="soft">
        In all parts. The score becomes a new version of its source; what you decided stays with its music,
        and Undo goes back to the version before.
      </p>
    </>
  );
}
