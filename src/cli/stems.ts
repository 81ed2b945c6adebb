import { closeSync, existsSync, mkdirSync, openSync, renameSync, rmSync, statSync, writeSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { plainName } from '../core/basics/file-names';
import { finished } from '../core/basics/steps';
import { EMPTY_BRIEF } from '../core/decisions/brief';
import { makeBank } from '../core/sound/bank';
import { HEARD, isOfScore } from '../core/sound/events';
import { flacFile, loadFlac } from '../core/sound/flac';
import { BadBankError, readBank } from '../core/sound/render';
import {
  SOUND_BITS,
  SOUND_FORMATS,
  SOUND_RATES,
  type SoundFile,
  type SoundForm,
  wavFile,
} from '../core/sound/sound-file';
import { fileNamesOf, type StemsChoice } from '../core/sound/stem-choice';
import { renderStems, type StemSink } from '../core/sound/stems';
import { timelineOf } from '../core/sound/timeline';
import { renderedWords, STEMS_BY, stemsOf, tooMuchSound } from '../core/workbench/stems';
import { openFile, readBrief, readFile, sayRefusals } from './files';
import { UsageError } from './usage-error';

const oneOf = <T extends string | number>(name: string, known: readonly T[], value: string): T => {
  const found = known.find((each) => String(each) === value);
  if (found === undefined) throw new UsageError(`--${name} takes ${known.join(', ')}.`);
  return found;
};

interface Part {
  path: string;
  descriptor: number;
}

function discard({ path, descriptor }: Part): void {
  closeSync(descriptor);
  rmSync(path);
}

/** Files that grow in a folder, and have their names once they are whole. */
class Growing implements StemSink {
  private files: Part[] = [];

  constructor(
    private readonly folder: string,
    private readonly headBytes: number,
  ) {}

  begin(): void {
    this.clear();
  }

  drop(file: number): void {
    const [silent] = this.files.splice(file, 1);
    if (silent) discard(silent);
  }

  add(file: number, bytes: Uint8Array): void {
    writeSync(this.at(file).descriptor, bytes);
  }

  head(file: number, bytes: Uint8Array): void {
    writeSync(this.at(file).descriptor, bytes, 0, bytes.length, 0);
  }

  /** Gives the files their names. */
  keep(names: readonly string[]): void {
    this.files.forEach(({ path, descriptor }, at) => {
      closeSync(descriptor);
      renameSync(path, join(this.folder, names[at] ?? basename(path)));
    });
    this.files = [];
  }

  /** Takes away what is not whole. */
  clear(): void {
    this.files.forEach(discard);
    this.files = [];
  }

  private at(file: number): Part {
    const before = this.files[file];
    if (before) return before;
    const path = join(this.folder, `.${process.pid}-${file}.part`);
    const made = { path, descriptor: openSync(path, 'w') };
    writeSync(made.descriptor, new Uint8Array(this.headBytes));
    this.files[file] = made;
    return made;
  }
}

/** Renders a file as sound: a file for each part, for each family, or one of all, into a folder. */
export async function stems(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    options: {
      by: { type: 'string', default: 'part' },
      heard: { type: 'string', default: 'cleaned' },
      format: { type: 'string', default: 'wav' },
      rate: { type: 'string', default: '48000' },
      bits: { type: 'string', default: '16' },
      bank: { type: 'string' },
      brief: { type: 'string' },
      out: { type: 'string', short: 'o' },
    },
    allowPositionals: true,
  });
  const [path, ...rest] = positionals;
  const { out } = values;
  if (!path || rest.length > 0) throw new UsageError('stems takes one file.');
  if (!out) throw new UsageError('stems needs -o FOLDER.');
  const by = oneOf('by', STEMS_BY, values.by);
  const heard = oneOf('heard', HEARD, values.heard);
  const form: SoundForm = {
    format: oneOf('format', SOUND_FORMATS, values.format),
    rate: oneOf('rate', SOUND_RATES, values.rate),
    bits: oneOf('bits', SOUND_BITS, values.bits),
  };
  if (existsSync(out) && !statSync(out).isDirectory()) throw new UsageError(`${out} is not a folder.`);
  const workbench = openFile(path);
  const { desk } = workbench.layOut(0, values.brief ? readBrief(values.brief) : EMPTY_BRIEF);
  sayRefusals(path, desk);
  const score = isOfScore(heard) ? finished(workbench.write(0)).transcription.score : null;
  const bank = bankOf(values.bank);
  const { leadInBars, click } = desk.decisions.handOver;
  const choice: StemsChoice = { ...form, leadInBars, click };
  const own = stemsOf(desk, heard, by);
  const named = own.map((stem) => (by === 'all' ? { ...stem, name: wholeName(path) } : stem));
  const flac = form.format === 'flac' ? await loadFlac() : null;
  const fileOf = (of: SoundForm): SoundFile => (flac ? flacFile(flac, of) : wavFile(of));
  const timeline = timelineOf(desk, heard, score);
  const tooMuch = tooMuchSound(timeline, named, choice, false);
  if (tooMuch) throw new UsageError(tooMuch);
  mkdirSync(out, { recursive: true });
  const sink = new Growing(out, fileOf(form).headBytes);
  try {
    const made = finished(renderStems(bank, timeline, named, choice, new Map(), fileOf, sink));
    sink.keep(fileNamesOf(made, form));
    process.stdout.write(`${renderedWords(made, form.rate)}\n`);
  } finally {
    sink.clear();
  }
}

const wholeName = (path: string): string => plainName(basename(path, extname(path))) || 'Mix';

function bankOf(path: string | undefined) {
  if (!path) return readBank(makeBank());
  const bytes = readFile(path);
  try {
    return readBank(bytes.slice().buffer as ArrayBuffer);
  } catch (error) {
    if (error instanceof BadBankError) throw new UsageError(error.message);
    throw error;
  }
}
