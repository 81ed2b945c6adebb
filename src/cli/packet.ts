import { existsSync, statSync, writeFileSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { finished } from '../core/basics/steps';
import { EMPTY_BRIEF } from '../core/decisions/brief';
import { WHOLE_PACKET } from '../core/deliver/packet-choice';
import { framesOfCode, RATES } from '../core/deliver/smpte';
import { packetOf } from '../core/workbench/packet';
import { openFile, readBrief, sayRefusals } from './files';
import { UsageError } from './usage-error';

/** Makes a packet of each file; none is written before all are made. */
export function packet(args: string[]): void {
  const { values, positionals } = parseArgs({
    args,
    options: {
      brief: { type: 'string' },
      mxl: { type: 'boolean', default: false },
      rate: { type: 'string', default: WHOLE_PACKET.rate },
      start: { type: 'string', default: WHOLE_PACKET.start },
      out: { type: 'string', short: 'o' },
    },
    allowPositionals: true,
  });
  const { out } = values;
  if (positionals.length === 0) throw new UsageError('packet takes at least one file.');
  if (!out) throw new UsageError('packet needs -o OUT.');
  const rate = RATES.find((each) => each === values.rate || each.split(' ')[0] === values.rate);
  if (!rate) throw new UsageError(`--rate takes ${RATES.map((each) => each.split(' ')[0]).join(', ')}.`);
  const { start } = values;
  if (framesOfCode(start, rate) === null)
    throw new UsageError(`${start} is no time code at ${rate} frames a second.`);
  const intoFolder = positionals.length > 1 || (existsSync(out) && statSync(out).isDirectory());
  if (intoFolder && !(existsSync(out) && statSync(out).isDirectory()))
    throw new UsageError(`${out} is not a folder; several files need one.`);
  const brief = values.brief ? readBrief(values.brief) : EMPTY_BRIEF;
  const made = positionals.map((path) => {
    const workbench = openFile(path);
    sayRefusals(path, workbench.layOut(0, brief).desk);
    const name = basename(path, extname(path));
    const choice = { ...WHOLE_PACKET, rate, start, ...(values.mxl && { format: 'mxl' as const }) };
    return {
      target: intoFolder ? join(out, `${name}.zip`) : out,
      bytes: finished(packetOf(finished(workbench.write(0)), choice, name)),
    };
  });
  if (new Set(made.map(({ target }) => target)).size < made.length)
    throw new UsageError('Two of the files would be written under one name.');
  for (const { target, bytes } of made)
    try {
      writeFileSync(target, bytes);
    } catch {
      throw new UsageError(`${target} cannot be written.`);
    }
}
