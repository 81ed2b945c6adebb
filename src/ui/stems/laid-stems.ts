import { withoutEnding } from '../../core/basics/file-names';
import type { StemChoices } from '../../core/decisions/kinds/stem';
import type { StrandId } from '../../core/model/ids';
import { stemsByName } from '../../core/sound/stem-match';
import type { PartSummary } from '../../core/workbench/replies';
import type { RecordingRow } from '../../store/rows';

/** A sound file beside the job, under what was decided about it. */
export interface Stem {
  /** The name of the file, which it is known by. */
  file: string;
  /** What it is called. */
  name: string;
  /** The part that it is of, by its leader; null for none. */
  part: StrandId | null;
  /** Seconds of it at which the piece begins. */
  offset: number;
  muted: boolean;
  hidden: boolean;
  row: RecordingRow;
}

/**
 * Sound files under what was decided about them; whose each is by name, where that was not decided.
 * @param strands of the source, which parts are also called by
 */
export function laidStems(
  rows: readonly RecordingRow[],
  choices: StemChoices,
  parts: readonly PartSummary[],
  strands: readonly { id: string; name: string }[],
): Stem[] {
  if (rows.length === 0) return [];
  const names = new Map(strands.map(({ id, name }) => [id, name]));
  const byName = stemsByName(
    rows.map(({ name }) => ({ id: name, name })),
    parts.map(({ leader, name, abbreviation, instrument, strands: own }) => ({
      leader,
      name,
      instrument,
      also: [abbreviation, ...own.flatMap((id) => names.get(id) ?? [])],
    })),
  );
  return rows.map((row): Stem => {
    const { part, name, offset = 0, muted = false, hidden = false } = choices.get(row.name) ?? {};
    return {
      file: row.name,
      name: name ?? (withoutEnding(row.name) || row.name),
      part: part === undefined ? (byName.get(row.name) ?? null) : part,
      offset,
      muted,
      hidden,
      row,
    };
  });
}
