/**
 * How a band is heard in a recording of all of it: `npm run bench:mixes`.
 *
 * Data: made songs (bench/mixes/song.ts): drums, bass, comping, a pad and a tune over progressions of songs, forty
 * seconds each, at tempos of 72 to 152 that wander a little, in four or three, straight or swung, rendered through a
 * bank and mixed at levels of their own, half in a small room, under noise 40 to 60 dB below the loudest. Seeds 101 to
 * 130 were tuned on; SEED (201) begins those that are judged, SONGS (8) says how many. BANK=fluid-soundfont-gm plays
 * them through recorded samples (a Debian package). Made songs are easier than records by far: one singer is a sampled
 * instrument without words, nothing is compressed or panned, chords are those of songbooks, the tempo is a band's with
 * a click in its ear.
 *
 * Measures: those of music information retrieval, as the library mir_eval defines them: beats and downbeats by F within
 * 70 ms; chords by the share of time with root and third (majmin), and with the seventh too; the tune by overall
 * accuracy of moments of 10 ms; bass notes by F with key and onset within 50 ms. Beside them the plain way: beats a
 * beat at the strongest repeat and nothing else, each beat's chord the template that is nearest, the highest key that
 * sounds.
 */
import { noteModel } from '../src/cli/note-model';
import { finished } from '../src/core/basics/steps';
import { kindTones } from '../src/core/model/chord-tones';
import { pictureOf } from '../src/core/recording/constant-q';
import { AS_HEARD, take } from '../src/core/recording/heard';
import { type Hearing, hearKeys } from '../src/core/recording/hearing';
import { hearMix } from '../src/core/recording/mix';
import { fifthsOf } from '../src/core/recording/mix/arrange';
import { soundsOf } from '../src/core/recording/mix/chords';
import { LOWEST_KEY, MODEL_KEYS } from '../src/core/recording/model-form';
import { found } from '../tests/helpers/note-measures';
import { makeSong, RATE, type Song } from './mixes/song';
import { type BankName, bankOf } from './recordings/takes';

const SEED = Number(process.env.SEED ?? 201);
const SONGS = Number(process.env.SONGS ?? 8);
const BANK = (process.env.BANK ?? 'ours') as BankName;
const NEAR = 0.07;

/** F of moments that come in order. */
function matched(truth: readonly number[], heard: readonly number[]): number {
  let [hits, one, other] = [0, 0, 0];
  while (one < truth.length && other < heard.length) {
    const away = truth[one]! - heard[other]!;
    if (Math.abs(away) <= NEAR) {
      hits++;
      one++;
      other++;
    } else if (away < 0) one++;
    else other++;
  }
  return (2 * hits) / Math.max(1, truth.length + heard.length);
}

type Named = { on: number; off: number; root: number; kind: string };
const third = (kind: string) => kindTones(kind).find((tone) => tone === 3 || tone === 4);

/** Share of the time of a song in which a chord is the true one. */
function chordShares(song: Song, chords: readonly Named[]) {
  let [all, thirds, sevenths] = [0, 0, 0];
  for (let at = song.chords[0]!.on; at < song.chords.at(-1)!.off; at += 0.02) {
    const truth = song.chords.find(({ on, off }) => at >= on && at < off);
    if (!truth) continue;
    all++;
    const heard = chords.find(({ on, off }) => at >= on && at < off);
    if (heard?.root !== truth.root) continue;
    if (third(heard.kind) === third(truth.kind)) thirds++;
    if (heard.kind === truth.kind) sevenths++;
  }
  return { thirds: thirds / all, sevenths: sevenths / all };
}

/** Each beat's nearest template of major and minor. */
function plainChords(hearing: Hearing, beats: readonly number[]): Named[] {
  return soundsOf(hearing, beats).map(({ weights }, at): Named => {
    let best = { worth: -1, root: 0, kind: 'major' };
    for (const kind of ['major', 'minor'])
      for (let root = 0; root < 12; root++) {
        const worth = kindTones(kind).reduce((sum, tone) => sum + weights[(root + tone) % 12]!, 0);
        if (worth > best.worth) best = { worth, root, kind };
      }
    return { on: beats[at]!, off: beats[at + 1]!, root: best.root, kind: best.kind };
  });
}

const TENTH = 100;
/** The key that sounds at each hundredth of a second; 0 for none. */
function rowOf(notes: readonly { on: number; off: number; key: number }[], count: number): Int16Array {
  const row = new Int16Array(count);
  for (const { on, off, key } of notes)
    for (let at = Math.round(on * TENTH); at < off * TENTH && at < count; at++) row[at] = key;
  return row;
}

const same = (one: Int16Array, other: Int16Array): number =>
  one.reduce((sum, key, at) => sum + (key === other[at] ? 1 : 0), 0) / one.length;

function highest({ frames, perSecond, count: moments }: Hearing, count: number): Int16Array {
  return Int16Array.from({ length: count }, (_, at) => {
    const moment = Math.min(moments - 1, Math.round((at / TENTH) * perSecond));
    for (let key = MODEL_KEYS - 1; key >= 0; key--)
      if (frames[moment * MODEL_KEYS + key]! > 0.3) return key + LOWEST_KEY;
    return 0;
  });
}

const bank = bankOf(BANK);
const model = await noteModel();
const rows: Record<string, Record<string, number>> = {};
let [took, seconds] = [0, 0];
for (let index = 0; index < SONGS; index++) {
  const song = makeSong(bank, SEED + index);
  const began = performance.now();
  const sound = { samples: song.samples, rate: RATE };
  const hearing = finished(hearKeys(song.samples, model));
  const picture = finished(pictureOf(sound, hearing.perSecond));
  const mix = finished(hearMix(sound, hearing, picture));
  took += performance.now() - began;
  seconds += song.samples.length / RATE;
  const { beats, perBar, first } = mix;
  const downbeats = beats.filter((_, at) => (((at - first) % perBar) + perBar) % perBar === 0);
  const shares = chordShares(song, mix.chords);
  const plain = chordShares(song, plainChords(hearing, [...beats, beats.at(-1)! + 0.5]));
  const count = Math.round(song.chords.at(-1)!.off * TENTH);
  const settings = { ...AS_HEARD, rules: [] };
  const tune = take(mix.tune, settings).notes;
  const bass = take(mix.bass, settings).notes;
  const truth = rowOf(song.tune, count);
  const signature = (((song.tonic + (song.minor ? 3 : 0)) * 7) % 12) + 12;
  rows[song.name] = {
    beats: matched(song.beats, beats),
    downbeats: matched(song.downbeats, downbeats),
    'chords, thirds': shares.thirds,
    'plain way': plain.thirds,
    'with sevenths': shares.sevenths,
    tune: same(truth, rowOf(tune, count)),
    'highest key': same(truth, highest(hearing, count)),
    'tune notes': (2 * found(song.tune, tune, false)) / (song.tune.length + tune.length),
    'bass notes': (2 * found(song.bass, bass, false)) / (song.bass.length + bass.length),
    signature: (fifthsOf(mix.chords) - signature + 24) % 12 === 0 ? 1 : 0,
  };
}
const names = Object.keys(Object.values(rows)[0] ?? {});
const all = Object.values(rows);
rows.mean = Object.fromEntries(
  names.map((name) => [name, all.reduce((sum, row) => sum + row[name]!, 0) / all.length]),
);
console.log(`Made songs, bank ${BANK}, seeds ${SEED} to ${SEED + SONGS - 1}`);
console.log(
  'Aims: beats 0.95, downbeats 0.88, chords 0.85, with sevenths 0.70, tune 0.80, bass 0.80, signature 0.90',
);
console.table(
  Object.fromEntries(
    Object.entries(rows).map(([name, row]) => [
      name,
      Object.fromEntries(Object.entries(row).map(([key, value]) => [key, value.toFixed(3)])),
    ]),
  ),
);
console.log(`${(took / 1000 / (seconds / 60)).toFixed(1)} s a minute of sound (budget 40)`);
console.log(`${Math.round(process.resourceUsage().maxRSS / 1024)} MB at most (budget 1,000)`);
