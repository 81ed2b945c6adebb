/** A name without what no file system takes; may be empty. */
export const plainName = (name: string): string =>
  name
    .replace(/[\\/:*?"<>|\p{Cc}]/gu, '-')
    .replace(/^[.\s]+|[.\s]+$/g, '')
    .slice(0, 120);

const ENDING = /\.[a-z0-9]{1,5}$/i;

/** What a file is by the end of its name, with its dot; empty where nothing is said. */
export const endingOf = (name: string): string => ENDING.exec(name)?.[0] ?? '';

/** A name without its ending. */
export const withoutEnding = (name: string): string => name.replace(ENDING, '');

/** Names that sort as they come, each once, without what no file system takes. */
export function fileNames(names: readonly string[]): string[] {
  const width = String(names.length).length;
  return names.map((name, index) => {
    const plain = plainName(name).slice(0, 80) || 'Part';
    return `${String(index + 1).padStart(Math.max(2, width), '0')} ${plain}`;
  });
}
