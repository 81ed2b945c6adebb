import type { Page } from '@playwright/test';

/**
 * Has workers refuse what they are asked, as if they failed at it: methods by their names, until `heal` is called.
 * To be called before the page is opened.
 */
export async function refusing(page: Page, ...methods: string[]): Promise<void> {
  await page.addInitScript((names) => {
    const page_ = window as typeof window & { refused: Set<string> };
    page_.refused = new Set(names);
    const send = Worker.prototype.postMessage;
    // What the page and its workers say to each other: the protocol of comlink.
    Worker.prototype.postMessage = function (this: Worker, message: unknown, ...rest: unknown[]) {
      const { id, path } = (message ?? {}) as { id?: string; path?: string[] };
      if (path && page_.refused.has(path[0] ?? '')) {
        const error = { message: 'It was made to fail.', name: 'Error', stack: '' };
        const data = { id, type: 'HANDLER', name: 'throw', value: { isError: true, value: error } };
        setTimeout(() => this.dispatchEvent(new MessageEvent('message', { data })));
        return;
      }
      return (send as (...args: unknown[]) => void).call(this, message, ...rest);
    };
  }, methods);
}

/** What is refused from now on: nothing, by default. */
export const heal = (page: Page, ...methods: string[]): Promise<void> =>
  page.evaluate((names) => {
    (window as typeof window & { refused: Set<string> }).refused = new Set(names);
  }, methods);

/** Changes rows of the browser's database as damage would, with the page closed to them. */
export async function damageSource(page: Page, jobId: string, how: 'a bit' | 'all bytes'): Promise<void> {
  await page.evaluate(
    async ([id, kind]) => {
      const open = () =>
        new Promise<IDBDatabase>((resolve, reject) => {
          const asked = indexedDB.open('dragoman');
          asked.onsuccess = () => resolve(asked.result);
          asked.onerror = () => reject(asked.error);
        });
      const database = await open();
      const store = database.transaction('sources', 'readwrite').objectStore('sources');
      await new Promise<void>((resolve, reject) => {
        const all = store.getAll();
        all.onerror = () => reject(all.error);
        all.onsuccess = () => {
          const row = all.result.find((each: { jobId: string }) => each.jobId === id);
          if (kind === 'a bit') row.bytes[row.bytes.length >> 1] ^= 1;
          else delete row.bytes;
          const put = store.put(row);
          put.onsuccess = () => resolve();
          put.onerror = () => reject(put.error);
        };
      });
      database.close();
    },
    [jobId, how] as const,
  );
}

/** Keeps the database from taking decisions, as a slow disk would, for as long as the page stands. */
export const holdDecisions = (page: Page): Promise<void> =>
  page.evaluate(
    () =>
      new Promise<void>((resolve, reject) => {
        const asked = indexedDB.open('dragoman');
        asked.onerror = () => reject(asked.error);
        asked.onsuccess = () => {
          const rows = asked.result.transaction('briefs', 'readwrite').objectStore('briefs');
          // A transaction lives as long as something is asked of it.
          const again = () => {
            const count = rows.count();
            count.onsuccess = again;
            resolve();
          };
          again();
        };
      }),
  );

/**
 * Ends the engravers of a page: the workers that were started after the first, which holds the job. Those that the page
 * starts in their place may be there before this is told, so it waits for the end of each, and for no number of them.
 */
export async function endEngravers(page: Page): Promise<void> {
  for (const worker of page.workers().slice(1)) {
    const ended = new Promise<void>((resolve) => worker.once('close', () => resolve()));
    await worker.evaluate(() => self.close()).catch(() => {});
    await ended;
  }
}
