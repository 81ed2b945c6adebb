import { appendFileSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { checked, Outcome } from './outcome';

/** What is not for people lies here, in the folder of what is made. */
const FOLDER = '.batch';
const JOURNAL = /^journal-.*\.jsonl$/;
/** What is not whole after so long is left of something that was ended; milliseconds. */
const STALE = 3_600_000;

/**
 * What became of each file, a line of JSON each, written once the file is there: whoever is ended at any moment goes on
 * where it was. Each process that works into the folder has a journal of its own and reads those of all.
 */
export class Journal {
  readonly scratch: string;
  private readonly own: string;

  /** @param name of the process's share of the work */
  constructor(
    out: string,
    private readonly name: string,
  ) {
    this.scratch = join(out, FOLDER);
    mkdirSync(this.scratch, { recursive: true });
    this.own = join(this.scratch, `journal-${this.name}.jsonl`);
    for (const each of readdirSync(this.scratch)) {
      const path = join(this.scratch, each);
      const since = statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0;
      if (each.endsWith('.part') && Date.now() - since > STALE) rmSync(path, { force: true });
    }
  }

  /** All that is known, the last word about each file; lines that were not finished count as never written. */
  read(): Map<string, Outcome> {
    const known = new Map<string, Outcome>();
    for (const each of readdirSync(this.scratch).sort()) {
      if (!JOURNAL.test(each)) continue;
      for (const line of readFileSync(join(this.scratch, each), 'utf8').split('\n')) {
        const outcome = checked(Outcome, parsed(line));
        if (outcome) known.set(outcome.file, outcome);
      }
    }
    return known;
  }

  add(outcome: Outcome): void {
    // Begun on a line of its own, whatever stands before it.
    appendFileSync(this.own, `\n${JSON.stringify(outcome)}\n`, { flush: true });
  }
}

function parsed(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return null;
  }
}
