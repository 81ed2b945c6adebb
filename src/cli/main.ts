import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { BadBriefError, type Brief, EMPTY_BRIEF, parseBrief } from '../core/brief/brief';
import { decide } from '../core/brief/decisions';
import { packMxl } from '../core/musicxml/mxl';
import { writeMusicXml } from '../core/musicxml/write';
import { readPerformance } from '../core/performance/performance';
import { NotAnSmfError, readSmf } from '../core/smf/read';
import { type Inventory, takeStock } from '../core/stock/inventory';
import { transcribeNow } from '../core/transcribe';

/** An error whose message is for people; the command ends with exit code 2. */
class UsageError extends Error {}

const USAGE = `Usage:
  dragoman inspect FILE [--json]
  dragoman convert FILE… --to musicxml|mxl [--brief BRIEF.json] -o OUT

OUT is a file for one FILE, a folder for several.`;

function readFile(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch {
    throw new UsageError(`${path} cannot be read.`);
  }
}

function inspect(args: string[]): void {
  const { values, positionals } = parseArgs({
    args,
    options: { json: { type: 'boolean', default: false } },
    allowPositionals: true,
  });
  const [path, ...rest] = positionals;
  if (!path || rest.length > 0) throw new UsageError('inspect takes one file.');
  const smf = readSmf(readFile(path));
  const inventory = takeStock(smf, readPerformance(smf));
  process.stdout.write(values.json ? `${JSON.stringify(inventory, null, 1)}\n` : described(path, inventory));
}

function described(path: string, inventory: Inventory): string {
  const { clock, strands, noteFree, mends } = inventory;
  const division =
    inventory.division.kind === 'quarter'
      ? `${inventory.division.ticks} ticks a quarter note`
      : `${inventory.division.framesPerSecond} frames of ${inventory.division.ticksPerFrame} ticks a second`;
  const lines = [
    `${basename(path)}: format ${inventory.format}, ${division}, ${clock.bars} bars, ${clock.seconds.toFixed(1)} s`,
    `${clock.tempos.length} tempos, ${clock.meters.length} meters, ${clock.keys.length} keys, ${clock.markers.length} markers`,
    '',
    ...strands.map((strand) =>
      [
        strand.id.padEnd(7),
        (strand.name || '(no name)').slice(0, 28).padEnd(29),
        `${strand.notes} notes`.padStart(11),
        `  ${strand.lowest}–${strand.highest}`.padEnd(10),
        `at most ${strand.most}`.padEnd(12),
        `${strand.guess.name} (${strand.guess.confidence})`,
      ].join(''),
    ),
    ...noteFree.map((track) => `track ${track.track + 1}: "${track.name}" has no notes`),
    ...mends.map((mend) => `mended at byte ${mend.at}: ${mend.what} ${mend.done}`),
  ];
  return `${lines.join('\n')}\n`;
}

function readBrief(path: string): Brief {
  let data: unknown;
  try {
    data = JSON.parse(Buffer.from(readFile(path)).toString('utf8'));
  } catch (error) {
    if (error instanceof UsageError) throw error;
    throw new UsageError(`${path} is not JSON.`);
  }
  return parseBrief(data);
}

function convert(args: string[]): void {
  const { values, positionals } = parseArgs({
    args,
    options: {
      to: { type: 'string' },
      brief: { type: 'string' },
      out: { type: 'string', short: 'o' },
    },
    allowPositionals: true,
  });
  const { to, out } = values;
  if (positionals.length === 0) throw new UsageError('convert takes at least one file.');
  if (to !== 'musicxml' && to !== 'mxl') throw new UsageError('--to takes musicxml or mxl.');
  if (!out) throw new UsageError('convert needs -o OUT.');
  const intoFolder = positionals.length > 1 || (existsSync(out) && statSync(out).isDirectory());
  if (intoFolder && !(existsSync(out) && statSync(out).isDirectory()))
    throw new UsageError(`${out} is not a folder; several files need one.`);
  const brief = values.brief ? readBrief(values.brief) : EMPTY_BRIEF;
  // Everything is converted before anything is written, so a bad file leaves nothing half done.
  const results = positionals.map((path) => {
    const decisions = decide(brief);
    const performance = readPerformance(readSmf(readFile(path)), decisions);
    const document = writeMusicXml(transcribeNow(performance, brief).score);
    const target = intoFolder ? join(out, `${basename(path, extname(path))}.${to}`) : out;
    return { target, bytes: to === 'mxl' ? packMxl(document) : Buffer.from(document) };
  });
  const targets = new Set(results.map((result) => result.target));
  if (targets.size < results.length)
    throw new UsageError('Two of the files would be written under one name.');
  for (const { target, bytes } of results) {
    try {
      writeFileSync(target, bytes);
    } catch {
      throw new UsageError(`${target} cannot be written.`);
    }
  }
}

function main(argv: string[]): void {
  const [command, ...args] = argv;
  if (command === 'inspect') inspect(args);
  else if (command === 'convert') convert(args);
  else if (command === '--help' || command === 'help') process.stdout.write(`${USAGE}\n`);
  else throw new UsageError(`"${command ?? ''}" is no command; try inspect or convert.`);
}

try {
  main(process.argv.slice(2));
} catch (error) {
  const known =
    error instanceof UsageError ||
    error instanceof NotAnSmfError ||
    error instanceof BadBriefError ||
    (error instanceof TypeError && 'code' in error && String(error.code).startsWith('ERR_PARSE_ARGS'));
  if (!known) throw error;
  process.stderr.write(`dragoman: ${(error as Error).message.split('\n')[0]}\n`);
  process.exitCode = 2;
}
