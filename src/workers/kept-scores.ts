import type { Brief } from '../core/decisions/brief';
import type { Transcription } from '../core/transcribe';
import { ENGINE } from '../core/workbench/engine';
import { hashOf } from '../store/jobs';
import { findResult, keepResult } from '../store/results';

/** Larger scores are written anew: keeping them would cost more than it saves. Notes. */
const MOST_NOTES = 150_000;

/** Milliseconds without another score after which one is kept. */
const IDLE = 1500;

/** The score of a job as it was last written, kept by what it was made of. */
export class KeptScores {
  private hashes: Promise<string[]>;
  private later: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly job: string,
    sources: readonly { bytes: Uint8Array }[],
  ) {
    this.hashes = Promise.all(sources.map(({ bytes }) => hashOf(bytes)));
  }

  add({ bytes }: { bytes: Uint8Array }): void {
    this.hashes = Promise.all([this.hashes, hashOf(bytes)]).then(([before, own]) => [...before, own]);
  }

  /** The score under a brief, if it is the one that was kept last. */
  async find(brief: Brief): Promise<Transcription | undefined> {
    const found = await findResult(this.job, await this.nameOf(brief));
    return isScore(found) ? found : undefined;
  }

  /**
   * Keeps a score once nothing else was written for a while: it is copied whole, which takes its time.
   * @param whole the score with what its playing speaks for
   */
  keep(brief: Brief, { account }: Transcription, whole: () => Promise<Transcription>): void {
    clearTimeout(this.later);
    if (account.notes > MOST_NOTES) return;
    this.later = setTimeout(async () => keepResult(this.job, await this.nameOf(brief), await whole()), IDLE);
  }

  private async nameOf(brief: Brief): Promise<string> {
    const made = JSON.stringify([ENGINE, await this.hashes, brief.directives]);
    return hashOf(new TextEncoder().encode(made));
  }
}

const isScore = (value: unknown): value is Transcription =>
  typeof value === 'object' && value !== null && 'score' in value && 'readings' in value && 'frame' in value;
