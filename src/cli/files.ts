import { readFileSync, statSync } from 'node:fs';
import { basename } from 'node:path';
import { finished } from '../core/basics/steps';
import type { Desk } from '../core/clean/desk';
import { type Brief, parseBrief } from '../core/decisions/brief';
import { FIRST_SOURCE } from '../core/model/ids';
import type { Source } from '../core/sources';
import { writeHeard } from '../core/sources/audio/document';
import { listen } from '../core/sources/audio/listen';
import { unheeded } from '../core/workbench/read-score';
import { Workbench } from '../core/workbench/workbench';
import { noteModel } from './note-model';
import { isSound, readSound } from './sound';
import { UsageError } from './usage-error';

export function readFile(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch {
    throw new UsageError(`${path} cannot be read.`);
  }
}

/** What was heard in recordings, as the documents that are their sources, by their paths. */
const heard = new Map<string, Uint8Array>();

/** Hears the notes of all recordings among the words of a command. */
export async function hearRecordings(words: readonly string[]): Promise<void> {
  const files = words.filter(
    (word) => !word.startsWith('-') && statSync(word, { throwIfNoEntry: false })?.isFile(),
  );
  const recordings = files
    .map((path) => ({ path, bytes: readFile(path) }))
    .filter(({ bytes }) => isSound(bytes));
  if (recordings.length === 0) return;
  const model = await noteModel();
  for (const { path, bytes } of recordings)
    heard.set(path, writeHeard(finished(listen(await readSound(path, bytes), model))));
}

/** A file as a source; a recording as what was heard in it. */
export const sourceOf = (path: string): Source => ({
  id: FIRST_SOURCE,
  version: 1,
  name: basename(path),
  bytes: heard.get(path) ?? readFile(path),
});

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

/** What a brief asks for and this file cannot give, a sentence each. */
export const unfollowed = (desk: Desk): string[] => [
  ...desk.refusals.map((each) => each.why),
  ...unheeded(desk),
];

/** That is said, and does not keep the rest from being done. */
export function sayRefusals(path: string, desk: Desk): void {
  for (const why of unfollowed(desk)) process.stderr.write(`${basename(path)}: not followed: ${why}\n`);
}
