import { replaceEqualDeep } from '@tanstack/react-query';
import { liveQuery, type Subscription } from 'dexie';
import { startTransition } from 'react';
import { createStore } from 'zustand/vanilla';
import { type Brief, EMPTY_BRIEF } from '../../core/decisions/brief';
import {
  type Decisions,
  decide,
  isAboutTime,
  saysWhen,
  withDirectives,
} from '../../core/decisions/decisions';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { SourceId } from '../../core/model/ids';
import type { BarsEdit } from '../../core/rewrite/bar-order';
import type { Source } from '../../core/sources';
import type { Progress } from '../../core/transcribe';
import type { ScoreSummary, Stock } from '../../core/workbench/replies';
import {
  changeBrief,
  findHistory,
  forgetUnread,
  goTo,
  type History,
  lastChange,
  redo,
  undo,
} from '../../store/history';
import { addSource, type DamagedSource, findJob, findSources, listSources } from '../../store/jobs';
import type { JobRow, SourceEntry } from '../../store/rows';
import { dropUnkept, listUnkept, noteUnkept } from '../../store/unkept';
import { WorkerGoneError } from '../../workers/attend';
import { type Core, proxy, startCore } from '../../workers/client';

/** What there is to see of an open job. */
export interface JobState {
  state: 'opening' | 'open' | 'failed';
  /** Why it could not be opened. */
  why: string;
  /** Sources whose bytes are not those that came. */
  damaged: readonly DamagedSource[];
  core: Core;
  job: JobRow;
  sources: SourceEntry[];
  history: History;
  decisions: Decisions;
  /** What the sources hold under the brief. */
  stock: Stock;
  /** Shorthands for what of it is asked for most. */
  inventory: Stock['inventory'];
  changes: Stock['changes'];
  lanes: Stock['lanes'];
  kits: Stock['kits'];
  /** The last finished score; stays in view while the next one is written. */
  summary: ScoreSummary | null;
  /** Why the score does not hold the decisions as they are now; null where it does. */
  behind: string | null;
  progress: Progress | null;
  /** The writing of the score was stopped by hand, or failed. */
  stopped: boolean;
  /** Why what is in view is not of the decisions as they are now and will not be; null where it is, or is on its way. */
  failure: string | null;
  /** The last thing that went wrong, with a count that tells two alike apart. */
  trouble: { title: string; why: string; count: number } | null;
}

/** What people do with an open job. */
export interface JobActions {
  /** Opens a job that has damaged sources: with what is left of them, or once they are mended. */
  openAll: (how: 'as they are' | 'mended') => void;
  /** @returns whether it was kept: where not, that is told */
  take: (...directives: PlainDirective[]) => Promise<boolean>;
  /** As `take`, for a decision made from those before it: also from the ones that are still being kept. */
  amend: (make: (decisions: Decisions) => PlainDirective[]) => Promise<boolean>;
  /** Puts another brief in the place of this one, as one step of undo. */
  replaceBrief: (brief: Brief) => void;
  /** Takes out what cannot be read of the job's decisions, as one step of undo. */
  forgetUnread: () => void;
  undo: () => void;
  redo: () => void;
  /** Goes to the state after so many steps. */
  goTo: (position: number) => void;
  stop: () => void;
  resume: () => void;
  /** The brief with all that was decided to this moment: what is handed over is made under it. */
  latestBrief: () => Promise<Brief>;
  /** Waits until the score holds all that was decided to this moment. @returns what it is then */
  whenWritten: () => Promise<ScoreSummary>;
  /** @returns how many notes and signs that were put into bars went with them, since a new version has them no more */
  addSource: (file: { name: string; bytes: Uint8Array }, versionOf: SourceId | null) => Promise<number>;
  /**
   * Puts bars of a score in, takes them out, repeats or moves them: its next version.
   * @param done what was done, as the history tells it
   * @returns what went along, as sentences
   * @throws Error that says why that cannot be done
   */
  editBars: (edit: BarsEdit, done: string) => Promise<string[]>;
}

export type Session = JobState & JobActions;

/** What a damaged source is, in a sentence. */
export const saysDamaged = (damaged: readonly DamagedSource[]): string => {
  const names = damaged.map(
    ({ name, version }) => `${name || 'A source'}${version > 1 ? ` (version ${version})` : ''}`,
  );
  return damaged.length === 1
    ? `${names[0]} is damaged: what this browser kept is no longer the file that you opened.`
    : `${names.join(' and ')} are damaged: what this browser kept are no longer the files that you opened.`;
};

/** Whether a decision may lay time out anew, be it by another version of a source. */
const laysTime = (directive: PlainDirective): boolean =>
  directive.kind === 'version' || isAboutTime(directive);

/** More deaths of the worker than this within a minute are not chance. */
const MOST_DEATHS = 3;

/** So long a score is written by itself before what the sources hold is looked through beside it; milliseconds. */
const START = 150;

const MINUTE = 60_000;
/** A worker that does not hear for so long that it is to stop is ended; milliseconds. */
const MOST_FOR_STOPPING = 3000;

export type OpenJob = ReturnType<typeof openJob>;

/**
 * An open job: keeps its worker, follows its decisions in the store, and keeps
 * what is seen of it up to date. It has no interface; `stop` ends it.
 */
export function openJob(jobId: string) {
  const first: JobState = {
    state: 'opening',
    why: '',
    damaged: [],
    history: { brief: EMPTY_BRIEF, position: 0, steps: 0, canUndo: false, canRedo: false, refused: [] },
    decisions: decide(EMPTY_BRIEF),
    sources: [],
    summary: null,
    behind: 'The score is still being written.',
    progress: null,
    stopped: false,
    failure: null,
    trouble: null,
    // Set before the state is `open`; nothing below a job's frame is drawn sooner.
    core: undefined as never,
    job: undefined as never,
    stock: undefined as never,
    inventory: undefined as never,
    changes: undefined as never,
    lanes: undefined as never,
    kits: undefined as never,
  };
  const store = createStore<Session>(() => ({ ...first, ...actions() }));
  const get = store.getState;
  const set = (change: Partial<Session>) => store.setState(change);
  const fail = (why: string) => set({ state: 'failed', why });
  const trouble = (title: string, why: string) =>
    set({ trouble: { title, why, count: (get().trouble?.count ?? 0) + 1 } });

  let gone = false;
  let worker: ReturnType<typeof startCore> | null = null;
  const deaths: number[] = [];
  /** Counts briefs and sources as they come: what is asked of the worker names the one that it means. */
  let revision = 0;
  /** The brief under which the worker last laid out, and last wrote, as text. */
  let laidOut = '';
  let written = '';
  let subscriptions: Subscription[] = [];
  /** What is left of damaged sources is worked with, as somebody chose. */
  let takesDamaged = false;
  /** Changes on their way into the store. */
  let keeping: Promise<unknown> = Promise.resolve();
  /** Those that are seen before they are there, in order, and the ones of them that are there since the last look. */
  let ahead: ((brief: Brief) => Brief)[] = [];
  const landed = new Set<(brief: Brief) => Brief>();
  /** Looks and changes of this tab are one after the other, so that a look knows which changes it has seen. */
  let turns: Promise<unknown> = Promise.resolve();
  let nextLook: Promise<void> | null = null;

  function inTurn<T>(work: () => Promise<T>): Promise<T> {
    const done = turns.then(work);
    turns = done.catch(() => {});
    return done;
  }

  async function open(): Promise<void> {
    worker = startCore(onDeath);
    const core = worker.api;
    const found = await findSources(jobId);
    if (gone) return;
    const { damaged } = found;
    set({ damaged });
    if (damaged.length > 0 && !takesDamaged) return fail(saysDamaged(damaged));
    const rest = damaged.flatMap((each) => (each.bytes ? [{ ...each, bytes: each.bytes }] : []));
    const sources = [...found.sources, ...rest];
    if (sources.length === 0)
      return fail(
        damaged.length > 0 ? 'Nothing is left of its sources.' : 'This job is not in this browser.',
      );
    const asSource = ({ source: id, version, name, bytes }: (typeof sources)[number]): Source => ({
      id,
      version,
      name,
      bytes,
    });
    const result = await core.open(sources.map(asSource), jobId);
    if (gone) return;
    if (result) return fail(result.refused);
    set({ core });
    laidOut = '';
    await keepUnkept();
    if (gone) return;
    follow();
  }

  /** Keeps what was decided on a page that was left, or died, before the database had it. */
  async function keepUnkept(): Promise<void> {
    const job = await findJob(jobId);
    for (const { key, brief, isWhole } of job ? listUnkept(job) : []) {
      const { directives } = brief;
      await settled(
        !isWhole && directives.some((each) => laysTime(each) || saysWhen(each))
          ? layOutAnew(() => [...directives], key)
          : changeBrief(jobId, (before) => (isWhole ? brief : withDirectives(before, directives)), {
              note: key,
            }),
      );
      dropUnkept(key);
    }
  }

  /** Follows the job and its decisions, whichever tab changes them. */
  function follow(): void {
    for (const each of subscriptions) each.unsubscribe();
    const failed = (error: unknown) => fail((error as Error).message);
    subscriptions = [
      liveQuery(() => findJob(jobId)).subscribe((job) => {
        if (job) set({ job });
        else fail('This job was deleted. It is no longer in this browser.');
      }, failed),
      liveQuery(() => listSources(jobId)).subscribe((sources) => set({ sources }), failed),
      // Only a sign that there is something new: it may come later than what was looked up since.
      liveQuery(() => lastChange(jobId)).subscribe(() => void look(), failed),
    ];
  }

  /** Looks up what the store has. One that is asked for while another waits is the same. */
  function look(): Promise<void> {
    nextLook ??= inTurn(async () => {
      nextLook = null;
      const history = await findHistory(jobId);
      ahead = ahead.filter((make) => !landed.has(make));
      landed.clear();
      if (gone) return;
      if (history) show(history);
      else fail('This job was deleted. It is no longer in this browser.');
    }).catch((error: unknown) => fail((error as Error).message));
    return nextLook;
  }

  /** Shows the decisions as the store has them, and with what is on its way there. */
  function show(history: History): void {
    const brief = ahead.reduce((before, make) => make(before), history.brief);
    set({ history, decisions: decide(brief) });
    void work(brief);
  }

  /** Has the worker lay out and write what the brief comes to now. */
  async function work(brief: Brief): Promise<void> {
    const text = JSON.stringify(brief.directives);
    if (text === laidOut) return;
    laidOut = text;
    const mine = ++revision;
    set({ stopped: false, failure: null, behind: behindOf(text) });
    try {
      const strands = await get().core.layOut(mine, brief);
      if (mine !== revision || gone) return;
      const before = get().stock?.inventory.strands.map(({ id }) => id);
      // A score is shown beside the strands that it is made of: where they are others, these come first.
      if (JSON.stringify(before) !== JSON.stringify(strands)) {
        await takeStock(mine);
        await write(mine, text);
      } else {
        const writing = write(mine, text);
        await Promise.race([writing, new Promise((resolve) => setTimeout(resolve, START))]);
        await Promise.all([writing, takeStock(mine)]);
      }
    } catch (error) {
      if (mine !== revision || gone) return;
      // A worker that is gone is followed by another, which does this work.
      if (error instanceof WorkerGoneError) return;
      const why = (error as Error).message;
      if (get().state !== 'open') return fail(`The job could not be laid out. ${why}`);
      const behind = behindOf(text) === null ? null : 'The score could not be written.';
      set({ progress: null, stopped: behind !== null, failure: why, behind });
    }
  }

  /** Shows what there is of what was laid out. */
  async function takeStock(mine: number): Promise<void> {
    if (mine !== revision || gone) return;
    const stock = await get().core.stock(mine);
    if (mine !== revision || gone || !stock) return;
    // What is the same as before stays the same object: nothing of it is drawn anew.
    const known = replaceEqualDeep(get().stock, stock);
    const { inventory, changes, lanes, kits } = known;
    // Drawing a stage for the first time is long work: in a transition the page stays answerable.
    startTransition(() =>
      set({ stock: known, inventory, changes, lanes, kits, ...(get().job && { state: 'open' }) }),
    );
  }

  /** Has the score written, and shows it. @param text of the brief under which */
  async function write(mine: number, text: string): Promise<void> {
    if (mine !== revision || gone) return;
    // Progress and result come over different ports: a last step may arrive after the end.
    let finished = false;
    const onProgress = proxy((progress: Progress) => {
      if (mine === revision && !finished && !get().stopped) set({ progress });
    });
    const summary = await get().core.write(mine, onProgress);
    finished = true;
    if (mine !== revision || gone || !summary || get().stopped) return;
    written = text;
    const news = replaceEqualDeep(get().summary, summary);
    startTransition(() => set({ summary: news, progress: null, behind: null }));
  }

  const behindOf = (text: string): string | null =>
    get().summary !== null && written === text ? null : 'The score is still being written.';

  /** A worker that failed is followed by another, which takes the work up where the store has it. */
  function onDeath(why: WorkerGoneError): void {
    if (gone) return;
    const now = Date.now();
    deaths.push(now);
    if (deaths.filter((death) => now - death < MINUTE).length > MOST_DEATHS)
      return fail(
        `${why.message} It was taken up again ${MOST_DEATHS} times. Undo the last decision in another tab, or load the page again.`,
      );
    revision++;
    written = '';
    set({ progress: null });
    trouble('The work on this job broke off', 'It was taken up again; nothing that was decided is lost.');
    open().catch((error: unknown) => fail((error as Error).message));
  }

  /** Takes the work up again, with another worker where the one before was ended. */
  async function resume(): Promise<void> {
    set({ stopped: false, failure: null });
    if (worker && !worker.isGone()) {
      laidOut = '';
      return look();
    }
    written = '';
    await open().catch((error: unknown) => fail((error as Error).message));
  }

  /** The brief with all that was decided to this moment. */
  async function latestBrief(): Promise<Brief> {
    await keeping;
    return keptBrief();
  }

  async function keptBrief(): Promise<Brief> {
    const kept = await findHistory(jobId);
    if (!kept) throw new Error('This job was deleted. It is no longer in this browser.');
    return kept.brief;
  }

  /** @throws Error where the writing of the score was stopped, or failed */
  async function whenWritten(): Promise<ScoreSummary> {
    for (;;) {
      await keeping;
      const { directives } = await keptBrief();
      const { summary, stopped, behind } = get();
      if (summary && written === JSON.stringify(directives)) return summary;
      if (stopped) throw new Error(behind ?? 'The writing of the score was stopped.');
      await new Promise<void>((resolve) => {
        const unsubscribe = store.subscribe(() => {
          unsubscribe();
          resolve();
        });
      });
    }
  }

  /**
   * Decides about time, or about a moment in time as it is heard; what was decided about moments before goes
   * along, as the worker works it out.
   */
  async function layOutAnew(make: (decisions: Decisions) => PlainDirective[], note?: string): Promise<void> {
    await keeping;
    for (let isKept = false; !isKept; ) {
      const before = await keptBrief();
      const after = await get().core.decided(before, make(decide(before)));
      const isAsBefore = (brief: Brief) =>
        JSON.stringify(brief.directives) === JSON.stringify(before.directives);
      // Something else may have been decided meanwhile: then it is worked out again, with that.
      isKept = await inTurn(() =>
        changeBrief(jobId, (brief) => (isAsBefore(brief) ? after : null), { note }),
      );
    }
  }

  /** Keeps a source that the worker has already; where it cannot be kept, the worker goes on without it. */
  async function keepSource(
    file: { name: string; bytes: Uint8Array },
    versionOf: SourceId | null,
  ): Promise<void> {
    try {
      await addSource(jobId, file, versionOf);
    } catch (error) {
      worker?.stop();
      await open();
      throw error;
    }
  }

  /** Another version of a source counts: what was decided about moments goes along with its music. @param done how it was made, for the history. @returns how much of it cannot */
  async function takeVersion(source: SourceId, version: number, done?: string): Promise<number> {
    const chosen: PlainDirective = { kind: 'version', source, version, ...(done && { done }) };
    const { directives } = await latestBrief();
    const all = withDirectives({ ...EMPTY_BRIEF, directives }, [chosen]).directives.length;
    const isKept = await keep(layOutAnew(() => [chosen]));
    return isKept ? Math.max(0, all - (await latestBrief()).directives.length) : 0;
  }

  /** Waits for a change, and tells where it was not kept. @returns whether it was */
  const settled = (change: Promise<unknown>): Promise<boolean> =>
    change.then(
      () => true,
      (error: unknown) => {
        trouble('The decision was not kept', (error as Error).message);
        return false;
      },
    );

  /** @returns whether it was kept */
  function keep(change: Promise<unknown>): Promise<boolean> {
    const done = settled(change);
    keeping = Promise.all([keeping, done]);
    return done.then(async (isKept) => {
      await look();
      return isKept;
    });
  }

  /** Keeps what comes of directives; a page that is left meanwhile finds them again. @returns whether it was kept */
  function noted(
    brief: Brief,
    isWhole: boolean,
    change: (note: string) => Promise<unknown>,
  ): Promise<boolean> {
    const note = noteUnkept(get().job, brief, isWhole);
    return keep(change(note).finally(() => dropUnkept(note)));
  }

  /** Changes the brief: seen at once, and taken back where it is not kept. */
  function change(note: string, make: (brief: Brief) => Brief): Promise<unknown> {
    ahead.push(make);
    show(get().history);
    return inTurn(() => {
      landed.add(make);
      return changeBrief(jobId, make, { note });
    });
  }

  const briefOf = (directives: readonly PlainDirective[]): Brief => ({ ...EMPTY_BRIEF, directives });

  function actions(): JobActions {
    return {
      openAll: (how) => {
        takesDamaged = how === 'as they are';
        worker?.stop();
        set({ state: 'opening', why: '' });
        open().catch((error: unknown) => fail((error as Error).message));
      },
      take: (...directives) => {
        const settles = get().stock?.followsHeard && directives.some(saysWhen);
        if (directives.length === 0) return Promise.resolve(true);
        return noted(briefOf(directives), false, (note) =>
          settles || directives.some(laysTime)
            ? layOutAnew(() => directives, note)
            : change(note, (brief) => withDirectives(brief, directives)),
        );
      },
      amend: (make) =>
        noted(briefOf(make(get().decisions)), false, (note) =>
          get().stock?.followsHeard
            ? layOutAnew(make, note)
            : change(note, (brief) => withDirectives(brief, make(decide(brief)))),
        ),
      replaceBrief: (brief) => void noted(brief, true, (note) => change(note, () => brief)),
      forgetUnread: () => void keep(inTurn(() => forgetUnread(jobId))),
      undo: () => void keep(inTurn(() => undo(jobId))),
      redo: () => void keep(inTurn(() => redo(jobId))),
      goTo: (position) => void keep(inTurn(() => goTo(jobId, position))),
      stop: () => {
        // One that does not listen is ended: nothing that was decided is lost with it.
        const late = setTimeout(() => worker?.stop(), MOST_FOR_STOPPING);
        get()
          .core.cancel()
          .catch(() => {})
          .finally(() => clearTimeout(late));
        set({ progress: null, stopped: true, behind: 'The writing of the score was stopped.' });
      },
      resume: () => void resume(),
      latestBrief,
      whenWritten,
      addSource: async (file, versionOf) => {
        const { core } = get();
        const others = get().sources.filter(({ source }) => source === versionOf);
        const next = {
          source:
            versionOf ??
            (`${1 + Math.max(0, ...get().sources.map(({ source }) => Number(source)))}` as SourceId),
          version: 1 + Math.max(0, ...others.map(({ version }) => version)),
        };
        // Read before it is kept: what cannot be read is no source.
        const refused = await core.add({ ...file, id: next.source, version: next.version });
        if (refused) throw new Error(refused.refused);
        await keepSource(file, versionOf);
        return versionOf === null ? 0 : takeVersion(next.source, next.version);
      },
      editBars: async (edit, done) => {
        const { core, summary } = get();
        if (!summary) throw new Error('The score is still being written.');
        const made = await core.editBars(summary.revision, edit);
        if ('refused' in made) throw new Error(made.refused);
        await keepSource(made, made.id);
        await takeVersion(made.id, made.version, done);
        return made.told;
      },
    };
  }

  open().catch((error: unknown) => {
    if (!gone) fail((error as Error).message);
  });

  return {
    store,
    stop: () => {
      gone = true;
      for (const each of subscriptions) each.unsubscribe();
      worker?.stop();
    },
  };
}
