'use client';

import { App, Button, Space } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { Answer } from '../../core/edit/answers';
import type { Compared, ComparedRow } from '../../core/workbench/compare';
import { useSession } from '../job/session';

/** Whether differences of these two can be answered: the one is the score, and it was read. */
export function useCanAnswer(which: readonly [Compared, Compared]): boolean {
  const { stock } = useSession('stock');
  return stock.kind === 'score' && which.filter(({ kind }) => kind === 'score').length === 1;
}

/** No id of what is meant is longer. */
const LONGEST = 160;

/** Under what it is kept that the score is right in a difference: its place, its kind and what it says. */
export function keptAs(which: readonly [Compared, Compared], { id, says }: ComparedRow): string {
  const source = which.map((each) => (each.kind === 'source' ? each.source : 'score')).join(' ');
  return `compare ${source} ${id} ${says}`.slice(0, LONGEST);
}

interface Props {
  which: [Compared, Compared];
  names: readonly [string, string];
  /** The differences that are chosen. */
  rows: readonly ComparedRow[];
  /** Whether they are among those in which the score was said to be right. */
  areKept: boolean;
  onDone: () => void;
}

/** What is to be in the score where it differs from another reading: its own notes, the other's, or both. */
export function DifferenceAnswers({ which, names, rows, areKept, onDone }: Props) {
  const { core, summary, take } = useSession('core', 'summary', 'take');
  const { message, notification } = App.useApp();
  const [busy, setBusy] = useState<Answer | null>(null);
  const other = names[which[0].kind === 'score' ? 1 : 0];
  const notes = rows.reduce((sum, { count }) => sum + count, 0);
  const none = rows.length === 0 ? 'Choose differences in the list first.' : undefined;
  const keep = (meant: boolean) => {
    take(...rows.map((row): PlainDirective => ({ kind: 'meant', oddity: keptAs(which, row), meant })));
    onDone();
  };
  const answer = async (wanted: Answer) => {
    if (!summary) return;
    setBusy(wanted);
    try {
      const { directives, left } = await core.answered(summary.revision, {
        one: which[0],
        two: which[1],
        rows: rows.map(({ id }) => id),
        answer: wanted,
      });
      if (directives.length > 0) take(...directives);
      if (left > 0)
        void message.info(
          `${counted(left, 'note')} ${left === 1 ? 'stays as it is: it has' : 'stay as they are: they have'} no part or no bar in the score.`,
        );
      onDone();
    } catch (error) {
      notification.error({
        title: 'These differences were not taken over',
        description: (error as Error).message,
      });
    } finally {
      setBusy(null);
    }
  };
  if (areKept)
    return (
      <Button size="small" disabled={none !== undefined} title={none} onClick={() => keep(false)}>
        Open again
      </Button>
    );
  return (
    <Space size="small">
      <Button size="small" disabled={none !== undefined} title={none} onClick={() => keep(true)}>
        Keep the score’s
      </Button>
      <Button
        size="small"
        disabled={none !== undefined}
        title={none ?? `The score gets what ${other} has.`}
        loading={busy === 'theirs'}
        onClick={() => void answer('theirs')}
      >
        Take the other’s
      </Button>
      <Button
        size="small"
        disabled={none !== undefined}
        title={none ?? `The score keeps its notes, and gets those of ${other} beside them.`}
        loading={busy === 'both'}
        onClick={() => void answer('both')}
      >
        Have both
      </Button>
      {notes > 0 && <span className="soft">{counted(notes, 'note')} chosen</span>}
    </Space>
  );
}
