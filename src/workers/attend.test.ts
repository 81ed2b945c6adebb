import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { attend, Steady, WorkerGoneError } from './attend';
import { serve } from './serve';

/** Locks as the Web Locks API gives them, as far as they are used here. */
class Locks {
  private readonly queues = new Map<string, (() => void)[]>();
  readonly held = new Map<string, () => void>();

  request(name: string, ...rest: unknown[]): Promise<unknown> {
    const work = rest.at(-1) as () => unknown;
    return new Promise((resolve) => {
      const grant = async () => {
        const released = new Promise<void>((done) => this.held.set(name, done));
        resolve(await Promise.race([work(), released]));
        this.held.delete(name);
        this.queues.get(name)?.shift()?.();
      };
      if (!this.held.has(name)) return void grant();
      this.queues.set(name, [...(this.queues.get(name) ?? []), () => void grant()]);
    });
  }
}

const api = {
  double: (value: number) => 2 * value,
  never: () => new Promise<number>(() => {}),
  fails: () => {
    throw new TypeError('It is no number.');
  },
};
type Api = typeof api;

/** A worker in the same thread: what it is sent arrives at the other end of a channel. */
class MadeWorker extends EventTarget implements Worker {
  private readonly channel = new MessageChannel();
  onmessage = null;
  onmessageerror = null;
  onerror = null;

  constructor(loads = true) {
    super();
    const { port1, port2 } = this.channel;
    port1.addEventListener('message', ({ data }) =>
      this.dispatchEvent(new MessageEvent('message', { data })),
    );
    port1.start();
    if (loads) serve(api, port2);
    else setTimeout(() => this.dispatchEvent(new Event('error')));
  }

  postMessage(data: unknown) {
    this.channel.port1.postMessage(data);
  }

  terminate = vi.fn(() => {
    this.channel.port1.close();
    this.channel.port2.close();
  });
}

let locks: Locks;
beforeEach(() => {
  locks = new Locks();
  vi.stubGlobal('navigator', { locks });
});
afterEach(() => vi.unstubAllGlobals());

/** The worker is gone, as when the browser takes its memory: what it held is free. */
const die = async () => {
  await vi.waitFor(() => expect(locks.held.size).toBe(1));
  for (const release of locks.held.values()) release();
};

describe('a worker that is attended to', () => {
  it('answers, and passes on what failed in it', async () => {
    const { api: worker, stop } = attend<Api>(new MadeWorker(), 'The counter');
    expect(await worker.double(4)).toBe(8);
    await expect(worker.fails()).rejects.toThrow('It is no number.');
    stop();
  });

  it('refuses what waits and what comes when its script does not load', async () => {
    const onGone = vi.fn();
    const { api: worker, tell } = attend<Api>(new MadeWorker(false), 'The counter');
    tell(onGone);
    await expect(worker.double(4)).rejects.toThrow('The counter could not be loaded.');
    await expect(worker.double(5)).rejects.toBeInstanceOf(WorkerGoneError);
    expect(onGone).toHaveBeenCalledOnce();
  });

  it('refuses what waits when it is gone without a word', async () => {
    const onGone = vi.fn();
    const { api: worker, tell } = attend<Api>(new MadeWorker(), 'The counter');
    tell(onGone);
    const waits = expect(worker.never()).rejects.toThrow('The counter stopped.');
    await die();
    await waits;
    expect(onGone).toHaveBeenCalledOnce();
  });

  it('refuses what waits when it failed or cannot be understood', async () => {
    for (const [event, why] of [
      [Object.assign(new Event('error'), { message: 'out of memory' }), 'The counter failed: out of memory'],
      [new Event('messageerror'), 'The counter could not be understood.'],
    ] as const) {
      const made = new MadeWorker();
      const { api: worker } = attend<Api>(made, 'The counter');
      const waits = expect(worker.never()).rejects.toThrow(why);
      made.dispatchEvent(event);
      await waits;
      expect(made.terminate).toHaveBeenCalledOnce();
    }
  });

  it('tells nobody when it is ended, but those who wait', async () => {
    const onGone = vi.fn();
    const { api: worker, stop, tell } = attend<Api>(new MadeWorker(), 'The counter');
    tell(onGone);
    const waits = expect(worker.never()).rejects.toBeInstanceOf(WorkerGoneError);
    stop();
    await waits;
    expect(onGone).not.toHaveBeenCalled();
  });
});

describe('a worker that is started again', () => {
  it('is so once for a question, and then it is told', async () => {
    const start = vi.fn(() => new MadeWorker());
    const counter = new Steady<Api>('The counter', start);
    expect(await counter.ask((worker) => worker.double(2))).toBe(4);
    let times = 0;
    const survives = counter.ask((worker) => (times++ === 0 ? worker.never() : worker.double(3)));
    await die();
    expect(await survives).toBe(6);
    expect(start).toHaveBeenCalledTimes(2);
    const never = new Steady<Api>('The counter', () => new MadeWorker(false));
    await expect(never.ask((worker) => worker.double(1))).rejects.toThrow('could not be loaded');
  });
});
