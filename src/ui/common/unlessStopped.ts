/** What comes of some work; null when it was stopped. */
export async function unlessStopped<T>(signal: AbortSignal, work: Promise<T>): Promise<T | null> {
  try {
    return await work;
  } catch (error) {
    if (signal.aborted) return null;
    throw error;
  }
}
