/**
 * How well a score is played as a performance of it is: `npm run bench:joined`.
 *
 * Data: the works of music21's corpus that bench/corpus.ts names, public-domain works, played straight through with
 * a tempo that wanders between 70 and 130 % over phrases, attacks 12 ms apart (normal), velocities 40 to 110 and
 * notes held for 55 to 105 % of their values (seeded); 2 % of the notes are left out, 2 % have another key, 2 % more
 * are played. `click`: the file has the tempo in its map, and bars; `free`: it has none, as from a player without a
 * click, and begins after two bars. The score is then played like that file. WORK=name for some, SEED=1.
 *
 * In time: notes that both have, sounding within 2 ms of the performance (all but the first moment of the piece,
 * which is the score's own); loud: with its velocity; long: sounding as long, within 5 ms. Found: of what was left
 * out, changed and added, what is told as that; told: of what is told, what is so. Beside it the simple way: the
 * notes of each part in their order.
 */
import { readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { medianOf } from '../src/core/basics/average';
import { seeded } from '../src/core/basics/random';
import { layOut } from '../src/core/clean/desk';
import { playedLike } from '../src/core/clean/play-like';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { withDirectives } from '../src/core/decisions/decisions';
import { secondsAt } from '../src/core/model/clock';
import type { EventId } from '../src/core/model/ids';
import type { Performance } from '../src/core/model/performance';
import { ALL_PLAYED } from '../src/core/perform/settings';
import { reconcile } from '../src/core/reconcile';
import { sideOfPerformance } from '../src/core/reconcile/reading';
import { performanceOf, performanceReading, readSource } from '../src/core/sources';
import type { SmfEvent, SmfTrack } from '../src/core/sources/smf/events';
import { corpusFolder, WORKS } from './corpus';

const TICKS = 480;
const seed = Number(process.env.SEED ?? 1);
const WAYS = ['click', 'free'] as const;
type Way = (typeof WAYS)[number];

interface Played {
  performance: Performance;
  /** When and how each note of the score was played, and whether with its own key. */
  notes: Map<EventId, { on: number; off: number; velocity: number; own: boolean }>;
  left: number;
  changed: number;
  added: number;
}

function play(score: Performance, way: Way, random: () => number): Played {
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const beats = Math.ceil(score.end / score.clock.ticksPerQuarter) + 8;
  const starts = [0];
  const phase = 6 * random();
  for (let beat = 0; beat < beats; beat++) {
    const pace = 1 + 0.2 * Math.sin(beat / 5 + phase) + 0.1 * Math.sin(beat / 1.7);
    starts.push(starts.at(-1)! + 0.55 / pace);
  }
  const before = way === 'free' ? 4.4 : 0;
  const when = (tick: number): number => {
    const quarters = tick / score.clock.ticksPerQuarter;
    const beat = Math.min(Math.floor(quarters), beats - 1);
    return before + starts[beat]! + (quarters - beat) * (starts[beat + 1]! - starts[beat]!);
  };
  const tempos: SmfEvent[] =
    way === 'free'
      ? []
      : starts.slice(1).map((next, beat) => ({
          kind: 'tempo',
          tick: beat * TICKS,
          microsPerQuarter: Math.round(1e6 * (next - starts[beat]!)),
        }));
  const tickOf = (seconds: number): number => {
    if (way === 'free') return Math.max(0, Math.round(seconds * 2 * TICKS));
    const beat = Math.max(
      0,
      starts.findLastIndex((start) => start <= seconds),
    );
    const length = (starts[beat + 1] ?? starts[beat]! + 0.55) - starts[beat]!;
    return Math.max(0, Math.round((beat + (seconds - starts[beat]!) / length) * TICKS));
  };
  const notes: Played['notes'] = new Map();
  let [left, changed, added] = [0, 0, 0];
  const meters = score.meters.map(
    (meter): SmfEvent => ({
      kind: 'timeSignature',
      tick: Math.round((meter.tick * TICKS) / score.clock.ticksPerQuarter),
      numerator: meter.numerator,
      denominator: meter.denominator,
      clocks: 24,
      thirtySeconds: 8,
    }),
  );
  const tracks = score.strands.map((strand, index): SmfTrack => {
    const channel = strand.channel;
    const events: SmfEvent[] = [];
    const strike = (on: number, off: number, key: number, velocity: number) => {
      events.push({ kind: 'noteOn', tick: tickOf(on), channel, key, velocity });
      events.push({
        kind: 'noteOff',
        tick: Math.max(tickOf(on) + 1, tickOf(off)),
        channel,
        key,
        velocity: 64,
        asNoteOn: false,
      });
    };
    for (const note of strand.notes) {
      const start = when(note.on);
      const on = Math.max(0, start + 0.012 * normal());
      const off = on + Math.max(0.03, (when(note.off) - start) * (0.55 + 0.5 * random()));
      const velocity = 40 + Math.floor(70 * random());
      const fate = random();
      if (fate < 0.02) {
        left++;
        continue;
      }
      const isOther = fate < 0.04;
      if (isOther) changed++;
      const key = isOther ? note.key + (random() < 0.5 ? 1 : -2) : note.key;
      strike(on, off, key, velocity);
      notes.set(note.id, { on, off, velocity, own: !isOther });
      if (fate > 0.98) {
        added++;
        strike(
          when(note.on + score.clock.ticksPerQuarter / 4),
          when(note.on + score.clock.ticksPerQuarter / 2),
          note.key + 5,
          70,
        );
      }
    }
    const rank = (event: SmfEvent) => (event.kind === 'noteOn' ? 2 : event.kind === 'noteOff' ? 1 : 0);
    events.sort((a, b) => a.tick - b.tick || rank(a) - rank(b));
    const name: SmfEvent = {
      kind: 'trackName',
      tick: 0,
      type: 3,
      bytes: new TextEncoder().encode(strand.name),
    };
    const clock =
      index === 0 ? [...tempos, ...(way === 'free' ? [] : meters)].sort((a, b) => a.tick - b.tick) : [];
    const all = [name, ...clock, ...events].sort((a, b) => a.tick - b.tick);
    return { events: [...all, { kind: 'endOfTrack', tick: all.at(-1)!.tick }] };
  });
  const smf = {
    format: 1,
    division: { kind: 'quarter', ticks: TICKS },
    tracks,
    otherChunks: [],
    mends: [],
  } as const;
  const reading = performanceReading({ ...smf, tracks, otherChunks: [], mends: [] });
  return { performance: performanceOf({ ...reading, id: '2' }), notes, left, changed, added };
}

/** Notes of a strand that begin together on one key: which is which cannot be told. */
function twinsIn({ strands }: Performance): Set<EventId> {
  const twins = new Set<EventId>();
  for (const { notes } of strands) {
    const first = new Map<string, EventId>();
    for (const { id, on, key } of notes) {
      const before = first.get(`${on} ${key}`);
      if (before) twins.add(before).add(id);
      else first.set(`${on} ${key}`, id);
    }
  }
  return twins;
}

interface Sum {
  notes: number;
  inTime: number;
  loud: number;
  long: number;
  simple: number;
  wrong: number;
  found: number;
  told: number;
  so: number;
  ms: number;
}
const sums = Object.fromEntries(
  WAYS.map((way) => [
    way,
    { notes: 0, inTime: 0, loud: 0, long: 0, simple: 0, wrong: 0, found: 0, told: 0, so: 0, ms: 0 },
  ]),
) as Record<Way, Sum>;

const folder = corpusFolder();
for (const work of WORKS.filter((name) => name.includes(process.env.WORK ?? ''))) {
  const bytes = new Uint8Array(readFileSync(join(folder, 'corpus', work)));
  const reading = readSource({ id: '1', version: 1, name: basename(work), bytes });
  const brief = withDirectives(EMPTY_BRIEF, [{ kind: 'perform', ...ALL_PLAYED, repeats: false }]);
  const { performance: score } = layOut([reading], brief);
  const twins = twinsIn(score);
  for (const way of WAYS) {
    const { performance: player, notes, left, changed, added } = play(score, way, seeded(seed + work.length));
    const began = performance.now();
    const { performance: liked } = playedLike(score, player, ['tempo', 'timing', 'velocity']);
    const sum = sums[way];
    sum.ms += performance.now() - began;
    const sounding = new Map(
      liked.strands.flatMap((strand) => strand.notes.map((note) => [note.id, note] as const)),
    );
    const at = (tick: number) => secondsAt(liked.clock, tick);
    const away = [...notes].map(([id, { on }]) => at(sounding.get(id)!.on) - on);
    const shift = medianOf(away);
    const before = { ...sum };
    for (const [id, { on, off, velocity, own }] of notes) {
      if (!own || twins.has(id)) continue;
      const note = sounding.get(id)!;
      sum.notes++;
      if (Math.abs(at(note.on) - on - shift) <= 0.002) sum.inTime++;
      if (note.velocity === velocity) sum.loud++;
      if (Math.abs(at(note.off) - at(note.on) - (off - on)) <= 0.005) sum.long++;
    }
    score.strands.forEach((strand, index) => {
      const other = player.strands[index];
      strand.notes.forEach((note, place) => {
        const truth = notes.get(note.id);
        if (
          truth?.own &&
          other &&
          Math.abs(secondsAt(player.clock, other.notes[place]?.on ?? 0) - truth.on) <= 0.002
        )
          sum.simple++;
      });
    });
    if (process.env.WORK !== undefined)
      console.log(work, way, `${sum.inTime - before.inTime} of ${sum.notes - before.notes} in time`);
    const ledger = reconcile(sideOfPerformance(score), sideOfPerformance(player));
    sum.wrong += left + changed + added;
    for (const { one, two, differs } of ledger?.entries ?? []) {
      if (differs.length === 0) continue;
      sum.told++;
      const truth = one && notes.get(one.id as EventId);
      const so = one && two ? truth?.own === false && one.key !== two.key : one ? !truth : true;
      if (so) sum.so++;
      if (so) sum.found++;
    }
  }
}

const percent = (part: number, of: number) => (of === 0 ? '–' : ((100 * part) / of).toFixed(2));
console.log(`Scores played like performances of them, seed ${seed}`);
console.table(
  Object.fromEntries(
    WAYS.map((way) => {
      const { notes, inTime, loud, long, simple, wrong, found, told, so, ms } = sums[way];
      return [
        way,
        {
          notes,
          'in time %': percent(inTime, notes),
          'simple %': percent(simple, notes),
          'loud %': percent(loud, notes),
          'long %': percent(long, notes),
          differences: wrong,
          'found %': percent(Math.min(found, wrong), wrong),
          'told rightly %': percent(so, told),
          seconds: (ms / 1000).toFixed(1),
        },
      ];
    }),
  ),
);
