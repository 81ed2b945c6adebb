import type { Player, PlayOptions } from './player';
import type { RecordingPlayer } from './recording-player';

/** After so many milliseconds both sound, and it shows how far they are apart. */
const SETTLED = 250;

/** A reading and the recording at once. */
export class Together implements Player {
  onStop: () => void = () => {};
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(
    private readonly lead: Player,
    private readonly recording: RecordingPlayer,
  ) {}

  get position(): number {
    return this.lead.position;
  }

  async play(options: PlayOptions): Promise<void> {
    this.stop();
    this.lead.onStop = () => {
      this.stop();
      this.onStop();
    };
    // The recording may be over before the notes are.
    this.recording.onStop = () => {};
    // A recording waits where it does, and nowhere else.
    const wait = await this.lead.play({ ...options, waits: false });
    const seconds = typeof wait === 'number' ? wait : 0;
    this.timer = setTimeout(() => {
      void this.recording.play(options).then(() => {
        this.timer = setTimeout(() => this.recording.align(this.lead.position), SETTLED);
      }, this.lead.onStop);
    }, seconds * 1000);
  }

  stop(): void {
    if (this.timer !== null) clearTimeout(this.timer);
    this.timer = null;
    this.lead.stop();
    this.recording.stop();
  }

  close(): void {
    this.stop();
  }
}
