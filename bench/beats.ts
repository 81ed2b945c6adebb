/**
 * How well beats are found in music played without a click: `npm run bench:beats`.
 * The works of scripts/rhythm-facts.py, every other one not looked at while tuning, with 20 ms
 * of jitter and a tempo that wanders by up to a third and slows down at the
 * ends of phrases (every 8 bars), written under a default tempo map. A beat is
 * right within 70 ms (as in the usual evaluations of beat tracking). Beside
 * it: the file's own beats, and a steady pulse at the best tempo and phase.
 */

import { seeded } from '../src/core/basics/random';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { findBeats } from '../src/core/infer/beats/beats';
import { type Onset, onsetsOf } from '../src/core/infer/beats/onsets';
import { proposeMeters } from '../src/core/infer/meter/meters';
import { QUARTER } from '../src/core/model/time';
import { readSmf } from '../src/core/sources/smf/read';
import { findOddities } from '../src/core/stock/oddities';
import { layOutFile } from '../tests/helpers/desk';
import { perform } from './rhythm/perform';
import { loadWorks, type Work } from './rhythm/works';

const RIGHT = 0.07;
const half = process.env.HALF === 'tune' ? 0 : 1;

interface Free {
  onsets: Onset[];
  beats: number[];
}

/** A work played freely: onsets and true beats, in seconds. */
function playFreely(work: Work, seed: number): Free {
  const random = seeded(seed * 31 + work.name.length * 977);
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const last = work.bars.at(-1)!;
  const quarters = Math.ceil((last.start + last.length) / QUARTER);
  const times: number[] = [0.7];
  let pace = 60 / work.quartersPerMinute;
  const usual = pace;
  for (let quarter = 0; quarter < quarters + 4; quarter++) {
    pace *= Math.exp(0.025 * normal() + 0.08 * Math.log(usual / pace));
    const slowing = quarter % 32 >= 30 ? 1.12 : 1;
    times.push(times.at(-1)! + Math.min(usual * 1.33, Math.max(usual / 1.33, pace)) * slowing);
  }
  const at = (moment: number) => {
    const quarter = Math.floor(moment / QUARTER);
    const share = moment / QUARTER - quarter;
    return times[quarter]! * (1 - share) + times[quarter + 1]! * share;
  };
  const onsets = work.parts.flatMap((part) =>
    part.notes
      .filter((note) => !note.grace)
      .map((note) => ({
        seconds: at(note.start) + 0.02 * normal(),
        weight:
          0.6 + 0.5 * Math.min(1, at(note.end) - at(note.start)) + 0.4 * Math.max(0, (60 - note.key) / 24),
      })),
  );
  onsets.sort((a, b) => a.seconds - b.seconds);
  const joined: Onset[] = [];
  for (const onset of onsets) {
    const before = joined.at(-1);
    if (before && onset.seconds - before.seconds < 0.03) before.weight += 0.5 * onset.weight;
    else joined.push({ ...onset });
  }
  return { onsets: joined, beats: times.slice(0, quarters) };
}

/** F-measure of found beats against true ones. */
function measure(found: readonly number[], truth: readonly number[]): number {
  let right = 0;
  let at = 0;
  for (const beat of found) {
    while (at < truth.length && truth[at]! < beat - RIGHT) at++;
    if (at < truth.length && Math.abs(truth[at]! - beat) <= RIGHT) {
      right++;
      at++;
    }
  }
  return (2 * right) / Math.max(1, found.length + truth.length);
}

const pulse = (from: number, step: number, to: number): number[] =>
  Array.from({ length: Math.max(0, Math.floor((to - from) / step) + 1) }, (_, at) => from + at * step);

/** The same at half and double the level of the beat, whichever is best. */
const anyLevel = (found: readonly number[], truth: readonly number[]): number => {
  const halves = truth.flatMap((beat, at) => (at === 0 ? [beat] : [(beat + truth[at - 1]!) / 2, beat]));
  const doubles = [0, 1].map((from) => truth.filter((_, at) => at % 2 === from));
  return Math.max(...[truth, halves, ...doubles].map((level) => measure(found, level)));
};

const works = loadWorks().filter((_, index) => index % 2 === half);
let sums = { found: 0, level: 0, file: 0, steady: 0 };
for (const work of works) {
  const { onsets, beats } = playFreely(work, 1);
  const found = findBeats(onsets)?.seconds ?? [];
  const end = beats.at(-1)!;
  const mean = (end - beats[0]!) / (beats.length - 1);
  const steady = Math.max(
    ...[0, 0.25, 0.5, 0.75].map((phase) => measure(pulse(0.7 + phase * mean, mean, end), beats)),
  );
  sums = {
    found: sums.found + measure(found, beats),
    level: sums.level + anyLevel(found, beats),
    file: sums.file + measure(pulse(0, 0.5, end), beats),
    steady: sums.steady + steady,
  };
  if (process.env.BY)
    console.log(work.name, measure(found, beats).toFixed(2), anyLevel(found, beats).toFixed(2));
}
const percent = (sum: number) => Number(((100 * sum) / works.length).toFixed(1));
console.log(`${works.length} works, seed 1: F-measure of quarter-note beats within 70 ms, percent`);
console.table({
  'beats found': percent(sums.found),
  'beats found, at their own level (half, double)': percent(sums.level),
  'the file’s own beats': percent(sums.file),
  'a steady pulse at the true mean tempo': percent(sums.steady),
});

/** Works played to a click that the file does not have: whether one even pace is found for them, and which. */
const clicked = { works: 0, 'one pace': 0, 'the click, or two or half of it': 0, 'the click itself': 0 };
for (const work of works) {
  const { performance: played } = layOutFile(readSmf(perform(work, 2, 1).bytes), EMPTY_BRIEF);
  const beats = findBeats(onsetsOf(played))?.seconds ?? [];
  const steps = beats.slice(1).map((beat, at) => beat - beats[at]!);
  clicked.works++;
  if (steps.length === 0 || Math.max(...steps) - Math.min(...steps) > 1e-6) continue;
  clicked['one pace']++;
  const clicks = (steps[0]! * work.quartersPerMinute) / 60;
  const isNear = (count: number) => Math.abs(clicks / count - 1) < 0.001;
  if ([0.5, 1, 2].some(isNear)) clicked['the click, or two or half of it']++;
  if (isNear(1)) clicked['the click itself']++;
}
console.log('Played to a click that the file does not have, 15 ms of jitter (level 2)');
console.table([clicked]);

/** Meter and upbeat of works that come without a meter, played as on level 3 of the rhythm bench. */
const names: Record<string, [right: number, both: number, of: number]> = { all: [0, 0, 0] };
/** What stock-taking proposes without being asked, and how much of that is right; what it should have proposed. */
const offered = { proposed: 0, 'right, with the upbeat': 0, 'should be': 0 };
for (const work of works) {
  const performed = perform(work, 3, 1);
  const smf = readSmf(performed.bytes);
  const tracks = smf.tracks.map(({ events }) => ({
    events: events.filter(({ kind }) => kind !== 'timeSignature'),
  }));
  const desk = layOutFile({ ...smf, tracks }, EMPTY_BRIEF);
  const [best] = proposeMeters(desk.performance);
  const second = work.bars[1]!;
  const meter = `${second.numerator}/${second.denominator}`;
  const right = best && `${best.meter.numerator}/${best.meter.denominator}` === meter;
  const both = right && best.upbeatEighths === performed.upbeatQuarters * 2;
  for (const name of ['all', meter]) {
    const row = names[name] ?? [0, 0, 0];
    names[name] = [row[0] + (right ? 1 : 0), row[1] + (both ? 1 : 0), row[2] + 1];
  }
  if (meter !== '4/4' || performed.upbeatQuarters > 0) offered['should be']++;
  const [oddity] = findOddities(desk.performance, desk.decisions).filter(
    ({ kind }) => kind === 'default-meter',
  );
  if (oddity) {
    offered.proposed++;
    if (both) offered['right, with the upbeat']++;
  }
  if (process.env.BY) console.log(work.name, meter, performed.upbeatQuarters, JSON.stringify(best));
}
console.log('Meters proposed; the file’s default is 4/4 without upbeat');
console.table(
  Object.fromEntries(
    Object.entries(names).map(([name, [right, both, of]]) => [
      name,
      { works: of, meter: right, 'meter and upbeat': both },
    ]),
  ),
);
console.log('Meters that stock-taking proposes without being asked');
console.table([offered]);
