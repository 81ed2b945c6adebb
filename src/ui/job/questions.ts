/** What the worker is asked, as people say it: a question that is not answered is told by its name. */
export const QUESTIONS = {
  beats: 'The beats',
  'bar table': 'The bar table',
  choices: 'The other readings of the note',
  clock: 'The clock',
  compare: 'The comparison',
  'compared bars': 'The bars of the difference',
  evidence: 'The evidence',
  find: 'The notes that are looked for',
  'going out': 'What goes out, read back',
  interlinear: 'The bars as played and as written',
  like: 'Passages like this one',
  'line-up': 'The line-up of the other source',
  'midi preview': 'The preview of the MIDI file',
  'note bars': 'The note bars',
  origins: 'Where the notes come from',
  proof: 'The proof',
  reading: 'The reading of the note',
  systems: 'The systems of the score',
  'version news': 'What the new version brought',
  window: 'Some bars of the score',
} as const;

export type Question = keyof typeof QUESTIONS;

/** What is asked, and everything that the answer depends on beside the revision. */
export type Asked = readonly [what: Question, ...of: unknown[]];
