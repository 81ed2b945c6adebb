/** A rest over several measures of a document: index of the first of them, and how many. */
export interface MultiRest {
  measure: number;
  count: number;
}

const STYLE = /<measure-style>\s*<multiple-rest>(\d+)<\/multiple-rest>\s*<\/measure-style>\s*/g;

/**
 * A document of ours without its rests over several measures, and what these
 * were: of MusicXML the engraver reads them, but loses the texts over them.
 */
export function withoutMultiRests(document: string): { document: string; rests: MultiRest[] } {
  if (!document.includes('<multiple-rest>')) return { document, rests: [] };
  const [, first = ''] = document.split('<part id=');
  const rests = first
    .split('<measure ')
    .slice(1)
    .flatMap((text, measure): MultiRest[] => {
      const count = Number(/<multiple-rest>(\d+)/.exec(text)?.[1] ?? 0);
      return count > 1 ? [{ measure, count }] : [];
    });
  return { document: document.replaceAll(STYLE, ''), rests };
}

/** The engraver's own document (MEI) with measures in which all rest joined; what stands over the first of them stays. */
export function withMultiRests(mei: string, rests: readonly MultiRest[]): string {
  const starts = [...mei.matchAll(/<measure\b/g)].map(({ index }) => index);
  const endOf = (measure: number) => mei.indexOf('</measure>', starts[measure]) + '</measure>'.length;
  return rests
    .toSorted((a, b) => b.measure - a.measure)
    .reduce((text, { measure, count }) => {
      const from = starts[measure];
      if (from === undefined || starts[measure + count - 1] === undefined) return text;
      const first = mei
        .slice(from, endOf(measure))
        .replaceAll(
          /(<staff\b[^>]*>)[\s\S]*?<\/staff>/g,
          `$1<layer n="1"><multiRest num="${count}"/></layer></staff>`,
        );
      return text.slice(0, from) + first + text.slice(endOf(measure + count - 1));
    }, mei);
}
