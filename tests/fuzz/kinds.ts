import 'fake-indexeddb/auto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readSound } from '@/cli/sound';
import { UsageError } from '@/cli/usage-error';
import { packZip } from '@/core/basics/zip';
import { LINE_UPS, lineUpText, readLineUp } from '@/core/cast/line-ups';
import { BadPrecedentsError, parsePrecedents, writePrecedents } from '@/core/cast/precedents';
import { BadBriefError, type Brief, EMPTY_BRIEF, parseBrief } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import { EmptyScoreError } from '@/core/deliver/score';
import { BadKitError, GENERAL_MIDI_KIT, kitMapToCsv, parseKitMap } from '@/core/instruments/kit-map';
import { factsOf, levelsOf } from '@/core/recording/levels';
import { BadBankError, readBank } from '@/core/sound/render';
import { BadSourceError } from '@/core/sources';
import { writeSmf } from '@/core/sources/smf/write';
import { Workbench } from '@/core/workbench/workbench';
import { BadBackupError, packBackup, unpackBackup } from '@/store/backup';
import { database } from '@/store/database';
import { addJob, listJobs } from '@/store/jobs';
import { checkMessage } from '@/workers/check-message';
import { EngraveRequest } from '@/workers/engrave-request';
import * as messages from '@/workers/messages';
import { madeFile, madeTrack, meterAt, type Stroke } from '../helpers/made-file';
import { RICH } from '../helpers/rich-document';
import { bytesOf, type Chance, damaged } from './chance';
import { type Known, makeBrief, makeMessage } from './make-brief';
import { makeMusicXml } from './make-score';
import { makeSmf } from './make-smf';
import { makeBank, makeWav } from './make-sound';
import { wholeWay } from './whole-way';

/** One kind of input: how it is made, and all that the product does with it. */
export interface FuzzKind {
  make: (chance: Chance) => Uint8Array | Promise<Uint8Array>;
  /** @returns what came of it in a word; @throws where that is neither a result nor a sentence for people */
  through: (bytes: Uint8Array) => string | Promise<string>;
}

/** Errors whose message is a sentence for people. */
const SENTENCES = [
  BadSourceError,
  BadBriefError,
  BadBackupError,
  BadKitError,
  BadBankError,
  BadPrecedentsError,
  EmptyScoreError,
  UsageError,
];

/** Runs something to its result, or to its sentence. */
async function told(work: () => string | Promise<string>): Promise<string> {
  try {
    return await work();
  } catch (error) {
    if (!SENTENCES.some((each) => error instanceof each)) throw error;
    const { message } = error as Error;
    // A sentence has an end, and says nothing of the machine.
    if (!/[.!?…”]$/.test(message) || /\n|\bat .*:\d+:\d+|undefined|\[object/.test(message))
      throw new Error(`No sentence: ${message}`, { cause: error });
    return 'refused';
  }
}

const fixture = (name: string) => readFileSync(join('tests/fixtures/sounds', name));
const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes);
const fromJson = (bytes: Uint8Array): unknown => JSON.parse(textOf(bytes));
const json = (data: unknown) => bytesOf(JSON.stringify(data) ?? 'null');

const line = (from: number, step = 240): Stroke[] =>
  Array.from({ length: 40 }, (_, at): Stroke => [at * step, at * step + 200, from + ((at * 5) % 12)]);

/** A small job of a line, drums and a keyboard, so that a brief takes as long as its decisions do. */
const PLAYED = writeSmf(
  madeFile(
    { events: [meterAt(0, 4, 4), meterAt(5760, 3, 4)] },
    madeTrack('Violin', 0, line(62)),
    madeTrack('Drums', 9, line(36)),
    madeTrack('Piano', 2, [...line(48), ...line(64)]),
  ),
);
const READ = bytesOf(RICH);
const knownOf = new Map<Uint8Array, Known>();

/** The ids of a job. */
function known(source: Uint8Array, name: string): Known {
  const found = knownOf.get(source);
  if (found) return found;
  const { performance } = new Workbench([{ id: '1', version: 1, name, bytes: source }]).deskUnder(
    EMPTY_BRIEF,
  );
  const made = {
    strands: performance.strands.map(({ id }) => id),
    notes: performance.strands.flatMap(({ notes }) => notes.slice(0, 30).map(({ id }) => id)),
  };
  knownOf.set(source, made);
  return made;
}

const underBrief = (source: Uint8Array, name: string): FuzzKind => ({
  make: (chance) => json(makeBrief(chance, known(source, name))),
  through: (bytes) =>
    told(() => {
      const data = fromJson(bytes) as Brief;
      let brief = EMPTY_BRIEF;
      let count = 0;
      // What a brief refuses is left out one by one, so that what it takes is tried all the same.
      const directives = Array.isArray(data?.directives) ? data.directives : [];
      for (const each of directives)
        try {
          brief = withDirectives(brief, parseBrief({ ...EMPTY_BRIEF, directives: [each] }).directives);
          count++;
        } catch (error) {
          if (!(error instanceof BadBriefError)) throw error;
        }
      parseBrief({ ...data, directives: brief.directives });
      wholeWay([{ id: '1', version: 1, name, bytes: source }], brief, false);
      return count > 0 ? 'done' : 'refused';
    }),
});

const CLASSES = Object.entries({ ...messages, EngraveRequest }).filter(
  ([name, value]) => /Request$/.test(name) && typeof value === 'function',
) as [string, new () => object][];

const sounds = (name: string): FuzzKind => ({
  make: (chance) => {
    const bytes = new Uint8Array(fixture(name));
    return chance.is(0.02) ? bytes : damaged(bytes, chance);
  },
  through: (bytes) =>
    told(async () => {
      const sound = await readSound(name, bytes);
      checkSound(sound.samples, factsOf(sound), levelsOf(sound));
      return 'done';
    }),
});

function checkSound(samples: Float32Array, facts: object, levels: object): void {
  if (samples.some((sample) => !Number.isFinite(sample))) throw new Error('A sample is no number.');
  if (/null|NaN/.test(JSON.stringify(facts))) throw new Error('A fact of the sound is no number.');
  if (
    Object.values(levels).some(
      (each) => ArrayBuffer.isView(each) && each.byteLength === 0 && samples.length > 0,
    )
  )
    throw new Error('The sound has no outline.');
}

const texts = (
  good: readonly string[],
  read: (text: string) => unknown,
  isSentence?: (error: unknown) => boolean,
): FuzzKind => ({
  make: (chance) => {
    const text = chance.pick(good);
    const bytes = bytesOf(text);
    return chance.is(0.5) ? damaged(bytes, chance) : bytesOf(shakenText(text, chance));
  },
  through: (bytes) =>
    told(() => {
      try {
        read(textOf(bytes));
        return 'done';
      } catch (error) {
        if (isSentence?.(error)) return 'refused';
        throw error;
      }
    }),
});

/** Text with other numbers and words in it. */
function shakenText(text: string, chance: Chance): string {
  const places = [...text.matchAll(/"[^"]*"|-?\d+(\.\d+)?|[A-Za-z]+/g)];
  if (places.length === 0) return text;
  let out = text;
  for (let count = chance.between(1, 4); count > 0; count--) {
    const { index, 0: own } = chance.pick(places);
    const value = chance.pick([
      '-1',
      '0',
      '1e9',
      'null',
      '""',
      '[]',
      '{}',
      '"x"',
      '999999999999',
      'NaN',
      '=1',
      own + own,
    ]);
    out = out.slice(0, index) + value + out.slice(index + own.length);
  }
  return out;
}

export const FUZZ_KINDS: Readonly<Record<string, FuzzKind>> = {
  smf: {
    make: makeSmf,
    through: (bytes) => told(() => wholeWay([{ id: '1', version: 1, name: 'x.mid', bytes }], EMPTY_BRIEF)),
  },
  musicxml: {
    make: makeMusicXml,
    through: (bytes) =>
      told(() => wholeWay([{ id: '1', version: 1, name: 'x.musicxml', bytes }], EMPTY_BRIEF)),
  },
  brief: underBrief(PLAYED, 'played.mid'),
  'score-brief': underBrief(READ, 'rich.musicxml'),
  message: {
    make: (chance) => {
      const [name, type] = chance.pick(CLASSES);
      return json([name, makeMessage(type, chance, { strands: ['1/t2c1'], notes: ['1/t2c1/3'] })]);
    },
    through: (bytes) => {
      const [name, data] = fromJson(bytes) as [string, unknown];
      const type = CLASSES.find(([each]) => each === name)?.[1];
      if (!type) return 'refused';
      try {
        checkMessage(type, data);
        return 'done';
      } catch (error) {
        if (error instanceof TypeError && !/Cannot read|is not a function|undefined/.test(error.message))
          return 'refused';
        throw error;
      }
    },
  },
  backup: {
    make: async (chance) => {
      await Promise.all(database.tables.map((table) => table.clear()));
      for (let at = chance.between(1, 3); at > 0; at--)
        await addJob(
          {
            title: `Cue ${at}`,
            sourceName: `${at}.mid`,
            bytes: Uint8Array.from([77, 84, at]),
            strands: 1,
            notes: 1,
          },
          `job-${at}`,
        );
      const { bytes } = await packBackup();
      if (chance.is(0.3))
        return packZip({ 'jobs.json': bytesOf(shakenText(JSON.stringify(manifestLike(chance)), chance)) });
      return chance.is(0.1) ? bytes : damaged(bytes, chance, 3);
    },
    through: (bytes) =>
      told(async () => {
        await Promise.all(database.tables.map((table) => table.clear()));
        const { added, known: there, damaged: told_ } = await unpackBackup(bytes);
        const jobs = await listJobs();
        if (jobs.length !== added || there !== 0) throw new Error('What came in is not what was said.');
        // What came in opens: it has a source that is whole, and goes into a backup again.
        if (added > 0) {
          const again = await packBackup();
          if (again.jobs !== added)
            throw new Error(`What came in does not go out again: ${again.leftOut.join(' ')}`);
        }
        return told_.length > 0 ? 'in part' : 'done';
      }),
  },
  kit: texts([kitMapToCsv(GENERAL_MIDI_KIT), 'key,name\n36,Kick\n38,Snare\n'], (text) =>
    parseKitMap(text, 'x'),
  ),
  'line-up': texts(
    LINE_UPS.slice(0, 4).map(lineUpText),
    readLineUp,
    (error) => error instanceof Error && /^This is no line-up/.test(error.message),
  ),
  precedents: texts(
    [
      writePrecedents([
        { key: 'vlns', name: 'Vlns', jobId: 'a', job: 'A', at: 1, instrument: 'violin' } as never,
      ]),
    ],
    parsePrecedents,
  ),
  wav: {
    make: makeWav,
    through: (bytes) =>
      told(async () => {
        const sound = await readSound('x.wav', bytes);
        checkSound(sound.samples, factsOf(sound), levelsOf(sound));
        return 'done';
      }),
  },
  flac: sounds('tones.flac'),
  ogg: sounds('tones.ogg'),
  opus: sounds('tones.opus'),
  mp3: sounds('tones.mp3'),
  soundfont: {
    make: (chance) => {
      const bytes = makeBank();
      return chance.is(0.02) ? bytes : damaged(bytes, chance);
    },
    through: (bytes) =>
      told(() => {
        readBank(bytes.slice().buffer as ArrayBuffer);
        return 'done';
      }),
  },
};

/** A list of jobs as a backup has it. */
function manifestLike(chance: Chance): object {
  const job = (id: string) => ({
    job: {
      id,
      title: id,
      sourceName: 'x.mid',
      sourceBytes: 1,
      strands: 1,
      notes: 1,
      createdAt: 1,
      changedAt: 1,
    },
    sources: [{ source: '1', version: 1, name: 'x.mid', addedAt: 1, file: `sources/${id}/1-1` }],
    brief: { format: 'dragoman-brief', version: 2, directives: [] },
    position: 0,
    steps: [],
  });
  return {
    format: 'dragoman-jobs',
    version: 1,
    jobs: chance.times(chance.between(0, 3), (at) => job(`j${at}`)),
  };
}
