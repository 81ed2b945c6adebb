import * as Comlink from 'comlink';
import type { Alive } from './serve';

/** A worker is gone: what it was asked comes to nothing. */
export class WorkerGoneError extends Error {}

/** A worker, and what ends it. */
export interface Attended<Api> {
  api: Comlink.Remote<Api>;
  /** Ends the worker: what waits for it is refused. */
  stop: () => void;
  isGone: () => boolean;
  /** Who is told, once, when it is gone without having been ended: one at a time, nobody where it is null. */
  tell: (whom: ((why: WorkerGoneError) => void) | null) => void;
}

let workers = 0;

/**
 * Attends to a worker: whatever is asked of it is answered or refused, never left waiting. A worker that is slow is
 * waited for; one whose script does not load, that failed or is gone refuses what waits and what is still to be asked.
 *
 * @param name of what it does, as the reason says it: "The engraver"
 */
export function attend<Api extends object>(worker: Worker, name: string): Attended<Api> {
  const remote = Comlink.wrap<Alive & Record<string, (...args: unknown[]) => Promise<unknown>>>(worker);
  const waiting = new Set<(why: WorkerGoneError) => void>();
  const death = new AbortController();
  let gone: WorkerGoneError | null = null;
  let told: ((why: WorkerGoneError) => void) | null = null;

  const end = (why: string): WorkerGoneError | null => {
    if (gone) return null;
    gone = new WorkerGoneError(why);
    worker.terminate();
    death.abort();
    for (const refuse of waiting) refuse(gone);
    waiting.clear();
    return gone;
  };
  const fail = (why: string) => {
    const error = end(why);
    if (error) told?.(error);
  };
  worker.addEventListener('error', (event) => {
    const { message } = event as Partial<ErrorEvent>;
    fail(message ? `${name} failed: ${message}` : `${name} could not be loaded.`);
  });
  worker.addEventListener('messageerror', () => fail(`${name} could not be understood.`));

  const lock = `dragoman-${crypto.randomUUID()}-${++workers}`;
  const ask = (method: string, args: unknown[]): Promise<unknown> =>
    new Promise((resolve, reject) => {
      if (gone) return reject(gone);
      waiting.add(reject);
      remote[method]!(...args)
        .then(resolve, reject)
        .finally(() => waiting.delete(reject));
    });
  ask('holdLife', [lock])
    .then(() => navigator.locks.request(lock, { signal: death.signal }, () => fail(`${name} stopped.`)))
    // Ended before it could be waited for, which those who wait are told.
    .catch(() => {});

  const api = new Proxy(remote, {
    get: (_, method) =>
      // A proxy that can be awaited would be asked for its own end.
      method === 'then' || typeof method !== 'string' ? undefined : (...args: unknown[]) => ask(method, args),
  }) as unknown as Comlink.Remote<Api>;
  return {
    api,
    stop: () => void end(`${name} was ended.`),
    isGone: () => gone !== null,
    tell: (whom) => {
      told = whom;
    },
  };
}

/**
 * A worker that is started when it is needed, and once more when it is gone in the midst of something.
 * What is asked must be the same however often it is asked.
 */
export class Steady<Api extends object> {
  private attended: Attended<Api> | null = null;

  constructor(
    private readonly name: string,
    private readonly start: () => Worker,
  ) {}

  /** @throws WorkerGoneError where the worker is gone for the second time over this question */
  async ask<T>(question: (api: Comlink.Remote<Api>) => Promise<T>): Promise<T> {
    try {
      return await question(this.current());
    } catch (error) {
      if (!(error instanceof WorkerGoneError)) throw error;
      return question(this.current());
    }
  }

  private current(): Comlink.Remote<Api> {
    if (!this.attended) {
      this.attended = attend<Api>(this.start(), this.name);
      this.attended.tell(() => {
        this.attended = null;
      });
    }
    return this.attended.api;
  }
}
