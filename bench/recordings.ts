/**
 * How well the notes of a recording are heard: `npm run bench:recordings`.
 *
 * Data: the works of works.json, public-domain works (scripts/rhythm-facts.py), 40 s of each, and made chords and
 * riffs of a guitar, played by a seeded player and rendered through the bank that ships (bench/recordings/takes.ts),
 * at any level, half in a small room, under noise 40 to 60 dB below the loudest. Works and seed that are judged were not
 * tuned on (`HALF=tuned SEED=1` shows what was; `ONLY=guitars` one kind). `BANK=fluid-soundfont-gm` plays the same
 * through recorded samples (a Debian package); weights that were learnt without that bank show what is heard of
 * instruments that are not known (bench/recordings-fit.ts). Rendered sound is easier than recorded sound all the same:
 * no breath, no bow, no sympathetic strings, every note of a key the same sample. Where samples begin slowly, as bowed
 * and sung ones do, onsets are heard later than the key was pressed, and are counted as wrong from 50 ms on.
 *
 * On the page: what is heard as it is guessed, tidied without any decision; a place is right where the distance to the
 * next attack is that of the score, at whatever scale beats were found.
 *
 * Measures: those of note transcription in music information retrieval, as the library mir_eval defines them: a note is
 * found with its key and its onset within 50 ms; with offsets also where it ends within 50 ms or a fifth of its length. Beside
 * it the plain way: what the package of the model makes of what it hears, with its own settings; for a line, a note wherever
 * the rounded pitch of the moment is the same.
 */
import { outputToNotesPoly } from '@spotify/basic-pitch';
import { noteModel } from '../src/cli/note-model';
import { finished } from '../src/core/basics/steps';
import { AS_HEARD, take } from '../src/core/recording/heard';
import { type Hearing, hearKeys } from '../src/core/recording/hearing';
import { MODEL_KEYS, type ModelHearing, type NoteModel } from '../src/core/recording/model-form';
import { trackPitch } from '../src/core/recording/pitch-track';
import { resampled } from '../src/core/recording/resample';
import { type Heard, hearLine, listen } from '../src/core/sources/audio/listen';
import { found, type Stretched } from '../tests/helpers/note-measures';
import { judgePage } from './recordings/page';
import { type BankName, bankOf, guitars, lines, others, pianos, RATE } from './recordings/takes';

const SEED = Number(process.env.SEED ?? 2);
const isTuned = process.env.HALF === 'tuned';
const BANK = (process.env.BANK ?? 'ours') as BankName;
/** [name, its takes, how they are read, F by onset that is aimed at] */
const KINDS = [
  ['lines', lines, 'line', 0.96],
  ['pianos', pianos, 'many', 0.92],
  ['guitars', guitars, 'many', 0.88],
  ['others', others, 'many', null],
] as const;

interface Count {
  truth: number;
  heard: number;
  plain: number;
  byOnset: number;
  byBoth: number;
  plainFound: number;
  written: number;
  distances: number;
  lengths: number;
  takes: number;
  guesses: number;
  guessed: number;
}
const none = (): Count => ({
  truth: 0,
  heard: 0,
  plain: 0,
  byOnset: 0,
  byBoth: 0,
  plainFound: 0,
  written: 0,
  distances: 0,
  lengths: 0,
  takes: 0,
  guesses: 0,
  guessed: 0,
});

/** A note wherever the rounded pitch stays the same for a twentieth of a second. */
function plainLine(samples: Float32Array): Stretched[] {
  const { keys, perSecond } = finished(trackPitch(resampled({ samples, rate: RATE }, 16_000)));
  const notes: Stretched[] = [];
  for (let from = 0; from < keys.length; ) {
    let to = from + 1;
    while (to < keys.length && Math.round(keys[to]!) === Math.round(keys[from]!)) to++;
    if (!Number.isNaN(keys[from]!) && to - from >= perSecond / 20)
      notes.push({ on: from / perSecond, off: to / perSecond, key: Math.round(keys[from]!) });
    from = to;
  }
  return notes;
}

/** What the package makes of it. */
function plainMany({ frames, onsets, count, perSecond }: Hearing): Stretched[] {
  const rows = (of: Float32Array) =>
    Array.from({ length: count }, (_, at) => [...of.subarray(at * MODEL_KEYS, (at + 1) * MODEL_KEYS)]);
  return outputToNotesPoly(rows(frames), rows(onsets)).map(({ startFrame, durationFrames, pitchMidi }) => ({
    on: startFrame / perSecond,
    off: (startFrame + durationFrames) / perSecond,
    key: pitchMidi,
  }));
}

const NO_FACTS = { seconds: 0, peak: 0, clipped: 0, silentBefore: 0, silentAfter: 0 };
const share = (right: number, of: number) => (of === 0 ? '' : (right / of).toFixed(3));
const f = (right: number, ...all: number[]) =>
  ((2 * right) / all.reduce((sum, each) => sum + each, 0)).toFixed(3);

const bank = bankOf(BANK);
const model = await noteModel();
for (const [kind, takes, read, aim] of KINDS) {
  if (process.env.ONLY && process.env.ONLY !== kind) continue;
  const counts = new Map<string, Count>();
  let [took, seconds, index] = [0, 0, 0];
  for (const { name, instrument, truth, samples } of takes(bank, isTuned, SEED)) {
    const before = performance.now();
    const windows: ModelHearing[] = [];
    const keeping: NoteModel = {
      hear: (window) => {
        const heard = model.hear(window);
        windows.push(heard);
        return heard;
      },
    };
    // Lines are many: the model, which only guesses their kind, hears every eighth.
    const isLineAlone = read === 'line' && index++ % 8 > 0;
    const heard: Heard = isLineAlone
      ? {
          ...finished(hearLine({ samples, rate: RATE })),
          facts: NO_FACTS,
          guess: 'line',
          many: [],
          mix: null,
        }
      : finished(listen({ samples, rate: RATE }, keeping));
    if (!isLineAlone) {
      took += performance.now() - before;
      seconds += samples.length / RATE;
    }
    const { notes } = take(heard[read], AS_HEARD);
    const again = windows.values();
    const plain =
      read === 'line'
        ? plainLine(samples)
        : plainMany(finished(hearKeys(samples, { hear: () => again.next().value! })));
    const count = counts.get(instrument) ?? none();
    count.truth += truth.length;
    count.heard += notes.length;
    count.plain += plain.length;
    count.byOnset += found(truth, notes, false);
    count.byBoth += found(truth, notes, true);
    count.plainFound += found(truth, plain, false);
    const page = judgePage(heard, truth);
    count.written += page.notes;
    count.distances += page.distances;
    count.lengths += page.lengths;
    count.takes++;
    if (!isLineAlone) {
      count.guesses++;
      count.guessed += heard.guess === read ? 1 : 0;
    }
    counts.set(instrument, count);
    if (process.env.BY)
      console.log(name, instrument, f(found(truth, notes, false), truth.length, notes.length));
  }
  const all = none();
  for (const count of counts.values())
    for (const key of Object.keys(all) as (keyof Count)[]) all[key] += count[key];
  console.log(
    `${kind}, ${isTuned ? 'tuned' : 'judged'} takes, bank ${BANK}, seed ${SEED}${aim === null ? '' : ` (aim ${aim} by onset)`}`,
  );
  console.table(
    Object.fromEntries(
      [...counts, ...(counts.size > 1 ? [['all', all] as const] : [])].map(([name, each]) => [
        name,
        {
          takes: each.takes,
          notes: each.truth,
          'by onset': f(each.byOnset, each.truth, each.heard),
          'with offsets': f(each.byBoth, each.truth, each.heard),
          'plain way': f(each.plainFound, each.truth, each.plain),
          'on the page: places': share(each.distances, each.written),
          lengths: share(each.lengths, each.written),
          'kind guessed': `${each.guessed} of ${each.guesses}`,
        },
      ]),
    ),
  );
  console.log(`${(took / 1000 / (seconds / 60)).toFixed(1)} s a minute of sound (budget 30)`);
}
console.log(`${Math.round(process.resourceUsage().maxRSS / 1024)} MB at most (budget 1,000)`);
