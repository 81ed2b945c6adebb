import { readFileSync } from 'node:fs';
import { basename, extname } from 'node:path';
import { finished } from '../core/basics/steps';
import type { Desk } from '../core/clean/desk';
import { type Brief, parseBrief } from '../core/decisions/brief';
import { FIRST_SOURCE } from '../core/model/ids';
import type { Source } from '../core/sources';
import { type HeardLine, hearLine, lineAsFile } from '../core/sources/audio/line';
import { isWav, readWav } from '../core/sources/audio/wav';
import { writeSmf } from '../core/sources/smf/write';
import { Workbench } from '../core/workbench/workbench';

/** An error whose message is for people; the command ends with exit code 2. */
export class UsageError extends Error {}

export function readFile(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch {
    throw new UsageError(`${path} cannot be read.`);
  }
}

/** What was heard in the recordings that were opened, by their paths. */
const heard = new Map<string, HeardLine>();

/** What was heard in a file that was opened; undefined for one that is no recording. */
export const lineHeardIn = (path: string): HeardLine | undefined => heard.get(path);

/** A file as a source; a recording as what is heard in it. */
export function sourceOf(path: string): Source {
  const bytes = readFile(path);
  const of = { id: FIRST_SOURCE, version: 1, name: basename(path) };
  if (!isWav(bytes)) return { ...of, bytes };
  const line = finished(hearLine(readWav(bytes)));
  heard.set(path, line);
  return { ...of, bytes: writeSmf(lineAsFile(line, basename(path, extname(path)))) };
}

/** A file as the only source of a job. */
export const openFile = (path: string): Workbench => new Workbench([sourceOf(path)]);

export function readBrief(path: string): Brief {
  let data: unknown;
  try {
    data = JSON.parse(Buffer.from(readFile(path)).toString('utf8'));
  } catch (error) {
    if (error instanceof UsageError) throw error;
    throw new UsageError(`${path} is not JSON.`);
  }
  return parseBrief(data);
}

/** What a brief asks for and this file cannot give is said, and does not keep the rest from being done. */
export function sayRefusals(path: string, { refusals }: Desk): void {
  for (const { why } of refusals) process.stderr.write(`${basename(path)}: not followed: ${why}\n`);
}
