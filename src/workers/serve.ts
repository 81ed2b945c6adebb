import * as Comlink from 'comlink';

/** What every worker can be asked beside its own work. */
export interface Alive {
  /**
   * Holds a lock as long as the worker lives, however long it works in one piece: whoever waits for the same lock
   * gets it when the worker is gone (Web Locks API, W3C). Resolves when it is held.
   */
  holdLife: (lock: string) => Promise<void>;
}

const alive: Alive = {
  holdLife: (lock) =>
    new Promise((resolve, reject) => {
      navigator.locks
        .request(lock, () => {
          resolve();
          return new Promise<void>(() => {});
        })
        .catch(reject);
    }),
};

/**
 * Puts the work of a worker at the page's disposal.
 * @param at where it is asked; the worker itself, by default
 */
export const serve = (api: object, at?: Comlink.Endpoint): void => Comlink.expose({ ...api, ...alive }, at);
