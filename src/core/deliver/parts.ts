import { fileNames } from '../basics/file-names';
import { packZip } from '../basics/zip';
import type { Desk } from '../clean/desk';
import { onPaper } from '../engrave/pages';
import type { PartId } from '../model/ids';
import { regrouped, type Score } from '../model/score';
import { deliverScore, type ScoreFormat } from './score';

/** A file of a delivery: where it goes in its folder, and what it holds. */
export interface DeliveredFile {
  path: string;
  bytes: Uint8Array;
}

/** A score with some of its parts, as all of them are handed over together. */
export function withParts(score: Score, wanted: ReadonlySet<PartId>): Score {
  const parts = score.parts.filter(({ id }) => wanted.has(id));
  if (parts.length === score.parts.length) return score;
  return { ...score, parts, ...(score.groups && { groups: regrouped(score.groups, score.parts, parts) }) };
}

/** Each part as a document of its own, with rests over several bars as one and cues where they are wanted; numbered in the order of the score. */
export function deliverParts(desk: Desk, score: Score, format: ScoreFormat): DeliveredFile[] {
  const cues = desk.decisions.scoreForm.cues ?? false;
  const names = fileNames(score.parts.map(({ name }) => name));
  return score.parts.map(({ id }, index) => {
    // Text that came is cut as it is: what rests in it was laid out there.
    const own = desk.written ? withParts(score, new Set([id])) : onPaper(score, new Set([id]), { cues });
    return { path: `${names[index]}.${format}`, bytes: deliverScore(desk, own, format) };
  });
}

/** Files as one zip. */
export const zipOf = (files: readonly DeliveredFile[]): Uint8Array =>
  packZip(Object.fromEntries(files.map(({ path, bytes }) => [path, bytes])));
