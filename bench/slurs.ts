/**
 * How well slurs and staccato are read back from playing: `npm run bench:slurs`.
 *
 * Data: the works of works.json that have any (scripts/marks-facts.py), public-domain works. A
 * seeded player holds what is under a slur 10–45 ms into the next note, lets go
 * of its last note after 80–95 % of its value and of every other note after 85–97 %, plays staccato notes for
 * 35–55 %; attacks differ by 6 ms, releases by 8 ms. `even`: all to the tick, slurred notes
 * 20 ms into the next, others for 92 %, staccato for half. `loose`: attacks by 12, releases by 20 ms.
 *
 * A slur is right where both of its ends are. Not asked for are slurs over dots and over a key that comes again at
 * once: nobody runs from a key into the same one. A dot is right on a note that has one; of those whose values
 * are right, since a value and its rest written through as one staccato note say the same. Beside it the rule that stood before: notes of a
 * line that overlap, three at least, bar by bar.
 */
import { seeded } from '../src/core/basics/random';
import { layOut } from '../src/core/clean/desk';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import type { ChordMark } from '../src/core/model/marks';
import type { Score } from '../src/core/model/score';
import { QUARTER } from '../src/core/model/time';
import { readSource } from '../src/core/sources';
import type { SmfEvent, SmfTrack } from '../src/core/sources/smf/events';
import { writeSmf } from '../src/core/sources/smf/write';
import { transcribeNow } from '../src/core/transcribe';
import facts from './marks.json';
import { loadWorks, type TrueNote, type Work } from './rhythm/works';

const TICKS = 480;
const seed = Number(process.env.SEED ?? 1);
type Staff = { slurs: [number, number][]; touch: string };
const printed = facts as unknown as Record<string, Staff[]>;
const MANNERS = { even: [0, 0], shaped: [0.006, 0.008], loose: [0.012, 0.02] } as const;
type Manner = keyof typeof MANNERS;

interface TrueMarks {
  /** First and last attack, in quarter notes, by part and staff. */
  slurs: { part: number; staff: number; from: number; to: number }[];
  /** Note by note. */
  staccato: Map<TrueNote, boolean>;
}

function marksOf(work: Work): TrueMarks {
  const marks: TrueMarks = { slurs: [], staccato: new Map() };
  let at = 0;
  work.parts.forEach((part, index) => {
    for (let staff = 1; staff <= part.staves; staff++) {
      const own = printed[work.name]![at++]!;
      const notes = part.notes.filter((note) => note.staff === staff);
      notes.forEach((note, place) => {
        marks.staccato.set(note, own.touch[place] === '1' || own.touch[place] === '3');
      });
      for (const [from, end] of own.slurs) {
        // The end of a tied note is that note.
        const held = notes.find((note) => !note.grace && isWithin(note, end));
        const to = held ? held.start / QUARTER : end;
        const under = notes.filter(
          ({ start }) => start / QUARTER > from - 0.01 && start / QUARTER < to + 0.01,
        );
        const isAgain = under.some((note, at) => note.key === under[at + 1]?.key);
        const isDotted = under.some((note) => marks.staccato.get(note));
        if (to > from && !isAgain && !isDotted) marks.slurs.push({ part: index, staff, from, to });
      }
    }
  });
  return marks;
}

const isWithin = ({ start, end }: TrueNote, quarters: number) =>
  quarters >= start / QUARTER - 0.01 && quarters < end / QUARTER - 0.01;
const isAt = (moment: number, quarters: number) => Math.abs(moment / QUARTER - quarters) < 0.02;

function play(work: Work, marks: TrueMarks, manner: Manner): Uint8Array {
  const random = seeded(seed * 7919 + work.name.length * 31 + work.bars.length);
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const perSecond = (TICKS * work.quartersPerMinute) / 60;
  const [onset, release] = MANNERS[manner];
  const isEven = manner === 'even';
  const clock: SmfEvent[] = [
    { kind: 'tempo', tick: 0, microsPerQuarter: Math.round(60e6 / work.quartersPerMinute) },
    ...work.bars.flatMap((bar, index): SmfEvent[] => {
      const before = work.bars[index - 1];
      return before?.numerator === bar.numerator && before.denominator === bar.denominator
        ? []
        : [
            {
              kind: 'timeSignature',
              tick: Math.round((bar.start / QUARTER) * TICKS),
              numerator: bar.numerator,
              denominator: bar.denominator,
              clocks: 24,
              thirtySeconds: 8,
            },
          ];
    }),
  ];
  const tracks = work.parts.flatMap((part, index): SmfTrack[] =>
    Array.from({ length: part.staves }, (_, at): SmfTrack => {
      const staff = at + 1;
      const channel = index % 9;
      const slurs = marks.slurs.filter((each) => each.part === index && each.staff === staff);
      const shifts = new Map<number, number>();
      const events = part.notes
        .filter((note) => note.staff === staff && !note.grace)
        .flatMap((note) => {
          const shift = shifts.get(note.start) ?? onset * normal();
          shifts.set(note.start, shift);
          const slur = slurs.find(
            ({ from, to }) => note.start / QUARTER > from - 0.01 && note.start / QUARTER < to + 0.01,
          );
          const length = ((note.end - note.start) / QUARTER) * TICKS;
          const joins = slur && !isAt(note.start, slur.to);
          const share = marks.staccato.get(note)
            ? isEven
              ? 0.5
              : 0.35 + 0.2 * random()
            : joins
              ? 1
              : isEven
                ? 0.92
                : slur
                  ? 0.8 + 0.15 * random()
                  : 0.85 + 0.12 * random();
          const over = joins ? (isEven ? 0.02 : 0.01 + 0.035 * random()) : 0;
          const on = Math.max(0, Math.round((note.start / QUARTER) * TICKS + shift * perSecond));
          const off = Math.round(
            (note.start / QUARTER) * TICKS + length * share + (over + release * normal()) * perSecond,
          );
          return [{ on, off: Math.max(on + 10, off), key: note.key }];
        })
        .sort((a, b) => a.on - b.on);
      const last = new Map<number, (typeof events)[number]>();
      for (const event of events) {
        const before = last.get(event.key);
        if (before && before.off > event.on) before.off = Math.max(before.on + 1, event.on);
        last.set(event.key, event);
      }
      const strokes = events.flatMap(({ on, off, key }): SmfEvent[] => [
        { kind: 'noteOn', tick: on, channel, key, velocity: 80 },
        { kind: 'noteOff', tick: off, channel, key, velocity: 64, asNoteOn: false },
      ]);
      const rank = (event: SmfEvent) => (event.kind === 'noteOn' ? 1 : 0);
      strokes.sort((a, b) => a.tick - b.tick || rank(a) - rank(b));
      return {
        events: [
          { kind: 'trackName', tick: 0, type: 3, bytes: new TextEncoder().encode(part.name) },
          ...strokes,
        ],
      };
    }),
  );
  return writeSmf({
    format: 1,
    division: { kind: 'quarter', ticks: TICKS },
    tracks: [{ events: clock }, ...tracks],
  });
}

const noteName = (part: number, quarters: number, key: number) => `${part} ${quarters.toFixed(2)} ${key}`;
const isStaccato = (mark: ChordMark) => mark.kind === 'articulation' && mark.name === 'staccato';

/** Slurs and staccato as they are written, by part, in quarter notes. */
function readMarks(score: Score) {
  const slurs: { part: number; from: number; to: number }[] = [];
  const lengths = new Map<string, { quarters: number; staccato: boolean }>();
  /** Attacks of notes by where they may be tied on. */
  const tied = new Map<string, number>();
  score.parts.forEach((part, index) => {
    const places = new Map<string, number>();
    part.bars.forEach(({ voices }, bar) => {
      for (const { items } of voices)
        for (const item of items) {
          if (item.kind !== 'chord') continue;
          const at = (score.bars[bar]!.start + item.onset) / QUARTER;
          for (const { id, key, tieStop } of item.notes) {
            const name = `${index} ${key} ${at.toFixed(3)}`;
            const start = tieStop ? (tied.get(name) ?? at) : at;
            tied.set(`${index} ${key} ${(at + item.duration / QUARTER).toFixed(3)}`, start);
            places.set(id, start);
            if (tieStop) continue;
            lengths.set(noteName(index, at, key), {
              quarters: item.duration / QUARTER,
              staccato: item.marks?.some(isStaccato) ?? false,
            });
          }
        }
    });
    for (const spanner of part.spanners ?? [])
      if (spanner.kind === 'slur' && 'note' in spanner.from && 'note' in spanner.to)
        slurs.push({ part: index, from: places.get(spanner.from.note)!, to: places.get(spanner.to.note)! });
  });
  return { slurs, lengths };
}

const percent = (count: number, of: number) => (of === 0 ? '–' : ((100 * count) / of).toFixed(1));
const works = loadWorks().filter(
  ({ name }) =>
    name.includes(process.env.WORK ?? '') &&
    printed[name]!.some(({ slurs, touch }) => slurs.length > 4 || /[13]/.test(touch)),
);
const table: Record<string, object> = {};
for (const work of works)
  for (const manner of Object.keys(MANNERS) as Manner[]) {
    const marks = marksOf(work);
    const bytes = play(work, marks, manner);
    const desk = layOut([readSource({ id: '1' as never, version: 1, name: 'x.mid', bytes })], EMPTY_BRIEF);
    const { score } = transcribeNow(desk.performance, EMPTY_BRIEF);
    const read = readMarks(score);
    // Strands of one part's staves come as parts of their own where nothing joins them.
    const offset = work.bars[0]!.start / QUARTER;
    const isSame = (a: { from: number; to: number }, b: { from: number; to: number }) =>
      Math.abs(a.from - b.from + offset) < 0.02 && Math.abs(a.to - b.to + offset) < 0.02;
    const right = read.slurs.filter((slur) => marks.slurs.some((truth) => isSame(slur, truth))).length;
    const found = marks.slurs.filter((truth) => read.slurs.some((slur) => isSame(slur, truth))).length;
    const short = [...marks.staccato].filter(([note, is]) => is && !note.grace).length;
    let dots = 0;
    let rightDots = 0;
    let dotted = 0;
    for (const [note, isAsked] of marks.staccato) {
      if (note.grace) continue;
      const part = work.parts.findIndex(({ notes }) => notes.includes(note));
      const written = read.lengths.get(noteName(part, note.start / QUARTER - offset, note.key));
      if (!written?.staccato) continue;
      if (isAsked) dotted++;
      // A note with a rest after it that is written through is another way of saying the same.
      if (Math.abs(written.quarters - (note.end - note.start) / QUARTER) > 0.01) continue;
      dots++;
      if (isAsked) rightDots++;
    }
    table[`${work.name}, ${manner}`] = {
      slurs: marks.slurs.length,
      'precision %': percent(right, read.slurs.length),
      'recall %': percent(found, marks.slurs.length),
      staccato: short,
      'dots right %': percent(rightDots, dots),
      'dots found %': percent(dotted, short),
    };
    if (process.env.SHOW) {
      const listed = (slurs: readonly { part: number; from: number; to: number }[]) =>
        slurs.map(({ part, from, to }) => `${part} ${from}-${to}`).join(', ');
      console.log(work.name, manner);
      console.log(
        'wrong  ',
        listed(read.slurs.filter((slur) => !marks.slurs.some((truth) => isSame(slur, truth)))),
      );
      console.log(
        'missing',
        listed(marks.slurs.filter((truth) => !read.slurs.some((slur) => isSame(slur, truth)))),
      );
    }
  }
console.log(`seed ${seed}`);
console.table(table);
