/**
 * How well a recording is laid along a piece: `npm run bench:laid`.
 *
 * Data: the works of works.json that last 40 s or longer, public-domain works
 * (scripts/rhythm-facts.py), played with attacks that differ by 12 ms (seeded), rendered
 * through the bank that ships, then shifted, with white noise and cut. Laid rightly: within
 * 50 ms of the truth. Beside it the simple way: where the sound first rises above -40 dB, the
 * first note is. `Other`: the next work in the place of the right one; being sure there is wrong.
 */
import { seeded } from '../src/core/basics/random';
import { finished } from '../src/core/basics/steps';
import { QUARTER } from '../src/core/model/time';
import { layAlong } from '../src/core/recording/offset';
import { onsetsExpected, onsetsOf, type Struck } from '../src/core/recording/onsets';
import { makeBank } from '../src/core/sound/bank';
import { NOTE_OFF, NOTE_ON, type Timeline } from '../src/core/sound/events';
import { readBank, renderTimeline } from '../src/core/sound/render';
import { loadWorks, type Work } from './rhythm/works';

const RATE = 16_000;
/** As near as an onset counts as found in music information retrieval. */
const NEAR = 0.05;
const seed = Number(process.env.SEED ?? 1);
const random = seeded(seed);
const bank = readBank(makeBank());
const PROGRAMS = [0, 40, 73, 56, 24, 48];

interface Played {
  name: string;
  struck: Struck[];
  sound: Float32Array;
  end: number;
}

function play(work: Work): Played {
  const seconds = (moment: number) => (moment / QUARTER) * (60 / work.quartersPerMinute);
  const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
  const struck: Struck[] = [];
  const events: { at: number; kind: number; channel: number; key: number; velocity: number }[] = [];
  work.parts.forEach(({ notes }, part) => {
    const channel = part % PROGRAMS.length;
    for (const { start, end, key } of notes) {
      const at = Math.max(0, seconds(start) + 0.012 * normal());
      const velocity = Math.round(50 + 50 * random());
      // The piece as it is known is not the piece as it was recorded.
      struck.push({ at: seconds(start), key, velocity: 80, pitched: true });
      events.push({ at, kind: NOTE_ON, channel, key, velocity });
      events.push({ at: Math.max(at + 0.05, seconds(end)), kind: NOTE_OFF, channel, key, velocity: 0 });
    }
  });
  events.sort((a, b) => a.at - b.at || a.kind - b.kind);
  const timeline: Timeline = {
    seconds: Float64Array.from(events, ({ at }) => at),
    kind: Uint8Array.from(events, ({ kind }) => kind),
    channel: Uint16Array.from(events, ({ channel }) => channel),
    first: Uint8Array.from(events, ({ key }) => key),
    second: Uint8Array.from(events, ({ velocity }) => velocity),
    voicings: PROGRAMS.map((program, channel) => ({
      strand: `1/t${channel}c0`,
      channel,
      program,
      isDrum: false,
    })),
    beats: { seconds: new Float64Array(), down: new Uint8Array() },
    end: events.at(-1)!.at,
    opening: { beats: new Float64Array(0), length: 0 },
    holds: null,
  };
  const steps = renderTimeline(bank, timeline, RATE);
  for (;;) {
    const step = steps.next();
    if (!step.done) continue;
    const [left, right] = step.value;
    const sound = left.map((value, at) => (value + right[at]!) / 2);
    return { name: work.name, struck, sound, end: timeline.end };
  }
}

/** What a hand does to a recording: seconds before the piece, noise as a share of the loudest, seconds that are kept. */
const TREATED: { name: string; before: number; noise: number; from: number; seconds: number }[] = [
  { name: 'as rendered, 3.3 s later', before: 3.3, noise: 0, from: 0, seconds: Infinity },
  { name: 'with noise 20 dB below the loudest', before: 1.234, noise: 0.1, from: 0, seconds: Infinity },
  { name: 'begins 5 s into the piece', before: 0, noise: 0.01, from: 5, seconds: Infinity },
  { name: '30 s out of the middle', before: 0, noise: 0.01, from: 12, seconds: 30 },
];

function treated(
  { sound }: Played,
  { before, noise, from, seconds }: (typeof TREATED)[number],
): Float32Array {
  const loudest = sound.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  const length = Math.min(Math.round(seconds * RATE), sound.length + Math.round((before - from) * RATE));
  return Float32Array.from(
    { length: Math.max(0, length) },
    (_, at) => (sound[at - Math.round((before - from) * RATE)] ?? 0) + noise * loudest * (2 * random() - 1),
  );
}

const firstRise = (sound: Float32Array): number => {
  const loudest = sound.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  return sound.findIndex((value) => Math.abs(value) > 0.01 * loudest) / RATE;
};

const SHORTEST = 40;
const secondsOf = ({ bars, quartersPerMinute }: Work): number =>
  ((bars.at(-1)!.start / QUARTER) * 60) / quartersPerMinute;
const played = loadWorks()
  .filter((work) => secondsOf(work) > SHORTEST)
  .map(play);
const lay = (sound: Float32Array, { struck, end }: Played) =>
  finished(layAlong(finished(onsetsOf({ samples: sound, rate: RATE })), onsetsExpected(struck, end)));
console.log(`${played.length} works, seed ${seed}`);
for (const treatment of TREATED) {
  let [right, sure, surelyWrong, simple, took, length] = [0, 0, 0, 0, 0, 0];
  const off: number[] = [];
  for (const each of played) {
    const sound = treated(each, treatment);
    const truth = treatment.before - treatment.from;
    const began = performance.now();
    const along = lay(sound, each);
    took += performance.now() - began;
    length += sound.length / RATE;
    const isRight = along !== null && Math.abs(along.offset - truth) <= NEAR;
    if (isRight) off.push(Math.abs(along.offset - truth));
    right += Number(isRight);
    sure += Number(isRight && along.sure);
    surelyWrong += Number(!isRight && along !== null && along.sure);
    if (!isRight && process.env.BY) console.log(each.name, along?.offset, truth, along?.sure);
    const first = Math.min(...each.struck.map(({ at }) => at));
    simple += Number(Math.abs(firstRise(sound) - first - truth) <= NEAR);
  }
  off.sort((a, b) => a - b);
  console.log(
    `${treatment.name}: ${right} right (${sure} surely; median ${(1000 * (off[off.length >> 1] ?? 0)).toFixed(0)} ms off), ${surelyWrong} surely wrong; simple way ${simple}; ${(took / 1000 / (length / 60)).toFixed(2)} s a minute of sound`,
  );
}
const others = played.filter((each, index) => {
  const other = played[(index + 1) % played.length]!;
  const along = lay(each.sound, other);
  if (along?.sure && process.env.BY) console.log(each.name, 'along', other.name, along);
  return along?.sure;
});
console.log(`another work: ${others.length} of ${played.length} surely laid (aim: none)`);
