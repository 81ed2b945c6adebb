import { type OpenJob, openJob } from './control';

/** A job that is opened while its page is still being drawn. */
let ahead: { id: string; job: OpenJob } | null = null;

const JOB = /^\/job\/([^/]+)\//;

/** Opens the job of an address, where it is one: its worker starts and its score is looked up while the page is drawn. */
export function openAhead(path: string): void {
  const [, name] = JOB.exec(path) ?? [];
  if (name === undefined) return;
  try {
    const id = decodeURIComponent(name);
    ahead = { id, job: openJob(id) };
  } catch {
    // An address that is none: the page says so.
  }
}

/** A job that is open from now on: the one that was opened ahead, where it is that. Whoever takes it stops it. */
export function takeJob(id: string): OpenJob {
  const early = ahead;
  ahead = null;
  if (early?.id === id) return early.job;
  early?.job.stop();
  return openJob(id);
}
