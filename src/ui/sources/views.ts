/** The views of a source, in their order. */
export const SOURCE_VIEWS = [
  { id: 'overview', name: 'Overview' },
  { id: 'strands', name: 'Strands' },
  { id: 'bars', name: 'Note bars' },
  { id: 'oddities', name: 'Oddities' },
  { id: 'cleaning', name: 'Cleaning' },
  { id: 'kits', name: 'Kits' },
  { id: 'recording', name: 'Recordings' },
] as const;

export type SourceView = (typeof SOURCE_VIEWS)[number]['id'];
