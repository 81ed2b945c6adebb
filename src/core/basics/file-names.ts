/** A name without what no file system takes; may be empty. */
export const plainName = (name: string): string =>
  name
    .replace(/[\\/:*?"<>|\p{Cc}]/gu, '-')
    .replace(/^[.\s]+|[.\s]+$/g, '')
    .slice(0, 120);

/** Names that sort as they come, each once, without what no file system takes. */
export function fileNames(names: readonly string[]): string[] {
  const width = String(names.length).length;
  return names.map((name, index) => {
    const plain = plainName(name).slice(0, 80) || 'Part';
    return `${String(index + 1).padStart(Math.max(2, width), '0')} ${plain}`;
  });
}
