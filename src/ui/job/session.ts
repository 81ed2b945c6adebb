'use client';

import { App } from 'antd';
import { useLiveQuery } from 'dexie-react-hooks';
import {
  createContext,
  startTransition,
  use,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { Change } from '../../core/clean';
import type { Brief } from '../../core/decisions/brief';
import { type Decisions, decide, withDirectives } from '../../core/decisions/decisions';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { LaneUse } from '../../core/stock/controllers';
import type { Inventory } from '../../core/stock/inventory';
import type { KitUse } from '../../core/stock/kits';
import type { Progress } from '../../core/transcribe';
import { changeBrief, findHistory, findJob, findSource, type History, redo, undo } from '../../store/jobs';
import type { JobRow } from '../../store/rows';
import { proxy, sharedEngraver, startCore } from '../../workers/client';
import type { ScoreSummary, Stock } from '../../workers/replies';

export type Core = ReturnType<typeof startCore>['core'];

/** One open job: what it holds, what was decided, and the score that follows from both. */
export interface JobSession {
  job: JobRow;
  /** What the source holds as the brief has cleaned it. */
  inventory: Inventory;
  /** What cleaning did, as counts before and after. */
  changes: Change[];
  /** The lanes of the source, whatever cleaning does to them. */
  lanes: LaneUse[];
  kits: KitUse[];
  history: History;
  decisions: Decisions;
  /** The last finished score; stays in view while the next one is written. */
  summary: ScoreSummary | null;
  /** Why the score does not hold the decisions as they are now; null where it does. */
  behind: string | null;
  /** The brief with all that was decided to this moment: what is handed over is made under it. */
  latestBrief: () => Promise<Brief>;
  /** Counts finished scores, so that views know when to draw anew. */
  revision: number;
  progress: Progress | null;
  /** The writing of the score was stopped by hand. */
  stopped: boolean;
  core: Core;
  take: (...directives: PlainDirective[]) => void;
  /** Puts another brief in the place of this one, as one step of undo. */
  replaceBrief: (brief: Brief) => void;
  undo: () => void;
  redo: () => void;
  stop: () => void;
  resume: () => void;
}

export type Opening =
  | { state: 'opening' }
  | { state: 'failed'; why: string }
  | { state: 'open'; session: JobSession };

export const SessionContext = createContext<JobSession | null>(null);

/** The open job; only below a job's frame. */
export function useSession(): JobSession {
  const session = use(SessionContext);
  if (!session) throw new Error('There is no open job here.');
  return session;
}

/** Opens a job: reads its source in a worker and keeps its score up to date with its brief. */
export function useOpening(jobId: string): Opening {
  const { notification } = App.useApp();
  const [opened, setOpened] = useState<{ core: Core } | { failed: string } | null>(null);
  const [stock, setStock] = useState<Stock | null>(null);
  const [summary, setSummary] = useState<ScoreSummary | null>(null);
  const [writtenUnder, setWrittenUnder] = useState<string | null>(null);
  const [revision, setRevision] = useState(0);
  const [progress, setProgress] = useState<Progress | null>(null);
  const [stopped, setStopped] = useState(false);
  const [wanted, setWanted] = useState(0);
  const told = useRef('');
  const history = useLiveQuery(() => findHistory(jobId), [jobId]);
  const job = useLiveQuery(() => findJob(jobId), [jobId]);

  useEffect(() => {
    const { core, stop } = startCore();
    void sharedEngraver().warm();
    let gone = false;
    (async () => {
      const source = await findSource(jobId);
      if (gone) return;
      if (!source) return setOpened({ failed: 'This job is not in this browser.' });
      const result = await core.open(source.bytes);
      if (gone) return;
      setOpened('refused' in result ? { failed: result.refused } : { core });
    })().catch((error: unknown) => {
      if (!gone) setOpened({ failed: (error as Error).message });
    });
    return () => {
      gone = true;
      stop();
      setOpened(null);
      setStock(null);
      setSummary(null);
    };
  }, [jobId]);

  const briefText = history ? JSON.stringify(history.brief) : null;
  const core = opened && 'core' in opened ? opened.core : null;

  useEffect(() => {
    if (!core || briefText === null) return;
    let overtaken = false;
    // Progress and result come over different ports: a last step may arrive after the end.
    let finished = false;
    setStopped(false);
    const failed = (error: unknown) => {
      if (overtaken) return;
      setProgress(null);
      setStopped(true);
      notification.error({
        title: 'The score could not be written',
        description: (error as Error).message,
      });
    };
    core
      .takeStock(JSON.parse(briefText))
      .then((taken) => {
        // Drawing a stage for the first time is long work: in a transition the page stays answerable.
        if (!overtaken) startTransition(() => setStock(taken));
      })
      .catch(failed);
    core
      .transcribe(
        JSON.parse(briefText),
        proxy((step: Progress) => {
          if (!overtaken && !finished) setProgress(step);
        }),
      )
      .then((result) => {
        finished = true;
        if (overtaken) return;
        setProgress(null);
        if (!result) return;
        startTransition(() => {
          setSummary(result);
          setWrittenUnder(briefText);
          setRevision((before) => before + 1);
        });
      })
      .catch(failed);
    return () => {
      overtaken = true;
    };
  }, [core, briefText, wanted, notification]);

  useEffect(() => {
    const why = history?.unreadable;
    if (!why || told.current === why) return;
    told.current = why;
    notification.warning({
      title: 'The decisions of this job were damaged',
      description: `${why} They were set aside; undo brings earlier ones back.`,
      duration: 0,
    });
  }, [history, notification]);

  const refused = useCallback(
    (error: unknown) =>
      notification.error({ title: 'The decision was not kept', description: (error as Error).message }),
    [notification],
  );

  /** Decisions on their way into the store. */
  const keeping = useRef<Promise<unknown>>(Promise.resolve());
  const keep = useCallback(
    (change: Promise<void>) => {
      keeping.current = Promise.all([keeping.current, change.catch(refused)]);
    },
    [refused],
  );

  const take = useCallback(
    (...directives: PlainDirective[]) =>
      keep(changeBrief(jobId, (brief) => withDirectives(brief, directives))),
    [jobId, keep],
  );

  const replaceBrief = useCallback((brief: Brief) => keep(changeBrief(jobId, () => brief)), [jobId, keep]);

  const latestBrief = useCallback(async () => {
    await keeping.current;
    const kept = await findHistory(jobId);
    if (!kept) throw new Error('This job is damaged: its decisions are missing.');
    return kept.brief;
  }, [jobId]);

  const stop = useCallback(() => {
    void core?.cancel();
    setProgress(null);
    setStopped(true);
  }, [core]);

  return useMemo((): Opening => {
    if (opened && 'failed' in opened) return { state: 'failed', why: opened.failed };
    if (!opened || !stock || history === undefined || job === undefined) return { state: 'opening' };
    if (history === null || job === null)
      return { state: 'failed', why: 'This job is damaged: its decisions are missing.' };
    const session: JobSession = {
      ...opened,
      ...stock,
      job,
      history,
      decisions: decide(history.brief),
      summary,
      behind:
        summary !== null && writtenUnder === briefText
          ? null
          : stopped
            ? 'The writing of the score was stopped.'
            : 'The score is still being written.',
      latestBrief,
      revision,
      progress,
      stopped,
      take,
      replaceBrief,
      undo: () => keep(undo(jobId)),
      redo: () => keep(redo(jobId)),
      stop,
      resume: () => setWanted((before) => before + 1),
    };
    return { state: 'open', session };
  }, [
    opened,
    stock,
    job,
    history,
    briefText,
    summary,
    writtenUnder,
    revision,
    progress,
    stopped,
    take,
    replaceBrief,
    latestBrief,
    keep,
    stop,
    jobId,
  ]);
}
