/** What is played, from where to where. Seconds of the piece. */
export interface PlayOptions {
  from: number;
  /** Where it stops; null for the end. */
  until: number | null;
  loop: [from: number, to: number] | null;
  /** 1 for the tempo of the piece. */
  scale: number;
  click: boolean;
  countIn: boolean;
  /** Whether fermatas and the like are waited for that the clock of the piece does not have; yes where absent. */
  waits?: boolean;
}

/** Whatever sounds a reading of the piece. */
export interface Player {
  /** Called when it comes to its end by itself. */
  onStop: () => void;
  /** Seconds of the piece that sound now. */
  readonly position: number;
  play(options: PlayOptions): Promise<unknown>;
  stop(): void;
  close(): void;
}
