/** What people put into names to tell versions apart. */
const OF_VERSIONS = /\b(v|ver|version|rev|take|final|new|neu|copy|kopie|old|alt|fixed|edit)\b/g;

/** A name without what tells versions apart: "Cue 4 v12 (final).mid" and "cue_4_v13.mid" are one. */
const stem = (name: string): string =>
  name
    .toLowerCase()
    .replace(/\.[^.]+$/, '')
    .replace(/\d{4}-\d\d-\d\d/g, ' ')
    .replace(/[^\p{L}\d]+/gu, ' ')
    .replace(/\b(v|ver|version|rev|take) ?\d+\b/g, ' ')
    .replace(OF_VERSIONS, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/** The source that a file is a new version of, as its name tells; null where it does not. */
export function versionOf<S extends { name: string }>(file: string, sources: readonly S[]): S | null {
  const own = stem(file);
  return own === '' ? null : (sources.findLast(({ name }) => stem(name) === own) ?? null);
}
