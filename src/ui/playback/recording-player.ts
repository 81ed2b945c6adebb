import type { Player, PlayOptions } from './player';

/** How often the end of a stretch is looked for; milliseconds. */
const EVERY = 20;
/** Two attacks further apart are heard as two; seconds, common practice. */
const HEARD_APART = 0.02;

/** Plays the listening reference, laid along the piece. */
export class RecordingPlayer implements Player {
  onStop: () => void = () => {};
  private readonly audio = new Audio();
  private readonly url: string;
  private timer: ReturnType<typeof setInterval> | null = null;
  private startedFrom = 0;

  /** @param offset seconds of the recording at which the piece begins */
  constructor(
    file: Blob,
    private readonly offset: number,
  ) {
    this.url = URL.createObjectURL(file);
    this.audio.src = this.url;
    this.audio.preservesPitch = true;
  }

  get position(): number {
    return this.timer === null ? this.startedFrom : this.audio.currentTime - this.offset;
  }

  /** @throws Error where the browser cannot play it */
  async play({ from, until, loop, scale }: PlayOptions): Promise<void> {
    this.stop();
    // What lies before the recording is silence that nobody has to sit through.
    const start = Math.max(0, from + this.offset);
    const end = until ?? (loop ? loop[1] : null);
    this.audio.playbackRate = scale;
    this.audio.currentTime = start;
    this.startedFrom = start - this.offset;
    try {
      await this.audio.play();
    } catch {
      throw new Error('The browser cannot play the recording.');
    }
    this.timer = setInterval(() => {
      const isOver = this.audio.ended || (end !== null && this.position >= end);
      if (!isOver) return;
      if (loop && until === null && !this.audio.ended) {
        this.audio.currentTime = Math.max(0, loop[0] + this.offset);
        return;
      }
      this.stop();
      this.startedFrom = until ?? 0;
      this.onStop();
    }, EVERY);
  }

  /** Brings what sounds to a place of the piece, where it is further from it than is heard; seconds. */
  align(position: number): void {
    if (this.timer === null || Math.abs(position - this.position) < HEARD_APART) return;
    this.audio.currentTime = Math.max(0, position + this.offset);
  }

  stop(): void {
    if (this.timer === null) return;
    this.startedFrom = this.position;
    clearInterval(this.timer);
    this.timer = null;
    this.audio.pause();
  }

  close(): void {
    this.stop();
    this.audio.removeAttribute('src');
    URL.revokeObjectURL(this.url);
  }
}
