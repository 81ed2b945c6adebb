/** Who made a piece, and whose it is. */
export interface Credited {
  composer?: string;
  copyright?: string;
}

/** What was decided, else what the source says; an empty text says that there is none. */
export function creditsOf(decided: Credited, source: Credited): Credited {
  const composer = decided.composer ?? source.composer;
  const copyright = decided.copyright ?? source.copyright;
  return { ...(composer && { composer }), ...(copyright && { copyright }) };
}
