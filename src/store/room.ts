import { Dexie } from 'dexie';

/** Thrown when the browser has no room left; the message is for people. */
export class StorageFullError extends Error {
  override name = 'StorageFullError';
  constructor() {
    super('The browser has no room left. Delete jobs that you no longer need, then try again.');
  }
}

/** Thrown when the browser keeps nothing at all, as in some private windows; the message is for people. */
export class NoStorageError extends Error {
  override name = 'NoStorageError';
  constructor() {
    super(
      'This browser keeps nothing for this page: a private window, or its storage is switched off. Jobs need it.',
    );
  }
}

/** Thrown when the database failed for a reason of its own; the message is for people, the cause for reports. */
export class StorageFailedError extends Error {
  override name = 'StorageFailedError';
  constructor(cause: Error) {
    super(
      `The browser’s database failed (${cause.name}): nothing was changed. Load the page again, then try again.`,
      {
        cause,
      },
    );
  }
}

const REFUSED: ReadonlySet<string> = new Set([
  'MissingAPIError',
  'OpenFailedError',
  'DatabaseClosedError',
  'SecurityError',
  'InvalidStateError',
]);

/**
 * Works with the database.
 * @throws StorageFullError when the browser has no room for it
 * @throws NoStorageError when the browser has no database to offer
 * @throws StorageFailedError when the database failed otherwise
 */
export async function withRoom<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const names = [error, (error as { inner?: unknown }).inner].map(
      (each) => (each as Error | undefined)?.name ?? '',
    );
    if (names.includes('QuotaExceededError')) throw new StorageFullError();
    if (names.some((name) => REFUSED.has(name))) throw new NoStorageError();
    if (error instanceof Dexie.DexieError || error instanceof DOMException)
      throw new StorageFailedError(error as Error);
    throw error;
  }
}

/** How much room the browser gives and how much is used, in bytes; null where it does not say. */
export async function roomLeft(): Promise<{ used: number; of: number } | null> {
  const { usage, quota } = (await navigator.storage?.estimate?.()) ?? {};
  return usage === undefined || quota === undefined ? null : { used: usage, of: quota };
}

/** Asks the browser not to throw jobs away when it needs room. @returns whether it promises */
export async function keepForGood(): Promise<boolean> {
  if (await navigator.storage?.persisted?.()) return true;
  return (await navigator.storage?.persist?.()) ?? false;
}
