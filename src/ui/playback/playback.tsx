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
import { type Heard, isOfScore } from '../../core/sound/timeline';
import { readSetting, writeSetting } from '../../store/jobs';
import { useSession } from '../job/session';
import { bankBytes } from './bank';
import type { Engine } from './engine';
import { type Hearing, PLAIN } from './hearing';

/** The listening desk of a job: what is heard, where, and how. None of it is part of the music. */
export interface Playback {
  isPlaying: boolean;
  /** The synthesizer is being loaded. */
  isLoading: boolean;
  heard: Heard;
  scale: number;
  click: boolean;
  countIn: boolean;
  follow: boolean;
  loops: boolean;
  /** Seconds of the piece that are selected, for looping and as the place to start from. */
  range: [from: number, to: number] | null;
  hearing: ReadonlyMap<StrandId, Hearing>;
  /** Seconds of the piece, now. */
  position: () => number;
  toggle: () => void;
  setRange: (range: [number, number] | null) => void;
  change: (
    settings: Partial<Pick<Playback, 'heard' | 'scale' | 'click' | 'countIn' | 'follow' | 'loops'>>,
  ) => void;
  hear: (strands: readonly StrandId[], change: Partial<Hearing>) => void;
  changeBank: (bytes: ArrayBuffer) => Promise<void>;
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
  const [isPlaying, setPlaying] = useState(false);
  const [isLoading, setLoading] = useState(false);
  const [settings, setSettings] = useState({
    heard: 'cleaned' as Heard,
    scale: 1,
    click: false,
    countIn: false,
    follow: true,
    loops: false,
  });
  const [range, setRange] = useState<[number, number] | null>(null);
  const [hearing, setHearing] = useState<ReadonlyMap<StrandId, Hearing>>(new Map());
  const key = `hearing ${job.id}`;
  const { heard } = settings;

  useEffect(() => {
    void readSetting(key).then((text) => setHearing(readHearing(text)));
  }, [key]);

  const silent = useMemo(
    () =>
      new Set(
        heard === 'source'
          ? []
          : inventory.strands
              .filter((strand) => decisions.strands.get(strand.id)?.out)
              .map((strand) => strand.id),
      ),
    [heard, inventory, decisions],
  );

  useEffect(() => {
    engine.current?.setHearing(hearing, silent);
  }, [hearing, silent]);

  useEffect(
    () => () => {
      engine.current?.close();
      engine.current = null;
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

  /** What would be played is stale once decisions or the score change. */
  const made = useRef('');
  const revision = isOfScore(heard) ? summary?.revision : stock.revision;
  const wanted = `${heard} ${heard === 'source' ? '' : revision}`;

  const stop = useCallback(() => {
    engine.current?.stop();
    setPlaying(false);
  }, []);

  const play = useCallback(
    async (options: typeof settings) => {
      setLoading(true);
      try {
        const player = await toEngine();
        player.onStop = () => setPlaying(false);
        await player.load(bankBytes);
        if (made.current !== wanted || !player.hasTimeline) {
          if (revision === undefined) throw new Error('The score is still being written.');
          const timeline = await core.timeline(revision, { heard: options.heard });
          player.setTimeline(timeline);
          made.current = wanted;
        }
        player.setHearing(hearing, silent);
        const loop = options.loops ? range : null;
        const from = range?.[0] ?? player.position;
        await player.play({ ...options, from, loop });
        setPlaying(true);
      } catch (error) {
        notification.error({ title: 'There is no sound', description: (error as Error).message });
      } finally {
        setLoading(false);
      }
    },
    [core, hearing, silent, range, wanted, revision, notification, toEngine],
  );

  const value = useMemo(
    (): Playback => ({
      ...settings,
      isPlaying,
      isLoading,
      range,
      hearing,
      position: () => engine.current?.position ?? 0,
      toggle: () => (isPlaying ? stop() : void play(settings)),
      setRange,
      change: (change) => {
        const next = { ...settings, ...change };
        setSettings(next);
        if (isPlaying && !('follow' in change)) stop();
      },
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
    [settings, isPlaying, isLoading, range, hearing, key, play, stop, notification],
  );

  return <PlaybackContext value={value}>{children}</PlaybackContext>;
}
