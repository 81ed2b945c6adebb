import { remembered } from '../basics/remember';
import type { Brief } from '../decisions/brief';
import { type Decisions, decide } from '../decisions/decisions';
import type { SourceId } from '../model/ids';
import type { Performance } from '../model/performance';
import type { Reading } from '../sources';
import type { Smf } from '../sources/smf/events';
import { type Change, clean, type Refusal } from '.';

/** The sources of a job laid out for work under a brief. */
export interface Desk {
  /** The file that leads, and its name. */
  smf: Smf;
  name: string;
  brief: Brief;
  decisions: Decisions;
  /** As read. */
  source: Performance;
  /** As cleaned; the same object where nothing was. */
  performance: Performance;
  changes: Change[];
  /** Notes that cleaning took out. */
  removed: number;
  /** What was decided and cannot be done to this source. */
  refusals: Refusal[];
}

/** Reads and cleans the leading source under a brief. What a changed brief leaves alone keeps its identity. */
export function layOut(readings: readonly Reading[], brief: Brief): Desk {
  const decisions = decide(brief);
  const chosen = (id: SourceId | null): Reading | undefined => {
    const versions = readings.filter((reading) => reading.id === id);
    const wanted = id === null ? undefined : decisions.versions.get(id);
    return (
      versions.find(({ version }) => version === wanted) ??
      versions.toSorted((a, b) => b.version - a.version)[0]
    );
  };
  const leading = chosen(decisions.leading ?? null) ?? chosen(readings[0]!.id)!;
  const source = performanceOf(leading, decisions);
  const other = decisions.clockFrom === leading.id ? undefined : chosen(decisions.clockFrom);
  const timekeeper = other ? performanceOf(other, decisions) : null;
  return {
    smf: leading.file,
    name: leading.name,
    brief,
    decisions,
    source,
    ...clean(source, decisions, timekeeper),
  };
}

const performanceOf = (reading: Reading, { clock }: Decisions): Performance =>
  remembered(reading.file, 'performance', [reading.id, JSON.stringify(clock)], () =>
    reading.performance(clock),
  );
