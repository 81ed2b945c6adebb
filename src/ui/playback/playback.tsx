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
import { bankBytes } from './bank';
import type { Engine } from './engine';
import { type HeardNow, type Hearing, PLAIN, READING_NAMES } from './hearing';
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

/** In the place of so many bars at a time: the recording and a reading sound together. */
export const AT_ONCE = 0;

/** Something that can be played. */
interface Reading {
  /** Equal for equal sound. */
  key: string;
  name: string;
  /** Null for the recording. */
  load: (() => Promise<Timeline>) | null;
  /** Also what is left out of the job. */
  whole: boolean;
  /** The recording sounds at once with it. */
  along?: boolean;
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
    (heard: HeardNow) => (heard === 'recording' || !isOfScore(heard) ? stock.revision : summary?.revision),
    [stock, summary],
  );

  /** What of the job is heard, under the decisions as they are now. */
  const toReading = useCallback(
    (heard: HeardNow): Reading => {
      const revision = revisionOf(heard);
      const name = READING_NAMES[heard];
      if (heard === 'recording') return { key: heard, name, load: null, whole: true };
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
    [core, revisionOf],
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
      const toRecorded = (): RecordingPlayer => {
        if (!recording) throw new Error('The job has no recording.');
        const known = recorded.current;
        if (known && known.of === recording.file && known.offset === offset) return known.player;
        known?.player.close();
        const player = new RecordingPlayer(recording.file, offset);
        recorded.current = { player, of: recording.file, offset };
        return player;
      };
      if (!reading.load) return toRecorded();
      const player = await toEngine();
      await player.load(bankBytes);
      const timeline = await toTimeline(reading);
      if (inHand.current !== reading.key || !player.hasTimeline) {
        player.setTimeline(timeline);
        inHand.current = reading.key;
      }
      isWhole.current = reading.whole;
      player.setHearing(hearing, reading.whole ? NONE : leftOut);
      return reading.along ? new Together(player, toRecorded()) : player;
    },
    [toEngine, toTimeline, recording, offset, hearing, leftOut],
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

  const play = useCallback(
    async (options: Manner) => {
      const from = range?.[0] ?? active.current?.position ?? 0;
      const reading = toReading(options.heard);
      if (options.other === null || options.other === options.heard) {
        const alone = [{ reading, from, until: null }];
        return playAll(alone.values(), options, false, options.loops ? range : null);
      }
      if (options.span === AT_ONCE && (options.heard === 'recording' || options.other === 'recording')) {
        const notes = toReading(options.heard === 'recording' ? options.other : options.heard);
        const together = [{ reading: { ...notes, along: true }, from, until: null }];
        return playAll(together.values(), options, false, options.loops ? range : null);
      }
      const both = [reading, toReading(options.other)];
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
    [manner, isPlaying, isLoading, sounding, range, hearing, key, play, playAll, stop, notification],
  );

  return <PlaybackContext value={value}>{children}</PlaybackContext>;
}

const NONE: ReadonlySet<StrandId> = new Set();

function* stretchesOf(turns: Iterable<Turn>, readings: readonly Reading[]): Generator<Stretch, void> {
  for (const { reading, from, until } of turns) yield { reading: readings[reading]!, from, until };
}
