import { totalmem } from 'node:os';
import { isMainThread, parentPort, Worker } from 'node:worker_threads';
import { doFile } from './one-file';
import { checked, FileOrder, type Made } from './outcome';

const MEGABYTE = 2 ** 20;
/** Share of the machine's memory that all threads together may take, and what one needs at least and at most, in MB. */
const SHARE = 0.75;
const LEAST = 1024;
const MOST = 8192;

/** A thread that works on one file at a time; one that dies or takes too long is followed by another. */
export class Hand {
  private worker: Worker | null = null;

  /**
   * @param program the script of the thread
   * @param hands so many share the machine
   * @param limit seconds for a file
   */
  constructor(
    private readonly program: string,
    private readonly hands: number,
    private readonly limit: number,
  ) {}

  /** Does a file; where the thread dies over it, once more. */
  async do(order: FileOrder): Promise<Made> {
    const first = await this.once(order);
    if ('made' in first) return first.made;
    if (!first.again) return failed(first.died);
    const second = await this.once(order);
    return 'made' in second ? second.made : failed(second.died);
  }

  stop(): void {
    void this.worker?.terminate();
    this.worker = null;
  }

  private once(order: FileOrder): Promise<{ made: Made } | { died: string; again: boolean }> {
    this.worker ??= new Worker(this.program, {
      argv: [],
      resourceLimits: {
        maxOldGenerationSizeMb: Math.round(
          Math.min(MOST, Math.max(LEAST, (SHARE * totalmem()) / MEGABYTE / this.hands)),
        ),
      },
    });
    const { worker } = this;
    return new Promise((resolve) => {
      const settle = (outcome: { made: Made } | { died: string; again: boolean }) => {
        clearTimeout(late);
        worker.off('message', answered);
        worker.off('error', broke);
        worker.off('exit', ended);
        if ('died' in outcome) {
          // What comes of it later is of no concern.
          worker.on('error', () => {});
          this.stop();
        }
        resolve(outcome);
      };
      const late = setTimeout(
        () => settle({ died: `It took longer than ${this.limit} s.`, again: false }),
        this.limit * 1000,
      );
      const answered = (made: Made) => settle({ made });
      const broke = (error: Error) => settle({ died: `The work broke off (${error.message}).`, again: true });
      const ended = () => settle({ died: 'The work broke off.', again: true });
      worker.on('message', answered);
      worker.on('error', broke);
      worker.on('exit', ended);
      worker.postMessage({ ...order });
    });
  }
}

const failed = (why: string): Made => ({
  state: 'failed',
  why,
  target: '',
  bytes: 0,
  notes: 0,
  agree: 0,
  meant: 0,
  wrong: 0,
  doubtful: 0,
});

/** The work of a thread of a batch. */
export function serveBatch(): void {
  if (isMainThread || !parentPort) throw new Error('This is for the threads of a batch.');
  const port = parentPort;
  port.on('message', async (data: unknown) => {
    const order = checked(FileOrder, data);
    if (!order) throw new TypeError('The order of a file cannot be read.');
    port.postMessage(await doFile(order));
  });
}
