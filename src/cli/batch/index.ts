import { createHash } from 'node:crypto';
import { type Dirent, existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { dirname, extname, join, relative, resolve, sep } from 'node:path';
import { parseArgs } from 'node:util';
import { counted } from '../../core/basics/words';
import { EMPTY_BRIEF } from '../../core/decisions/brief';
import { readBrief, readFile } from '../files';
import { UsageError } from '../usage-error';
import { Hand } from './crew';
import { Journal } from './journal';
import { type Made, Outcome, WANTED } from './outcome';
import { isClean, writeReport } from './report';

/** Extensions of what can be opened, as people name such files. */
const SOURCES = /\.(?:mid|midi|smf|kar|rmi|musicxml|xml|mxl|wav|flac|ogg|oga|opus|mp3)$/i;

/** Seconds for a file, unless somebody says otherwise. */
const LIMIT = '900';

/** Of the work that is divided by several processes, the share of this one: `which` from 1. */
interface Share {
  which: number;
  of: number;
}

/**
 * Makes something of every file of a folder and what lies in it, on all cores; ends with 0 where each was made and all
 * its notes agree, with 1 where not.
 *
 * @param program the script that its threads run
 */
export async function batch(args: string[], program: string): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    options: {
      to: { type: 'string' },
      brief: { type: 'string' },
      workers: { type: 'string' },
      share: { type: 'string', default: '1/1' },
      limit: { type: 'string', default: LIMIT },
      out: { type: 'string', short: 'o' },
    },
    allowPositionals: true,
  });
  const [folder, ...rest] = positionals;
  if (!folder || rest.length > 0) throw new UsageError('batch takes one folder.');
  if (!isFolder(folder)) throw new UsageError(`${folder} is not a folder.`);
  const to = WANTED.find((each) => each === values.to);
  if (!to) throw new UsageError(`--to takes ${WANTED.join(', ')}.`);
  const { out } = values;
  if (!out) throw new UsageError('batch needs -o FOLDER.');
  if (existsSync(out) && !isFolder(out)) throw new UsageError(`${out} is not a folder.`);
  const workers = whole(values.workers ?? String(availableParallelism()), '--workers');
  const limit = whole(values.limit, '--limit');
  const share = shareOf(values.share);
  const brief = values.brief ? readBrief(values.brief) : EMPTY_BRIEF;

  const files = filesBelow(folder, resolve(out));
  if (files.length === 0) throw new UsageError(`There is nothing in ${folder} that can be opened.`);
  const stems = stemsOf(files);
  const journal = new Journal(out, `${share.which}-of-${share.of}`);
  // Another program, or another order, makes other files.
  const order = digest(JSON.stringify([to, brief]), ...scriptsBeside(program));
  const known = journal.read();
  const own = files.filter((_, at) => at % share.of === share.which - 1);
  const taskOf = (file: string) => digest(order, readFile(join(folder, file)));
  const isDone = (file: string): boolean => {
    const before = known.get(file);
    if (!before || before.state === 'failed' || before.task !== taskOf(file)) return false;
    return before.state === 'refused' || existsSync(join(out, before.target));
  };
  const waiting = own.filter((file) => !isDone(file));
  const done = own.length - waiting.length;
  if (done > 0) say(`${done} of ${counted(own.length, 'file')} done before.`);

  let next = 0;
  let finished = done;
  const hands = Math.min(workers, waiting.length);
  const work = async (): Promise<void> => {
    const hand = new Hand(program, hands, limit);
    for (let at = next++; at < waiting.length; at = next++) {
      const file = waiting[at]!;
      const task = taskOf(file);
      const began = Date.now();
      const made = await hand.do({
        path: join(folder, file),
        to,
        stem: join(out, stems.get(file)!),
        scratch: journal.scratch,
        brief,
      });
      const target = made.target && relative(out, made.target).split(sep).join('/');
      const seconds = (Date.now() - began) / 1000;
      journal.add(Object.assign(new Outcome(), { file, task, ...made, target, seconds }));
      say(`${++finished} of ${own.length}: ${file}: ${told(made)}, ${seconds.toFixed(1)} s`);
    }
    hand.stop();
  };
  await Promise.all(Array.from({ length: hands }, work));

  const outcomes = journal.read();
  writeReport(out, journal.scratch, files, outcomes);
  const bad = own.filter((file) => {
    const outcome = outcomes.get(file);
    return !outcome || !isClean(outcome);
  });
  say(
    bad.length === 0
      ? `All ${own.length} made, and all their notes agree.`
      : `${counted(bad.length, 'file')} of ${own.length} not made, or with notes that do not agree: see ${join(out, 'report.csv')}.`,
  );
  return bad.length > 0 ? 1 : 0;
}

const say = (line: string): void => void process.stderr.write(`${line}\n`);

const told = ({ state, why, notes, agree, meant, wrong, doubtful }: Made): string =>
  state === 'made'
    ? `${agree + meant} of ${counted(notes, 'note')} agree, ${wrong} wrong, ${doubtful} doubtful`
    : `${state}: ${why}`;

const isFolder = (path: string): boolean => statSync(path, { throwIfNoEntry: false })?.isDirectory() ?? false;

const digest = (...parts: (string | Uint8Array)[]): string => {
  const hash = createHash('sha256');
  for (const part of parts) hash.update(part);
  return hash.digest('hex');
};

/** All that a program is made of. */
const scriptsBeside = (program: string): Uint8Array[] =>
  readdirSync(dirname(program))
    .filter((name) => name.endsWith('.mjs'))
    .sort()
    .map((name) => readFileSync(join(dirname(program), name)));

/** A whole number from 1. */
function whole(text: string, option: string): number {
  if (!/^[1-9]\d{0,5}$/.test(text)) throw new UsageError(`${option} takes a whole number from 1.`);
  return Number(text);
}

function shareOf(text: string): Share {
  const [, which, of] = /^([1-9]\d{0,5})\/([1-9]\d{0,5})$/.exec(text) ?? [];
  if (!which || !of || Number(which) > Number(of))
    throw new UsageError('--share takes which of how many, as 2/8.');
  return { which: Number(which), of: Number(of) };
}

function entriesOf(folder: string): Dirent[] {
  try {
    return readdirSync(folder, { withFileTypes: true });
  } catch {
    throw new UsageError(`${folder} cannot be read.`);
  }
}

/** What can be opened in a folder and below, sorted, with slashes; nothing hidden, and nothing of what is made. */
function filesBelow(folder: string, out: string): string[] {
  const found: string[] = [];
  const look = (at: string) => {
    for (const entry of entriesOf(at)) {
      const path = join(at, entry.name);
      if (entry.name.startsWith('.') || resolve(path) === out) continue;
      // Links to folders are not followed: they may lead in a circle.
      if (entry.isDirectory()) look(path);
      else if (SOURCES.test(entry.name) && statSync(path, { throwIfNoEntry: false })?.isFile())
        found.push(relative(folder, path).split(sep).join('/'));
    }
  };
  look(folder);
  return found.sort();
}

/** What each file is called without its extension; with it where two would be called the same. */
function stemsOf(files: readonly string[]): Map<string, string> {
  const bare = (file: string) => file.slice(0, file.length - extname(file).length);
  const times = new Map<string, number>();
  for (const file of files) {
    const name = bare(file).toLowerCase();
    times.set(name, (times.get(name) ?? 0) + 1);
  }
  return new Map(files.map((file) => [file, times.get(bare(file).toLowerCase())! > 1 ? file : bare(file)]));
}
