import type { Remote } from 'comlink';
import { ENGINE } from '../core/workbench/engine';
import { type Attended, attend, Steady, WorkerGoneError } from './attend';
import type { CoreApi } from './core.worker';
import type { EngraveApi } from './engrave.worker';
import type { PdfApi } from './pdf.worker';
import type { RecordingApi } from './recording.worker';
import type { SoundApi } from './sound.worker';

export type Core = Remote<CoreApi>;
export type Listener = Remote<RecordingApi>;

type AttendedCore = Attended<CoreApi>;

/** Starts a worker as a module, which browsers keep compiled (`scripts/workers.mjs`). */
const started = (name: 'core' | 'sound' | 'recording' | 'pdf' | 'engrave'): Worker =>
  new Worker(`/workers/${ENGINE}/${name}.js`, { type: 'module' });

function attendCore(worker: Worker): AttendedCore {
  return attend(worker, 'The work on this job');
}

const newCore = (): AttendedCore => attendCore(started('core'));

declare global {
  /** A core worker that the page's first script started (`start.ts`); null once it is taken over, or without one. */
  var coreAhead: Worker | null | undefined;
}

/** One that nobody works with: starting one takes half a second, and reading a first file in it as long again. */
let spare: AttendedCore | null = globalThis.coreAhead ? attendCore(globalThis.coreAhead) : null;
globalThis.coreAhead = null;

/**
 * A core worker of its own; `stop` ends it.
 * @param onGone called once when it is gone without having been ended
 */
export function startCore(onGone: (why: WorkerGoneError) => void): AttendedCore {
  const core = spare && !spare.isGone() ? spare : newCore();
  spare = null;
  core.tell(onGone);
  return core;
}

/**
 * Starts a core worker ahead of its first use, and has it write a score that nobody asks for: what has run before runs
 * twice as fast.
 */
export function warmCore(): void {
  if (!spare || spare.isGone()) spare = newCore();
  // Where it fails at it, whoever uses it next is told.
  spare.api.ahead().catch(() => {});
}

/** Some work with a core worker, which is there for the next one afterwards. */
export async function withCore<T>(work: (core: Core) => Promise<T>): Promise<T> {
  const core = startCore(() => {});
  try {
    return await work(core.api);
  } finally {
    core.tell(null);
    if (spare && !spare.isGone()) core.stop();
    else spare = core;
  }
}

/** A sound worker of its own; `stop` ends it. */
const startSound = (): Attended<SoundApi> => attend(started('sound'), 'The synthesizer');

/** A worker of its own that listens to a recording; `stop` ends it. */
const startListening = (): Attended<RecordingApi> =>
  attend(started('recording'), 'The work on the recording');

/** A worker of its own that makes PDF; `stop` ends it. */
const startPdf = (): Attended<PdfApi> => attend(started('pdf'), 'The maker of PDF');

/**
 * Does some work with a worker of its own, which is started once more where it is gone in the midst of it.
 * @param signal ends it at any moment
 * @throws WorkerGoneError where it is gone twice; the reason of the signal where that was given
 */
async function withWorker<Api extends object, T>(
  start: () => Attended<Api>,
  work: (api: Remote<Api>) => Promise<T>,
  signal?: AbortSignal,
): Promise<T> {
  const once = async (): Promise<T> => {
    signal?.throwIfAborted();
    const { api, stop } = start();
    signal?.addEventListener('abort', stop);
    try {
      return await work(api);
    } finally {
      signal?.removeEventListener('abort', stop);
      stop();
    }
  };
  try {
    return await once();
  } catch (error) {
    signal?.throwIfAborted();
    if (!(error instanceof WorkerGoneError)) throw error;
    return once();
  }
}

type Work<Api extends object> = <T>(
  work: (api: Remote<Api>) => Promise<T>,
  signal?: AbortSignal,
) => Promise<T>;

/** Work with the synthesizer. */
export const withSound: Work<SoundApi> = (work, signal) => withWorker(startSound, work, signal);

/** Work with a recording. */
export const withListener: Work<RecordingApi> = (work, signal) => withWorker(startListening, work, signal);

/** Work with the maker of PDF. */
export const withPdf: Work<PdfApi> = (work, signal) => withWorker(startPdf, work, signal);

const engravers: Steady<EngraveApi>[] = [];

/**
 * One of the engravers, started on first use and shared by all views, since starting one takes most of a second.
 * @param which from 0
 */
export const sharedEngraver = (which = 0): Steady<EngraveApi> => {
  engravers[which] ??= new Steady<EngraveApi>('The engraver', () => started('engrave'));
  return engravers[which];
};

export { proxy, transfer } from 'comlink';
