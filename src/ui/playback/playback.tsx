'use client';

import { App } from 'antd';
import { plainToInstance, Type } from 'class-transformer';
import {
  IsArray,
  IsBoolean,
  IsNumber,
  Matches,
  Max,
  Min,
  ValidateNested,
  validateSync,
} from 'class-validator';
import { createContext, type ReactNode, use, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { StrandId } from '../../core/model/ids';
import { STRAND_ID } from '../../core/model/ids';
import { isOfScore, type Timeline } from '../../core/sound/events';
import { readSetting, writeSetting } from '../../store/jobs';
import { useSession } from '../job/session';
import { useRecording } from '../recording/useRecording';
import type { SoundingPart } from '../stems/match';
import { type LaidSound, mixedStems } from '../stems/mixed';
import { useStems } from '../stems/useStems';
import { bankBytes } from './bank';
import type { Engine } from './engine';
import { type HeardNow, type Hearing, isSound, PLAIN, READING_NAMES } from './hearing';
import type { Player } from './player';
import { RecordingPlayer } from './recording-player';
import { Together } from './together';
import { inTurns, type Turn } from './turns';

/** The listening desk of a job: what is heard, where, and how. None of it is part of the music. */
export interface Playback extends Manner {
  isPlaying: boolean;
  /** The synthesizer is being loaded. */
  isLoading: boolean;
  /** What sounds of several that are heard in turns; null where one is heard by itself. */
  sounding: string | null;
  /** Seconds of the piece that are selected, for looping and as the place to start from. */
  range: [from: number, to: number] | null;
  hearing: ReadonlyMap<StrandId, Hearing>;
  /** Seconds of the piece, now. */
  position: () => number;
  toggle: () => void;
  setRange: (range: [number, number] | null) => void;
  change: (manner: Partial<Manner>) => void;
  /** Plays a sound that lies along the piece, in turns with a part of the score where one is given. */
  playSound: (name: string, sound: LaidSound, part?: SoundingPart & { name: string }) => void;
  /** Plays stretches of several readings one after the other; what is playing stops. */
  playStretches: (stretches: readonly Stretch[]) => void;
  hear: (strands: readonly StrandId[], change: Partial<Hearing>) => void;
  changeBank: (bytes: ArrayBuffer) => Promise<void>;
}

/** What is heard, and how. */
interface Manner {
  heard: HeardNow;
  /** What is heard in turns with it, so many bars at a time or `AT_ONCE`; null for nothing. */
  other: HeardNow | null;
  span: number;
  scale: number;
  click: boolean;
  countIn: boolean;
  follow: boolean;
  loops: boolean;
}

/** In the place of so many bars at a time: sound that was taken in and a reading are heard together. */
export const AT_ONCE = 0;

/** Something that can be played. */
interface Reading {
  /** Equal for equal sound. */
  key: string;
  name: string;
  /** Null for sound that was taken in. */
  load: (() => Promise<Timeline>) | null;
  /** The sound that is heard, or that is heard at once with the reading. */
  sound?: () => Promise<LaidSound>;
  /** Also what is left out of the job. */
  whole: boolean;
  /** These strands alone. */
  only?: ReadonlySet<StrandId>;
}

/** Some seconds of a reading. */
export interface Stretch {
  reading: Reading;
  from: number;
  until: number | null;
}

class StoredHearing {
  @Matches(STRAND_ID) strand!: StrandId;
  @IsBoolean() muted!: boolean;
  @IsBoolean() solo!: boolean;
  @IsNumber() @Min(0) @Max(2) gain!: number;
  @IsNumber() @Min(-1) @Max(1) pan!: number;
}

class StoredDesk {
  @IsArray() @ValidateNested({ each: true }) @Type(() => StoredHearing) strands!: StoredHearing[];
}

/** Listening settings as the browser kept them; none where they are damaged. */
function readHearing(text: string | undefined): Map<StrandId, Hearing> {
  try {
    const desk = plainToInstance(StoredDesk, JSON.parse(text ?? '{"strands":[]}'));
    if (validateSync(desk).length > 0) return new Map();
    return new Map(desk.strands.map(({ strand, ...hearing }) => [strand, hearing]));
  } catch {
    return new Map();
  }
}

/** The synthesizer is a large part of the page's code, and needed only once something is played. */
const newEngine = async (): Promise<Engine> => new (await import('./engine')).Engine();

const PlaybackContext = createContext<Playback | null>(null);

/** The listening desk; only below `PlaybackProvider`. */
export function usePlayback(): Playback {
  const playback = use(PlaybackContext);
  if (!playback) throw new Error('There is no listening desk here.');
  return playback;
}

/** So many timelines are kept, so that readings in turns follow each other at once. */
const MOST_TIMELINES = 4;

export function PlaybackProvider({ children }: { children: ReactNode }) {
  const { core, job, decisions, inventory, stock, summary } = useSession(
    'core',
    'job',
    'decisions',
    'inventory',
    'stock',
    'summary',
  );
  const { notification } = App.useApp();
  const engine = useRef<Engine | null>(null);
  const recorded = useRef<{ player: RecordingPlayer; of: unknown; offset: number } | null>(null);
  const active = useRef<Player | null>(null);
  /** Counts what was begun: what comes late of something that was stopped is nothing. */
  const run = useRef(0);
  const [isPlaying, setPlaying] = useState(false);
  const [isLoading, setLoading] = useState(false);
  const [sounding, setSounding] = useState<string | null>(null);
  const [manner, setManner] = useState<Manner>({
    heard: 'cleaned',
    other: null,
    span: 2,
    scale: 1,
    click: false,
    countIn: false,
    follow: true,
    loops: false,
  });
  const [range, setRange] = useState<[number, number] | null>(null);
  const [hearing, setHearing] = useState<ReadonlyMap<StrandId, Hearing>>(new Map());
  const { recording, offset } = useRecording();
  const stems = useStems();
  const key = `hearing ${job.id}`;

  useEffect(() => {
    void readSetting(key).then((text) => setHearing(readHearing(text)));
  }, [key]);

  const leftOut = useMemo(
    () =>
      new Set(
        inventory.strands.filter(({ id }) => decisions.strands.get(id)?.out).map(({ id }) => id as StrandId),
      ),
    [inventory, decisions],
  );
  /** Whether what the synthesizer has in hand is heard with all that is left out. */
  const isWhole = useRef(false);

  useEffect(() => {
    engine.current?.setHearing(hearing, isWhole.current ? NONE : leftOut);
  }, [hearing, leftOut]);

  useEffect(
    () => () => {
      run.current++;
      engine.current?.close();
      recorded.current?.player.close();
      engine.current = null;
      recorded.current = null;
      active.current = null;
    },
    [],
  );

  /** The one engine, made when it is first needed; also where two ask at once. */
  const toEngine = useCallback(async (): Promise<Engine> => {
    const made = engine.current ?? (await newEngine());
    engine.current ??= made;
    if (made !== engine.current) made.close();
    return engine.current;
  }, []);

  const timelines = useRef(new Map<string, Timeline>());
  const inHand = useRef('');

  const revisionOf = useCallback(
    (heard: HeardNow) => (isSound(heard) || !isOfScore(heard) ? stock.revision : summary?.revision),
    [stock, summary],
  );

  /** What of the job is heard, under the decisions as they are now. */
  const toReading = useCallback(
    (heard: HeardNow): Reading => {
      const revision = revisionOf(heard);
      const name = READING_NAMES[heard];
      const taken: Omit<Reading, 'sound'> = { key: heard, name, load: null, whole: true };
      if (heard === 'stems')
        return { ...taken, sound: () => mixedStems(stems.filter(({ muted, hidden }) => !muted && !hidden)) };
      if (heard === 'recording')
        return {
          ...taken,
          sound: async () => {
            if (!recording) throw new Error('The job has no recording.');
            return { file: recording.file, offset };
          },
        };
      return {
        key: `${heard} ${revision}`,
        name,
        load: async () => {
          if (revision === undefined) throw new Error('The score is still being written.');
          return core.timeline(revision, { heard });
        },
        whole: heard === 'source',
      };
    },
    [core, revisionOf, recording, offset, stems],
  );

  /** What of a reading is played, laid out once. */
  const toTimeline = useCallback(async ({ key: of, load }: Reading): Promise<Timeline> => {
    const known = timelines.current;
    const timeline = known.get(of) ?? (await load?.());
    if (!timeline) throw new Error('A recording is played from its file.');
    known.delete(of);
    known.set(of, timeline);
    for (const old of known.keys()) if (known.size > MOST_TIMELINES) known.delete(old);
    return timeline;
  }, []);

  /** Has the player of a reading ready. */
  const toPlayer = useCallback(
    async (reading: Reading): Promise<Player> => {
      const toRecorded = (sound: LaidSound): RecordingPlayer => {
        const known = recorded.current;
        if (known && known.of === sound.file && known.offset === sound.offset) return known.player;
        known?.player.close();
        const player = new RecordingPlayer(sound.file, sound.offset);
        recorded.current = { player, of: sound.file, offset: sound.offset };
        return player;
      };
      const sound = await reading.sound?.();
      if (!reading.load) {
        if (!sound) throw new Error('There is nothing to be heard.');
        return toRecorded(sound);
      }
      const player = await toEngine();
      await player.load(bankBytes);
      const timeline = await toTimeline(reading);
      if (inHand.current !== reading.key || !player.hasTimeline) {
        player.setTimeline(timeline);
        inHand.current = reading.key;
      }
      isWhole.current = reading.whole;
      const { only } = reading;
      if (only)
        player.setHearing(
          NOT_CHANGED,
          new Set(timeline.voicings.map(({ strand }) => strand).filter((strand) => !only.has(strand))),
        );
      else player.setHearing(hearing, reading.whole ? NONE : leftOut);
      return sound ? new Together(player, toRecorded(sound)) : player;
    },
    [toEngine, toTimeline, hearing, leftOut],
  );

  const stop = useCallback(() => {
    run.current++;
    active.current?.stop();
    setPlaying(false);
    setSounding(null);
  }, []);

  /** Plays stretch after stretch until there are no more, or something else is begun. */
  const playAll = useCallback(
    async (
      stretches: Iterator<Stretch, unknown>,
      options: Manner,
      tells: boolean,
      loop: [number, number] | null,
    ) => {
      stop();
      const mine = ++run.current;
      const isMine = () => mine === run.current;
      let isFirst = true;
      const next = async (): Promise<void> => {
        const step = stretches.next();
        if (step.done) return stop();
        const { reading, from, until } = step.value;
        try {
          if (isFirst) setLoading(true);
          const player = await toPlayer(reading);
          if (!isMine()) return;
          active.current = player;
          player.onStop = () => isMine() && void next();
          await player.play({ ...options, from, until, loop, countIn: options.countIn && isFirst });
          if (!isMine()) return player.stop();
          setPlaying(true);
          setSounding(tells ? reading.name : null);
        } catch (error) {
          if (isMine()) stop();
          notification.error({ title: 'There is no sound', description: (error as Error).message });
        } finally {
          if (isFirst) setLoading(false);
          isFirst = false;
        }
      };
      await next();
    },
    [stop, toPlayer, notification],
  );

  const playTurns = useCallback(
    async (both: readonly Reading[], options: Manner, from: number) => {
      try {
        // Bars are those of the piece as it is laid out now.
        const { beats, end } = await toTimeline(toReading('cleaned'));
        const downbeats = Array.from(beats.seconds).filter((_, at) => beats.down[at] === 1);
        const span = Math.max(1, options.span);
        const turns = inTurns({ ...options, span, from, range, downbeats, end });
        await playAll(stretchesOf(turns, both), options, true, null);
      } catch (error) {
        notification.error({ title: 'There is no sound', description: (error as Error).message });
      }
    },
    [range, toReading, toTimeline, playAll, notification],
  );

  const play = useCallback(
    async (options: Manner) => {
      const from = range?.[0] ?? active.current?.position ?? 0;
      const reading = toReading(options.heard);
      if (options.other === null || options.other === options.heard) {
        const alone = [{ reading, from, until: null }];
        return playAll(alone.values(), options, false, options.loops ? range : null);
      }
      const other = toReading(options.other);
      if (options.span === AT_ONCE && isSound(options.heard) !== isSound(options.other)) {
        const [notes, sounding] = reading.load ? [reading, other] : [other, reading];
        const together = [{ reading: { ...notes, sound: sounding.sound }, from, until: null }];
        return playAll(together.values(), options, false, options.loops ? range : null);
      }
      await playTurns([reading, other], options, from);
    },
    [range, toReading, playAll, playTurns],
  );

  const playSound = useCallback(
    async (name: string, sound: LaidSound, part?: SoundingPart & { name: string }) => {
      const from = range?.[0] ?? active.current?.position ?? 0;
      const reading: Reading = {
        key: `sound ${name}`,
        name,
        load: null,
        whole: true,
        sound: async () => sound,
      };
      if (!part) return playAll([{ reading, from, until: null }].values(), manner, true, null);
      const notes = toReading(stock.kind === 'score' ? 'cleaned' : 'score-performed');
      const own: Reading = { ...notes, name: part.name, only: new Set(part.strands) };
      await playTurns([reading, own], manner, from);
    },
    [range, manner, stock, toReading, playAll, playTurns],
  );

  const value = useMemo(
    (): Playback => ({
      ...manner,
      isPlaying,
      isLoading,
      sounding,
      range,
      hearing,
      position: () => active.current?.position ?? 0,
      toggle: () => (isPlaying ? stop() : void play(manner)),
      setRange,
      change: (change) => {
        setManner({ ...manner, ...change });
        if (isPlaying && !('follow' in change)) stop();
      },
      playSound: (name, sound, part) => void playSound(name, sound, part),
      playStretches: (stretches) => void playAll(stretches.values(), manner, true, null),
      hear: (strands, change) => {
        const next = new Map(hearing);
        for (const strand of strands) next.set(strand, { ...(next.get(strand) ?? PLAIN), ...change });
        setHearing(next);
        const strandsNow = [...next].map(([strand, each]) => ({ strand, ...each }));
        writeSetting(key, JSON.stringify({ strands: strandsNow })).catch((error: unknown) =>
          notification.error({ title: 'The levels were not kept', description: (error as Error).message }),
        );
      },
      changeBank: async (bytes) => {
        stop();
        await engine.current?.changeBank(bytes);
      },
    }),
    [
      manner,
      isPlaying,
      isLoading,
      sounding,
      range,
      hearing,
      key,
      play,
      playAll,
      playSound,
      stop,
      notification,
    ],
  );

  return <PlaybackContext value={value}>{children}</PlaybackContext>;
}

const NONE: ReadonlySet<StrandId> = new Set();
const NOT_CHANGED: ReadonlyMap<StrandId, Hearing> = new Map();

function* stretchesOf(turns: Iterable<Turn>, readings: readonly Reading[]): Generator<Stretch, void> {
  for (const { reading, from, until } of turns) yield { reading: readings[reading]!, from, until };
}
