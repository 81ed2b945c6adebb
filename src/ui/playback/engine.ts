import { WorkletSynthesizer } from 'spessasynth_lib';
import type { StrandId } from '../../core/model/ids';
import { BEND, CONTROL, NOTE_OFF, NOTE_ON, PRESSURE, PROGRAM, type Timeline } from '../../core/sound/events';
import { type Holds, heardAt, pieceAt } from '../../core/sound/holds';
import { type Hearing, levelsOf } from './hearing';
import type { Player, PlayOptions } from './player';

/** Seconds of events handed to the synthesizer ahead of the sound, and how often that is done. */
const AHEAD = 0.15;
const EVERY = 40;
/** After a stop, events that were handed over already pass unheard. */
const FLUSH = AHEAD + 0.05;
const CLICK = { downbeat: 76, beat: 77 };
const MASTER = 0.55;

/**
 * Plays timelines through the SoundFont synthesizer in the page's audio
 * worklet. Knows nothing of the interface.
 */
export class Engine implements Player {
  onStop: () => void = () => {};
  private readonly context = new AudioContext();
  private readonly out = this.context.createGain();
  private synth: WorkletSynthesizer | null = null;
  private ready: Promise<void> | null = null;
  private timeline: Timeline | null = null;
  private hearing: ReadonlyMap<StrandId, Hearing> = new Map();
  private silent: ReadonlySet<StrandId> = new Set();
  private timer: ReturnType<typeof setInterval> | null = null;
  private options: PlayOptions | null = null;
  /** Audio time at which `startedFrom` seconds of the piece sound. */
  private startedAt = 0;
  private startedFrom = 0;
  private next = 0;
  private nextBeat = 0;
  private quietUntil = 0;

  /** Loads worklet and bank once; a second call waits for the first. */
  load(bank: () => Promise<ArrayBuffer>): Promise<void> {
    this.ready ??= this.start(bank).catch((error: unknown) => {
      // The next try begins anew.
      this.ready = null;
      throw error;
    });
    return this.ready;
  }

  private async start(bank: () => Promise<ArrayBuffer>): Promise<void> {
    const [bytes] = await Promise.all([bank(), this.context.audioWorklet.addModule('/sound/processor.js')]);
    this.out.gain.value = MASTER;
    this.out.connect(this.context.destination);
    const synth = new WorkletSynthesizer(this.context);
    synth.connect(this.out);
    await synth.isReady;
    await synth.soundBankManager.addSoundBank(bytes, 'bank');
    this.synth = synth;
    if (this.timeline) this.setUpChannels();
  }

  /** Plays on with another bank. */
  async changeBank(bytes: ArrayBuffer): Promise<void> {
    if (!this.synth) return;
    this.stop();
    await this.synth.soundBankManager.addSoundBank(bytes, 'bank');
    this.setUpChannels();
  }

  /** Sets what is played; stops what is playing. */
  setTimeline(timeline: Timeline): void {
    this.stop();
    this.timeline = timeline;
    this.setUpChannels();
  }

  get hasTimeline(): boolean {
    return this.timeline !== null;
  }

  /** How strands are heard; `silent` ones never, since they are left out. */
  setHearing(hearing: ReadonlyMap<StrandId, Hearing>, silent: ReadonlySet<StrandId>): void {
    this.hearing = hearing;
    this.silent = silent;
    this.applyHearing();
  }

  private setUpChannels(): void {
    const { synth, timeline } = this;
    if (!synth || !timeline) return;
    while (synth.midiChannels.length < timeline.voicings.length + 1) synth.addNewChannel();
    for (const { channel, program, isDrum } of timeline.voicings) {
      synth.midiChannels[channel]!.setDrums(isDrum);
      synth.controllerChange(channel, 121, 0);
      synth.programChange(channel, isDrum ? 0 : program);
    }
    const click = timeline.voicings.length;
    synth.midiChannels[click]!.setDrums(true);
    synth.midiChannels[click]!.setSystemParameter('gain', 1);
    synth.midiChannels[click]!.setSystemParameter('pan', 0);
    this.applyHearing();
  }

  private applyHearing(): void {
    const { synth, timeline } = this;
    if (!synth || !timeline) return;
    const levels = levelsOf(
      timeline.voicings.map(({ strand }) => strand),
      this.hearing,
      this.silent,
    );
    for (const { strand, channel } of timeline.voicings) {
      const { gain, pan } = levels.get(strand)!;
      synth.midiChannels[channel]!.setSystemParameter('gain', gain);
      synth.midiChannels[channel]!.setSystemParameter('pan', pan);
    }
  }

  get isPlaying(): boolean {
    return this.timer !== null;
  }

  /** Seconds of the piece that sound now. */
  get position(): number {
    if (!this.options) return this.startedFrom;
    const passed = (this.context.currentTime - this.startedAt) * this.options.scale;
    const { holds } = this;
    return pieceAt(holds, heardAt(holds, this.startedFrom) + Math.max(0, passed));
  }

  /** Where the playing waits and the piece does not. */
  private get holds(): Holds | null {
    return this.options?.waits === false ? null : (this.timeline?.holds ?? null);
  }

  /** Begins to play. @returns audio-clock seconds from the call until the first sound */
  async play(options: PlayOptions): Promise<number> {
    const { timeline, synth } = this;
    if (!timeline || !synth) return 0;
    this.stop();
    await this.context.resume();
    this.options = options;
    const wait = Math.max(0.03, this.quietUntil - this.context.currentTime);
    const start = this.context.currentTime + wait;
    this.out.gain.setValueAtTime(MASTER, start - 0.01);
    this.startedFrom = options.from;
    this.startedAt = start + (options.countIn ? this.countIn(options, start) : 0);
    this.chase(options.from);
    this.timer = setInterval(() => this.pump(), EVERY);
    this.pump();
    return this.startedAt - this.context.currentTime;
  }

  stop(): void {
    if (!this.timer) return;
    this.startedFrom = this.position;
    clearInterval(this.timer);
    this.timer = null;
    this.options = null;
    const now = this.context.currentTime;
    this.out.gain.cancelScheduledValues(now);
    this.out.gain.setTargetAtTime(0, now, 0.01);
    this.quietUntil = now + FLUSH;
    setTimeout(() => this.synth?.stopAll(true), FLUSH * 500);
    setTimeout(() => {
      if (!this.timer) this.synth?.stopAll(true);
    }, FLUSH * 1000);
  }

  close(): void {
    this.stop();
    void this.context.close();
  }

  /** Clicks one bar's beats before the start. @returns how long that takes */
  private countIn({ from, scale }: PlayOptions, start: number): number {
    const { seconds, down } = this.timeline!.beats;
    const at = seconds.findIndex((beat) => beat >= from - 1e-6);
    if (at < 0) return 0;
    let last = at + 1;
    while (last < seconds.length && down[last] === 0) last++;
    if (last >= seconds.length) return 0;
    const span = seconds[last]! - seconds[at]!;
    for (let beat = at; beat < last; beat++)
      this.strikeClick(start + (seconds[beat]! - seconds[at]!) / scale, beat === at);
    return span / scale;
  }

  private strikeClick(time: number, isDownbeat: boolean): void {
    const channel = this.timeline!.voicings.length;
    const key = isDownbeat ? CLICK.downbeat : CLICK.beat;
    this.synth!.noteOn(channel, key, isDownbeat ? 110 : 84, { time });
    this.synth!.noteOff(channel, key, { time: time + 0.05 });
  }

  /** Sets programs, controllers and bends as they hold at a place in the middle. */
  private chase(from: number): void {
    const timeline = this.timeline!;
    const holding = new Map<number, number>();
    let at = 0;
    for (; at < timeline.seconds.length && timeline.seconds[at]! < from - 1e-6; at++) {
      const kind = timeline.kind[at]!;
      if (kind === NOTE_ON || kind === NOTE_OFF) continue;
      const lane = kind === CONTROL ? timeline.first[at]! : 0;
      holding.set((timeline.channel[at]! * 8 + kind) * 128 + lane, at);
    }
    for (const { channel, program, isDrum } of timeline.voicings) {
      this.synth!.controllerChange(channel, 121, 0);
      this.synth!.programChange(channel, isDrum ? 0 : program);
    }
    for (const index of holding.values()) this.send(index, undefined);
    this.next = at;
    const beat = timeline.beats.seconds.findIndex((seconds) => seconds >= from - 1e-6);
    this.nextBeat = beat < 0 ? timeline.beats.seconds.length : beat;
  }

  private pump(): void {
    const { timeline, options } = this;
    if (!timeline || !options) return;
    const horizon = this.context.currentTime + AHEAD;
    const { holds } = this;
    const begun = heardAt(holds, this.startedFrom);
    const timeOf = (seconds: number) => this.startedAt + (heardAt(holds, seconds) - begun) / options.scale;
    for (;;) {
      const seconds = timeline.seconds[this.next] ?? Number.POSITIVE_INFINITY;
      const beat = options.click
        ? (timeline.beats.seconds[this.nextBeat] ?? Number.POSITIVE_INFINITY)
        : Number.POSITIVE_INFINITY;
      const due = Math.min(seconds, beat);
      if (options.until !== null && due >= options.until) break;
      if (options.loop && due >= options.loop[1]) {
        const turn = timeOf(options.loop[1]);
        if (turn > horizon) return;
        this.wrap(options.loop, turn);
        continue;
      }
      if (due === Number.POSITIVE_INFINITY) break;
      const time = timeOf(due);
      if (time > horizon) return;
      if (beat <= seconds) this.strikeClick(time, timeline.beats.down[this.nextBeat++] === 1);
      else this.send(this.next++, time);
    }
    if (this.position > (options.until ?? timeline.end + 0.5)) {
      this.stop();
      this.startedFrom = options.until ?? 0;
      this.onStop();
    }
  }

  /** Goes back to the start of a loop at audio time `time`; what still sounds ends. */
  private wrap([from, to]: [number, number], time: number): void {
    const timeline = this.timeline!;
    for (let at = this.next; at < timeline.seconds.length; at++)
      if (timeline.kind[at] === NOTE_OFF && timeline.seconds[at]! - to < 30) this.send(at, time);
      else if (timeline.seconds[at]! - to >= 30) break;
    this.startedAt = time;
    this.startedFrom = from;
    this.next = timeline.seconds.findIndex((seconds) => seconds >= from - 1e-6);
    if (this.next < 0) this.next = timeline.seconds.length;
    const beat = timeline.beats.seconds.findIndex((seconds) => seconds >= from - 1e-6);
    this.nextBeat = beat < 0 ? timeline.beats.seconds.length : beat;
  }

  private send(index: number, time: number | undefined): void {
    const timeline = this.timeline!;
    const synth = this.synth!;
    const channel = timeline.channel[index]!;
    const first = timeline.first[index]!;
    const second = timeline.second[index]!;
    const at = time === undefined ? undefined : { time };
    switch (timeline.kind[index]) {
      case NOTE_ON:
        return synth.noteOn(channel, first, second, at);
      case NOTE_OFF:
        return synth.noteOff(channel, first, at);
      case CONTROL:
        return synth.controllerChange(
          channel,
          first as Parameters<typeof synth.controllerChange>[1],
          second,
          at,
        );
      case BEND:
        return synth.pitchWheel(channel, first + second * 128, at);
      case PRESSURE:
        return synth.channelPressure(channel, first, at);
      case PROGRAM:
        return synth.programChange(channel, first, at);
    }
  }
}
