/** Signatures that begin with a measure of a document. */
export interface LaterSignatures {
  /** Index of the measure in the document. */
  measure: number;
  /** Of each staff from the top, as fifths; null for a staff that keeps what it has. */
  fifths: (number | null)[];
}

/**
 * Where a document of ours changes signatures after its beginning in a way
 * that the engraver does not read from MusicXML: it takes the first part's for
 * all, so what transposing parts read beside it would be lost.
 *
 * @param document MusicXML as `writeMusicXml` makes it
 */
export function laterSignatures(document: string): LaterSignatures[] {
  const parts = document
    .split('<part id=')
    .slice(1)
    .map((part) => {
      const measures = part.split('<measure ').slice(1);
      return {
        staves: Number(/<staves>(\d+)/.exec(measures[0] ?? '')?.[1] ?? 1),
        fifths: measures.map((measure) => {
          const own = /<fifths>(-?\d+)/.exec(measure)?.[1];
          return own === undefined ? null : Number(own);
        }),
      };
    });
  const measures = new Set(
    parts.flatMap(({ fifths }) => fifths.flatMap((own, at) => (at > 0 && own !== null ? [at] : []))),
  );
  return [...measures].flatMap((measure): LaterSignatures[] => {
    const first = parts[0]!.fifths[measure];
    if (parts.every(({ fifths }) => fifths[measure] === first || fifths[0] === null)) return [];
    const fifths = parts.flatMap(({ staves, fifths: own }) => {
      const before = own.slice(0, measure).findLast((each) => each !== null);
      const now = own[measure] ?? null;
      return new Array<number | null>(staves).fill(now === before ? null : now);
    });
    // From major to its relative minor no staff reads another signature.
    if (fifths.every((own) => own === null)) return [];
    return [{ measure, fifths }];
  });
}

const signature = (fifths: number): string =>
  `<keySig sig="${fifths === 0 ? '0' : `${Math.abs(fifths)}${fifths > 0 ? 's' : 'f'}`}"/>`;

/** The engraver's own document (MEI) with a signature for each staff where they change. */
export function withSignatures(mei: string, later: readonly LaterSignatures[]): string {
  const starts = [...mei.matchAll(/<measure\b/g)].map(({ index }) => index);
  return later
    .toSorted((a, b) => b.measure - a.measure)
    .reduce((text, { measure, fifths }) => {
      const to = starts[measure];
      if (to === undefined) return text;
      const staves = fifths
        .map((own, at) => (own === null ? '' : `<staffDef n="${at + 1}">${signature(own)}</staffDef>`))
        .join('');
      const group = `<staffGrp>${staves}</staffGrp>`;
      const from = text.lastIndexOf('</measure>', to) + 1;
      const between = text.slice(from, to);
      const stated = between.includes('</scoreDef>')
        ? between.replace(/<keySig\b[^>]*\/>\s*/, '').replace('</scoreDef>', `${group}</scoreDef>`)
        : `${between}<scoreDef>${group}</scoreDef>`;
      return text.slice(0, from) + stated + text.slice(to);
    }, mei);
}
